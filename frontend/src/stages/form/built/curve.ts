import { useQuery } from "@tanstack/react-query";
import { type PerspectiveCamera, Plane, Vector3 } from "three";
import { create } from "zustand";
import { answer, api, type Shapes } from "../../../api/client";
import { at, queries, stateKey } from "../../../api/queries";
import { ofProject } from "../../../bench/ofProject";
import type { Spot } from "../../../ui/pointing";
import { onScreen, rayAt } from "../../../view3d/orbit";
import { tr } from "../../../words/words";

export type CurveStep = Shapes["DrawnCurve"];
export type CurvePiece = Shapes["CurvePiece"];
export type CurveHold = Shapes["CurveHold"];
export type Standing = NonNullable<CurveStep["plane"]>;
export type Stands = Shapes["CurvePlaneShape"];
export type Flat = [number, number];
export type CurveKind = "lines" | "spline" | "rectangle" | "circle" | "ellipse" | "arc";
export type CurveSide = "front" | "side" | "top";

/** What is being drawn, and what is picked of the curve worked on. */
interface CurveHand {
  kind: CurveKind;
  on: CurveSide;
  /** Mm the plane stands off the middle, along its normal. */
  off: number;
  /** Places put down so far, in the plane. */
  placed: Flat[];
  /** Where the pointer is, in the plane. */
  hover: Flat | null;
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
    off: 0,
    placed: [],
    hover: null,
    points: [],
    pieces: [],
    edges: [],
    faces: [],
    set: (state) => set(state),
  })),
  ({ kind, on, off }) => ({ kind, on, off }),
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

/** The planes a curve is drawn on, as one sees the product; their normals look at whoever sees them. */
const SIDES: Record<CurveSide, Stands> = {
  front: { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 0, 1] },
  side: { origin: [0, 0, 0], across: [0, 1, 0], up: [0, 0, 1] },
  top: { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 1, 0] },
};

/** Where the plane of what is being drawn stands. */
export function standsOf(on: CurveSide, off: number): Stands {
  const side = SIDES[on];
  const normal = new Vector3(...side.across).cross(new Vector3(...side.up)).multiplyScalar(off);
  return { ...side, origin: normal.toArray() as [number, number, number] };
}

/** A place of a plane in space. */
export function inSpace(stands: Stands, [x, y]: readonly number[]): Vector3 {
  return new Vector3(...stands.origin)
    .addScaledVector(new Vector3(...stands.across), x!)
    .addScaledVector(new Vector3(...stands.up), y!);
}

/** Where a spot of the view lies in a plane; null where the plane is seen from its edge. */
export function inPlane(stands: Stands, camera: PerspectiveCamera, spot: Spot): Flat | null {
  const across = new Vector3(...stands.across);
  const up = new Vector3(...stands.up);
  const origin = new Vector3(...stands.origin);
  const plane = new Plane().setFromNormalAndCoplanarPoint(across.clone().cross(up), origin);
  const { ray } = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  if (Math.abs(ray.direction.dot(plane.normal)) < 0.05) return null;
  const place = ray.intersectPlane(plane, new Vector3());
  if (!place) return null;
  place.sub(origin);
  return [place.dot(across), place.dot(up)];
}

/** Px between a spot and a place of a plane on the screen. */
export function away(stands: Stands, camera: PerspectiveCamera, spot: Spot, place: readonly number[]): number {
  const seen = onScreen(camera, inSpace(stands, place), spot.width, spot.height);
  return Math.hypot(seen.x - spot.x, seen.y - spot.y);
}

/** A place rounded to a grid of so many mm. */
export const rounded = (place: Flat, grid: number): Flat =>
  place.map((value) => Math.round(value / grid) * grid) as Flat;

/** The curve that places make; null where there are too few. */
export function curveOf(kind: CurveKind, placed: Flat[], closed: boolean): Omit<CurveStep, "plane"> | null {
  const [a, b, c] = placed;
  const all = placed.map((_, index) => index);
  const far = a && b ? Math.hypot(b[0] - a[0], b[1] - a[1]) : 0;
  switch (kind) {
    case "lines": {
      if (placed.length < 2) return null;
      const pieces = all.slice(1).map((index): CurvePiece => line(index - 1, index));
      if (closed && placed.length > 2) pieces.push(line(placed.length - 1, 0));
      return { kind: "curve", points: placed, pieces };
    }
    case "spline":
      if (placed.length < (closed ? 3 : 2)) return null;
      return { kind: "curve", points: placed, pieces: [{ name: "spline", kind: "through", points: all, closed }] };
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

function keptQuery(project: string, form: string, part: string, key: string | undefined) {
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
export function keptAs(project: string, form: string, part: string, step: CurveStep, grip: Record<number, Flat>) {
  return answer(
    api.POST("/api/projects/{project}/forms/{document}/curves", { ...at(project, form), body: { part, step, grip } }),
  );
}
