import { tr } from "../../../words/words";
import type { Word } from "../steps";

const AXES = [
  ["W", "W"],
  ["D", "D"],
  ["H", "H"],
] as const;

const WAYS: [string, string][] = [
  ["pressed in", "pressed"],
  ["raised", "raised"],
];

/** How a flat drawing stands on a skin. */
const STAMPED: Record<string, Word> = {
  at: { as: "vector", label: tr("Its middle at"), unit: "mm" },
  turn: { as: "number", label: tr("Turned by"), unit: "°", min: -360, max: 360, digits: 1 },
  way: { as: "choice", label: tr("It is"), options: WAYS },
  depth: { as: "number", label: tr("Depth or height"), unit: "mm", min: 0.001, digits: 2 },
  lean: { as: "number", label: tr("Draft of its sides"), unit: "°", min: 0, max: 80, digits: 1 },
  rim: { as: "number", label: tr("Rounded at the skin"), unit: "mm", min: 0, digits: 2 },
  floor: { as: "number", label: tr("Rounded within"), unit: "mm", min: 0, digits: 2 },
};

/** How what is cut ends. */
const CUT: Record<string, Word> = {
  gap: { as: "number", label: tr("Gap"), unit: "mm", min: 0, digits: 2 },
  edge: {
    as: "choice",
    label: tr("Its edge"),
    options: [
      ["a wall", "wall"],
      ["lip and groove", "lip"],
      ["rolled", "rolled"],
      ["closed across", "closed"],
      ["open", "open"],
    ],
  },
  wall: { as: "number", label: tr("Wall"), unit: "mm", min: 0.05, digits: 2 },
  lip: { as: "number", label: tr("Lip reaches over"), unit: "mm", min: 0.05, digits: 2 },
};

/** What the numbers of steps that put details on a skin are called. */
export const DETAIL_WORDS: Record<string, Record<string, Word>> = {
  section_line: {
    axis: { as: "choice", label: tr("Square to"), options: AXES },
    at: { as: "number", label: tr("At"), unit: "mm", digits: 2 },
  },
  drawn_line: {
    smooth: { as: "number", label: tr("Evened out over"), unit: "mm", min: 0, digits: 1 },
    closed: {
      as: "choice",
      label: tr("Runs"),
      options: [
        ["from end to end", false],
        ["round", true],
      ],
    },
  },
  sheet_line: {
    how: {
      as: "choice",
      label: tr("Lies"),
      options: [
        ["as its view sees it", "thrown"],
        ["where it is nearest", "nearest"],
        ["from the front", "front"],
        ["from the back", "back"],
        ["from the left", "left"],
        ["from the right", "right"],
        ["from the top", "top"],
        ["from the bottom", "bottom"],
      ],
    },
    smooth: { as: "number", label: tr("Evened out over"), unit: "mm", min: 0, digits: 1 },
  },
  offset_line: { by: { as: "number", label: tr("To its left by"), unit: "mm", digits: 2 } },
  along_line: {
    section: {
      as: "choice",
      label: tr("Made along it"),
      options: [
        ["groove", "groove"],
        ["bead", "bead"],
        ["step", "step"],
        ["split gap", "gap"],
        ["pressed-in band", "pressed"],
        ["raised band", "raised"],
      ],
    },
    width: { as: "number", label: tr("Width"), unit: "mm", min: 0.01, digits: 2 },
    depth: { as: "number", label: tr("Depth or height"), unit: "mm", min: 0.001, digits: 2 },
    lean: { as: "number", label: tr("Sides lean by"), unit: "°", min: 0, max: 80, digits: 1 },
    rim: { as: "number", label: tr("Rounded at the skin"), unit: "mm", min: 0, digits: 2 },
    floor: { as: "number", label: tr("Rounded within"), unit: "mm", min: 0, digits: 2 },
    reach: { as: "number", label: tr("Skin comes back over"), unit: "mm", min: 0.1, digits: 1 },
    side: {
      as: "choice",
      label: tr("Lower on its"),
      options: [
        ["left", "left"],
        ["right", "right"],
      ],
    },
    ends: {
      as: "choice",
      label: tr("Its ends"),
      options: [
        ["run out", "out"],
        ["round", "round"],
      ],
    },
    run_out: { as: "number", label: tr("Runs out over"), unit: "mm", min: 0, digits: 1 },
  },
  knurled: {
    pattern: {
      as: "choice",
      label: tr("Teeth"),
      options: [
        ["straight", "straight"],
        ["diamonds", "diamond"],
      ],
    },
    count: { as: "number", label: tr("Count"), min: 3, max: 2000 },
    width: { as: "number", label: tr("Width"), unit: "mm", min: 0.01, digits: 2 },
    depth: { as: "number", label: tr("Depth"), unit: "mm", min: 0.001, digits: 2 },
    fade: { as: "number", label: tr("Fades over"), unit: "mm", min: 0, digits: 2 },
  },
  grille: {
    openings: {
      as: "choice",
      label: tr("Openings"),
      options: [
        ["slots", "slots"],
        ["holes", "holes"],
      ],
    },
    arranged: {
      as: "choice",
      label: tr("Arranged"),
      options: [
        ["in rows", "rows"],
        ["in rings", "rings"],
        ["in rays", "rays"],
      ],
    },
    round: {
      as: "choice",
      label: tr("Field"),
      options: [
        ["round", true],
        ["square", false],
      ],
    },
    wide: { as: "number", label: tr("Field wide"), unit: "mm", min: 0.1, digits: 1 },
    tall: { as: "number", label: tr("Field tall"), unit: "mm", min: 0.1, digits: 1 },
    opening: { as: "number", label: tr("Each opening"), unit: "mm", min: 0.05, digits: 2 },
    gap: { as: "number", label: tr("Between them"), unit: "mm", min: 0.05, digits: 2 },
    land: { as: "number", label: tr("Land to the edge"), unit: "mm", min: 0, digits: 2 },
    inner: { as: "number", label: tr("Rays begin from the middle at"), unit: "mm", min: 0, digits: 1 },
    ...STAMPED,
    way: { as: "choice", label: tr("It is"), options: [...WAYS, ["through the wall", "through"]] },
  },
  lettering: {
    text: { as: "text", label: tr("Words") },
    font: {
      as: "choice",
      label: tr("Letters"),
      options: [
        ["sans", "sans"],
        ["sans strong", "sans strong"],
        ["serif", "serif"],
      ],
    },
    tall: { as: "number", label: tr("Capitals tall"), unit: "mm", min: 0.1, digits: 2 },
    spacing: { as: "number", label: tr("Between letters, more by"), unit: "mm", digits: 2 },
    ...STAMPED,
  },
  parted_along: {
    keep: {
      as: "choice",
      label: tr("Keeps what is on its"),
      options: [
        ["left", "left"],
        ["right", "right"],
      ],
    },
    ...CUT,
  },
  cut_within: {
    keep: {
      as: "choice",
      label: tr("Keeps"),
      options: [
        ["what is outside", "outside"],
        ["what is inside", "inside"],
      ],
    },
    at: { as: "vector", label: tr("Its middle at"), unit: "mm" },
    turn: { as: "number", label: tr("Turned by"), unit: "°", min: -360, max: 360, digits: 1 },
    size: { as: "number", label: tr("Its size"), unit: "%", min: 1, digits: 1, times: 100 },
    ...CUT,
  },
  stitched: {
    length: { as: "number", label: tr("Each stitch"), unit: "mm", min: 0.1, digits: 2 },
    spacing: { as: "number", label: tr("From one to the next"), unit: "mm", min: 0.1, digits: 2 },
    thickness: { as: "number", label: tr("Thread thick"), unit: "mm", min: 0.02, digits: 2 },
    slant: { as: "number", label: tr("Slant"), unit: "°", min: -85, max: 85, digits: 1 },
    irregular: { as: "number", label: tr("Irregular"), unit: "%", min: 0, max: 100, times: 100 },
    chance: { as: "number", label: tr("Which throw"), min: 0, max: 1000000 },
  },
  spread: {
    arranged: {
      as: "choice",
      label: tr("Arranged"),
      options: [
        ["at random", "random"],
        ["in squares", "square"],
        ["staggered", "staggered"],
      ],
    },
    apart: { as: "number", label: tr("Apart"), unit: "mm", min: 0.01, digits: 2 },
    at: { as: "vector", label: tr("Its middle at"), unit: "mm" },
    wide: { as: "number", label: tr("Field or picture wide"), unit: "mm", min: 0.1, digits: 1 },
    tall: { as: "number", label: tr("Field tall"), unit: "mm", min: 0.1, digits: 1 },
    size: { as: "pair", label: tr("Size, dark to bright"), unit: "%", times: 100, min: 1 },
    height: { as: "pair", label: tr("Height, dark to bright"), unit: "%", times: 100, min: 1 },
    turn: { as: "pair", label: tr("Turn, dark to bright"), unit: "°", times: 1 },
    least: { as: "number", label: tr("None where darker than"), unit: "%", min: 0, max: 100, times: 100 },
    sink: { as: "number", label: tr("Sunk by"), unit: "mm", digits: 2 },
    chance: { as: "number", label: tr("Which throw"), min: 0, max: 1000000 },
  },
  repeated: {
    way: {
      as: "choice",
      label: tr("Arranged"),
      options: [
        ["in a row", "straight"],
        ["round an axis", "round"],
        ["on a grid", "grid"],
        ["mirrored", "mirrored"],
        ["along a line", "line"],
      ],
    },
    count: { as: "number", label: tr("Count"), min: 1, max: 10000 },
    rows: { as: "number", label: tr("Rows"), min: 1, max: 1000 },
    step: { as: "vector", label: tr("Each further by"), unit: "mm" },
    across: { as: "vector", label: tr("Each row further by"), unit: "mm" },
    axis: { as: "choice", label: tr("About"), options: AXES },
    at: { as: "vector", label: tr("Axis at"), unit: "mm" },
    angle: { as: "number", label: tr("Over"), unit: "°", min: 0.1, max: 360, digits: 1 },
  },
  stamped: { size: { as: "number", label: tr("Its size"), unit: "%", min: 1, digits: 1, times: 100 }, ...STAMPED },
};

/** Whether a number of a detail says nothing as its others stand. */
export function saysNothing(kind: string, key: string, values: Record<string, unknown>): boolean {
  const inputs = (values.inputs as Record<string, unknown> | undefined) ?? {};
  if (kind === "section_line") return "plane" in inputs;
  if (kind === "grille") {
    if (key === "inner") return values.arranged !== "rays";
    if (key === "openings") return values.arranged !== "rows";
    if (key === "lean" || key === "rim" || key === "floor") return values.way === "through";
    return (key === "wide" || key === "tall" || key === "round") && "within" in inputs;
  }
  if (kind === "repeated") {
    const way = values.way as string;
    if (key === "count") return way === "mirrored";
    if (key === "rows" || key === "across") return way !== "grid";
    if (key === "step") return way !== "straight" && way !== "grid";
    if (key === "axis" || key === "at") return way !== "round" && way !== "mirrored";
    return key === "angle" && way !== "round";
  }
  if (kind === "parted_along" || kind === "cut_within") {
    if (key === "wall") return values.edge === "open" || values.edge === "closed";
    return key === "lip" && values.edge !== "lip";
  }
  if (kind !== "along_line") return false;
  if (key === "run_out") return values.ends !== "out";
  if (key === "ends") return false;
  if ("profile" in inputs) return true;
  return (key === "reach" || key === "side") && values.section !== "step";
}
