import { keepPreviousData, QueryCache, QueryClient, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useBench } from "../bench/store";
import { tr } from "../words/words";
import { type Change, changed } from "./change";
import { answer, api, Clash, Missing, type Shapes, send } from "./client";
import { deliver } from "./outbox";

export const queries = new QueryClient({
  queryCache: new QueryCache({ onError: lookAgain }),
  // what is asked for by head or by key is asked for once, and let go soon after it was looked at last
  defaultOptions: {
    queries: { retry: 1, staleTime: Number.POSITIVE_INFINITY, gcTime: 20_000, refetchOnWindowFocus: false },
  },
});

// copies of a project have documents of the same names: what is known of one is not known of another
useBench.subscribe((now, before) => {
  if (now.project === before.project || !before.project) return;
  queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "projects" && queryKey[0] !== "status" });
});

/** Where something is missing, its project may be: the list of projects tells. */
function lookAgain(error: Error): void {
  if (error instanceof Missing) queries.invalidateQueries({ queryKey: ["projects"] });
}

export const stateKey = (document: string) => ["state", document];

export function useProjects() {
  return useQuery({ queryKey: ["projects"], queryFn: () => answer(api.GET("/api/projects")) });
}

/** Creates a project and returns its id. */
export async function createProject(name: string, maker: string): Promise<string> {
  const state = await answer(api.POST("/api/projects", { body: { name, maker } }));
  await queries.invalidateQueries({ queryKey: ["projects"] });
  return state.project.id;
}

export function useProject(project: string) {
  return useQuery({
    queryKey: ["project", project],
    queryFn: () => answer(api.GET("/api/projects/{project}", { params: { path: { project } } })),
  });
}

export function sheetQuery(project: string, document: string) {
  return {
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/sheets/{document}", at(project, document))),
  };
}

export function useSheet(project: string, document: string) {
  return useQuery(sheetQuery(project, document));
}

export function useForm(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}", at(project, document))),
  });
}

/** What is worked out of a form at a line of its ledger; while the next is under way, that of the line before. */
function useOfForm<T>(
  what: string,
  document: string,
  head: number | null | undefined,
  on: boolean,
  ask: () => Promise<T>,
) {
  return useQuery({
    queryKey: [what, document, head],
    queryFn: ask,
    placeholderData: keepPreviousData,
    enabled: on && head !== undefined,
  });
}

export function useFormSize(project: string, document: string, head: number | null | undefined) {
  return useOfForm("size", document, head, true, () =>
    answer(api.GET("/api/projects/{project}/forms/{document}/size", at(project, document))),
  ).data;
}

/** Everything that counts of the form as it is. */
export function useChecks(project: string, document: string, head: number | null | undefined, on: boolean) {
  return useOfForm("checks", document, head, on, async () => {
    const found = await answer(api.GET("/api/projects/{project}/forms/{document}/checks", at(project, document)));
    void queries.invalidateQueries({ queryKey: ["counts", document] });
    return found;
  });
}

/** Open findings by part where they are known; once somebody has asked for a check, a form that rests is checked anew (`keeps`). */
export function useFindingCounts(
  project: string,
  document: string | undefined,
  head: number | null | undefined,
  keeps = false,
): Record<string, number> | null {
  const { data } = useQuery({
    queryKey: ["counts", document, head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/findings/counts", at(project, document!))),
    enabled: document !== undefined && head !== undefined && head !== null,
  });
  const due = keeps && data?.asked === true && !data.counts;
  const [rested, setRested] = useState<number | null | undefined>(null);
  useEffect(() => {
    if (!due) return;
    const waiting = setTimeout(() => setRested(head), CHECK_RESTS);
    return () => clearTimeout(waiting);
  }, [due, head]);
  useChecks(project, document ?? "", head, due && rested === head);
  return data?.counts ?? null;
}

/** Milliseconds a form rests before it is checked on its own. */
const CHECK_RESTS = 3000;

/** How far a pinned view's lines are from the form: from its silhouette, or from a section at so many mm. */
export function useOutline(
  project: string,
  document: string,
  head: number | null | undefined,
  reference: string | null,
  section: number | null,
) {
  return useQuery({
    queryKey: ["outline", document, head, reference, section],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/forms/{document}/outline", {
          params: {
            path: { project, document },
            query: { reference: reference!, ...(section !== null && { section }) },
          },
        }),
      ),
    enabled: reference !== null && head !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** Volumes and weights of the parts, and how the whole stands. */
export function useBalance(project: string, document: string, head: number | null | undefined, on: boolean) {
  return useOfForm("balance", document, head, on, () =>
    answer(api.GET("/api/projects/{project}/forms/{document}/balance", at(project, document))),
  );
}

/** Faces of a part that twist or turn too much for its divisions, the worst first. */
export function useDivisions(project: string, document: string, part: string, meshKey: string | undefined) {
  return useQuery({
    queryKey: ["divisions", document, part, meshKey],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/forms/{document}/parts/{part}/divisions", {
          params: { path: { project, document, part } },
        }),
      ),
  }).data;
}

export function useThread(project: string, take: string | undefined, head: number | null | undefined) {
  return useQuery({
    queryKey: ["thread", take, head],
    queryFn: () =>
      answer(api.GET("/api/projects/{project}/takes/{take}/thread", { params: { path: { project, take: take! } } })),
    enabled: take !== undefined,
    staleTime: 0,
  }).data;
}

export function useStudio(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/studios/{document}", at(project, document))),
  });
}

export function useBoard(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/boards/{document}", at(project, document))),
  });
}

export function useTakes(project: string) {
  return useQuery({
    queryKey: ["takes", project],
    queryFn: async () => {
      const { takes } = await answer(api.GET("/api/projects/{project}/takes", { params: { path: { project } } }));
      return takes;
    },
  });
}

/** Long work of the project that waits or runs. */
export function useTasks(project: string) {
  return useQuery({
    queryKey: ["tasks", project],
    queryFn: async () => {
      const { tasks } = await answer(api.GET("/api/projects/{project}/tasks", { params: { path: { project } } }));
      return tasks;
    },
  });
}

export function useStatus() {
  return useQuery({ queryKey: ["status"], queryFn: () => answer(api.GET("/api/status")) });
}

/** Which project a document belongs to, once it was asked for. */
const owners = new Map<string, string>();

/** Path parameters of a document's addresses. */
export function at(project: string, document: string) {
  owners.set(document, project);
  return { params: { path: { project, document } } };
}

/** Only what was changed of a thing in a document; the server takes the rest from the document as it stands. */
export type Amendment = Shapes["AmendRequest"]["amend"];
export type AnyEdit = Shapes["EditRequest"]["edit"] | { amend: Amendment };
/** An edit; or what makes it once all that was done before it has been answered, where it is said from what stands then. */
export type Edit = (edit: AnyEdit | (() => Promise<AnyEdit>)) => Promise<boolean>;

/** What is known of a document in this tab. */
interface Known {
  standing: Shapes["Standing"];
  body: unknown;
  keys?: Record<string, string>;
  problems?: Record<string, string>;
  held?: Record<string, string>;
}

/** The head of a document that is shown here, as requests say it (0: its start); nothing where it has not come yet. */
export function seen(document: string): number | undefined {
  const known = queries.getQueryData<Known>(stateKey(document));
  return known && (known.standing.head ?? 0);
}

/** A document as it stands here now: for what is said once all that was done before has been answered. */
export function bodyOf<Body>(document: string): Body | undefined {
  return queries.getQueryData<Known>(stateKey(document))?.body as Body | undefined;
}

/** Says in a request what it is called and which head of a document is shown here, so that the answer tells all that changed since. */
function said(document: string, request: string): Record<string, string> {
  const head = seen(document);
  return { "X-Request": request, ...(head !== undefined && { "X-Seen": String(head) }) };
}

/** Brings what is known of a document to where an answer leads from the head that was seen when it was asked for. */
export async function adopt(document: string, answered: Shapes["Changed"], from: number | undefined): Promise<void> {
  const known = queries.getQueryData<Known>(stateKey(document));
  if (!known || from === undefined || from !== (known.standing.head ?? 0)) return refresh(document);
  const change = answered.change as Change | null;
  queries.setQueryData<Known>(stateKey(document), {
    standing: answered.standing,
    body: change ? changed(known.body, change) : known.body,
    ...(known.keys && {
      keys: { ...known.keys, ...answered.keys },
      problems: answered.problems,
      held: answered.held,
    }),
  });
  // lists of documents tell their heads: the thread shows where each stands
  queries.setQueriesData<Shapes["ProjectState"]>({ queryKey: ["project"] }, (state) => {
    const row = state?.documents.find(({ id }) => id === document);
    const head = answered.standing.head ?? null;
    if (!state || !row || row.head === head) return state;
    return { ...state, documents: state.documents.map((one) => (one === row ? { ...row, head } : one)) };
  });
  await queries.invalidateQueries({ queryKey: ["ledger", document] });
}

/** Does what may be refused: then the sentence is shown, a document it concerns is brought up to date, and it was not done. */
export function useWork(document?: string): (doing: () => unknown) => Promise<boolean> {
  const notify = useBench((bench) => bench.notify);
  return async (doing) => {
    try {
      await doing();
      return true;
    } catch (error) {
      notify((error as Error).message);
      lookAgain(error as Error);
      if (document) await refresh(document);
      return false;
    }
  };
}

/** Sends one edit of a document and brings the document up to date; refusals appear as a notice. */
export function useEdit(project: string, document: string): Edit {
  const work = useWork(document);
  const notify = useBench((bench) => bench.notify);
  const make: Edit = (edit) =>
    work(() =>
      ask(document, async (headers) => {
        const to = { ...at(project, document), headers };
        const meant = typeof edit === "function" ? await edit() : edit;
        return "amend" in meant
          ? api.POST("/api/projects/{project}/documents/{document}/amendments", { ...to, body: meant })
          : api.POST("/api/projects/{project}/documents/{document}/edits", { ...to, body: { edit: meant } });
      }).catch(async (error) => {
        if (!(error instanceof Clash)) throw error;
        await refresh(document);
        notify(error.message, [
          { name: tr`Keep ${shown(error.theirs)}`, run: () => {} },
          { name: tr`Set ${shown(error.yours)}`, run: () => void make(edit) },
        ]);
      }),
    );
  return make;
}

/** A value as it stands on a button. */
function shown(value: unknown): string {
  if (typeof value === "number") return String(Number(value.toFixed(3)));
  if (typeof value === "boolean") return value ? "on" : "off";
  if (typeof value === "string") return value;
  return Array.isArray(value) && value.length < 4 ? value.map(shown).join(" × ") : "the other";
}

/** Asks for something that changes a document, after all that was done to it before, and adopts what it changed. */
export function ask<T = Shapes["Changed"]>(
  document: string,
  call: (headers: Record<string, string>) => Promise<{ data?: T }>,
  changedIn: (answered: T) => Shapes["Changed"] | null = (answered) => answered as Shapes["Changed"],
): Promise<T> {
  return deliver(document, tr("Your change"), async (request) => {
    const from = seen(document);
    const answered = await answer(call(said(document, request)));
    const made = changedIn(answered);
    if (made) await adopt(document, made, from);
    return answered;
  });
}

/** Sends a file that becomes part of a document, and adopts what it changed. */
export function sendForm(document: string, url: string, form: FormData): Promise<unknown> {
  return ask(document, async (headers) => {
    const answered = await send(url, { method: "POST", body: form, headers });
    return { data: (await answered.json()) as Shapes["Changed"] };
  });
}

/** Fetches what changed of a document since the head that is shown here. */
export async function refresh(document: string): Promise<void> {
  const head = seen(document);
  const project = owners.get(document);
  if (head === undefined || !project) {
    await queries.invalidateQueries({ queryKey: stateKey(document) });
  } else {
    const path = { project, document, head };
    const call = api.GET("/api/projects/{project}/documents/{document}/since/{head}", { params: { path } });
    const answered = await answer(call).catch(() => null);
    // while that was on its way the document may have moved on here
    if (answered && head === seen(document)) await adopt(document, answered, head);
    else await queries.invalidateQueries({ queryKey: stateKey(document) });
  }
  await queries.invalidateQueries({ queryKey: ["ledger", document] });
}

/** Brings all that is shown to where the server has it, after a time in which nothing was heard of it. */
export async function catchUp(): Promise<void> {
  const open = queries.getQueryCache().findAll({ queryKey: ["state"], type: "active" });
  await Promise.all(open.map(({ queryKey: [, document] }) => refresh(document as string)));
  const lists = new Set<unknown>(["projects", "project", "takes", "tasks", "status"]);
  await queries.invalidateQueries({ predicate: ({ queryKey }) => lists.has(queryKey[0]) });
}

/** An id for a new thing in a document. */
export function newId(): string {
  return crypto
    .getRandomValues(new Uint32Array(2))
    .reduce((text, word) => text + word.toString(16).padStart(8, "0"), "");
}
