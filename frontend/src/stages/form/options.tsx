import { Button, Choice } from "../../ui/controls";
import { NumberField, SliderField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { StartFields, type StartKind, type StartShape } from "./starts";
import { NEXT, type NextKind, StepFields } from "./steps";
import { type Shown, useFormStage } from "./store";
import { drawsLine, type StepTool } from "./tools";

/** The numbers of a first shape. */
export function StartOptions(props: { kind: StartKind; onApply: (start: StartShape) => void }) {
  const { firsts, set } = useFormStage();
  const start = firsts[props.kind];
  return (
    <div className="space-y-1.5">
      <StartFields
        start={start}
        onChange={(fields) => set({ firsts: { ...firsts, [props.kind]: { ...start, ...fields } } })}
      />
      {props.kind === "turned" ? (
        <p className="text-quiet">
          {tr("Draw the profile beside the upright axis, or touch a line of a sheet behind the form.")}
        </p>
      ) : (
        <Button weight="act" onClick={() => props.onApply(start)}>
          {tr("Begin")}
        </Button>
      )}
    </div>
  );
}

/** The numbers of the next step of a kind, and what to do with them. */
export function StepOptions(props: {
  tool: StepTool;
  parted: boolean;
  onApply: (numbers?: object) => void;
  onSlide: (numbers: object) => void;
}) {
  const { tool } = props;
  const { nexts, kind: picked, set } = useFormStage();
  const kind = tool.kind in NEXT ? (tool.kind as NextKind) : null;
  if (tool.kind === "creased") return <CreaseOptions onApply={props.onApply} />;
  if (tool.kind === "slid") return <SlideOptions onApply={props.onApply} onSlide={props.onSlide} />;
  const draws = drawsLine(tool, nexts);
  return (
    <div className="space-y-1.5">
      {kind && (
        <StepFields
          kind={kind}
          values={{ ...nexts[kind] }}
          parted={props.parted}
          onChange={(fields) => set({ nexts: { ...nexts, [kind]: { ...nexts[kind], ...fields } } })}
        />
      )}
      {draws ? (
        <p className="text-quiet">{tool.line ? tool.hint : tr("Pick first, then draw the path to follow.")}</p>
      ) : (
        <Button onClick={() => props.onApply()}>{tool.apply}</Button>
      )}
      {tool.kind === "bridged" && picked === "points" && <p className="text-quiet">{tool.hint}</p>}
    </div>
  );
}

/** How far a row slides; the skin follows the knob. */
function SlideOptions(props: { onApply: (numbers: object) => void; onSlide: (numbers: object) => void }) {
  const { nexts, set } = useFormStage();
  return (
    <SliderField
      label={tr("Slide")}
      value={Math.round(nexts.slid.share * 100)}
      min={-99}
      max={99}
      onSlide={(share) => props.onSlide({ share: share / 100 })}
      onChange={(share) => {
        set({ nexts: { ...nexts, slid: { share: share / 100 } as typeof nexts.slid } });
        props.onApply({ share: share / 100 });
      }}
    />
  );
}

/** How tight edges or corners are. */
function CreaseOptions(props: { onApply: (numbers: object) => void }) {
  const { nexts, set } = useFormStage();
  const crease = nexts.creased.crease;
  return (
    <div className="space-y-1.5">
      <SliderField
        label={tr("Crease")}
        value={crease}
        min={0}
        max={1}
        step={0.05}
        digits={2}
        onChange={(value) => {
          set({ nexts: { ...nexts, creased: { crease: value } as typeof nexts.creased } });
          props.onApply({ crease: value });
        }}
      />
      <div className="flex gap-2">
        <Button onClick={() => props.onApply({ crease })}>{tr("Apply")}</Button>
        <Button onClick={() => props.onApply({ crease: 1, sharp: true })}>{tr("Fully sharp")}</Button>
      </div>
    </div>
  );
}

/** What a dragged pick holds to, and how far the arrow keys go. */
export function SnapOptions() {
  const { snap, grid, set } = useFormStage();
  return (
    <div className="space-y-1.5">
      <Choice
        label={tr("Hold to")}
        options={["nothing", "grid", "points", "lines"] as const}
        value={snap}
        onChange={(to) => set({ snap: to })}
      />
      <NumberField
        label={tr("Grid and arrow step")}
        value={grid}
        digits={2}
        min={0.01}
        max={1000}
        unit="mm"
        onChange={(value) => set({ grid: value })}
      />
    </div>
  );
}

/** Cage, skin or both. */
export function ShownOptions() {
  const { shown, set } = useFormStage();
  return (
    <Choice<Shown>
      label={tr("Shown")}
      options={["both", "cage", "skin"]}
      value={shown}
      onChange={(value) => set({ shown: value })}
    />
  );
}
