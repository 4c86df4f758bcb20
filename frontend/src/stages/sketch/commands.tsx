import type { Command } from "../../bench/commands";
import type { NibName } from "../../paper/nibs";
import { type SketchTool, useSketch } from "./store";
import { FillOptions, GradientOptions, NibOptions, SelectOptions, SprintOptions, ViewOptions } from "./ToolOptions";

export interface SketchDoings {
  symmetry: boolean;
  /** Whether there are guides on the page. */
  guides: boolean;
  addLayer: (holds: "ink" | "tone" | "group") => void;
  addSheet: () => void;
  mirror: () => void;
  picture: () => void;
  whole: () => void;
  turn: (radians: number) => void;
  save: (address: string) => void;
  nudge: (what: "size" | "tone", factor: number, step: number) => void;
  fillSelection: () => void;
  clear: (outside: boolean) => void;
  invert: () => void;
  selectNothing: () => void;
  beginSprint: () => void;
}

const NIBS: [NibName, string, string | undefined][] = [
  ["pencil", "Pencil", "d"],
  ["fineliner", "Fineliner", "y"],
  ["marker", "Marker", "m"],
  ["mist", "Mist", "s"],
  ["grain", "Grain", "x"],
];

/** The tool list of Sketch. */
export function sketchCommands(does: SketchDoings): Command[] {
  const { tool, take, selection, lines, holding, set } = useSketch.getState();
  const choosing = (id: SketchTool, name: string, group: string, key: string, options?: React.ReactNode): Command => ({
    id: id.replace(" ", "-"),
    name,
    group,
    key,
    options,
    active: tool === id,
    run: () => take(id),
  });
  return [
    ...NIBS.map(([nib, name, key]) => ({
      id: nib,
      name,
      group: "Draw",
      key,
      active: tool === nib,
      options: <NibOptions nib={nib} />,
      run: () => take(nib),
    })),
    {
      id: "lifter",
      name: "Lifter",
      group: "Draw",
      key: "e",
      active: tool === "lifter" || tool === "soft lifter",
      options: <NibOptions nib={tool === "soft lifter" ? "soft lifter" : "lifter"} />,
      run: () => take("lifter"),
    },
    choosing("take colour", "Take a colour", "Draw", "c"),
    {
      id: "mirror",
      name: "Symmetry",
      group: "Draw",
      key: "j",
      note: does.symmetry ? "on" : undefined,
      run: does.mirror,
    },
    choosing("straightedge", "Straightedge", "Guides", "g"),
    choosing("ellipse", "Ellipse", "Guides", "o"),
    {
      id: "hold",
      name: "Hold to guides",
      group: "Guides",
      key: "h",
      note: holding ? "on" : undefined,
      hidden: !does.guides,
      run: () => set({ holding: !holding }),
    },
    choosing("lines", "Lines", "Select", "p"),
    { ...choosing("cut out", "Cut a piece out", "Select", "shift+x"), hidden: !lines.length },
    choosing("lasso", "Lasso", "Select", "a", <SelectOptions />),
    choosing("box", "Box", "Select", "b", <SelectOptions />),
    choosing("region", "Region", "Select", "u", <SelectOptions gap />),
    { id: "invert", name: "Everything else", group: "Select", key: "shift+i", hidden: !selection, run: does.invert },
    {
      id: "nothing",
      name: "Nothing",
      group: "Select",
      key: "escape",
      hidden: !selection && !lines.length,
      run: does.selectNothing,
    },
    choosing("fill", "Fill", "Tone", "k", <FillOptions />),
    choosing("gradient", "Gradient", "Tone", "t", <GradientOptions />),
    {
      id: "fill-selection",
      name: "Fill the selection",
      group: "Tone",
      key: "shift+k",
      hidden: !selection,
      run: does.fillSelection,
    },
    {
      id: "clear",
      name: "Clear inside",
      group: "Tone",
      key: "delete",
      hidden: !selection && !lines.length,
      run: () => does.clear(false),
    },
    {
      id: "clear-outside",
      name: "Clear outside",
      group: "Tone",
      key: "shift+delete",
      hidden: !selection,
      run: () => does.clear(true),
    },
    choosing("frame", "Frame a view", "Page", "f", <ViewOptions />),
    { id: "new-layer", name: "New ink layer", group: "Page", key: "n", run: () => does.addLayer("ink") },
    { id: "new-tone", name: "New tone layer", group: "Page", key: "shift+n", run: () => does.addLayer("tone") },
    { id: "new-group", name: "New group", group: "Page", hidden: true, run: () => does.addLayer("group") },
    { id: "picture", name: "Place a picture", group: "Page", key: "i", run: does.picture },
    { id: "new-sheet", name: "New sheet", group: "Page", hidden: true, run: does.addSheet },
    choosing("sprint", "Sprint", "Page", "shift+s", <SprintOptions onBegin={does.beginSprint} />),
    { id: "fit", name: "Whole page", group: "Look", key: "w", run: does.whole },
    { id: "turn-left", name: "Turn left", group: "Look", key: "q", hidden: true, run: () => does.turn(-Math.PI / 24) },
    { id: "turn-right", name: "Turn right", group: "Look", key: "r", hidden: true, run: () => does.turn(Math.PI / 24) },
    { id: "png", name: "Page as PNG", group: "Take along", run: () => does.save("page.png") },
    { id: "svg", name: "Lines as SVG", group: "Take along", run: () => does.save("page.svg") },
    { id: "ora", name: "Layers as OpenRaster", group: "Take along", run: () => does.save("page.ora") },
    {
      id: "smaller",
      name: "Smaller nib",
      group: "Draw",
      key: "[",
      hidden: true,
      run: () => does.nudge("size", 1 / 1.2, 0),
    },
    { id: "larger", name: "Larger nib", group: "Draw", key: "]", hidden: true, run: () => does.nudge("size", 1.2, 0) },
    { id: "paler", name: "Paler tone", group: "Draw", key: ",", hidden: true, run: () => does.nudge("tone", 1, -5) },
    { id: "darker", name: "Darker tone", group: "Draw", key: ".", hidden: true, run: () => does.nudge("tone", 1, 5) },
  ];
}
