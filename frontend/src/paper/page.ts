import { fetchArrays } from "../api/arrays";
import type { Shapes } from "../api/client";
import { tr } from "../words/words";
import type { WetStroke } from "./wetInk";

type Place = [left: number, top: number, width: number, height: number];

type TilesMeta = Shapes["Changed"] & {
  milliseconds: number;
  /** The selection where it was carried along. */
  selection?: unknown;
};

/** The page's pixels in the browser: the server's tiles and nothing else, and beside them the page as it is shown, with drying strokes. */
export class Page {
  private readonly tiles: OffscreenCanvasRenderingContext2D;
  private readonly shown: OffscreenCanvasRenderingContext2D;
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
    /** Carries out what changes the sheet, after all that was done to it before. */
    private readonly deliver: <T>(what: string, send: (request: string) => Promise<T>) => Promise<T>,
    /** Hears what an edit of the page changed beside its pixels, and from which head on. */
    private readonly onMade: (answered: Shapes["Changed"], from: number | undefined) => Promise<void>,
  ) {
    const bare = () => {
      const context = new OffscreenCanvas(width, height).getContext("2d", { alpha: false })!;
      context.fillStyle = paper;
      context.fillRect(0, 0, width, height);
      return context;
    };
    this.tiles = bare();
    this.shown = bare();
  }

  /** Brings the pixels to the document's head, fetching only tiles that differ from what is here. */
  follow(head: number | null): Promise<void> {
    return this.queued(async () => {
      if (this.head === head) return;
      const since = this.head === undefined ? "" : `?since=${this.head ?? 0}`;
      await this.take(`${this.address}/tiles${since}`);
    });
  }

  /** Draws the page as it is seen, in page px. */
  onto(context: CanvasRenderingContext2D): void {
    context.drawImage(this.shown.canvas, 0, 0);
  }

  /** Sends a finished stroke; its ink is shown over the page until the server's tiles come. */
  keep(stroke: WetStroke, where: "strokes" | "paint", query: URLSearchParams): Promise<void> {
    this.drying.push(stroke);
    stroke.onto(this.shown);
    this.onChange();
    return this.make("A line", `${where}?${query}`, stroke.bytes(), "application/octet-stream", stroke).then(
      () => undefined,
      (error) => {
        this.lift(stroke, []);
        this.onChange();
        throw error;
      },
    );
  }

  /** Asks for work that changes pixels (a fill, a gradient, a clearing), shows what it changed, says what else it gave. */
  ask(where: string, body: object): Promise<{ selection?: unknown }> {
    return this.make(tr("Your change"), where, JSON.stringify(body), "application/json");
  }

  /** Makes an edit; the answer brings all that differs from the head that is shown here, whoever changed it. */
  private make(what: string, where: string, body: BodyInit, type: string, dry?: WetStroke): Promise<TilesMeta> {
    return this.deliver(what, (request) =>
      this.queued(async () => {
        const from = this.head === undefined ? undefined : (this.head ?? 0);
        const headers: Record<string, string> = { "Content-Type": type, "X-Request": request };
        if (from !== undefined) headers["X-Seen"] = String(from);
        const meta = await this.take(`${this.address}/${where}`, { method: "POST", headers, body }, dry);
        await this.onMade(meta, from);
        return meta;
      }),
    );
  }

  private queued<T>(work: () => Promise<T>): Promise<T> {
    const next = this.sending.then(work, work);
    this.sending = next.catch(() => undefined);
    return next;
  }

  /** Shows places as they are without a stroke, and the place where it lay; what still dries is laid over them again. */
  private lift(dry: WetStroke | undefined, places: Place[]): void {
    this.drying = this.drying.filter((stroke) => stroke !== dry);
    if (dry?.all) places.push([dry.all.left, dry.all.top, dry.all.right - dry.all.left, dry.all.bottom - dry.all.top]);
    this.shown.save();
    this.shown.beginPath();
    for (const place of places) this.shown.rect(...place);
    this.shown.clip();
    this.shown.drawImage(this.tiles.canvas, 0, 0);
    for (const stroke of this.drying) stroke.onto(this.shown);
    this.shown.restore();
  }

  private async take(url: string, init?: RequestInit, dry?: WetStroke): Promise<TilesMeta> {
    const packed = await fetchArrays<TilesMeta>(url, init);
    const { meta } = packed;
    const rects = packed.array("rects", Int32Array);
    const bare = packed.array("bare", Uint8Array);
    const pixels = packed.array("pixels", Uint8Array);
    const places: Place[] = [];
    let at = 0;
    for (let tile = 0; tile < bare.length; tile++) {
      const place = placed(rects, tile);
      const [left, top, w, h] = place;
      places.push(place);
      if (bare[tile]) {
        this.tiles.fillStyle = this.paper;
        this.tiles.fillRect(left, top, w, h);
      } else {
        const part = new Uint8ClampedArray(pixels.buffer as ArrayBuffer, pixels.byteOffset + at, w * h * 4);
        this.tiles.putImageData(new ImageData(part, w, h), left, top);
        at += w * h * 4;
      }
    }
    this.lift(dry, places);
    this.head = meta.standing.head ?? null;
    this.milliseconds = meta.milliseconds;
    this.onChange();
    return meta;
  }
}

/** Left, top, width and height of a tile. */
function placed(rects: Int32Array, tile: number): Place {
  const [left, top] = [rects[4 * tile]!, rects[4 * tile + 1]!];
  return [left, top, rects[4 * tile + 2]! - left, rects[4 * tile + 3]! - top];
}
