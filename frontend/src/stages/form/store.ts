import { create } from "zustand";
import type { Shapes } from "../../api/client";
import type { Orbit } from "../../view3d/orbit";
import { lookFrom } from "../../view3d/orbit";
import { FIRST, type StartKind } from "./starts";

export type PickKind = "points" | "edges" | "faces";
export type PickHow = Shapes["PickMoreRequest"]["how"];
export type HandleKind = "move" | "turn" | "size";
export type Shown = "both" | "cage" | "skin";

export interface FormState {
  part: string | null;
  kind: PickKind;
  items: number[];
  through: boolean;
  handle: HandleKind;
  shown: Shown;
  tool: "pick" | StartKind | "extrude" | "crease" | "inset" | "row";
  distance: number;
  crease: number;
  /** Width of the next inset, mm, and whether each face is set in by itself. */
  inset: { width: number; single: boolean };
  /** Where the next row lies, % of the way along the edge. */
  share: number;
  /** The numbers of the next first shape of each kind. */
  firsts: typeof FIRST;
  orbit: Orbit;
  milliseconds: number;
  set: (state: Partial<Omit<FormState, "set">>) => void;
}

export const useFormStage = create<FormState>((set) => ({
  part: null,
  kind: "points",
  items: [],
  through: false,
  handle: "move",
  shown: "both",
  tool: "pick",
  distance: 8,
  crease: 0.5,
  inset: { width: 4, single: false },
  share: 50,
  firsts: FIRST,
  orbit: lookFrom("three-quarter", [0, 0, 0], 120),
  milliseconds: 0,
  set: (state) => set(state),
}));
