/** A designer's hands at a stage, and the server's own account of what they did. */
import { existsSync, readdirSync, renameSync } from "node:fs";
import { join } from "node:path";
import { QueryClientProvider } from "@tanstack/react-query";
import { act, createEvent, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { expect, inject } from "vitest";
import type { Shapes } from "../../src/api/client";
import { useOutbox } from "../../src/api/outbox";
import { queries } from "../../src/api/queries";
import { Door } from "../../src/bench/Door";
import { useBench, useSettings } from "../../src/bench/store";
import { useHand } from "../../src/stages/form/hand";
import { useFormStage } from "../../src/stages/form/store";
import { useSketch } from "../../src/stages/sketch/store";
import { direct, pages } from "./dom";

const SERVER = inject("server");
const PATIENCE = { timeout: 20_000, interval: 15 };

export type Spot = [x: number, y: number];

async function json(path: string, body?: unknown): Promise<any> {
  const answered = await direct(SERVER + path, {
    ...(body !== undefined && { method: "POST", body: JSON.stringify(body) }),
    headers: { "Content-Type": "application/json" },
  });
  if (!answered.ok) throw new Error(`${path}: ${await answered.text()}`);
  return answered.json();
}

export type Stage = "Sketch" | "Form" | "Surface" | "Studio" | "Review";
type Edit = Record<string, unknown>;

export class Desk {
  private constructor(
    readonly project: string,
    readonly name: string,
    readonly documents: Shapes["DocumentShape"][],
  ) {}

  /** A new project, with edits of a stage's document made before it is opened there. */
  static async at(stage: Stage, edits: Edit[] = [], of: Stage = stage): Promise<Desk> {
    queries.clear();
    useOutbox.setState({ waiting: [] });
    useHand.setState(useHand.getInitialState(), true);
    for (const store of [useBench, useSettings, useFormStage, useSketch])
      (store as typeof useBench).setState((store as typeof useBench).getInitialState(), true);
    const name = `At the desk ${Math.random()}`;
    const made = await json("/api/projects", { name });
    const desk = new Desk(made.project.id, name, made.documents);
    for (const edit of edits) await desk.edit(of, edit);
    useBench.setState({ project: desk.project, stage });
    Desk.show();
    await screen.findByRole("navigation", { name: /Tools/ }, PATIENCE);
    await screen.findByTestId("sentence", {}, PATIENCE);
    if (stage === "Sketch" || stage === "Form" || stage === "Surface") await until(() => desk.canvas());
    return desk;
  }

  /** The interface, as the page shows it. */
  static show(): void {
    render(
      <QueryClientProvider client={queries}>
        <Door />
      </QueryClientProvider>,
    );
  }

  document(stage: Stage): string {
    const kind = { Sketch: "sheet", Form: "form", Surface: "form", Studio: "studio", Review: "board" }[stage];
    return this.documents.find((document) => document.kind === kind)!.id;
  }

  /** An edit by another hand, straight on the server. */
  edit(stage: Stage, edit: Edit): Promise<Shapes["Changed"]> {
    return json(`/api/projects/${this.project}/documents/${this.document(stage)}/edits`, { edit });
  }

  /** Takes the project's file out of the data folder, as a colleague would; answers with what puts it back. */
  takeFileAway(): () => void {
    const folder = inject("files");
    const slug = this.name.toLowerCase().replaceAll(/[^a-z0-9]+/g, "-");
    const moves = readdirSync(folder)
      .filter((file) => file.startsWith(`${slug}.`))
      .map((file) => [join(folder, file), join(folder, "..", file)] as const);
    for (const [from, to] of moves) renameSync(from, to);
    return () => {
      for (const [from, to] of moves) if (existsSync(to)) renameSync(to, from);
    };
  }

  /** What the server has of a document, and where it stands. */
  state(stage: Stage): Promise<any> {
    const place = { Sketch: "sheets", Form: "forms", Surface: "forms", Studio: "studios", Review: "boards" }[stage];
    return json(`/api/projects/${this.project}/${place}/${this.document(stage)}`);
  }

  async body(stage: Stage): Promise<any> {
    return (await this.state(stage)).body;
  }

  /** What the sheet's canvas has: the head its pixels are of, and how many lines wait for theirs. */
  get page(): { head: number | null | undefined; wet: number } {
    const page = pages.at(-1) as unknown as { head: number | null; drying: unknown[] };
    return { head: page.head, wet: page.drying.length };
  }

  get(path: string): Promise<any> {
    return json(`/api/projects/${this.project}${path}`);
  }

  /** A file sent by another hand; by hand as text, since this document's forms are not those `fetch` knows. */
  async send(path: string, name: string, text: string): Promise<void> {
    const head = `Content-Disposition: form-data; name="file"; filename="${name}"`;
    const answered = await direct(`${SERVER}/api/projects/${this.project}${path}`, {
      method: "POST",
      headers: { "Content-Type": "multipart/form-data; boundary=cut" },
      body: `--cut\r\n${head}\r\n\r\n${text}\r\n--cut--\r\n`,
    });
    if (!answered.ok) throw new Error(await answered.text());
  }

  async bytes(path: string): Promise<Uint8Array> {
    return new Uint8Array(await (await direct(`${SERVER}/api/projects/${this.project}${path}`)).arrayBuffer());
  }

  async text(path: string): Promise<string> {
    return new TextDecoder().decode(await this.bytes(path));
  }

  /** Waits until the ledger's last line contains a text. */
  sentence(text: string): Promise<void> {
    return until(() => expect(screen.getByTestId("sentence").textContent).toContain(text));
  }

  refused(text: string): Promise<void> {
    return until(() => expect(screen.getByRole("alert").textContent).toContain(text));
  }

  shows(text: string | RegExp): Promise<void> {
    return until(() => expect(screen.getAllByText(text).length).toBeGreaterThan(0));
  }

  /** A key, as "g", "Shift+c" or "Control+a". */
  async key(name: string): Promise<void> {
    await this.seen();
    const parts = name.split("+");
    const key = parts.pop()!;
    const held = { shiftKey: parts.includes("Shift"), ctrlKey: parts.includes("Control") };
    await act(async () => void fireEvent.keyDown(document.body, { key, code: key, ...held }));
  }

  async fill(label: string, value: string): Promise<void> {
    const field = (await named(label, "input, textarea")) as HTMLInputElement;
    field.focus();
    await act(async () => void fireEvent.change(field, { target: { value } }));
    await act(async () => void fireEvent.keyDown(field, { key: "Enter" }));
    await act(async () => field.blur());
  }

  field(label: string): string {
    return (screen.getByLabelText(label, { exact: true }) as HTMLInputElement).value;
  }

  /** Presses a button by its name. */
  async press(name: string | RegExp, role = "button"): Promise<void> {
    const found = await named(name, role === "button" ? "button, [role=button]" : `[role=${role}]`);
    await act(async () => void fireEvent.click(found));
  }

  async choose(group: string, option: string): Promise<void> {
    const radios = await named(group, "[role=radiogroup]");
    const radio = [...radios.querySelectorAll("[role=radio]")].find((one) => one.textContent === option);
    if (!radio) throw new Error(`${group} cannot be ${option}`);
    await act(async () => void fireEvent.click(radio));
  }

  async select(label: string, option: string): Promise<void> {
    const box = (await screen.findByLabelText(label, {}, PATIENCE)) as HTMLSelectElement;
    const value = [...box.options].find((one) => one.value === option || one.text === option)!.value;
    await act(async () => void fireEvent.change(box, { target: { value } }));
  }

  async tool(name: string): Promise<void> {
    await this.seen();
    const list = screen.getByRole("navigation", { name: "Tools" });
    const shown = () =>
      [...list.querySelectorAll("button")].find((button) => (button.dataset.tool ?? button.textContent) === name);
    // as a hand does: through the groups, and behind the fold where it is not among what can act
    const groups = [...list.querySelectorAll<HTMLElement>("[aria-label='Groups of tools'] button")];
    for (const group of shown() ? [] : groups) {
      await act(async () => void fireEvent.click(group));
      const fold = [...list.querySelectorAll("button")].find((button) => / more …$/.test(button.textContent));
      if (!shown() && fold) await act(async () => void fireEvent.click(fold));
      if (shown()) break;
    }
    const found = shown();
    if (!found) throw new Error(`There is no tool ${name}`);
    await act(async () => void fireEvent.click(found));
  }

  /** Runs a command through the box of all commands. */
  async command(name: string): Promise<void> {
    await this.key("Control+k");
    const field = await screen.findByLabelText("Find a command", {}, PATIENCE);
    await act(async () => void fireEvent.change(field, { target: { value: name } }));
    await act(async () => void fireEvent.keyDown(field, { key: "Enter" }));
  }

  async click(at: Spot, held: object = {}): Promise<void> {
    await this.stroke([at], held);
  }

  async twice(at: Spot): Promise<void> {
    // told apart by when the presses were made, not by when a busy machine gets round to them
    const first = performance.now();
    await this.stroke([at], {}, this.canvas(), first);
    await this.stroke([at], {}, this.canvas(), first + 150);
  }

  /** Waits, as an eye would, until the form that is worked on is the one that is shown. */
  private async seen(): Promise<void> {
    const view = screen.queryByTestId("view3d");
    await until(() => {
      if (view) expect(view.getAttribute("aria-busy")).toBe("false");
      expect(queries.isFetching({ queryKey: ["mesh"] })).toBe(0);
    });
  }

  /** Presses at the first spot, moves over the others, lets go at the last. */
  async stroke(spots: Spot[], held: object = {}, on: Element = this.canvas(), when?: number): Promise<void> {
    const event = ([x, y]: Spot) => ({
      clientX: x,
      clientY: y,
      pointerId: 1,
      button: 0,
      pressure: 0.5,
      tiltX: 0,
      tiltY: 0,
      ...held,
    });
    await this.seen();
    const down = createEvent.pointerDown(on, event(spots[0]!));
    if (when !== undefined) Object.defineProperty(down, "timeStamp", { value: when });
    await act(async () => void fireEvent(on, down));
    for (const spot of spots.slice(1)) await act(async () => void fireEvent.pointerMove(on, event(spot)));
    await act(async () => void fireEvent.pointerUp(on, event(spots.at(-1)!)));
  }

  /** Drags something by its knob, px. */
  async grab(name: string, dx: number, dy: number): Promise<void> {
    const found = await named(name, "[role=button]");
    const knob = found.matches("circle, polygon") ? found : found.querySelector("circle, rect")!;
    const [x, y] = middleOf(knob);
    await this.stroke(
      [
        [x, y],
        [x + dx / 2, y + dy / 2],
        [x + dx, y + dy],
      ],
      {},
      knob,
    );
  }

  /** Changes a field that tells the page only when it is left, as colour wells and lists do. */
  async set(label: string, value: string): Promise<void> {
    const field = await screen.findByLabelText(label, {}, PATIENCE);
    await act(async () => void fireEvent.change(field, { target: { value } }));
    await act(async () => void fireEvent.blur(field));
  }

  /** Drags one row of a list on to another. */
  async carry(row: Element, onto: Element): Promise<void> {
    const dataTransfer = { setData: () => {}, getData: () => "", effectAllowed: "", dropEffect: "" };
    for (const [step, target] of [
      ["dragStart", row],
      ["dragOver", onto],
      ["drop", onto],
      ["dragEnd", row],
    ] as const)
      await act(async () => void fireEvent[step](target, { dataTransfer }));
  }

  canvas(): Element {
    return screen.getByTestId(screen.queryByTestId("view3d") ? "view3d" : "paper");
  }
}

/** The last element on the screen of a kind and a name; asked this way it takes a hundredth of what roles take here. */
async function named(name: string | RegExp, kinds: string): Promise<Element> {
  const fits = (said: string) => (typeof name === "string" ? said === name : name.test(said));
  let found: Element | undefined;
  await until(() => {
    const all = [...document.querySelectorAll(kinds)];
    found = all.findLast((one) => fits((one.getAttribute("aria-label") ?? one.textContent).trim()));
    if (!found) throw new Error(`There is no ${kinds} named ${name}`);
  });
  return found!;
}

function middleOf(knob: Element): Spot {
  const number = (attribute: string) => Number(knob.getAttribute(attribute));
  if (knob.matches("circle")) return [number("cx"), number("cy")];
  if (knob.matches("rect")) return [number("x") + number("width") / 2, number("y") + number("height") / 2];
  const corners = knob
    .getAttribute("points")!
    .split(" ")
    .map((pair) => pair.split(",").map(Number));
  return [0, 1].map((axis) => corners.reduce((sum, corner) => sum + corner[axis]! / corners.length, 0)) as Spot;
}

/** How many things of a test id are on the screen; a list of elements in an assertion is slow to tell of. */
export const count = (testId: string) => document.querySelectorAll(`[data-testid="${testId}"]`).length;

/** Waits until something holds. */
export function until(holds: () => unknown): Promise<void> {
  return waitFor(async () => void (await holds()), PATIENCE);
}
