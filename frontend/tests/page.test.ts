/** The page's pixels: tiles are the server's, and what waits for the server is only shown. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { nibOf } from "../src/paper/nibs";
import { Page } from "../src/paper/page";
import { WetStroke } from "../src/paper/wetInk";

/** A canvas that remembers what was done to it. */
class Board {
  static made: Board[] = [];
  readonly done: string[] = [];

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    Board.made.push(this);
  }

  getContext() {
    return recorder(this.done);
  }
}

function recorder(done: string[]): CanvasRenderingContext2D {
  const known: Record<string, unknown> = {
    createImageData: (w: number, h: number) => ({ data: new Uint8ClampedArray(4 * w * h) }),
  };
  return new Proxy(known, {
    get: (_, name: string) =>
      known[name] ??
      ((...given: unknown[]) => done.push(`${name} ${given.filter((one) => typeof one === "number").join(" ")}`)),
  }) as unknown as CanvasRenderingContext2D;
}

function drawnLine(): WetStroke {
  const stroke = new WetStroke(400, 300, nibOf("fineliner", 6, 0.9, "plain"), [0, 0, 0]);
  for (const x of [100, 120, 140]) stroke.add(x, 50, 0.8);
  stroke.finish();
  return stroke;
}

describe("a line that waits for the server", () => {
  let settle: { answer: () => void; refuse: (error: Error) => void };
  let page: Page;
  const changed = vi.fn();
  beforeEach(() => {
    vi.stubGlobal("OffscreenCanvas", Board);
    Board.made = [];
    const deliver = <T>() =>
      new Promise<T>((answer, refuse) => {
        settle = { answer: () => answer(undefined as T), refuse };
      });
    page = new Page("/sheet", 400, 300, "#fffefa", changed, deliver, async () => undefined);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    changed.mockClear();
  });

  it("is drawn into what is shown and never among the server's tiles, so that nothing of it can stay", async () => {
    const [tiles, shown] = Board.made as [Board, Board];
    const stroke = drawnLine();
    const kept = page.keep(stroke, "strokes", new URLSearchParams());
    expect(shown.done.filter((call) => call.startsWith("drawImage"))).toHaveLength(1);
    expect(changed).toHaveBeenCalledOnce();
    shown.done.length = 0;
    settle.refuse(new Error("“Rough” is locked."));
    await expect(kept).rejects.toThrow("locked");
    const { left, top, right, bottom } = stroke.all!;
    const away = [
      "save ",
      "beginPath ",
      `rect ${left} ${top} ${right - left} ${bottom - top}`,
      "clip ",
      "drawImage 0 0",
    ];
    expect(shown.done, "the tiles are shown again where it lay").toEqual([...away, "restore "]);
    expect(changed, "the page is drawn without it").toHaveBeenCalledTimes(2);
    expect(tiles.done).toEqual(["fillRect 0 0 400 300"]);
  });

  it("keeps no more than it covers, and lies where it was drawn", () => {
    const stroke = drawnLine();
    const cut = Board.made.at(-1)!;
    expect(cut.width).toBeLessThan(60);
    expect(cut.height).toBeLessThan(20);
    const { left, top, right, bottom } = stroke.all!;
    expect([right - left, bottom - top]).toEqual([cut.width, cut.height]);
    expect(cut.done).toEqual([`drawImage ${-left} ${-top}`]);
    const done: string[] = [];
    stroke.onto(recorder(done));
    const [w, h] = [cut.width, cut.height];
    expect(done).toContain(`drawImage 0 0 ${w} ${h} ${left} ${top} ${w} ${h}`);
  });
});
