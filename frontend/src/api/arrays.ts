import { send } from "./client";

const TYPES: Record<string, new (buffer: ArrayBuffer, offset: number, length: number) => ArrayBufferView> = {
  f4: Float32Array,
  f8: Float64Array,
  i2: Int16Array,
  i4: Int32Array,
  u1: Uint8Array,
  u4: Uint32Array,
};

export interface Packed<Meta> {
  meta: Meta;
  arrays: Record<string, ArrayBufferView>;
}

/** Reads what the server's `web/packing.py` writes; arrays are views into the answer, nothing is copied. */
export function unpack<Meta>(buffer: ArrayBuffer): Packed<Meta> {
  const length = new DataView(buffer).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
  let offset = 4 + length;
  const arrays: Record<string, ArrayBufferView> = {};
  for (const { name, type, shape } of header.arrays as { name: string; type: string; shape: number[] }[]) {
    const count = shape.reduce((product, side) => product * side, 1);
    const array = new TYPES[type](buffer, offset, count);
    arrays[name] = array;
    offset += Math.ceil(array.byteLength / 8) * 8;
  }
  return { meta: header.meta, arrays };
}

/** Fetches packed arrays. */
export async function fetchArrays<Meta>(url: string, init?: RequestInit): Promise<Packed<Meta>> {
  return unpack<Meta>(await (await send(url, init)).arrayBuffer());
}
