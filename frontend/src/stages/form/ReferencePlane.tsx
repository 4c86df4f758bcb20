import { useThree } from "@react-three/fiber";
import { useEffect, useState } from "react";
import { DoubleSide, SRGBColorSpace, type Texture, TextureLoader, Vector3 } from "three";
import type { Shapes } from "../../api/client";
import { useSheet } from "../../api/queries";

const NORMALS = { front: new Vector3(0, 1, 0), side: new Vector3(1, 0, 0), top: new Vector3(0, 0, 1) };

/** A sheet's view in its plane, over the model so that it stays readable; follows the sheet as it changes. */
export function ReferencePlane(props: { project: string; reference: Shapes["Reference"] }) {
  const { reference } = props;
  const { data } = useSheet(props.project, reference.sheet);
  const invalidate = useThree((three) => three.invalidate);
  const [texture, setTexture] = useState<Texture | null>(null);
  const view = data?.body.views.find((candidate) => candidate.id === reference.view);
  const head = data?.standing.head;
  useEffect(() => {
    if (!view) return;
    let gone = false;
    const address = `/api/projects/${props.project}/sheets/${reference.sheet}/views/${reference.view}.png?head=${head}`;
    new TextureLoader().load(address, (loaded) => {
      if (gone) return;
      loaded.colorSpace = SRGBColorSpace;
      setTexture(loaded);
      invalidate();
    });
    return () => {
      gone = true;
    };
  }, [props.project, reference.sheet, reference.view, head, view?.id, invalidate]);
  useEffect(() => invalidate(), [reference, texture, invalidate]);
  if (!view || !texture || reference.visible === false) return null;
  const [left, top, right, bottom] = view.rect as [number, number, number, number];
  const [[ax, ay], [bx, by]] = reference.line as [[number, number], [number, number]];
  const scale = reference.length / Math.hypot(bx - ax, by - ay);
  const across = ((left + right) / 2 - (ax + bx) / 2) * scale;
  const upward = ((ay + by) / 2 - (top + bottom) / 2) * scale;
  const turns = { front: [Math.PI / 2, 0, 0], side: [Math.PI / 2, Math.PI / 2, 0], top: [0, 0, 0] } as const;
  const places = { front: [across, 0, upward], side: [0, across, upward], top: [across, upward, 0] } as const;
  return (
    <mesh
      onBeforeRender={(_renderer, _scene, camera, _geometry, material) => {
        // clear when seen square-on, gone when seen along its plane
        const facing = Math.abs(camera.getWorldDirection(new Vector3()).dot(NORMALS[reference.plane]));
        material.opacity = (reference.opacity ?? 0.5) * Math.max(0, Math.min(1, (facing - 0.55) / 0.35));
      }}
      position={places[reference.plane]}
      rotation={[...turns[reference.plane]]}
      renderOrder={2}
    >
      <planeGeometry args={[(right - left) * scale, (bottom - top) * scale]} />
      <meshBasicMaterial
        map={texture}
        transparent
        opacity={reference.opacity}
        side={DoubleSide}
        depthTest={false}
        depthWrite={false}
      />
    </mesh>
  );
}
