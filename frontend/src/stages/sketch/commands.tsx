import type { ReactNode } from "react";
import { type Command, withWords } from "../../bench/commands";
import type { NibName } from "../../paper/nibs";
import { tr } from "../../words/words";
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
  ["pencil", tr("Pencil"), "d"],
  ["fineliner", tr("Fineliner"), "y"],
  ["marker", tr("Marker"), "m"],
  ["mist", tr("Mist"), "s"],
  ["grain", tr("Grain"), "x"],
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
  const unselected = selection ? undefined : tr("Select something first, with Lasso, Box or Region.");
  const unpicked = lines.length ? undefined : tr("Pick lines first, with Lines.");
  const neither = selection || lines.length ? undefined : tr("Select something, or pick lines, first.");
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
      name: tr("Lifter"),
      group: "Draw",
      key: "e",
      active: tool === "lifter" || tool === "soft lifter",
      options: <NibOptions nib={tool === "soft lifter" ? "soft lifter" : "lifter"} />,
      run: () => take("lifter"),
    },
    { ...choosing("numbers", tr("Line by numbers"), "Draw", "shift+q", does.options.numbers), seldom: true },
    choosing("take colour", tr("Take a colour"), "Draw", "c"),
    {
      id: "mirror",
      name: tr("Symmetry"),
      group: "Draw",
      key: "j",
      note: does.symmetry ? tr("on") : undefined,
      run: does.mirror,
    },
    choosing("straightedge", tr("Straightedge"), "Guides", "g"),
    choosing("ellipse", tr("Ellipse"), "Guides", "o"),
    choosing("sweep", tr("Sweep curve"), "Guides", "shift+g", <SweepOptions />),
    choosing(
      "divide",
      tr("Divide"),
      "Guides",
      "shift+d",
      does.options.face("Drag a rectangle, or touch to divide the face."),
    ),
    choosing("perspective", tr("Perspective"), "Guides", "v", does.options.perspective),
    choosing("construction box", tr("Construction box"), "Guides", "shift+b", does.options.box),
    choosing(
      "circle",
      tr("Circle on a face"),
      "Guides",
      "shift+o",
      does.options.face("Drag from its middle to its rim."),
    ),
    {
      id: "direct",
      name: tr("Hold to directions"),
      group: "Guides",
      key: "shift+h",
      note: directed ? tr("on") : undefined,
      seldom: true,
      run: () => set({ directed: !directed }),
    },
    {
      id: "hold",
      name: tr("Hold to guides"),
      group: "Guides",
      key: "h",
      note: holding ? tr("on") : undefined,
      cannot: does.guides ? undefined : tr("There is no guide on the page yet. Set one first."),
      run: () => set({ holding: !holding }),
    },
    choosing("lines", tr("Lines"), "Select", "p"),
    { ...choosing("cut out", tr("Cut a piece out"), "Select", "shift+x"), cannot: unpicked },
    choosing("lasso", tr("Lasso"), "Select", "a", <SelectOptions />),
    choosing("box", tr("Box"), "Select", "b", <SelectOptions />),
    choosing("region", tr("Region"), "Select", "u", <SelectOptions gap />),
    {
      id: "invert",
      name: tr("Everything else"),
      group: "Select",
      key: "shift+i",
      cannot: unselected,
      run: does.invert,
    },
    {
      id: "nothing",
      name: tr("Nothing"),
      group: "Select",
      key: "escape",
      cannot: neither,
      run: does.selectNothing,
    },
    choosing("fill", tr("Fill"), "Tone", "k", <FillOptions />),
    choosing("gradient", tr("Gradient"), "Tone", "t", <GradientOptions />),
    {
      id: "fill-selection",
      name: tr("Fill the selection"),
      group: "Tone",
      key: "shift+k",
      cannot: unselected,
      run: does.fillSelection,
    },
    {
      id: "clear",
      name: tr("Clear inside"),
      group: "Tone",
      key: "delete",
      cannot: neither,
      run: () => does.clear(false),
    },
    {
      id: "clear-outside",
      name: tr("Clear outside"),
      group: "Tone",
      key: "shift+delete",
      cannot: unselected,
      run: () => does.clear(true),
    },
    { ...choosing("move paint", tr("Move the paint"), "Tone", "shift+p"), cannot: unselected },
    choosing("light", tr("Light"), "Tone", "shift+t", does.options.light),
    choosing("words", tr("Words"), "Notes", "l", <NoteOptions font hint={tr("Touch where they begin.")} />),
    choosing(
      "callout",
      tr("Callout"),
      "Notes",
      "shift+l",
      <NoteOptions hint={tr("Drag from the thing to its words.")} />,
    ),
    choosing("dimension", tr("Dimension"), "Notes", "shift+m", <NoteOptions hint={tr("Drag from end to end.")} />),
    choosing("arrow", tr("Arrow"), "Notes", "shift+r", <NoteOptions hint={tr("Drag to its tip.")} />),
    choosing("frame", tr("Frame a view"), "Page", "f", <ViewOptions />),
    choosing("move view", tr("Move a view"), "Page", "shift+f"),
    {
      id: "overview",
      name: tr("All sheets"),
      group: "Page",
      key: "shift+w",
      active: overview,
      run: () => set({ overview: !overview }),
    },
    { id: "new-layer", name: tr("New ink layer"), group: "Page", key: "n", run: () => does.addLayer("ink") },
    { id: "new-tone", name: tr("New tone layer"), group: "Page", key: "shift+n", run: () => does.addLayer("tone") },
    { id: "new-notes", name: tr("New notes layer"), group: "Page", seldom: true, run: () => does.addLayer("notes") },
    { id: "new-group", name: tr("New group"), group: "Page", seldom: true, run: () => does.addLayer("group") },
    { id: "picture", name: tr("Place a picture"), group: "Page", key: "i", run: does.picture },
    { id: "new-sheet", name: tr("New sheet"), group: "Page", seldom: true, run: does.addSheet },
    choosing("sprint", tr("Sprint"), "Page", "shift+s", <SprintOptions onBegin={does.beginSprint} />),
    { id: "fit", name: tr("Whole page"), group: "Look", key: "w", run: does.whole },
    { id: "nearer", name: tr("Nearer"), group: "Look", key: "plus", seldom: true, run: () => does.zoom(1.25) },
    { id: "farther", name: tr("Farther"), group: "Look", key: "minus", seldom: true, run: () => does.zoom(0.8) },
    {
      id: "turn-left",
      name: tr("Turn left"),
      group: "Look",
      key: "q",
      seldom: true,
      run: () => does.turn(-Math.PI / 24),
    },
    {
      id: "turn-right",
      name: tr("Turn right"),
      group: "Look",
      key: "r",
      seldom: true,
      run: () => does.turn(Math.PI / 24),
    },
    { id: "png", name: tr("Page as PNG"), group: tr("Take along"), run: () => does.save("page.png") },
    { id: "png-2", name: tr("PNG, twice as fine"), group: tr("Take along"), run: () => does.save("page.png?scale=2") },
    {
      id: "png-3",
      name: tr("PNG, 3 times as fine"),
      group: tr("Take along"),
      seldom: true,
      run: () => does.save("page.png?scale=3"),
    },
    {
      id: "png-4",
      name: tr("PNG, 4 times as fine"),
      group: tr("Take along"),
      run: () => does.save("page.png?scale=4"),
    },
    { id: "pdf", name: tr("Page as PDF"), group: tr("Take along"), run: () => does.save("page.pdf") },
    { id: "svg", name: tr("Lines as SVG"), group: tr("Take along"), run: () => does.save("page.svg") },
    { id: "ora", name: tr("Layers as OpenRaster"), group: tr("Take along"), run: () => does.save("page.ora") },
    {
      id: "smaller",
      name: tr("Smaller nib"),
      group: "Draw",
      key: "[",
      hidden: true,
      run: () => does.nudge("size", 1 / 1.2, 0),
    },
    {
      id: "larger",
      name: tr("Larger nib"),
      group: "Draw",
      key: "]",
      hidden: true,
      run: () => does.nudge("size", 1.2, 0),
    },
    {
      id: "paler",
      name: tr("Paler tone"),
      group: "Draw",
      key: ",",
      hidden: true,
      run: () => does.nudge("tone", 1, -5),
    },
    {
      id: "darker",
      name: tr("Darker tone"),
      group: "Draw",
      key: ".",
      hidden: true,
      run: () => does.nudge("tone", 1, 5),
    },
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
