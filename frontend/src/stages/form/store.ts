import { create } from "zustand";
import type { Orbit } from "../../view3d/orbit";
import { lookFrom } from "../../view3d/orbit";

export type PickKind = "points" | "edges" | "faces";
export type HandleKind = "move" | "turn" | "size";
export type Shown = "both" | "cage" | "skin";

export interface FormState {
  part: string | null;
  kind: PickKind;
  items: number[];
  through: boolean;
  handle: HandleKind;
  shown: Shown;
  tool: "pick" | "box" | "extrude" | "crease";
  distance: number;
  crease: number;
  box: { size: [number, number, number]; divisions: [number, number, number] };
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
  box: { size: [62, 34, 108], divisions: [4, 3, 6] },
  orbit: lookFrom("three-quarter", [0, 0, 0], 120),
  milliseconds: 0,
  set: (state) => set(state),
}));
