import { type PerspectiveCamera, Plane, Vector3 } from "three";
import { onScreen, rayAt } from "../../view3d/orbit";
import type { Spot } from "../../view3d/View3D";
import type { HandleKind } from "./store";

export type Grip = "W" | "D" | "H" | "WD" | "DH" | "WH" | "free";
export const AXES: Record<"W" | "D" | "H", Vector3> = {
  W: new Vector3(1, 0, 0),
  D: new Vector3(0, 1, 0),
  H: new Vector3(0, 0, 1),
};

export interface StepValues {
  how: HandleKind;
  values: [number, number, number];
  seat: [number, number, number];
}

/** What a drag of the handle means: mm along a direction or in a plane, degrees about it, factors along it. */
export function dragValues(
  how: HandleKind,
  grip: Grip,
  seat: Vector3,
  camera: PerspectiveCamera,
  from: Spot,
  to: Spot,
): StepValues {
  const values: [number, number, number] =
    how === "move"
      ? moveBy(grip, seat, camera, from, to)
      : how === "turn"
        ? turnBy(grip, seat, camera, from, to)
        : sizeBy(grip, seat, camera, from, to);
  return { how, values, seat: seat.toArray() as [number, number, number] };
}

function moveBy(grip: Grip, seat: Vector3, camera: PerspectiveCamera, from: Spot, to: Spot): [number, number, number] {
  if (grip === "W" || grip === "D" || grip === "H") {
    const axis = AXES[grip];
    const along = nearestOnLine(seat, axis, camera, to) - nearestOnLine(seat, axis, camera, from);
    return axis.clone().multiplyScalar(along).toArray() as [number, number, number];
  }
  const normal = { WD: AXES.H, DH: AXES.W, WH: AXES.D, free: camera.getWorldDirection(new Vector3()) }[grip];
  const plane = new Plane().setFromNormalAndCoplanarPoint(normal, seat);
  const a = rayAt(camera, from.x, from.y, from.width, from.height).ray.intersectPlane(plane, new Vector3());
  const b = rayAt(camera, to.x, to.y, to.width, to.height).ray.intersectPlane(plane, new Vector3());
  return a && b ? (b.sub(a).toArray() as [number, number, number]) : [0, 0, 0];
}

function turnBy(grip: Grip, seat: Vector3, camera: PerspectiveCamera, from: Spot, to: Spot): [number, number, number] {
  const view = camera.getWorldDirection(new Vector3()).negate();
  const axis = grip === "W" || grip === "D" || grip === "H" ? AXES[grip] : view;
  const centre = onScreen(camera, seat, from.width, from.height);
  const angle = (spot: Spot) => Math.atan2(-(spot.y - centre.y), spot.x - centre.x);
  let degrees = ((angle(to) - angle(from)) * 180) / Math.PI;
  if (degrees > 180) degrees -= 360;
  if (degrees < -180) degrees += 360;
  if (axis.dot(view) < 0) degrees = -degrees;
  return axis.clone().multiplyScalar(degrees).toArray() as [number, number, number];
}

function sizeBy(grip: Grip, seat: Vector3, camera: PerspectiveCamera, from: Spot, to: Spot): [number, number, number] {
  const centre = onScreen(camera, seat, from.width, from.height);
  const reach = (spot: Spot) => Math.max(4, Math.hypot(spot.x - centre.x, spot.y - centre.y));
  const factor = Math.min(50, Math.max(0.02, reach(to) / reach(from)));
  const on = (letter: string) => (grip === "free" || grip.includes(letter) ? factor : 1);
  return [on("W"), on("D"), on("H")];
}

/** Place along a line through the seat that comes nearest to the pointer's ray, mm. */
function nearestOnLine(seat: Vector3, axis: Vector3, camera: PerspectiveCamera, spot: Spot): number {
  const { ray } = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  const between = seat.clone().sub(ray.origin);
  const b = axis.dot(ray.direction);
  const d = axis.dot(between);
  const e = ray.direction.dot(between);
  const denominator = 1 - b * b;
  return Math.abs(denominator) < 1e-6 ? 0 : (b * e - d) / denominator;
}
