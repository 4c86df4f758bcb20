import { type PerspectiveCamera, Vector3 } from "three";
import { onScreen, rayAt } from "../../view3d/orbit";
import { faceOf, type PartMesh } from "../../view3d/partMesh";
import type { Spot } from "../../view3d/View3D";
import type { PickKind, Shown } from "./store";

const REACH = 13;

/** Cage points of a pick, each once. */
export function pickedPoints(mesh: PartMesh, kind: PickKind, items: number[]): number[] {
  if (kind === "points") return [...items].sort((a, b) => a - b);
  const points = new Set<number>();
  for (const item of items) {
    if (kind === "edges") {
      points.add(mesh.edges[2 * item]);
      points.add(mesh.edges[2 * item + 1]);
    } else for (const point of faceOf(mesh, item)) points.add(point);
  }
  return [...points].sort((a, b) => a - b);
}

export function pointAt(points: Float64Array | Float32Array, index: number): Vector3 {
  return new Vector3(points[3 * index], points[3 * index + 1], points[3 * index + 2]);
}

/** The middle of the picked points: the handle's seat. */
export function seatOf(points: Float64Array | Float32Array, picked: number[]): Vector3 {
  const middle = new Vector3();
  for (const index of picked) middle.add(pointAt(points, index));
  return middle.divideScalar(Math.max(picked.length, 1));
}

/** Finds what lies under the pointer, or in a box, on cage or skin. */
export class Picker {
  private readonly eye: Vector3;

  constructor(
    private readonly mesh: PartMesh,
    private readonly camera: PerspectiveCamera,
    private readonly size: { width: number; height: number },
    private readonly through: boolean,
    private readonly shown: Shown,
  ) {
    this.eye = camera.position.clone();
  }

  /** The nearest item of a kind within reach of a place on the screen. */
  at(kind: PickKind, spot: Spot): number | null {
    if (kind === "faces") return this.faceAt(spot);
    return kind === "points" ? this.pointNear(spot) : this.edgeNear(spot);
  }

  /** Items wholly inside a box on the screen. */
  inBox(kind: PickKind, a: Spot, b: Spot): number[] {
    const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
    const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
    return this.within(kind, (s) => s.x >= left && s.x <= right && s.y >= top && s.y <= bottom);
  }

  /** Items wholly inside a loop drawn on the screen. */
  inLoop(kind: PickKind, loop: { x: number; y: number }[]): number[] {
    return this.within(kind, (s) => insideLoop(loop, s.x, s.y));
  }

  private within(kind: PickKind, holds: (place: Vector3) => boolean): number[] {
    const inside = (point: number) => holds(this.screen(point)) && this.seen(point);
    const points = Array.from({ length: this.mesh.points.length / 3 }, (_, index) => index);
    const chosen = new Set(points.filter(inside));
    if (kind === "points") return [...chosen];
    if (kind === "edges") {
      return range(this.mesh.edges.length / 2).filter(
        (edge) => chosen.has(this.mesh.edges[2 * edge]) && chosen.has(this.mesh.edges[2 * edge + 1]),
      );
    }
    return range(this.mesh.faceStarts.length - 1).filter(
      (face) => faceOf(this.mesh, face).every((point) => chosen.has(point)) && (this.through || this.facing(face)),
    );
  }

  private pointNear(spot: Spot): number | null {
    let best: number | null = null;
    let nearest = REACH;
    let depth = 2;
    for (let point = 0; point < this.mesh.points.length / 3; point++) {
      for (const place of this.places(point)) {
        const s = onScreen(this.camera, place, this.size.width, this.size.height);
        const distance = Math.hypot(s.x - spot.x, s.y - spot.y);
        if (distance > REACH || !this.seen(point)) continue;
        if (distance < nearest - 2 || (distance < nearest + 2 && s.z < depth)) {
          best = point;
          nearest = distance;
          depth = s.z;
        }
      }
    }
    return best;
  }

  private edgeNear(spot: Spot): number | null {
    let best: number | null = null;
    let nearest = REACH;
    for (let edge = 0; edge < this.mesh.edges.length / 2; edge++) {
      const [p, q] = [this.mesh.edges[2 * edge], this.mesh.edges[2 * edge + 1]];
      const [firsts, seconds] = [this.places(p), this.places(q)];
      for (let way = 0; way < firsts.length; way++) {
        const a = onScreen(this.camera, firsts[way], this.size.width, this.size.height);
        const b = onScreen(this.camera, seconds[way], this.size.width, this.size.height);
        const [dx, dy] = [b.x - a.x, b.y - a.y];
        const along = ((spot.x - a.x) * dx + (spot.y - a.y) * dy) / Math.max(dx * dx + dy * dy, 1e-9);
        const t = Math.min(0.85, Math.max(0.15, along));
        const distance = Math.hypot(a.x + t * dx - spot.x, a.y + t * dy - spot.y);
        if (distance < nearest && (this.through || (this.seen(p) && this.seen(q)))) {
          best = edge;
          nearest = distance;
        }
      }
    }
    return best;
  }

  private faceAt(spot: Spot): number | null {
    const { ray } = rayAt(this.camera, spot.x, spot.y, this.size.width, this.size.height);
    let best: number | null = null;
    let nearest = Number.POSITIVE_INFINITY;
    for (const number of this.cells().at(spot.x, spot.y)) {
      const [a, b, c, face] = this.triangles()[number];
      const t = hitDistance(ray.origin, ray.direction, a, b, c);
      if (t > 0 && t < nearest) {
        nearest = t;
        best = face;
      }
    }
    return best;
  }

  /** Where a point can be grasped: on the cage, on the skin, or both. */
  private places(point: number): Vector3[] {
    const found: Vector3[] = [];
    if (this.shown !== "skin") found.push(pointAt(this.mesh.points, point));
    if (this.shown !== "cage") found.push(pointAt(this.mesh.positions, this.mesh.limitOf[point]));
    return found;
  }

  private screens: (Vector3 | undefined)[] = [];

  private screen(point: number): Vector3 {
    this.screens[point] ??= onScreen(this.camera, pointAt(this.mesh.points, point), this.size.width, this.size.height);
    return this.screens[point];
  }

  private sorted: Cells | null = null;

  /** Triangles by where they lie on the screen: a ray through a place meets none but those of its cell. */
  private cells(): Cells {
    if (!this.sorted) {
      this.sorted = new Cells(this.size.width, this.size.height);
      let number = 0;
      for (let face = 0; face < this.mesh.faceStarts.length - 1; face++) {
        const corners = [...faceOf(this.mesh, face)].map((point) => this.screen(point));
        for (let k = 1; k + 1 < corners.length; k++)
          this.sorted.add(number++, [corners[0], corners[k], corners[k + 1]]);
      }
    }
    return this.sorted;
  }

  /** Whether nothing of the cage lies between the eye and a point. */
  private seen(point: number): boolean {
    if (this.through) return true;
    const place = pointAt(this.mesh.points, point);
    const way = place.clone().sub(this.eye);
    const distance = way.length();
    way.divideScalar(distance);
    const s = this.screen(point);
    for (const number of this.cells().at(s.x, s.y)) {
      const [a, b, c, face] = this.triangles()[number];
      if (faceOf(this.mesh, face).includes(point)) continue;
      const t = hitDistance(this.eye, way, a, b, c);
      if (t > 0 && t < distance * (1 - 1e-4)) return false;
    }
    return true;
  }

  private facing(face: number): boolean {
    const corners = [...faceOf(this.mesh, face)].map((point) => pointAt(this.mesh.points, point));
    const normal = corners[1].clone().sub(corners[0]).cross(corners[2].clone().sub(corners[0]));
    return normal.dot(this.eye.clone().sub(corners[0])) > 0;
  }

  private cached: [Vector3, Vector3, Vector3, number][] | null = null;

  private triangles(): [Vector3, Vector3, Vector3, number][] {
    if (!this.cached) {
      this.cached = [];
      for (let face = 0; face < this.mesh.faceStarts.length - 1; face++) {
        const corners = [...faceOf(this.mesh, face)].map((point) => pointAt(this.mesh.points, point));
        for (let k = 1; k + 1 < corners.length; k++) this.cached.push([corners[0], corners[k], corners[k + 1], face]);
      }
    }
    return this.cached;
  }
}

const CELL = 24;

/** Numbers of triangles by the squares of the screen they touch. */
class Cells {
  private readonly across: number;
  private readonly down: number;
  private readonly inside: number[][];
  /** Triangles that reach behind the eye. */
  private readonly everywhere: number[] = [];

  constructor(width: number, height: number) {
    this.across = Math.ceil(width / CELL) + 1;
    this.down = Math.ceil(height / CELL) + 1;
    this.inside = Array.from({ length: this.across * this.down }, () => []);
  }

  add(number: number, corners: Vector3[]): void {
    if (corners.some((corner) => corner.z > 1)) {
      this.everywhere.push(number);
      return;
    }
    const cell = (value: number, most: number) => Math.min(most - 1, Math.max(0, Math.floor(value / CELL)));
    const [xs, ys] = [corners.map((corner) => corner.x), corners.map((corner) => corner.y)];
    const [left, right] = [cell(Math.min(...xs), this.across), cell(Math.max(...xs), this.across)];
    const [top, bottom] = [cell(Math.min(...ys), this.down), cell(Math.max(...ys), this.down)];
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= right; x++) this.inside[y * this.across + x].push(number);
    }
  }

  at(x: number, y: number): number[] {
    const column = Math.min(this.across - 1, Math.max(0, Math.floor(x / CELL)));
    const row = Math.min(this.down - 1, Math.max(0, Math.floor(y / CELL)));
    const found = this.inside[row * this.across + column];
    return this.everywhere.length ? [...found, ...this.everywhere] : found;
  }
}

/** Whether a place lies inside a closed line: a ray from it crosses the line an odd number of times. */
export function insideLoop(loop: { x: number; y: number }[], x: number, y: number): boolean {
  let inside = false;
  for (let k = 0, last = loop.length - 1; k < loop.length; last = k++) {
    const [a, b] = [loop[k], loop[last]];
    if (a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

function range(count: number): number[] {
  return Array.from({ length: count }, (_, index) => index);
}

/** Distance along a ray to a triangle, -1 where it misses (Möller & Trumbore 1997). */
function hitDistance(from: Vector3, way: Vector3, a: Vector3, b: Vector3, c: Vector3): number {
  const [e0, e1, e2] = [b.x - a.x, b.y - a.y, b.z - a.z];
  const [f0, f1, f2] = [c.x - a.x, c.y - a.y, c.z - a.z];
  const [h0, h1, h2] = [way.y * f2 - way.z * f1, way.z * f0 - way.x * f2, way.x * f1 - way.y * f0];
  const det = e0 * h0 + e1 * h1 + e2 * h2;
  if (Math.abs(det) < 1e-12) return -1;
  const [s0, s1, s2] = [from.x - a.x, from.y - a.y, from.z - a.z];
  const u = (s0 * h0 + s1 * h1 + s2 * h2) / det;
  if (u < 0 || u > 1) return -1;
  const [g0, g1, g2] = [s1 * e2 - s2 * e1, s2 * e0 - s0 * e2, s0 * e1 - s1 * e0];
  const v = (way.x * g0 + way.y * g1 + way.z * g2) / det;
  if (v < 0 || u + v > 1) return -1;
  return (f0 * g0 + f1 * g1 + f2 * g2) / det;
}
