import type { Shapes } from "../../api/client";
import { Choice, NumberField, Row } from "../../ui/controls";

/** A shape a part can begin with; what it is made of stays editable in the part's card. */
export type StartShape = Exclude<Shapes["StartPart"]["start"], Shapes["ImportedStart"] | Shapes["StillStart"]>;
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
};

const LETTERS = ["W", "D", "H"] as const;

/** Words and limits of the numbers that shapes are made of. */
const WORDS: Record<string, { label: string; unit?: string; min: number; max: number; digits?: number }> = {
  wall: { label: "Wall", unit: "mm", min: 0.1, max: 2000, digits: 1 },
  radius: { label: "Radius", unit: "mm", min: 0.2, max: 50000, digits: 1 },
  tube: { label: "Radius of its section", unit: "mm", min: 0.1, max: 50000, digits: 1 },
  sides: { label: "Sides", min: 3, max: 128 },
  rows: { label: "Rows", min: 1, max: 40 },
  rings: { label: "Rings", min: 1, max: 40 },
  around: { label: "Around", min: 3, max: 128 },
  section: { label: "Around its section", min: 3, max: 128 },
  divisions: { label: "Divisions of a side", min: 1, max: 40 },
};

/** The numbers a first shape is made of, for the next one or (`made`) for the one a part began with. */
export function StartFields(props: { start: StartShape; made?: boolean; onChange: (start: StartShape) => unknown }) {
  const { start, made, onChange } = props;
  const name = made ? `Start ${start.kind}` : start.kind[0].toUpperCase() + start.kind.slice(1);
  const size = "size" in start ? (start.size as number[]) : null;
  const divisions = "divisions" in start && Array.isArray(start.divisions) ? (start.divisions as number[]) : null;
  const change = (fields: object) => onChange({ ...start, ...fields } as StartShape);
  const others = Object.keys(start).filter((key) => key in WORDS && !Array.isArray(start[key as keyof StartShape]));
  return (
    <div className="space-y-1.5">
      {size?.map((value, axis) => (
        <div key={LETTERS[axis]} className="grid grid-cols-[1fr_auto] items-center gap-2">
          <NumberField
            letter={LETTERS[axis]}
            label={`${name} ${LETTERS[axis]}`}
            value={value}
            digits={1}
            min={0.1}
            max={5000}
            unit="mm"
            onChange={(next) => change({ size: size.map((old, k) => (k === axis ? next : old)) })}
          />
          {divisions && (
            <NumberField
              label={`${made ? "Start divisions" : "Divisions"} ${LETTERS[axis]}`}
              hideLabel
              value={divisions[axis]}
              min={1}
              max={40}
              onChange={(next) =>
                change({ divisions: divisions.map((old, k) => (k === axis ? Math.round(next) : old)) })
              }
            />
          )}
        </div>
      ))}
      {start.kind === "turned" && (
        <>
          <Row label="Turned about, at"> </Row>
          <Choice
            label={made ? "Start: turned about" : "Turned about"}
            options={LETTERS}
            value={start.axis ?? "H"}
            onChange={(axis) => change({ axis })}
          />
          <div className="grid grid-cols-3 gap-1">
            {LETTERS.map((letter, axis) => (
              <NumberField
                key={letter}
                letter={letter}
                label={made ? `Start: axis at ${letter}` : `Axis at ${letter}`}
                value={start.at?.[axis] ?? 0}
                digits={1}
                onChange={(next) => change({ at: [0, 1, 2].map((k) => (k === axis ? next : (start.at?.[k] ?? 0))) })}
              />
            ))}
          </div>
        </>
      )}
      {others.map((key) => {
        const { label, unit, min, max, digits } = WORDS[key];
        return (
          <NumberField
            key={key}
            label={made ? `Start: ${label.toLowerCase()}` : label}
            value={start[key as keyof StartShape] as unknown as number}
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
