import type { ToolWords } from "../../bench/commands";
import { tr } from "../../words/words";

/** What the tools of Studio say of themselves, and what else they may be looked for by. */
export const STUDIO_WORDS: ToolWords = {
  lamp: {
    does: tr("Set the power, size and warmth of the chosen lamp; drag lamps in the plan."),
    means: tr("light brightness soft box"),
  },
  alone: { does: tr("See what this lamp does by itself."), means: tr("solo isolate light") },
  "three-point": { does: tr("Begin the light anew: key, fill and back."), means: tr("reset lights preset default") },
  camera: { does: tr("Set lens, distance and height of the camera."), means: tr("focal length zoom view angle") },
  guides: { does: tr("Show thirds over the picture."), means: tr("grid composition rule") },
  sweep: { does: tr("Set the paper the product stands on."), means: tr("background backdrop colour floor") },
  keep: { does: tr("Keep this frame and light as a shot of its own."), means: tr("save view snapshot") },
  draft: {
    does: tr("Take a picture in seconds, to judge light and frame."),
    means: tr("render photograph quick picture"),
  },
  review: { does: tr("Take a picture to show."), means: tr("render photograph picture") },
  final: {
    does: tr("Take a picture without noise; it takes its time."),
    means: tr("render photograph best quality picture"),
  },
  preview: { does: tr("Go back from a take to the set."), means: tr("live view edit") },
};
