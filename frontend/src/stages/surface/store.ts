import { create } from "zustand";
import { ofProject } from "../../bench/ofProject";
import type { Spot } from "../../ui/pointing";
import { eyeIn } from "../../view3d/eye";
import { lookFrom, type Orbit } from "../../view3d/orbit";
import type { Quantity } from "./curvature";

export type Probe = "stripes" | Quantity | "soundness";

interface SurfaceState {
  probe: Probe;
  count: number;
  /** Direction the stripes run across, degrees around and above. */
  around: number;
  above: number;
  part: string | null;
  place: [number, number, number] | null;
  /** End of the colour legend, 1/mm and 1/mm²; null follows the largest part. */
  ends: Record<Quantity, number | null>;
  set: (state: Partial<Omit<SurfaceState, "set">>) => void;
}

export const useSurface = ofProject(
  create<SurfaceState>((set) => ({
    probe: "stripes",
    count: 14,
    around: 20,
    above: 70,
    part: null,
    place: null,
    ends: { mean: null, gaussian: null, largest: null },
    set: (state) => set(state),
  })),
);

/** A value under the pointer; averaged from its neighbours where it is not defined there. */
export interface Reading {
  value: number;
  exact: boolean;
  spot: Spot;
  /** Two places on the screen, along which the surface bends most. */
  along: [Point, Point] | null;
}

interface Point {
  x: number;
  y: number;
}

/** What changes with every movement of the hand. */
export const useSurfaceHand = create<{ orbit: Orbit; under: Reading | null }>(() => ({
  orbit: lookFrom("three-quarter", [0, 0, 0], 120),
  under: null,
}));

export const surfaceEye = eyeIn(useSurfaceHand);
