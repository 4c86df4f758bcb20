import type { Shapes } from "../../api/client";
import { ColourField } from "../../ui/controls";
import { SliderField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { type Setting, useSetting } from "./store";

type Lamp = Shapes["Lamp"];
type Camera = Shapes["Camera"];

/** Power, size and warmth of the chosen lamp. */
export function LampOptions(props: {
  stored: Setting;
  lamp: string;
  onDraft: (lamp: Lamp) => void;
  onDone: (lamp: Lamp) => void;
}) {
  const { onDraft, onDone } = props;
  const lamp = useSetting(props.stored).lamps!.find((candidate) => candidate.id === props.lamp)!;
  const slide = (
    field: keyof Lamp,
    rest: { min: number; max: number; step?: number; digits?: number },
    label: string,
  ) => (
    <SliderField
      label={label}
      value={(lamp[field] as number) ?? 0}
      {...rest}
      onSlide={(value) => onDraft({ ...lamp, [field]: value })}
      onChange={(value) => onDone({ ...lamp, [field]: value })}
    />
  );
  return (
    <>
      {slide("power", { min: -5, max: 5, step: 0.1, digits: 1 }, tr("Power"))}
      {slide("width", { min: 20, max: 1500, step: 10 }, tr("Width"))}
      {slide("warmth", { min: 2000, max: 10000, step: 100 }, tr("Warmth"))}
    </>
  );
}

/** Lens, distance and height of the camera. */
export function CameraOptions(props: {
  stored: Setting;
  onDraft: (camera: Camera) => void;
  onDone: (camera: Camera) => void;
}) {
  const { onDraft, onDone } = props;
  const camera = useSetting(props.stored).camera!;
  const slide = (field: keyof Camera, rest: { min: number; max: number; step?: number }, label: string) => (
    <SliderField
      label={label}
      value={(camera[field] as number) ?? 0}
      {...rest}
      onSlide={(value) => onDraft({ ...camera, [field]: value })}
      onChange={(value) => onDone({ ...camera, [field]: value })}
    />
  );
  return (
    <>
      {slide("focal", { min: 18, max: 200 }, tr("Lens mm"))}
      {slide("distance", { min: 100, max: 3000, step: 10 }, tr("Distance"))}
      {slide("azimuth", { min: -180, max: 180 }, tr("Around"))}
      {slide("height", { min: 0, max: 1500, step: 5 }, tr("Height"))}
      {slide("aim", { min: -50, max: 300 }, tr("Aim at"))}
    </>
  );
}

/** Colour and depth of the sweep. */
export function SweepOptions(props: { sweep: Shapes["Sweep"]; onDone: (sweep: Shapes["Sweep"]) => void }) {
  const { sweep, onDone } = props;
  return (
    <>
      <ColourField label={tr("Colour")} value={sweep.colour!} onChange={(colour) => onDone({ ...sweep, colour })} />
      <SliderField
        label={tr("Wall at")}
        value={sweep.depth!}
        min={200}
        max={3000}
        step={10}
        onChange={(depth) => onDone({ ...sweep, depth })}
      />
      <SliderField
        label={tr("Cove")}
        value={sweep.cove!}
        min={10}
        max={1000}
        step={10}
        onChange={(cove) => onDone({ ...sweep, cove })}
      />
    </>
  );
}
