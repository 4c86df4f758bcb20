/** Sketch by hand on a real server: what gestures become, told by the document and the server's page. */
import { act, screen, within } from "@testing-library/react";
import { decode } from "fast-png";
import { describe, expect, it, vi } from "vitest";
import { count, Desk, type Spot, until } from "./desk";
import { CANVAS } from "./dom";

const WIDE = 2400;
const TALL = 1600;
const SCALE = Math.min((CANVAS.width - 48) / WIDE, (CANVAS.height - 48) / TALL);
/** A place of the page on the screen. */
const at = (x: number, y: number): Spot => [
  (CANVAS.width - WIDE * SCALE) / 2 + x * SCALE,
  (CANVAS.height - TALL * SCALE) / 2 + y * SCALE,
];
const line = (from: Spot, to: Spot, steps = 24): Spot[] =>
  Array.from({ length: steps + 1 }, (_, k) =>
    at(from[0] + ((to[0] - from[0]) * k) / steps, from[1] + ((to[1] - from[1]) * k) / steps),
  );
const ring = (x: number, y: number, across: number, down = across, begin = 0): Spot[] =>
  Array.from({ length: 50 }, (_, k) => {
    const angle = begin + (2 * Math.PI * k) / 49;
    return at(x + across * Math.cos(angle), y + down * Math.sin(angle));
  });
const PEN = { pointerType: "pen", pressure: 0.9 };

/** The server's page, and the places of it that hold something. */
async function page(desk: Desk) {
  const bytes = await desk.bytes(`/sheets/${desk.document("Sketch")}/page.png`);
  const { data, width, height, channels } = decode(bytes);
  const value = (x: number, y: number) => [0, 1, 2].map((channel) => data[(y * width + x) * channels + channel]!);
  const where = (holds: (red: number, x: number, y: number) => boolean) => {
    const found: Spot[] = [];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (holds(data[(y * width + x) * channels]!, x, y)) found.push([x, y]);
    return found;
  };
  return { width, height, data, value, where, ink: (below: number) => where((red) => red < below) };
}

/** Compared as bytes: a matcher would look at eleven million numbers one by one. */
const same = (a: { data: ArrayLike<number> }, b: { data: ArrayLike<number> }) =>
  Buffer.compare(Buffer.from(a.data as Uint8Array), Buffer.from(b.data as Uint8Array)) === 0;
const spread = (places: Spot[], axis: 0 | 1) =>
  places.reduce((high, place) => Math.max(high, place[axis]), -Infinity) -
  places.reduce((low, place) => Math.min(low, place[axis]), Infinity);
const mean = (places: Spot[], axis: 0 | 1) => places.reduce((sum, place) => sum + place[axis] / places.length, 0);

const edits = (count: number) =>
  until(() => expect(screen.getByTestId("sentence").parentElement!.textContent).toMatch(new RegExp(`${count} edits?`)));

async function toneLayer(desk: Desk): Promise<void> {
  await desk.key("Shift+N");
  await desk.sentence("Moved a layer in the order");
}

describe("guides", () => {
  it("hold ink to a straightedge and an ellipse until they are switched off", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("g");
    await desk.stroke(line([440, 340], [1660, 340], 4));
    await desk.sentence("Laid a straightedge on the page");
    await desk.key("o");
    await desk.stroke(line([1200, 980], [1626, 1194], 4));
    await desk.sentence("Laid an ellipse on the page");
    expect(count("guide")).toBe(2);
    await desk.key("y");
    const shaky = Array.from({ length: 38 }, (_, k) => at(470 + 30 * k, 340 + (k % 2 ? 18 : -18)));
    await desk.stroke(shaky, PEN);
    await desk.sentence("Drew with the fineliner");
    expect(spread((await page(desk)).ink(215), 1), "as straight as the edge").toBeLessThanOrEqual(5);
    await desk.stroke(ring(1200, 980, 445, 195, 0.6), PEN);
    await edits(4);
    const guide = (await desk.body("Sketch")).guides[1];
    const ink = (await page(desk)).where((red, _, y) => red < 215 && y >= 600);
    const away = ink.map(([x, y]) =>
      Math.hypot((x + 0.5 - guide.centre[0]) / guide.across, (y + 0.5 - guide.centre[1]) / guide.down),
    );
    expect(away.length).toBeGreaterThan(1000);
    expect(away.reduce((most, one) => Math.max(most, Math.abs(one - 1)), 0)).toBeLessThan(0.03);
    await desk.key("h");
    await desk.stroke([at(590, 340), at(740, 490), at(900, 520)], PEN);
    await edits(5);
    const free = (await page(desk)).where((red, _, y) => red < 128 && y < 700);
    expect(spread(free, 1), "nothing holds the line now").toBeGreaterThan(100);
    await desk.grab("Move the straightedge’s end", 0, 74);
    await desk.sentence("Laid a straightedge on the page");
    await desk.press("Take away guide 2");
    await desk.sentence("Took a guide off the page");
    expect(count("guide")).toBe(1);
  });

  it("divide a rectangle, carry it on, and fit a sweep", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("Shift+D");
    await desk.stroke(line([400, 400], [1000, 900], 4));
    await desk.sentence("Laid a division");
    await desk.grab("Move the division’s second corner", 0, 30);
    await edits(2);
    expect(Math.abs((await desk.body("Sketch")).guides[0].quad[1][1] - (400 + 30 / SCALE))).toBeLessThan(4);
    await desk.fill("Carried on across, guide 1", "1");
    await until(async () => expect((await desk.body("Sketch")).drafted.guides[0].lines).toHaveLength(5 + 3));
    await desk.key("Shift+G");
    await desk.stroke(line([1750, 300], [2050, 700], 4));
    await desk.sentence("Laid a sweep curve");
    await desk.grab("Turn and size the sweep curve", 30, -10);
    await desk.press(/flip/i, "switch");
    await until(async () => expect((await desk.body("Sketch")).guides[1].flipped).toBe(true));
    await desk.press("hyperbola", "radio");
    await until(() => expect(screen.getByRole("radio", { name: "hyperbola" }).ariaChecked).toBe("true"));
    await edits(7);
    const curve: Spot[] = (await desk.body("Sketch")).drafted.guides[1].lines[0];
    await desk.key("y");
    const along = curve.slice(20, -20).filter((_, k) => k % 8 === 0);
    await desk.stroke(
      along.map(([x, y], k) => at(x + 14 * Math.sin(k), y + 14 * Math.cos(k))),
      PEN,
    );
    await desk.sentence("Drew with the fineliner");
    const beside = (await page(desk))
      .ink(200)
      .map(([x, y]) => Math.min(...curve.map(([cx, cy]) => Math.hypot(x + 0.5 - cx, y + 0.5 - cy))));
    expect(beside.length).toBeGreaterThan(50);
    expect(Math.max(...beside), "it lies on the curve").toBeLessThan(9);
  });

  it("are a construction box that is sized, moved and drawn on", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("Shift+B");
    await desk.press("Set three points");
    await desk.press("Set a box in");
    await desk.sentence("Set a construction box of 60 × 40 × 100 mm");
    await desk.fill("Box W", "62");
    await desk.sentence("62 × 40 × 100 mm");
    const before = (await desk.body("Sketch")).box.at;
    await desk.grab("Move the construction box", 40, -20);
    await edits(4);
    const moved = (await desk.body("Sketch")).box.at;
    expect(Math.abs(moved[0] - before[0] - 40 / SCALE)).toBeLessThan(4);
    expect(Math.abs(moved[1] - before[1] + 20 / SCALE)).toBeLessThan(4);
    await desk.grab("Bring the construction box nearer or farther", 0, -60);
    await edits(5);
    // a circle on its front: a true projected circle, whatever the hand's drag looks like
    await desk.key("Shift+O");
    await desk.choose("Face", "front");
    const faces: { face: string; quad: Spot[] }[] = (await desk.body("Sketch")).drafted.box.faces;
    const { quad } = faces.find(({ face }) => face === "front")!;
    const middle: Spot = [mean(quad, 0), mean(quad, 1)];
    const edge = middle.map((value, axis) => value + (quad[1]![axis]! - value) * 0.3) as Spot;
    await desk.stroke(line(middle, edge, 4));
    await desk.sentence("Laid a circle on a face");
    expect((await desk.body("Sketch")).guides[0]).toMatchObject({ face: "front", kind: "circle" });
    await desk.fill("Radius, guide 1", "12");
    await until(async () => expect((await desk.body("Sketch")).guides[0].radius).toBe(12));
    await desk.key("Shift+D");
    await desk.stroke([at(...middle)]);
    await desk.sentence("Laid a division");
    await desk.fill("Parts across, guide 2", "3");
    await until(async () => expect((await desk.body("Sketch")).drafted.guides[1].lines).toHaveLength(4 + 3));
    await desk.key("Shift+B");
    await desk.press("Take the box away");
    await desk.sentence("Took the construction box away");
    expect((await desk.body("Sketch")).guides).toEqual([]);
  });

  it("are a perspective whose points are dragged and whose directions hold lines", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("v");
    await desk.press("2 points", "radio");
    await desk.sentence("Set a two-point perspective");
    expect(screen.getByTestId("perspective-grid")).toBeTruthy();
    const before = (await desk.body("Sketch")).drafted.vanishing;
    await desk.grab("Drag the far vanishing point of W", 24, 0);
    await edits(2);
    const after: [number, number, number][] = (await desk.body("Sketch")).drafted.vanishing;
    expect(after[0]![0]).toBeGreaterThan(before[0][0] + 40);
    expect(after[1]![0]).toBeCloseTo(before[1][0], 6);
    await desk.press("Lines hold to directions", "switch");
    await desk.key("y");
    const start: Spot = [1000, 1088];
    const shaky = Array.from({ length: 40 }, (_, k) => at(1000 + 14 * k, 1100 + (k % 2 ? 12 : -12) - 3 * k));
    await desk.stroke(shaky, PEN);
    await desk.sentence("Drew with the fineliner");
    const ink = (await page(desk)).ink(215);
    expect(ink.length).toBeGreaterThan(300);
    const off = after.map(([x, y, w]) => {
      const way = w ? [x - start[0], y - start[1]] : [x, y];
      const far = ink.map(([px, py]) => Math.abs((px + 0.5 - start[0]) * way[1]! - (py + 0.5 - start[1]) * way[0]!));
      return far.reduce((most, one) => Math.max(most, one), 0) / Math.hypot(...way);
    });
    expect(Math.min(...off), "as straight as its direction").toBeLessThan(5);
    // what no real view has is refused in words, and nothing changes
    await desk.key("v");
    await desk.press("3 points", "radio");
    await desk.sentence("Set a three-point perspective");
    await desk.grab("Drag the far vanishing point of H", 0, -240);
    await desk.refused("acute");
  });
});

describe("lines", () => {
  it("are picked, moved, pulled, recoloured and cut", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(line([740, 800], [1660, 800], 30), PEN);
    await desk.sentence("Drew with the pencil");
    await desk.key("p");
    await desk.click(at(1200, 800));
    await until(() => expect(count("picked-line")).toBe(1));
    await desk.stroke(line([1200, 800], [1200, 980], 6));
    await desk.sentence("Moved a line");
    expect(Math.abs(mean((await page(desk)).ink(200), 1) - 980)).toBeLessThan(6);
    await desk.press("pulls", "radio");
    await desk.stroke(line([1200, 980], [1200, 770], 6));
    await desk.sentence("Pulled on a line");
    expect(spread((await page(desk)).ink(200), 1)).toBeGreaterThan(150);
    await desk.click(at(746, 980));
    await until(() => expect(count("picked-line")).toBe(1));
    await desk.press("Grey 4");
    await desk.press("Recolour");
    await desk.sentence("Recoloured a line");
    await desk.fill("Width to", "300");
    await desk.sentence("Made a line wider");
    await desk.key("Shift+X");
    await desk.stroke(ring(895, 980, 60));
    await desk.sentence("Cut a piece out of a line");
    const gap = (await page(desk)).where((red, x) => red < 200 && x > 870 && x < 920);
    expect(gap).toEqual([]);
    await desk.key("p");
    await desk.stroke(ring(1200, 860, 560));
    await until(() => expect(count("picked-line")).toBe(2));
    await desk.key("Delete");
    await desk.sentence("Removed 2 lines");
    expect((await page(desk)).ink(200)).toEqual([]);
  });

  it("are mirrored, lifted and undone", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("j");
    await desk.sentence("Drew with the axis of symmetry");
    await desk.stroke(line([1380, 680], [1560, 920]), PEN);
    await desk.sentence("Drew with the pencil on both sides");
    const drawn = await page(desk);
    const ink = drawn.ink(200);
    const rows = (side: Spot[]) => [...new Set(side.map(([, y]) => y))];
    const [left, right] = [ink.filter(([x]) => x < 1200), ink.filter(([x]) => x >= 1200)];
    expect(rows(left)).toEqual(rows(right));
    expect(Math.abs(left.length - right.length)).toBeLessThan(60);
    await desk.key("e");
    for (let k = 0; k < 3; k++) await desk.key("]");
    await desk.stroke(line([1320, 800], [1780, 800]), { ...PEN, pressure: 1 });
    await desk.sentence("Lifted ink on both sides");
    expect((await page(desk)).ink(200).length).toBeLessThan(ink.length);
    await desk.key("Control+z");
    await desk.sentence("Drew with the pencil on both sides");
    expect(same(await page(desk), drawn)).toBe(true);
    await desk.grab("Move the axis", 73, 0);
    await desk.sentence("Drew with the axis");
    await until(() => expect(desk.field("Axis across")).not.toBe("1200"));
  });

  it("go around a centre", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("j");
    await desk.sentence("Drew with the axis of symmetry");
    await desk.fill("Times around", "6");
    await desk.sentence("Set symmetry to 6 around");
    await desk.press("Mirror", "switch");
    await desk.stroke(line([1322, 782], [1506, 830], 16), PEN);
    await desk.sentence("Drew with the pencil, 6 times around");
    const counts = [0, 0, 0, 0, 0, 0];
    for (const [x, y] of (await page(desk)).ink(170)) {
      const away = Math.hypot(y - 800, x - 1200);
      const angle = (Math.atan2(y - 800, x - 1200) + 0.3 + 2 * Math.PI) % (2 * Math.PI);
      if (away > 150 && away < 280) counts[Math.floor(angle / (Math.PI / 3))]!++;
    }
    expect(Math.min(...counts)).toBeGreaterThan(0.8 * Math.max(...counts));
    expect(Math.min(...counts)).toBeGreaterThan(0);
  });

  it("are drawn in a sprint that leaves only the page and ends by itself", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("Shift+S");
    await desk.fill("Minutes", "1");
    vi.useFakeTimers({ shouldAdvanceTime: true });
    await desk.press("Begin");
    await until(() => expect(screen.queryByRole("navigation", { name: "Tools" })).toBeNull());
    expect(screen.queryByRole("complementary", { name: "Inspector" })).toBeNull();
    expect(screen.getByTestId("sprint").textContent).toMatch(/^(1:0|0:5)\d$/);
    await desk.stroke(line([900, 800], [1500, 800]), PEN);
    await vi.advanceTimersByTimeAsync(61_000);
    vi.useRealTimers();
    await until(() => screen.getByRole("navigation", { name: "Tools" }));
    await desk.sentence("Drew with the pencil");
  });
});

describe("tone", () => {
  it("is painted inside a lasso and tinted later", async () => {
    const desk = await Desk.at("Sketch");
    await toneLayer(desk);
    await desk.key("a");
    await desk.stroke(ring(1200, 800, 300));
    await until(() => expect(count("selection-edge")).toBe(1));
    await desk.key("s");
    await desk.stroke(line([530, 800], [1870, 800], 41), { ...PEN, pressure: 1 });
    await desk.sentence("Painted with the mist on Tone 1");
    const shown = await page(desk);
    const painted = shown.ink(shown.value(5, 5)[0]! - 3);
    const far = painted.reduce((most, [x, y]) => Math.max(most, Math.hypot(x - 1200, y - 800)), 0);
    expect(far, "nothing outside the lasso").toBeLessThan(300 * 1.08);
    expect(painted.length).toBeGreaterThan(20_000);
    await desk.key("Escape");
    await until(() => expect(count("selection-edge")).toBe(0));
    await desk.set("Tint", "#2f7f4f");
    await desk.sentence("Tinted a layer #2f7f4f");
    const tinted = (await page(desk)).value(1200, 800);
    expect(tinted[1]).toBeGreaterThan(tinted[0]! + 5);
    const luma = ([r = 0, g = 0, b = 0]: number[]) => 0.3 * r + 0.59 * g + 0.11 * b;
    expect(Math.abs(luma(tinted) - luma(shown.value(1200, 800))), "its value is as it was").toBeLessThan(3);
    await desk.key("Control+z");
    await desk.sentence("Painted with the mist");
    expect(same(await page(desk), shown)).toBe(true);
  });

  it("fills a region by a touch, is selected and cleared", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(ring(1200, 800, 280), PEN);
    await desk.sentence("Drew with the pencil");
    await desk.key("k");
    await desk.click(at(1200, 800));
    await desk.refused("not a tone layer");
    await toneLayer(desk);
    await desk.press("Grey 3");
    await desk.click(at(1200, 800));
    await desk.sentence("Filled a region on Tone 1");
    const filled = await page(desk);
    expect(filled.value(1200, 800)).toEqual([159, 159, 159]);
    await desk.key("u");
    await desk.click(at(1200, 800));
    await until(() => expect(count("selection-edge")).toBe(1));
    await desk.key("Shift+I");
    await until(() => expect(count("selection-edge")).toBe(2));
    await desk.key("Shift+K");
    await until(async () => expect((await page(desk)).value(20, 20)).toEqual([159, 159, 159]));
    await desk.key("Delete");
    await desk.sentence("Cleared Tone 1 inside the selection");
    const again = await page(desk);
    let off = 0;
    for (let k = 0; k < again.data.length; k++) off += Math.abs(again.data[k]! - filled.data[k]!);
    expect(off / again.data.length).toBeLessThan(0.3);
  });

  it("is laid as a gradient, and its colour taken up again", async () => {
    const desk = await Desk.at("Sketch");
    await toneLayer(desk);
    await desk.key("b");
    await desk.stroke(line([743, 556], [1657, 1044], 4));
    await until(() => expect(count("selection-edge")).toBe(1));
    await desk.press("Grey 6");
    await desk.key("t");
    await desk.stroke(line([743, 800], [1657, 800], 4));
    await desk.sentence("Laid a gradient on Tone 1");
    const shown = await page(desk);
    const row = Array.from({ length: 880 }, (_, k) => shown.value(760 + k, 800)[0]!);
    expect(row[0]).toBeLessThan(90);
    expect(row.at(-1)).toBeGreaterThan(235);
    expect(row.every((value, k) => k === 0 || value >= row[k - 1]! - 1)).toBe(true);
    await desk.key("c");
    await desk.click(at(749, 800));
    await until(() => expect((screen.getByLabelText("Other") as HTMLInputElement).value).not.toBe("#1b1b1b"));
    const chosen = (screen.getByLabelText("Other") as HTMLInputElement).value;
    expect(Math.abs(Number.parseInt(chosen.slice(1, 3), 16) - 0x40)).toBeLessThan(12);
  });

  it("is the light's on a box", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("Shift+B");
    await desk.press("Set three points");
    await desk.press("Set a box in");
    await desk.sentence("Set a construction box");
    await toneLayer(desk);
    await desk.key("Shift+T");
    const ball = await screen.findByRole("slider", { name: "Where the light stands" });
    await desk.stroke([[0.32 * CANVAS.width, 0.14 * CANVAS.height]], {}, ball);
    await desk.press("Shade it");
    await desk.sentence("Shaded a box on Tone 1");
    const shown = await page(desk);
    const greys: Record<string, number> = {};
    for (const { face, quad } of (await desk.body("Sketch")).drafted.box.faces)
      greys[face] = shown.value(Math.round(mean(quad, 0)), Math.round(mean(quad, 1)))[0]!;
    expect(greys.top!).toBeGreaterThan(greys.front!);
    expect(greys.front!).toBeGreaterThan(greys.right!);
    await desk.press(/^Draw with shaded/);
    const well = (screen.getByLabelText("Other") as HTMLInputElement).value;
    expect(Math.abs(Number.parseInt(well.slice(1, 3), 16) - greys.right!)).toBeLessThanOrEqual(2);
  });
});

describe("the page", () => {
  it("has layers that are hidden, faded, dragged, blended, grouped and locked", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(line([900, 800], [1500, 800]), PEN);
    await desk.sentence("Drew with the pencil");
    await desk.key("n");
    await desk.sentence("Added the ink layer Layer 2");
    const rows = () => within(screen.getByRole("list", { name: "Layers" })).getAllByRole("listitem");
    const row = (name: string) => rows().find((one) => one.textContent!.includes(name))!;
    expect(rows()[0]!.textContent).toContain("Layer 2");
    await desk.carry(rows()[1]!, rows()[0]!);
    await desk.sentence("Moved a layer in the order");
    expect(rows()[0]!.textContent).toContain("Rough");
    await desk.select("Blend mode", "multiply");
    await desk.sentence("Laid a layer on in multiply");
    await desk.press("Duplicate");
    await desk.sentence("Duplicated a layer");
    expect(rows()).toHaveLength(3);
    await desk.press("Hide Layer 2");
    await desk.sentence("Hid a layer");
    await desk.fill("Opacity", "40");
    await desk.sentence("Set a layer to 40%");
    await desk.command("New group");
    await desk.sentence("Added the group Group 1");
    await desk.carry(row("Rough"), row("Group 1"));
    await until(async () => {
      const layers: { group: string | null }[] = (await desk.body("Sketch")).layers;
      expect(layers.some((layer) => layer.group)).toBe(true);
    });
    const before = await page(desk);
    await desk.press("Lock layer", "switch");
    await desk.sentence("Locked a layer");
    await desk.stroke(line([1200, 650], [1200, 950]), PEN);
    await desk.refused("is locked");
    expect(same(await page(desk), before)).toBe(true);
  });

  it("has views that are framed, struck out, copied, moved and set in line, with a faint repeat and a border", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("y");
    const drawn: [number, number][] = [
      [400, 400],
      [1100, 560],
    ];
    for (const [number, [x, y]] of drawn.entries()) {
      await desk.stroke(line([x - 80, y], [x + 80, y]), PEN);
      await edits(number + 1);
    }
    for (const [x, y] of drawn) {
      await desk.key("f");
      await desk.stroke(line([x - 150, y - 150], [x + 150, y + 150], 4));
      await desk.sentence("Framed a side view");
    }
    await desk.press("Strike out side");
    await desk.sentence("Struck out a view");
    await desk.press("Take up again side");
    await desk.sentence("Took a struck-out view up again");
    await desk.press("Tops");
    await desk.sentence("Set 2 views in line");
    const tops = (await desk.body("Sketch")).views.map((view: { rect: number[] }) => view.rect[1]);
    expect(tops[0]).toBe(tops[1]);
    await desk.key("Shift+F");
    await desk.stroke(line([1100, 400], [1700, 800], 6));
    await desk.sentence("Moved a view");
    expect(Math.abs(Math.max(...(await page(desk)).ink(128).map(([x]) => x)) - 1780)).toBeLessThan(12);
    const ink = (await page(desk)).ink(200).length;
    await desk.press("Copy side to another place");
    await desk.click(at(700, 1300));
    await desk.sentence("on the page");
    expect((await page(desk)).ink(200).length / ink).toBeCloseTo(1.5, 1);
    await desk.press("Repeat side faintly behind");
    await desk.click(at(1700, 1300));
    await desk.sentence("Repeated a sketch faintly");
    await desk.choose("Paper goes over", "linear");
    await desk.sentence("paper going over to");
    await desk.press("Border", "switch");
    await desk.sentence("a border");
    const shown = await page(desk);
    expect(shown.value(1200, 1590)[0]).toBeLessThan(shown.value(1200, 10)[0]! - 10);
    expect(Math.max(...shown.value(49, 800))).toBeLessThan(60);
  });

  it("takes a paper size and a colour, and is the chosen direction", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(ring(900, 620, 120), PEN);
    await desk.sentence("Drew with the pencil");
    await desk.select("Page size", "A3");
    await desk.sentence("Set the page to 2480 × 1754 px");
    const sized = await page(desk);
    expect([sized.width, sized.height]).toEqual([2480, 1754]);
    await desk.set("Paper", "#e4dccb");
    await desk.sentence("Set the page to paper #e4dccb");
    const shown = await page(desk);
    expect(shown.value(3, 3)).toEqual([0xe4, 0xdc, 0xcb]);
    expect(shown.ink(140).length, "what was drawn is still there").toBeGreaterThan(300);
    await desk.press("Chosen direction", "switch");
    await desk.sentence("Chose this direction");
    await until(() => screen.getByRole("switch", { name: "Chosen direction", checked: true }));
  });

  it("bears words, callouts, dimensions and arrows", async () => {
    const desk = await Desk.at("Sketch");
    const notes = async () =>
      (await desk.body("Sketch")).layers.flatMap((layer: { notes?: object[] }) => layer.notes ?? []);
    const kinds = async () => (await notes()).map((note: { kind: string }) => note.kind);
    await desk.key("l");
    await desk.fill("Height", "90");
    await desk.click(at(300, 300));
    await desk.fill("Words", "Linnet");
    await desk.sentence("Wrote “Linnet”");
    await desk.key("Shift+L");
    await desk.stroke(line([1000, 800], [1500, 500], 4));
    await desk.fill("Words", "Level dial");
    await desk.sentence("Wrote “Level dial”");
    expect(await kinds()).toEqual(["lettering", "callout"]);
    const [x, y] = (await notes())[1].to;
    expect(Math.hypot(x - 1000, y - 800)).toBeLessThan(6);
    await desk.fill("The note’s words", "Level dial, knurled");
    await desk.sentence("Wrote “Level dial, knurled”");
    // a view with a scale: the dimension in it says mm
    await desk.key("f");
    await desk.stroke(line([200, 900], [1200, 1500], 4));
    await desk.sentence("Framed a side view");
    await desk.key("Shift+M");
    await desk.stroke(line([400, 1300], [1000, 1300], 4));
    await desk.sentence("Put a dimension on the page");
    await desk.fill("Length in side", "60");
    await desk.sentence("Set the scale of a view to 10 px a mm");
    await desk.grab("Carry the dimension aside", 0, -30);
    await until(async () => expect((await notes())[2].off).toBeLessThan(-100));
    await desk.key("Shift+R");
    await desk.stroke(line([1500, 1000], [1900, 1100], 4));
    await desk.sentence("Put an arrow on the page");
    await desk.press("Take the note away");
    await desk.sentence("Took a note off the page");
    expect(await kinds()).toEqual(["lettering", "callout", "dimension"]);
    expect((await page(desk)).ink(110).length, "the words are on the page").toBeGreaterThan(500);
  });
});

describe("the tool list", () => {
  const tools = () => screen.getByRole("navigation", { name: "Tools" });
  const listed = () =>
    [...tools().querySelectorAll("section button")].map((one) => (one as HTMLElement).dataset.tool ?? one.textContent);

  it("shows a group's tools that can act, and the others with their reasons behind a fold", async () => {
    const desk = await Desk.at("Sketch");
    expect(listed()).toContain("Pencil");
    await desk.press("Select");
    expect(listed()).toContain("Lasso");
    expect(listed()).not.toContain("Everything else");
    await desk.press(/^\d more …$/);
    const rest = screen.getByRole("button", { name: "Everything else" });
    expect(rest.textContent).toContain("Select something first");
    await act(async () => rest.click());
    await desk.refused("Select something first");
  });

  it("shows what one has taken up by its key, whatever group was open", async () => {
    const desk = await Desk.at("Sketch");
    await desk.press("Look");
    await desk.key("Shift+s");
    await until(() => expect(tools().querySelector("[data-tool=Sprint]")?.ariaPressed).toBe("true"));
    await until(() => screen.getByRole("button", { name: "Begin" }));
  });

  it("is one stop for the Tab key, and arrows go through it", async () => {
    await Desk.at("Sketch");
    const stops = [...tools().querySelectorAll<HTMLElement>("button")].filter((one) => one.tabIndex === 0);
    const own = stops.filter((one) => !one.closest("[role=radiogroup]"));
    expect(own.length).toBeLessThanOrEqual(1);
  });
});
