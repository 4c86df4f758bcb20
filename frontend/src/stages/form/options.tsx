import { Button, Choice, NumberField, SliderField } from "../../ui/controls";
import { StartFields, type StartKind, type StartShape } from "./starts";
import { type Shown, useFormStage } from "./store";

/** The numbers of a first shape. */
export function StartOptions(props: { kind: StartKind; onApply: (start: StartShape) => void }) {
  const { firsts, set } = useFormStage();
  const start = firsts[props.kind];
  return (
    <div className="space-y-1.5">
      <StartFields start={start} onChange={(next) => set({ firsts: { ...firsts, [props.kind]: next } })} />
      <Button weight="act" onClick={() => props.onApply(start)}>
        Begin
      </Button>
    </div>
  );
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

/** How far faces are set in. */
export function InsetOptions(props: { onApply: () => void }) {
  const { inset, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      <NumberField
        label="Inset by"
        value={inset.width}
        digits={1}
        min={0.1}
        unit="mm"
        onChange={(width) => set({ inset: { ...inset, width } })}
      />
      <Choice
        label="Set in"
        options={["as one", "each by itself"]}
        value={inset.single ? "each by itself" : "as one"}
        onChange={(how) => set({ inset: { ...inset, single: how === "each by itself" } })}
      />
      <Button onClick={props.onApply}>Inset picked faces</Button>
    </div>
  );
}

/** Where a row lies in its band. */
export function RowOptions(props: { onApply: () => void }) {
  const { share, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      <SliderField label="At" value={share} min={2} max={98} onChange={(value) => set({ share: value })} />
      <Button onClick={props.onApply}>Add it across the picked edge</Button>
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
