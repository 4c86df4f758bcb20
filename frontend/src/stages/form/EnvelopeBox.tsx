import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BoxGeometry, EdgesGeometry } from "three";
import type { Triple } from "../../ui/AxisFields";

/** The size the brief asks for, as a faint box around the form's middle. */
export function EnvelopeBox({ envelope, middle, over }: { envelope: Triple; middle: Triple; over: boolean }) {
  const invalidate = useThree((three) => three.invalidate);
  const canvas = useThree((three) => three.gl.domElement);
  const edges = useMemo(() => new EdgesGeometry(new BoxGeometry(...envelope)), [envelope]);
  useEffect(() => () => edges.dispose(), [edges]);
  useEffect(() => invalidate(), [invalidate, edges, middle, over]);
  return (
    <lineSegments geometry={edges} position={middle}>
      <lineBasicMaterial
        color={getComputedStyle(canvas).getPropertyValue(over ? "--warn" : "--quiet")}
        transparent
        opacity={over ? 0.8 : 0.4}
        depthWrite={false}
      />
    </lineSegments>
  );
}
