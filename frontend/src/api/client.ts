import createClient, { type Middleware } from "openapi-fetch";
import { told, tr } from "../words/words";
import type { components, paths } from "./schema";

export type Shapes = components["schemas"];

/** Names this browser tab, so that it does not hear its own edits as news. */
export const TAB = Math.random().toString(36).slice(2);

/** An error whose text is a sentence for the designer. */
export class Problem extends Error {}

/** No answer came: whatever was asked for may have been done or not. */
export class Unreachable extends Problem {
  constructor() {
    super(tr("The server cannot be reached. Your last acknowledged edit is safe; try again in a moment."));
  }
}

/** What was asked for is not there, or no longer. */
export class Missing extends Problem {}

/** Somebody else set the same number meanwhile: which stands now, and which was meant here. */
export class Clash extends Problem {
  constructor(
    sentence: string,
    readonly theirs: unknown,
    readonly yours: unknown,
  ) {
    super(sentence);
  }
}

/** Ms after which an answer is not waited for any longer. */
const PATIENCE = 60_000;
/** What stands in for a server that is not there, or not yet. */
const NOT_THERE = new Set([502, 503, 504]);

/** Reads the sentence out of RFC 9457 problem details. */
export async function problemOf(response: Response): Promise<Problem> {
  try {
    const body = await response.json();
    if ("theirs" in body) return new Clash(told(body.detail), body.theirs, body.yours);
    const Kind = response.status === 404 ? Missing : Problem;
    return new Kind(body.detail ? told(body.detail) : tr("The server refused this."));
  } catch {
    return new Problem(tr`The server answered ${response.status}. Try again.`);
  }
}

const speakPlainly: Middleware = {
  async onRequest({ request }) {
    request.headers.set("X-Tab", TAB);
    return request;
  },
  async onResponse({ response }) {
    return checked(response);
  },
};

async function checked(response: Response): Promise<Response> {
  if (NOT_THERE.has(response.status)) throw new Unreachable();
  if (!response.ok) throw await problemOf(response);
  return response;
}

/** Asks the server; throws `Unreachable` where nothing comes back. */
async function reach(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const given = init?.signal ?? (input instanceof Request ? input.signal : null);
  const limit = AbortSignal.timeout(PATIENCE);
  try {
    return await fetch(input, { ...init, signal: given ? AbortSignal.any([given, limit]) : limit });
  } catch (error) {
    if (given?.aborted) throw error;
    throw new Unreachable();
  }
}

export const api = createClient<paths>({ baseUrl: "/", fetch: reach });
api.use(speakPlainly);

/** Takes the answer out of a call; failures were thrown before. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call;
  return data as T;
}

/** Plain fetch with the tab's name and plain-sentence errors, for binary requests. */
export async function send(url: string, init: RequestInit = {}): Promise<Response> {
  return checked(await reach(url, { ...init, headers: { ...init.headers, "X-Tab": TAB } }));
}
