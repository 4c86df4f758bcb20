/** Stage, document and view are in the address: reload and Back lead exactly there. */
import { cleanup, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { addressOf, followTheAddress, fromWords, inWords, placeOf } from "../../src/bench/address";
import { useBench } from "../../src/bench/store";
import { fromMiddled, middled } from "../../src/paper/viewport";
import { formEye } from "../../src/stages/form/hand";
import { numbersOf, orbitOf } from "../../src/view3d/orbit";
import { Desk, until } from "./desk";
import { CANVAS } from "./dom";

const BOX = {
  kind: "start_part",
  part: "b",
  name: "Body",
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
};

let stop = () => {};
afterEach(() => {
  stop();
  stop = () => {};
});

/** As if the page were opened at an address. */
function follow(address: string): void {
  stop();
  history.replaceState(null, "", address);
  stop = followTheAddress();
}

const path = () => location.pathname;
const pressed = (name: string) => screen.getByRole("button", { name, current: "page" });

describe("an address that no hand has made", () => {
  it("leads to what is there: a view far off the page or the form is not gone to", async () => {
    const desk = await Desk.at("Form", [BOX]);
    cleanup();
    follow(`/${desk.project}/form?view=1e308_1e308_0_0_0_100_28`);
    Desk.show();
    await desk.shows(/Click points/);
    await until(() => expect(formEye.now().distance).toBeGreaterThan(100));
    expect(Math.max(...formEye.now().target.map(Math.abs))).toBeLessThan(60);
    cleanup();
    follow(`/${desk.project}/sketch/${desk.document("Sketch")}?view=1e300_-1e300_1e9_0`);
    Desk.show();
    await until(() => desk.canvas());
    const page = (await desk.body("Sketch")) as { width: number; height: number };
    await until(() => {
      const [x, y, scale] = fromWords(new URLSearchParams(location.search).get("view")!, 4)!;
      expect([x, y, scale]).toEqual([2 * page.width, -page.height, 16]);
    });
  });
});

describe("an address", () => {
  it("says where one is, and is read back", () => {
    const place = { project: "p1", stage: "Studio" as const, document: "hero", view: "1_2.5_-3" };
    expect(addressOf(place)).toBe("/p1/studio/hero?view=1_2.5_-3");
    expect(placeOf(new URL(addressOf(place), "http://x"))).toEqual(place);
    expect(placeOf(new URL("http://x/"))).toEqual({ project: null, stage: "Sketch", document: null, view: null });
    expect(placeOf({ pathname: "/%E0%A4%A/form", search: "" })).toMatchObject({ project: "%E0%A4%A", stage: "Form" });
    expect(placeOf(new URL("http://x/p1/nowhere"))).toMatchObject({ project: "p1", stage: "Sketch" });
  });

  it("holds views to seven digits, whatever the window's size", () => {
    const view = { x: -312.5, y: 88.25, scale: 1.7, angle: 0.4 };
    const words = inWords(middled(view, 733, 705));
    const back = fromMiddled(fromWords(words, 4)!, 733, 705);
    for (const key of ["x", "y", "scale", "angle"] as const) expect(back[key]).toBeCloseTo(view[key], 2);
    const small = middled(fromMiddled(fromWords(words, 4)!, 300, 200), 300, 200);
    expect(small[0]).toBeCloseTo(middled(view, 733, 705)[0], 2);
    const orbit = { target: [1, 2, 3] as [number, number, number], azimuth: 0.62, rise: -0.3, distance: 412, lens: 28 };
    expect(orbitOf(fromWords(inWords(numbersOf(orbit)), 7)!)).toEqual(orbit);
    for (const mad of ["1e308_0_0_0_0_100_28", "0_0_0_0_2_100_28", "0_0_0_0_0_100_-5", "0_0_0_1e9_0_100_28"])
      expect(orbitOf(fromWords(mad, 7)!), mad).toBeNull();
    for (const bad of ["", "1_2_3", "a_b_c_d", "1_2_3_Infinity"]) expect(fromWords(bad, 4)).toBeNull();
  });
});

describe("going about", () => {
  it("Back leads over stages and sheets, each as it was left", async () => {
    const desk = await Desk.at("Form", [BOX]);
    await desk.shows(/Click points/);
    follow(`/${desk.project}/form`);
    await desk.tool("Side");
    const side = formEye.now();
    await until(() => expect(location.search).toContain(inWords([side.azimuth])));
    const left = location.search;
    await desk.press("Sketch");
    await until(() => expect(path()).toBe(`/${desk.project}/sketch/${desk.document("Sketch")}`));
    await until(() => expect(location.search).toMatch(/^\?view=1200_800_/));
    await desk.press("Surface");
    await until(() => expect(path()).toBe(`/${desk.project}/surface`));
    history.back();
    await until(() => expect(path()).toContain("/sketch/"));
    await until(() => pressed("Sketch"));
    history.back();
    await until(() => pressed("Form"));
    expect(location.search).toBe(left);
    await until(() => expect(numbersOf(formEye.now())).toEqual(numbersOf(side).map((one) => expect.closeTo(one, 2))));
    history.forward();
    await until(() => pressed("Sketch"));
  });

  it("a reload finds the sheet, and the view on it", async () => {
    const desk = await Desk.at("Sketch");
    const first = useBench.getState().sheet;
    await desk.command("New sheet");
    await until(() => expect(useBench.getState().sheet).not.toBe(first));
    const second = useBench.getState().sheet;
    cleanup();
    useBench.setState({ sheet: null, stage: "Review" });
    follow(`/${desk.project}/sketch/${second}?view=300_200_1.5_0.1`);
    Desk.show();
    await until(() => desk.canvas());
    expect(useBench.getState().sheet).toBe(second);
    await desk.shows("150 %");
    await until(() => expect(location.search).toBe("?view=300_200_1.5_0.1"));
    // what is in the middle of the canvas is what the address says
    await desk.stroke([[CANVAS.width / 2, CANVAS.height / 2]], { pointerType: "pen", pressure: 1 });
    await desk.shows(/^1 edit/);
  });

  it("a project that is gone is told, with what to open instead", async () => {
    await Desk.at("Review");
    cleanup();
    useBench.setState({ project: null });
    follow("/ffffffffffff/form");
    Desk.show();
    await until(() => screen.getByText(/is not on the shelf any more/));
  });
});
