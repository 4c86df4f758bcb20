/** What all stages share, by hand on a real server: the ledger, lamps in the Studio, findings in Surface. */
import { fireEvent, screen, within } from "@testing-library/react";
import { expect, it } from "vitest";
import { queries } from "../../src/api/queries";
import { surfaceEye, useSurface } from "../../src/stages/surface/store";
import { Desk, until } from "./desk";
import { CANVAS, news } from "./dom";

const BOX = {
  kind: "start_part",
  part: "b",
  name: "Body",
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
  symmetry: { planes: ["W"] },
};

it("opens the ledger, steps back in it, begins a branch and names it", async () => {
  const desk = await Desk.at("Form", [
    BOX,
    {
      kind: "shape",
      part: "b",
      step: { kind: "placed", points: [0], how: "move", values: [1, 0, 0], seat: [0, 0, 0] },
    },
  ]);
  await desk.sentence("Moved 1 point");
  fireEvent.click(screen.getByTestId("sentence"));
  const ledger = await screen.findByRole("region", { name: "Ledger" });
  await desk.press(/^Started from a box 62 × 34 × 108 mm: Body/);
  await until(() => expect(screen.getByTestId("sentence").textContent).toMatch(/^Started from a box/));
  await desk.key("j");
  await desk.sentence("Switched symmetry off");
  await until(() => within(ledger).getByText("branch"));
  await desk.fill("Version name", "without symmetry");
  await desk.press("Keep");
  await until(() => expect(ledger.closest("footer")!.textContent).toContain("after “without symmetry”"));
  await desk.press(/Moved 1 point/);
  await until(() => expect(screen.getByTestId("sentence").textContent).toMatch(/^Moved 1 point/));
  expect((await desk.body("Form")).parts[0].symmetry).toMatchObject({ planes: ["W"] });
});

it("brings what another hand did, once the news of it comes", async () => {
  const desk = await Desk.at("Form", [BOX]);
  await desk.edit("Form", { kind: "change_part", part: "b", symmetry: {} });
  expect(screen.getByTestId("sentence").textContent).toContain("Started from a box");
  news("document", { document: desk.document("Form"), tab: "another" });
  await desk.sentence("Switched symmetry off");
});

it("places lamps on the plan and by numbers, and says what they mean", async () => {
  const desk = await Desk.at("Studio", [BOX], "Form");
  const key = async () =>
    (await desk.body("Studio")).setting.lamps.find((lamp: { role: string }) => lamp.role === "key");
  await desk.shows("Key to fill");
  const mark = (await screen.findAllByRole("button", { name: "key lamp" }))[0];
  const spot = mark!.querySelector("circle")!;
  // the plan is 236 × 170 of its own units
  const at = (dx: number, dy: number): [number, number] => [
    ((Number(spot.getAttribute("cx")) + dx) / 236) * CANVAS.width,
    ((Number(spot.getAttribute("cy")) + dy) / 170) * CANVAS.height,
  ];
  const before = await key();
  await desk.stroke([at(0, 0), at(-10, -6), at(-20, -12)], {}, mark);
  await desk.sentence("Set the key lamp");
  const after = await key();
  expect(after.azimuth).not.toBe(before.azimuth);
  const edge = () => screen.getByText("Edge at its sides").parentElement!.lastElementChild!.textContent!;
  await until(() => expect(queries.isFetching()).toBe(0));
  const sharp = edge();
  await desk.fill("Width", "900");
  await until(async () => expect((await key()).width).toBe(900));
  // the penumbra of a source of width w at distance d, on a ground h behind the edge, is about w·h / d (similar triangles)
  const times = () => Number.parseFloat(edge()) / Number.parseFloat(sharp) / (900 / after.width);
  await until(() => expect(Math.abs(times() - 1)).toBeLessThan(0.2));
  await desk.fill("Warmth", "3200");
  await until(async () => expect((await key()).warmth).toBe(3200));
  await until(() => {
    for (const field of screen.getAllByRole("textbox", { name: "Warmth" }))
      expect(field).toHaveProperty("value", "3200");
  });
});

it("lists what is unsound and looks at it", async () => {
  const desk = await Desk.at("Surface", [BOX], "Form");
  const leaf = "v 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nf 1 2 3 4\n";
  await desk.send(`/forms/${desk.document("Form")}/import`, "leaf.obj", leaf);
  news("document", { document: desk.document("Form"), tab: "another" });
  await desk.sentence("Brought in the cage leaf");
  await desk.key("c");
  const finding = await screen.findByRole("button", { name: /An opening with a rim/ }, { timeout: 20_000 });
  await until(() => expect(screen.getByRole("heading", { name: /Body/ }).textContent).toContain("sound"));
  fireEvent.click(finding);
  await until(() => {
    const { place } = useSurface.getState();
    expect(surfaceEye.now().target).toEqual(place);
    expect(place![0]).toBeGreaterThanOrEqual(0);
  });
});
