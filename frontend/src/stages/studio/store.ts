import { create } from "zustand";
import type { Shapes } from "../../api/client";
import { ofProject } from "../../bench/ofProject";

export type Setting = Shapes["Setting"];

interface StudioState {
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

export const useStudioStage = ofProject(
  create<StudioState>((set) => ({
    lamp: "key",
    part: null,
    alone: null,
    take: null,
    tool: "lamp",
    size: [960, 600],
    guides: false,
    set: (state) => set(state),
  })),
);

/** The setting while something is dragged, null at rest, and whether the preview's reflections stay coarse; only what shows it asks for it. */
export const useStudioHand = create<{ draft: Setting | null; coarse: boolean }>(() => ({ draft: null, coarse: false }));

/** The setting as it is to be shown. */
export function useSetting(stored: Setting): Setting {
  return useStudioHand((hand) => hand.draft) ?? stored;
}
