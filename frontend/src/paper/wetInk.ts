/**
 * Ink that is still wet: drawn in the browser by the same rules as `core/ink` draws it for good.
 * Within a stroke the darkest dab wins, or builds up where the nib has a flow; steps, radii, edges and the paper's
 * tooth are the server's.
 */
import { type Nib, PATTERNS } from "./nibs";
import type { Copy } from "./symmetry";

const LEAN_WIDENS = 3;
const LEAN_PALES = 1.5;

/** Height of the paper at a place of a grid, 0 to 1. */
function bump(x: number, y: number): number {
  let h = (Math.imul(x, 374761393) + Math.imul(y, 668265263)) >>> 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177) >>> 0;
  return ((h ^ (h >>> 16)) & 0xffff) / 65535;
}

/** Height of the paper at a pixel, 0 to 1, with a bump every so many px. */
export function tooth(x: number, y: number, every: number): number {
  if (every <= 1) return bump(x, y);
  const [gx, gy] = [(x + 0.5) / every, (y + 0.5) / every];
  const [i, j] = [Math.floor(gx), Math.floor(gy)];
  const [u, v] = [gx - i, gy - j];
  const upper = bump(i, j) * (1 - u) + bump(i + 1, j) * u;
  const lower = bump(i, j + 1) * (1 - u) + bump(i + 1, j + 1) * u;
  return Math.min(1, Math.max(0, 0.5 + 1.7 * (upper * (1 - v) + lower * v - 0.5)));
}

/** A line being drawn: its samples, how many are settled, how far the last dab lies along it and where. */
interface Path {
  samples: number[];
  done: number;
  along: number;
  last: [number, number] | null;
}

const newPath = (): Path => ({ samples: [], done: 0, along: 0, last: null });

/** Whether a broken line has ink so many px along it; see `core/ink/path.broken`. */
export function isInk(nib: Nib, along: number): boolean {
  const pattern = PATTERNS[nib.line];
  if (!pattern.length) return true;
  const ends = pattern.map((_, k) => pattern.slice(0, k + 1).reduce((sum, piece) => sum + piece, 0));
  const at = (along / Math.max(2.5, nib.size)) % ends.at(-1)!;
  return ends.findIndex((end) => at < end) % 2 === 0;
}

export interface Dirty {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** How a stroke will lie on the page once it is dry. */
export interface Look {
  /** Outlines the ink shows inside of, all of them. */
  clips: Path2D[];
  blend: GlobalCompositeOperation;
  alpha: number;
}

export const PLAIN: Look = { clips: [], blend: "source-over", alpha: 1 };

/** Coverage masks are as large as the page: they are handed on from stroke to stroke, wiped where they were used. */
const masks = new Map<number, Float32Array[]>();

/** One stroke being drawn on a page of the given size, with its copies under a symmetry. */
export class WetStroke {
  /** What is drawn of the stroke, from `corner` of the page on. */
  private canvas: OffscreenCanvas;
  private corner = { x: 0, y: 0 };
  private readonly context: OffscreenCanvasRenderingContext2D;
  private mask: Float32Array;
  private readonly own = newPath();
  private readonly copied: { copy: Copy; path: Path }[];
  all: Dirty | null = null;

  constructor(
    private readonly width: number,
    private readonly height: number,
    readonly nib: Nib,
    private readonly colour: [number, number, number],
    copies: Copy[] = [],
    private readonly look: Look = PLAIN,
  ) {
    this.canvas = new OffscreenCanvas(width, height);
    this.context = this.canvas.getContext("2d")!;
    this.mask = masks.get(width * height)?.pop() ?? new Float32Array(width * height);
    this.copied = copies.map((copy) => ({ copy, path: newPath() }));
  }

  get length(): number {
    return this.own.samples.length / 4;
  }

  /** Draws the stroke over what is there, in page px. */
  onto(context: OffscreenCanvasRenderingContext2D | CanvasRenderingContext2D): void {
    const box = this.all;
    if (!box) return;
    const [w, h] = [box.right - box.left, box.bottom - box.top];
    context.save();
    for (const clip of this.look.clips) context.clip(clip, "evenodd");
    context.globalCompositeOperation = this.look.blend;
    context.globalAlpha = this.look.alpha;
    const { x, y } = this.corner;
    context.drawImage(this.canvas, box.left - x, box.top - y, w, h, box.left, box.top, w, h);
    context.restore();
  }

  /** Adds a sample (page px, pressure and lean 0 to 1) and draws what it settles. */
  add(x: number, y: number, pressure: number, lean = 0): void {
    this.own.samples.push(Math.fround(x), Math.fround(y), Math.fround(pressure), Math.fround(lean));
    for (const { copy, path } of this.copied) path.samples.push(...copy(x, y), pressure, lean);
    this.draw(false);
  }

  /** Draws the end of the stroke; nothing can be added after it. */
  finish(): void {
    this.draw(true);
    const box = this.all;
    if (box) {
      for (let row = box.top; row < box.bottom; row++) this.wipe(row, box);
      // it may have to wait long for the server: only what is drawn of it is kept
      const cut = new OffscreenCanvas(box.right - box.left, box.bottom - box.top);
      cut.getContext("2d")!.drawImage(this.canvas, -box.left, -box.top);
      this.canvas = cut;
      this.corner = { x: box.left, y: box.top };
    }
    const kept = masks.get(this.width * this.height) ?? [];
    masks.set(this.width * this.height, [...kept, this.mask].slice(-2));
  }

  private wipe(row: number, box: Dirty): void {
    this.mask.fill(0, row * this.width + box.left, row * this.width + box.right);
  }

  private draw(last: boolean): void {
    for (const path of [this.own, ...this.copied.map((one) => one.path)]) {
      const dirty = this.drawPath(path, last);
      if (dirty) this.paint(dirty);
    }
  }

  private drawPath(path: Path, last: boolean): Dirty | null {
    const n = path.samples.length / 4;
    let dirty: Dirty | null = null;
    // a piece around a sample is settled once the next sample is known
    for (; path.done < (last ? n : n - 1); path.done++) {
      const end = path.done === n - 1;
      const s = sampleOf(path.samples, path.done);
      const a = path.done === 0 ? s : between(sampleOf(path.samples, path.done - 1), s);
      const b = end ? s : between(s, sampleOf(path.samples, path.done + 1));
      const length = Math.hypot(s[0] - a[0], s[1] - a[1]) + Math.hypot(b[0] - s[0], b[1] - s[1]);
      const radius = (this.nib.size / 2) * (this.nib.thin + (1 - this.nib.thin) * s[2]);
      const steps = Math.ceil(length / Math.max(0.4, 0.25 * radius));
      for (let k = 0; k < steps + (end ? 1 : 0); k++) {
        const t = steps ? k / steps : 0;
        const u = 1 - t;
        const at = (j: 0 | 1 | 2 | 3) => u * u * a[j] + 2 * u * t * s[j] + t * t * b[j];
        const [x, y] = [at(0), at(1)];
        if (path.last) path.along += Math.hypot(x - path.last[0], y - path.last[1]);
        path.last = [x, y];
        if (isInk(this.nib, path.along)) dirty = joined(dirty, this.stamp(x, y, at(2), at(3)));
      }
    }
    return dirty;
  }

  private stamp(x: number, y: number, pressure: number, leaning: number): Dirty {
    const { size, tone, thin, pale, soft, grain, tooth: every, flow, lean } = this.nib;
    const p = Math.min(Math.max(pressure, 0), 1);
    const slant = lean * Math.min(Math.max(leaning, 0), 1);
    const radius = (size / 2) * (thin + (1 - thin) * p) * (1 + LEAN_WIDENS * slant);
    let strength = (tone * (pale + (1 - pale) * p)) / (1 + LEAN_PALES * slant);
    const bite = every <= 1 ? grain * (1 - p * (1 - 0.6 * slant)) : grain * (1 - 0.55 * p);
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
        let share: number;
        if (soft > 0) share = Math.min(1, (reach - distance) / soft);
        else {
          const inside = 1 - (distance / reach) * (distance / reach);
          share = inside * inside;
        }
        if (bite > 0) share *= 1 - bite * tooth(column, row, every);
        const at = row * this.width + column;
        const now = this.mask[at]!;
        if (flow > 0) {
          if (now < strength) this.mask[at] = now + (strength - now) * flow * share;
        } else if (strength * share > now) this.mask[at] = strength * share;
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
        image.data[at + 3] = Math.round(this.mask[row * this.width + column]! * 255);
      }
    }
    this.context.putImageData(image, box.left, box.top);
  }

  /** Samples as the server wants them: float32 x, y, pressure, lean. */
  bytes(): Float32Array<ArrayBuffer> {
    return new Float32Array(this.own.samples);
  }
}

type Sample = [x: number, y: number, pressure: number, lean: number];

function sampleOf(samples: number[], index: number): Sample {
  const at = 4 * index;
  return [samples[at]!, samples[at + 1]!, samples[at + 2]!, samples[at + 3]!];
}

function between(a: Sample, b: Sample): Sample {
  return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2, (a[3] + b[3]) / 2];
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
