/**
 * Ink that is still wet: drawn in the browser by the same rules as `core/ink` draws it for good.
 * Within a stroke the darkest dab wins; steps, radii, edges and the paper's tooth are the server's.
 */

export interface Nib {
  size: number;
  tone: number;
  thin: number;
  pale: number;
  soft: number;
  grain: number;
}

export const NIBS = {
  pencil: (size: number, tone: number): Nib => ({ size, tone, thin: 0.3, pale: 0.15, soft: 1.2, grain: 0.55 }),
  lifter: (size: number, tone: number): Nib => ({ size, tone, thin: 0.5, pale: 0.6, soft: 2, grain: 0 }),
};

/** Height of the paper at a pixel, 0 to 1. */
export function tooth(x: number, y: number): number {
  let h = (Math.imul(x, 374761393) + Math.imul(y, 668265263)) >>> 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177) >>> 0;
  return ((h ^ (h >>> 16)) & 0xffff) / 65535;
}

export interface Dirty {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** One stroke being drawn on a page of the given size. */
export class WetStroke {
  readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private readonly mask: Float32Array;
  private samples: number[] = [];
  private done = 0;
  all: Dirty | null = null;

  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly nib: Nib,
    private readonly colour: [number, number, number],
  ) {
    this.canvas = new OffscreenCanvas(width, height);
    this.context = this.canvas.getContext("2d")!;
    this.mask = new Float32Array(width * height);
  }

  /** Adds a sample (page px, pressure 0 to 1) and draws what it settles. */
  add(x: number, y: number, pressure: number): void {
    this.samples.push(Math.fround(x), Math.fround(y), Math.fround(pressure));
    this.draw(false);
  }

  /** Draws the end of the stroke. */
  finish(): void {
    this.draw(true);
  }

  private draw(last: boolean): void {
    const s = this.samples;
    const n = s.length / 3;
    let dirty: Dirty | null = null;
    // a piece around a sample is settled once the next sample is known
    for (; this.done < (last ? n : n - 1); this.done++) {
      const i = 3 * this.done;
      const [cx, cy, cp] = [s[i], s[i + 1], s[i + 2]];
      const first = this.done === 0;
      const end = this.done === n - 1;
      const ax = first ? cx : (s[i - 3] + cx) / 2;
      const ay = first ? cy : (s[i - 2] + cy) / 2;
      const ap = first ? cp : (s[i - 1] + cp) / 2;
      const bx = end ? cx : (s[i + 3] + cx) / 2;
      const by = end ? cy : (s[i + 4] + cy) / 2;
      const bp = end ? cp : (s[i + 5] + cp) / 2;
      const length = Math.hypot(cx - ax, cy - ay) + Math.hypot(bx - cx, by - cy);
      const radius = (this.nib.size / 2) * (this.nib.thin + (1 - this.nib.thin) * cp);
      const steps = Math.ceil(length / Math.max(0.4, 0.25 * radius));
      for (let k = 0; k < steps + (end ? 1 : 0); k++) {
        const t = steps ? k / steps : 0;
        const u = 1 - t;
        const box = this.stamp(
          u * u * ax + 2 * u * t * cx + t * t * bx,
          u * u * ay + 2 * u * t * cy + t * t * by,
          u * u * ap + 2 * u * t * cp + t * t * bp,
        );
        dirty = joined(dirty, box);
      }
    }
    if (dirty) this.paint(dirty);
  }

  private stamp(x: number, y: number, pressure: number): Dirty {
    const { size, tone, thin, pale, soft, grain } = this.nib;
    const p = Math.min(Math.max(pressure, 0), 1);
    const radius = (size / 2) * (thin + (1 - thin) * p);
    let strength = tone * (pale + (1 - pale) * p);
    const bite = grain * (1 - p);
    const half = soft / 2;
    if (radius < half) strength *= (radius + half) / soft;
    const reach = radius + half;
    const box = {
      left: Math.max(0, Math.floor(x - reach)),
      top: Math.max(0, Math.floor(y - reach)),
      right: Math.min(this.width, Math.ceil(x + reach) + 1),
      bottom: Math.min(this.height, Math.ceil(y + reach) + 1),
    };
    for (let row = box.top; row < box.bottom; row++) {
      for (let column = box.left; column < box.right; column++) {
        const distance = Math.hypot(column + 0.5 - x, row + 0.5 - y);
        if (distance >= reach) continue;
        let value = strength * Math.min(1, (reach - distance) / soft);
        if (bite > 0) value *= 1 - bite * tooth(column, row);
        const at = row * this.width + column;
        if (value > this.mask[at]) this.mask[at] = value;
      }
    }
    return box;
  }

  private paint(box: Dirty): void {
    const [w, h] = [box.right - box.left, box.bottom - box.top];
    if (w <= 0 || h <= 0) return;
    this.all = joined(this.all, box);
    const image = this.context.createImageData(w, h);
    const [red, green, blue] = this.colour;
    let at = 0;
    for (let row = box.top; row < box.bottom; row++) {
      for (let column = box.left; column < box.right; column++, at += 4) {
        image.data[at] = red;
        image.data[at + 1] = green;
        image.data[at + 2] = blue;
        image.data[at + 3] = Math.round(this.mask[row * this.width + column] * 255);
      }
    }
    this.context.putImageData(image, box.left, box.top);
  }

  /** Samples as the server wants them: float32 x, y, pressure. */
  bytes(): Float32Array<ArrayBuffer> {
    return new Float32Array(this.samples);
  }
}

function joined(a: Dirty | null, b: Dirty): Dirty {
  if (!a) return { ...b };
  return {
    left: Math.min(a.left, b.left),
    top: Math.min(a.top, b.top),
    right: Math.max(a.right, b.right),
    bottom: Math.max(a.bottom, b.bottom),
  };
}
