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
  set: {
    does: tr("Build what the product stands on and in front of."),
    means: tr("background backdrop colour floor sweep plinth table"),
  },
  units: {
    does: tr("Stand, lay, lean or hang the product, and set copies beside it."),
    means: tr("pose copies turn hide parts"),
  },
  finish: {
    does: tr("Choose materials, colours and grains of parts; touch a part to choose it."),
    means: tr("material colour texture colourway"),
  },
  faces: {
    does: tr(
      "Draw over faces of a part that wear a finish of their own; over those of a zone, to take them out of it.",
    ),
    means: tr("zone region area pick part of a part two colours"),
  },
  mark: {
    does: tr("Lay words and artwork on the product; touch where they lie."),
    means: tr("logo lettering label print text decal"),
  },
  highlight: {
    does: tr("Touch the product where the chosen lamp’s mirror image is to sit; drag it along the surface."),
    means: tr("reflection lamp position specular"),
  },
  surround: {
    does: tr("Place panels and flags all around, or bring in a map."),
    means: tr("environment reflection map hdr exr"),
  },
  focus: { does: tr("Touch what is to be sharp."), means: tr("depth of field aperture blur") },
  "frame-product": { does: tr("Go as near as it takes to fill the frame."), means: tr("fit zoom") },
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
