import { expect, test } from "vitest";
import { DETAIL_WORDS, saysNothing } from "../src/stages/form/detail/fields";
import { DETAIL_KINDS, DETAILS, isDetail, linesOf } from "../src/stages/form/detail/kinds";
import { eachOf } from "../src/view3d/partMesh";

const one = {
  meta: {} as never,
  positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]),
  normals: new Int16Array([0, 0, 32767, 0, 0, 0, 32767, 0, 0, 0, 32767, 0]),
  triangles: new Uint32Array([0, 1, 2]),
  patchStarts: new Int32Array([0, 3]),
  patchFace: new Int32Array([0]),
  trianglePatch: new Int32Array([0]),
  lines: new Int32Array([0, 1]),
};

test("many of one stand where their matrices say, turned over where these are a mirror", () => {
  const moved = [1, 0, 0, 10, 0, 1, 0, 0, 0, 0, 1, 0];
  const mirrored = [-2, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1, 0];
  const made = eachOf(one, new Float32Array([...moved, ...mirrored]));
  expect([...made.positions.slice(0, 6)]).toEqual([10, 0, 0, 11, 0, 0]);
  expect([...made.positions.slice(9)]).toEqual([0, 5, 0, -2, 5, 0, 0, 6, 0]);
  expect([...made.triangles]).toEqual([0, 1, 2, 3, 5, 4]);
  expect(made.normals[14]).toBe(32767); // along z a mirror across x leaves it
  expect([...made.patchStarts]).toEqual([0, 3, 6]);
  expect([...made.trianglePatch]).toEqual([0, 1]);
  expect([...made.lines]).toEqual([0, 1, 3, 4]);
});

test("every detail has words for the numbers it begins with, and no others", () => {
  for (const kind of DETAIL_KINDS) {
    const words = Object.keys(DETAIL_WORDS[kind] ?? {});
    for (const name of Object.keys(DETAILS[kind].first)) expect(words, `${kind} ${name}`).toContain(name);
  }
});

test("only what lays a line is one, and parts of their own are no details of a skin", () => {
  const steps = [
    { kind: "box" },
    { kind: "section_line", said: "a" },
    { kind: "along_line" },
    { kind: "sheet_line", said: "b" },
  ];
  expect(linesOf(steps)).toEqual([
    [1, "a"],
    [3, "b"],
  ]);
  expect(isDetail({ kind: "grille" })).toBe(true);
  expect(isDetail({ kind: "spread" })).toBe(false);
  expect(saysNothing("along_line", "reach", { section: "groove" })).toBe(true);
  expect(saysNothing("along_line", "reach", { section: "step" })).toBe(false);
});
