import { useEffect, useMemo } from "react";
import { DataTexture, LinearFilter, Matrix4 } from "three";
import { placesAround } from "../../../view3d/copies";
import type { Shown } from "../../../view3d/useParts";

/** Mm over the ground by which a surface darkens what is under it to a third. */
const REACH = 7;
/** Mm of ground around the product that is looked at. */
const AROUND = 36;
/** Px of the longer side of the shadow. */
const WIDE = 96;
/** How dark it is where the product touches the ground. */
const DARKEST = 0.72;

interface ContactProps {
  parts: Shown[];
  /** From the form to the set, 16 numbers row by row. */
  matrix: number[];
  strength: number;
}

/** The dark between a product and the ground it stands on, which no lamp reaches. */
export function ContactShadow({ parts, matrix, strength }: ContactProps) {
  const key = JSON.stringify(matrix);
  const shadow = useMemo(() => shadowOf(parts, new Matrix4().fromArray(JSON.parse(key)).transpose()), [parts, key]);
  const texture = useMemo(() => {
    if (!shadow) return null;
    const made = new DataTexture(shadow.pixels, shadow.wide, shadow.tall);
    made.magFilter = made.minFilter = LinearFilter;
    made.needsUpdate = true;
    return made;
  }, [shadow]);
  useEffect(() => () => texture?.dispose(), [texture]);
  if (!shadow || !texture || !strength) return null;
  return (
    <mesh position={[shadow.x, shadow.y, 0.5]} renderOrder={1}>
      <planeGeometry args={[shadow.across, shadow.deep]} />
      <meshBasicMaterial map={texture} transparent opacity={strength} depthWrite={false} toneMapped={false} />
    </mesh>
  );
}

interface Shadow {
  pixels: Uint8Array;
  wide: number;
  tall: number;
  /** Its middle and its size on the ground, mm. */
  x: number;
  y: number;
  across: number;
  deep: number;
}

/** The ground under a product, darker the nearer what is over it; null where nothing is near. */
export function shadowOf(parts: readonly Pick<Shown, "mesh">[], matrix: Matrix4): Shadow | null {
  const e = matrix.elements;
  const near: number[] = [];
  const [low, high] = [
    [Infinity, Infinity],
    [-Infinity, -Infinity],
  ] as [[number, number], [number, number]];
  for (const { mesh } of parts) {
    const p = placesAround(mesh);
    for (let at = 0; at < p.length; at += 3) {
      const [x, y, z] = [p[at]!, p[at + 1]!, p[at + 2]!];
      const up = e[2]! * x + e[6]! * y + e[10]! * z + e[14]!;
      if (up > 5 * REACH) continue;
      const across = e[0]! * x + e[4]! * y + e[8]! * z + e[12]!;
      const deep = e[1]! * x + e[5]! * y + e[9]! * z + e[13]!;
      near.push(across, deep, Math.exp(-Math.max(up, 0) / REACH));
      low[0] = Math.min(low[0], across);
      low[1] = Math.min(low[1], deep);
      high[0] = Math.max(high[0], across);
      high[1] = Math.max(high[1], deep);
    }
  }
  if (!near.length) return null;
  const [across, deep] = [high[0] - low[0] + 2 * AROUND, high[1] - low[1] + 2 * AROUND];
  const cell = Math.max(across, deep) / WIDE;
  const [wide, tall] = [Math.max(2, Math.round(across / cell)), Math.max(2, Math.round(deep / cell))];
  const dark = new Float32Array(wide * tall);
  for (let at = 0; at < near.length; at += 3) {
    const column = Math.min(wide - 1, Math.floor((near[at]! - low[0] + AROUND) / cell));
    const row = Math.min(tall - 1, Math.floor((near[at + 1]! - low[1] + AROUND) / cell));
    const place = row * wide + column;
    dark[place] = Math.max(dark[place]!, near[at + 2]!);
  }
  // the points of a mesh lie apart: what is between them is as dark, and all of it runs out softly
  let field = spread(dark, wide, tall, Math.ceil(3 / cell));
  for (let pass = 0; pass < 3; pass++) field = blurred(field, wide, tall, Math.max(1, Math.round(6 / cell)));
  const pixels = new Uint8Array(4 * wide * tall);
  for (let place = 0; place < field.length; place++) pixels[4 * place + 3] = Math.round(255 * DARKEST * field[place]!);
  return { pixels, wide, tall, x: (low[0] + high[0]) / 2, y: (low[1] + high[1]) / 2, across, deep };
}

/** Each place as the largest within a distance, row by row and column by column. */
function spread(field: Float32Array, wide: number, tall: number, reach: number): Float32Array {
  return alongBoth(field, wide, tall, reach, (values) => values.reduce((most, value) => Math.max(most, value), 0));
}

/** Each place as the mean within a distance; beyond the edge there is nothing. */
function blurred(field: Float32Array, wide: number, tall: number, reach: number): Float32Array {
  return alongBoth(
    field,
    wide,
    tall,
    reach,
    (values) => values.reduce((sum, value) => sum + value, 0) / (2 * reach + 1),
  );
}

function alongBoth(
  field: Float32Array,
  wide: number,
  tall: number,
  reach: number,
  of: (values: Float32Array) => number,
): Float32Array {
  const rows = new Float32Array(field.length);
  for (let row = 0; row < tall; row++)
    for (let column = 0; column < wide; column++)
      rows[row * wide + column] = of(
        field.subarray(row * wide + Math.max(0, column - reach), row * wide + Math.min(wide, column + reach + 1)),
      );
  const both = new Float32Array(field.length);
  const line = new Float32Array(tall);
  for (let column = 0; column < wide; column++) {
    for (let row = 0; row < tall; row++) line[row] = rows[row * wide + column]!;
    for (let row = 0; row < tall; row++)
      both[row * wide + column] = of(line.subarray(Math.max(0, row - reach), Math.min(tall, row + reach + 1)));
  }
  return both;
}
