import { create } from "zustand";
import { ofProject } from "../../bench/ofProject";
import type { Spot } from "../../ui/pointing";
import { eyeIn } from "../../view3d/eye";
import { lookFrom, type Orbit } from "../../view3d/orbit";
import type { PartMesh, PatchBends } from "../../view3d/partMesh";
import type { Drag } from "./useDrag";

/** What changes with every movement of the hand. Only what shows a thing asks for it, so that nothing else is drawn anew. */
interface Hand {
  orbit: Orbit;
  hovered: number | null;
  drag: Drag | null;
  /** Places of the cage's points while they are dragged; null where they are as stored. */
  cagePoints: Float32Array | null;
  /** Curvature of what a drag has moved, where a probe beside the model asks for it. */
  bends: (PatchBends & { mesh: PartMesh }) | null;
  /** The box or loop that gathers. */
  gathering: Spot[] | null;
  /** A line that is being drawn over the view. */
  line: Spot[] | null;
  /** What the server took for the last skin. */
  milliseconds: number;
}

export const useHand = ofProject(
  create<Hand>(() => ({
    orbit: lookFrom("three-quarter", [0, 0, 0], 120),
    hovered: null,
    drag: null,
    cagePoints: null,
    bends: null,
    gathering: null,
    line: null,
    milliseconds: 0,
  })),
);

export const formEye = eyeIn(useHand);
