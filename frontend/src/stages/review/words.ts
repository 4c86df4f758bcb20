import type { ToolWords } from "../../bench/commands";

/** What the tools of Review say of themselves, and what else they may be looked for by. */
export const REVIEW_WORDS: ToolWords = {
  look: { does: "Look, and drag the wipe between two takes.", means: "view compare" },
  pin: { does: "Say something at a place of the picture.", means: "comment note annotate feedback" },
  compare: { does: "Put this take beside the other.", means: "side by side wipe difference" },
  down: { does: "Take this picture off the board; what was said of it stays.", means: "remove unhang" },
};
