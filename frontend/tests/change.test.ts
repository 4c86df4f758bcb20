import { describe, expect, it } from "vitest";
import { type Change, changed, changedFields } from "../src/api/change";

describe("what an edit changed", () => {
  const form = {
    parts: [
      { id: "a", steps: [1, 2] },
      { id: "b", steps: [3] },
    ],
    seats: { x: 1, y: 2 },
    name: "Linnet",
  };

  it("leads to the next state and leaves what did not change the same object", () => {
    const change: Change = {
      fields: {
        parts: { at: 1, change: { fields: { steps: { at: 1, drop: 0, put: [4, 5] } } } },
        seats: { keys: { x: 7, z: 3 }, gone: ["y"] },
      },
    };
    const next = changed(form, change);
    expect(next).toEqual({
      parts: [
        { id: "a", steps: [1, 2] },
        { id: "b", steps: [3, 4, 5] },
      ],
      seats: { x: 7, z: 3 },
      name: "Linnet",
    });
    expect(next.parts[0]).toBe(form.parts[0]);
    expect(form.parts[1]!.steps).toEqual([3]);
  });

  it("takes items out, exchanges them, and puts others in", () => {
    expect(changed([1, 2, 3, 4], { at: 1, drop: 2, put: [9] })).toEqual([1, 9, 4]);
    expect(changed([1, 2], { at: 0, drop: 2, put: [] })).toEqual([]);
    expect(changed(5, { is: null })).toBeNull();
  });
});

describe("only what was changed", () => {
  it("names fields, and places in lists of numbers", () => {
    const before = { kind: "box", size: [62, 34, 108], at: null, profile: [[0, 1]] };
    expect(changedFields(before, { ...before, size: [62, 40, 108] })).toEqual({ "size.1": 40 });
    expect(changedFields(before, { ...before, at: [0, 1, 2] })).toEqual({ at: [0, 1, 2] });
    expect(changedFields(before, { ...before, profile: [[0, 2]] })).toEqual({ profile: [[0, 2]] });
    expect(changedFields(before, { ...before })).toEqual({});
  });

  it("never names what another hand changed meanwhile", () => {
    // a number typed from a view that has not yet seen the switch says nothing of the switch
    const seenHere = { width: 2, sharp: false };
    expect(changedFields(seenHere, { ...seenHere, width: 3 })).toEqual({ width: 3 });
  });
});
