import { BufferAttribute, BufferGeometry } from "three";
import { fetchArrays } from "../api/arrays";

interface MeshMeta {
  key: string;
  connectivity: string;
  milliseconds: number;
  closed: boolean;
  /** Everything is here; else only the patches that differ from the mesh the request named. */
  whole: boolean;
  /** Its edges are told with it: those of a curve, or of a built form. */
  lined: boolean;
  /** What is to be known of how it was made. */
  told: string[];
}

/**
 * The mesh of a body, whatever it is made of, as the server sends it (`form_api.mesh`). The arrays stay as they came; what is
 * drawn while a hand drags is a copy (`showPatches`).
 */
export interface SkinMesh {
  meta: MeshMeta;
  positions: Float32Array;
  normals: Int16Array;
  triangles: Uint32Array;
  patchStarts: Int32Array;
  patchFace: Int32Array;
  trianglePatch: Int32Array;
  /** Point numbers along the edges of a curve or a built form, in pairs; of other bodies none. */
  lines: Int32Array;
  /** Where each of its copies stands, rows of (3, 4) matrices one after the other; null where it is drawn once, as it is. */
  copies: Float32Array | null;
  geometry: BufferGeometry;
  /** What a drag has left in what is drawn: the preview's key, where it is that of all patches that were touched. */
  drawn: { key: string | null; touched: Set<number> } | null;
}

interface CageMeta {
  key: string;
  faces: number;
  /** Its faces are told; else they are those of the cage the request named. */
  whole: boolean;
}

/** A body's mesh with the cage it is shaped by (`form_api.cage`); no points where it has none. */
export interface PartMesh extends SkinMesh {
  cage: CageMeta;
  points: Float64Array;
  faceStarts: Int32Array;
  facePoints: Int32Array;
  edges: Int32Array;
  creaseEdges: Int32Array;
  creaseSharpness: Float32Array;
  cornerPoints: Int32Array;
  cornerSharpness: Float32Array;
  /** Number of the mesh point above each cage point. */
  limitOf: Int32Array;
}

const NO_LINES = new Int32Array();

/** An address with what is asked of it, where anything is. */
function asking(address: string, asked: Record<string, string>): string {
  const query = new URLSearchParams(asked).toString();
  return query ? `${address}?${query}` : address;
}

/** Fetches a mesh; of one whose connectivity is here already only what differs from it, or from what a drag left of it. */
export async function fetchSkin(address: string, before?: SkinMesh, bare = false): Promise<SkinMesh> {
  const dragged = before?.drawn?.key ? before.drawn.key : null;
  const asked = { ...(before && { have: dragged ?? before.meta.key }), ...(bare && { bare: "true" }) };
  const base =
    before && dragged
      ? shownArrays(before)
      : before && { positions: before.positions.slice(), normals: before.normals.slice() };
  const packed = await fetchArrays<MeshMeta>(asking(`${address}/mesh`, asked));
  const { meta } = packed;
  const [positions, normals] = [packed.array("positions", Float32Array), packed.array("normals", Int16Array)];
  if (!meta.whole && before && base) {
    const patches = packed.array("patches", Int32Array);
    writePatches(before.patchStarts, patches, positions, normals, base.positions, base.normals);
    return withGeometry({ ...before, meta, ...base });
  }
  return withGeometry({
    meta,
    positions,
    normals,
    triangles: packed.array("triangles", Uint32Array),
    patchStarts: packed.array("patchStarts", Int32Array),
    patchFace: packed.array("patchFace", Int32Array),
    trianglePatch: packed.array("trianglePatch", Int32Array),
    lines: meta.lined ? packed.array("edges", Int32Array) : NO_LINES,
    copies: packed.has("copies") ? packed.array("copies", Float32Array) : null,
  });
}

/** Fetches a mesh and the cage it is shaped by; the cage's faces only where they are others. */
export async function fetchPart(address: string, before?: SkinMesh, bare = false): Promise<PartMesh> {
  const old = before && "cage" in before ? (before as PartMesh) : null;
  const asked = { ...(old && { have: old.cage.key }), ...(bare && { bare: "true" }) };
  const [skin, cage] = await Promise.all([
    fetchSkin(address, before, bare),
    fetchArrays<CageMeta>(asking(`${address}/cage`, asked)),
  ]);
  const numbers = (name: string) => cage.array(name, Int32Array);
  const faces = (!cage.meta.whole && old) || {
    faceStarts: numbers("faceStarts"),
    facePoints: numbers("facePoints"),
    edges: numbers("edges"),
    limitOf: numbers("limitOf"),
  };
  return {
    ...skin,
    cage: cage.meta,
    points: cage.array("points", Float64Array),
    faceStarts: faces.faceStarts,
    facePoints: faces.facePoints,
    edges: faces.edges,
    limitOf: faces.limitOf,
    creaseEdges: numbers("creaseEdges"),
    creaseSharpness: cage.array("creaseSharpness", Float32Array),
    cornerPoints: numbers("cornerPoints"),
    cornerSharpness: cage.array("cornerSharpness", Float32Array),
  };
}

/** A mesh as it came, before anything is drawn. */
export type Arrays = Omit<SkinMesh, "geometry" | "drawn">;

/** A mesh to be drawn. */
export function withGeometry(mesh: Arrays): SkinMesh {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(mesh.positions, 3));
  geometry.setAttribute("normal", new BufferAttribute(mesh.normals, 4, true));
  geometry.setIndex(new BufferAttribute(mesh.triangles, 1));
  geometry.computeBoundingSphere();
  return { ...mesh, geometry, drawn: null };
}

/** Whether a part has a cage, so that it can be shaped. */
export function isShaped(mesh: PartMesh): boolean {
  return mesh.points.length > 0;
}

export function faceOf(part: PartMesh, face: number): Int32Array {
  return part.facePoints.subarray(part.faceStarts[face]!, part.faceStarts[face + 1]!);
}

/** Places of a mesh as they are drawn now, while a hand drags it too. */
export function shownPositions(mesh: SkinMesh): Float32Array {
  return mesh.geometry.getAttribute("position").array as Float32Array;
}

/** Copies of what is drawn now. */
function shownArrays(mesh: SkinMesh): { positions: Float32Array; normals: Int16Array } {
  const normals = mesh.geometry.getAttribute("normal").array as Int16Array;
  return { positions: shownPositions(mesh).slice(), normals: normals.slice() };
}

interface PreviewMeta {
  key: string;
  milliseconds: number;
}

/** Both principal curvatures at the points of some patches, in their order. */
export interface PatchBends {
  patches: Int32Array;
  high: Float32Array;
  low: Float32Array;
}

/** Asks the server what a step would do, and shows it; returns the cage's points, the server's time, and curvature where it is wanted. */
export async function previewStep(
  url: string,
  step: object,
  part: PartMesh,
  bends: boolean,
  signal?: AbortSignal,
): Promise<{ points: Float32Array; milliseconds: number; bends: PatchBends | null }> {
  const packed = await fetchArrays<PreviewMeta>(url, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ step, bends }),
    signal,
  });
  const { meta } = packed;
  const patches = packed.array("patches", Int32Array);
  showPatches(part, patches, packed.array("positions", Float32Array), packed.array("normals", Int16Array));
  const touched = part.drawn?.touched ?? new Set();
  for (const patch of patches) touched.add(patch);
  // what an earlier preview of the drag moved and this one did not lies there still
  part.drawn = { key: touched.size === patches.length ? meta.key : null, touched };
  const told = bends && patches.length > 0;
  return {
    points: packed.array("points", Float32Array),
    milliseconds: meta.milliseconds,
    bends: told ? { patches, high: packed.array("high", Float32Array), low: packed.array("low", Float32Array) } : null,
  };
}

/** Draws patches as they would be, in a copy of the mesh's arrays. */
export function showPatches(part: SkinMesh, patches: Int32Array, positions: Float32Array, normals: Int16Array): void {
  if (shownPositions(part) === part.positions) {
    part.geometry.dispose(); // the card holds what was drawn until now
    part.geometry.setAttribute("position", new BufferAttribute(part.positions.slice(), 3));
    part.geometry.setAttribute("normal", new BufferAttribute(part.normals.slice(), 4, true));
  }
  const place = part.geometry.getAttribute("position") as BufferAttribute;
  const normal = part.geometry.getAttribute("normal") as BufferAttribute;
  const shown = [place.array as Float32Array, normal.array as Int16Array] as const;
  const [low, high] = writePatches(part.patchStarts, patches, positions, normals, ...shown);
  if (high === 0) return;
  for (const [attribute, width] of [
    [place, 3],
    [normal, 4],
  ] as const) {
    attribute.clearUpdateRanges();
    attribute.addUpdateRange(low * width, (high - low) * width);
    attribute.needsUpdate = true;
  }
}

/** Draws a mesh as it came from the server again. */
export function showAsItIs(part: SkinMesh): void {
  part.drawn = null;
  if (shownPositions(part) === part.positions) return;
  part.geometry.dispose();
  part.geometry.setAttribute("position", new BufferAttribute(part.positions, 3));
  part.geometry.setAttribute("normal", new BufferAttribute(part.normals, 4, true));
}

function writePatches(
  starts: Int32Array,
  patches: Int32Array,
  positions: Float32Array,
  normals: Int16Array,
  toPositions: Float32Array,
  toNormals: Int16Array,
): [low: number, high: number] {
  let at = 0;
  let [low, high] = [Number.POSITIVE_INFINITY, 0];
  for (const patch of patches) {
    const [start, end] = [starts[patch]!, starts[patch + 1]!];
    const count = end - start;
    toPositions.set(positions.subarray(3 * at, 3 * (at + count)), 3 * start);
    toNormals.set(normals.subarray(4 * at, 4 * (at + count)), 4 * start);
    at += count;
    low = Math.min(low, start);
    high = Math.max(high, end);
  }
  return [low, high];
}
