import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import type { Shapes } from "../../../api/client";
import { useGeometry } from "../../../view3d/useGeometry";
import { useLitBy } from "./areaLamps";
import { WHITE } from "./FinishMaterial";
import { useTexture } from "./useTexture";

type LaidMark = Shapes["LaidMarkShape"];

/** Lettering and artwork, as skins over their parts. */
export function Marks({ project, marks }: { project: string; marks: LaidMark[] }) {
  return marks.map((mark) => <MarkSkin key={mark.id} project={project} mark={mark} />);
}

function MarkSkin({ project, mark }: { project: string; mark: LaidMark }) {
  const key = JSON.stringify([mark.points, mark.at, mark.triangles]);
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(mark.points.flat()), 3));
    made.setAttribute("normal", new BufferAttribute(new Float32Array(mark.normals.flat()), 3));
    made.setAttribute("uv", new BufferAttribute(new Float32Array(mark.at.flat()), 2));
    made.setIndex(mark.triangles.flat());
    return made;
  }, [key]);
  const picture = useTexture(`/api/projects/${project}/mark-picture.png?mark=${encodeURIComponent(mark.picture)}`);
  const lit = useLitBy();
  const { look, own } = mark;
  return (
    <mesh geometry={geometry} renderOrder={1}>
      <meshPhysicalMaterial
        key={`${lit.name}${own}${picture?.uuid}`}
        {...lit.shining}
        map={picture}
        color={own ? WHITE : (look.colour as [number, number, number])}
        transparent
        depthWrite={false}
        polygonOffset
        polygonOffsetFactor={-4}
        polygonOffsetUnits={-4}
        metalness={look.metalness}
        roughness={look.roughness}
        ior={look.ior}
        side={DoubleSide}
      />
    </mesh>
  );
}
