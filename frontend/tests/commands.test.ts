// @vitest-environment jsdom
/** Tool lists: every command has a name and a place, and no key stands for two things. */
import { beforeEach, describe, expect, it, vi } from "vitest";
import { answersTo, type Command, run } from "../src/bench/commands";
import { hasMotion } from "../src/bench/Motion";
import { useBench } from "../src/bench/store";
import { type FormDoings, formCommands } from "../src/stages/form/commands";
import { useFormStage } from "../src/stages/form/store";
import { type SketchDoings, sketchCommands } from "../src/stages/sketch/commands";
import { useSketch } from "../src/stages/sketch/store";
import { onLines } from "../src/stages/sketch/useLines";
import { lookCommands } from "../src/view3d/looks";
import { forwardOf } from "../src/view3d/orbit";

/** Every doing is a spy, so that what a command calls can be asked. */
function spies<T extends object>(fields: Partial<T>): T {
  const made = new Map<string, unknown>();
  return new Proxy(fields as T, {
    get: (target, name: string) => {
      if (name in target) return target[name as keyof T];
      if (!made.has(name)) made.set(name, vi.fn());
      return made.get(name);
    },
  });
}

const EYE = { now: vi.fn(), look: vi.fn(), follow: vi.fn() };
const LOOKS = lookCommands(EYE, () => []);

const sketch = (fields: Partial<SketchDoings> = {}) =>
  sketchCommands(
    spies<SketchDoings>({
      symmetry: false,
      guides: true,
      options: { perspective: null, box: null, face: () => null, light: null, numbers: null },
      ...fields,
    }),
  );
const form = (fields: Partial<FormDoings> = {}) =>
  formCommands(
    spies<FormDoings>({
      state: useFormStage.getState(),
      part: true,
      held: undefined,
      symmetry: "W",
      looks: LOOKS,
      ...fields,
    }),
  );
const find = (commands: Command[], id: string) => commands.find((command) => command.id === id)!;

beforeEach(() => {
  useSketch.setState({ tool: "pencil", nib: "pencil", selection: null, lines: [], overview: false, directed: false });
  useFormStage.setState({ tool: "pick", kind: "points", shown: "both", handle: "move", through: false });
});

describe.each([
  ["Sketch", sketch],
  ["Form", form],
])("the tools of %s", (_, list) => {
  it("have names, groups and ids of their own", () => {
    const commands = list();
    expect(new Set(commands.map((command) => command.id)).size).toBe(commands.length);
    expect(new Set(commands.map((command) => command.name)).size).toBe(commands.length);
    for (const command of commands) expect(command.group).not.toBe("");
  });

  it("say in a sentence what they do, and answer to their own name", () => {
    for (const command of list()) {
      expect(command.does, command.id).toMatch(/^[A-Z].*\.$/);
      expect(answersTo(command, command.name), command.id).toBeGreaterThan(0);
    }
  });

  it("are drawn, each of them, as it works", () => {
    const stage = list === form ? "Form" : "Sketch";
    for (const command of list())
      if (!command.id.startsWith("nudge") && !/-view-/.test(command.id))
        expect(hasMotion(stage, command.id), command.id).toBe(true);
  });

  it("share no key, and take none of the bench's", () => {
    const keys = list().flatMap((command) => (command.key ? [command.key] : []));
    expect(new Set(keys).size).toBe(keys.length);
    for (const taken of ["1", "2", "3", "4", "5", "?", "mod+k", "mod+z"]) expect(keys).not.toContain(taken);
  });
});

describe("looking for a command by what it means", () => {
  const best = (commands: Command[], typed: string) =>
    commands
      .map((command) => ({ id: command.id, worth: answersTo(command, typed) }))
      .filter(({ worth }) => worth > 0)
      .sort((a, b) => b.worth - a.worth)
      .map(({ id }) => id);

  it.each([
    ["round the edge", "bevelled"],
    ["rounding", "bevelled"],
    ["make a hole", "removed"],
    ["mirror", "symmetry"],
    ["export for 3d printer", "out-stl"],
    ["handle", "bridged"],
  ])("“%s” finds %s in Form", (typed, id) => {
    expect(best(form(), typed)).toContain(id);
  });

  it.each([
    ["erase", "lifter"],
    ["bucket", "fill"],
    ["airbrush", "mist"],
    ["import a photo", "picture"],
  ])("“%s” finds %s in Sketch first", (typed, id) => {
    expect(best(sketch(), typed)[0]).toBe(id);
  });

  it("finds nothing by what nothing means", () => {
    expect(best(form(), "xylophone")).toEqual([]);
    expect(best(form(), "the of")).toEqual([]);
    expect(best(form(), "").length).toBe(form().length);
  });
});

describe("what cannot act", () => {
  it("says why, and is not done", () => {
    useFormStage.setState({ items: [] });
    const does = spies<FormDoings>({ looks: LOOKS, part: true, held: undefined, state: useFormStage.getState() });
    run(find(formCommands(does), "row-pick"));
    expect(does.pickMore).not.toHaveBeenCalled();
    expect(useBench.getState().notice?.text).toBe("Pick a point, an edge or a face first.");
    for (const command of form({ part: false })) {
      if (command.group === "Add" || command.group === "Change")
        expect(command.cannot, command.id).toContain("no part yet");
    }
  });

  it("can be taken up where it waits for its pick", () => {
    useFormStage.setState({ items: [], kind: "points" });
    run(find(form({ convert: () => [] }), "bevelled"));
    expect(useFormStage.getState()).toMatchObject({ tool: "bevelled", kind: "edges" });
    expect(find(form({ held: "Body is locked." }), "bevelled")).toMatchObject({
      cannot: "Body is locked.",
      waits: false,
    });
  });
});

describe("keys from our own words", () => {
  it("are those of the design in Sketch", () => {
    const keys = Object.fromEntries(sketch().map((command) => [command.id, command.key]));
    expect(keys).toMatchObject({
      pencil: "d",
      lifter: "e",
      lasso: "a",
      straightedge: "g",
      "take-colour": "c",
      smaller: "[",
      larger: "]",
      paler: ",",
      darker: ".",
      sweep: "shift+g",
      divide: "shift+d",
      perspective: "v",
      "construction-box": "shift+b",
      circle: "shift+o",
      light: "shift+t",
      words: "l",
      callout: "shift+l",
      dimension: "shift+m",
      arrow: "shift+r",
      "move-view": "shift+f",
      overview: "shift+w",
    });
  });

  it("are those of the design in Form", () => {
    const keys = Object.fromEntries(form().map((command) => [command.id, command.key]));
    expect(keys).toMatchObject({
      points: "p",
      move: "m",
      turn: "t",
      size: "z",
      extruded: "x",
      creased: "k",
      through: "h",
      symmetry: "j",
    });
  });
});

describe("Sketch", () => {
  it("takes up tools and marks the one in the hand", () => {
    find(sketch(), "marker").run();
    expect(useSketch.getState().tool).toBe("marker");
    expect(find(sketch(), "marker").active).toBe(true);
    expect(find(sketch(), "pencil").active).toBe(false);
    find(sketch(), "lasso").run();
    expect(useSketch.getState()).toMatchObject({ tool: "lasso", nib: "marker" });
  });

  it("counts a soft lifter as the lifter", () => {
    useSketch.getState().take("soft lifter");
    expect(find(sketch(), "lifter").active).toBe(true);
  });

  it("offers what needs a selection only where there is one", () => {
    expect(find(sketch(), "clear-outside").cannot).toContain("Select something first");
    useSketch.setState({ selection: { selection: "x", rect: [0, 0, 9, 9], edges: [] } });
    for (const id of ["clear", "clear-outside", "invert", "fill-selection", "nothing"]) {
      expect(find(sketch(), id).cannot, id).toBeUndefined();
    }
  });

  it("offers clearing and letting go for picked lines too", () => {
    useSketch.setState({ lines: [{ id: "s", path: [[0, 0]] }] });
    expect(find(sketch(), "clear").cannot).toBeUndefined();
    expect(find(sketch(), "nothing").cannot).toBeUndefined();
    expect(find(sketch(), "cut-out").cannot).toBeUndefined();
    expect(find(sketch(), "fill-selection").cannot).toBeTruthy();
  });

  it("moves paint only where something is selected", () => {
    expect(find(sketch(), "move-paint").cannot).toBeTruthy();
    useSketch.setState({ selection: { selection: "x", rect: [0, 0, 9, 9], edges: [] } });
    find(sketch(), "move-paint").run();
    expect(useSketch.getState()).toMatchObject({ tool: "move paint", nib: "pencil" });
  });

  it("shows all sheets and one again by turns, and holds to directions by turns", () => {
    find(sketch(), "overview").run();
    expect(useSketch.getState().overview).toBe(true);
    expect(find(sketch(), "overview").active).toBe(true);
    find(sketch(), "overview").run();
    expect(useSketch.getState().overview).toBe(false);
    find(sketch(), "direct").run();
    expect(useSketch.getState().directed).toBe(true);
    find(sketch(), "direct").run();
    expect(useSketch.getState().directed).toBe(false);
  });

  it("saves pages at every size and as PDF", () => {
    const save = vi.fn();
    const commands = sketch({ save });
    for (const id of ["png", "png-2", "png-3", "png-4", "pdf"]) find(commands, id).run();
    expect(save.mock.calls.flat()).toEqual([
      "page.png",
      "page.png?scale=2",
      "page.png?scale=3",
      "page.png?scale=4",
      "page.pdf",
    ]);
  });

  it("does what the words say", () => {
    const options = { perspective: null, box: null, face: () => null, light: null, numbers: null };
    const does = spies<SketchDoings>({ symmetry: true, guides: false, options });
    const commands = sketchCommands(does);
    find(commands, "new-tone").run();
    expect(does.addLayer).toHaveBeenCalledWith("tone");
    find(commands, "clear-outside").run();
    expect(does.clear).toHaveBeenCalledWith(true);
    find(commands, "larger").run();
    expect(does.nudge).toHaveBeenCalledWith("size", 1.2, 0);
    find(commands, "ora").run();
    expect(does.save).toHaveBeenCalledWith("page.ora");
    expect(find(commands, "mirror").note).toBe("on");
    expect(find(commands, "hold").cannot).toContain("no guide");
  });

  it("switches holding to guides", () => {
    useSketch.setState({ holding: true });
    expect(find(sketch(), "hold").note).toBe("on");
    find(sketch(), "hold").run();
    expect(useSketch.getState().holding).toBe(false);
  });
});

describe("Form", () => {
  it("extrudes at once where faces are picked, and asks for faces otherwise", () => {
    useFormStage.setState({ kind: "faces", items: [2] });
    const ready = spies<FormDoings>({ looks: LOOKS, state: useFormStage.getState() });
    find(formCommands(ready), "extruded").run();
    expect(ready.apply).toHaveBeenCalledWith(expect.objectContaining({ kind: "extruded" }));
    useFormStage.setState({ kind: "points", items: [1, 2] });
    const asking = spies<FormDoings>({ looks: LOOKS, state: useFormStage.getState(), convert: () => [4] });
    find(formCommands(asking), "extruded").run();
    expect(useFormStage.getState()).toMatchObject({ tool: "extruded", kind: "faces", items: [4] });
  });

  it("shows both, the skin, the cage by turns", () => {
    const seen = [];
    for (let k = 0; k < 3; k++) {
      find(form(), "shown").run();
      seen.push(useFormStage.getState().shown);
    }
    expect(seen).toEqual(["skin", "cage", "both"]);
  });

  it("says whether symmetry is on", () => {
    expect(find(form(), "symmetry").note).toBe("W");
    expect(find(form({ symmetry: undefined }), "symmetry").note).toBeUndefined();
  });
});

describe("picked lines", () => {
  const lines = [
    { id: "a", path: [[0, 0] as [number, number], [10, 0] as [number, number], [20, 0] as [number, number]] },
  ];

  it("are held where the hand is near one", () => {
    expect(onLines(lines, [11, 6], 8)).toBe(true);
    expect(onLines(lines, [11, 12], 8)).toBe(false);
    expect(onLines([], [0, 0], 99)).toBe(false);
  });
});

describe("looking from a side", () => {
  it.each([
    ["look-front", [0, 1, 0]],
    ["look-side", [-1, 0, 0]],
    ["look-top", [0, 0, -1]],
  ])("%s looks along its axis at all there is", (id, way) => {
    const before = vi.fn();
    find(
      lookCommands(EYE, () => [], before),
      id,
    ).run();
    expect(before).toHaveBeenCalledOnce();
    const orbit = EYE.look.mock.lastCall![0];
    forwardOf(orbit)
      .toArray()
      .forEach((value, axis) => {
        expect(value).toBeCloseTo(way[axis]!, 9);
      });
    expect(orbit.target).toEqual([0, 0, 0]);
  });
});
