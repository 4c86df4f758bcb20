import { type Matrix4, Mesh, type PerspectiveCamera, Vector3 } from "three";
import type { Spot } from "../../ui/pointing";
import { instancesOf } from "../../view3d/copies";
import { rayAt } from "../../view3d/orbit";
import { faceOf, type PartMesh } from "../../view3d/partMesh";
import type { PickKind, Shown } from "./store";

const REACH = 13;

/** Cage points of a pick, each once. */
export function pickedPoints(mesh: PartMesh, kind: PickKind, items: number[]): number[] {
  if (kind === "points") return [...items].sort((a, b) => a - b);
  const points = new Set<number>();
  for (const item of items) {
    if (kind === "edges") {
      points.add(mesh.edges[2 * item]!);
      points.add(mesh.edges[2 * item + 1]!);
    } else for (const point of faceOf(mesh, item)) points.add(point);
  }
  return [...points].sort((a, b) => a - b);
}

export function pointAt(points: Float64Array | Float32Array, index: number): Vector3 {
  return new Vector3(points[3 * index]!, points[3 * index + 1]!, points[3 * index + 2]!);
}

/** The middle of the picked points: the handle's seat. */
export function seatOf(points: Float64Array | Float32Array, picked: number[]): Vector3 {
  const middle = new Vector3();
  for (const index of picked) middle.add(pointAt(points, index));
  return middle.divideScalar(Math.max(picked.length, 1));
}

/** Finds what lies under the pointer, or in a box, on cage or skin; made for one mesh as it is seen from one eye. */
export class Picker {
  private readonly eye: Vector3;
  /** Places of points on the screen, px, and how deep they lie: x, y, z each. */
  private readonly cage: Float32Array;
  private readonly skin: Float32Array | null;

  constructor(
    private readonly mesh: PartMesh,
    private readonly camera: PerspectiveCamera,
    private readonly size: { width: number; height: number },
    private readonly through: boolean,
    private readonly shown: Shown,
  ) {
    this.eye = camera.position.clone();
    const matrix = camera.projectionMatrix.clone().multiply(camera.matrixWorldInverse);
    this.cage = projected(mesh.points, null, matrix, size);
    this.skin = shown === "cage" ? null : projected(mesh.positions, mesh.limitOf, matrix, size);
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
    return this.within(kind, (x, y) => x >= left && x <= right && y >= top && y <= bottom);
  }

  /** Items wholly inside a loop drawn on the screen. */
  inLoop(kind: PickKind, loop: { x: number; y: number }[]): number[] {
    return this.within(kind, (x, y) => insideLoop(loop, x, y));
  }

  private within(kind: PickKind, holds: (x: number, y: number) => boolean): number[] {
    const { mesh, cage } = this;
    const inside = new Uint8Array(cage.length / 3);
    for (let point = 0; point < inside.length; point++)
      inside[point] = Number(holds(cage[3 * point]!, cage[3 * point + 1]!) && this.seen(point));
    if (kind === "points") return range(inside.length).filter((point) => inside[point]!);
    if (kind === "edges")
      return range(mesh.edges.length / 2).filter((e) => inside[mesh.edges[2 * e]!]! && inside[mesh.edges[2 * e + 1]!]!);
    return range(mesh.faceStarts.length - 1).filter(
      (face) => faceOf(mesh, face).every((point) => inside[point]!) && (this.through || this.facing(face)),
    );
  }

  /** Where things can be grasped: on the cage, on the skin, or both. */
  private grasped(): Float32Array[] {
    const places = this.shown === "skin" ? [] : [this.cage];
    return this.skin ? [...places, this.skin] : places;
  }

  private pointNear({ x, y }: Spot): number | null {
    let best: number | null = null;
    let nearest = REACH;
    let depth = 2;
    for (const places of this.grasped())
      for (let at = 0; at < places.length; at += 3) {
        const [dx, dy] = [places[at]! - x, places[at + 1]! - y];
        if (dx > REACH || dx < -REACH || dy > REACH || dy < -REACH) continue;
        const distance = Math.hypot(dx, dy);
        if (distance > REACH || !this.seen(at / 3)) continue;
        if (distance < nearest - 2 || (distance < nearest + 2 && places[at + 2]! < depth)) {
          best = at / 3;
          nearest = distance;
          depth = places[at + 2]!;
        }
      }
    return best;
  }

  private edgeNear({ x, y }: Spot): number | null {
    const { edges } = this.mesh;
    let best: number | null = null;
    let nearest = REACH;
    for (const places of this.grasped())
      for (let edge = 0; edge < edges.length / 2; edge++) {
        const [p, q] = [edges[2 * edge]!, edges[2 * edge + 1]!];
        const [ax, ay, bx, by] = [places[3 * p]!, places[3 * p + 1]!, places[3 * q]!, places[3 * q + 1]!];
        if (Math.max(ax, bx) < x - REACH || Math.min(ax, bx) > x + REACH) continue;
        if (Math.max(ay, by) < y - REACH || Math.min(ay, by) > y + REACH) continue;
        const [dx, dy] = [bx - ax, by - ay];
        const along = ((x - ax) * dx + (y - ay) * dy) / Math.max(dx * dx + dy * dy, 1e-9);
        const t = Math.min(0.85, Math.max(0.15, along));
        const distance = Math.hypot(ax + t * dx - x, ay + t * dy - y);
        if (distance < nearest && this.seen(p) && this.seen(q)) {
          best = edge;
          nearest = distance;
        }
      }
    return best;
  }

  private faceAt(spot: Spot): number | null {
    const { ray } = rayAt(this.camera, spot.x, spot.y, this.size.width, this.size.height);
    const { corners, faces, cells } = this.triangles();
    let best: number | null = null;
    let nearest = Number.POSITIVE_INFINITY;
    cells.at(spot.x, spot.y, (triangle) => {
      const t = hitDistance(ray.origin, ray.direction, this.mesh.points, corners, 3 * triangle);
      if (t > 0 && t < nearest) {
        nearest = t;
        best = faces[triangle]!;
      }
      return false;
    });
    return best;
  }

  /** Whether nothing of the cage lies between the eye and a point. */
  private seen(point: number): boolean {
    if (this.through) return true;
    const { points } = this.mesh;
    const way = pointAt(points, point).sub(this.eye);
    const distance = way.length();
    way.divideScalar(distance);
    const { corners, cells } = this.triangles();
    return !cells.at(this.cage[3 * point]!, this.cage[3 * point + 1]!, (triangle) => {
      const at = 3 * triangle;
      if (corners[at]! === point || corners[at + 1]! === point || corners[at + 2]! === point) return false;
      const t = hitDistance(this.eye, way, points, corners, at);
      return t > 0 && t < distance * (1 - 1e-4) && !this.bears(triangle, point);
    });
  }

  /** Whether a point is a corner of the face a triangle belongs to. */
  private bears(triangle: number, point: number): boolean {
    return faceOf(this.mesh, this.triangles().faces[triangle]!).includes(point);
  }

  private facing(face: number): boolean {
    const corners = faceOf(this.mesh, face);
    const at = (point: number) => pointAt(this.mesh.points, point);
    const [a, b, c] = [at(corners[0]!), at(corners[1]!), at(corners[2]!)];
    return b.sub(a).cross(c.sub(a)).dot(this.eye.clone().sub(a)) > 0;
  }

  private made: Triangles | null = null;

  /** The cage's triangles by where they lie on the screen: a ray through a place meets none but those of its cell. */
  private triangles(): Triangles {
    this.made ??= trianglesOf(this.mesh, this.cage, this.size);
    return this.made;
  }
}

interface Triangles {
  /** Three points each. */
  corners: Int32Array;
  /** The face each is of. */
  faces: Int32Array;
  cells: Cells;
}

function trianglesOf(mesh: PartMesh, screen: Float32Array, size: { width: number; height: number }): Triangles {
  const { faceStarts, facePoints } = mesh;
  const count = facePoints.length - 2 * (faceStarts.length - 1);
  const [corners, faces] = [new Int32Array(3 * count), new Int32Array(count)];
  let at = 0;
  for (let face = 0; face < faceStarts.length - 1; face++)
    for (let k = faceStarts[face]! + 1; k + 1 < faceStarts[face + 1]!; k++) {
      corners[3 * at] = facePoints[faceStarts[face]!]!;
      corners[3 * at + 1] = facePoints[k]!;
      corners[3 * at + 2] = facePoints[k + 1]!;
      faces[at++] = face;
    }
  return { corners, faces, cells: new Cells(corners, screen, size) };
}

/** Points on the screen, or those an index names: px and depth, which is below 1 in front of the eye. */
function projected(
  points: Float64Array | Float32Array,
  index: Int32Array | null,
  { elements: e }: Matrix4,
  { width, height }: { width: number; height: number },
): Float32Array {
  const count = index ? index.length : points.length / 3;
  const out = new Float32Array(3 * count);
  for (let k = 0; k < count; k++) {
    const at = 3 * (index ? index[k]! : k);
    const [x, y, z] = [points[at]!, points[at + 1]!, points[at + 2]!];
    const w = e[3] * x + e[7] * y + e[11] * z + e[15];
    out[3 * k] = ((e[0] * x + e[4] * y + e[8] * z + e[12]) / w + 1) * 0.5 * width;
    out[3 * k + 1] = (1 - (e[1] * x + e[5] * y + e[9] * z + e[13]) / w) * 0.5 * height;
    out[3 * k + 2] = (e[2] * x + e[6] * y + e[10] * z + e[14]) / w;
  }
  return out;
}

const CELL = 24;

/** Numbers of triangles by the squares of the screen they touch, one row of numbers for all squares. */
class Cells {
  private readonly across: number;
  private readonly down: number;
  private readonly starts: Int32Array;
  private readonly inside: Int32Array;
  /** Triangles that reach behind the eye. */
  private readonly everywhere: number[] = [];

  constructor(corners: Int32Array, screen: Float32Array, size: { width: number; height: number }) {
    this.across = Math.ceil(size.width / CELL) + 1;
    this.down = Math.ceil(size.height / CELL) + 1;
    const count = corners.length / 3;
    const boxes = new Int16Array(4 * count);
    this.starts = new Int32Array(this.across * this.down + 1);
    for (let k = 0; k < count; k++) {
      const [a, b, c] = [3 * corners[3 * k]!, 3 * corners[3 * k + 1]!, 3 * corners[3 * k + 2]!];
      if (screen[a + 2]! > 1 || screen[b + 2]! > 1 || screen[c + 2]! > 1) {
        boxes[4 * k + 2] = -1;
        this.everywhere.push(k);
        continue;
      }
      boxes[4 * k] = this.column(Math.min(screen[a]!, screen[b]!, screen[c]!));
      boxes[4 * k + 1] = this.row(Math.min(screen[a + 1]!, screen[b + 1]!, screen[c + 1]!));
      boxes[4 * k + 2] = this.column(Math.max(screen[a]!, screen[b]!, screen[c]!));
      boxes[4 * k + 3] = this.row(Math.max(screen[a + 1]!, screen[b + 1]!, screen[c + 1]!));
      for (let y = boxes[4 * k + 1]!; y <= boxes[4 * k + 3]!; y++)
        for (let x = boxes[4 * k]!; x <= boxes[4 * k + 2]!; x++) this.starts[y * this.across + x + 1]! += 1;
    }
    for (let cell = 0; cell < this.across * this.down; cell++) this.starts[cell + 1]! += this.starts[cell]!;
    this.inside = new Int32Array(this.starts[this.across * this.down]!);
    const next = this.starts.slice();
    for (let k = 0; k < count; k++)
      for (let y = boxes[4 * k + 1]!; y <= boxes[4 * k + 3]!; y++)
        for (let x = boxes[4 * k]!; x <= boxes[4 * k + 2]!; x++) this.inside[next[y * this.across + x]!++] = k;
  }

  /** Goes through the triangles that may lie at a place, until one is what is looked for. */
  at(x: number, y: number, look: (triangle: number) => boolean): boolean {
    const cell = this.row(y) * this.across + this.column(x);
    for (let k = this.starts[cell]!; k < this.starts[cell + 1]!; k++) if (look(this.inside[k]!)) return true;
    for (const triangle of this.everywhere) if (look(triangle)) return true;
    return false;
  }

  private column(x: number): number {
    return Math.min(this.across - 1, Math.max(0, Math.floor(x / CELL)));
  }

  private row(y: number): number {
    return Math.min(this.down - 1, Math.max(0, Math.floor(y / CELL)));
  }
}

/** Whether a place lies inside a closed line: a ray from it crosses the line an odd number of times. */
export function insideLoop(loop: { x: number; y: number }[], x: number, y: number): boolean {
  let inside = false;
  for (let k = 0, last = loop.length - 1; k < loop.length; last = k++) {
    const [a, b] = [loop[k]!, loop[last]!];
    if (a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

function range(count: number): number[] {
  return Array.from({ length: count }, (_, index) => index);
}

/** Distance along a ray to the triangle whose corners begin at `at`, -1 where it misses (Möller & Trumbore 1997). */
function hitDistance(
  from: Vector3,
  way: Vector3,
  points: Float64Array | Float32Array,
  corners: Int32Array,
  at: number,
): number {
  const [a, b, c] = [3 * corners[at]!, 3 * corners[at + 1]!, 3 * corners[at + 2]!];
  const [ax, ay, az] = [points[a]!, points[a + 1]!, points[a + 2]!];
  const [e0, e1, e2] = [points[b]! - ax, points[b + 1]! - ay, points[b + 2]! - az];
  const [f0, f1, f2] = [points[c]! - ax, points[c + 1]! - ay, points[c + 2]! - az];
  const [h0, h1, h2] = [way.y * f2 - way.z * f1, way.z * f0 - way.x * f2, way.x * f1 - way.y * f0];
  const det = e0 * h0 + e1 * h1 + e2 * h2;
  if (Math.abs(det) < 1e-12) return -1;
  const [s0, s1, s2] = [from.x - ax, from.y - ay, from.z - az];
  const u = (s0 * h0 + s1 * h1 + s2 * h2) / det;
  if (u < 0 || u > 1) return -1;
  const [g0, g1, g2] = [s1 * e2 - s2 * e1, s2 * e0 - s0 * e2, s0 * e1 - s1 * e0];
  const v = (way.x * g0 + way.y * g1 + way.z * g2) / det;
  if (v < 0 || u + v > 1) return -1;
  return (f0 * g0 + f1 * g1 + f2 * g2) / det;
}

/** Where a spot meets a body first, by its mesh. */
function hitOf(mesh: PartMesh, camera: PerspectiveCamera, spot: Spot) {
  const bodies = mesh.copies ? instancesOf(mesh) : [new Mesh(mesh.geometry)];
  return rayAt(camera, spot.x, spot.y, spot.width, spot.height).intersectObjects(bodies, false)[0];
}

/** The face of a body that lies under a spot, by its mesh; null where none does. */
export function faceUnder(mesh: PartMesh, camera: PerspectiveCamera, spot: Spot): number | null {
  const hit = hitOf(mesh, camera, spot);
  if (hit?.faceIndex == null) return null;
  return mesh.patchFace[mesh.trianglePatch[hit.faceIndex]!]!;
}

/** The nearest place of several skins that lies under a spot; null where none does. */
export function placeUnder(meshes: Iterable<PartMesh>, camera: PerspectiveCamera, spot: Spot): Vector3 | null {
  const hits = [...meshes].flatMap((mesh) => (mesh.triangles.length ? (hitOf(mesh, camera, spot) ?? []) : []));
  return hits.sort((a, b) => a.distance - b.distance)[0]?.point ?? null;
}
