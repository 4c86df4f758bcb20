/** The dark under what stands on the ground. */
import { Matrix4 } from "three";
import { describe, expect, it } from "vitest";
import { shadowOf } from "../src/stages/studio/preview/ContactShadow";

/** A level net of points, 40 mm wide, at a height; nothing else of a mesh is looked at. */
const plate = (up: number) => {
  const places: number[] = [];
  for (let x = -20; x <= 20; x++) for (let y = -20; y <= 20; y++) places.push(x, y, up);
  return [{ mesh: { positions: new Float32Array(places) } as never }];
};
const here = new Matrix4();

/** Alpha at a place on the ground, mm. */
function at(up: number, x: number, y: number, matrix = here): number {
  const found = shadowOf(plate(up), matrix);
  if (!found) return 0;
  const column = Math.floor(((x - found.x) / found.across + 0.5) * found.wide);
  const row = Math.floor(((y - found.y) / found.deep + 0.5) * found.tall);
  return found.pixels[4 * (row * found.wide + column) + 3]!;
}

describe("the shadow of contact", () => {
  it("is darkest where it stands, softens at its edge and ends beside it", () => {
    expect(at(0, 0, 0)).toBeGreaterThan(170);
    expect(at(0, 20, 0)).toBeLessThan(at(0, 0, 0));
    expect(at(0, 20, 0)).toBeGreaterThan(40);
    expect(at(0, 52, 0)).toBe(0);
  });
  it("is a third of that 7 mm over the ground, and none of it 40 mm over it", () => {
    expect(at(7, 0, 0) / at(0, 0, 0)).toBeCloseTo(Math.exp(-1), 1);
    expect(shadowOf(plate(40), here)).toBeNull();
  });
  it("goes where the product goes", () => {
    const moved = new Matrix4().makeTranslation(100, -30, 0);
    expect(at(0, 100, -30, moved)).toBe(at(0, 0, 0));
  });
});
