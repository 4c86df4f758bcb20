import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import { BufferAttribute, BufferGeometry, DoubleSide } from "three";
import { Daylight, Plaster } from "../../view3d/Plaster";
import { faceOf, isShaped, type PartMesh, shownPositions } from "../../view3d/partMesh";
import { place, useGeometry } from "../../view3d/useGeometry";
import { isCurve, type Shown as ShownPart } from "../../view3d/useParts";
import { Lines, PickedFaces } from "./built/Shown3D";
import { useHand } from "./hand";
import { pickedPoints } from "./picking";
import type { PickKind, Shown } from "./store";

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

interface SceneProps {
  parts: ShownPart<PartMesh>[];
  active: string | null;
  /** A curve is being drawn: the one worked on has no points to be dragged meanwhile. */
  drawing: boolean;
  shown: Shown;
  clear: boolean;
  kind: PickKind;
  items: number[];
  /** Names of the faces of a built part, in its mesh's order. */
  faceNames: string[];
}

/** Plaster models, and the active part's cage in ink with the pick in violet. */
export function FormScene(props: SceneProps) {
  const active = props.parts.find(({ part }) => part.id === props.active);
  return (
    <>
      <Daylight />
      {props.parts.map(({ part, mesh }) =>
        props.shown === "cage" && part.id === props.active ? null : (
          <Plaster key={part.id} mesh={mesh} dim={part.id !== props.active} through={props.clear} />
        ),
      )}
      {props.parts
        .filter(
          ({ part, mesh }) => mesh.lines.length > 0 && !(isCurve(part) && part.id === props.active && !props.drawing),
        )
        .map(({ part, mesh }) => (
          <Lines key={part.id} mesh={mesh} curve={isCurve(part)} dim={part.id !== props.active} />
        ))}
      {active && !isShaped(active.mesh) && <PickedFaces mesh={active.mesh} names={props.faceNames} />}
      {active && props.shown !== "skin" && <Cage {...props} mesh={active.mesh} />}
      {active && props.shown === "skin" && <Picked {...props} mesh={active.mesh} points={limitPoints(active.mesh)} />}
    </>
  );
}

function limitPoints(mesh: PartMesh): Float32Array {
  const points = new Float32Array(mesh.limitOf.length * 3);
  const shown = shownPositions(mesh);
  mesh.limitOf.forEach((skin, point) => {
    points.set(shown.subarray(3 * skin, 3 * skin + 3), 3 * point);
  });
  return points;
}

function Cage(props: SceneProps & { mesh: PartMesh }) {
  const { mesh } = props;
  const points = useHand((hand) => hand.cagePoints) ?? mesh.points;
  const lines = useGeometry(() => indexed(mesh.edges, mesh.points.length), [mesh]);
  const creases = useGeometry(() => indexed(mesh.creaseEdges, 0), [mesh]);
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    place(lines, Float32Array.from(points));
    creases.setAttribute("position", lines.getAttribute("position"));
    invalidate();
  }, [lines, creases, points, invalidate]);
  return (
    <>
      <lineSegments geometry={lines}>
        <lineBasicMaterial color={token("--ink")} transparent opacity={0.9} />
      </lineSegments>
      <lineSegments geometry={lines} renderOrder={1}>
        <lineBasicMaterial color={token("--ink")} transparent opacity={0.12} depthTest={false} />
      </lineSegments>
      {mesh.creaseEdges.length > 0 && (
        <lineSegments geometry={creases} renderOrder={2}>
          <lineBasicMaterial color={token("--warn")} transparent opacity={0.95} depthTest={false} />
        </lineSegments>
      )}
      {props.kind === "points" && (
        <points geometry={lines}>
          <pointsMaterial color={token("--ink")} size={5} sizeAttenuation={false} />
        </points>
      )}
      <Picked {...props} points={points} />
    </>
  );
}

function Picked(props: SceneProps & { mesh: PartMesh; points: Float64Array | Float32Array }) {
  const { mesh, kind, items, points } = props;
  const hovered = useHand((hand) => hand.hovered);
  const colour = token("--pick");
  const dots = useGeometry(empty, []);
  const edges = useGeometry(empty, []);
  const faces = useGeometry(empty, []);
  const hover = useGeometry(empty, []);
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    fill(dots, points, kind === "points" ? items : []);
    fill(
      edges,
      points,
      kind === "edges" ? items.flatMap((edge) => [mesh.edges[2 * edge]!, mesh.edges[2 * edge + 1]!]) : [],
    );
    fill(faces, points, kind === "faces" ? items.flatMap((face) => fan(faceOf(mesh, face))) : []);
    invalidate();
  }, [mesh, kind, items, points, dots, edges, faces, invalidate]);
  useEffect(() => {
    fill(hover, points, hovered == null ? [] : pickedPoints(mesh, kind, [hovered]));
    invalidate();
  }, [mesh, kind, hovered, points, hover, invalidate]);
  return (
    <>
      <points geometry={dots} renderOrder={4}>
        <pointsMaterial color={colour} size={9} sizeAttenuation={false} depthTest={false} transparent />
      </points>
      <lineSegments geometry={edges} renderOrder={4}>
        <lineBasicMaterial color={colour} depthTest={false} transparent linewidth={2} />
      </lineSegments>
      <mesh geometry={faces} renderOrder={3}>
        <meshBasicMaterial color={colour} transparent opacity={0.32} side={DoubleSide} depthTest={false} />
      </mesh>
      <points geometry={hover} renderOrder={5}>
        <pointsMaterial color={colour} size={6} sizeAttenuation={false} depthTest={false} transparent opacity={0.7} />
      </points>
    </>
  );
}

function fan(corners: Int32Array): number[] {
  const out: number[] = [];
  for (let k = 1; k + 1 < corners.length; k++) out.push(corners[0]!, corners[k]!, corners[k + 1]!);
  return out;
}

const empty = () => new BufferGeometry();

function indexed(order: Int32Array, length: number): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setIndex(new BufferAttribute(new Uint32Array(order), 1));
  geometry.setAttribute("position", new BufferAttribute(new Float32Array(length), 3));
  return geometry;
}

function fill(geometry: BufferGeometry, points: Float64Array | Float32Array, order: number[]): void {
  const places = new Float32Array(order.length * 3);
  order.forEach((point, at) => {
    for (let axis = 0; axis < 3; axis++) places[3 * at + axis] = points[3 * point + axis]!;
  });
  place(geometry, places);
}
