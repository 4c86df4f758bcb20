import { useQuery } from "@tanstack/react-query";
import { create } from "zustand";
import { answer, api, type Shapes } from "../../../api/client";
import { at, queries, stateKey } from "../../../api/queries";
import { ofProject } from "../../../bench/ofProject";
import { tr } from "../../../words/words";
import type { CurveSide, Ground, Place } from "./ground";

export type CurveStep = Shapes["DrawnCurve"];
export type CurvePiece = Shapes["CurvePiece"];
export type CurveHold = Shapes["CurveHold"];
export type Flat = [number, number];
export type CurveKind = "lines" | "spline" | "rectangle" | "circle" | "ellipse" | "arc";

/** What is being drawn, and what is picked of the curve worked on. */
interface CurveHand {
  kind: CurveKind;
  on: CurveSide | "space" | "set";
  /** The plane that was set on a face or through points, for `on` "set". */
  ground: Ground | null;
  /** Mm the plane stands off, along its normal. */
  off: number;
  /** Places put down so far. */
  placed: Place[];
  /** Where the pointer is. */
  hover: Place | null;
  /** What drew the pointer to itself, and where in space that is. */
  caught: { word: string; place: Place } | null;
  /** Touching a piece takes away what is too much of it. */
  trims: boolean;
  points: number[];
  pieces: string[];
  /** Edges and faces of a solid that are picked, by name. */
  edges: string[];
  faces: string[];
  set: (state: Partial<Omit<CurveHand, "set">>) => void;
}

export const useCurve = ofProject(
  create<CurveHand>((set) => ({
    kind: "lines",
    on: "front",
    ground: null,
    off: 0,
    placed: [],
    hover: null,
    caught: null,
    trims: false,
    points: [],
    pieces: [],
    edges: [],
    faces: [],
    set: (state) => set(state),
  })),
  ({ kind, on, off }) => ({ kind, on: on === "set" ? "front" : on, off }),
);

/** Nothing is picked of a curve or a solid. */
export const UNPICKED = { points: [], pieces: [], edges: [], faces: [] };

/** What is picked after one was touched: that one alone, or with `adding` that one more or less. */
export function pickedAfter(before: string[], name: string, adding: boolean): string[] {
  const others = before.filter((other) => other !== name);
  const picked = others.length < before.length;
  if (adding) return picked ? others : [...before, name];
  return picked && before.length === 1 ? [] : [name];
}

/** The curve that places make; null where there are too few. */
export function curveOf(kind: CurveKind, placed: readonly Place[], closed: boolean): Omit<CurveStep, "plane"> | null {
  const [a, b, c] = placed as Flat[];
  const points = placed as CurveStep["points"];
  const all = placed.map((_, index) => index);
  const far = a && b ? Math.hypot(b[0] - a[0], b[1] - a[1]) : 0;
  switch (kind) {
    case "lines": {
      if (placed.length < 2) return null;
      const pieces = all.slice(1).map((index): CurvePiece => line(index - 1, index));
      if (closed && placed.length > 2) pieces.push(line(placed.length - 1, 0));
      return { kind: "curve", points, pieces, holds: evenHolds(placed, pieces) };
    }
    case "spline":
      if (placed.length < (closed ? 3 : 2)) return null;
      return { kind: "curve", points, pieces: [{ name: "spline", kind: "through", points: all, closed }] };
    case "rectangle": {
      if (!a || !b || a[0] === b[0] || a[1] === b[1]) return null;
      const [left, right] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
      const [low, high] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
      const pieces = [line(0, 1), line(1, 2), line(2, 3), line(3, 0)];
      const holds = pieces.map(
        ({ name }, index): CurveHold => ({ kind: index % 2 ? "upright" : "level", pieces: [name] }),
      );
      return {
        kind: "curve",
        points: [
          [left, low],
          [right, low],
          [right, high],
          [left, high],
        ],
        pieces,
        holds,
      };
    }
    case "circle":
      if (!a || far < 0.01) return null;
      return { kind: "curve", points: [a], pieces: [{ name: "circle", kind: "circle", points: [0], value: far }] };
    case "ellipse": {
      if (!a || !b || !c || far < 0.01) return null;
      const across = Math.abs((c[0] - a[0]) * (b[1] - a[1]) - (c[1] - a[1]) * (b[0] - a[0])) / far;
      const piece: CurvePiece = { name: "ellipse", kind: "ellipse", points: [0, 1], value: Math.max(across, 0.01) };
      return { kind: "curve", points: [a, b], pieces: [piece] };
    }
    case "arc": {
      if (!a || !b || !c) return null;
      const centre = centreOf(a, b, c);
      if (!centre) return null;
      const turn = (p: Flat, q: Flat, r: Flat) => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
      const piece: CurvePiece = { name: "arc", kind: "arc", points: [0, 1, 2], left: turn(a, c, b) > 0 };
      return { kind: "curve", points: [a, b, centre], pieces: [piece] };
    }
  }
}

/** Lines of a flat curve that were drawn level or upright are held so. */
function evenHolds(placed: readonly Place[], pieces: CurvePiece[]): CurveHold[] {
  if (placed[0]!.length === 3) return [];
  return pieces.flatMap(({ name, points }): CurveHold[] => {
    const [a, b] = points.map((point) => placed[point]!);
    if (Math.abs(a![1]! - b![1]!) < 1e-9) return [{ kind: "level", pieces: [name] }];
    return Math.abs(a![0]! - b![0]!) < 1e-9 ? [{ kind: "upright", pieces: [name] }] : [];
  });
}

/** Numbers of the points at which a curve stops: one piece alone ends there. */
export function looseEnds(step: CurveStep, points: readonly Place[]): number[] {
  const ends = step.pieces.flatMap(({ kind, closed, points: own }) => {
    if (kind === "circle" || kind === "ellipse" || closed) return [];
    if (kind === "oval") return own.slice(2);
    return [own[0]!, kind === "arc" ? own[1]! : own.at(-1)!];
  });
  const same = (a: number, b: number) => points[a]!.every((value, axis) => Math.abs(value - points[b]![axis]!) < 1e-6);
  return ends.filter((end) => ends.filter((other) => same(end, other)).length === 1);
}

/** How many places a kind of curve takes; null where as many as one likes. */
export const PLACES: Record<CurveKind, number | null> = {
  lines: null,
  spline: null,
  rectangle: 2,
  circle: 2,
  ellipse: 3,
  arc: 3,
};

const line = (from: number, to: number): CurvePiece => ({ name: `line-${from + 1}`, kind: "line", points: [from, to] });

/** The middle of the circle through three points; null where they lie on a line. */
function centreOf([ax, ay]: Flat, [bx, by]: Flat, [cx, cy]: Flat): Flat | null {
  const d = 2 * (ax * (by - cy) + bx * (cy - ay) + cx * (ay - by));
  if (Math.abs(d) < 1e-6) return null;
  const [a, b, c] = [ax * ax + ay * ay, bx * bx + by * by, cx * cx + cy * cy];
  return [(a * (by - cy) + b * (cy - ay) + c * (ay - by)) / d, (a * (cx - bx) + b * (ax - cx) + c * (bx - ax)) / d];
}

export function keptQuery(project: string, form: string, part: string, key: string | undefined) {
  return {
    queryKey: ["curve", form, part, key],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/forms/{document}/parts/{part}/curve", {
          params: { path: { project, document: form, part } },
        }),
      ),
  };
}

/** A curve as its dimensions leave it. */
export function useKept(project: string, form: string, part: string, key: string | undefined) {
  const query = keptQuery(project, form, part, key);
  return useQuery({ ...query, enabled: !!key, placeholderData: (before) => before, retry: false }).data;
}

/** A curve as it stands when this is asked, and as its dimensions leave it then. */
export async function curveNow(project: string, form: string, part: string): Promise<CurveNow> {
  const known = queries.getQueryData<{ body: Shapes["Form"]; keys: Record<string, string> }>(stateKey(form));
  const step = known?.body.parts?.find(({ id }) => id === part)?.steps[0];
  if (step?.kind !== "curve") throw new Error(tr("The curve is no longer there."));
  return { step, kept: await queries.fetchQuery(keptQuery(project, form, part, known!.keys[part])) };
}

export interface CurveNow {
  step: CurveStep;
  kept: Shapes["KeptCurve"];
}

/** What a curve would be with points dragged to places; nothing is stored. */
export function keptAs(project: string, form: string, step: CurveStep, grip: Record<number, Place>) {
  const body = { step, grip: grip as Record<number, number[]> };
  return answer(api.POST("/api/projects/{project}/forms/{document}/curves", { ...at(project, form), body }));
}

/** Follows a hand: what is wanted is asked for one at a time, the last of it always. */
export function oneAtATime<Wish>(ask: (wish: Wish) => Promise<unknown>) {
  let wanted: { wish: Wish } | null = null;
  let asking: Promise<void> | null = null;
  let failed: string | null = null;
  const go = async () => {
    while (wanted) {
      const { wish }: { wish: Wish } = wanted;
      wanted = null;
      await ask(wish).catch((error) => {
        failed = String(error instanceof Error ? error.message : error); // what is held stays at the last place that can be
      });
    }
    asking = null;
  };
  return {
    want: (wish: Wish) => {
      wanted = { wish };
      asking ??= go();
    },
    settled: () => asking ?? Promise.resolve(),
    /** Why the last one that could not be had could not. */
    failed: () => failed,
  };
}
