// @vitest-environment jsdom
/** All words of the interface stand in one place, and come from there. */
import { readFileSync } from "node:fs";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

const english = JSON.parse(readFileSync("src/words/en.json", "utf8")) as Record<string, string>;

/** A language in which every word is itself between brackets. */
const BRACKETS = Object.fromEntries(Object.keys(english).map((word) => [word, `⟦${word}⟧`]));

describe("another language", () => {
  beforeEach(() => vi.resetModules());
  afterEach(() => vi.resetModules());

  async function speaking() {
    const words = await import("../src/words/words");
    words.learnFrom(BRACKETS);
    return words;
  }

  it("fills the holes of a sentence where they stand in it", async () => {
    const { learnFrom, tr } = await speaking();
    learnFrom({ "{0} lies on {1}.": "Auf {1} liegt {0}." });
    const [thing, sheet] = ["Ein Kiesel", "Blatt 1"];
    expect(tr`${thing} lies on ${sheet}.`).toBe("Auf Blatt 1 liegt Ein Kiesel.");
    expect(tr("nobody said this")).toBe("nobody said this");
    expect(tr`${"{1}"} lies on ${sheet}.`).toBe("Auf Blatt 1 liegt {1}.");
  });

  it("is what every tool is named and explained in", async () => {
    await speaking();
    const { FORM_WORDS } = await import("../src/stages/form/words");
    const { SKETCH_WORDS } = await import("../src/stages/sketch/words");
    const { STEP_TOOLS } = await import("../src/stages/form/tools");
    for (const { does, means } of [...Object.values(FORM_WORDS), ...Object.values(SKETCH_WORDS)]) {
      expect(does).toMatch(/^⟦.*⟧$/);
      if (means) expect(means).toMatch(/^⟦.*⟧$/);
    }
    for (const { name } of STEP_TOOLS) expect(name).toMatch(/^⟦.*⟧$/);
  });

  it("is what a number that cannot be read is refused in", async () => {
    await speaking();
    const { readQuantity } = await import("../src/ui/numbers/quantity");
    expect(readQuantity("wide", "mm")).toMatch(/^⟦“wide” .*⟧$/);
  });
});

it("every word has its place once, and English is itself", () => {
  expect(Object.keys(english).length).toBeGreaterThan(1000);
  for (const [word, said] of Object.entries(english)) expect(said).toBe(word);
});
