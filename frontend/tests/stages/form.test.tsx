/** Form by hand on a real server: picks, handle, typed numbers, creases, symmetry, the recipe, parts, dimensions. */
import { act, fireEvent, screen } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { useHand } from "../../src/stages/form/hand";
import { Desk, type Spot, until } from "./desk";
import { CANVAS, wire } from "./dom";

const X = CANVAS.width / 2;
const Y = CANVAS.height / 2;
const WHOLE: Spot[] = [
  [20, 20],
  [CANVAS.width - 20, CANVAS.height - 20],
];
const ADDING = { shiftKey: true };
type Vector = [number, number, number];

async function box(divisions = [2, 2, 2]): Promise<Desk> {
  const start = { kind: "box", size: [62, 34, 108], divisions };
  const desk = await Desk.at("Form", [
    { kind: "start_part", part: "b", name: "Body", start, symmetry: { planes: ["W"] } },
  ]);
  await desk.shows(/Click points on the cage/);
  return desk;
}

async function lastPart(desk: Desk) {
  return (await desk.body("Form")).parts.at(-1);
}

async function lastStep(desk: Desk) {
  return (await lastPart(desk)).steps.at(-1);
}

/** Points of the last part's cage, from its OBJ file. */
async function points(desk: Desk): Promise<Vector[]> {
  const part = (await lastPart(desk)).id;
  const obj = await desk.text(`/forms/${desk.document("Form")}/export?format=obj&part=${part}`);
  return obj
    .split("\n")
    .filter((line) => line.startsWith("v "))
    .map((line) => line.split(" ").slice(1).map(Number) as Vector);
}

const spread = (places: Vector[], axis: number) =>
  Math.max(...places.map((place) => place[axis]!)) - Math.min(...places.map((place) => place[axis]!));

function isMirrored(places: Vector[]): void {
  const said = ([x, y, z]: Vector) =>
    [x + 0, y + 0, z + 0].map((value) => (value + 0).toFixed(6).replace("-0.000000", "0.000000")).join();
  expect(new Set(places.map(([x, y, z]) => said([-x, y, z])))).toEqual(new Set(places.map(said)));
}

describe("picks", () => {
  it("are made by click, by adding, in a box and through", async () => {
    const desk = await box();
    await desk.tool("Front");
    await desk.stroke(WHOLE, ADDING);
    await desk.shows("9 points");
    await desk.key("Escape");
    await desk.key("h");
    await desk.stroke(WHOLE, ADDING);
    await desk.shows("26 points");
    await desk.key("h");
    await desk.key("Escape");
    await desk.click([X, Y]);
    await desk.shows("1 point");
    await desk.click([30, Y]);
    await desk.shows(/Click points on the cage/);
    await desk.key("f");
    await desk.click([X + 40, Y - 60]);
    await desk.click([X - 40, Y - 60], ADDING);
    await desk.shows("2 faces");
    await desk.key("g");
    await desk.shows("7 edges");
    await desk.key("Control+a");
    await desk.shows("48 edges");
  });

  it("follow bands, rings and all else; rows are added, faces set in, removed and filled", async () => {
    const desk = await box([4, 2, 3]);
    await desk.tool("Front");
    await desk.key("f");
    await desk.click([X + 15, Y]);
    await desk.shows("1 face");
    await desk.key("u");
    await desk.shows("9 faces");
    await desk.key("y");
    await desk.shows("1 face");
    await desk.key("o");
    await until(() => screen.getByRole("button", { name: "52 faces" }));
    await desk.key("Escape");
    await desk.twice([X + 15, Y]);
    await desk.shows("10 faces");
    await desk.click([X - 15, Y]);
    await desk.click([X + 15, Y]);
    await desk.shows("1 face");
    await desk.key("n");
    await desk.fill("Inset by", "3");
    await desk.press("Inset picked faces");
    await desk.sentence("Inset 1 face by 3 mm");
    expect((await lastStep(desk)).symmetry.planes).toEqual(["W"]);
    await desk.key("Delete");
    await desk.sentence("Removed 1 face");
    await desk.key("Control+z");
    await desk.sentence("Inset 1 face");
    await desk.key("g");
    await desk.click([X, Y]);
    await desk.shows("1 edge");
    await desk.key("l");
    await desk.press("Add it across the picked edge");
    await desk.sentence("Added a row");
    await desk.shows("1 edge");
    await desk.key("i");
    await desk.refused("no opening at that edge");
  });

  it("are gathered in a loop, kept under a name and carried on", async () => {
    const desk = await box([4, 2, 4]);
    await desk.tool("Front");
    await desk.key("f");
    await desk.key("q");
    const loop: Spot[] = [
      [X - 210, Y - 330],
      [X + 210, Y - 330],
      [X + 210, Y - 90],
      [X - 210, Y - 90],
      [X - 210, Y - 320],
    ];
    await desk.stroke(loop, ADDING);
    await until(() => screen.getByRole("button", { name: /^\d+ faces$/ }));
    await desk.fill("Name of the pick", "brow");
    await desk.press("Keep the pick");
    await desk.sentence("Kept a pick as brow");
    const count = (await lastPart(desk)).picks[0].items.length;
    await desk.key("Escape");
    await desk.click([X + 15, Y + 200]);
    await desk.shows("1 face");
    await desk.key("Delete");
    await desk.sentence("Removed 1 face");
    await desk.press("Pick brow");
    await until(() => screen.getByRole("button", { name: `${count} faces` }));
    await desk.key("Shift+k");
    await until(() => expect(screen.queryByRole("button", { name: `${count} faces` })).toBeNull());
  });
});

describe("the handle", () => {
  /** Drags a grip of the handle by px; what became of it. */
  async function grab(desk: Desk, name: string, dx: number, dy: number) {
    const edits = Number(/(\d+) edits?/.exec(screen.getByTestId("sentence").closest("footer")!.textContent!)![1]);
    await desk.grab(name, dx, dy);
    await desk.shows(new RegExp(`^${edits + 1} edits`));
    return lastStep(desk);
  }

  it("moves, turns and sizes along a direction, in a plane and freely", async () => {
    const desk = await box();
    await desk.key("Control+a");
    const move = (await grab(desk, "Move along H", 0, -40)).values;
    expect(move[2]).toBeGreaterThan(1);
    expect(move.slice(0, 2)).toEqual([0, 0]);
    const plane = (await grab(desk, "Move in the plane WH", 25, -20)).values;
    expect(Math.abs(plane[1])).toBeLessThan(1e-9);
    expect(Math.abs(plane[0])).toBeGreaterThan(0.5);
    const free = (await grab(desk, "Move freely", 30, 10)).values;
    expect(Math.hypot(...(free as Vector))).toBeGreaterThan(1);
    await desk.key("t");
    expect((await grab(desk, "Turn along H", 30, 30)).how).toBe("turn");
    await desk.key("z");
    const size = await grab(desk, "Size along W", 40, 10);
    expect(size.how).toBe("size");
    expect(size.values.slice(1)).toEqual([1, 1]);
    expect(size.values[0]).toBeGreaterThan(1.1);
  });

  it("asks for one preview at a time, the newest last, and draws once for each that is shown", async () => {
    const desk = await box();
    await desk.tool("Front");
    await desk.key("Control+a");
    await desk.shows("26 points");
    const asked: { values: number[]; answer: () => void }[] = [];
    wire.is = async (request, go) => {
      if (!request.url.endsWith("/preview")) return go();
      const { step } = await request.clone().json();
      await new Promise<void>((answer) => asked.push({ values: step.values, answer }));
      return go();
    };
    const drawn = vi.fn();
    const knob = (await screen.findByRole("button", { name: "Move along H" })).querySelector("circle, rect")!;
    const at = (y: number) => ({ clientX: X, clientY: y, pointerId: 1, button: 0 });
    await act(async () => void fireEvent.pointerDown(knob, at(Y)));
    await act(async () => void fireEvent.pointerMove(window, at(Y - 10)));
    const unfollow = useHand.subscribe(drawn);
    for (let move = 2; move <= 20; move++) await act(async () => void fireEvent.pointerMove(window, at(Y - 10 * move)));
    await until(() => expect(asked).toHaveLength(1));
    expect(drawn, "nothing is drawn that has not come").not.toHaveBeenCalled();
    asked[0]!.answer();
    await until(() => expect(asked).toHaveLength(2));
    expect(drawn).toHaveBeenCalledOnce();
    expect(useHand.getState().drag!.values!.values, "what is said is true of the skin that is shown").toEqual(
      asked[0]!.values,
    );
    asked[1]!.answer();
    await until(() => expect(drawn).toHaveBeenCalledTimes(2));
    expect(asked[1]!.values[2]).toBeCloseTo(20 * asked[0]!.values[2]!, 0);
    unfollow();
    await act(async () => void fireEvent.pointerUp(window, at(Y - 200)));
    await desk.shows(/^2 edits/);
    expect((await lastStep(desk)).values).toEqual(asked[1]!.values);
    expect(asked).toHaveLength(2);
  });

  it("takes hold again while the preview of the drag before is being called off", async () => {
    const desk = await box();
    await desk.key("Control+a");
    await desk.shows("26 points");
    const asked: (() => void)[] = [];
    wire.is = async (request, go) => {
      if (request.url.endsWith("/preview")) await new Promise<void>((answer) => asked.push(answer));
      return go();
    };
    await desk.grab("Move along H", 0, -40);
    await desk.shows(/^2 edits/);
    const knob = (await screen.findByRole("button", { name: "Move along H" })).querySelector("circle, rect")!;
    const at = (y: number) => ({ clientX: X, clientY: y, pointerId: 1, button: 0 });
    await act(async () => void fireEvent.pointerDown(knob, at(Y)));
    await act(async () => void fireEvent.pointerMove(window, at(Y - 30)));
    for (const answer of asked.splice(0)) answer();
    await until(() => expect(asked).toHaveLength(1));
    asked[0]!();
    await until(() => expect(useHand.getState().cagePoints).not.toBeNull());
    await act(async () => void fireEvent.pointerUp(window, at(Y - 30)));
    await desk.shows(/^3 edits/);
  });

  it("is seated anew, pushes softly, and holds to the grid and to the far side", async () => {
    const desk = await box([4, 2, 4]);
    await desk.tool("Front");
    await desk.key("f");
    await desk.click([X + 30, Y + 30]);
    await desk.shows("1 face");
    await desk.key("Shift+p");
    await desk.fill("Soft over", "40");
    await desk.fill("Push by", "3");
    await desk.sentence("Pushed 4 points out 3.0 mm, softly over 40 mm");
    const front = (await points(desk)).filter(([x, y]) => Math.abs(x) < 1e-6 && y < -10);
    expect(new Set(front.map(([, y]) => y.toFixed(3))).size, "neighbours went along in part").toBeGreaterThan(2);
    await desk.fill("Soft over", "0");
    await desk.key("m");
    await desk.key("ArrowRight");
    await desk.sentence("Moved 4 points right 1.0 mm");
    await desk.press(/Handle’s seat/);
    await desk.press("square to it");
    await desk.shows(/Handle’s seat: set/);
    await desk.fill("Name of the seat", "front");
    await desk.press("Keep the seat");
    await desk.sentence("Kept the seat front");
    await desk.fill("Move along H", "2");
    await until(async () => {
      const step = await lastStep(desk);
      expect(step.how).toBe("move");
      expect(step.values[1], "outward is forward").toBeLessThan(-1.9);
    });
    await desk.press("follow the pick");
    await desk.key("z");
    await desk.choose("Size from", "from the far side");
    const low = Math.min(...(await points(desk)).map(([, , z]) => z));
    await grab(desk, "Size along H", 0, -30);
    await desk.sentence("Sized 4 points");
    expect(Math.min(...(await points(desk)).map(([, , z]) => z))).toBeCloseTo(low, 9);
    await desk.key("m");
    await desk.key("Shift+h");
    await desk.fill("Grid and arrow step", "5");
    await grab(desk, "Move along H", 0, -37);
    await desk.sentence("Moved 4 points up");
    await until(() => {
      const height = Number(desk.field("Middle H"));
      expect(Math.abs(height / 5 - Math.round(height / 5))).toBeLessThan(0.011);
    });
  });

  it("takes typed numbers", async () => {
    const desk = await box();
    await desk.key("Control+a");
    await desk.fill("Middle H", "20");
    await desk.sentence("Moved 26 points up 20.0 mm");
    await desk.key("t");
    await desk.fill("Turn about D", "90");
    await desk.sentence("Turned 26 points by 90.0°");
    await desk.key("z");
    await desk.fill("Size along D", "50");
    await desk.sentence("Sized 26 points to 100% × 50% × 100%");
    const size = await desk.get(`/forms/${desk.document("Form")}/size`);
    expect(size.width, "turned on its side").toBeGreaterThan(size.height);
    expect(size.depth).toBeLessThan(18);
  });
});

describe("symmetry", () => {
  it("moves both sides and can be switched off", async () => {
    const desk = await box();
    await desk.key("j");
    await desk.sentence("Switched symmetry off");
    await desk.key("j");
    await desk.sentence("Switched symmetry across width on");
    await desk.tool("Front");
    const corner: Spot[] = [
      [X + 20, 10],
      [CANVAS.width - 10, Y - 40],
    ];
    await desk.stroke(corner, ADDING);
    await desk.shows("1 point");
    await desk.fill("Middle W", "20");
    await desk.sentence("Moved 1 point left");
    isMirrored(await points(desk));
  });

  it("goes by turns, and makes both sides alike", async () => {
    const desk = await box();
    await desk.key("j");
    await desk.sentence("Switched symmetry off");
    await desk.tool("Front");
    await desk.click([X, Y]);
    await desk.shows("1 point");
    await desk.fill("Middle W", "6");
    await desk.sentence("Moved 1 point right 6.0 mm");
    await desk.tool("Sides alike");
    await desk.press("Make them alike");
    await desk.sentence("Made both sides like the right one");
    isMirrored(await points(desk));
    await desk.tool("Cylinder");
    await desk.press("Begin");
    await desk.sentence("Started from a cylinder");
    await desk.fill("Symmetry by turns", "8");
    await desk.sentence("Switched symmetry 8 turns about H on");
    await desk.key("f");
    await desk.tool("Front");
    await desk.click([X + 10, Y]);
    await desk.shows("1 face");
    await desk.key("x");
    await desk.sentence("Extruded 1 face out 8.0 mm");
    expect((await points(desk)).length, "lifted eight times round").toBe(16 * 4 + 8 * 4);
  });
});

describe("the recipe", () => {
  it("creases from soft to fully sharp", async () => {
    const desk = await box([1, 1, 1]);
    await desk.key("k");
    await desk.key("Control+a");
    await desk.press("Fully sharp");
    await desk.sentence("Made 12 edges sharp");
    await until(() => expect(screen.getByTestId("size").textContent).toContain("62.0 × 34.0 × 108.0 mm"));
    await desk.press("Make soft");
    await desk.sentence("Took the crease from 12 edges");
    await desk.fill("Crease", "0.4");
    await desk.sentence("Creased 12 edges to 0.40");
    expect((await lastStep(desk)).crease).toBe(0.4);
  });

  it("keeps the first shape editable, and leaves the form alone where a later step could not follow", async () => {
    const desk = await box();
    await desk.key("Control+a");
    await desk.fill("Middle H", "5");
    await desk.sentence("Moved 26 points up 5.0 mm");
    await desk.fill("Start box W", "80");
    await desk.sentence("Changed step 1: started from a box 80 × 34 × 108 mm");
    await desk.fill("Start divisions W", "1");
    await desk.refused("Step 2 (Moved 26 points up 5.0 mm) could not follow");
    expect((await lastPart(desk)).steps[0].divisions).toEqual([2, 2, 2]);
  });

  it("begins with a cylinder or a ring whose numbers stay", async () => {
    const desk = await Desk.at("Form");
    await desk.tool("Cylinder");
    await desk.fill("Cylinder H", "90");
    await desk.fill("Sides", "12");
    await desk.press("Begin");
    await desk.sentence("Started from a cylinder 50 × 50 × 90 mm with 12 sides");
    await desk.fill("Start: rows", "4");
    await desk.sentence("Changed step 1: started from a cylinder");
    expect((await lastPart(desk)).steps[0].rows).toBe(4);
    await desk.tool("Ring");
    await desk.press("Begin");
    await desk.sentence("Started from a ring of 20 mm radius, 5 mm thick each way");
    await desk.fill("Start: radius", "26");
    await desk.sentence("ring of 26 mm radius");
    await desk.fill("Start: radius of its section", "40");
    await desk.refused("thinner than the ring is wide");
    expect((await lastPart(desk)).steps[0].tube).toBe(5);
  });

  it("has a bevel that is made, changed and taken out", async () => {
    const desk = await box([1, 1, 1]);
    await desk.key("g");
    await desk.key("Control+a");
    await desk.key("b");
    await desk.fill("Width", "5");
    await desk.press("Bevel picked edges");
    await desk.sentence("Bevelled 12 edges by 5 mm");
    await desk.press(/^2 ?Bevelled 12 edges/);
    await desk.fill("Step 2: width", "7");
    await desk.sentence("Changed step 2: bevelled 12 edges by 7 mm");
    await desk.choose("Step 2: bevel", "sharp");
    await until(async () => expect((await lastPart(desk)).steps[1].sharp).toBe(true));
    await desk.fill("Step 2: segments", "3");
    await desk.refused("even number of segments");
    await until(() => expect(desk.field("Step 2: segments")).toBe("2"));
    await desk.press("Take step 2 out");
    await desk.sentence("Took step 2 out");
    expect((await lastPart(desk)).steps).toHaveLength(1);
  });

  it("takes a number typed quickly after a switch without putting the switch back", async () => {
    const desk = await box([1, 1, 1]);
    await desk.key("g");
    await desk.key("Control+a");
    await desk.key("b");
    await desk.press("Bevel picked edges");
    await desk.sentence("Bevelled 12 edges");
    await desk.press(/^2 ?Bevelled 12 edges/);
    await desk.choose("Step 2: bevel", "sharp");
    await desk.fill("Step 2: width", "3");
    await desk.sentence("by 3 mm");
    await until(async () => expect((await lastPart(desk)).steps[1]).toMatchObject({ sharp: true, width: 3 }));
  });
});

describe("lines drawn over the view", () => {
  it("cut, fit and lead", async () => {
    const desk = await box();
    await desk.tool("Front");
    await desk.key("Shift+c");
    await desk.stroke(Array.from({ length: 51 }, (_, k): Spot => [X - 300 + 12 * k, Y + 90]));
    await desk.sentence("Cut faces along a line");
    const before = await points(desk);
    expect(before).toHaveLength(26 + 3);
    await desk.key("Shift+c"); // the tool stays; Escape lays it down
    await desk.key("Escape");
    await desk.key("g");
    await desk.twice([X + 60, Y]);
    await desk.shows(/^\d+ edges$/);
    await desk.key("Shift+f");
    await desk.stroke(
      Array.from({ length: 41 }, (_, k): Spot => [X - 160 + 8 * k, Y - 20 - 30 * Math.sin((Math.PI * k) / 40)]),
    );
    await desk.sentence("Fitted a row of");
    const after = await points(desk);
    const moved = after.filter((place, at) => place.some((value, axis) => Math.abs(value - before[at]![axis]!) > 0.5));
    expect(moved.length).toBeGreaterThanOrEqual(3);
    await desk.key("Escape");
    await desk.key("f");
    await desk.click([X + 60, Y - 100]);
    await desk.shows("1 face");
    await desk.tool("Side");
    await desk.tool("Extrude");
    await desk.sentence("Extruded 1 face out 8.0 mm");
  });

  it("lead a face along a path", async () => {
    const desk = await box([1, 1, 1]);
    await desk.tool("Front");
    await desk.key("x"); // with nothing fitting picked its options open and wait
    await desk.fill("Segments", "5");
    await desk.choose("Along", "path");
    await desk.key("Escape");
    await desk.key("f");
    await desk.click([X, Y]);
    await desk.shows("1 face");
    await desk.tool("Side");
    await desk.key("x");
    await desk.stroke(Array.from({ length: 30 }, (_, k): Spot => [X - 60 - 3 * k, Y - 0.05 * k * k]));
    await desk.sentence("Extruded 1 face along a path");
    const step = await lastStep(desk);
    expect(step.segments).toBe(5);
    expect(step.path.at(-1)[1], "forward, to the left as seen from the side").toBeLessThan(step.path[0][1] - 10);
  });

  it("grow open edges, and no others", async () => {
    const desk = await Desk.at("Form");
    await desk.tool("Grid");
    await desk.press("Begin");
    await desk.sentence("Started from a grid");
    await desk.shows(/Click points on the cage/);
    await desk.tool("Side");
    await desk.key("g");
    await desk.key("Control+a");
    await desk.key("Shift+x");
    await desk.choose("Grow along", "a path");
    await desk.stroke(Array.from({ length: 30 }, (_, k): Spot => [X + 2 * k, Y - 3 * k]));
    await desk.refused("Only open edges grow");
    await desk.press("Understood");
    await desk.key("Escape");
    await desk.key("p");
    await desk.tool("Top");
    const row: Spot[] = [
      [X - 290, Y - 290],
      [X + 290, Y - 190],
    ];
    await desk.stroke(row, ADDING);
    await desk.shows("5 points");
    await desk.key("g");
    await desk.shows("4 edges");
    await desk.tool("Side");
    await desk.key("Shift+x");
    await desk.stroke(Array.from({ length: 30 }, (_, k): Spot => [X + 60 + 2 * k, Y - 3 * k]));
    await desk.sentence("Grew faces from 4 open edges");
  });

  it("are profiles to be turned", async () => {
    const desk = await Desk.at("Form");
    await desk.tool("Turned");
    await desk.tool("Front");
    await desk.stroke(Array.from({ length: 38 }, (_, k): Spot => [X + 60 + 30 * Math.sin(k / 9), Y - 150 + 8 * k]));
    await desk.sentence("Started from a profile turned about H with 24 sides");
    await desk.fill("Start: sides", "16");
    await desk.sentence("Changed step 1: started from a profile turned about H with 16 sides");
    expect(await points(desk)).toHaveLength(16 * 9);
  });
});

describe("parts", () => {
  let desk: Desk;
  beforeEach(async () => {
    desk = await box();
  });

  it("are linked, and shaped where they come from until the link is broken", async () => {
    await desk.press("Linked copy");
    await desk.sentence("Made a linked copy: Body 2");
    await desk.press(/^Body 2 ?linked$/);
    await desk.shows("follows Body");
    await desk.fill("Step 2: stand at W", "90");
    await desk.sentence("Changed step 2: stood the part");
    await desk.key("f");
    await desk.key("Control+a");
    await until(() => screen.getByRole("button", { name: "24 faces" }));
    await desk.key("n");
    await desk.refused("Body 2 follows Body");
    await desk.press("Break the link");
    await desk.sentence("Broke the link of a part");
    await desk.press("Body");
    await desk.select("Merge in", "Body 2");
    await desk.sentence("Merged two parts");
    expect(spread(await points(desk), 0)).toBeCloseTo(152, 6);
  });

  it("are locked, grouped, hidden and looked at alone", async () => {
    await desk.press("Lock Body");
    await desk.sentence("Locked a part");
    await desk.press("Remove Body");
    await desk.refused("Body is locked");
    await desk.press("Unlock Body");
    await desk.sentence("Unlocked a part");
    await desk.fill("Group", "Shells");
    await desk.sentence("Put a part in the group Shells");
    await desk.press("Hide the group Shells");
    await desk.sentence("Hid a part");
    await desk.press("Show the group Shells");
    await desk.sentence("Showed a part");
    await desk.press("Look only at Body");
    await desk.press("Show all again, not only Body");
    await until(() => screen.getByRole("button", { name: "Look only at Body" }));
  });

  it("weigh what they are made of", async () => {
    await desk.select("Made of", "aluminium");
    await desk.sentence("Made a part of aluminium");
    const size = await desk.get(`/forms/${desk.document("Form")}/size`);
    // 2.70 g/cm³ (handbook)
    expect(Object.values(size.grams)).toEqual([expect.closeTo((size.volume / 1000) * 2.7, 6)]);
    await desk.shows("Weighs, solid");
  });

  it("are measured from point to point", async () => {
    await desk.key("p");
    await desk.tool("Front");
    await desk.key("Shift+n");
    await desk.choose("Shown", "cage");
    const scale = CANVAS.height / (2 * 0.78 * 108); // the view holds 1.56 of the largest extent
    await desk.click([X - 31 * scale, Y - 54 * scale]);
    await desk.click([X - 31 * scale, Y + 54 * scale]);
    await desk.sentence("Measured between two points");
    // a corner of the cage comes to lie at (9v + 4Σe + Σf) / 24 (Halstead, Kass & DeRose 1993), here 40.5 mm of 54
    await until(() => expect(screen.getByTestId("dimension").textContent).toBe("81.0 mm"));
    await desk.choose("Measured along", "H");
    await until(async () => expect((await desk.body("Form")).measures[0].along).toBe("H"));
    await desk.press("Take away the dimension");
    await desk.sentence("Took a dimension away");
  });
});
