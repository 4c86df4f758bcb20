import { useMemo } from "react";
import { MathUtils, Matrix4, type PerspectiveCamera, Vector3 } from "three";
import { useShallow } from "zustand/react/shallow";
import type { Letter } from "../../ui/AxisFields";
import { faceOf, type PartMesh } from "../../view3d/partMesh";
import { type Directions, type HandleSeat, WORLD } from "./dragging";
import { useHand } from "./hand";
import { pickedPoints, pointAt, seatOf } from "./picking";
import { type KeptSeat, type PickKind, useFormStage } from "./store";

/** Where the handle sits for a pick: in its middle along W, D and H, or where it was kept. */
export function handleSeat(
  mesh: PartMesh,
  points: Float64Array | Float32Array,
  kind: PickKind,
  items: number[],
  kept: KeptSeat | null,
): HandleSeat | null {
  const picked = pickedPoints(mesh, kind, items);
  if (!picked.length) return null;
  let out: Vector3 | null = null;
  return {
    place: kept ? new Vector3(...kept.place) : seatOf(points, picked),
    directions: kept ? directionsOf(kept) : WORLD,
    get out() {
      out ??= outward(mesh, points, kind, items); // asked for seldom, and not for nothing
      return out;
    },
  };
}

/** The seat as it is now, also while the cage is dragged. */
export function seatNow(mesh: PartMesh, kind: PickKind, items: number[]): HandleSeat | null {
  return handleSeat(mesh, useHand.getState().cagePoints ?? mesh.points, kind, items, useFormStage.getState().seat);
}

/** The seat of what is picked, following the hand that drags it. */
export function useSeat(mesh: PartMesh | undefined): HandleSeat | null {
  const cagePoints = useHand((hand) => hand.cagePoints);
  const { kind, items, seat } = useFormStage(useShallow(({ kind, items, seat }) => ({ kind, items, seat })));
  return useMemo(
    () => (mesh && items.length ? handleSeat(mesh, cagePoints ?? mesh.points, kind, items, seat) : null),
    [mesh, cagePoints, kind, items, seat],
  );
}

export function directionsOf(kept: KeptSeat): Directions {
  const [W, D, H] = kept.directions;
  return { W: new Vector3(...W), D: new Vector3(...D), H: new Vector3(...H) };
}

/** Mean normal of picked faces, or of the faces about picked points and edges. */
export function outward(mesh: PartMesh, points: Float64Array | Float32Array, kind: PickKind, items: number[]): Vector3 {
  const touched = new Set(kind === "faces" ? [] : pickedPoints(mesh, kind, items));
  const faces = kind === "faces" ? items : [];
  if (kind !== "faces") {
    for (let face = 0; face < mesh.faceStarts.length - 1; face++) {
      if (faceOf(mesh, face).some((point) => touched.has(point))) faces.push(face);
    }
  }
  const total = new Vector3();
  for (const face of faces) total.add(areaOf(mesh, points, face));
  return total.lengthSq() > 1e-18 ? total.normalize() : new Vector3(0, 0, 1);
}

function areaOf(mesh: PartMesh, points: Float64Array | Float32Array, face: number): Vector3 {
  const [first, ...rest] = [...faceOf(mesh, face)].map((point) => pointAt(points, point));
  const area = new Vector3();
  if (!first) return area;
  let before: Vector3 | null = null;
  for (const corner of rest) {
    const way = corner.sub(first);
    if (before) area.add(before.clone().cross(way));
    before = way;
  }
  return area;
}

export type SeatTo = "pick" | "normal" | "edge" | "view" | "world";

/** A seat in the middle of the pick whose arms point along the world, the pick's normal, an edge or the view. */
export function seatTo(
  to: SeatTo,
  mesh: PartMesh,
  points: Float64Array | Float32Array,
  kind: PickKind,
  items: number[],
  camera: PerspectiveCamera,
): KeptSeat | null {
  const picked = pickedPoints(mesh, kind, items);
  if (!picked.length || to === "pick") return null;
  const place = seatOf(points, picked).toArray() as [number, number, number];
  if (to === "world") return { place, directions: rows(WORLD) };
  if (to === "view") {
    const [right, up, back] = [new Vector3(), new Vector3(), new Vector3()];
    camera.matrixWorld.extractBasis(right, up, back);
    return { place, directions: rows({ W: right, D: back.negate(), H: up }) };
  }
  const out = outward(mesh, points, kind, items);
  const [edge = 0] = items;
  const [first, last] = kind === "edges" ? mesh.edges.subarray(2 * edge, 2 * edge + 2) : picked;
  let along =
    to === "edge" && first !== undefined && last !== undefined
      ? pointAt(points, last).sub(pointAt(points, first))
      : new Vector3(1, 0, 0);
  if (along.lengthSq() < 1e-12 || Math.abs(along.clone().normalize().dot(out)) > 0.999) along = new Vector3(0, 1, 0);
  const W = along.addScaledVector(out, -along.dot(out)).normalize();
  const D = out.clone().cross(W);
  return { place, directions: rows({ W, D, H: out }) };
}

/** Arms turned about the world's directions by typed degrees. */
export function seatTurned(place: [number, number, number], degrees: [number, number, number]): KeptSeat {
  const matrix = new Matrix4();
  const [w, d, h] = degrees;
  matrix
    .makeRotationX(MathUtils.degToRad(w))
    .premultiply(new Matrix4().makeRotationY(MathUtils.degToRad(d)))
    .premultiply(new Matrix4().makeRotationZ(MathUtils.degToRad(h)));
  const [W, D, H] = [new Vector3(), new Vector3(), new Vector3()];
  matrix.extractBasis(W, D, H);
  return { place, directions: rows({ W, D, H }) };
}

export function rows({ W, D, H }: Directions): KeptSeat["directions"] {
  return [W.toArray(), D.toArray(), H.toArray()];
}

/** The seat from which sizing along an arm leaves the far side of the pick where it is. */
export function farSide(
  seat: HandleSeat,
  points: Float64Array | Float32Array,
  picked: number[],
  letters: Letter[],
): HandleSeat {
  const place = seat.place.clone();
  for (const letter of letters) {
    const way = seat.directions[letter];
    const reach = Math.min(...picked.map((point) => pointAt(points, point).sub(seat.place).dot(way)));
    place.addScaledVector(way, reach);
  }
  return { ...seat, place };
}
