import { create } from "zustand";
import type { Shapes } from "../../api/client";
import { ofProject } from "../../bench/ofProject";
import type { LineStyle, NibName } from "../../paper/nibs";

export type ViewKind = Shapes["View"]["view"];
export type Face = Shapes["CircleGuide"]["face"];
export type How = "instead" | "add" | "take away" | "keep common";
export type Selection = Shapes["SelectionShape"];
export type SketchTool =
  | NibName
  | "frame"
  | "lasso"
  | "box"
  | "region"
  | "fill"
  | "gradient"
  | "take colour"
  | "numbers"
  | "put copy"
  | "sprint"
  | "lines"
  | "cut out"
  | "straightedge"
  | "ellipse"
  | "perspective"
  | "construction box"
  | "circle"
  | "divide"
  | "sweep"
  | "words"
  | "callout"
  | "dimension"
  | "arrow"
  | "light"
  | "move paint"
  | "move view"
  | "put faint";

export const NIB_NAMES: readonly NibName[] = [
  "pencil",
  "fineliner",
  "marker",
  "mist",
  "grain",
  "lifter",
  "soft lifter",
];

interface Sketch {
  tool: SketchTool;
  /** The nib last drawn with. */
  nib: NibName;
  size: Record<NibName, number>;
  tone: Record<NibName, number>;
  steady: number;
  /** Whether lines that begin near a guide hold to it. */
  holding: boolean;
  /** Whether every line holds to a direction of the perspective. */
  directed: boolean;
  /** The face of the box drawn on: its two directions, and where circles and divisions go. */
  face: Face | null;
  /** Lines that hold to something are construction lines: lighter than others. */
  lighter: boolean;
  line: LineStyle;
  colour: string;
  layer: string | null;
  frameAs: ViewKind;
  /** The view whose copy is put on the page next. */
  copying: string | null;
  selection: Selection | null;
  /** Picked lines. */
  lines: Shapes["PickedLine"][];
  /** A drag on picked lines pulls on them instead of moving them. */
  pulling: boolean;
  how: How;
  feather: number;
  gap: number;
  opacity: number;
  gradient: { shape: "linear" | "radial"; last: string; lastOpacity: number };
  family: Shapes["SweepGuide"]["family"];
  notes: { words: string; size: number; font: NonNullable<Shapes["Lettering"]["font"]> };
  /** The picked note. */
  note: string | null;
  /** Where the light stands on a sphere seen from the front, -1 to 1; a base grey; what it falls on. */
  light: { across: number; up: number; base: number; body: "box" | "cylinder"; shadow: number };
  /** The view whose lines are repeated faintly next. */
  fainting: string | null;
  /** All sheets are shown instead of one. */
  overview: boolean;
  /** When the sprint ends, ms since 1970; null while none is on. */
  sprint: number | null;
  sprintMinutes: number;
  set: (sketch: Partial<Omit<Sketch, "set" | "take">>) => void;
  take: (tool: SketchTool) => void;
}

export const useSketch = ofProject(
  create<Sketch>((set) => ({
    tool: "pencil",
    nib: "pencil",
    size: { pencil: 6, fineliner: 3, marker: 46, mist: 160, grain: 40, lifter: 28, "soft lifter": 120 },
    tone: { pencil: 85, fineliner: 95, marker: 40, mist: 55, grain: 60, lifter: 100, "soft lifter": 70 },
    steady: 0,
    holding: true,
    directed: false,
    face: null,
    lighter: true,
    line: "plain",
    family: "easing",
    notes: { words: "", size: 30, font: "sans" },
    note: null,
    light: { across: -0.45, up: 0.6, base: 215, body: "box", shadow: 45 },
    fainting: null,
    overview: false,
    colour: "#20282b",
    layer: null,
    frameAs: "side",
    copying: null,
    selection: null,
    lines: [],
    pulling: false,
    how: "instead",
    feather: 0,
    gap: 12,
    opacity: 100,
    gradient: { shape: "linear", last: "#fffefa", lastOpacity: 0 },
    sprint: null,
    sprintMinutes: 10,
    set: (sketch) => set(sketch),
    take: (tool) => set(isNib(tool) ? { tool, nib: tool } : { tool }),
  })),
  ({ size, tone, steady, colour }) => ({ size, tone, steady, colour }),
);

export function isNib(tool: SketchTool): tool is NibName {
  return (NIB_NAMES as readonly string[]).includes(tool);
}
