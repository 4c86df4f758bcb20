import { useEffect, useRef, useState } from "react";
import type { PerspectiveCamera, Vector3 } from "three";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { spotsOn } from "../../../ui/pointing";
import { onScreen } from "../../../view3d/orbit";
import { tr } from "../../../words/words";
import { useFormStage } from "../store";
import { type CurveStep, type Flat, inPlane, inSpace, keptAs, rounded, useCurve, useKept } from "./curve";

interface PointsProps {
  project: string;
  form: string;
  part: Shapes["Part"];
  /** Names what it looks like. */
  meshKey: string | undefined;
  camera: PerspectiveCamera;
  size: { width: number; height: number };
  edit: Edit;
  refuse: (sentence: string) => void;
  frozen: { current: string | null };
}

type Kept = Shapes["KeptCurve"];

/** The points and pieces of the curve worked on: touched to pick them, points dragged with all dimensions kept. */
export function CurvePoints(props: PointsProps) {
  const { project, form, part, camera, size } = props;
  const step = part.steps[0] as CurveStep;
  const stored = useKept(project, form, part.id, props.meshKey);
  const [dragged, setDragged] = useState<Kept | null>(null);
  const { points, pieces, set } = useCurve();
  useEffect(() => {
    if (stored) setDragged(null); // what was dragged is what is stored by now
  }, [stored]);
  const drag = useDraggedPoint(props, stored, setDragged);
  const kept = dragged ?? stored;
  if (!kept?.plane) return null;
  const stands = kept.plane;
  const seen = (place: Vector3) => onScreen(camera, place, size.width, size.height);
  const toggle = (name: string, adding: boolean) =>
    set({ pieces: adding ? other(pieces, name) : [name], points: adding ? points : [] });
  return (
    <g data-testid="curve">
      {kept.lines.map((line, index) => (
        <polyline
          key={index}
          points={line.map((place) => seenAt(seen, place)).join(" ")}
          fill="none"
          stroke="var(--act)"
          strokeWidth={1.6}
        />
      ))}
      {step.pieces.map((piece) => (
        <PieceLine
          key={piece.name}
          points={handlesOf(piece, kept.points, ownValue(step, kept, piece.name)).map((place) => {
            const { x, y } = seen(inSpace(stands, place));
            return `${x},${y}`;
          })}
          name={piece.name}
          picked={pieces.includes(piece.name)}
          onPick={(adding) => toggle(piece.name, adding)}
        />
      ))}
      {kept.points.map((place, index) => {
        const { x, y } = seen(inSpace(stands, place));
        const picked = points.includes(index);
        return (
          <circle
            key={index}
            data-knob
            role="button"
            tabIndex={-1}
            aria-label={tr`Point ${index + 1} of the curve`}
            cx={x}
            cy={y}
            r={picked ? 6 : 4.5}
            fill={picked ? "var(--pick)" : "var(--canvas)"}
            stroke={picked ? "var(--pick)" : "var(--ink)"}
            strokeWidth={1.6}
            className="pointer-events-auto cursor-move"
            onPointerDown={(event) => drag(event, index)}
          />
        );
      })}
    </g>
  );
}

/** A wide band along a piece, to be touched. */
function PieceLine(props: { points: string[]; name: string; picked: boolean; onPick: (adding: boolean) => void }) {
  return (
    <polyline
      data-knob
      role="button"
      tabIndex={-1}
      aria-label={tr`${props.name} of the curve`}
      points={props.points.join(" ")}
      fill="none"
      stroke={props.picked ? "var(--pick)" : "transparent"}
      strokeOpacity={props.picked ? 0.75 : 0}
      strokeWidth={props.picked ? 4 : 10}
      className="cursor-pointer"
      style={{ pointerEvents: "stroke" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        props.onPick(event.shiftKey);
      }}
    />
  );
}

/** Px a hand may move and still only touch. */
const STILL = 3;

/** Follows a hand that holds a point: the server keeps what is held, one request at a time, the last place always asked for. */
function useDraggedPoint(props: PointsProps, stored: Kept | undefined, show: (kept: Kept | null) => void) {
  const latest = useRef({ props, stored });
  latest.current = { props, stored };
  return (event: React.PointerEvent, index: number) => {
    event.stopPropagation();
    const { project, form, part, camera, refuse, frozen } = latest.current.props;
    const stands = latest.current.stored?.plane;
    if (!stands) return;
    const spotOf = spotsOn((event.target as Element).closest("[data-testid=view3d]")!);
    const from = spotOf(event);
    const adding = event.shiftKey;
    const step = part.steps[0] as CurveStep;
    let wanted: Flat | null = null;
    let asking: Promise<void> | null = null;
    let moved = false;
    let last: Kept | null = null;
    const ask = async () => {
      while (wanted) {
        const place = wanted;
        wanted = null;
        try {
          last = await keptAs(project, form, part.id, step, { [index]: place });
          show(last);
        } catch {
          // such a place cannot be: the curve stays at the last one that can
        }
      }
      asking = null;
    };
    const move = (e: PointerEvent) => {
      const spot = spotOf(e);
      if (!moved && Math.hypot(spot.x - from.x, spot.y - from.y) < STILL) return;
      if (!moved && frozen.current) return refuse(frozen.current);
      moved = true;
      const place = inPlane(stands, camera, spot);
      if (!place) return;
      const { snap, grid } = useFormStage.getState();
      wanted = snap === "grid" ? rounded(place, grid) : place;
      asking ??= ask();
    };
    const up = async () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      const { points, pieces, set } = useCurve.getState();
      if (!moved) return set({ points: adding ? other(points, index) : [index], pieces: adding ? pieces : [] });
      if (asking) await asking;
      if (!last) return;
      const kept: Kept = last;
      const fields = { points: kept.points, pieces: withValues(step, kept.values) };
      if (!(await latest.current.props.edit({ amend: { kind: "step", part: part.id, index: 0, fields } }))) show(null);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  };
}

/** The pieces with their values as the dimensions leave them. */
export function withValues(step: CurveStep, values: number[]): CurveStep["pieces"] {
  return step.pieces.map((piece, index) => ({ ...piece, value: values[index] ?? piece.value }));
}

function ownValue(step: CurveStep, kept: Kept, name: string): number {
  return kept.values[step.pieces.findIndex((piece) => piece.name === name)] ?? 0;
}

const other = <T,>(list: T[], one: T) => (list.includes(one) ? list.filter((item) => item !== one) : [...list, one]);

function seenAt(seen: (place: Vector3) => Vector3, place: readonly number[]): string {
  const { x, y } = seen(inSpace(WORLD, place).setZ(place[2]!));
  return `${x},${y}`;
}
const WORLD = { origin: [0, 0, 0], across: [1, 0, 0], up: [0, 1, 0] } as Shapes["CurvePlaneShape"];

/** Points along which a piece is touched: its own, or round it. */
function handlesOf(piece: CurveStep["pieces"][number], points: number[][], value: number): number[][] {
  if (piece.kind === "circle" || piece.kind === "ellipse") {
    const [a, b] = piece.points.map((point) => points[point]!);
    const [ux, uy] = piece.kind === "circle" ? [value, 0] : [b![0]! - a![0]!, b![1]! - a![1]!];
    const share = piece.kind === "circle" ? 1 : value / Math.max(Math.hypot(ux, uy), 1e-9);
    return Array.from({ length: 33 }, (_, k) => {
      const [p, q] = [Math.cos((Math.PI * k) / 16), Math.sin((Math.PI * k) / 16) * share];
      return [a![0]! + p * ux - q * uy, a![1]! + p * uy + q * ux];
    });
  }
  if (piece.kind === "arc") {
    const [a, b, c] = piece.points.map((point) => points[point]!);
    const start = Math.atan2(a![1]! - c![1]!, a![0]! - c![0]!);
    const full = 2 * Math.PI;
    let sweep = Math.atan2(b![1]! - c![1]!, b![0]! - c![0]!) - start;
    sweep = piece.left === false ? -(((-sweep % full) + full) % full) : ((sweep % full) + full) % full;
    const radius = Math.hypot(a![0]! - c![0]!, a![1]! - c![1]!);
    return Array.from({ length: 25 }, (_, k) => {
      const t = start + (sweep * k) / 24;
      return [c![0]! + radius * Math.cos(t), c![1]! + radius * Math.sin(t)];
    });
  }
  const own = piece.points.map((point) => points[point]!);
  return piece.closed ? [...own, own[0]!] : own;
}
