import { type PerspectiveCamera, Plane, Vector3 } from "three";
import { LETTERS, type Letter } from "../../ui/AxisFields";
import type { Spot } from "../../ui/pointing";
import { onScreen, rayAt } from "../../view3d/orbit";
import type { HandleKind } from "./store";

export type Grip = Letter | "WD" | "DH" | "WH" | "N" | "free";
export type Directions = Record<Letter, Vector3>;

export const WORLD: Directions = {
  W: new Vector3(1, 0, 0),
  D: new Vector3(0, 1, 0),
  H: new Vector3(0, 0, 1),
};

/** Where the handle sits and which way its arms point; `out` is the mean normal of what is picked. */
export interface HandleSeat {
  place: Vector3;
  directions: Directions;
  readonly out: Vector3;
}

export interface StepValues {
  how: HandleKind;
  values: [number, number, number];
  seat: [number, number, number];
  directions?: [number, number, number][];
}

export function isWorld(directions: Directions): boolean {
  return LETTERS.every((letter) => directions[letter].distanceToSquared(WORLD[letter]) < 1e-12);
}

/** What a drag of the handle means: mm along a direction or in a plane, degrees about it, factors along it, mm outward. */
export function dragValues(
  how: HandleKind,
  grip: Grip,
  seat: HandleSeat,
  camera: PerspectiveCamera,
  from: Spot,
  to: Spot,
): StepValues {
  const at = seat.place.toArray() as [number, number, number];
  if (how === "push") {
    const along = nearestOnLine(seat.place, seat.out, camera, to) - nearestOnLine(seat.place, seat.out, camera, from);
    return { how, values: [along, 0, 0], seat: at };
  }
  if (how === "move") return { how, values: moveBy(grip, seat, camera, from, to), seat: at };
  if (how === "turn") return { how, values: turnBy(grip, seat, camera, from, to), seat: at };
  const values = sizeBy(grip, seat.place, camera, from, to);
  if (isWorld(seat.directions)) return { how, values, seat: at };
  const rows = LETTERS.map((letter) => seat.directions[letter].toArray());
  return { how, values, seat: at, directions: rows as [number, number, number][] };
}

function moveBy(
  grip: Grip,
  { place, directions }: HandleSeat,
  camera: PerspectiveCamera,
  from: Spot,
  to: Spot,
): [number, number, number] {
  if (grip === "W" || grip === "D" || grip === "H") {
    const axis = directions[grip];
    const along = nearestOnLine(place, axis, camera, to) - nearestOnLine(place, axis, camera, from);
    return axis.clone().multiplyScalar(along).toArray() as [number, number, number];
  }
  const across = { WD: directions.H, DH: directions.W, WH: directions.D };
  const normal = grip in across ? across[grip as keyof typeof across] : camera.getWorldDirection(new Vector3());
  const plane = new Plane().setFromNormalAndCoplanarPoint(normal, place);
  const a = rayAt(camera, from.x, from.y, from.width, from.height).ray.intersectPlane(plane, new Vector3());
  const b = rayAt(camera, to.x, to.y, to.width, to.height).ray.intersectPlane(plane, new Vector3());
  return a && b ? (b.sub(a).toArray() as [number, number, number]) : [0, 0, 0];
}

function turnBy(
  grip: Grip,
  { place, directions }: HandleSeat,
  camera: PerspectiveCamera,
  from: Spot,
  to: Spot,
): [number, number, number] {
  const view = camera.getWorldDirection(new Vector3()).negate();
  const axis = grip === "W" || grip === "D" || grip === "H" ? directions[grip] : view;
  const centre = onScreen(camera, place, from.width, from.height);
  const angle = (spot: Spot) => Math.atan2(-(spot.y - centre.y), spot.x - centre.x);
  let degrees = ((angle(to) - angle(from)) * 180) / Math.PI;
  if (degrees > 180) degrees -= 360;
  if (degrees < -180) degrees += 360;
  if (axis.dot(view) < 0) degrees = -degrees;
  return axis.clone().multiplyScalar(degrees).toArray() as [number, number, number];
}

function sizeBy(grip: Grip, place: Vector3, camera: PerspectiveCamera, from: Spot, to: Spot): [number, number, number] {
  const centre = onScreen(camera, place, from.width, from.height);
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
