import { Euler, Matrix4, type PerspectiveCamera, Plane, Vector3 } from "three";
import type { Shapes } from "../../../api/client";
import type { Spot } from "../../../ui/pointing";
import { onScreen, rayAt } from "../../../view3d/orbit";

export type Standing = NonNullable<Shapes["DrawnCurve"]["plane"]>;
export type Stands = Shapes["CurvePlaneShape"];
export type Triple = [number, number, number];
/** Across and up in a plane, or along W, D and H in space. */
export type Place = readonly number[];
export type CurveSide = "front" | "side" | "top";

/** What a curve is drawn on: one of the sides, a plane that was set on something, or nothing but space. */
export interface Ground {
  plane: Standing;
  /** Null in space. */
  stands: Stands | null;
  /** The part whose face it is. */
  on?: string;
  name: string;
}

/** The planes a curve is drawn on, as one sees the product; their normals look at whoever sees them. */
const SIDES: Record<CurveSide, Stands> = {
  front: { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 0, 1] },
  side: { origin: [0, 0, 0], across: [0, 1, 0], up: [0, 0, 1] },
  top: { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 1, 0] },
};

/** What is drawn on now, so many mm off along its normal. */
export function groundOf(on: CurveSide | "space" | "set", off: number, set: Ground | null): Ground {
  if (on === "space" || (on === "set" && !set)) return { plane: { on: "space" }, stands: null, name: "" };
  const ground: Ground = on === "set" ? set! : { plane: { on }, stands: SIDES[on as CurveSide], name: "" };
  if (!off || !ground.stands) return ground;
  const moved = normalOf(ground.stands).multiplyScalar(off);
  const origin = moved.toArray() as Triple;
  return {
    ...ground,
    plane: { ...ground.plane, origin },
    stands: { ...ground.stands, origin: moved.add(new Vector3(...ground.stands.origin)).toArray() as Triple },
  };
}

export const normalOf = ({ across, up }: Stands): Vector3 => new Vector3(...across).cross(new Vector3(...up));

/** A place of a plane in space, or one that is in space already. */
export function inSpace(stands: Stands | null, [x = 0, y = 0, z = 0]: Place): Vector3 {
  if (!stands) return new Vector3(x, y, z);
  return new Vector3(...stands.origin)
    .addScaledVector(new Vector3(...stands.across), x)
    .addScaledVector(new Vector3(...stands.up), y);
}

/** A place in space as a curve says it, seen along the normal of its plane. */
export function placed(stands: Stands | null, place: Vector3): number[] {
  if (!stands) return place.toArray();
  const from = place.clone().sub(new Vector3(...stands.origin));
  return [from.dot(new Vector3(...stands.across)), from.dot(new Vector3(...stands.up))];
}

/** Where a spot of the view lies in a plane; in space, as far away as `like`. Null where the plane is seen from its edge. */
export function underSpot(stands: Stands | null, camera: PerspectiveCamera, spot: Spot, like: Vector3): Vector3 | null {
  const normal = stands ? normalOf(stands) : camera.getWorldDirection(new Vector3());
  const plane = new Plane().setFromNormalAndCoplanarPoint(normal, stands ? new Vector3(...stands.origin) : like);
  const { ray } = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  return Math.abs(ray.direction.dot(normal)) < 0.05 ? null : ray.intersectPlane(plane, new Vector3());
}

/** Px between a spot and a place in space on the screen. */
export function away(camera: PerspectiveCamera, spot: Spot, place: Vector3): number {
  const seen = onScreen(camera, place, spot.width, spot.height);
  return Math.hypot(seen.x - spot.x, seen.y - spot.y);
}

/** A place rounded to a grid of so many mm. */
export const rounded = (place: Place, grid: number): number[] =>
  place.map((value) => Number((Math.round(value / grid) * grid).toFixed(6)));

/** A plane's tilt (degrees about its own across, up and normal, one after the other) after it was turned further about one of them. */
export function tilted(tilt: Triple, axis: number, degrees: number): Triple {
  const rad = Math.PI / 180;
  const turned = new Matrix4().makeRotationFromEuler(new Euler(...(tilt.map((one) => one * rad) as Triple), "XYZ"));
  const further = [0, 0, 0] as Triple;
  further[axis] = degrees * rad;
  turned.multiply(new Matrix4().makeRotationFromEuler(new Euler(...further, "XYZ")));
  const { x, y, z } = new Euler().setFromRotationMatrix(turned, "XYZ");
  return [x / rad, y / rad, z / rad];
}
