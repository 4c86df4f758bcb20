import { useEffect, useRef } from "react";
import { STAGES, type Stage, useBench } from "./store";

/**
 * Where one is stands in the address: /project/stage/document?view=…. Another stage or document is a step Back leads over;
 * a view that moves is written into the step one stands on. Views are also kept while the page is open, so that a stage is
 * found as it was left.
 */
interface Place {
  project: string | null;
  stage: Stage;
  /** The sheet in Sketch, the shot in Studio; null is the one the stage chooses. */
  document: string | null;
  view: string | null;
}

/** Ms a view has to rest before it is written. */
const RESTS = 150;
const views = new Map<string, string>();
let writing: ReturnType<typeof setTimeout> | undefined;

export function placeOf(address: { pathname: string; search: string }): Place {
  const [project, stage, document] = address.pathname.split("/").filter(Boolean).map(decoded);
  const query = new URLSearchParams(address.search);
  return {
    project: project ?? query.get("project"),
    stage: STAGES.find((name) => name.toLowerCase() === stage) ?? "Sketch",
    document: document ?? null,
    view: query.get("view"),
  };
}

export function addressOf({ project, stage, document, view }: Place): string {
  if (!project) return "/";
  const path = [project, stage.toLowerCase(), ...(document ? [document] : [])].map(encodeURIComponent).join("/");
  return `/${path}${view ? `?view=${view}` : ""}`;
}

/** A piece of an address; one that was never encoded stays as it is, and leads nowhere. */
function decoded(piece: string): string {
  try {
    return decodeURIComponent(piece);
  } catch {
    return piece;
  }
}

const keyOf = (project: string | null, stage: Stage, document: string | null) =>
  `${project} ${stage} ${document ?? ""}`;

function here(): Place {
  const { project, stage, sheet, shot } = useBench.getState();
  const document = stage === "Sketch" ? sheet : stage === "Studio" ? shot : null;
  return { project, stage, document, view: views.get(keyOf(project, stage, document)) ?? null };
}

function arrive(): void {
  const { project, stage, document, view } = placeOf(location);
  if (view) views.set(keyOf(project, stage, document), view);
  const now = useBench.getState();
  useBench.setState({
    project: project ?? now.project,
    stage,
    ...(stage === "Sketch" && { sheet: document }),
    ...(stage === "Studio" && { shot: document }),
    notice: null,
    arrivals: now.arrivals + 1,
  });
}

/** Writes the view into the step one stands on, now. */
function settle(): void {
  clearTimeout(writing);
  writing = undefined;
  const place = here();
  if (place.project && addressOf(place) !== location.pathname + location.search)
    history.replaceState(null, "", addressOf(place));
}

/** Goes where the address leads, and writes into it where one goes. Called once. */
export function followTheAddress(): () => void {
  arrive();
  const told = useBench.subscribe((now, before) => {
    if (now.arrivals !== before.arrivals) return;
    const same =
      now.project === before.project &&
      now.stage === before.stage &&
      (now.stage !== "Sketch" || now.sheet === before.sheet) &&
      (now.stage !== "Studio" || now.shot === before.shot);
    if (same) return;
    // the first project is where one arrives, and a document that a stage chose by itself is no step
    const chosen = now.stage === before.stage && (now.stage === "Sketch" ? !before.sheet : !before.shot);
    const step = before.project && !(chosen && now.project === before.project) ? "pushState" : "replaceState";
    clearTimeout(writing);
    history[step](null, "", addressOf(here()));
  });
  window.addEventListener("popstate", arrive);
  window.addEventListener("pagehide", settle);
  return () => {
    told();
    window.removeEventListener("popstate", arrive);
    window.removeEventListener("pagehide", settle);
  };
}

/** Goes to the view of a stage that the address tells of, when the page opens and after Back; else to where it was left. */
export function useArrivals(stage: Stage, document: string | null, go: (view: string) => void): void {
  const arrivals = useBench((bench) => bench.arrivals);
  const latest = useRef(go);
  latest.current = go;
  const key = keyOf(useBench.getState().project, stage, document);
  useEffect(() => {
    const kept = views.get(key);
    if (kept) latest.current(kept);
  }, [key, arrivals]);
}

/** Keeps the view of a stage, and writes it into the address once it rests. */
export function keepView(stage: Stage, document: string | null, view: string): void {
  views.set(keyOf(useBench.getState().project, stage, document), view);
  clearTimeout(writing);
  writing = setTimeout(settle, RESTS);
}

/** Both, for a view that changes seldom; null while there is none to keep yet. */
export function useAddressedView(
  stage: Stage,
  document: string | null,
  view: string | null,
  go: (view: string) => void,
): void {
  useArrivals(stage, document, go);
  useEffect(() => {
    if (view !== null) keepView(stage, document, view);
  }, [stage, document, view]);
}

/** The view that was kept of a stage. */
export function keptView(stage: Stage, document: string | null): string | null {
  return views.get(keyOf(useBench.getState().project, stage, document)) ?? null;
}

/** Numbers as they stand in an address. */
export function inWords(numbers: readonly number[]): string {
  return numbers.map((number) => Number(number.toPrecision(7))).join("_");
}

/** Numbers out of an address; null where there are not so many. */
export function fromWords(words: string, count: 4): [number, number, number, number] | null;
export function fromWords(words: string, count: 7): [number, number, number, number, number, number, number] | null;
export function fromWords(words: string, count: number): number[] | null {
  const numbers = words.split("_").map(Number);
  return numbers.length === count && numbers.every(Number.isFinite) ? numbers : null;
}
