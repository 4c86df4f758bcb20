import type { ToolWords } from "../../bench/commands";
import { tr } from "../../words/words";

/** What the tools of Review say of themselves, and what else they may be looked for by. */
export const REVIEW_WORDS: ToolWords = {
  look: { does: tr("Look, and drag the wipe between two takes."), means: tr("view compare") },
  pin: { does: tr("Say something at a place of the picture."), means: tr("comment note annotate feedback") },
  compare: { does: tr("Put this take beside the other."), means: tr("side by side wipe difference") },
  down: { does: tr("Take this picture off the board; what was said of it stays."), means: tr("remove unhang") },
};
