import { create } from "zustand";
import { ofProject } from "../../bench/ofProject";
import type { Spot } from "../../ui/pointing";
import { eyeIn } from "../../view3d/eye";
import { lookFrom, type Orbit } from "../../view3d/orbit";

export const QUANTITIES = ["largest", "high", "low", "mean", "gaussian", "radius"] as const;
export type Quantity = (typeof QUANTITIES)[number];

const LINE_KINDS = ["highlight", "reflection", "isophotes"] as const;
export type LineKind = (typeof LINE_KINDS)[number];

const MAPS = ["draft", "wall", "deviation"] as const;

export type Probe =
  | "stripes"
  | "polished"
  | LineKind
  | Quantity
  | "sections"
  | "combs"
  | "continuity"
  | "soundness"
  | "findings"
  | (typeof MAPS)[number]
  | "balance";

export const lineKind = (probe: Probe): LineKind | null => LINE_KINDS.find((kind) => kind === probe) ?? null;
export const quantityOf = (probe: Probe): Quantity | null => QUANTITIES.find((name) => name === probe) ?? null;

export const unitOf = (probe: Probe): string =>
  ({ gaussian: "1/mm²", radius: "mm", draft: "°", wall: "mm", deviation: "mm" })[probe as string] ??
  (QUANTITIES.includes(probe as Quantity) ? "1/mm" : "");

export type Place = [number, number, number];
export type Across = "W" | "D" | "H" | "free";

/** Where a plane cuts: across a direction, at mm from the origin, how many, how far apart. */
export interface Cutting {
  across: Across;
  /** Degrees of a free plane's direction, around and above. */
  around: number;
  above: number;
  at: number;
  count: number;
  spacing: number;
}

export interface SurfaceState {
  probe: Probe;
  /** What the right half shows, where two probes stand side by side. */
  beside: Probe | null;
  /** How many stripes. */
  count: number;
  /** Direction the stripes run across: degrees around and above. */
  around: number;
  above: number;
  /** Where line lights lie from the form. */
  lightAround: number;
  lightAbove: number;
  /** Line lights: how many, mm apart, degrees they are turned about their direction, mm off the form. */
  lights: number;
  spacing: number;
  turn: number;
  away: number;
  place: Place | null;
  /** The probe that shows the finding one has gone to, while findings are looked through. */
  gone: Probe | null;
  /** End of a map's legend; null follows the percentile. */
  ends: Partial<Record<Probe, number>>;
  /** Per cent of the largest part's values that lie within the legend. */
  percentile: number;
  cutting: Cutting;
  /** How long combs are, and how many of their teeth stand, 0 to 1. */
  combScale: number;
  combShare: number;
  /** The part whose sections are combed; null is the largest. */
  combOf: string | null;
  /** The part and the place whose row is combed. */
  row: { part: string; place: Place } | null;
  wallBy: "ray" | "sphere";
  /** The part a map of walls or deviation is asked of. */
  part: string | null;
  /** A line of the ledger or another part to compare with. */
  against: { line: number } | { other: string } | { reference: string } | null;
  /** A pinned view that a section is held against. */
  drawnBeside: string | null;
  set: (state: Partial<Omit<SurfaceState, "set">>) => void;
}

export const useSurface = ofProject(
  create<SurfaceState>((set) => ({
    probe: "stripes",
    beside: null,
    count: 14,
    around: 20,
    above: 70,
    lightAround: 30,
    lightAbove: 25,
    lights: 16,
    spacing: 14,
    turn: 90,
    away: 60,
    place: null,
    gone: null,
    ends: {},
    percentile: 90,
    cutting: { across: "D", around: 30, above: 0, at: 0, count: 1, spacing: 8 },
    combScale: 1,
    combShare: 0.5,
    combOf: null,
    row: null,
    wallBy: "ray",
    part: null,
    against: null,
    drawnBeside: null,
    set: (state) => set(state),
  })),
);

/** A value under the pointer; averaged from its neighbours where it is not defined there. */
export interface Reading {
  value: number;
  exact: boolean;
  spot: Spot;
  /** Two places on the screen, along which the surface bends so. */
  along: [Point, Point] | null;
}

interface Point {
  x: number;
  y: number;
}

/** What changes with every movement of the hand. */
export const useSurfaceHand = create<{ orbit: Orbit }>(() => ({
  orbit: lookFrom("three-quarter", [0, 0, 0], 120),
}));

export const surfaceEye = eyeIn(useSurfaceHand);

/** The direction of degrees around (0 in front) and above. */
export function directionOf(around: number, above: number): Place {
  const [a, b] = [(around * Math.PI) / 180, (above * Math.PI) / 180];
  return [Math.sin(a) * Math.cos(b), -Math.cos(a) * Math.cos(b), Math.sin(b)];
}

const AXES: Record<Exclude<Across, "free">, Place> = { W: [1, 0, 0], D: [0, 1, 0], H: [0, 0, 1] };

export function normalOf({ across, around, above }: Cutting): Place {
  return across === "free" ? directionOf(around, above) : AXES[across];
}
