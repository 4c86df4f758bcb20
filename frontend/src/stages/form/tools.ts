import type { PartMesh } from "../../view3d/partMesh";
import { tr } from "../../words/words";
import { pickedPoints } from "./picking";
import type { StepKind } from "./steps";
import type { FormState, PickKind } from "./store";

/** A tool that adds a step made from what is picked, or from a line drawn over the view. */
export interface StepTool {
  kind: StepKind;
  name: string;
  key: string;
  group: "Add" | "Change";
  /** What it works on; nothing where it works on the whole part. */
  picks: readonly PickKind[];
  /** Needs a line drawn over the view. */
  line?: boolean;
  /** Done as soon as it is called, where something fitting is picked. */
  atOnce?: boolean;
  /** On its button. */
  apply: string;
  /** What to pick first. */
  hint: string;
}

export const STEP_TOOLS: readonly StepTool[] = [
  {
    kind: "extruded",
    name: tr("Extrude"),
    key: "x",
    group: "Add",
    picks: ["faces"],
    atOnce: true,
    apply: tr("Extrude picked faces"),
    hint: tr("Pick faces first, then extrude them."),
  },
  {
    kind: "grown",
    name: tr("Grow edges"),
    key: "shift+x",
    group: "Add",
    picks: ["edges"],
    apply: tr("Grow from picked edges"),
    hint: tr("Pick open edges first, then grow faces from them."),
  },
  {
    kind: "inset",
    name: tr("Inset"),
    key: "n",
    group: "Add",
    picks: ["faces"],
    apply: tr("Inset picked faces"),
    hint: tr("Pick faces first, then set them in."),
  },
  {
    kind: "bevelled",
    name: tr("Bevel"),
    key: "b",
    group: "Add",
    picks: ["edges"],
    apply: tr("Bevel picked edges"),
    hint: tr("Pick edges first, then bevel them."),
  },
  {
    kind: "bridged",
    name: tr("Bridge"),
    key: "shift+b",
    group: "Add",
    picks: ["faces", "edges"],
    apply: tr("Bridge the two picks"),
    hint: tr("Pick two groups of faces, or one edge of each of two openings, then bridge them."),
  },
  {
    kind: "row",
    name: tr("Add row"),
    key: "l",
    group: "Add",
    picks: ["edges"],
    apply: tr("Add it across the picked edge"),
    hint: tr("Pick one edge that the row is to cross."),
  },
  {
    kind: "cut",
    name: tr("Cut along a line"),
    key: "shift+c",
    group: "Add",
    picks: [],
    line: true,
    apply: "",
    hint: tr("Draw a line across the faces to cut."),
  },
  {
    kind: "split",
    name: tr("Split faces"),
    key: "shift+s",
    group: "Add",
    picks: ["faces"],
    atOnce: true,
    apply: tr("Split picked faces"),
    hint: tr("Pick faces first, then split them."),
  },
  {
    kind: "filled",
    name: tr("Fill opening"),
    key: "i",
    group: "Add",
    picks: ["edges"],
    atOnce: true,
    apply: tr("Fill it"),
    hint: tr("Pick one edge of the opening’s border."),
  },
  {
    kind: "mirrored",
    name: tr("Mirror faces"),
    key: "shift+m",
    group: "Add",
    picks: ["faces"],
    apply: tr("Mirror picked faces"),
    hint: tr("Pick the faces to mirror first."),
  },
  {
    kind: "slid",
    name: tr("Slide row"),
    key: "shift+l",
    group: "Change",
    picks: ["edges"],
    apply: tr("Slide the picked row"),
    hint: tr("Pick a row of edges first, then slide it."),
  },
  {
    kind: "fitted",
    name: tr("Fit row to a line"),
    key: "shift+f",
    group: "Change",
    picks: ["edges"],
    line: true,
    apply: "",
    hint: tr("Pick a row of edges first, then draw the line it is to lie on."),
  },
  {
    kind: "creased",
    name: tr("Crease"),
    key: "k",
    group: "Change",
    picks: ["edges", "points"],
    apply: tr("Apply"),
    hint: tr("Pick edges or points first, then crease them."),
  },
  {
    kind: "dissolved",
    name: tr("Dissolve"),
    key: "shift+d",
    group: "Change",
    picks: ["edges", "points"],
    atOnce: true,
    apply: tr("Dissolve what is picked"),
    hint: tr("Pick edges or points first, then dissolve them."),
  },
  {
    kind: "welded",
    name: tr("Weld"),
    key: "shift+w",
    group: "Change",
    picks: ["points"],
    apply: tr("Weld picked points"),
    hint: tr("Pick two points or more, then weld them."),
  },
  {
    kind: "faired",
    name: tr("Fair"),
    key: "shift+e",
    group: "Change",
    picks: ["points", "edges", "faces"],
    apply: tr("Fair picked points"),
    hint: tr("Pick the points to fair first; all of them for the whole part."),
  },
  {
    kind: "detached",
    name: tr("Detach"),
    key: "shift+t",
    group: "Change",
    picks: ["faces"],
    atOnce: true,
    apply: tr("Detach picked faces"),
    hint: tr("Pick faces first, then detach them."),
  },
  {
    kind: "removed",
    name: tr("Remove"),
    key: "delete",
    group: "Change",
    picks: ["faces"],
    atOnce: true,
    apply: tr("Remove picked faces"),
    hint: tr("Pick the faces to remove first."),
  },
  {
    kind: "alike",
    name: tr("Sides alike"),
    key: "shift+y",
    group: "Change",
    picks: [],
    apply: tr("Make them alike"),
    hint: "",
  },
  {
    kind: "stood",
    name: tr("Stand part"),
    key: "shift+o",
    group: "Change",
    picks: [],
    apply: tr("Stand it there"),
    hint: "",
  },
];

export interface DrawnLine {
  eye: [number, number, number];
  line: [number, number, number][];
}

/** Whether a tool waits for a line drawn over the view. */
export function drawsLine(tool: StepTool, nexts: FormState["nexts"]): boolean {
  if (tool.kind !== "extruded" && tool.kind !== "grown") return !!tool.line;
  return (nexts[tool.kind].along as string) === "path";
}

/** The step a tool makes of what is picked; null where the pick does not fit. */
export function stepOf(tool: StepTool, mesh: PartMesh, state: FormState, line?: DrawnLine): object | null | undefined {
  const { kind: picked, items, nexts } = state;
  const kind = tool.kind;
  const numbers: Record<string, unknown> = kind in nexts ? { ...nexts[kind as keyof typeof nexts] } : {};
  if (tool.line && !line) return null;
  if (tool.picks.length && (!tool.picks.includes(picked) || !items.length)) return null;
  const edges = picked === "edges" ? items.map((edge) => [mesh.edges[2 * edge], mesh.edges[2 * edge + 1]]) : [];
  switch (kind) {
    case "extruded":
      if (numbers.along === "path") {
        if (!line) return null;
        numbers.path = line.line;
        numbers.distance = 0;
      }
      if (numbers.along !== "direction") numbers.way = null;
      return { kind, faces: items, ...numbers };
    case "grown":
      return numbers.along === "path"
        ? line && { kind, edges, path: line.line, segments: numbers.segments }
        : { kind, edges, way: numbers.way, segments: numbers.segments };
    case "inset":
    case "split":
    case "detached":
    case "removed":
    case "mirrored":
      return { kind, faces: items, ...numbers };
    case "bridged":
      return picked === "faces" ? { kind, faces: items, ...numbers } : { kind, edges, ...numbers };
    case "row":
    case "filled":
      return edges.length === 1 ? { kind, edge: edges[0], ...numbers } : null;
    case "welded":
      if (items.length < 2) return null;
      return { kind, points: pickedPoints(mesh, picked, items), within: (numbers.within as number) || null };
    case "faired":
      return { kind, points: pickedPoints(mesh, picked, items), ...numbers };
    case "creased":
      return picked === "points"
        ? { kind: "cornered", points: items, ...numbers }
        : { kind: "creased", edges, ...numbers };
    case "dissolved":
      return picked === "points" ? { kind: "dissolved_points", points: items } : { kind, edges };
    case "cut":
      return { kind, ...line, ...numbers };
    case "fitted":
      return { kind, edges, ...line, ...numbers };
    case "alike":
    case "stood":
      return { kind, ...numbers };
    default:
      return { kind, edges, ...numbers };
  }
}
