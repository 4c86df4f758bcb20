import { tr } from "../../../words/words";

interface Detail {
  name: string;
  apply: string;
  /** What it is made of beside the part. */
  takes: readonly (
    | "line"
    | "edges"
    | "pen"
    | "plane"
    | "profile"
    | "within"
    | "curve"
    | "place"
    | "element"
    | "other"
    | "far-line"
  )[];
  /** The numbers it begins with. */
  first: Record<string, unknown>;
}

/** What can be put on a skin next, and what each begins with. */
export const DETAILS = {
  section_line: {
    name: tr("Line where a plane cuts it"),
    apply: tr("Lay the line"),
    takes: ["plane"],
    first: { axis: "H", at: 0 },
  },
  drawn_line: {
    name: tr("Line drawn on it, or of a sheet"),
    apply: tr("Draw it, or touch a sheet’s line"),
    takes: ["pen"],
    first: { smooth: 2 },
  },
  row_line: { name: tr("Line along picked edges"), apply: tr("Lay the line"), takes: ["edges"], first: {} },
  meeting_line: {
    name: tr("Line where it meets another part"),
    apply: tr("Lay the line"),
    takes: ["other"],
    first: {},
  },
  offset_line: { name: tr("Line beside a line"), apply: tr("Lay the line"), takes: ["line"], first: { by: 3 } },
  along_line: {
    name: tr("Groove, bead or step along a line"),
    apply: tr("Run it along the line"),
    takes: ["line", "profile"],
    first: {
      section: "groove",
      width: 0.8,
      depth: 0.5,
      lean: 10,
      rim: 0.08,
      floor: 0.12,
      reach: 6,
      side: "left",
      ends: "out",
      run_out: 3,
    },
  },
  parted_along: {
    name: tr("Part off along a line"),
    apply: tr("Part it into two"),
    takes: ["line"],
    first: { keep: "left", gap: 0.2, edge: "wall", wall: 1.6, lip: 1 },
  },
  cut_within: {
    name: tr("Part off within a drawing"),
    apply: tr("Part it into two"),
    takes: ["curve", "place"],
    first: { keep: "outside", turn: 0, size: 1, gap: 0.2, edge: "wall", wall: 1.6, lip: 1 },
  },
  knurled: {
    name: tr("Knurl along a line"),
    apply: tr("Knurl it"),
    takes: ["line"],
    first: { pattern: "straight", count: 56, width: 4, depth: 0.3, fade: 0.4 },
  },
  grille: {
    name: tr("Grille"),
    apply: tr("Make the grille"),
    takes: ["within", "place"],
    first: {
      openings: "slots",
      arranged: "rows",
      round: true,
      wide: 24,
      tall: 14,
      opening: 1.2,
      gap: 1.2,
      land: 0.8,
      inner: 3,
      turn: 0,
      way: "pressed",
      depth: 1.6,
      lean: 3,
      rim: 0.15,
      floor: 0.2,
    },
  },
  lettering: {
    name: tr("Words, raised or cut in"),
    apply: tr("Set the words"),
    takes: ["place"],
    first: {
      text: "Linnet",
      font: "sans strong",
      tall: 5,
      spacing: 0,
      turn: 0,
      way: "pressed",
      depth: 0.3,
      lean: 8,
      rim: 0,
      floor: 0,
    },
  },
  stamped: {
    name: tr("Drawing, raised or pressed in"),
    apply: tr("Set the drawing"),
    takes: ["curve", "place"],
    first: { size: 1, turn: 0, way: "raised", depth: 0.6, lean: 5, rim: 0.1, floor: 0.1 },
  },
  stitched: {
    name: tr("Stitches along a line"),
    apply: tr("Stitch it"),
    takes: ["line"],
    first: { length: 3, spacing: 4.2, thickness: 0.7, slant: 0, irregular: 0.3, chance: 1 },
  },
  spread: {
    name: tr("Another part spread over it"),
    apply: tr("Spread it"),
    takes: ["element", "within", "place"],
    first: {
      arranged: "staggered",
      apart: 3,
      chance: 1,
      wide: 20,
      tall: 20,
      size: [1, 1],
      height: [1, 1],
      turn: [0, 0],
      least: 0,
      sink: 0,
    },
  },
  repeated: {
    name: tr("It, repeated"),
    apply: tr("Repeat it"),
    takes: ["far-line"],
    first: {
      way: "straight",
      count: 6,
      rows: 3,
      step: [10, 0, 0],
      across: [0, 0, 10],
      axis: "H",
      at: [0, 0, 0],
      angle: 360,
    },
  },
} as const satisfies Record<string, Detail>;

export type DetailKind = keyof typeof DETAILS;
export const DETAIL_KINDS = Object.keys(DETAILS) as DetailKind[];

/** Details that are parts of their own, on another part or of it. */
export const OWN_PARTS: readonly DetailKind[] = ["stitched", "spread", "repeated"];

/** Details that are made on the other sides of a symmetric part, too. Words are not: in a mirror nobody reads them. */
export const ALIKE: readonly DetailKind[] = ["along_line", "knurled", "grille", "stamped"];

/** What of a part is put on its skin, by the number of its step. */
export function linesOf(steps: readonly { kind: string; said?: string }[]): (readonly [number, string])[] {
  return steps.flatMap((step, index) =>
    step.kind.endsWith("_line") && step.kind !== "along_line" ? [[index, step.said ?? ""] as const] : [],
  );
}

/** Whether a step lies on the skin, above what shapes it. */
export function isDetail(step: { kind: string }): boolean {
  return step.kind === "sheet_line" || (step.kind in DETAILS && !OWN_PARTS.includes(step.kind as DetailKind));
}
