import type { Shapes } from "../../api/client";
import { AxisFields, LETTERS, type Triple, withAxis } from "../../ui/AxisFields";
import { Choice, Row } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { capitalised } from "../../ui/words";
import { tr } from "../../words/words";

/** A shape a part can begin with; what it is made of stays editable in the part's card. */
export type StartShape = Extract<
  Shapes["StartPart"]["start"],
  { kind: "box" | "sphere" | "cylinder" | "tube" | "ring" | "disc" | "grid" | "turned" | "outlined" }
>;
export type StartKind = StartShape["kind"];

export const FIRST: { [K in StartKind]: Extract<StartShape, { kind: K }> } = {
  box: { kind: "box", size: [62, 34, 108], divisions: [4, 3, 6] },
  sphere: { kind: "sphere", size: [60, 60, 60], divisions: 3 },
  cylinder: { kind: "cylinder", size: [50, 50, 80], sides: 16, rows: 3 },
  tube: { kind: "tube", size: [50, 50, 40], wall: 4, sides: 16, rows: 2 },
  ring: { kind: "ring", radius: 20, tube: 5, around: 16, section: 8 },
  disc: { kind: "disc", size: [50, 50], sides: 16, rings: 2 },
  grid: { kind: "grid", size: [60, 60], divisions: [4, 4] },
  turned: { kind: "turned", profile: [], sides: 24, rows: 8, closed: false, axis: "H", at: [0, 0, 0] },
  outlined: { kind: "outlined", spans: [], view: "front", deep: 40, divisions: [4, 3, 8] },
};

/** What the faces of a body by its outline are counted along, as it is seen. */
const FACES = [tr("Faces across"), tr("Faces deep"), tr("Rows")];

/** Words and limits of the numbers that shapes are made of. */
const WORDS: Record<string, { label: string; unit?: string; min: number; max: number; digits?: number }> = {
  deep: { label: tr("Deep"), unit: "mm", min: 0.1, max: 10000, digits: 1 },
  wall: { label: tr("Wall"), unit: "mm", min: 0.1, max: 2000, digits: 1 },
  radius: { label: tr("Radius"), unit: "mm", min: 0.2, max: 50000, digits: 1 },
  tube: { label: tr("Radius of its section"), unit: "mm", min: 0.1, max: 50000, digits: 1 },
  sides: { label: tr("Sides"), min: 3, max: 128 },
  rows: { label: tr("Rows"), min: 1, max: 40 },
  rings: { label: tr("Rings"), min: 1, max: 40 },
  around: { label: tr("Around"), min: 3, max: 128 },
  section: { label: tr("Around its section"), min: 3, max: 128 },
  divisions: { label: tr("Divisions of a side"), min: 1, max: 40 },
};

/** The numbers a first shape is made of, for the next one or (`made`) for the one a part began with. */
export function StartFields(props: {
  start: StartShape;
  made?: boolean;
  /** Hears what was changed. */
  onChange: (fields: Record<string, unknown>) => unknown;
}) {
  const { start, made, onChange: change } = props;
  const values: Record<string, unknown> = { ...start };
  const name = made ? tr`Start ${start.kind}` : capitalised(start.kind);
  const size = "size" in start ? (start.size as number[]) : null;
  const divisions = "divisions" in start && Array.isArray(start.divisions) ? (start.divisions as number[]) : null;
  const others = Object.keys(start).filter((key) => key in WORDS && !Array.isArray(values[key]));
  return (
    <div className="space-y-1.5">
      {LETTERS.slice(0, size?.length ?? 0).map((letter, axis) => (
        <div key={letter} className="grid grid-cols-[1fr_auto] items-center gap-2">
          <NumberField
            letter={letter}
            label={`${name} ${letter}`}
            value={size![axis]!}
            digits={1}
            min={0.1}
            max={5000}
            unit="mm"
            onChange={(next) => change({ size: withAxis(size!, axis, next) })}
          />
          {divisions && (
            <NumberField
              label={`${made ? tr("Start divisions") : tr("Divisions")} ${letter}`}
              hideLabel
              value={divisions[axis]!}
              min={1}
              max={40}
              onChange={(next) => change({ divisions: withAxis(divisions, axis, Math.round(next)) })}
            />
          )}
        </div>
      ))}
      {start.kind === "turned" && (
        <>
          <Row label={tr("Turned about, at")}> </Row>
          <Choice
            label={made ? tr("Start: turned about") : tr("Turned about")}
            options={LETTERS}
            value={start.axis ?? "H"}
            onChange={(axis) => change({ axis })}
          />
          <AxisFields
            label={made ? tr("Start: axis at") : tr("Axis at")}
            unit="mm"
            values={(start.at as Triple | undefined) ?? [0, 0, 0]}
            digits={1}
            onChange={(at) => change({ at })}
          />
        </>
      )}
      {start.kind === "outlined" &&
        FACES.map((label, axis) => (
          <NumberField
            key={label}
            label={made ? tr`Start: ${label.toLowerCase()}` : label}
            value={start.divisions![axis]!}
            min={axis === 2 ? 2 : 1}
            max={40}
            onChange={(next) => change({ divisions: withAxis(start.divisions!, axis, Math.round(next)) })}
          />
        ))}
      {others.map((key) => {
        const { label, unit, min, max, digits } = WORDS[key]!;
        return (
          <NumberField
            key={key}
            label={made ? tr`Start: ${label.toLowerCase()}` : label}
            value={values[key] as number}
            unit={unit}
            min={min}
            max={max}
            digits={digits}
            onChange={(next) => change({ [key]: digits ? next : Math.round(next) })}
          />
        );
      })}
    </div>
  );
}

/** Whether a first shape is its own mirror image across W, so that symmetry can hold from the beginning. */
export function isEven(start: StartShape): boolean {
  if (start.kind === "turned") return (start.sides ?? 24) % 2 === 0 && !start.at?.[0];
  if (start.kind === "cylinder" || start.kind === "tube" || start.kind === "disc") return start.sides % 2 === 0;
  return start.kind !== "ring" || start.around % 2 === 0;
}
