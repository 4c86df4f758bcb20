import type { ThreeElements } from "@react-three/fiber";
import type { ReactNode } from "react";
import type { BufferGeometry } from "three";
import { standingOf, turnedOver } from "./copies";
import type { SkinMesh } from "./partMesh";

interface SkinProps extends Pick<ThreeElements["mesh"], "castShadow" | "renderOrder"> {
  mesh: SkinMesh;
  /** What is drawn of it, where that is not all of it. */
  geometry?: BufferGeometry;
  /** Its material. */
  children: ReactNode;
}

/** A body's mesh as it is drawn: once, or at each place where a copy of it stands. */
export function Skin({ mesh, geometry = mesh.geometry, children, ...rest }: SkinProps) {
  if (!mesh.copies)
    return (
      <mesh geometry={geometry} {...rest}>
        {children}
      </mesh>
    );
  return standingOf(mesh).map((standing) => (
    <instancedMesh
      key={`${mesh.meta.key}${standing.turnedOver}`}
      args={[standing.turnedOver ? turnedOver(geometry) : geometry, undefined, standing.matrices.count]}
      instanceMatrix={standing.matrices}
      {...rest}
    >
      {children}
    </instancedMesh>
  ));
}
