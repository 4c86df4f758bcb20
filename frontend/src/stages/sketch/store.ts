import { create } from "zustand";
import type { Shapes } from "../../api/client";

export type ViewKind = Shapes["View"]["view"];
export type SketchTool = "pencil" | "lifter" | "frame";

interface Sketch {
  tool: SketchTool;
  size: { pencil: number; lifter: number };
  tone: { pencil: number; lifter: number };
  colour: string;
  layer: string | null;
  frameAs: ViewKind;
  set: (sketch: Partial<Omit<Sketch, "set">>) => void;
}

export const useSketch = create<Sketch>((set) => ({
  tool: "pencil",
  size: { pencil: 6, lifter: 28 },
  tone: { pencil: 85, lifter: 100 },
  colour: "#20282b",
  layer: null,
  frameAs: "side",
  set: (sketch) => set(sketch),
}));
