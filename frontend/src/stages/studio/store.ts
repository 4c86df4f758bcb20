import { create } from "zustand";
import { ofProject } from "../../bench/ofProject";
import type { Setting } from "./kinds";

export type { Setting } from "./kinds";

/** What is worked on: it says which cards stand in the inspector and what a touch of the picture does. */
export type StudioTool =
  | "lamp"
  | "highlight"
  | "camera"
  | "focus"
  | "set"
  | "units"
  | "surround"
  | "finish"
  | "wear"
  | "faces"
  | "mark"
  | "horizon"
  | "foot";

interface StudioState {
  lamp: string;
  /** The part, or the zone of one, whose finish is worked on. */
  wearer: string | null;
  area: string | null;
  mark: string | null;
  /** Only this lamp is shown in the preview. */
  alone: string | null;
  take: string | null;
  tool: StudioTool;
  size: [number, number];
  guides: "none" | "thirds" | "centre" | "diagonals";
  /** The product stays as large in the frame while the lens changes. */
  keepSize: boolean;
  /** The finish that a touch of a part gives it. */
  wearing: { wearer: string; name: string } | null;
  /** A second light beside the present one: the shot it is that of. */
  beside: string | null;
  set: (state: Partial<Omit<StudioState, "set">>) => void;
}

export const useStudioStage = ofProject(
  create<StudioState>((set) => ({
    lamp: "key",
    wearer: null,
    area: null,
    mark: null,
    alone: null,
    take: null,
    tool: "lamp",
    size: [960, 600],
    guides: "none",
    keepSize: false,
    wearing: null,
    beside: null,
    set: (state) => set(state),
  })),
);

/** The setting while something is dragged, null at rest; how long the chosen lamp's mirror image is, mm, where it was put somewhere; and whether
 *  the preview sheds pixels or keeps its reflections coarse. Only what shows it asks for it. */
interface Hand {
  draft: Setting | null;
  length: number | null;
  touched: { lamp: string; at: [number, number] } | null;
  coarse: boolean;
  shed: boolean;
}

export const useStudioHand = create<Hand>(() => ({
  draft: null,
  length: null,
  touched: null,
  coarse: false,
  shed: false,
}));

/** The setting as it is to be shown. */
export function useSetting(stored: Setting): Setting {
  return useStudioHand((hand) => hand.draft) ?? stored;
}
