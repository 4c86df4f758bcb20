/** A part of the application that does not come: the server went away, or was updated under an open page. */
import { screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Desk } from "./desk";

vi.mock("../../src/stages/review/ReviewStage", () => {
  throw new TypeError("Failed to fetch dynamically imported module");
});
vi.mock("../../src/stages/surface/SurfaceStage", () => ({
  default: () => {
    throw new Error("a number was not finite");
  },
}));

describe("a stage that cannot be shown", () => {
  beforeEach(() => void vi.spyOn(console, "error").mockImplementation(() => undefined));
  afterEach(() => void vi.restoreAllMocks());

  it("says what to do when it did not come, and the other stages go on", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("5");
    await desk.shows("Review cannot be shown");
    await desk.refused("the server cannot be reached, or it was updated");
    expect(screen.getByRole("button", { name: "Reload the page" })).toBeTruthy();
    await desk.key("1");
    await desk.shows(/^0 edits|Begin/);
    await desk.stroke([
      [200, 300],
      [400, 300],
    ]);
    await desk.shows(/^1 edit/);
  });

  it("says what went wrong in it, and the other stages go on", async () => {
    const desk = await Desk.at("Sketch");
    await desk.key("3");
    await desk.refused("Something went wrong here: a number was not finite");
    await desk.key("1");
    await screen.findByRole("navigation", { name: "Tools" });
  });
});
