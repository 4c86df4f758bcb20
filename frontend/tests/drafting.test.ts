/** Which directions and views the interface takes for what is drafted. */
import { describe, expect, it } from "vitest";
import { eyeOf, inPerspective } from "../src/stages/form/sketchView";
import { directionsOf } from "../src/stages/sketch/drafting/useDrafting";

type Drafted = Parameters<typeof directionsOf>[0];

const vanishing = [
  [-900, 300, 1],
  [2600, 300, 1],
  [0, 1, 0],
];

describe("directions that lines hold to", () => {
  it("are all three in space and the two of a face on it", () => {
    const drafted = { vanishing } as unknown as Drafted;
    expect(directionsOf(drafted, null)).toEqual(vanishing);
    expect(directionsOf(drafted, "front")).toEqual([vanishing[0], vanishing[2]]);
    expect(directionsOf(drafted, "right")).toEqual([vanishing[1], vanishing[2]]);
    expect(directionsOf(drafted, "top")).toEqual([vanishing[0], vanishing[1]]);
  });

  it("are none without a perspective", () => {
    expect(directionsOf({} as Drafted, null)).toEqual([]);
    expect(directionsOf({} as Drafted, "front")).toEqual([]);
  });
});

describe("a view in the sketch's perspective", () => {
  const sheet = (box: object | null, at: [number, number]) =>
    ({
      perspective: { points: 3, principal: [0, 0], focal: 1000 },
      box: { at, size: [1, 1, 1], scale: 1 },
      drafted: { box },
    }) as unknown as Parameters<typeof inPerspective>[0];

  it("is one whose frame holds the box's foot", () => {
    const box = { edges: [], faces: [], eye: [3, -4, 5] };
    expect(inPerspective(sheet(box, [50, 50]), [0, 0, 100, 100])).toBe(true);
    expect(inPerspective(sheet(box, [100, 50]), [0, 0, 100, 100])).toBe(false);
    expect(inPerspective(sheet(null, [50, 50]), [0, 0, 100, 100])).toBe(false);
    expect(eyeOf(sheet(box, [0, 0])).toArray()).toEqual([3, -4, 5]);
  });
});
