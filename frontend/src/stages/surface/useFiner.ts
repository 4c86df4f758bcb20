import { useEffect, useMemo, useState } from "react";
import { BufferAttribute, BufferGeometry, Frustum, Matrix4, Sphere, Vector3 } from "three";
import { fetchArrays } from "../../api/arrays";
import { cameraOf } from "../../view3d/orbit";
import type { SkinMesh } from "../../view3d/partMesh";
import type { Shown } from "../../view3d/useParts";
import { surfaceEye } from "./store";

/** Screen px a piece of a part's skin may be long before it is refined. */
const COARSE = 7;
const FINEST = 5;
/** Triangles of a part that are asked for at once. */
const MOST = 120_000;
/** Milliseconds the eye rests before what it looks at is refined. */
const RESTS = 180;

interface Patches {
  boxes: Sphere[];
  /** Triangles along a patch's side, and the level that makes so many. */
  sides: number[];
}

/** The skins a probe of light is drawn by: where one comes close, what is in view is refined by the server, so that a stripe's edge stays
 * that of the surface and not of its triangles. */
export function useFiner(project: string, form: string, parts: Shown[], on: boolean): BufferGeometry[] {
  const [finer, setFiner] = useState<ReadonlyMap<SkinMesh, BufferGeometry>>(new Map());
  useEffect(() => {
    if (!on) return;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let leaving = new AbortController();
    const asked = new Map<SkinMesh, string>();
    const look = async () => {
      leaving.abort();
      leaving = new AbortController();
      const { signal } = leaving;
      for (const { part, mesh } of parts) {
        const still = part.steps[0]?.kind === "still"; // flat triangles have nothing finer behind them
        const wanted = still ? null : inView(mesh);
        const query = wanted ? `level=${wanted.level}&patches=${wanted.patches.join(",")}` : "";
        if (asked.get(mesh) === query) continue;
        if (!wanted) {
          asked.set(mesh, query);
          setFiner((now) => without(now, mesh));
          continue;
        }
        try {
          const packed = await fetchArrays<{ level: number }>(
            `/api/projects/${project}/forms/${form}/parts/${part.id}/finer`,
            {
              method: "POST",
              headers: { "Content-Type": "application/json" },
              body: JSON.stringify({ level: wanted.level, patches: wanted.patches, key: mesh.meta.key }),
              signal,
            },
          );
          asked.set(mesh, query);
          const geometry = joined(
            mesh,
            wanted.patches,
            packed.array("positions", Float32Array),
            packed.array("normals", Int16Array),
            packed.array("triangles", Uint32Array),
          );
          setFiner((now) => new Map(without(now, mesh)).set(mesh, geometry));
        } catch {
          // what one looks at moved on, or the part did: it is drawn as it was
          if (signal.aborted) return;
        }
      }
    };
    const soon = () => {
      clearTimeout(waiting);
      waiting = setTimeout(() => void look(), RESTS);
    };
    soon();
    const stop = surfaceEye.follow(soon);
    return () => {
      clearTimeout(waiting);
      leaving.abort();
      stop();
      setFiner((now) => {
        for (const geometry of now.values()) geometry.dispose();
        return new Map();
      });
    };
  }, [project, form, parts, on]);
  return useMemo(() => parts.map(({ mesh }) => finer.get(mesh) ?? mesh.geometry), [parts, finer]);
}

function without(now: ReadonlyMap<SkinMesh, BufferGeometry>, mesh: SkinMesh): ReadonlyMap<SkinMesh, BufferGeometry> {
  const held = now.get(mesh);
  if (!held) return now;
  held.dispose();
  const left = new Map(now);
  left.delete(mesh);
  return left;
}

const measured = new WeakMap<SkinMesh, Patches>();

function patchesOf(mesh: SkinMesh): Patches {
  const known = measured.get(mesh);
  if (known) return known;
  const boxes: Sphere[] = [];
  const sides: number[] = [];
  const point = new Vector3();
  for (let patch = 0; patch + 1 < mesh.patchStarts.length; patch++) {
    const [start, end] = [mesh.patchStarts[patch]!, mesh.patchStarts[patch + 1]!];
    const points: Vector3[] = [];
    for (let k = start; k < end; k++) points.push(point.fromArray(mesh.positions, 3 * k).clone());
    boxes.push(new Sphere().setFromPoints(points));
    sides.push(Math.sqrt(end - start) - 1);
  }
  const made = { boxes, sides };
  measured.set(mesh, made);
  return made;
}

/** Which patches are in view so large that they are to be finer, and how fine; null where none is. */
function inView(mesh: SkinMesh): { level: number; patches: number[] } | null {
  const frame = document.querySelector("[data-testid=view3d]")?.getBoundingClientRect();
  if (!frame?.height) return null;
  const orbit = surfaceEye.now();
  const camera = cameraOf(orbit, frame.width, frame.height);
  const seen = new Frustum().setFromProjectionMatrix(
    new Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  const eye = camera.position;
  const pxAtOne = frame.height / (2 * Math.tan((orbit.lens * Math.PI) / 360));
  const { boxes, sides } = patchesOf(mesh);
  const chosen: number[] = [];
  let finer = 0;
  boxes.forEach((box, patch) => {
    if (!seen.intersectsSphere(box)) return;
    const away = Math.max(eye.distanceTo(box.center) - box.radius, 1);
    const px = (1.4 * box.radius * pxAtOne) / away / sides[patch]!;
    if (px <= COARSE) return;
    chosen.push(patch);
    finer = Math.max(finer, Math.ceil(Math.log2(px / COARSE)));
  });
  if (!chosen.length) return null;
  const level = Math.log2(Math.max(...sides));
  let wanted = Math.min(FINEST, level + finer);
  while (
    wanted > level &&
    chosen.reduce((sum, patch) => sum + 2 * (sides[patch]! * 2 ** (wanted - level)) ** 2, 0) > MOST
  )
    wanted--;
  return wanted > level ? { level: wanted, patches: chosen } : null;
}

/** A part's skin with some patches in a finer one's place. */
function joined(
  mesh: SkinMesh,
  patches: number[],
  positions: Float32Array,
  normals: Int16Array,
  triangles: Uint32Array,
): BufferGeometry {
  const gone = new Set(patches);
  const count = mesh.positions.length / 3;
  const kept: number[] = [];
  mesh.trianglePatch.forEach((patch, k) => {
    if (!gone.has(patch)) kept.push(mesh.triangles[3 * k]!, mesh.triangles[3 * k + 1]!, mesh.triangles[3 * k + 2]!);
  });
  const index = new Uint32Array(kept.length + triangles.length);
  index.set(kept);
  triangles.forEach((point, k) => {
    index[kept.length + k] = point + count;
  });
  const places = new Float32Array(mesh.positions.length + positions.length);
  places.set(mesh.positions);
  places.set(positions, mesh.positions.length);
  const turns = new Int16Array(mesh.normals.length + normals.length);
  turns.set(mesh.normals);
  turns.set(normals, mesh.normals.length);
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(places, 3));
  geometry.setAttribute("normal", new BufferAttribute(turns, 4, true));
  geometry.setIndex(new BufferAttribute(index, 1));
  geometry.boundingSphere = mesh.geometry.boundingSphere;
  return geometry;
}
