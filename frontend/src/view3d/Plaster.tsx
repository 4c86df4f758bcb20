import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { DoubleSide } from "three";
import type { SkinMesh } from "./partMesh";
import { Skin } from "./Skin";

/** The model as plaster under soft daylight from the upper left. */
export function Plaster(props: { mesh: SkinMesh; dim?: boolean; through?: boolean }) {
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => invalidate(), [props.mesh, props.dim, props.through, invalidate]);
  return (
    <Skin mesh={props.mesh}>
      <meshStandardMaterial
        color={props.dim ? "#d9d4ca" : "#cfc8bc"}
        roughness={0.75}
        metalness={0}
        side={DoubleSide}
        transparent={props.through}
        opacity={props.through ? 0.55 : 1}
        depthWrite={!props.through}
        polygonOffset
        polygonOffsetFactor={1}
        polygonOffsetUnits={1}
      />
    </Skin>
  );
}

/** Daylight that comes with the eye, so that form reads from every side. */
export function Daylight() {
  const camera = useThree((three) => three.camera);
  return (
    <>
      <hemisphereLight args={["#ffffff", "#b9ad9c", 1.5]} position={[0, 0, 1]} />
      <primitive object={camera}>
        <directionalLight position={[-2, 3, 2]} intensity={2.1} />
        <directionalLight position={[3, 0, 1]} intensity={0.35} />
      </primitive>
    </>
  );
}
