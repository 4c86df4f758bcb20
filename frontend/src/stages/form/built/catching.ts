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
import { edgeOf, type Pickable, pickableQuery } from "./SolidEdges";

/** A place of a part that a dimension is set between. */
export type Anchor = Shapes["Measure"]["first"];

/** A place a hand is drawn to, and what it is. */
export interface Catch {
  place: Vector3;
  word: string;
  anchor: Anchor;
}

/** Px from which a place draws the hand to itself. */
const REACH = 9;
/** Px by which two places may differ and be as near as one another. */
const ALIKE = 2;

/** Places of the curves and solids that are shown, or of some of them: points, ends, middles and centres of edges. */
export function useCatches(
  project: string,
  form: string,
  state: Shapes["FormState"] | undefined,
  of: "all" | readonly string[],
): Catch[] {
  const solo = useFormStage((stage) => stage.solo);
  const parts = (state?.body.parts ?? []).filter(
    ({ id, visible }) => (solo ? id === solo : visible) && (of === "all" || of.includes(id)),
  );
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
      ...others.flatMap((part, k) => ofSolid(part, edges[k]?.data)),
    ],
    [known, solo, parts.map(({ id }) => id).join()],
  );
}

function ofCurve(part: Shapes["Part"], kept: Shapes["KeptCurve"] | undefined): Catch[] {
  return (kept?.points ?? []).map((place, index) => ({
    place: inSpace(kept!.plane, place),
    word: tr`point ${index + 1} of ${part.name}`,
    anchor: { part: part.id, point: index },
  }));
}

function ofSolid({ id, name }: Shapes["Part"], pickable: Pickable | undefined): Catch[] {
  const found: Catch[] = [];
  const corners = new Map<string, { place: Vector3; faces: Set<string> }>();
  const caught = (at: "middle" | "centre", place: Vector3, on: string[], word: string) =>
    found.push({ place, word, anchor: { part: id, on, at, place: place.toArray() } });
  for (const { name: edge, points } of pickable?.edges ?? []) {
    const count = points.length / 3;
    const on = edgeOf(edge).faces.filter(Boolean).sort();
    const at = (index: number) => new Vector3().fromArray(points, 3 * index);
    const [first, last] = [at(0), at(count - 1)];
    if (first.distanceTo(last) > 1e-6)
      for (const place of [first, last]) {
        const key = place
          .toArray()
          .map((mm) => mm.toFixed(3))
          .join(); // fine enough to tell corners apart
        const corner = corners.get(key) ?? { place, faces: new Set() };
        corners.set(key, corner);
        for (const face of on) corner.faces.add(face);
      }
    if (count === 2) caught("middle", first.clone().lerp(last, 0.5), on, tr`middle of an edge of ${name}`);
    const round = count > 8 ? centreOf(points) : null;
    if (round) caught("centre", round, on, tr`centre of an edge of ${name}`);
  }
  for (const { place, faces } of corners.values()) {
    const anchor = { part: id, on: [...faces].sort(), at: "corner" as const, place: place.toArray() };
    found.push({ place, word: tr`corner of ${name}`, anchor });
  }
  return found;
}

/** The place of a part that an anchor names, as the part stands now. */
export function placeOf(anchor: Anchor, catches: readonly Catch[]): Vector3 | null {
  if (!("on" in anchor))
    return (
      catches.find(({ anchor: a }) => "point" in a && a.part === anchor.part && a.point === anchor.point)?.place ?? null
    );
  const was = new Vector3(...anchor.place);
  const faces = anchor.on.map(stem).join();
  let best: Vector3 | null = null;
  for (const { anchor: a, place } of catches) {
    if (!("on" in a) || a.part !== anchor.part || a.at !== anchor.at || a.on.map(stem).join() !== faces) continue;
    if (!best || place.distanceTo(was) < best.distanceTo(was)) best = place;
  }
  return best;
}

/** A face's name without the number of its piece. */
const stem = (face: string) => face.replace(/#\d+$/, "");

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

/** The nearest place that draws a spot to itself; of two as near, the one in front. */
export function caughtAt(catches: readonly Catch[], camera: PerspectiveCamera, spot: Spot): Catch | null {
  let best: Catch | null = null;
  let [nearest, deep] = [REACH, Number.POSITIVE_INFINITY];
  for (const one of catches) {
    const distance = away(camera, spot, one.place);
    if (distance >= REACH || distance > nearest + ALIKE) continue;
    const depth = one.place.distanceTo(camera.position);
    if (distance < nearest - ALIKE || depth < deep) [nearest, deep, best] = [distance, depth, one];
  }
  return best;
}
