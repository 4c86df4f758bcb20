import type { PerspectiveCamera } from "three";
import { onScreen } from "../../../view3d/orbit";
import { type CurveKind, curveOf, type Flat, PLACES, useCurve } from "./curve";
import { groundOf, inSpace, type Place, type Stands } from "./ground";

interface Box {
  width: number;
  height: number;
}

/** Places put down for a curve so far, and what it would be with the pointer's. */
export function Drawing({ camera, size }: { camera: PerspectiveCamera; size: Box }) {
  const { kind, on, off, ground, placed, hover, caught } = useCurve();
  const { stands } = groundOf(on, off, ground);
  const seen = (place: Place) => onScreen(camera, inSpace(stands, place), size.width, size.height);
  const path = outlineOf(kind, hover ? [...placed, hover] : placed)
    .map(seen)
    .map(({ x, y }) => `${x},${y}`)
    .join(" ");
  return (
    <>
      {stands && <Axes stands={stands} camera={camera} size={size} />}
      <polyline points={path} fill="none" stroke="var(--act)" strokeWidth={2} />
      {placed.map((place, index) => {
        const { x, y } = seen(place);
        return (
          <circle
            key={`${index}-${place}`}
            cx={x}
            cy={y}
            r={4}
            fill="var(--canvas)"
            stroke="var(--act)"
            strokeWidth={2}
          />
        );
      })}
      {hover && caught && <Caught at={seen(hover)} word={caught.word} />}
    </>
  );
}

/** What has drawn the hand to itself, beside it. */
export function Caught({ at, word }: { at: { x: number; y: number }; word: string }) {
  return (
    <g data-testid="caught">
      <path d={`M ${at.x - 7} ${at.y} h 14 M ${at.x} ${at.y - 7} v 14`} stroke="var(--pick)" strokeWidth={1.6} />
      <text
        x={at.x + 12}
        y={at.y - 8}
        className="fill-ink text-[12px]"
        paintOrder="stroke"
        stroke="var(--canvas)"
        strokeWidth={3}
      >
        {word}
      </text>
    </g>
  );
}

/** Where the plane's across and up run. */
function Axes({ stands, camera, size }: { stands: Stands; camera: PerspectiveCamera; size: Box }) {
  const seen = (place: Flat) => onScreen(camera, inSpace(stands, place), size.width, size.height);
  const [left, right, low, high] = [seen([-500, 0]), seen([500, 0]), seen([0, -500]), seen([0, 500])];
  return (
    <g data-testid="drawing-plane" stroke="var(--quiet)" strokeDasharray="7 4 1 4" opacity={0.7}>
      <line x1={left.x} y1={left.y} x2={right.x} y2={right.y} />
      <line x1={low.x} y1={low.y} x2={high.x} y2={high.y} />
    </g>
  );
}

/** Points along a curve while it is drawn: near enough for the eye; the server draws the real one. */
function outlineOf(kind: CurveKind, placed: Place[]): Place[] {
  if (PLACES[kind] === null || kind === "rectangle") {
    const made = kind === "rectangle" ? (curveOf(kind, placed, true)?.points as Flat[] | undefined) : undefined;
    return made ? [...made, made[0]!] : placed;
  }
  const made = curveOf(kind, placed, false);
  if (!made) return placed;
  const piece = made.pieces[0]!;
  const [a, b, c] = made.points as Flat[];
  const turn = Array.from({ length: 65 }, (_, k) => (2 * Math.PI * k) / 64);
  if (piece.kind === "circle")
    return turn.map((t): Flat => [a![0] + piece.value! * Math.cos(t), a![1] + piece.value! * Math.sin(t)]);
  if (piece.kind === "ellipse") {
    const [ux, uy] = [b![0] - a![0], b![1] - a![1]];
    const share = piece.value! / Math.hypot(ux, uy);
    return turn.map((t): Flat => {
      const [p, q] = [Math.cos(t), Math.sin(t) * share];
      return [a![0] + p * ux - q * uy, a![1] + p * uy + q * ux];
    });
  }
  const start = Math.atan2(a![1] - c![1], a![0] - c![0]);
  let sweep = Math.atan2(b![1] - c![1], b![0] - c![0]) - start;
  const full = 2 * Math.PI;
  sweep = piece.left ? ((sweep % full) + full) % full : -(((-sweep % full) + full) % full);
  const radius = Math.hypot(a![0] - c![0], a![1] - c![1]);
  return Array.from({ length: 41 }, (_, k): Flat => {
    const t = start + (sweep * k) / 40;
    return [c![0] + radius * Math.cos(t), c![1] + radius * Math.sin(t)];
  });
}
