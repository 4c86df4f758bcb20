import { tr } from "../words/words";
import { Problem, send } from "./client";

type Kind<Array extends ArrayBufferView = ArrayBufferView> = new (
  buffer: ArrayBuffer,
  offset: number,
  length: number,
) => Array;

const KINDS: Record<string, Kind> = {
  f4: Float32Array,
  f8: Float64Array,
  i1: Int8Array,
  i2: Int16Array,
  i4: Int32Array,
  u1: Uint8Array,
  u4: Uint32Array,
};

/** What the server's `web/packing.py` writes; arrays are views into the answer, nothing is copied. */
export class Packed<Meta> {
  readonly meta: Meta;
  private readonly arrays = new Map<string, ArrayBufferView>();

  constructor(buffer: ArrayBuffer) {
    const length = new DataView(buffer).getUint32(0, true);
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
    this.meta = header.meta;
    let offset = 4 + length;
    for (const { name, type, shape } of header.arrays as { name: string; type: string; shape: number[] }[]) {
      const count = shape.reduce((product, side) => product * side, 1);
      const Of = KINDS[type];
      if (!Of) throw new Problem(tr`The answer holds numbers of an unknown kind, ${type}. Reload the page.`);
      const array = new Of(buffer, offset, count);
      this.arrays.set(name, array);
      offset += Math.ceil(array.byteLength / 8) * 8;
    }
  }

  /** Whether there is an array of a name. */
  has(name: string): boolean {
    return this.arrays.has(name);
  }

  /** An array by its name, of the kind it has to be. */
  array<Array extends ArrayBufferView>(name: string, Of: Kind<Array>): Array {
    const found = this.arrays.get(name);
    if (!(found instanceof Of)) throw new Problem(tr`The answer does not hold ${name} as it should. Reload the page.`);
    return found;
  }
}

/** Fetches packed arrays. */
export async function fetchArrays<Meta>(url: string, init?: RequestInit): Promise<Packed<Meta>> {
  return new Packed<Meta>(await (await send(url, init)).arrayBuffer());
}
