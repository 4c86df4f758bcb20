/** What the bench keeps: commands, keys, tools, what curvature looks like. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Command, keyLabel, run, useCommands } from "../src/bench/commands";
import { greyOf } from "../src/stages/sketch/ColourCard";
import { isNib, useSketch } from "../src/stages/sketch/store";
import { combOf } from "../src/stages/surface/combing";
import { quantityMap } from "../src/stages/surface/maps";
import type { Quantity } from "../src/stages/surface/store";
import { piecesOf } from "../src/stages/surface/Traced";
import { colourAt, percentile, plain } from "../src/view3d/probing/scales";

describe("commands", () => {
  const command = (id: string): Command => ({ id, name: id, group: "Draw", run: vi.fn() });

  beforeEach(() => useCommands.setState({ stage: [], bench: [], recent: [] }));

  it("are remembered as recent, the newest first and each once", () => {
    const made = ["a", "b", "c"].map(command);
    for (const each of [...made, made[0]!]) run(each);
    expect(useCommands.getState().recent).toEqual(["a", "c", "b"]);
    expect(made[0]!.run).toHaveBeenCalledTimes(2);
  });

  it("remember no more than eight", () => {
    for (let k = 0; k < 12; k++) run(command(`c${k}`));
    expect(useCommands.getState().recent).toHaveLength(8);
    expect(useCommands.getState().recent[0]).toBe("c11");
  });

  it("show their keys in words", () => {
    expect(keyLabel("mod+shift+z")).toBe("Ctrl Shift Z");
    expect(keyLabel("escape")).toBe("Escape");
    expect(keyLabel("[")).toBe("[");
    expect(keyLabel("d")).toBe("D");
  });
});

describe("tools of Sketch", () => {
  it("tell nibs from other tools", () => {
    expect(isNib("pencil")).toBe(true);
    expect(isNib("soft lifter")).toBe(true);
    expect(isNib("lasso")).toBe(false);
  });

  it("come back to the nib last drawn with", () => {
    const { take } = useSketch.getState();
    take("marker");
    take("fill");
    expect(useSketch.getState()).toMatchObject({ tool: "fill", nib: "marker" });
  });

  it("give greys by tone number from white to black", () => {
    expect(greyOf(0)).toBe("#ffffff");
    expect(greyOf(4)).toBe("#808080");
    expect(greyOf(8)).toBe("#000000");
  });
});

describe("maps", () => {
  /** OKLab lightness of an sRGB colour (Ottosson 2020). */
  const lightness = (colour: readonly number[]) => {
    const [r, g, b] = colour.map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4)) as [
      number,
      number,
      number,
    ];
    const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    return 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  };

  it("are palest in the middle and darken evenly to both sides", () => {
    const at = Array.from({ length: 21 }, (_, k) => lightness(colourAt("both", k / 20)));
    expect(at.indexOf(Math.max(...at))).toBe(10);
    for (let k = 1; k <= 10; k++) expect(at[k]!).toBeGreaterThan(at[k - 1]!);
    for (let k = 11; k <= 20; k++) expect(at[k]!).toBeLessThan(at[k - 1]!);
    expect(Math.abs(at[0]! - at[20]!)).toBeLessThan(0.12);
  });

  it("go one way from dark to light where only one end is bad", () => {
    const at = Array.from({ length: 21 }, (_, k) => lightness(colourAt("one", k / 20)));
    for (let k = 1; k <= 20; k++) expect(at[k]!).toBeGreaterThan(at[k - 1]!);
    expect(colourAt("one", 7)).toEqual(colourAt("one", 1));
  });

  it("tell quantities from both principal curvatures", () => {
    const curved = {
      high: Float32Array.of(0.1),
      low: Float32Array.of(-0.4),
      along: Int8Array.of(127, 0, 0, 0, 127, 0),
      exact: Uint8Array.of(1),
      estimate: false,
    };
    const told = (quantity: Quantity) => quantityMap(curved, quantity).values[0]!;
    expect(told("mean")).toBeCloseTo(-0.15);
    expect(told("gaussian")).toBeCloseTo(-0.04);
    expect(told("largest")).toBeCloseTo(-0.4);
    expect(told("radius")).toBeCloseTo(2.5);
    expect([...quantityMap(curved, "largest").along!]).toEqual([0, 127, 0]);
    expect([...quantityMap(curved, "high").along!]).toEqual([127, 0, 0]);
    expect(quantityMap(curved, "mean").along).toBeNull();
  });

  it("begin with a legend that holds a share of all values", () => {
    const values = Float32Array.from({ length: 100 }, (_, k) => (k % 2 ? k : -k));
    expect(percentile(values, 0.9)).toBe(90);
    expect(percentile(Float32Array.of(1, Infinity), 1)).toBe(1);
  });
});

describe("combs", () => {
  const combed = {
    places: Float32Array.of(0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0),
    starts: Int32Array.of(0, 4),
    closed: Uint8Array.of(0),
    bend: Float32Array.of(0.1, 0.1, -0.1, 0.1),
    out: Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1),
    level: Int32Array.of(0),
    part: Int32Array.of(0),
    lengths: Float64Array.of(3),
    inflections: Float32Array.of(1.5, 0, 0),
    inflects: Int32Array.of(0),
    parts: ["a"],
    names: ["A"],
  };

  it("stand by their curvature, on the side the curve bulges to", () => {
    const { teeth, tips, marks, length } = combOf(combed, 100, 1, 1);
    expect(length).toBeCloseTo(140);
    expect(teeth).toHaveLength(4 * 6);
    expect(teeth[5]).toBeCloseTo(14);
    expect(teeth[17]).toBeCloseTo(-14);
    expect(tips).toHaveLength(3 * 6);
    expect([...marks]).toEqual([1.5, 0, 0]);
    expect(combOf(combed, 100, 1, 1, "another").teeth).toHaveLength(0);
  });

  it("thin out, but keep their ends", () => {
    expect(combOf(combed, 100, 1, 0.3).teeth).toHaveLength(2 * 6);
  });

  it("close where their curve does", () => {
    const closed = { ...combed, closed: Uint8Array.of(1) };
    expect(combOf(closed, 100, 1, 1).tips).toHaveLength(4 * 6);
    expect(piecesOf(closed)).toHaveLength(4 * 6);
    expect(piecesOf(combed)).toHaveLength(3 * 6);
  });
});

describe("numbers beside a map", () => {
  it("show three digits that matter", () => {
    expect(plain(0.0123456)).toBe("0.0123");
    expect(plain(-1.2345)).toBe("−1.23");
    expect(plain(123.4)).toBe("123");
    expect(plain(-3e-9)).toBe("0");
  });
});
