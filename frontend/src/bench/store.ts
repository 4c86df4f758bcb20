import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Shapes } from "../api/client";

export const STAGES = ["Sketch", "Form", "Surface", "Studio", "Review"] as const;
export type Stage = (typeof STAGES)[number];

/** What every stage is given. */
export interface StageProps {
  project: string;
  documents: Shapes["DocumentShape"][];
}

interface Notice {
  id: number;
  text: string;
  /** What can be done about it; such a notice stays until one has chosen. */
  ways?: { name: string; run: () => void }[];
}

interface Bench {
  project: string | null;
  stage: Stage;
  sheet: string | null;
  shot: string | null;
  notice: Notice | null;
  connected: boolean;
  /** How often one has come here by the address: by opening the page, by Back and Forward. */
  arrivals: number;
  /** Only the canvas is shown. */
  bare: boolean;
  setBare: (bare: boolean) => void;
  open: (project: string) => void;
  go: (stage: Stage) => void;
  openSheet: (sheet: string) => void;
  chooseShot: (shot: string) => void;
  notify: (text: string, ways?: Notice["ways"]) => void;
  dismiss: () => void;
  setConnected: (connected: boolean) => void;
}

/** Where the designer is; nothing of the product lives here. */
export const useBench = create<Bench>((set) => ({
  project: null,
  stage: "Sketch",
  sheet: null,
  shot: null,
  notice: null,
  connected: true,
  arrivals: 0,
  bare: false,
  setBare: (bare) => set({ bare }),
  open: (project) => set({ project, stage: "Sketch", sheet: null, shot: null, notice: null }),
  go: (stage) => set({ stage, notice: null }),
  openSheet: (sheet) => set({ sheet, stage: "Sketch" }),
  chooseShot: (shot) => set({ shot }),
  notify: (text, ways) => set((bench) => ({ notice: { id: (bench.notice?.id ?? 0) + 1, text, ways } })),
  dismiss: () => set({ notice: null }),
  setConnected: (connected) => set({ connected }),
}));

interface Settings {
  size: number;
  hand: "right" | "left";
  still: boolean;
  who: string;
  unit: "mm" | "inch";
  /** The decimal sign: the browser’s own, or one of one’s choice. */
  sign: "browser" | "point" | "comma";
  keys: Record<string, string>;
  /** Groups of tools that are folded away. */
  folded: string[];
  change: (settings: Partial<Omit<Settings, "change">>) => void;
}

/** Kept in this browser. */
export const useSettings = create<Settings>()(
  persist(
    (set) => ({
      size: 100,
      hand: "right",
      still: false,
      who: "",
      unit: "mm",
      sign: "browser",
      keys: {},
      folded: [],
      change: (settings) => set(settings),
    }),
    { name: "hollow-marble-settings" },
  ),
);
