import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import { everyOne } from "../../../view3d/copies";
import type { PartMesh } from "../../../view3d/partMesh";
import { place, useGeometry } from "../../../view3d/useGeometry";
import { useCurve } from "./curve";

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** A curve that is not worked on, or the edges of a built form that are not behind it. */
export function Lines({ mesh, curve, dim }: { mesh: PartMesh; curve: boolean; dim: boolean }) {
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    made.setIndex(new BufferAttribute(new Uint32Array(mesh.lines), 1));
    made.setAttribute("position", new BufferAttribute(mesh.positions, 3));
    return made;
  }, [mesh]);
  return (
    <lineSegments geometry={geometry}>
      <lineBasicMaterial color={token(curve ? "--act" : "--ink")} transparent opacity={curve ? 0.8 : dim ? 0.3 : 0.6} />
    </lineSegments>
  );
}

/** The picked faces of a built part. */
export function PickedFaces({ mesh, names }: { mesh: PartMesh; names: string[] }) {
  const faces = useCurve((curve) => curve.faces);
  const geometry = useGeometry(() => new BufferGeometry(), []);
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    const picked = new Set(faces.map((name) => names.indexOf(name)));
    const { positions, triangles, trianglePatch, patchFace } = picked.size ? everyOne(mesh) : mesh;
    const places: number[] = [];
    for (let triangle = 0; triangle < trianglePatch.length; triangle++) {
      if (!picked.has(patchFace[trianglePatch[triangle]!]!)) continue;
      for (let k = 0; k < 3; k++) {
        const point = triangles[3 * triangle + k]!;
        places.push(...positions.subarray(3 * point, 3 * point + 3));
      }
    }
    place(geometry, new Float32Array(places));
    invalidate();
  }, [faces, names, mesh, geometry, invalidate]);
  return (
    <mesh geometry={geometry} renderOrder={3}>
      <meshBasicMaterial color={token("--pick")} transparent opacity={0.32} side={DoubleSide} depthTest={false} />
    </mesh>
  );
}
