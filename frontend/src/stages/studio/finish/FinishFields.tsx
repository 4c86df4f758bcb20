import { RadioGroup } from "radix-ui";
import { Choice, ColourField, Disclosure, Row, Switch } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { tr } from "../../../words/words";
import { useChoices } from "../Fields";
import type { Finish } from "../kinds";

interface FinishFieldsProps {
  project: string;
  finish: Finish;
  onSlide?: (fields: Partial<Finish>) => void;
  onChange: (fields: Record<string, unknown>) => unknown;
}

/** The colour's running into another along the product. */
function RampFields(props: { ramp: NonNullable<Finish["ramp"]> | null; onChange: FinishFieldsProps["onChange"] }) {
  const { ramp, onChange } = props;
  return (
    <>
      <Switch
        label={tr("Runs into another colour")}
        on={ramp !== null}
        onChange={(on) => onChange({ ramp: on ? {} : null })}
      />
      {ramp && (
        <>
          <ColourField label={tr("Into")} value={ramp.to!} onChange={(to) => onChange({ "ramp.to": to })} />
          <Row label={tr("Along the")}>
            <Choice
              label={tr("Along the")}
              options={["width", "depth", "height"]}
              value={ramp.axis ?? "height"}
              onChange={(axis) => onChange({ "ramp.axis": axis })}
            />
          </Row>
          <div className="grid grid-cols-2 gap-4">
            {(["begin", "end"] as const).map((end) => (
              <NumberField
                key={end}
                label={end === "begin" ? tr("From") : tr("To")}
                unit="mm"
                digits={1}
                min={-5000}
                max={5000}
                value={ramp[end]!}
                onChange={(value) => onChange({ [`ramp.${end}`]: value })}
              />
            ))}
          </div>
        </>
      )}
    </>
  );
}

/** What is chosen of a finish: material, colour, the material's own numbers, its grain and how that lies. */
export function FinishFields({ project, finish, onChange }: FinishFieldsProps) {
  const choices = useChoices(project);
  const row = choices?.materials.find((one) => one.kind === finish.material);
  const groups = [...new Set(choices?.materials.map((one) => one.group))];
  const grain = finish.grain;
  return (
    <>
      <RadioGroup.Root
        aria-label={tr("Material")}
        value={finish.material ?? ""}
        onValueChange={(material) => material !== finish.material && onChange({ material })}
      >
        {groups.map((group) => {
          const kinds = choices!.materials.filter((one) => one.group === group).map((one) => one.kind);
          const own = kinds.includes(finish.material!);
          return (
            <Disclosure key={group} title={own ? tr`${tr(group)}: ${tr(finish.material!)}` : tr(group)} open={own}>
              <div className="grid grid-cols-3 gap-1.5">
                {kinds.map((kind) => (
                  <RadioGroup.Item
                    key={kind}
                    value={kind}
                    className="border border-vein text-left text-[0.86rem] leading-tight hover:border-quiet data-[state=checked]:border-act data-[state=checked]:text-act"
                  >
                    <img
                      src={`/chips/${kind.replaceAll(" ", "-")}.webp`}
                      alt=""
                      loading="lazy"
                      className="block aspect-square w-full bg-raised object-cover"
                    />
                    <span className="block px-1 py-0.5">{tr(kind)}</span>
                  </RadioGroup.Item>
                ))}
              </div>
            </Disclosure>
          );
        })}
      </RadioGroup.Root>
      <ColourField label={tr("Colour")} value={finish.colour!} onChange={(colour) => onChange({ colour })} />
      {row?.ramps && <RampFields ramp={finish.ramp ?? null} onChange={onChange} />}
      {row?.amounts.map((amount) => {
        const value = finish.amounts?.[amount.name] ?? amount.usual;
        const change = (next: number) => onChange({ amounts: { ...finish.amounts, [amount.name]: next } });
        return amount.choices.length ? (
          <Row key={amount.name} label={tr(amount.words)}>
            <Choice
              label={tr(amount.words)}
              options={amount.choices}
              value={amount.choices[Math.round(value)] ?? ""}
              onChange={(name) => change(amount.choices.indexOf(name))}
            />
          </Row>
        ) : (
          <NumberField
            key={amount.name}
            label={tr(amount.words)}
            unit={amount.unit || undefined}
            digits={2}
            step={0.02}
            min={amount.least}
            max={amount.most}
            value={value}
            onChange={change}
          />
        );
      })}
      <Disclosure title={grain ? tr`Grain: ${tr(grain.kind)}` : tr("Grain")}>
        <Choice
          label={tr("Grain")}
          options={["as the material", ...(choices?.grains ?? [])]}
          value={grain?.kind ?? "as the material"}
          onChange={(kind) => onChange({ grain: kind === "as the material" ? null : { kind } })}
        />
        {grain && (
          <>
            <NumberField
              label={tr("Size")}
              unit="mm"
              digits={2}
              step={0.1}
              min={0.02}
              max={1000}
              value={grain.size ?? 1}
              onChange={(size) => onChange({ "grain.size": size })}
            />
            <NumberField
              label={tr("Deep")}
              unit="mm"
              digits={3}
              step={0.002}
              min={0}
              max={5}
              value={grain.depth ?? 0.01}
              onChange={(depth) => onChange({ "grain.depth": depth })}
            />
            <NumberField
              label={tr("Colours")}
              digits={2}
              step={0.05}
              min={0}
              max={1}
              value={grain.strength ?? 1}
              onChange={(strength) => onChange({ "grain.strength": strength })}
            />
          </>
        )}
        <Row label={tr("Lies")}>
          <Choice
            label={tr("Lies")}
            options={["as it lies best", "box", "plane", "cylinder", "turned", "block", "faces"]}
            value={finish.lay?.by ?? "as it lies best"}
            onChange={(by) => onChange({ "lay.by": by })}
          />
        </Row>
        <Row label={tr("About")}>
          <Choice
            label={tr("About")}
            options={["width", "depth", "height"]}
            value={finish.lay?.axis ?? "height"}
            onChange={(axis) => onChange({ "lay.axis": axis })}
          />
        </Row>
        <NumberField
          label={tr("Turned")}
          unit="°"
          min={-180}
          max={180}
          value={finish.lay?.turn ?? 0}
          onChange={(turn) => onChange({ "lay.turn": turn })}
        />
      </Disclosure>
    </>
  );
}
