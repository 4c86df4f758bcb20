/** What the bench keeps: commands, keys, tools, what curvature looks like. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import { type Command, keyLabel, run, useCommands } from "../src/bench/commands";
import { greyOf } from "../src/stages/sketch/ColourCard";
import { isNib, useSketch } from "../src/stages/sketch/store";
import { colourOf, plain } from "../src/stages/surface/curvature";

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

describe("curvature", () => {
  it("is pale where flat, ochre where it bulges, violet where hollow, and holds at the ends", () => {
    const flat = colourOf(0, 0.1);
    const bulge = colourOf(0.1, 0.1);
    const hollow = colourOf(-0.1, 0.1);
    expect(Math.min(...flat)).toBeGreaterThan(0.85);
    expect(bulge[0]).toBeGreaterThan(bulge[2] + 0.5);
    expect(hollow[2]).toBeGreaterThan(hollow[0] + 0.2);
    expect(colourOf(5, 0.1)).toEqual(bulge);
  });

  it("shows three digits that matter and a real minus sign", () => {
    expect(plain(0.0123456)).toBe("0.0123");
    expect(plain(-1.2345)).toBe("−1.23");
    expect(plain(123.4)).toBe("123");
    expect(plain(-3e-9)).toBe("0");
  });
});
