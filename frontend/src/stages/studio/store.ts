import { create } from "zustand";
import type { Shapes } from "../../api/client";

export type Setting = Shapes["Setting"];

interface StudioState {
  /** The setting while something is dragged; null shows the stored one. */
  draft: Setting | null;
  lamp: string;
  part: string | null;
  /** Only this lamp is shown in the preview. */
  alone: string | null;
  take: string | null;
  tool: "lamp" | "camera" | "sweep" | "finish";
  size: [number, number];
  guides: boolean;
  set: (state: Partial<Omit<StudioState, "set">>) => void;
}

export const useStudioStage = create<StudioState>((set) => ({
  draft: null,
  lamp: "key",
  part: null,
  alone: null,
  take: null,
  tool: "lamp",
  size: [960, 600],
  guides: false,
  set: (state) => set(state),
}));
