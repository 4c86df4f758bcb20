/** Looking, picking and dragging in space. */
import { Vector3 } from "three";
import { describe, expect, it } from "vitest";
import { dragValues, WORLD } from "../src/stages/form/dragging";
import { comesRound, lineThrough, profileOf, profileOfLine } from "../src/stages/form/drawnLines";
import { insideLoop, Picker, pickedPoints, seatOf } from "../src/stages/form/picking";
import { directionsOf, farSide, seatTurned } from "../src/stages/form/seat";
import { inPerspective, lookFromSketch, placesOf } from "../src/stages/form/sketchView";
import { snapped } from "../src/stages/form/snapping";
import { cameraOf, forwardOf, lookFrom, onScreen, rayAt, shifted, turned, zoomed } from "../src/view3d/orbit";
import type { PartMesh } from "../src/view3d/partMesh";

const SIZE = { width: 800, height: 600 };
const spot = (x: number, y: number) => ({ x, y, ...SIZE });
const place = (x: number, y: number, z: number) => new Vector3(x, y, z);
const screen = (orbit: ReturnType<typeof lookFrom>, p: Vector3) =>
  onScreen(cameraOf(orbit, SIZE.width, SIZE.height), p, SIZE.width, SIZE.height);

/** A cube of 20 mm as cage and, for picking, as its own skin. */
function cube(): PartMesh {
  const points: number[] = [];
  for (const z of [-10, 10])
    for (const [x, y] of [
      [-10, -10],
      [10, -10],
      [10, 10],
      [-10, 10],
    ] as const)
      points.push(x, y, z);
  const faces = [
    [0, 3, 2, 1],
    [4, 5, 6, 7],
    [0, 1, 5, 4],
    [1, 2, 6, 5],
    [2, 3, 7, 6],
    [3, 0, 4, 7],
  ];
  const edges = [0, 1, 0, 3, 0, 4, 1, 2, 1, 5, 2, 3, 2, 6, 3, 7, 4, 5, 4, 7, 5, 6, 6, 7];
  const positions = new Float32Array(faces.flatMap((face) => face.flatMap((p) => points.slice(3 * p, 3 * p + 3))));
  const triangles = faces.flatMap((_, f) => [4 * f, 4 * f + 1, 4 * f + 2, 4 * f, 4 * f + 2, 4 * f + 3]);
  return {
    points: new Float64Array(points),
    faceStarts: new Int32Array(faces.map((_, f) => 4 * f).concat(24)),
    facePoints: new Int32Array(faces.flat()),
    edges: new Int32Array(edges),
    positions,
    triangles: new Uint32Array(triangles),
    limitOf: new Int32Array([0, 3, 2, 1, 4, 5, 6, 7]),
    patchStarts: new Int32Array(faces.map((_, f) => 4 * f).concat(24)),
    patchFace: new Int32Array([0, 1, 2, 3, 4, 5]),
    trianglePatch: new Int32Array(faces.flatMap((_, f) => [f, f])),
    partners: new Int32Array(0),
  } as unknown as PartMesh;
}

describe("orbit", () => {
  it("looks along depth from the front, along width from the side, down from the top", () => {
    const target: [number, number, number] = [0, 0, 0];
    const front = forwardOf(lookFrom("front", target, 100));
    expect(front.distanceTo(place(0, 1, 0))).toBeLessThan(1e-9);
    const side = forwardOf(lookFrom("side", target, 100));
    expect(side.distanceTo(place(-1, 0, 0))).toBeLessThan(1e-9);
    const top = forwardOf(lookFrom("top", target, 100));
    expect(top.distanceTo(place(0, 0, -1))).toBeLessThan(1e-9);
  });

  it("keeps width to the right and height up from the front", () => {
    const orbit = lookFrom("front", [0, 0, 0], 100);
    const middle = screen(orbit, place(0, 0, 0));
    expect(middle.x).toBeCloseTo(400);
    expect(middle.y).toBeCloseTo(300);
    expect(screen(orbit, place(10, 0, 0)).x).toBeGreaterThan(400);
    expect(screen(orbit, place(0, 0, 10)).y).toBeLessThan(300);
  });

  it("fits a thing of the extent it is given", () => {
    for (const side of ["front", "side", "top", "three-quarter"] as const) {
      const orbit = lookFrom(side, [0, 0, 50], 100);
      const [low, high] = [screen(orbit, place(0, 0, 0)), screen(orbit, place(0, 0, 100))];
      if (side !== "top") expect(Math.abs(low.y - high.y)).toBeGreaterThan(300);
      expect(Math.abs(low.y - high.y)).toBeLessThan(600);
    }
  });

  it("zooms to the place under the pointer", () => {
    const orbit = lookFrom("three-quarter", [0, 0, 0], 100);
    const camera = cameraOf(orbit, SIZE.width, SIZE.height);
    const ray = rayAt(camera, 620, 180, SIZE.width, SIZE.height).ray;
    const under = ray.at(-ray.origin.dot(forwardOf(orbit)) / ray.direction.dot(forwardOf(orbit)), new Vector3());
    const next = screen(zoomed(orbit, 0.5, 620, 180, SIZE.width, SIZE.height), under);
    expect(next.x).toBeCloseTo(620, 1);
    expect(next.y).toBeCloseTo(180, 1);
  });

  it("shifts what is at the target by as many pixels as the hand moves", () => {
    const orbit = lookFrom("three-quarter", [0, 0, 0], 100);
    const next = screen(shifted(orbit, 40, -25, SIZE.height), place(0, 0, 0));
    expect(next.x).toBeCloseTo(440, 0);
    expect(next.y).toBeCloseTo(275, 0);
  });

  it("turns a flat view into one with depth and never past the poles", () => {
    const flat = lookFrom("front", [0, 0, 0], 100);
    const next = turned(flat, 30, 0);
    expect(next.lens).toBeGreaterThan(20);
    expect(turned(next, 0, 1e5).rise).toBeCloseTo(Math.PI / 2);
    expect(turned(next, 0, -1e5).rise).toBeCloseTo(-Math.PI / 2);
  });
});

describe("picking", () => {
  const mesh = cube();
  const orbit = lookFrom("front", [0, 0, 0], 40);
  const camera = cameraOf(orbit, SIZE.width, SIZE.height);
  const at = (x: number, y: number, z: number) => {
    const s = onScreen(camera, place(x, y, z), SIZE.width, SIZE.height);
    return spot(s.x, s.y);
  };

  it("finds the point, the edge and the face under the pointer", () => {
    const picker = new Picker(mesh, camera, SIZE, false, "cage");
    expect(picker.at("points", at(10, -10, 10))).toBe(5);
    expect(picker.at("edges", at(0, -10, 10))).toBe(8);
    expect(picker.at("faces", at(3, -10, 2))).toBe(2);
    expect(picker.at("faces", spot(5, 5))).toBeNull();
  });

  it("takes what is inside a box, through the form only where asked", () => {
    const [a, b] = [at(-14, -10, 14), at(14, -10, -14)];
    const seen = new Picker(mesh, camera, SIZE, false, "cage").inBox("points", a, b);
    const through = new Picker(mesh, camera, SIZE, true, "cage").inBox("points", a, b);
    expect(seen.sort()).toEqual([0, 1, 4, 5]);
    expect(through).toHaveLength(8);
    expect(new Picker(mesh, camera, SIZE, true, "cage").inBox("faces", a, b)).toHaveLength(6);
  });

  it("counts shared points once and seats the handle in their middle", () => {
    expect(pickedPoints(mesh, "faces", [1, 2])).toEqual([0, 1, 4, 5, 6, 7]);
    expect(pickedPoints(mesh, "edges", [8])).toEqual([4, 5]);
    const seat = seatOf(mesh.points, [4, 5, 6, 7]);
    expect(seat.toArray()).toEqual([0, 0, 10]);
  });
});

describe("dragging", () => {
  const orbit = lookFrom("three-quarter", [0, 0, 0], 60);
  const camera = cameraOf(orbit, SIZE.width, SIZE.height);
  const seat = place(2, -3, 4);
  const handle = { place: seat, directions: WORLD, out: new Vector3(0, 0, 1) };
  const seen = (p: Vector3) => {
    const s = onScreen(camera, p, SIZE.width, SIZE.height);
    return spot(s.x, s.y);
  };

  it("moves along a direction by what the hand went along it", () => {
    const { values } = dragValues("move", "H", handle, camera, seen(seat), seen(place(2, -3, 9)));
    expect(values[0]).toBe(0);
    expect(values[1]).toBe(0);
    expect(values[2]).toBeCloseTo(5, 3);
  });

  it("moves in a plane and stays in it", () => {
    const { values } = dragValues("move", "WD", handle, camera, seen(seat), seen(place(8, 1, 4)));
    expect(values[0]).toBeCloseTo(6, 3);
    expect(values[1]).toBeCloseTo(4, 3);
    expect(Math.abs(values[2])).toBeLessThan(1e-6);
  });

  it("moves freely with the pointer, facing the eye", () => {
    const { values } = dragValues("move", "free", handle, camera, seen(seat), spot(seen(seat).x + 50, seen(seat).y));
    const moved = seen(seat.clone().add(new Vector3(...values)));
    expect(moved.x).toBeCloseTo(seen(seat).x + 50, 1);
    expect(Math.abs(new Vector3(...values).dot(forwardOf(orbit)))).toBeLessThan(1e-6);
  });

  it("turns a quarter for a quarter of the way around", () => {
    const front = lookFrom("front", [0, 0, 0], 60);
    const flat = cameraOf(front, SIZE.width, SIZE.height);
    const centre = onScreen(flat, seat, SIZE.width, SIZE.height);
    const { values } = dragValues(
      "turn",
      "D",
      handle,
      flat,
      spot(centre.x + 80, centre.y),
      spot(centre.x, centre.y - 80),
    );
    expect(Math.abs(values[1])).toBeCloseTo(90, 4);
    expect(Math.abs(values[0])).toBe(0);
  });

  it("sizes only along the directions of the grip", () => {
    const centre = seen(seat);
    const [from, to] = [spot(centre.x + 40, centre.y), spot(centre.x + 80, centre.y)];
    expect(dragValues("size", "W", handle, camera, from, to).values).toEqual([2, 1, 1]);
    expect(dragValues("size", "WH", handle, camera, from, to).values).toEqual([2, 1, 2]);
    expect(dragValues("size", "free", handle, camera, from, to).values).toEqual([2, 2, 2]);
  });

  it("goes along the handle's own arms where it was seated anew", () => {
    const turned = seatTurned([2, -3, 4], [0, 0, 90]);
    const along = { ...handle, directions: directionsOf(turned) };
    const { values } = dragValues("move", "W", along, camera, seen(seat), seen(place(2, 2, 4)));
    expect(values[0]).toBeCloseTo(0, 6);
    expect(values[1]).toBeCloseTo(5, 3);
    const centre = seen(seat);
    const sized = dragValues("size", "W", along, camera, spot(centre.x + 40, centre.y), spot(centre.x + 80, centre.y));
    expect(sized.directions?.[0]?.[1]).toBeCloseTo(1, 6);
  });

  it("pushes outward by what the hand went along the normal", () => {
    const { values } = dragValues("push", "N", handle, camera, seen(seat), seen(place(2, -3, 6.5)));
    expect(values[0]).toBeCloseTo(2.5, 3);
  });

  it("leaves the far side where it is when sizing from there", () => {
    const points = new Float32Array([0, 0, 0, 4, 0, 0, 10, 0, 0]);
    const from = farSide({ ...handle, place: place(5, 0, 0) }, points, [0, 1, 2], ["W"]);
    expect(from.place.toArray()).toEqual([0, 0, 0]);
  });

  it("holds to the grid, to points and to a sheet's lines, only as far as the grip goes", () => {
    const front = cameraOf(lookFrom("front", [0, 0, 0], 60), SIZE.width, SIZE.height);
    const at = (p: Vector3) => {
      const s = onScreen(front, p, SIZE.width, SIZE.height);
      return spot(s.x, s.y);
    };
    const line = new Float32Array([-5, 0, 12, 9, 0, 12]);
    const field = {
      grid: 5,
      others: [place(9, 7, 12)],
      lines: [{ reference: "r", plane: "front" as const, lines: [line] }],
    };
    const hold = (to: "grid" | "points" | "lines", grip: "W" | "free" | "WH") =>
      snapped([6.4, 0, 7.7], grip, handle, front, at(place(9, -3, 12)), { ...field, to });
    expect(hold("grid", "W")).toEqual([8, 0, 0]);
    expect(hold("points", "free")).toEqual([7, 10, 8]);
    expect(hold("points", "WH")).toEqual([7, 0, 8]);
    expect(hold("lines", "free")).toEqual([7, 0, 8]);
    expect(snapped([6, 0, 7], "free", handle, front, spot(1, 1), { ...field, to: "points" })).toEqual([6, 0, 7]);
  });
});

describe("gathering in a loop", () => {
  it("takes what lies inside the drawn line, bays left out", () => {
    const loop = [
      { x: 0, y: 0 },
      { x: 10, y: 0 },
      { x: 10, y: 10 },
      { x: 5, y: 3 },
      { x: 0, y: 10 },
    ];
    expect(insideLoop(loop, 1, 5)).toBe(true);
    expect(insideLoop(loop, 5, 6)).toBe(false);
    expect(insideLoop(loop, 12, 1)).toBe(false);
  });
});

describe("lines drawn over the view", () => {
  const front = cameraOf(lookFrom("front", [0, 0, 0], 60), SIZE.width, SIZE.height);
  const at = (p: Vector3) => {
    const s = onScreen(front, p, SIZE.width, SIZE.height);
    return spot(s.x, s.y);
  };

  it("lie on the plane through the pick that faces the eye", () => {
    const drawn = lineThrough([at(place(-10, 0, 3)), at(place(0, 0, 4)), at(place(12, 0, 3))], front, place(0, 0, 0))!;
    expect(drawn.line[2]![0]).toBeCloseTo(12, 2);
    expect(drawn.line[2]![1]).toBeCloseTo(0, 3);
    expect(drawn.eye[1]).toBeLessThan(-100);
    expect(lineThrough([at(place(0, 0, 0))], front, place(0, 0, 0))).toBeNull();
  });

  it("are profiles by their distance from the axis, closed where they come round", () => {
    const profile = profileOf([at(place(-8, 0, 0)), at(place(-12, 0, 10)), at(place(-6, 0, 20))], front);
    expect(profile[1]![0]).toBeCloseTo(12, 2);
    expect(profile[1]![1]).toBeCloseTo(10, 2);
    expect(comesRound(profile)).toBe(false);
    const ring = Array.from({ length: 40 }, (_, k): [number, number] => [
      20 + 5 * Math.cos(k / 6.2),
      5 * Math.sin(k / 6.2),
    ]);
    expect(comesRound(ring)).toBe(true);
    expect(profileOfLine(new Float32Array([3, 4, 1, 6, 8, 2]))).toEqual([
      [5, 1],
      [10, 2],
    ]);
  });
});

describe("a sketch's own perspective", () => {
  // a camera turned 35° to the right and 20° up, worked out by hand from its angles
  const [t, p] = [0.61, 0.35];
  const right = [Math.cos(t), Math.sin(t), 0];
  const ahead = [-Math.sin(t) * Math.cos(p), Math.cos(t) * Math.cos(p), -Math.sin(p)];
  const down = [Math.sin(t) * Math.sin(p), -Math.cos(t) * Math.sin(p), -Math.cos(p)].map((v) => v);
  const eye = ahead.map((v, k) => -v * 420 + [6, -4, 9][k]!) as [number, number, number];
  const focal = 2600;
  const principal: [number, number] = [1200, 800];
  const sheet = {
    perspective: { points: 3, principal, focal, turn: 0, tilt: 0, roll: 0, shown: true },
    box: { size: [62, 34, 108], at: [1200, 1100], scale: 6, shown: true },
    drafted: { axes: [right, down, ahead], box: { edges: [], faces: [], eye } },
  } as unknown as Parameters<typeof placesOf>[0];
  const rect: [number, number, number, number] = [700, 200, 1700, 1400];
  const onPage = (point: Vector3) => {
    const seen = point.clone().sub(new Vector3(...eye));
    const along = (axis: number[]) => seen.dot(new Vector3(...(axis as [number, number, number])));
    const z = along(ahead);
    return [principal[0] + (focal * along(right)) / z, principal[1] + (focal * along(down)) / z] as const;
  };

  it("covers from the sketch's eye just what was drawn", () => {
    const wanted = [
      [700, 200],
      [1700, 200],
      [1700, 1400],
      [700, 1400],
    ];
    placesOf(sheet, rect).forEach((corner, k) => {
      expect(onPage(corner)[0]).toBeCloseTo(wanted[k]![0]!, 6);
      expect(onPage(corner)[1]).toBeCloseTo(wanted[k]![1]!, 6);
    });
  });

  it("puts the eye where the sketch's is, so that the model lines up with the lines", () => {
    const orbit = lookFromSketch(sheet, rect);
    const camera = cameraOf(orbit, 1000, 800);
    expect(camera.position.distanceTo(new Vector3(...eye))).toBeLessThan(1e-6);
    // two points in a line of sight stay in a line of sight, whatever the lens and the turn of the eye
    const corner = new Vector3(31, -17, 54);
    const [x, y] = onPage(corner);
    const [a, b, , d] = placesOf(sheet, rect) as [Vector3, Vector3, Vector3, Vector3];
    const share = [(x - rect[0]) / (rect[2] - rect[0]), (y - rect[1]) / (rect[3] - rect[1])];
    const drawn = a.clone().addScaledVector(b.clone().sub(a), share[0]!).addScaledVector(d.clone().sub(a), share[1]!);
    const [one, other] = [onScreen(camera, corner, 1000, 800), onScreen(camera, drawn, 1000, 800)];
    expect(Math.hypot(one.x - other.x, one.y - other.y)).toBeLessThan(1e-4);
    expect(inPerspective(sheet, rect)).toBe(true);
    expect(inPerspective(sheet, [0, 0, 300, 300])).toBe(false);
  });
});
