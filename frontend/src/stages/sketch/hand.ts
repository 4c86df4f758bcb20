import { create } from "zustand";

/** What changes with every movement of the hand over the sheet; only what shows it asks for it. */
export const useSheetHand = create<{
  /** The way of a drag so far, page px. */
  trail: [number, number][];
  /** Screen px a page px takes. */
  scale: number;
}>(() => ({ trail: [], scale: 1 }));
