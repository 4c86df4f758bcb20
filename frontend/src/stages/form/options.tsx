import { Button, Choice, NumberField, SliderField } from "../../ui/controls";
import { type Shown, useFormStage } from "./store";

const LETTERS = ["W", "D", "H"] as const;

/** Size and divisions of a first box. */
export function BoxOptions(props: { onApply: () => void }) {
  const { box, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      {LETTERS.map((letter, axis) => (
        <div key={letter} className="grid grid-cols-[1fr_auto] items-center gap-2">
          <NumberField
            letter={letter}
            label={`Box ${letter}`}
            value={box.size[axis]}
            digits={1}
            min={0.1}
            max={5000}
            unit="mm"
            onChange={(value) => set({ box: { ...box, size: with3(box.size, axis, value) } })}
          />
          <NumberField
            label={`Divisions ${letter}`}
            hideLabel
            value={box.divisions[axis]}
            min={1}
            max={40}
            onChange={(value) => set({ box: { ...box, divisions: with3(box.divisions, axis, Math.round(value)) } })}
          />
        </div>
      ))}
      <Button weight="act" onClick={props.onApply}>
        Begin
      </Button>
    </div>
  );
}

function with3(values: [number, number, number], axis: number, value: number): [number, number, number] {
  const next: [number, number, number] = [...values];
  next[axis] = value;
  return next;
}

/** How far faces are lifted. */
export function ExtrudeOptions(props: { onApply: () => void }) {
  const { distance, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      <NumberField
        label="Distance"
        value={distance}
        digits={1}
        unit="mm"
        onChange={(value) => set({ distance: value })}
      />
      <Button onClick={props.onApply}>Extrude picked faces</Button>
    </div>
  );
}

/** How tight an edge is. */
export function CreaseOptions(props: { onApply: (value: number, sharp?: boolean) => void }) {
  const { crease, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      <SliderField
        label="Crease"
        value={crease}
        min={0}
        max={1}
        step={0.05}
        digits={2}
        onChange={(value) => {
          set({ crease: value });
          props.onApply(value);
        }}
      />
      <div className="flex gap-2">
        <Button onClick={() => props.onApply(crease)}>Apply</Button>
        <Button onClick={() => props.onApply(1, true)}>Fully sharp</Button>
      </div>
    </div>
  );
}

/** Cage, skin or both. */
export function ShownOptions() {
  const { shown, set } = useFormStage();
  return (
    <Choice<Shown>
      label="Shown"
      options={["both", "cage", "skin"]}
      value={shown}
      onChange={(value) => set({ shown: value })}
    />
  );
}
