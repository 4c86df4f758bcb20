/** The interface in another language: one in which every word stands between brackets, so that a word that does not is seen. */
import { readFileSync } from "node:fs";
import { act, fireEvent, screen } from "@testing-library/react";
import { expect, it } from "vitest";
import { learnFrom, told } from "../../src/words/words";

const english = JSON.parse(readFileSync("src/words/en.json", "utf8")) as Record<string, string>;
learnFrom(Object.fromEntries(Object.keys(english).map((word) => [word, `⟦${word}⟧`])));
// words are made once, when what says them is loaded
const { Desk, until } = await import("./desk");
const { useBench } = await import("../../src/bench/store");
const { useCommands } = await import("../../src/bench/commands");

const BODY = {
  kind: "start_part",
  part: "b",
  name: "Body",
  start: { kind: "box", size: [62, 34, 108], divisions: [2, 2, 2] },
  symmetry: { planes: ["W"] },
};
const SHOWN = ["aria-label", "title", "placeholder", "aria-valuetext", "aria-roledescription", "alt"];
/** What is no word of ours: names that a new project's documents, layers and views are given, units, keys, the product's own name, and times, which the browser says in the chosen language. */
const NAMES =
  /^(Hollow Marble|this minute|Sheet \d+|Layer \d+|Paper|Form|Studio|Board|Brief|Lines|Ink|Body|Key|Fill|Rim|Rough|Tone \d+|Group \d+|Notes|At the desk.*|Ctrl.*|Shift.*|Alt.*|Esc|Space|Tab|Enter|Home|End|Del|#[0-9A-Fa-f]{6}|[WDHN]|mm|px|mm²|cm³|in)$/;

/** Everything that is said on the page outside of brackets. */
function bare(root: Element = document.body): string[] {
  const texts: string[] = [];
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if ((node instanceof Element ? node : node.parentElement)?.closest("[data-names]")) continue;
    if (node instanceof Element) texts.push(...SHOWN.map((name) => (node as Element).getAttribute(name) ?? ""));
    else if (!node.parentElement?.closest("kbd, style, script")) texts.push(node.textContent ?? "");
  }
  return texts
    .map((text) => {
      let left = text;
      // brackets stand within brackets where a word fills a hole
      for (let before = ""; before !== left; ) [before, left] = [left, left.replaceAll(/⟦[^⟦⟧]*⟧/g, "")];
      return left.trim();
    })
    .filter(
      (text) =>
        /\p{L}{2}/u.test(text) &&
        !text.split(/[,:/·×()\s\d.]+/).every((word) => NAMES.test(word) || !/\p{L}{2}/u.test(word)) &&
        !NAMES.test(text),
    );
}

const click = (thing: Element) => act(async () => void fireEvent.click(thing));

for (const stage of ["Sketch", "Form", "Surface", "Studio", "Review"] as const)
  it(`nothing in ${stage} is said in English`, async () => {
    await Desk.at(stage, stage === "Sketch" ? [] : [BODY], stage === "Sketch" ? "Sketch" : "Form");
    const said = new Set(bare());
    const list = screen.getByRole("navigation", { name: /Tools/ });
    for (const group of list.querySelectorAll("[aria-label*='Groups of tools'] button")) {
      await click(group);
      const fold = [...list.querySelectorAll("button")].find((button) => / more …/.test(button.textContent));
      if (fold) await click(fold);
      for (const text of bare()) said.add(text);
    }
    // what each tool can be set to
    const foot = screen.getByRole("region", { name: /In hand/ });
    for (const { id, options, cannot } of useCommands.getState().stage) {
      if (!options || cannot) continue;
      await act(async () =>
        useCommands
          .getState()
          .stage.find((command) => command.id === id)
          ?.run(),
      );
      await until(() => expect(useBench.getState().stage).toBe(stage));
      for (const text of bare(foot)) said.add(text);
    }
    expect([...said]).toEqual([]);
  });

it("no panel says anything in English", async () => {
  await Desk.at("Sketch");
  for (const id of useCommands.getState().bench.map((command) => command.id)) {
    if (/^(go|stage|bare|undo|redo)/.test(id)) continue;
    await act(async () =>
      useCommands
        .getState()
        .bench.find((command) => command.id === id)
        ?.run(),
    );
    if (!document.querySelector("[role=dialog]")) continue;
    await until(() => expect(document.querySelector("[role=dialog]")!.textContent!.length).toBeGreaterThan(20));
    // other tests' projects stand on the shelf of the same server
    for (const line of document.querySelectorAll("[role=dialog] li")) line.setAttribute("data-names", "");
    expect([id, ...bare()]).toEqual([id]);
    await act(async () => void fireEvent.keyDown(document.activeElement ?? document.body, { key: "Escape" }));
  }
});

it("what the server says is told again, down to what its holes hold", () => {
  expect(told("Hung Wren")).toBe("⟦Hung Wren⟧");
  // a step named within a refusal, a count within the step, lengths left as they stand
  expect(
    told(
      "Step 3 (Pushed a face out 2.0 mm) could not follow: A cut needs a line. Draw one across the faces. The form is as it was.",
    ),
  ).toBe(
    "⟦Step 3 (⟦Pushed a face out 2.0 mm⟧) could not follow: ⟦A cut needs a line. Draw one across the faces.⟧ The form is as it was.⟧",
  );
  // what an edit changed, one after the other, the first with a capital
  expect(told("Renamed a layer to Wren, hid a layer")).toBe("⟦renamed a layer to Wren⟧, ⟦hid a layer⟧");
  expect(told("Wren 2")).toBe("Wren 2");
});
