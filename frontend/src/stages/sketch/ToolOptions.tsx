import type { LineStyle, NibName } from "../../paper/nibs";
import { Button, Choice, ColourField } from "../../ui/controls";
import { NumberField, SliderField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { type How, useSketch, type ViewKind } from "./store";

export const VIEW_KINDS: readonly ViewKind[] = ["front", "side", "top", "three-quarter"];
const HOWS: readonly How[] = ["instead", "add", "take away", "keep common"];

const LINES: readonly LineStyle[] = ["plain", "split", "hidden"];

const LARGEST: Record<NibName, number> = {
  pencil: 60,
  fineliner: 40,
  marker: 240,
  mist: 500,
  grain: 240,
  lifter: 160,
  "soft lifter": 400,
};

/** Size and tone of a nib, and how much the line is steadied. */
export function NibOptions({ nib }: { nib: NibName }) {
  const { size, tone, steady, line, set, take } = useSketch();
  return (
    <>
      {nib.endsWith("lifter") && (
        <Choice
          label={tr("Edge")}
          options={["hard", "soft"]}
          value={nib === "lifter" ? "hard" : "soft"}
          onChange={(edge) => take(edge === "hard" ? "lifter" : "soft lifter")}
        />
      )}
      <SliderField
        label={tr("Size")}
        value={size[nib]}
        min={0.5}
        max={LARGEST[nib]}
        step={0.5}
        digits={1}
        onChange={(value) => set({ size: { ...size, [nib]: value } })}
      />
      <SliderField
        label={tr("Tone")}
        value={tone[nib]}
        min={5}
        max={100}
        onChange={(value) => set({ tone: { ...tone, [nib]: value } })}
      />
      <SliderField label={tr("Steady")} value={steady} min={0} max={120} onChange={(value) => set({ steady: value })} />
      {!nib.endsWith("lifter") && (
        <Choice label={tr("Line")} options={LINES} value={line} onChange={(value) => set({ line: value })} />
      )}
    </>
  );
}

/** What a framed view shows. */
export function ViewOptions() {
  const { frameAs, set } = useSketch();
  return (
    <>
      <Choice label={tr("View")} options={VIEW_KINDS} value={frameAs} onChange={(value) => set({ frameAs: value })} />
      <p className="pt-1 text-[0.92rem] text-quiet">{tr("Drag a frame on the page.")}</p>
    </>
  );
}

/** How the next selection goes together with the one there is. */
export function SelectOptions({ gap = false }: { gap?: boolean }) {
  const { how, feather, gap: wide, set } = useSketch();
  return (
    <>
      <Choice label={tr("Together")} options={HOWS} value={how} onChange={(value) => set({ how: value })} />
      <SliderField
        label={tr("Feather")}
        value={feather}
        min={0}
        max={120}
        onChange={(value) => set({ feather: value })}
      />
      {gap && <SliderField label={tr("Gap")} value={wide} min={0} max={80} onChange={(value) => set({ gap: value })} />}
    </>
  );
}

/** How a touched region is filled. */
export function FillOptions() {
  const { gap, opacity, set } = useSketch();
  return (
    <>
      <SliderField label={tr("Gap")} value={gap} min={0} max={80} onChange={(value) => set({ gap: value })} />
      <SliderField
        label={tr("Opacity")}
        value={opacity}
        min={5}
        max={100}
        onChange={(value) => set({ opacity: value })}
      />
      <p className="pt-1 text-[0.92rem] text-quiet">
        {tr("Touch inside lines; openings up to the gap count as closed.")}
      </p>
    </>
  );
}

export function GradientOptions() {
  const { gradient, opacity, set } = useSketch();
  return (
    <>
      <Choice
        label={tr("Shape")}
        options={["linear", "radial"]}
        value={gradient.shape}
        onChange={(shape) => set({ gradient: { ...gradient, shape } })}
      />
      <SliderField label={tr("From")} value={opacity} min={0} max={100} onChange={(value) => set({ opacity: value })} />
      <SliderField
        label={tr("To")}
        value={gradient.lastOpacity}
        min={0}
        max={100}
        onChange={(lastOpacity) => set({ gradient: { ...gradient, lastOpacity } })}
      />
      <ColourField
        label={tr("End colour")}
        value={gradient.last}
        onChange={(last) => set({ gradient: { ...gradient, last } })}
      />
    </>
  );
}

/** How long a sprint takes. */
export function SprintOptions({ onBegin }: { onBegin: () => void }) {
  const { sprintMinutes, set } = useSketch();
  return (
    <>
      <NumberField
        label={tr("Minutes")}
        value={sprintMinutes}
        min={1}
        max={60}
        onChange={(value) => set({ sprintMinutes: value })}
      />
      <Button weight="act" onClick={onBegin}>
        {tr("Begin")}
      </Button>
    </>
  );
}
