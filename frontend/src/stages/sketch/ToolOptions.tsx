import { Choice, ColourField, SliderField } from "../../ui/controls";
import { useSketch, type ViewKind } from "./store";

export const VIEW_KINDS: readonly ViewKind[] = ["front", "side", "top", "three-quarter"];

/** Size and tone of a nib. */
export function NibOptions({ nib }: { nib: "pencil" | "lifter" }) {
  const { size, tone, colour, set } = useSketch();
  return (
    <>
      <SliderField
        label="Size"
        value={size[nib]}
        min={0.5}
        max={nib === "lifter" ? 160 : 60}
        step={0.5}
        digits={1}
        onChange={(value) => set({ size: { ...size, [nib]: value } })}
      />
      <SliderField
        label="Tone"
        value={tone[nib]}
        min={5}
        max={100}
        onChange={(value) => set({ tone: { ...tone, [nib]: value } })}
      />
      {nib === "pencil" && <ColourField label="Colour" value={colour} onChange={(value) => set({ colour: value })} />}
    </>
  );
}

/** What a framed view shows. */
export function ViewOptions() {
  const { frameAs, set } = useSketch();
  return (
    <>
      <Choice label="View" options={VIEW_KINDS} value={frameAs} onChange={(value) => set({ frameAs: value })} />
      <p className="pt-1 text-[0.92rem] text-quiet">Drag a frame on the page.</p>
    </>
  );
}
