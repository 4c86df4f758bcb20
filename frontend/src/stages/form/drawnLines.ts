import { type PerspectiveCamera, Plane, Vector3 } from "three";
import type { Spot } from "../../ui/pointing";
import { rayAt } from "../../view3d/orbit";
import type { DrawnLine } from "./tools";

/** A line drawn over the view, on the plane through a place that faces the eye. */
export function lineThrough(spots: Spot[], camera: PerspectiveCamera, through: Vector3): DrawnLine | null {
  const plane = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), through);
  const line = placesOn(thinned(spots), camera, plane);
  if (line.length < 2) return null;
  return {
    eye: camera.position.toArray() as [number, number, number],
    line: line.map((place) => place.toArray() as [number, number, number]),
  };
}

/** Distance from the upright axis and height of a line drawn over the view, mm: on the plane through the axis that faces it. */
export function profileOf(spots: Spot[], camera: PerspectiveCamera): [number, number][] {
  const way = camera.getWorldDirection(new Vector3());
  way.z = 0;
  if (way.lengthSq() < 1e-6) return [];
  const plane = new Plane().setFromNormalAndCoplanarPoint(way.normalize(), new Vector3());
  return placesOn(thinned(spots), camera, plane).map(({ x, y, z }) => [Math.hypot(x, y), z]);
}

/** The same of a sheet's line, which lies on a plane already. */
export function profileOfLine(line: Float32Array): [number, number][] {
  const found: [number, number][] = [];
  const skip = Math.max(1, Math.floor(line.length / 3 / 400));
  for (let k = 0; k < line.length; k += 3 * skip) found.push([Math.hypot(line[k]!, line[k + 1]!), line[k + 2]!]);
  return found;
}

/** Whether a line comes back to where it began. */
export function comesRound(profile: [number, number][]): boolean {
  const [first, last] = [profile[0], profile.at(-1)];
  if (!first || !last || profile.length <= 8) return false;
  const spread = (values: number[]) => Math.max(...values) - Math.min(...values);
  const extent = Math.max(spread(profile.map(([out]) => out)), spread(profile.map(([, up]) => up)));
  return Math.hypot(first[0] - last[0], first[1] - last[1]) < 0.08 * extent;
}

function placesOn(spots: Spot[], camera: PerspectiveCamera, plane: Plane): Vector3[] {
  return spots.flatMap((spot) => {
    const place = rayAt(camera, spot.x, spot.y, spot.width, spot.height).ray.intersectPlane(plane, new Vector3());
    return place ? [place] : [];
  });
}

/** Spots at least two pixels apart. */
function thinned(spots: Spot[]): Spot[] {
  const kept: Spot[] = [];
  for (const spot of spots) {
    const last = kept[kept.length - 1];
    if (!last || Math.hypot(spot.x - last.x, spot.y - last.y) >= 2) kept.push(spot);
  }
  return kept;
}
