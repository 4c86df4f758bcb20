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
  /** What is cleared away from around the canvas: panels come back at the edges, in a sprint nothing does. */
  bare: "nothing" | "panels" | "all";
  setBare: (bare: Bench["bare"]) => void;
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
  bare: "nothing",
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
  /** How often each command was used, by its id. */
  uses: Record<string, number>;
  /** The first steps were followed, or are not wanted; one has looked at a surface. */
  led: boolean;
  looked: boolean;
  /** Rem the tool list and the inspector are wide. */
  widths: { tools: number; inspector: number };
  change: (settings: Partial<Omit<Settings, "change">>) => void;
}

/** Rem the panels are wide until one changes that, and the least and the most they can be. */
export const WIDTHS = { tools: 13.6, inspector: 20.6 };

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
      uses: {},
      led: false,
      looked: false,
      widths: WIDTHS,
      change: (settings) => set(settings),
    }),
    { name: "hollow-marble-settings" },
  ),
);
