import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import type { Shapes } from "../../../api/client";
import { useGeometry } from "../../../view3d/useGeometry";
import { useLitBy } from "./areaLamps";
import { FinishMaterial } from "./FinishMaterial";
import { useTexture } from "./useTexture";

type Piece = Shapes["PieceShape"];

interface PiecesProps {
  project: string;
  pieces: Piece[];
  gain: number[];
}

/** What the product stands on and in front of. */
export function Pieces({ project, pieces, gain }: PiecesProps) {
  return pieces.map((piece, index) => <PieceMesh key={index} project={project} piece={piece} gain={gain} />);
}

function PieceMesh({ project, piece, gain }: { project: string; piece: Piece; gain: number[] }) {
  const key = JSON.stringify(piece);
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(piece.points.flat()), 3));
    made.setAttribute("normal", new BufferAttribute(new Float32Array(piece.normals.flat()), 3));
    made.setAttribute("uv", new BufferAttribute(new Float32Array(piece.at.flat()), 2));
    if (piece.colours) made.setAttribute("color", new BufferAttribute(new Float32Array(piece.colours.flat()), 3));
    made.setIndex(piece.triangles.flat());
    return made;
  }, [key]);
  const lit = useLitBy();
  const picture = useTexture(piece.picture ? `/api/projects/${project}/assets/${piece.picture}` : null);
  return (
    <mesh geometry={geometry}>
      {picture ? (
        <meshPhysicalMaterial
          key={lit.name}
          {...lit.matte}
          map={picture}
          color={piece.look.colour as [number, number, number]}
          roughness={1}
          specularIntensity={0}
          side={DoubleSide}
        />
      ) : (
        <FinishMaterial look={piece.look} gain={gain} coloured={piece.colours !== null} />
      )}
    </mesh>
  );
}
