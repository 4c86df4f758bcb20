/** What is told of a shot that is older than what stands there. */
import { describe, expect, it } from "vitest";
import { behindIn } from "../src/stages/studio/shots/behind";

const setting = { set: { kind: "sweep" }, finishes: {}, marks: [], zones: [] } as never;
const shot = { setting, form_edit: 7 } as never;

describe("a shot and what stands there", () => {
  it("says nothing while nothing has changed", () => {
    expect(behindIn(shot, setting, 7)).toEqual([]);
  });
  it("names a mark, and finishes once where zones have changed too", () => {
    const now = { ...(setting as object), marks: [{ id: "a" }], zones: [{ id: "z" }], finishes: { z: {} } } as never;
    expect(behindIn(shot, now, 7)).toEqual([
      ["finishes", "the finishes"],
      ["marks", "the marks"],
    ]);
  });
  it("names the form", () => {
    expect(behindIn(shot, setting, 8)).toEqual([["form", "the form"]]);
  });
});
