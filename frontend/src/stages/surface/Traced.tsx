import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { BufferAttribute, BufferGeometry, Points, PointsMaterial } from "three";
import { LineMaterial } from "three/examples/jsm/lines/LineMaterial.js";
import { LineSegments2 } from "three/examples/jsm/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/examples/jsm/lines/LineSegmentsGeometry.js";

/** Polylines as the server tells them. */
export interface Lines {
  places: Float32Array;
  starts: Int32Array;
  closed: Uint8Array;
}

export type Stroke = "solid" | "dashed" | "dotted";

/** Pieces of polylines, two ends each. */
export function piecesOf({ places, starts, closed }: Lines): Float32Array {
  let count = 0;
  for (let line = 0; line + 1 < starts.length; line++)
    count += starts[line + 1]! - starts[line]! - (closed[line] ? 0 : 1);
  const pieces = new Float32Array(6 * Math.max(0, count));
  let at = 0;
  const add = (from: number, to: number) => {
    pieces.set(places.subarray(3 * from, 3 * from + 3), at);
    pieces.set(places.subarray(3 * to, 3 * to + 3), at + 3);
    at += 6;
  };
  for (let line = 0; line + 1 < starts.length; line++) {
    const [start, end] = [starts[line]!, starts[line + 1]!];
    for (let k = start; k + 1 < end; k++) add(k, k + 1);
    if (closed[line]) add(end - 1, start);
  }
  return pieces;
}

/** What was made is drawn, and let go with what shows it. */
function useShown(made: { geometry: { dispose: () => void }; material: { dispose: () => void } }): void {
  const invalidate = useThree((three) => three.invalidate);
  useEffect(() => {
    invalidate();
    return () => {
      made.geometry.dispose();
      made.material.dispose();
    };
  }, [made, invalidate]);
}

/** Lines over the form, as wide from near and far. */
export function Traced(props: {
  pieces: Float32Array;
  colour: string;
  width?: number;
  stroke?: Stroke;
  over?: boolean;
}) {
  const { pieces, colour, width = 1.6, stroke = "solid", over = false } = props;
  const made = useMemo(() => {
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(pieces.length ? pieces : new Float32Array(6));
    const dashes = { solid: [0, 0], dashed: [2.2, 1.2], dotted: [0.7, 0.9] }[stroke] as [number, number];
    const material = new LineMaterial({
      color: colour,
      linewidth: width,
      dashed: stroke !== "solid",
      dashSize: dashes[0],
      gapSize: dashes[1],
      depthTest: !over,
      depthWrite: false,
      transparent: true,
    });
    const line = new LineSegments2(geometry, material);
    if (stroke !== "solid") runOn(line, pieces);
    line.renderOrder = 2;
    return line;
  }, [pieces, colour, width, stroke, over]);
  useShown(made);
  return pieces.length ? <primitive object={made} /> : null;
}

/** Dashes go on from piece to piece of a line instead of beginning anew in each. */
function runOn(line: LineSegments2, pieces: Float32Array): void {
  line.computeLineDistances();
  const distances = line.geometry.getAttribute("instanceDistanceStart") as unknown as {
    data: { array: Float32Array; needsUpdate: boolean };
  };
  const array = distances.data.array;
  let run = 0;
  for (let piece = 0; 6 * piece < pieces.length; piece++) {
    const at = 6 * piece;
    const joins = piece > 0 && [0, 1, 2].every((k) => pieces[at + k] === pieces[at - 3 + k]);
    if (!joins) run = 0;
    const length = Math.hypot(...[0, 1, 2].map((k) => pieces[at + 3 + k]! - pieces[at + k]!));
    array[2 * piece] = run;
    run += length;
    array[2 * piece + 1] = run;
  }
  distances.data.needsUpdate = true;
}

/** Small squares at places, as large from near and far. */
export function Marks(props: { places: Float32Array; colour: string; size?: number }) {
  const { places, colour, size = 7 } = props;
  const made = useMemo(() => {
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(places, 3));
    const material = new PointsMaterial({ color: colour, size, sizeAttenuation: false, depthTest: false });
    const points = new Points(geometry, material);
    points.renderOrder = 3;
    return points;
  }, [places, colour, size]);
  useShown(made);
  return places.length ? <primitive object={made} /> : null;
}
