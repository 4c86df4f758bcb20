import { type ReactNode, useState } from "react";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { AxisFields, LETTERS, type Triple } from "../../../ui/AxisFields";
import { Button, Card, Choice, Row, Switch } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { tr } from "../../../words/words";
import { withValues } from "./CurvePoints";
import {
  type CurveHold,
  type CurveNow,
  type CurvePiece,
  type CurveStep,
  curveNow,
  looseEnds,
  useCurve,
  useKept,
} from "./curve";
import { useDrawOn } from "./drawOn";
import { inSpace } from "./ground";

interface CurveCardProps {
  project: string;
  document: string;
  part: Shapes["Part"];
  meshKey: string | undefined;
  edit: Edit;
}

type Kept = Shapes["KeptCurve"];
type HoldKind = CurveHold["kind"];

const HOLD_NAMES: Record<HoldKind, string> = {
  coincident: tr("One point"),
  on: tr("On it"),
  level: tr("Level"),
  upright: tr("Upright"),
  parallel: tr("Parallel"),
  square: tr("Square"),
  tangent: tr("Tangent"),
  equal: tr("Equal"),
  fixed: tr("Fixed"),
  middle: tr("In the middle"),
  mirrored: tr("Mirrored"),
  length: tr("Length"),
  apart: tr("Apart"),
  radius: tr("Radius"),
  angle: tr("Angle"),
};

/** What can be said of a pick: how many points, and which kinds of pieces. */
function sayable(points: number[], pieces: CurvePiece[]): HoldKind[] {
  const lines = pieces.filter(({ kind }) => kind === "line").length;
  const round = pieces.filter(({ kind }) => kind === "arc" || kind === "circle").length;
  const key = `${points.length} ${lines} ${round}`;
  const found: Record<string, HoldKind[]> = {
    "1 0 0": ["fixed"],
    "2 0 0": ["apart", "level", "upright", "coincident"],
    "0 1 0": ["length", "level", "upright"],
    "0 2 0": ["angle", "parallel", "square", "equal"],
    "0 0 1": ["radius"],
    "0 0 2": ["equal", "tangent"],
    "0 1 1": ["tangent"],
    "1 1 0": ["on", "middle"],
    "1 0 1": ["on"],
    "2 1 0": ["mirrored"],
  };
  return pieces.length === lines + round ? (found[key] ?? []) : [];
}

/** The curve worked on: where it stands, what is picked of it, what is held. */
export function CurveCard(props: CurveCardProps) {
  const { part, edit } = props;
  const step = part.steps[0] as CurveStep;
  const kept = useKept(props.project, props.document, part.id, props.meshKey);
  const read = useReading();
  const amendment = (fields: Fields) => ({ amend: { kind: "step" as const, part: part.id, index: 0, fields } });
  const amend: Amend = (fields) =>
    edit(
      typeof fields === "function"
        ? async () => amendment(fields(await curveNow(props.project, props.document, part.id)))
        : amendment(fields),
    );
  return (
    <Card title={tr("Curve")} aside={kept ? freeSaid(kept.free) : ""}>
      <Picked step={step} kept={kept} amend={amend} />
      {kept && <Ends {...props} step={step} kept={kept} />}
      {(step.holds ?? []).map((hold, index) => (
        <Held
          key={`${index}-${hold.kind}`}
          hold={hold}
          onValue={(value) => amend({ [`holds.${index}.value`]: value })}
          onRemove={() =>
            amend((now) => ({ holds: (now.step.holds ?? []).filter((_, other) => other !== index), ...settled(now) }))
          }
        />
      ))}
      {step.pieces
        .filter(({ kind, name }) => kind === "circle" && !(step.holds ?? []).some((h) => h.pieces?.includes(name)))
        .map((piece) => (
          <NumberField
            key={piece.name}
            label={tr`Radius of ${piece.name}`}
            value={kept?.values[step.pieces.indexOf(piece)] ?? piece.value ?? 0}
            unit="mm"
            min={0.01}
            digits={2}
            onChange={(value) => amend({ [`pieces.${step.pieces.indexOf(piece)}.value`]: value })}
          />
        ))}
      <Stand step={step} amend={amend} />
      {kept && (
        <Row label={tr("Worked out in")}>
          {read.number(kept.milliseconds, 1)} {tr("ms")}
        </Row>
      )}
    </Card>
  );
}

function freeSaid(free: number): string {
  if (free === 0) return tr("fully held");
  return free === 1 ? tr("1 way to move left") : tr`${free} ways to move left`;
}

type Fields = Record<string, unknown>;

/** Changes fields of the curve; or what is said of the curve as it stands after all that was done before. */
type Amend = (fields: Fields | ((now: CurveNow) => Fields)) => Promise<boolean>;

/** Points and values where what holds so far leaves them: what is said next starts from there. */
const settled = ({ step, kept }: CurveNow): Fields => ({ points: kept.points, pieces: withValues(step, kept.values) });

/** What is picked of the curve: its place, its corner's radius, and what can be said of it. */
function Picked({ step, kept, amend }: { step: CurveStep; kept: Kept | undefined; amend: Amend }) {
  const { points, pieces } = useCurve();
  const chosen = step.pieces.filter(({ name }) => pieces.includes(name));
  const offered = sayable(points, chosen);
  if (!points.length && !pieces.length) {
    return (
      <p className="text-quiet">
        {tr("Drag a point. Touch points and pieces, with Shift for more, to say what is to hold of them.")}
      </p>
    );
  }
  const say = (kind: HoldKind) =>
    amend((now) => {
      const value = measured(kind, points, chosen, now);
      const hold = { kind, points, pieces, value, at: placeOf(points, now.kept) };
      return { holds: [...(now.step.holds ?? []), hold], ...settled(now) };
    });
  const [only] = points;
  return (
    <>
      <Row label={tr("Picked")}>{[...points.map((point) => tr`point ${point + 1}`), ...pieces].join(", ")}</Row>
      {points.length === 1 && !pieces.length && kept?.points[only!] && only !== undefined && (
        <>
          <Coordinates
            place={kept.points[only]!}
            onChange={(axis, value) => amend({ [`points.${only}.${axis}`]: value })}
          />
          {kept.plane && (
            <NumberField
              label={tr("Corner rounded by")}
              value={step.rounds?.find(({ point }) => point === only)?.radius ?? 0}
              unit="mm"
              min={0}
              digits={2}
              onChange={(radius) =>
                amend((now) => ({
                  rounds: [
                    ...(now.step.rounds ?? []).filter(({ point }) => point !== only),
                    ...(radius > 0 ? [{ point: only, radius }] : []),
                  ],
                }))
              }
            />
          )}
        </>
      )}
      {offered.length > 0 && (
        <div className="flex flex-wrap gap-1.5">
          {offered.map((kind) => (
            <Button key={kind} onClick={() => say(kind)}>
              {HOLD_NAMES[kind]}
            </Button>
          ))}
        </div>
      )}
    </>
  );
}

const JOINS = [
  ["corner", tr("to a corner")],
  ["straight", tr("by a line")],
  ["smooth", tr("smoothly")],
  ["curvature", tr("with even curvature")],
] as const;

/** What can be done with ends and pieces of the drawing: draw on, join, trim; and a plane through three of its points. */
function Ends(props: CurveCardProps & { step: CurveStep; kept: Kept }) {
  const { step, kept, part, edit } = props;
  const { points, pieces, trims, set } = useCurve();
  const [by, setBy] = useState(5);
  const drawOn = useDrawOn(props.project, props.document);
  const loose = looseEnds(step, kept.points);
  const [one, other] = points;
  const alone = !pieces.length;
  const ends = alone && points.every((point) => loose.includes(point)) ? points.length : 0;
  const done = async (made: Promise<boolean>) => (await made) && set({ points: [], pieces: [] });
  return (
    <>
      {kept.plane && ends === 1 && (
        <div className="grid grid-cols-[1fr_auto] items-center gap-2">
          <NumberField label={tr("Draw it on by")} value={by} unit="mm" min={0.01} digits={2} onChange={setBy} />
          <span className="flex gap-1.5">
            <Button onClick={() => done(edit({ kind: "extend_curve", part: part.id, point: one!, by }))}>
              {tr("so far")}
            </Button>
            <Button onClick={() => done(edit({ kind: "extend_curve", part: part.id, point: one! }))}>
              {tr("till it meets")}
            </Button>
          </span>
        </div>
      )}
      {ends === 2 && (
        <Row label={tr("Join both ends")}>
          <span className="flex flex-wrap justify-end gap-1.5">
            {JOINS.map(([how, name]) => (
              <Button
                key={how}
                onClick={() => done(edit({ kind: "join_ends", part: part.id, points: [one!, other!], how }))}
              >
                {name}
              </Button>
            ))}
          </span>
        </Row>
      )}
      {alone && points.length === 3 && (
        <Button
          onClick={() =>
            drawOn(
              { through: points.map((point) => inSpace(kept.plane, kept.points[point]!).toArray()) as Through },
              tr`three points of ${part.name}`,
            )
          }
        >
          {tr("Draw on the plane through them")}
        </Button>
      )}
      {kept.plane && (
        <Switch
          label={tr("Trim by touch")}
          on={trims}
          onChange={() => set({ trims: !trims, points: [], pieces: [] })}
        />
      )}
      {trims && (
        <p className="text-quiet">{tr("Touch a stretch that is too much: it goes as far as what crosses it.")}</p>
      )}
    </>
  );
}

type Through = [Triple, Triple, Triple];

function Coordinates(props: { place: number[]; onChange: (axis: number, value: number) => void }) {
  const { place } = props;
  return (
    <div>
      {(place.length === 3 ? LETTERS : [tr("Across"), tr("Up")]).map((label, axis) => (
        <NumberField
          key={label}
          label={label}
          value={place[axis] ?? 0}
          unit="mm"
          digits={2}
          onChange={(value) => props.onChange(axis, value)}
        />
      ))}
    </div>
  );
}

const placeOf = (points: number[], kept: Kept) => kept.points[points[0] ?? 0]?.slice(0, 2) ?? [0, 0];

/** What a ruler says of a pick now, so that a new dimension changes nothing till another number is typed. */
function measured(kind: HoldKind, points: number[], pieces: CurvePiece[], { kept, step }: CurveNow): number {
  const ends = (piece: CurvePiece) => piece.points.map((point) => kept.points[point]!);
  const between = (a: number[], b: number[]) => Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!);
  const [first, second] = pieces;
  if (kind === "apart") return between(kept.points[points[0]!]!, kept.points[points[1]!]!);
  if (kind === "length" && first) return between(ends(first)[0]!, ends(first)[1]!);
  if (kind === "radius" && first)
    return first.kind === "arc" ? between(ends(first)[0]!, ends(first)[2]!) : kept.values[step.pieces.indexOf(first)]!;
  if (kind === "angle" && first && second) {
    const [a, b] = [first, second].map((piece) => {
      const [from, to] = ends(piece);
      return [to![0]! - from![0]!, to![1]! - from![1]!] as const;
    });
    const turn = Math.atan2(a![0] * b![1] - a![1] * b![0], a![0] * b![0] + a![1] * b![1]);
    return Math.abs((turn * 180) / Math.PI);
  }
  return 0;
}

const UNITS: Partial<Record<HoldKind, string>> = { length: "mm", apart: "mm", radius: "mm", angle: "°" };

/** One thing that is held: its number, and taking it away. */
function Held(props: { hold: CurveHold; onValue: (value: number) => void; onRemove: () => void }) {
  const { hold } = props;
  const unit = UNITS[hold.kind];
  const of = [...(hold.pieces ?? []), ...(hold.points ?? []).map((point) => tr`point ${point + 1}`)].join(", ");
  const name = `${HOLD_NAMES[hold.kind]}: ${of}`;
  let shown: ReactNode = <Row label={name}> </Row>;
  if (unit)
    shown = (
      <NumberField label={name} value={hold.value ?? 0} unit={unit} min={0} digits={2} onChange={props.onValue} />
    );
  return (
    <div className="grid grid-cols-[1fr_auto] items-center gap-2">
      {shown}
      <Button weight="quiet" label={tr`Take away: ${name}`} onClick={props.onRemove}>
        ×
      </Button>
    </div>
  );
}

const SIDES = ["front", "side", "top"] as const;

/** Where the curve's plane stands: seen from a side, moved, tilted. */
function Stand({ step, amend }: { step: CurveStep; amend: Amend }) {
  const plane = step.plane ?? {};
  const on = plane.on ?? "front";
  if (on === "space") return <p className="text-quiet">{tr("It runs freely in space.")}</p>;
  return (
    <>
      {plane.face ? (
        <Row label={tr("Stands on a face")}>
          <Button weight="quiet" onClick={() => amend({ "plane.face": null, inputs: {} })}>
            {tr("let go")}
          </Button>
        </Row>
      ) : plane.through ? (
        plane.through.map((point, index) => (
          <fieldset key={index}>
            <legend className="text-quiet">{tr`Its plane passes ${index + 1}, mm`}</legend>
            <AxisFields
              label={tr`Its plane passes ${index + 1}`}
              values={point as Triple}
              digits={2}
              unit="mm"
              onChange={(moved, axis) => amend({ [`plane.through.${index}.${axis}`]: moved[axis] })}
            />
          </fieldset>
        ))
      ) : (
        <Choice label={tr("Seen from")} options={SIDES} value={on} onChange={(side) => amend({ "plane.on": side })} />
      )}
      <fieldset>
        <legend className="text-quiet">{tr("Plane moved by, mm")}</legend>
        <AxisFields
          label={tr("Plane moved by")}
          values={(plane.origin ?? [0, 0, 0]) as Triple}
          digits={2}
          unit="mm"
          onChange={(moved, axis) => amend({ [`plane.origin.${axis}`]: moved[axis] })}
        />
      </fieldset>
      <fieldset>
        <legend className="text-quiet">{tr("Tilted about its across, up and normal, °")}</legend>
        <div className="grid grid-cols-3 gap-1.5">
          {[tr("Across"), tr("Up"), tr("Normal")].map((label, axis) => (
            <NumberField
              key={label}
              label={tr`Tilted about ${label.toLowerCase()}`}
              hideLabel
              value={(plane.tilt ?? [0, 0, 0])[axis]!}
              unit="°"
              min={-360}
              max={360}
              digits={1}
              onChange={(value) => amend({ [`plane.tilt.${axis}`]: value })}
            />
          ))}
        </div>
      </fieldset>
    </>
  );
}
