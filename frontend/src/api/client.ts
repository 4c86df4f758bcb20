import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Shapes = components["schemas"];

/** Names this browser tab, so that it does not hear its own edits as news. */
export const TAB = Math.random().toString(36).slice(2);

/** An error whose text is a sentence for the designer. */
export class Problem extends Error {}

/** Reads the sentence out of RFC 9457 problem details. */
export async function problemOf(response: Response): Promise<Problem> {
  try {
    const body = await response.json();
    return new Problem(body.detail ?? "The server refused this.");
  } catch {
    return new Problem(`The server answered ${response.status}. Try again.`);
  }
}

const speakPlainly: Middleware = {
  async onRequest({ request }) {
    request.headers.set("X-Tab", TAB);
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) throw await problemOf(response);
    return response;
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(speakPlainly);

/** Takes the answer out of a call; failures were thrown before. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  try {
    const { data } = await call;
    return data as T;
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem("The server cannot be reached. Your last acknowledged edit is safe; try again in a moment.");
  }
}

/** Plain fetch with the tab's name and plain-sentence errors, for binary requests. */
export async function send(url: string, init: RequestInit = {}): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(url, { ...init, headers: { ...init.headers, "X-Tab": TAB } });
  } catch (error) {
    if ((error as Error).name === "AbortError") throw error;
    throw new Problem("The server cannot be reached. Your last acknowledged edit is safe; try again in a moment.");
  }
  if (!response.ok) throw await problemOf(response);
  return response;
}
