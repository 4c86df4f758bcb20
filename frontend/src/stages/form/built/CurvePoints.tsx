import { useEffect, useRef, useState } from "react";
import type { PerspectiveCamera } from "three";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { type Spot, spotsOn } from "../../../ui/pointing";
import { onScreen } from "../../../view3d/orbit";
import { tr } from "../../../words/words";
import { useFormStage } from "../store";
import { caughtAt, useCatches } from "./catching";
import { type CurveStep, keptAs, oneAtATime, useCurve, useKept } from "./curve";
import { Caught } from "./Drawing";
import { inSpace, type Place, placed, rounded, underSpot } from "./ground";
import { PlaneKnobs } from "./PlaneKnobs";

interface PointsProps {
  project: string;
  form: string;
  data: Shapes["FormState"] | undefined;
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
  const { project, form, part, camera, size, edit } = props;
  const step = part.steps[0] as CurveStep;
  const stored = useKept(project, form, part.id, props.meshKey);
  const [dragged, setDragged] = useState<Kept | null>(null);
  const { points, pieces, trims, caught, set } = useCurve();
  useEffect(() => {
    if (stored) setDragged(null); // what was dragged is what is stored by now
  }, [stored]);
  const drag = useDraggedPoint(props, stored, setDragged);
  const kept = dragged ?? stored;
  if (!kept) return null;
  const stands = kept.plane;
  const seen = (place: Place) => onScreen(camera, inSpace(null, place), size.width, size.height);
  const along = (line: readonly Place[]) =>
    line
      .map((place) => {
        const { x, y } = seen(place);
        return `${x.toFixed(1)},${y.toFixed(1)}`;
      })
      .join(" ");
  const touch = (name: string, spot: Spot, adding: boolean) => {
    if (!trims) return set({ pieces: adding ? other(pieces, name) : [name], points: adding ? points : [] });
    const place = stands && underSpot(stands, camera, spot, inSpace(stands, [0, 0]));
    if (!place) return props.refuse(tr("Only a flat curve, seen from in front of its plane, is trimmed by touch."));
    set({ points: [], pieces: [] });
    void edit({ kind: "trim_curve", part: part.id, piece: name, at: placed(stands, place) as [number, number] });
  };
  return (
    <g data-testid="curve">
      {kept.lines.map((line, index) => (
        <polyline key={index} points={along(line)} fill="none" stroke="var(--act)" strokeWidth={1.6} />
      ))}
      {step.pieces.map(({ name }, index) => (
        <PieceLine
          key={name}
          points={along(kept.pieces[index] ?? [])}
          name={name}
          picked={pieces.includes(name)}
          trims={trims}
          onTouch={(spot, adding) => touch(name, spot, adding)}
        />
      ))}
      {stands && !trims && <PlaneKnobs {...props} step={step} stands={stands} show={setDragged} />}
      {!trims &&
        kept.points.map((place, index) => {
          const { x, y } = onScreen(camera, inSpace(stands, place), size.width, size.height);
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
      {caught && <Caught at={seen(caught.place)} word={caught.word} />}
    </g>
  );
}

/** A wide band along a piece, to be touched. */
function PieceLine(props: {
  points: string;
  name: string;
  picked: boolean;
  trims: boolean;
  onTouch: (spot: Spot, adding: boolean) => void;
}) {
  const { picked, trims } = props;
  return (
    <polyline
      data-knob
      role="button"
      tabIndex={-1}
      aria-label={trims ? tr`Trim ${props.name} here` : tr`${props.name} of the curve`}
      points={props.points}
      fill="none"
      stroke={trims ? "var(--wrong)" : "var(--pick)"}
      strokeOpacity={picked ? 0.75 : 0}
      strokeWidth={picked ? 4 : 10}
      className={trims ? "cursor-crosshair hover:[stroke-opacity:0.35]" : "cursor-pointer"}
      style={{ pointerEvents: "stroke" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        const spotOf = spotsOn((event.target as Element).closest("[data-testid=view3d]")!);
        props.onTouch(spotOf(event), event.shiftKey);
      }}
    />
  );
}

/** Px a hand may move and still only touch. */
const STILL = 3;

/** Follows a hand that holds a point: what is held is kept by the server; places of other curves and solids draw it. */
function useDraggedPoint(props: PointsProps, stored: Kept | undefined, show: (kept: Kept | null) => void) {
  const catches = useCatches(props.project, props.form, props.data, "all");
  const latest = useRef({ props, stored, catches });
  latest.current = { props, stored, catches };
  return (event: React.PointerEvent, index: number) => {
    event.stopPropagation();
    const { project, form, part, camera, refuse, frozen } = latest.current.props;
    const from = latest.current.stored;
    if (!from) return;
    const others = latest.current.catches.filter(
      ({ anchor }) => anchor.part !== part.id || !("point" in anchor) || anchor.point !== index,
    );
    const spotOf = spotsOn((event.target as Element).closest("[data-testid=view3d]")!);
    const began = spotOf(event);
    const adding = event.shiftKey;
    const step = part.steps[0] as CurveStep;
    let moved = false;
    let last: Kept | null = null;
    const asking = oneAtATime(async (place: Place) => {
      last = await keptAs(project, form, step, { [index]: place });
      show(last);
    });
    const move = (e: PointerEvent) => {
      const spot = spotOf(e);
      if (!moved && Math.hypot(spot.x - began.x, spot.y - began.y) < STILL) return;
      if (!moved && frozen.current) return refuse(frozen.current);
      moved = true;
      const caught = caughtAt(others, camera, spot);
      useCurve.getState().set({ caught: caught && { word: caught.word, place: caught.place.toArray() } });
      const place = caught?.place ?? underSpot(from.plane, camera, spot, inSpace(from.plane, from.points[index]!));
      if (!place) return;
      const { snap, grid } = useFormStage.getState();
      const found = placed(from.plane, place);
      asking.want(snap === "grid" && !caught ? rounded(found, grid) : found);
    };
    const up = async () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      const { points, pieces, set } = useCurve.getState();
      set({ caught: null });
      if (!moved) return set({ points: adding ? other(points, index) : [index], pieces: adding ? pieces : [] });
      await asking.settled();
      if (!last) {
        const why = asking.failed();
        return why ? refuse(why) : undefined; // not one place of all could be
      }
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

const other = <T,>(list: T[], one: T) => (list.includes(one) ? list.filter((item) => item !== one) : [...list, one]);
