import {
  BufferAttribute,
  BufferGeometry,
  InstancedBufferAttribute,
  InstancedMesh,
  Matrix3,
  Matrix4,
  Vector3,
} from "three";
import { type Arrays, type SkinMesh, withGeometry } from "./partMesh";

/** Those of a body's copies that stand alike: the card draws one geometry at all of these places. */
export interface Standing {
  /** Their geometry is seen in a mirror: its triangles come round the other way. */
  turnedOver: boolean;
  /** 16 numbers each, column by column. */
  matrices: InstancedBufferAttribute;
}

/** What is made of a thing is made once, and goes with it. */
function madeOnce<Of extends WeakKey, Made>(make: (of: Of) => Made): (of: Of) => Made {
  const kept = new WeakMap<Of, Made>();
  return (of) => {
    if (!kept.has(of)) kept.set(of, make(of));
    return kept.get(of)!;
  };
}

/** How the copies of a mesh stand; none where it is drawn once, as it is. */
export const standingOf = madeOnce((mesh: SkinMesh): Standing[] => {
  if (!mesh.copies) return [];
  const groups: [number[], number[]] = [[], []];
  const matrix = new Matrix4();
  for (const rows of rowsOf(mesh.copies)) {
    const [a, b, c, x, d, e, f, y, g, h, i, z] = rows;
    matrix.set(a, b, c, x, d, e, f, y, g, h, i, z, 0, 0, 0, 1);
    groups[matrix.determinant() < 0 ? 1 : 0].push(...matrix.elements);
  }
  return groups.flatMap((numbers, k) =>
    numbers.length
      ? [{ turnedOver: k === 1, matrices: new InstancedBufferAttribute(new Float32Array(numbers), 16) }]
      : [],
  );
});

/** A geometry as copies seen in a mirror are drawn by. It shares its places with the one it is made of. */
export const turnedOver = madeOnce((geometry: BufferGeometry): BufferGeometry => {
  const made = new BufferGeometry();
  for (const [name, attribute] of Object.entries(geometry.attributes)) made.setAttribute(name, attribute);
  const index = geometry.getIndex()!.array.slice();
  for (let t = 0; t < index.length; t += 3) [index[t + 1], index[t + 2]] = [index[t + 2]!, index[t + 1]!];
  made.setIndex(new BufferAttribute(index, 1));
  made.boundingSphere = geometry.boundingSphere;
  geometry.addEventListener("dispose", () => made.dispose());
  return made;
});

/** What a ray is sent at for a mesh that stands in many places. */
export const instancesOf = madeOnce((mesh: SkinMesh): InstancedMesh[] =>
  standingOf(mesh).map((standing) => {
    const made = new InstancedMesh(mesh.geometry, undefined, standing.matrices.count);
    made.instanceMatrix = standing.matrices;
    return made;
  }),
);

/** Places around all of a mesh, three numbers each: its points, or the corners of the box around each of its copies. */
export function placesAround(mesh: SkinMesh): Float32Array {
  if (!mesh.copies) return mesh.positions;
  if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
  const box = mesh.geometry.boundingBox!;
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => [
    k & 1 ? box.max.x : box.min.x,
    k & 2 ? box.max.y : box.min.y,
    k & 4 ? box.max.z : box.min.z,
  ]);
  const places = new Float32Array((mesh.copies.length / 12) * 24);
  let at = 0;
  for (const [a, b, c, x, d, e, f, y, g, h, i, z] of rowsOf(mesh.copies))
    for (const [px, py, pz] of corners as [number, number, number][]) {
      places[at++] = a * px + b * py + c * pz + x;
      places[at++] = d * px + e * py + f * pz + y;
      places[at++] = g * px + h * py + i * pz + z;
    }
  return places;
}

/** A mesh with all of its copies as points and triangles of its own, for what looks at each: values, textures, stripes. */
export function everyOne<Mesh extends SkinMesh>(mesh: Mesh): Mesh {
  return mesh.copies ? (allOf(mesh) as Mesh) : mesh;
}

const allOf = madeOnce((mesh: SkinMesh): SkinMesh => {
  const made = { ...mesh, ...withGeometry(eachOf(mesh, mesh.copies!)) };
  mesh.geometry.addEventListener("dispose", () => made.geometry.dispose());
  return made;
});

/** The mesh of one, made that of many: `copies` are rows of (3, 4) matrices, one after the other. */
function eachOf(one: Arrays, copies: Float32Array): Arrays {
  const count = copies.length / 12;
  const points = one.positions.length / 3;
  const faces = one.patchFace.length;
  const many = <T extends Int32Array | Uint32Array>(of: T, step: number): T => {
    const out = new (of.constructor as new (length: number) => T)(of.length * count);
    for (let copy = 0; copy < count; copy++)
      for (let k = 0; k < of.length; k++) out[copy * of.length + k] = of[k]! + copy * step;
    return out;
  };
  const positions = new Float32Array(one.positions.length * count);
  const normals = new Int16Array(one.normals.length * count);
  const triangles = many(one.triangles, points);
  const matrix = new Matrix3();
  const normal = new Vector3();
  let copy = 0;
  for (const [a, b, c, x, d, e, f, y, g, h, i, z] of rowsOf(copies)) {
    matrix.set(a, b, c, d, e, f, g, h, i);
    const over = matrix.determinant() < 0;
    matrix.invert().transpose();
    for (let k = 0; k < points; k++) {
      const [px, py, pz] = [one.positions[3 * k]!, one.positions[3 * k + 1]!, one.positions[3 * k + 2]!];
      const at = 3 * (copy * points + k);
      positions[at] = a * px + b * py + c * pz + x;
      positions[at + 1] = d * px + e * py + f * pz + y;
      positions[at + 2] = g * px + h * py + i * pz + z;
      normal
        .set(one.normals[4 * k]!, one.normals[4 * k + 1]!, one.normals[4 * k + 2]!)
        .applyMatrix3(matrix)
        .normalize();
      const to = 4 * (copy * points + k);
      normals[to] = Math.round(normal.x * 32767);
      normals[to + 1] = Math.round(normal.y * 32767);
      normals[to + 2] = Math.round(normal.z * 32767);
    }
    if (over)
      for (let t = copy * one.triangles.length; t < (copy + 1) * one.triangles.length; t += 3)
        [triangles[t + 1], triangles[t + 2]] = [triangles[t + 2]!, triangles[t + 1]!];
    copy++;
  }
  const starts = new Int32Array(faces * count + 1);
  for (let copy = 0; copy < count; copy++)
    for (let k = 0; k < faces; k++) starts[copy * faces + k] = one.patchStarts[k]! + copy * points;
  starts[faces * count] = points * count;
  return {
    ...one,
    positions,
    normals,
    triangles,
    patchStarts: starts,
    patchFace: many(one.patchFace, 0),
    trianglePatch: many(one.trianglePatch, faces),
    copies: null,
  };
}

type Row = [number, number, number, number, number, number, number, number, number, number, number, number];

/** The matrices (3, 4) of copies, each as its 12 numbers row by row. */
function* rowsOf(copies: Float32Array): Generator<Row> {
  for (let at = 0; at < copies.length; at += 12) yield copies.subarray(at, at + 12) as unknown as Row;
}
