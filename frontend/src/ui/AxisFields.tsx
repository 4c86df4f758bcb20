import { NumberField } from "./numbers/NumberField";

export const LETTERS = ["W", "D", "H"] as const;
export type Letter = (typeof LETTERS)[number];
export type Triple = [number, number, number];

/** Three numbers along width, depth and height. */
export function AxisFields(props: {
  /** What each is called, before its letter. */
  label: string;
  values: Triple;
  /** Hears all three, and which of them was typed. */
  onChange: (values: Triple, axis: number) => unknown;
  digits?: number;
  unit?: string;
  min?: number;
  max?: number;
}) {
  const { label, values, onChange, ...limits } = props;
  return (
    <div className="grid grid-cols-3 gap-1.5">
      {LETTERS.map((letter, axis) => (
        <NumberField
          key={letter}
          {...limits}
          letter={letter}
          label={`${label} ${letter}`}
          value={values[axis]!}
          onChange={(value) => onChange(withAxis(values, axis, value), axis)}
        />
      ))}
    </div>
  );
}

/** Numbers with one of them exchanged. */
export function withAxis<Numbers extends number[]>(values: Numbers, axis: number, value: number): Numbers {
  return values.map((old, k) => (k === axis ? value : old)) as Numbers;
}
