import type { ReactNode } from "react";
import { type Command, withWords } from "../../bench/commands";
import type { NibName } from "../../paper/nibs";
import { SweepOptions } from "./drafting/DraftingOptions";
import { NoteOptions } from "./notes/NotesCard";
import { type SketchTool, useSketch } from "./store";
import { FillOptions, GradientOptions, NibOptions, SelectOptions, SprintOptions, ViewOptions } from "./ToolOptions";
import { SKETCH_WORDS } from "./words";

export interface SketchDoings {
  symmetry: boolean;
  /** Whether there are guides on the page. */
  guides: boolean;
  /** Options of tools that need the sheet. */
  options: {
    perspective: ReactNode;
    box: ReactNode;
    face: (hint: string) => ReactNode;
    light: ReactNode;
    numbers: ReactNode;
  };
  zoom: (factor: number) => void;
  addLayer: (holds: "ink" | "tone" | "group" | "notes") => void;
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
  const { tool, take, selection, lines, holding, directed, overview, set } = useSketch.getState();
  const choosing = (id: SketchTool, name: string, group: string, key: string, options?: ReactNode): Command => ({
    id: id.replaceAll(" ", "-"),
    name,
    group,
    key,
    options,
    active: tool === id,
    run: () => take(id),
  });
  const unselected = selection ? undefined : "Select something first, with Lasso, Box or Region.";
  const unpicked = lines.length ? undefined : "Pick lines first, with Lines.";
  const neither = selection || lines.length ? undefined : "Select something, or pick lines, first.";
  const list: Command[] = [
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
    { ...choosing("numbers", "Line by numbers", "Draw", "shift+q", does.options.numbers), seldom: true },
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
    choosing("sweep", "Sweep curve", "Guides", "shift+g", <SweepOptions />),
    choosing(
      "divide",
      "Divide",
      "Guides",
      "shift+d",
      does.options.face("Drag a rectangle, or touch to divide the face."),
    ),
    choosing("perspective", "Perspective", "Guides", "v", does.options.perspective),
    choosing("construction box", "Construction box", "Guides", "shift+b", does.options.box),
    choosing("circle", "Circle on a face", "Guides", "shift+o", does.options.face("Drag from its middle to its rim.")),
    {
      id: "direct",
      name: "Hold to directions",
      group: "Guides",
      key: "shift+h",
      note: directed ? "on" : undefined,
      seldom: true,
      run: () => set({ directed: !directed }),
    },
    {
      id: "hold",
      name: "Hold to guides",
      group: "Guides",
      key: "h",
      note: holding ? "on" : undefined,
      cannot: does.guides ? undefined : "There is no guide on the page yet. Set one first.",
      run: () => set({ holding: !holding }),
    },
    choosing("lines", "Lines", "Select", "p"),
    { ...choosing("cut out", "Cut a piece out", "Select", "shift+x"), cannot: unpicked },
    choosing("lasso", "Lasso", "Select", "a", <SelectOptions />),
    choosing("box", "Box", "Select", "b", <SelectOptions />),
    choosing("region", "Region", "Select", "u", <SelectOptions gap />),
    { id: "invert", name: "Everything else", group: "Select", key: "shift+i", cannot: unselected, run: does.invert },
    {
      id: "nothing",
      name: "Nothing",
      group: "Select",
      key: "escape",
      cannot: neither,
      run: does.selectNothing,
    },
    choosing("fill", "Fill", "Tone", "k", <FillOptions />),
    choosing("gradient", "Gradient", "Tone", "t", <GradientOptions />),
    {
      id: "fill-selection",
      name: "Fill the selection",
      group: "Tone",
      key: "shift+k",
      cannot: unselected,
      run: does.fillSelection,
    },
    {
      id: "clear",
      name: "Clear inside",
      group: "Tone",
      key: "delete",
      cannot: neither,
      run: () => does.clear(false),
    },
    {
      id: "clear-outside",
      name: "Clear outside",
      group: "Tone",
      key: "shift+delete",
      cannot: unselected,
      run: () => does.clear(true),
    },
    { ...choosing("move paint", "Move the paint", "Tone", "shift+p"), cannot: unselected },
    choosing("light", "Light", "Tone", "shift+t", does.options.light),
    choosing("words", "Words", "Notes", "l", <NoteOptions font hint="Touch where they begin." />),
    choosing("callout", "Callout", "Notes", "shift+l", <NoteOptions hint="Drag from the thing to its words." />),
    choosing("dimension", "Dimension", "Notes", "shift+m", <NoteOptions hint="Drag from end to end." />),
    choosing("arrow", "Arrow", "Notes", "shift+r", <NoteOptions hint="Drag to its tip." />),
    choosing("frame", "Frame a view", "Page", "f", <ViewOptions />),
    choosing("move view", "Move a view", "Page", "shift+f"),
    {
      id: "overview",
      name: "All sheets",
      group: "Page",
      key: "shift+w",
      active: overview,
      run: () => set({ overview: !overview }),
    },
    { id: "new-layer", name: "New ink layer", group: "Page", key: "n", run: () => does.addLayer("ink") },
    { id: "new-tone", name: "New tone layer", group: "Page", key: "shift+n", run: () => does.addLayer("tone") },
    { id: "new-notes", name: "New notes layer", group: "Page", seldom: true, run: () => does.addLayer("notes") },
    { id: "new-group", name: "New group", group: "Page", seldom: true, run: () => does.addLayer("group") },
    { id: "picture", name: "Place a picture", group: "Page", key: "i", run: does.picture },
    { id: "new-sheet", name: "New sheet", group: "Page", seldom: true, run: does.addSheet },
    choosing("sprint", "Sprint", "Page", "shift+s", <SprintOptions onBegin={does.beginSprint} />),
    { id: "fit", name: "Whole page", group: "Look", key: "w", run: does.whole },
    { id: "nearer", name: "Nearer", group: "Look", key: "plus", seldom: true, run: () => does.zoom(1.25) },
    { id: "farther", name: "Farther", group: "Look", key: "minus", seldom: true, run: () => does.zoom(0.8) },
    { id: "turn-left", name: "Turn left", group: "Look", key: "q", seldom: true, run: () => does.turn(-Math.PI / 24) },
    { id: "turn-right", name: "Turn right", group: "Look", key: "r", seldom: true, run: () => does.turn(Math.PI / 24) },
    { id: "png", name: "Page as PNG", group: "Take along", run: () => does.save("page.png") },
    { id: "png-2", name: "PNG, twice as fine", group: "Take along", run: () => does.save("page.png?scale=2") },
    {
      id: "png-3",
      name: "PNG, 3 times as fine",
      group: "Take along",
      seldom: true,
      run: () => does.save("page.png?scale=3"),
    },
    { id: "png-4", name: "PNG, 4 times as fine", group: "Take along", run: () => does.save("page.png?scale=4") },
    { id: "pdf", name: "Page as PDF", group: "Take along", run: () => does.save("page.pdf") },
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
  return withWords(
    list.map((command) => ({ likely: LIKELY[command.id], ...command })),
    SKETCH_WORDS,
  );
}

/** What most hands want first. */
const LIKELY: Record<string, number> = {
  pencil: 9,
  fineliner: 6,
  marker: 7,
  lifter: 8,
  straightedge: 6,
  ellipse: 6,
  fill: 7,
  frame: 8,
  "new-layer": 6,
  picture: 5,
  perspective: 5,
  lines: 5,
  lasso: 5,
  light: 4,
  words: 4,
  mirror: 4,
  fit: 4,
  overview: 3,
};
