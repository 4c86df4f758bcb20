import { PerspectiveCamera, Plane, Raycaster, Vector2, Vector3 } from "three";

/** Where the eye is: around a target, azimuth 0 in front (-y), angles in radians, mm. */
export interface Orbit {
  target: [number, number, number];
  azimuth: number;
  rise: number;
  distance: number;
  /** Vertical angle of view in degrees; a very small one stands for a flat view. */
  lens: number;
}

export const LENS = 28;
const FLAT = 1.2;
/** Mm between the eye and what it looks at. */
const [NEAREST, FARTHEST] = [5, 1e6];

export function forwardOf(orbit: Orbit): Vector3 {
  const level = Math.cos(orbit.rise);
  return new Vector3(-Math.sin(orbit.azimuth) * level, Math.cos(orbit.azimuth) * level, -Math.sin(orbit.rise));
}

/** A camera for the orbit; what the canvas draws with and what picking reckons with are the same. */
export function cameraOf(orbit: Orbit, width: number, height: number): PerspectiveCamera {
  const camera = new PerspectiveCamera(
    orbit.lens,
    width / Math.max(height, 1),
    orbit.distance / 50,
    orbit.distance * 20,
  );
  aim(camera, orbit);
  return camera;
}

export function aim(camera: PerspectiveCamera, orbit: Orbit): void {
  const target = new Vector3(...orbit.target);
  camera.up.set(0, 0, 1);
  if (Math.abs(orbit.rise) > 1.57) camera.up.set(-Math.sin(orbit.azimuth), Math.cos(orbit.azimuth), 0);
  camera.position.copy(target).addScaledVector(forwardOf(orbit), -orbit.distance);
  camera.fov = orbit.lens;
  camera.near = orbit.distance / (orbit.lens < 5 ? 3 : 60);
  camera.far = orbit.distance * (orbit.lens < 5 ? 2 : 20);
  camera.lookAt(target);
  camera.updateProjectionMatrix();
  camera.updateMatrixWorld(true);
}

export type Side = "front" | "side" | "top" | "three-quarter";

/** Looks from a side so that a thing of the given extent fills most of the canvas. */
export function lookFrom(side: Side, target: [number, number, number], extent: number): Orbit {
  const places: Record<Side, [number, number]> = {
    front: [0, 0],
    side: [Math.PI / 2, 0],
    top: [0, Math.PI / 2],
    "three-quarter": [0.62, 0.32],
  };
  const [azimuth, rise] = places[side];
  const lens = side === "three-quarter" ? LENS : FLAT;
  return { target, azimuth, rise, lens, distance: (extent * 0.78) / Math.tan((lens * Math.PI) / 360) };
}

/** Turns the eye; a flat view becomes one with depth. */
export function turned(orbit: Orbit, dx: number, dy: number): Orbit {
  const scale = Math.tan((orbit.lens * Math.PI) / 360) / Math.tan((LENS * Math.PI) / 360);
  const rise = Math.min(Math.PI / 2, Math.max(-Math.PI / 2, orbit.rise + dy * 0.008));
  return { ...orbit, azimuth: orbit.azimuth - dx * 0.008, rise, lens: LENS, distance: orbit.distance * scale };
}

/** Shifts the target with the pointer. */
export function shifted(orbit: Orbit, dx: number, dy: number, height: number): Orbit {
  const camera = cameraOf(orbit, 1, 1);
  const mm = (2 * orbit.distance * Math.tan((orbit.lens * Math.PI) / 360)) / height;
  const right = new Vector3().setFromMatrixColumn(camera.matrixWorld, 0);
  const up = new Vector3().setFromMatrixColumn(camera.matrixWorld, 1);
  const target = new Vector3(...orbit.target).addScaledVector(right, -dx * mm).addScaledVector(up, dy * mm);
  return { ...orbit, target: target.toArray() as [number, number, number] };
}

/** Zooms to a place on the screen. */
export function zoomed(orbit: Orbit, factor: number, x: number, y: number, width: number, height: number): Orbit {
  const before = onPlane(orbit, x, y, width, height);
  const next = { ...orbit, distance: Math.min(FARTHEST, Math.max(NEAREST, orbit.distance * factor)) };
  const after = onPlane(next, x, y, width, height);
  const target = new Vector3(...orbit.target).add(before.sub(after));
  return { ...next, target: target.toArray() as [number, number, number] };
}

function onPlane(orbit: Orbit, x: number, y: number, width: number, height: number): Vector3 {
  const camera = cameraOf(orbit, width, height);
  const plane = new Plane().setFromNormalAndCoplanarPoint(forwardOf(orbit), new Vector3(...orbit.target));
  return rayAt(camera, x, y, width, height).ray.intersectPlane(plane, new Vector3()) ?? new Vector3(...orbit.target);
}

export function rayAt(camera: PerspectiveCamera, x: number, y: number, width: number, height: number): Raycaster {
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2((2 * x) / width - 1, 1 - (2 * y) / height), camera);
  return caster;
}

/** Screen place of a point, px; z below 1 means in front of the eye. */
export function onScreen(camera: PerspectiveCamera, point: Vector3, width: number, height: number): Vector3 {
  const v = point.clone().project(camera);
  return v.set(((v.x + 1) / 2) * width, ((1 - v.y) / 2) * height, v.z);
}

type OrbitNumbers = readonly [...target: [number, number, number], ...eye: [number, number, number, number]];

/** An orbit as numbers, and back; null for numbers that no eye can have. */
export function numbersOf({ target, azimuth, rise, distance, lens }: Orbit): OrbitNumbers {
  return [...target, azimuth, rise, distance, lens];
}

export function orbitOf([x, y, z, azimuth, rise, distance, lens]: OrbitNumbers): Orbit | null {
  const sane =
    Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) <= FARTHEST &&
    Math.abs(azimuth) <= 1e6 &&
    Math.abs(rise) <= Math.PI / 2 + 1e-6 &&
    lens >= FLAT / 2 &&
    lens <= 120;
  if (!sane) return null;
  return { target: [x, y, z], azimuth, rise, distance: Math.min(FARTHEST, Math.max(NEAREST, distance)), lens };
}
