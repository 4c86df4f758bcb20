import type { ToolWords } from "../../bench/commands";

/** What the tools of Studio say of themselves, and what else they may be looked for by. */
export const STUDIO_WORDS: ToolWords = {
  lamp: {
    does: "Set the power, size and warmth of the chosen lamp; drag lamps in the plan.",
    means: "light brightness soft box",
  },
  alone: { does: "See what this lamp does by itself.", means: "solo isolate light" },
  "three-point": { does: "Begin the light anew: key, fill and back.", means: "reset lights preset default" },
  camera: { does: "Set lens, distance and height of the camera.", means: "focal length zoom view angle" },
  guides: { does: "Show thirds over the picture.", means: "grid composition rule" },
  sweep: { does: "Set the paper the product stands on.", means: "background backdrop colour floor" },
  keep: { does: "Keep this frame and light as a shot of its own.", means: "save view snapshot" },
  draft: { does: "Take a picture in seconds, to judge light and frame.", means: "render photograph quick picture" },
  review: { does: "Take a picture to show.", means: "render photograph picture" },
  final: { does: "Take a picture without noise; it takes its time.", means: "render photograph best quality picture" },
  preview: { does: "Go back from a take to the set.", means: "live view edit" },
};
