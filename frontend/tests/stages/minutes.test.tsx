/** What leads a newcomer, and what gives those at home room and reach: the shelf, the brief, first steps, copies, menus, edges. */
import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { queries } from "../../src/api/queries";
import { useCarried } from "../../src/bench/carrying";
import { arriving, freeName, productName } from "../../src/bench/shelf/arrivals";
import { useBench, useSettings } from "../../src/bench/store";
import { useFormStage } from "../../src/stages/form/store";
import { courseThrough, type Place, placesOf } from "../../src/stages/sketch/NumbersOptions";
import { useSketch } from "../../src/stages/sketch/store";
import { ago, bytes } from "../../src/ui/when";
import { Desk, until } from "./desk";

const BOX = {
  kind: "start_part",
  part: "b",
  name: "Body",
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
  symmetry: { planes: ["W"] },
};

const click = (thing: Element) => act(async () => void fireEvent.click(thing));
/** Radix opens menus by a pointer, not by a click. */
async function menu(label: string): Promise<HTMLElement> {
  const button = screen.getByRole("button", { name: label });
  await act(async () => void fireEvent.pointerDown(button, { button: 0, pointerType: "mouse" }));
  return screen.findByRole("menu");
}
const pickFrom = async (list: HTMLElement, name: string | RegExp) =>
  click(within(list).getByRole("menuitem", { name }));

describe("the shelf", () => {
  const shelf = async (desk: Desk) => {
    await desk.command("Projects");
    return screen.findByRole("dialog", { name: "Projects" });
  };

  it("renames, copies, puts away and brings back", async () => {
    const desk = await Desk.at("Form", [BOX]);
    const dialog = await shelf(desk);
    await pickFrom(await menu(`More for ${desk.name}`), "Rename");
    await desk.fill("Product", "Wren");
    await desk.press("Keep");
    await until(() => expect(screen.getByRole("heading", { level: 1 }).textContent).toBe("Wren"));
    await pickFrom(await menu("More for Wren"), "Duplicate");
    await until(() => within(dialog).getByRole("listitem", { name: "Wren copy" }));
    await pickFrom(await menu("More for Wren copy"), "Put away");
    await until(() => expect(within(dialog).queryByRole("listitem", { name: "Wren copy" })).toBeNull());
    await desk.press(/Put away: \d+$/);
    await desk.press("Bring Wren copy back");
    await until(() => within(dialog).getByRole("listitem", { name: "Wren copy" }));
    await act(
      async () => void fireEvent.change(screen.getByLabelText("Find a project"), { target: { value: "wren cop" } }),
    );
    expect(
      within(dialog)
        .getAllByRole("listitem")
        .map((one) => one.getAttribute("aria-label")),
    ).toEqual(["Wren copy"]);
  });

  it("begins a product in Sketch with the pencil in hand, whatever was open before", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("k");
    expect(useSketch.getState().tool).toBe("fill");
    await act(async () => useBench.getState().go("Review"));
    await shelf(desk);
    await desk.press("New product");
    await until(() => expect(useBench.getState().project).not.toBe(desk.project));
    expect(useBench.getState().stage).toBe("Sketch");
    await until(() => expect(screen.getByRole("button", { name: "Pencil" }).ariaPressed).toBe("true"));
    await desk.shows("A blank sheet");
  });

  it("says what files can come in", async () => {
    const desk = await Desk.at("Sketch");
    const wrong = new File(["no"], "notes.txt");
    await shelf(desk);
    await act(async () => void fireEvent.change(screen.getByLabelText("Open a file"), { target: { files: [wrong] } }));
    await desk.refused("notes.txt is of no kind that can come in");
  });

  it("knows files by their endings, and names products by them", () => {
    expect(["a.PNG", "b.jpeg", "c.ora", "d.obj", "e.marble", "f.txt", "none"].map(arriving)).toEqual([
      "picture",
      "picture",
      "layers",
      "form",
      "project",
      null,
      null,
    ]);
    expect([productName("river_pebble-2.png"), productName(".png"), productName("x".repeat(90))]).toEqual([
      "river pebble 2",
      "New product",
      "x".repeat(56),
    ]);
    expect(freeName("Wren", ["wren", "Wren 2"])).toBe("Wren 3");
  });

  it("tells ages and sizes in words", () => {
    const now = Date.parse("2026-11-26T12:00:00Z");
    const then = (seconds: number) => ago(new Date(now - 1000 * seconds).toISOString(), now);
    expect([0, 59, 130, 7300, 200_000].map(then)).toEqual([
      "this minute",
      "this minute",
      "2 minutes ago",
      "2 hours ago",
      "2 days ago",
    ]);
    expect([12, 81_920, 7_200_000].map(bytes)).toEqual(["1 kB", "82 kB", "7.2 MB"]);
  });
});

describe("the brief", () => {
  it("keeps words and a size, and Form says how much is over", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.key("Control+b");
    await desk.set("What it must be", "A recorder for birdsong.");
    await desk.press("Set a size");
    await desk.fill("Size to keep within H", "100");
    await desk.press("Close");
    await desk.shows("H 8.0 mm over the brief");
    await act(async () => useSettings.getState().change({ unit: "inch" }));
    await desk.shows("H 0.315 in over the brief");
    const brief = desk.documents.find(({ kind }) => kind === "brief")!.id;
    expect((await desk.get(`/briefs/${brief}`)).body).toMatchObject({
      what: "A recorder for birdsong.",
      envelope: [62, 34, 100],
    });
  });
});

describe("first steps", () => {
  it("are noticed when they are done, and gone for good when dismissed", async () => {
    const desk = await Desk.at("Form");
    const strip = () => screen.getByTitle("First steps");
    await until(() => expect(strip().textContent).toBe("Next: draw the outline0/6"));
    await desk.edit("Form", BOX);
    await act(async () => void (await queries.invalidateQueries({ queryKey: ["state"] })));
    await until(() => expect(strip().textContent).toContain("1/6"));
    await click(strip());
    await desk.press("I know my way: do not show this again");
    expect(screen.queryByTitle("First steps")).toBeNull();
    expect(useSettings.getState().led).toBe(true);
  });
});

describe("an empty form", () => {
  it("offers likely beginnings, and becomes a box in one move", async () => {
    const desk = await Desk.at("Form");
    await desk.shows("No form yet");
    await desk.press(/^A box/);
    await desk.sentence("Started from a box 62 × 34 × 108 mm");
    expect(screen.queryByText("No form yet")).toBeNull();
  });

  it("makes a body of what is drawn on a sheet, pinned behind it", async () => {
    const desk = await Desk.at("Sketch");
    await desk.tool("Line by numbers");
    await desk.set("Places of the line", "900 300\n1500 320\n1560 1000\n1200 1350\n840 1000");
    await desk.press("Comes round", "switch");
    await desk.press("Draw it");
    await desk.sentence("Drew with the pencil");
    await desk.key("2");
    await desk.shows("Body by its outline");
    await desk.key("Control+b");
    await desk.press("Set a size");
    await desk.fill("Size to keep within H", "130");
    await desk.press("Close");
    // the brief's height is offered, also where it comes after the page
    await until(() => expect(desk.field("High")).toBe("130"));
    await desk.press("Body by its outline");
    await desk.sentence("Started from the outline of the front");
    const { parts, references } = await desk.body("Form");
    expect(parts[0].steps[0]).toMatchObject({ kind: "outlined", view: "front" });
    expect(references).toHaveLength(1);
  });
});

describe("lines by numbers", () => {
  const PAGE: Place = [2400, 1600];

  it("go through every place that was typed", () => {
    const places = placesOf("100 100\n300, 5\n 500 400", PAGE);
    expect(places).toBe("Line 2 is no place. Type two numbers, like 600 400.");
    const read = placesOf("100 100; 300 250; 500 100", PAGE) as Place[];
    for (const smooth of [true, false]) {
      const course = courseThrough(read, smooth, false);
      for (const [x, y] of read)
        expect(Math.min(...course.map(([cx, cy]) => Math.hypot(cx - x, cy - y)))).toBeLessThan(1e-9);
      const steps = course.slice(1).map(([x, y], k) => Math.hypot(x - course[k]![0], y - course[k]![1]));
      expect(Math.max(...steps)).toBeLessThan(8);
    }
  });

  it("come round to where they began, and a circle's corners make nearly a circle", () => {
    const ring = Array.from(
      { length: 12 },
      (_, k): Place => [1000 + 300 * Math.cos((k * Math.PI) / 6), 800 + 300 * Math.sin((k * Math.PI) / 6)],
    );
    const course = courseThrough(ring, true, true);
    expect(course.at(-1)![0]).toBeCloseTo(1300, 9);
    for (const [x, y] of course) expect(Math.abs(Math.hypot(x - 1000, y - 800) - 300)).toBeLessThan(1.5);
  });

  it.each(["", "5 5", "1 2 3\n4 5", "5 5\n9999 5", "a b\nc d"])("say what is wrong with %j", (text) => {
    expect(typeof placesOf(text, PAGE)).toBe("string");
  });
});

describe("copies", () => {
  it("of a part are pasted by the system's paste, and tell what they are of", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.key("Control+c");
    await desk.refused("Copied Body.");
    await act(async () => void fireEvent(window, new Event("paste", { bubbles: true, cancelable: true })));
    await desk.sentence("Pasted Body 2");
    expect((await desk.body("Form")).parts.map((part: { name: string }) => part.name)).toEqual(["Body", "Body 2"]);
  });
});

describe("a menu at the hand", () => {
  it("names what was done last, and what can act on the pick", async () => {
    const desk = await Desk.at("Form", [BOX]);
    useFormStage.setState({ kind: "faces", items: [0] });
    const canvas = desk.canvas();
    for (const type of ["pointerDown", "pointerUp"] as const)
      await act(async () => void fireEvent[type](canvas, { button: 2, clientX: 40, clientY: 40, pointerId: 1 }));
    const list = await screen.findByRole("menu");
    const names = within(list)
      .getAllByRole("menuitem")
      .map((one) => one.textContent);
    expect(names[0]).toMatch(/^Undo: Started from a box/);
    expect(names.some((name) => name?.startsWith("Extrude"))).toBe(true);
    expect(names.some((name) => name?.startsWith("Bevel"))).toBe(false);
    await pickFrom(list, /^Undo/);
    await until(() => expect(screen.getByTestId("sentence").textContent).toBe("Nothing done yet"));
  });
});

describe("what is carried", () => {
  it("is taken by the stages it can go to, and by no other", async () => {
    const desk = await Desk.at("Sketch", [
      { kind: "frame_view", id: "v", view: "front", name: "front", rect: [100, 100, 900, 900] },
    ]);
    const word = (name: string) =>
      within(screen.getByRole("navigation", { name: "Stages" })).getByRole("button", { name });
    const dataTransfer = { setData: vi.fn(), types: ["text/plain"] };
    const row = (await screen.findByDisplayValue("front")).closest("[draggable]")!;
    await act(async () => void fireEvent.dragStart(row, { dataTransfer }));
    expect(useCarried.getState().thing).toMatchObject({ kind: "view", view: "v" });
    await act(async () => void fireEvent.drop(word("Review"), { dataTransfer }));
    expect(useBench.getState().stage).toBe("Sketch");
    await act(async () => void fireEvent.drop(word("Form"), { dataTransfer }));
    await desk.sentence("Pinned a view as front");
    expect(useBench.getState().stage).toBe("Form");
  });
});

describe("room", () => {
  it("is cleared by one key, and the edges bring panels back", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("0");
    expect(screen.queryByRole("navigation", { name: "Tools" })).toBeNull();
    expect(screen.queryByRole("navigation", { name: "Stages" })).toBeNull();
    const tab = screen.getByRole("button", { name: "Tools" });
    await act(async () => void fireEvent.pointerEnter(tab, { pointerType: "mouse" }));
    await until(() => screen.getByRole("navigation", { name: "Tools" }));
    await act(async () => void fireEvent.keyDown(window, { key: "Escape" }));
    expect(screen.queryByRole("navigation", { name: "Tools" })).toBeNull();
    await desk.key("0");
    await until(() => screen.getByRole("navigation", { name: "Stages" }));
  });

  it("is shared out by the edges between panels and canvas, within what can be read", async () => {
    await Desk.at("Sketch");
    const edge = screen.getByRole("separator", { name: "Width of the tool list" });
    for (let k = 0; k < 30; k++) await act(async () => void fireEvent.keyDown(edge, { key: "ArrowLeft" }));
    expect(useSettings.getState().widths.tools).toBe(9);
    await act(async () => void fireEvent.keyDown(edge, { key: "ArrowRight" }));
    expect(useSettings.getState().widths.tools).toBe(10);
  });
});
