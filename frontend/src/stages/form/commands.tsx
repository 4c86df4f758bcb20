import type { Command } from "../../bench/commands";
import type { Side } from "../../view3d/orbit";
import { BoxOptions, CreaseOptions, ExtrudeOptions, ShownOptions } from "./options";
import type { FormState, PickKind } from "./store";

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
  startBox: () => void;
  download: (format: string) => void;
  pickAll: () => void;
  bringIn: () => void;
  mirror: () => void;
}

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
    {
      id: "box",
      name: "Box",
      group: "Begin",
      active: state.tool === "box",
      options: <BoxOptions onApply={does.startBox} />,
      run: () => set({ tool: "box" }),
    },
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
