import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";
import { type PerspectiveCamera, Vector3 } from "three";
import type { Shapes } from "../../../api/client";
import type { Spot } from "../../../ui/pointing";
import { isCurve } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { useFormStage } from "../store";
import { keptQuery } from "./curve";
import { away, inSpace } from "./ground";
import { type Pickable, pickableQuery } from "./SolidEdges";

/** A place a hand is drawn to, and what it is. */
export interface Catch {
  place: Vector3;
  word: string;
  /** The curve and the number of its point, where it is one. */
  point?: [part: string, index: number];
}

/** Px from which a place draws the hand to itself. */
const REACH = 9;

/** Places of the curves and solids that are shown: points, ends, middles and centres of edges. */
export function useCatches(
  project: string,
  form: string,
  state: Shapes["FormState"] | undefined,
  on: boolean,
): Catch[] {
  const solo = useFormStage((stage) => stage.solo);
  const parts = on ? (state?.body.parts ?? []).filter(({ id, visible }) => (solo ? id === solo : visible)) : [];
  const curves = parts.filter(isCurve);
  const others = parts.filter((part) => !isCurve(part));
  const key = (part: Shapes["Part"]) => state?.keys[part.id];
  const kept = useQueries({
    queries: curves.map((part) => ({ ...keptQuery(project, form, part.id, key(part)), retry: false })),
  });
  const edges = useQueries({
    queries: others.map((part) => ({ ...pickableQuery(project, form, part.id, key(part)), retry: false })),
  });
  const known = [...kept, ...edges].map(({ dataUpdatedAt }) => dataUpdatedAt).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what has come is known by when it came
  return useMemo(
    () => [
      ...curves.flatMap((part, k) => ofCurve(part, kept[k]?.data)),
      ...others.flatMap((part, k) => ofSolid(part.name, edges[k]?.data)),
    ],
    [known, solo, curves.length, others.length],
  );
}

function ofCurve(part: Shapes["Part"], kept: Shapes["KeptCurve"] | undefined): Catch[] {
  return (kept?.points ?? []).map((place, index) => ({
    place: inSpace(kept!.plane, place),
    word: tr`point ${index + 1} of ${part.name}`,
    point: [part.id, index],
  }));
}

function ofSolid(name: string, pickable: Pickable | undefined): Catch[] {
  return (pickable?.edges ?? []).flatMap(({ points }): Catch[] => {
    const count = points.length / 3;
    const at = (index: number) => new Vector3().fromArray(points, 3 * index);
    const [first, last] = [at(0), at(count - 1)];
    const round = count > 8 ? centreOf(points) : null;
    return [
      ...(first.distanceTo(last) < 1e-6 ? [] : [first, last].map((place) => ({ place, word: tr`corner of ${name}` }))),
      ...(count === 2 ? [{ place: first.clone().lerp(last, 0.5), word: tr`middle of an edge of ${name}` }] : []),
      ...(round ? [{ place: round, word: tr`centre of an edge of ${name}` }] : []),
    ];
  });
}

/** The middle of the circle that points lie on; null where they lie on none. */
function centreOf(points: Float32Array): Vector3 | null {
  const count = points.length / 3;
  const at = (share: number) => new Vector3().fromArray(points, 3 * Math.floor(share * (count - 1)));
  const [a, b, c] = [at(0), at(1 / 3), at(2 / 3)];
  const [u, v] = [b.clone().sub(a), c.clone().sub(a)];
  const normal = u.clone().cross(v);
  const size = normal.lengthSq();
  if (size < 1e-12) return null;
  const toward = v.clone().cross(normal).multiplyScalar(u.lengthSq());
  const centre = toward
    .add(normal.clone().cross(u).multiplyScalar(v.lengthSq()))
    .divideScalar(2 * size)
    .add(a);
  const radius = centre.distanceTo(a);
  const place = new Vector3();
  for (let k = 0; k < count; k++) {
    if (Math.abs(place.fromArray(points, 3 * k).distanceTo(centre) - radius) > 0.002 * radius + 1e-4) return null;
  }
  return centre;
}

/** The nearest place that draws a spot to itself. */
export function caughtAt(catches: readonly Catch[], camera: PerspectiveCamera, spot: Spot): Catch | null {
  let best: Catch | null = null;
  let nearest = REACH;
  for (const one of catches) {
    const distance = away(camera, spot, one.place);
    if (distance < nearest) [nearest, best] = [distance, one];
  }
  return best;
}
