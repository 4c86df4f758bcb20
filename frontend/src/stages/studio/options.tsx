import type { Edit } from "../../api/queries";
import { ColourField } from "../../ui/controls";
import { SliderField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import type { Camera, Lamp } from "./kinds";
import { type Setting, useSetting } from "./store";

/** Power, size and warmth of the chosen lamp. */
export function LampOptions(props: {
  stored: Setting;
  lamp: string;
  onDraft: (lamp: Lamp) => void;
  onDone: (lamp: Lamp) => void;
}) {
  const { onDraft, onDone } = props;
  const lamp = useSetting(props.stored).lamps?.find((candidate) => candidate.id === props.lamp);
  if (!lamp) return null;
  const slide = (field: string, rest: { min: number; max: number; step?: number; digits?: number }, label: string) =>
    field in lamp && (
      <SliderField
        label={label}
        value={(lamp as unknown as Record<string, number>)[field] ?? 0}
        {...rest}
        onSlide={(value) => onDraft({ ...lamp, [field]: value } as Lamp)}
        onChange={(value) => onDone({ ...lamp, [field]: value } as Lamp)}
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

/** Colour of the set, and how far away its wall is. */
export function SetOptions({ stored, edit }: { stored: Setting; edit: Edit }) {
  const chosen = useSetting(stored).set!;
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "set", fields } });
  return (
    <>
      {"colour" in chosen && (
        <ColourField label={tr("Colour")} value={chosen.colour!} onChange={(colour) => change({ colour })} />
      )}
      {"depth" in chosen && (
        <SliderField
          label={tr("Wall at")}
          value={chosen.depth!}
          min={200}
          max={3000}
          step={10}
          onChange={(depth) => change({ depth })}
        />
      )}
    </>
  );
}
