import { create } from "zustand";
import { tr } from "../words/words";
import { api, Problem, Unreachable } from "./client";

interface Waiting {
  /** Names the request, so that the server knows it again where it comes twice. */
  request: string;
  document: string;
  /** Not only on its way: the server did not answer for it, or for something before it. */
  late: boolean;
}

/** What was done here and is not acknowledged yet, oldest first. */
export const useOutbox = create<{ waiting: readonly Waiting[] }>(() => ({ waiting: [] }));

/** What is not safe yet, and not only on its way. */
export function unsafe(waiting: readonly Waiting[]): readonly Waiting[] {
  return waiting.filter((entry) => entry.late);
}

/** The last that was handed over of each document: one goes after the other, in the order they were done. */
const lasts = new Map<string, Promise<unknown>>();
let news: (() => void)[] = [];
const FIRST_PAUSE = 500;
const LONGEST_PAUSE = 5_000;

/**
 * Sends what changes a document after all that was done to it before, again and again until the server answers.
 *
 * Throws a Problem where the server refuses it; after a time without the server its sentence says what is lost.
 */
export function deliver<T>(document: string, what: string, send: (request: string) => Promise<T>): Promise<T> {
  // whatever is done after something late waits with it
  const late = now().some((other) => other.document === document && other.late);
  const entry: Waiting = { request: crypto.randomUUID(), document, late };
  set([...now(), entry]);
  const done = (lasts.get(document) ?? Promise.resolve())
    .then(() => untilAnswered(entry, what, send))
    .finally(() => set(now().filter((other) => other.request !== entry.request)));
  const settled = done.then(nothing, nothing);
  lasts.set(document, settled);
  settled.then(() => lasts.get(document) === settled && lasts.delete(document));
  return done;
}

/** Settles when everything that is on its way now has been answered. */
export function everythingDelivered(): Promise<unknown> {
  return Promise.all(lasts.values());
}

/** The server has been heard of: what waits is sent at once. */
export function serverIsBack(): void {
  const waiting = news;
  news = [];
  for (const go of waiting) go();
}

async function untilAnswered<T>(entry: Waiting, what: string, send: (request: string) => Promise<T>): Promise<T> {
  for (;;) {
    try {
      return await send(entry.request);
    } catch (error) {
      if (!(error instanceof Unreachable)) {
        throw isLate(entry)
          ? new Problem(tr`${what} could not be kept and is gone. ${(error as Error).message}`)
          : error;
      }
      set(now().map((other) => (other.document === entry.document ? { ...other, late: true } : other)));
      await heard();
    }
  }
}

/** Waits until there is news of the server, or it answers after one of ever longer pauses. */
async function heard(): Promise<void> {
  const back = new Promise<"news">((resolve) => news.push(() => resolve("news")));
  for (let pause = FIRST_PAUSE; ; pause = Math.min(2 * pause, LONGEST_PAUSE)) {
    const over = new Promise<"over">((resolve) => setTimeout(() => resolve("over"), pause));
    if ((await Promise.race([back, over])) === "news") return;
    const answered = await api.GET("/api/status").catch(() => null);
    if (answered) return;
  }
}

const now = () => useOutbox.getState().waiting;
const isLate = (entry: Waiting) => now().some((other) => other.request === entry.request && other.late);
const set = (waiting: readonly Waiting[]) => useOutbox.setState({ waiting });
const nothing = () => undefined;

/** Asks before a page is left that holds what the server has not got yet. */
export function askBeforeLeaving(event: BeforeUnloadEvent): void {
  if (unsafe(now()).length) event.preventDefault();
}
