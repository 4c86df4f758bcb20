import { create } from "zustand";
import type { Shapes } from "../../api/client";
import { ofProject } from "../../bench/ofProject";
import type { Triple } from "../../ui/AxisFields";
import { FIRST, type StartKind } from "./starts";
import { NEXT, type StepKind } from "./steps";

export type PickKind = "points" | "edges" | "faces";
export type PickHow = Shapes["PickMoreRequest"]["how"];
export type HandleKind = "move" | "turn" | "size" | "push";
export type Shown = "both" | "cage" | "skin";
export type SnapTo = "nothing" | "grid" | "points" | "lines";
export const BESIDES = ["stripes", "polished", "largest"] as const;
export type Beside = (typeof BESIDES)[number];
export type Tool = "pick" | "begin" | "curve" | StartKind | StepKind | "measure" | "skin-line" | "skin-place";

/** Where the handle sits when it does not follow the pick: a place in mm and three directions square to one another. */
export interface KeptSeat {
  place: Triple;
  directions: [Triple, Triple, Triple];
}

export interface FormState {
  part: string | null;
  kind: PickKind;
  items: number[];
  through: boolean;
  /** Shift-drag draws a loop instead of a box. */
  lasso: boolean;
  /** Mm around picked points within which others go along in part; 0 for none. */
  reach: number;
  handle: HandleKind;
  /** Sizing leaves the far side of the pick where it is. */
  oneSide: boolean;
  seat: KeptSeat | null;
  snap: SnapTo;
  /** Mm of the grid, and of a step of the arrow keys. */
  grid: number;
  /** Mm by which skins that are taken along may be off; as they are worked on at 0. */
  within: number;
  shown: Shown;
  /** The skin lets what is behind it show through. */
  clear: boolean;
  /** What a probe shows beside the model, also while a handle is dragged. */
  beside: Beside | null;
  tool: Tool;
  /** The numbers of the next step of each kind. */
  nexts: typeof NEXT;
  /** The numbers of the next first shape of each kind. */
  firsts: typeof FIRST;
  /** The only part shown, for looking at it alone. */
  solo: string | null;
  /** The part shaped beneath the details on its skin, which are not shown meanwhile. */
  beneath: string | null;
  /** Where on a skin the next detail goes, mm. */
  skinPlace: Triple | null;
  /** Mm over which a line drawn on a skin is evened out. */
  skinSmooth: number;
  /** The first place of a dimension being set. */
  measuring: Shapes["Measure"]["first"] | null;
  set: (state: Partial<Omit<FormState, "set">>) => void;
}

export const useFormStage = ofProject(
  create<FormState>((set) => ({
    part: null,
    kind: "points",
    items: [],
    through: false,
    lasso: false,
    reach: 0,
    handle: "move",
    oneSide: false,
    seat: null,
    snap: "nothing",
    grid: 1,
    within: 0,
    shown: "both",
    clear: false,
    beside: null,
    tool: "pick",
    nexts: NEXT,
    firsts: FIRST,
    solo: null,
    beneath: null,
    skinPlace: null,
    skinSmooth: 2,
    measuring: null,
    set: (state) => set(state),
  })),
  ({ grid, nexts, firsts }) => ({ grid, nexts, firsts }),
);
