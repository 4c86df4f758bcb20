/** What a hand and a keyboard reach: lists that are one stop of Tab, and a menu on everything that can be picked. */
import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { useFormStage } from "../../src/stages/form/store";
import { Desk, until } from "./desk";

const box = (part: string, name: string) => ({
  kind: "start_part",
  part,
  name,
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
  symmetry: { planes: ["W"] },
});
const LAYERS = ["a", "b", "c"].map((id) => ({ kind: "add_layer", id, name: `Layer ${id}`, holds: "ink" }));

const stops = (group: Element) => [...group.querySelectorAll("button")].filter((button) => button.tabIndex === 0);
const arrow = (key: string) => act(async () => void fireEvent.keyDown(document.activeElement!, { key }));

async function menuOn(row: Element): Promise<HTMLElement> {
  await act(async () => void fireEvent.contextMenu(row, { clientX: 40, clientY: 40 }));
  return screen.findByRole("menu");
}
const words = (menu: HTMLElement) =>
  within(menu)
    .getAllByRole("menuitem")
    .map((item) => item.textContent);

describe("a list", () => {
  it("is one stop of Tab, and arrows lead through its rows and along them", async () => {
    await Desk.at("Sketch", LAYERS);
    const list = await screen.findByRole("list", { name: "Layers" });
    await until(() => expect(list.querySelectorAll("button").length).toBeGreaterThan(7));
    expect(stops(list)).toHaveLength(1);
    const named = (name: string) => within(list).getByRole("button", { name });
    await act(async () => named("Hide Layer c").focus());
    await arrow("ArrowDown");
    expect(document.activeElement).toBe(named("Hide Layer b"));
    await arrow("ArrowRight");
    expect(document.activeElement).toBe(named("Layer b"));
    await arrow("ArrowUp");
    expect(document.activeElement).toBe(named("Layer c"));
    await arrow("End");
    expect((document.activeElement as HTMLElement).closest("li")!.textContent).toContain("Rough");
    expect(stops(list)).toEqual([document.activeElement]);
  });

  it("leaves the arrows to the canvas after a press of the pointer", async () => {
    await Desk.at("Sketch", LAYERS);
    const list = await screen.findByRole("list", { name: "Layers" });
    const row = within(list).getByRole("button", { name: "Layer c" });
    await act(async () => {
      fireEvent.pointerDown(row);
      row.focus();
    });
    await arrow("ArrowDown");
    expect(document.activeElement).toBe(row);
    await act(async () => row.blur());
    await act(async () => row.focus());
    await arrow("ArrowDown");
    expect(document.activeElement).not.toBe(row);
  });

  it("keeps its one stop when a row goes", async () => {
    const desk = await Desk.at("Sketch", LAYERS);
    const list = await screen.findByRole("list", { name: "Layers" });
    const row = within(list).getByRole("button", { name: "Layer c" });
    await act(async () => row.focus());
    await act(async () => void fireEvent.click(within(await menuOn(row)).getByRole("menuitem", { name: "Remove" })));
    await desk.sentence("Removed a layer");
    await until(() => expect(within(list).queryByRole("button", { name: "Layer c" })).toBeNull());
    expect(stops(list)).toHaveLength(1);
  });
});

describe("the menu at the hand", () => {
  it("on a layer picks it and does what its words do", async () => {
    const desk = await Desk.at("Sketch", LAYERS);
    const list = await screen.findByRole("list", { name: "Layers" });
    const row = within(list).getByRole("button", { name: "Layer b" });
    const menu = await menuOn(row);
    expect(row.getAttribute("aria-current")).toBe("true");
    expect(words(menu)).toEqual(expect.arrayContaining(["Up", "Down", "Duplicate", "Merge down", "Remove"]));
    await act(async () => void fireEvent.click(within(menu).getByRole("menuitem", { name: "Remove" })));
    await desk.sentence("Removed a layer");
    expect((await desk.body("Sketch")).layers.map((layer: { id: string }) => layer.id)).not.toContain("b");
  });

  it("on a part says with which, and looks at it alone", async () => {
    await Desk.at("Form", [box("b", "Body"), box("l", "Lid")]);
    const menu = await menuOn(await screen.findByRole("button", { name: "Lid" }));
    expect(words(menu)).toEqual(expect.arrayContaining(["Look only at Lid", "Lock Lid", "Remove Lid"]));
    await act(async () => void fireEvent.click(within(menu).getByRole("menuitem", { name: "Look only at Lid" })));
    expect(useFormStage.getState().solo).toBe("l");
  });

  it("on a lamp switches it, and copies it to be pasted on another", async () => {
    const desk = await Desk.at("Studio", [box("b", "Body")], "Form");
    const before = (await desk.body("Studio")).setting.lamps;
    const lamp = async (name: string) => screen.findByRole("button", { name, pressed: name === "key" });
    await act(async () => void fireEvent.click(within(await menuOn(await lamp("key"))).getByText("Copy this lamp")));
    await desk.press("fill");
    await act(async () => void fireEvent(window, new Event("paste")));
    await desk.sentence("Set the fill lamp");
    const [key, fill] = (await desk.body("Studio")).setting.lamps;
    expect([fill.azimuth, fill.role, fill.id]).toEqual([key.azimuth, "fill", before[1].id]);
  });

  it("opens on the canvas of every stage with what can be done there", async () => {
    await Desk.at("Studio", [box("b", "Body")], "Form");
    const menu = await menuOn(screen.getByRole("main"));
    expect(words(menu)).toEqual(expect.arrayContaining(["Highlight hereH"]));
    expect(words(menu)[0]).toMatch(/^Undo/);
  });
});
