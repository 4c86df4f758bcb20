import { BufferAttribute, BufferGeometry } from "three";
import { fetchArrays } from "../api/arrays";

interface MeshMeta {
  key: string;
  milliseconds: number;
  faces: number;
  level: number;
  still: boolean;
}

/** A part's cage and skin as the server sends them; see `form_api.mesh`. */
export interface PartMesh {
  meta: MeshMeta;
  points: Float64Array;
  faceStarts: Int32Array;
  facePoints: Int32Array;
  edges: Int32Array;
  creaseEdges: Int32Array;
  creaseSharpness: Float32Array;
  positions: Float32Array;
  normals: Int16Array;
  triangles: Uint32Array;
  patchStarts: Int32Array;
  patchFace: Int32Array;
  trianglePatch: Int32Array;
  cornerPoints: Int32Array;
  cornerSharpness: Float32Array;
  /** Number of the skin point above each cage point. */
  limitOf: Int32Array;
  geometry: BufferGeometry;
}

export async function fetchPart(url: string): Promise<PartMesh> {
  const { meta, arrays } = await fetchArrays<MeshMeta>(url);
  const part = { meta, ...arrays } as unknown as PartMesh;
  part.geometry = new BufferGeometry();
  part.geometry.setAttribute("position", new BufferAttribute(part.positions, 3));
  part.geometry.setAttribute("normal", new BufferAttribute(part.normals, 4, true));
  part.geometry.setIndex(new BufferAttribute(part.triangles, 1));
  part.geometry.computeBoundingSphere();
  part.limitOf = limits(part);
  return part;
}

export function faceOf(part: PartMesh, face: number): Int32Array {
  return part.facePoints.subarray(part.faceStarts[face], part.faceStarts[face + 1]);
}

/** Corners of a face's grids lie over its points: all four of a four-cornered face, the first of each other grid. */
function limits(part: PartMesh): Int32Array {
  const found = new Int32Array(part.points.length / 3).fill(-1);
  let grid = 0;
  for (let patch = 0; patch < part.patchFace.length; patch++) {
    const face = part.patchFace[patch];
    grid = patch > 0 && part.patchFace[patch - 1] === face ? grid + 1 : 0;
    const corners = faceOf(part, face);
    const start = part.patchStarts[patch];
    if (corners.length === 4) {
      const count = part.patchStarts[patch + 1] - start;
      const width = Math.round(Math.sqrt(count));
      const places = [0, width - 1, count - 1, count - width];
      corners.forEach((point, corner) => {
        found[point] = start + places[corner];
      });
    } else found[corners[grid]] = start;
  }
  return found;
}

interface PreviewMeta {
  milliseconds: number;
}

/** Asks the server what a step would do, and shows it; returns the cage's points and the server's time. */
export async function previewStep(
  url: string,
  step: object,
  part: PartMesh,
  signal?: AbortSignal,
): Promise<{ points: Float32Array; milliseconds: number }> {
  const { meta, arrays } = await fetchArrays<PreviewMeta>(url, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ step }),
    signal,
  });
  showPatches(part, arrays.patches as Int32Array, arrays.positions as Float32Array, arrays.normals as Int16Array);
  return { points: arrays.points as Float32Array, milliseconds: meta.milliseconds };
}

function showPatches(part: PartMesh, patches: Int32Array, positions: Float32Array, normals: Int16Array): void {
  let at = 0;
  let [low, high] = [Number.POSITIVE_INFINITY, 0];
  for (const patch of patches) {
    const [start, end] = [part.patchStarts[patch], part.patchStarts[patch + 1]];
    const count = end - start;
    part.positions.set(positions.subarray(3 * at, 3 * (at + count)), 3 * start);
    part.normals.set(normals.subarray(4 * at, 4 * (at + count)), 4 * start);
    at += count;
    low = Math.min(low, start);
    high = Math.max(high, end);
  }
  if (high === 0) return;
  for (const [name, width] of [
    ["position", 3],
    ["normal", 4],
  ] as const) {
    const attribute = part.geometry.getAttribute(name) as BufferAttribute;
    attribute.clearUpdateRanges();
    attribute.addUpdateRange(low * width, (high - low) * width);
    attribute.needsUpdate = true;
  }
}
