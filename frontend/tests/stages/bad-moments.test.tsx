/** A server that answers late, twice, with an error or not at all, and other hands at the same document. */
import { act, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { useOutbox } from "../../src/api/outbox";
import { Desk, type Spot, until } from "./desk";
import { breakStream, news, wire } from "./dom";

const PEN = { pointerType: "pen", pressure: 0.9 };
const line = (y: number): Spot[] => Array.from({ length: 20 }, (_, k) => [200 + 10 * k, y]);
const changes = (request: Request) => request.method === "POST" && !request.url.endsWith("/preview");
const gone = () => Promise.reject(new TypeError("fetch failed"));
const unsafe = () => screen.queryByRole("status", { name: "Not yet safe" })?.textContent ?? "";

const BOX = {
  kind: "start_part",
  part: "b",
  name: "Body",
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
};

/** What the page's lines are, by the order they were drawn in. */
async function heights(desk: Desk): Promise<number[]> {
  const svg = await desk.text(`/sheets/${desk.document("Sketch")}/page.svg`);
  return [...svg.matchAll(/<path[^>]* d="M\s*[\d.]+[ ,]([\d.]+)/g)].map((found) => Math.round(Number(found[1])));
}

describe("while the server is away", () => {
  it("lines are kept in order, told to be unsafe, and sent when it is back", async () => {
    const desk = await Desk.at("Sketch");
    wire.is = gone;
    for (const y of [200, 300, 400]) await desk.stroke(line(y), PEN);
    await until(() => expect(unsafe()).toContain("3 changes are not yet safe"));
    expect((await desk.body("Sketch")).layers[0].strokes).toBe(0);
    wire.is = (_, go) => go();
    news("hello", {});
    await desk.shows(/^3 edits/);
    await until(() => expect(unsafe()).toBe(""));
    expect((await desk.body("Sketch")).layers[0].strokes).toBe(3);
    const found = await heights(desk);
    expect(found).toEqual([...found].sort((a, b) => a - b));
    expect(found).toHaveLength(3);
  });

  it("numbers show what is on its way, and undo waits its turn", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.shows(/Click points/);
    wire.is = (request, go) => (changes(request) ? gone() : go());
    await desk.fill("Start box W", "80");
    await desk.fill("Start box D", "40");
    await desk.fill("Start box W", "90");
    await until(() => expect(unsafe()).toContain("3 changes"));
    expect([desk.field("Start box W"), desk.field("Start box D")]).toEqual(["90.0", "40.0"]);
    await desk.key("Control+z");
    wire.is = (_, go) => go();
    news("hello", {});
    await until(() => expect(unsafe()).toBe(""));
    await until(() => expect(desk.field("Start box W")).toBe("80.0"));
    expect((await desk.body("Form")).parts[0].steps[0].size).toEqual([80, 40, 108]);
  });

  it("it is found again without news of it", async () => {
    const desk = await Desk.at("Sketch");
    let tries = 0;
    wire.is = (_, go) => {
      tries += 1;
      return tries < 4 ? gone() : go();
    };
    await desk.stroke(line(300), PEN);
    await desk.shows(/^1 edit/);
    expect(tries).toBeGreaterThanOrEqual(4);
  });

  it("a server that is starting up counts as away", async () => {
    const desk = await Desk.at("Sketch");
    wire.is = async () => new Response("", { status: 503 });
    await desk.stroke(line(300), PEN);
    await until(() => expect(unsafe()).toContain("1 change is"));
    wire.is = (_, go) => go();
    news("hello", {});
    await desk.shows(/^1 edit/);
  });
});

describe("an answer that is lost", () => {
  it("does not draw a line twice", async () => {
    const desk = await Desk.at("Sketch");
    let lost = 0;
    wire.is = async (request, go) => {
      const answered = await go();
      if (!changes(request) || lost === 2) return answered;
      lost += 1;
      return gone();
    };
    await desk.stroke(line(300), PEN);
    await desk.stroke(line(400), PEN);
    await desk.shows(/^2 edits/);
    expect(lost).toBe(2);
    expect((await desk.body("Sketch")).layers[0].strokes).toBe(2);
    expect(desk.page.head).toBe((await desk.state("Sketch")).standing.head);
  });

  it("does not undo twice", async () => {
    const desk = await Desk.at("Form", [BOX, { kind: "change_part", part: "b", visible: false }]);
    let lost = false;
    wire.is = async (request, go) => {
      const answered = await go();
      if (!changes(request) || lost) return answered;
      lost = true;
      return gone();
    };
    await desk.key("Control+z");
    await desk.sentence("Started from a box");
    await until(() => expect(useOutbox.getState().waiting).toEqual([]));
    expect((await desk.state("Form")).standing.edits).toBe(1);
  });
});

describe("what cannot be kept after all", () => {
  it("leaves the screen with a sentence that says what is lost", async () => {
    const desk = await Desk.at("Sketch");
    wire.is = gone;
    await desk.stroke(line(300), PEN);
    await until(() => expect(unsafe()).not.toBe(""));
    await desk.edit("Sketch", { kind: "change_layer", layer: "rough", locked: true });
    wire.is = (_, go) => go();
    news("hello", {});
    await desk.refused("A line could not be kept and is gone. “Rough” is locked");
    await until(() => expect(desk.page.wet).toBe(0));
    await desk.sentence("Locked a layer");
    expect((await desk.body("Sketch")).layers[0].strokes).toBe(0);
  });

  it("puts the stored number back", async () => {
    const ring = { kind: "ring", radius: 20, tube: 5, around: 12, section: 6 };
    const desk = await Desk.at("Form", [{ ...BOX, start: ring }]);
    await desk.shows(/Click points/);
    await desk.fill("Start: radius of its section", "40");
    await desk.refused("thinner than the ring is wide");
    await until(() => expect(desk.field("Start: radius of its section")).toBe("5.0"));
  });
});

describe("a tab that slept", () => {
  it("is where the server is when it wakes, though it has heard nothing", async () => {
    const desk = await Desk.at("Sketch");
    await desk.edit("Sketch", { kind: "add_layer", id: "x", name: "Theirs", holds: "ink" });
    await desk.edit("Form", BOX);
    expect(screen.queryByText("Theirs")).toBeNull();
    await act(async () => void document.dispatchEvent(new Event("visibilitychange")));
    await desk.shows("Theirs");
    await desk.shows(/^1 edit/);
    await until(async () => expect(desk.page.head).toBe((await desk.state("Sketch")).standing.head));
    await desk.key("2");
    await desk.shows(/Click points/);
  });

  it("hears of everything when its stream is joined again", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.shows(/Click points/);
    await breakStream();
    await desk.shows(/The server is not answering/);
    await desk.edit("Form", { kind: "change_part", part: "b", name: "Shell" });
    news("hello", {});
    await until(() => expect(desk.field("Name")).toBe("Shell"));
    expect(screen.queryByText(/The server is not answering/)).toBeNull();
  });
});

describe("a project whose file is taken out of the data folder", () => {
  it("is said to be gone, with what to do, and is there again with its file", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(line(200), PEN);
    await desk.shows(/^1 edit/);
    const back = desk.takeFileAway();
    await desk.stroke(line(400), PEN);
    await desk.shows(/not on the shelf any more. Bring it back, put its file into the data folder and look again/);
    await desk.refused("There is no such project in the data folder.");
    back();
    await desk.press("Look again");
    await desk.shows(/^1 edit/);
    await until(() => expect(desk.page.wet).toBe(0));
    await desk.stroke(line(300), PEN);
    await desk.shows(/^2 edits/);
    expect((await desk.body("Sketch")).layers[0].strokes).toBe(2);
  });
});

describe("fast hands", () => {
  it("type three numbers before the first is answered, and find all three", async () => {
    const desk = await Desk.at("Studio", [BOX], "Form");
    await desk.shows("Key to fill");
    wire.is = async (request, go) => {
      if (changes(request)) await new Promise((resolve) => setTimeout(resolve, 150));
      return go();
    };
    const typed = { Around: "61.0", Distance: "777", Tall: "333" };
    for (const [label, value] of Object.entries(typed)) await desk.fill(label, value);
    const shown = () => Object.keys(typed).map((label) => desk.field(label));
    expect(shown()).toEqual(Object.values(typed));
    await until(() => expect(useOutbox.getState().waiting).toEqual([]));
    expect(shown()).toEqual(Object.values(typed));
    const [lamp] = (await desk.body("Studio")).setting.lamps;
    expect(lamp).toMatchObject({ azimuth: 61, distance: 777, tall: 333 });
  });

  it("see what another hand did between their own edits", async () => {
    const desk = await Desk.at("Sketch");
    await desk.stroke(line(200), PEN);
    await desk.shows(/^1 edit/);
    await desk.edit("Sketch", { kind: "add_layer", id: "x", name: "Theirs", holds: "ink" });
    await desk.stroke(line(400), PEN); // its answer brings the layer, before any news of it
    await desk.shows(/^3 edits/);
    await desk.shows("Theirs");
    for (let again = 0; again < 2; again++) news("document", { document: desk.document("Sketch"), tab: "another" });
    await desk.shows(/^3 edits/);
    expect(desk.page.head).toBe((await desk.state("Sketch")).standing.head);
  });

  it("are told where both set one number, and choose", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.shows(/Click points/);
    const wide = async (width: number) => {
      const step = { ...BOX.start, size: [width, 34, 108] };
      await desk.edit("Form", { kind: "change_step", part: "b", index: 0, step });
    };
    const width = async () => (await desk.body("Form")).parts[0].steps[0].size[0];
    await wide(80); // no news of it has come here
    await desk.fill("Start box W", "70");
    await desk.shows(/changed in another window while you changed it/);
    expect(await width()).toBe(80);
    await desk.press("Set 70");
    await until(async () => expect(await width()).toBe(70));
    await until(() => expect(screen.queryByRole("alert")).toBeNull());
    await wide(90);
    await desk.fill("Start box W", "60");
    await desk.press("Keep 90");
    await until(() => expect(screen.queryByRole("alert")).toBeNull());
    expect(await width()).toBe(90);
    await until(() => expect(desk.field("Start box W")).toBe("90.0"));
  });
});
