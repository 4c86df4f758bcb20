import { Raycaster, Vector3 } from "three";
import { expect, test } from "vitest";
import { DETAIL_WORDS, saysNothing } from "../src/stages/form/detail/fields";
import { DETAIL_KINDS, DETAILS, isDetail, linesOf } from "../src/stages/form/detail/kinds";
import { everyOne, instancesOf, placesAround, standingOf, turnedOver } from "../src/view3d/copies";
import { withGeometry } from "../src/view3d/partMesh";

const MOVED = [1, 0, 0, 10, 0, 1, 0, 0, 0, 0, 1, 0];
const MIRRORED = [-2, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1, 0];

const many = withGeometry({
  meta: {} as never,
  positions: new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]),
  normals: new Int16Array([0, 0, 32767, 0, 0, 0, 32767, 0, 0, 0, 32767, 0]),
  triangles: new Uint32Array([0, 1, 2]),
  patchStarts: new Int32Array([0, 3]),
  patchFace: new Int32Array([0]),
  trianglePatch: new Int32Array([0]),
  lines: new Int32Array(),
  copies: new Float32Array([...MOVED, ...MIRRORED]),
});

test("many of one stand where their matrices say, turned over where these are a mirror", () => {
  const made = everyOne(many);
  expect(everyOne(many)).toBe(made); // made once
  expect(made.copies).toBeNull();
  expect([...made.positions.slice(0, 6)]).toEqual([10, 0, 0, 11, 0, 0]);
  expect([...made.positions.slice(9)]).toEqual([0, 5, 0, -2, 5, 0, 0, 6, 0]);
  expect([...made.triangles]).toEqual([0, 1, 2, 3, 5, 4]);
  expect(made.normals[14]).toBe(32767); // along z a mirror across x leaves it
  expect([...made.patchStarts]).toEqual([0, 3, 6]);
  expect([...made.trianglePatch]).toEqual([0, 1]);
  expect([...made.geometry.getAttribute("position").array]).toEqual([...made.positions]);
});

test("the card is given one geometry and its places, those seen in a mirror by themselves", () => {
  const [straight, over] = standingOf(many);
  expect([straight!.turnedOver, straight!.matrices.count]).toEqual([false, 1]);
  expect([over!.turnedOver, over!.matrices.count]).toEqual([true, 1]);
  expect([...straight!.matrices.array.slice(12)]).toEqual([10, 0, 0, 1]); // columns: the last is where it stands
  const mirrored = turnedOver(many.geometry);
  expect([...mirrored.getIndex()!.array]).toEqual([0, 2, 1]);
  expect(mirrored.getAttribute("position")).toBe(many.geometry.getAttribute("position"));
  expect(standingOf({ ...many, copies: null })).toEqual([]);
});

test("the box of all of them, and what a ray meets, are the same drawn once or one by one", () => {
  const places = placesAround(many);
  const whole = everyOne(many).positions;
  for (let axis = 0; axis < 3; axis++) {
    const along = (of: Float32Array) => [...of].filter((_, k) => k % 3 === axis);
    expect(Math.min(...along(places))).toBe(Math.min(...along(whole)));
    expect(Math.max(...along(places))).toBe(Math.max(...along(whole)));
  }
  const ray = (x: number, y: number) => new Raycaster(new Vector3(x, y, 9), new Vector3(0, 0, -1));
  for (const [x, y] of [
    [10.2, 0.2],
    [-0.5, 5.2],
  ] as const) {
    const hits = ray(x, y).intersectObjects(instancesOf(many), false);
    expect(hits.map((hit) => [hit.point.toArray(), hit.faceIndex])).toEqual([[[x, y, 0], 0]]);
  }
  expect(ray(10.9, 0.9).intersectObjects(instancesOf(many), false)).toEqual([]);
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
