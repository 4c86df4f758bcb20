import { fetchArrays } from "../api/arrays";
import type { Shapes } from "../api/client";
import type { WetStroke } from "./wetInk";

interface TilesMeta {
  standing: Shapes["Standing"];
  milliseconds: number;
  /** The selection where it was carried along. */
  selection?: unknown;
}

/** The page's pixels in the browser: tiles from the server with drying strokes laid over until their tiles come. */
export class Page {
  readonly canvas: OffscreenCanvas;
  private readonly context: OffscreenCanvasRenderingContext2D;
  private drying: WetStroke[] = [];
  private sending: Promise<unknown> = Promise.resolve();
  head: number | null | undefined;
  milliseconds = 0;

  constructor(
    readonly address: string,
    readonly width: number,
    readonly height: number,
    private readonly paper: string,
    private readonly onChange: () => void,
  ) {
    this.canvas = new OffscreenCanvas(width, height);
    this.context = this.canvas.getContext("2d", { alpha: false })!;
    this.context.fillStyle = paper;
    this.context.fillRect(0, 0, width, height);
  }

  /** Brings the pixels to the document's head, fetching only tiles that differ from what is here. */
  follow(head: number | null): Promise<void> {
    return this.queued(async () => {
      if (this.head === head) return;
      const since = this.head === undefined ? "" : `?since=${this.head ?? 0}`;
      await this.take(`${this.address}/tiles${since}`);
    });
  }

  /** Sends a finished stroke; its ink dries on the page at once and is exchanged for the server's tiles. */
  keep(stroke: WetStroke, where: "strokes" | "paint", query: URLSearchParams): Promise<void> {
    this.drying.push(stroke);
    stroke.onto(this.context);
    this.onChange();
    return this.queued(async () => {
      try {
        await this.take(`${this.address}/${where}?${query}`, { method: "POST", body: stroke.bytes() }, stroke);
      } catch (error) {
        this.drying = this.drying.filter((other) => other !== stroke);
        this.head = undefined;
        await this.take(`${this.address}/tiles`);
        throw error;
      }
    });
  }

  /** Asks for work that changes pixels (a fill, a gradient, a clearing), shows what it changed, says what else it gave. */
  ask(where: string, body: object): Promise<{ selection?: unknown }> {
    return this.queued(async () => {
      const headers = { "Content-Type": "application/json" };
      return this.take(`${this.address}/${where}`, { method: "POST", headers, body: JSON.stringify(body) });
    });
  }

  private queued<T>(work: () => Promise<T>): Promise<T> {
    const next = this.sending.then(work, work);
    this.sending = next.catch(() => undefined);
    return next;
  }

  private async take(url: string, init?: RequestInit, dry?: WetStroke): Promise<TilesMeta> {
    const { meta, arrays } = await fetchArrays<TilesMeta>(url, init);
    const rects = arrays.rects as Int32Array;
    const bare = arrays.bare as Uint8Array;
    const pixels = arrays.pixels as Uint8Array;
    let at = 0;
    for (let tile = 0; tile < bare.length; tile++) {
      const [left, top, right, bottom] = rects.subarray(4 * tile, 4 * tile + 4);
      const [w, h] = [right - left, bottom - top];
      if (bare[tile]) {
        this.context.fillStyle = this.paper;
        this.context.fillRect(left, top, w, h);
      } else {
        const part = new Uint8ClampedArray(pixels.buffer as ArrayBuffer, pixels.byteOffset + at, w * h * 4);
        this.context.putImageData(new ImageData(part, w, h), left, top);
        at += w * h * 4;
      }
    }
    this.drying = this.drying.filter((stroke) => stroke !== dry);
    for (const stroke of this.drying) stroke.onto(this.context);
    this.head = meta.standing.head ?? null;
    this.milliseconds = meta.milliseconds;
    this.onChange();
    return meta;
  }
}
