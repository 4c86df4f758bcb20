import type { Command } from "../../bench/commands";
import type { Side } from "../../view3d/orbit";
import { CreaseOptions, ExtrudeOptions, InsetOptions, RowOptions, ShownOptions, StartOptions } from "./options";
import { FIRST, type StartKind, type StartShape } from "./starts";
import type { FormState, PickHow, PickKind } from "./store";

export interface FormDoings {
  state: FormState;
  symmetric: boolean;
  /** Whether faces are picked, so that a key extrudes them at once. */
  hasPicked: boolean;
  choose: (kind: PickKind) => void;
  convert: (kind: PickKind) => number[];
  look: (side: Side) => void;
  extrude: () => void;
  crease: (value: number, sharp?: boolean) => void;
  inset: () => void;
  addRow: () => void;
  fill: () => void;
  removeFaces: () => void;
  pickMore: (how: PickHow) => void;
  begin: (start: StartShape) => void;
  download: (format: string) => void;
  pickAll: () => void;
  bringIn: () => void;
  mirror: () => void;
}

const STARTS = Object.keys(FIRST) as StartKind[];

/** The tool list of Form. */
export function formCommands(does: FormDoings): Command[] {
  const { state } = does;
  const { set } = state;
  return [
    {
      id: "points",
      name: "Points",
      group: "Pick",
      key: "p",
      active: state.kind === "points" && state.tool === "pick",
      run: () => does.choose("points"),
    },
    {
      id: "edges",
      name: "Edges",
      group: "Pick",
      key: "g",
      active: state.kind === "edges" && state.tool === "pick",
      run: () => does.choose("edges"),
    },
    {
      id: "faces",
      name: "Faces",
      group: "Pick",
      key: "f",
      active: state.kind === "faces" && state.tool === "pick",
      run: () => does.choose("faces"),
    },
    {
      id: "through",
      name: "Through",
      group: "Pick",
      key: "h",
      note: state.through ? "on" : undefined,
      run: () => set({ through: !state.through }),
    },
    {
      id: "all",
      name: "Pick all",
      group: "Pick",
      key: "mod+a",
      hidden: true,
      run: does.pickAll,
    },
    {
      id: "row-pick",
      name: "Row",
      group: "Pick",
      key: "r",
      hidden: !state.items.length,
      run: () => does.pickMore("row"),
    },
    {
      id: "band-pick",
      name: "Band",
      group: "Pick",
      key: "e",
      hidden: !state.items.length,
      run: () => does.pickMore("band"),
    },
    {
      id: "grow",
      name: "More around it",
      group: "Pick",
      key: "u",
      hidden: !state.items.length,
      run: () => does.pickMore("grow"),
    },
    {
      id: "shrink",
      name: "Less",
      group: "Pick",
      key: "y",
      hidden: !state.items.length,
      run: () => does.pickMore("shrink"),
    },
    {
      id: "linked",
      name: "Whole piece",
      group: "Pick",
      key: "o",
      hidden: !state.items.length,
      run: () => does.pickMore("linked"),
    },
    {
      id: "rest",
      name: "Everything else",
      group: "Pick",
      key: "w",
      hidden: !state.items.length,
      run: () => does.pickMore("rest"),
    },
    { id: "none", name: "Pick nothing", group: "Pick", key: "escape", hidden: true, run: () => set({ items: [] }) },
    {
      id: "move",
      name: "Move",
      group: "Shape",
      key: "m",
      active: state.handle === "move",
      run: () => set({ handle: "move" }),
    },
    {
      id: "turn",
      name: "Turn",
      group: "Shape",
      key: "t",
      active: state.handle === "turn",
      run: () => set({ handle: "turn" }),
    },
    {
      id: "size",
      name: "Size",
      group: "Shape",
      key: "z",
      active: state.handle === "size",
      run: () => set({ handle: "size" }),
    },
    {
      id: "extrude",
      name: "Extrude",
      group: "Shape",
      key: "x",
      active: state.tool === "extrude",
      options: <ExtrudeOptions onApply={does.extrude} />,
      run: () =>
        does.hasPicked ? does.extrude() : set({ tool: "extrude", kind: "faces", items: does.convert("faces") }),
    },
    {
      id: "inset",
      name: "Inset",
      group: "Shape",
      key: "n",
      active: state.tool === "inset",
      options: <InsetOptions onApply={does.inset} />,
      run: () => set({ tool: "inset", kind: "faces", items: does.convert("faces") }),
    },
    {
      id: "row",
      name: "Add row",
      group: "Shape",
      key: "l",
      active: state.tool === "row",
      options: <RowOptions onApply={does.addRow} />,
      run: () => set({ tool: "row", kind: "edges", items: does.convert("edges") }),
    },
    { id: "fill", name: "Fill opening", group: "Shape", key: "i", hidden: state.kind !== "edges", run: does.fill },
    {
      id: "remove-faces",
      name: "Remove faces",
      group: "Shape",
      key: "delete",
      hidden: state.kind !== "faces" || !state.items.length,
      run: does.removeFaces,
    },
    {
      id: "crease",
      name: "Crease",
      group: "Shape",
      key: "k",
      active: state.tool === "crease",
      options: <CreaseOptions onApply={does.crease} />,
      run: () => set({ tool: "crease", kind: "edges", items: does.convert("edges") }),
    },
    {
      id: "symmetry",
      name: "Symmetry across W",
      group: "Shape",
      key: "j",
      note: does.symmetric ? "on" : undefined,
      run: does.mirror,
    },
    ...STARTS.map((kind) => ({
      id: kind,
      name: kind[0].toUpperCase() + kind.slice(1),
      group: "Begin",
      active: state.tool === kind,
      options: <StartOptions kind={kind} onApply={does.begin} />,
      run: () => set({ tool: kind }),
    })),
    { id: "cage-in", name: "Cage from OBJ", group: "Begin", run: does.bringIn },
    { id: "look-3", name: "Three-quarter", group: "Look", key: "v", run: () => does.look("three-quarter") },
    { id: "look-front", name: "Front", group: "Look", key: "a", run: () => does.look("front") },
    { id: "look-side", name: "Side", group: "Look", key: "s", run: () => does.look("side") },
    { id: "look-top", name: "Top", group: "Look", key: "d", run: () => does.look("top") },
    {
      id: "shown",
      name: "Cage and skin",
      group: "Look",
      key: "c",
      active: true,
      options: <ShownOptions />,
      run: () => set({ shown: state.shown === "both" ? "skin" : state.shown === "skin" ? "cage" : "both" }),
    },
    ...(["glb", "stl", "ply", "obj"] as const).map((format) => ({
      id: `out-${format}`,
      name: { glb: "Skin as glTF", stl: "Skin as STL", ply: "Skin as PLY", obj: "Cage as OBJ" }[format],
      group: "Take along",
      hidden: format !== "glb" && format !== "obj",
      run: () => does.download(format),
    })),
  ];
}
