import { useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../../api/client";
import { Choice, ColourField, Row } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";

type FieldShape = Shapes["FieldShape"];

/** What there is to choose from in a studio; it does not change while the application runs. */
export function useChoices(project: string): Shapes["StudioChoices"] | undefined {
  return useQuery({
    queryKey: ["studio-choices"],
    queryFn: () =>
      answer(api.GET("/api/projects/{project}/studio-choices", { params: { path: { project } } })) as Promise<
        Shapes["StudioChoices"]
      >,
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
}

interface Word {
  label: string;
  unit?: string;
  digits?: number;
  step?: number;
  /** The unit is the trade's own. */
  fixed?: boolean;
}

/** What a field is called, and in what it is counted. */
export const WORDS: Record<string, () => Word> = {
  azimuth: () => ({ label: tr("Around"), unit: "°", digits: 1 }),
  height: () => ({ label: tr("Height"), unit: "°", digits: 1 }),
  distance: () => ({ label: tr("Distance"), unit: "mm", step: 10 }),
  width: () => ({ label: tr("Width"), unit: "mm", step: 10 }),
  tall: () => ({ label: tr("Tall"), unit: "mm", step: 10 }),
  diameter: () => ({ label: tr("Across"), unit: "mm", step: 10 }),
  hole: () => ({ label: tr("Hole"), unit: "mm", step: 10 }),
  angle: () => ({ label: tr("Looks as large as"), unit: "°", digits: 2, step: 0.1 }),
  beam: () => ({ label: tr("Beam"), unit: "°" }),
  edge: () => ({ label: tr("Soft edge"), digits: 2, step: 0.05 }),
  power: () => ({ label: tr("Power"), unit: tr("stops"), digits: 1, step: 0.1 }),
  warmth: () => ({ label: tr("Warmth"), unit: "K", step: 100 }),
  gel: () => ({ label: tr("Gel") }),
  rim: () => ({ label: tr("Brightness at its rim"), digits: 2, step: 0.05 }),
  spread: () => ({ label: tr("Spread"), unit: "°", step: 5 }),
  turn: () => ({ label: tr("Turned"), unit: "°" }),
  haze: () => ({ label: tr("Haze"), digits: 2, step: 0.05 }),
  surface: () => ({ label: tr("Surface") }),
  role: () => ({ label: tr("Role") }),
  left: () => ({ label: tr("From the left"), digits: 2, step: 0.05 }),
  right: () => ({ label: tr("From the right"), digits: 2, step: 0.05 }),
  top: () => ({ label: tr("From above"), digits: 2, step: 0.05 }),
  bottom: () => ({ label: tr("From below"), digits: 2, step: 0.05 }),
  across: () => ({ label: tr("Across"), unit: "mm", step: 10 }),
  up: () => ({ label: tr("Panes up") }),
  bar: () => ({ label: tr("Bars"), unit: "mm" }),
  count: () => ({ label: tr("Slats") }),
  covered: () => ({ label: tr("Covered"), digits: 2, step: 0.05 }),
  colour: () => ({ label: tr("Colour") }),
  depth: () => ({ label: tr("Wall at"), unit: "mm", step: 10 }),
  cove: () => ({ label: tr("Cove"), unit: "mm", step: 10 }),
  wall: () => ({ label: tr("Height of the wall"), unit: "mm", step: 50 }),
  shape: () => ({ label: tr("Shape") }),
  deep: () => ({ label: tr("Deep"), unit: "mm", step: 10 }),
  thick: () => ({ label: tr("Thick"), unit: "mm" }),
  beside: () => ({ label: tr("Wall beside at"), unit: "mm", step: 10 }),
  side: () => ({ label: tr("Wall on the") }),
  horizon: () => ({ label: tr("Horizon"), digits: 2, step: 0.02 }),
  brightness: () => ({ label: tr("Brightness"), digits: 2, step: 0.1 }),
  reflection: () => ({ label: tr("Reflection"), digits: 2, step: 0.05 }),
  blur: () => ({ label: tr("Blur of it"), digits: 2, step: 0.05 }),
  shadow: () => ({ label: tr("Shadow"), digits: 2, step: 0.05 }),
};

/** Words of a field where it means something else. */
const ELSEWHERE: Record<string, () => Word> = {
  "sweep.tall": () => ({ label: tr("Height of the wall"), unit: "mm", step: 50 }),
  "window.across": () => ({ label: tr("Panes across") }),
  "coloured card.top": () => ({ label: tr("Colour above") }),
  "coloured card.bottom": () => ({ label: tr("Colour below") }),
};

interface FieldsProps {
  kind: string;
  fields: FieldShape[];
  thing: Record<string, unknown>;
  /** Before the names of fields in what is told of a change, as "before.". */
  path?: string;
  onSlide?: (fields: Record<string, unknown>) => void;
  onChange: (fields: Record<string, unknown>) => unknown;
}

/** The fields of a thing, as its model tells them. */
export function Fields({ kind, fields, thing, path = "", onSlide, onChange }: FieldsProps) {
  return fields.map((field) => {
    const word = (ELSEWHERE[`${kind}.${field.name}`] ?? WORDS[field.name])?.();
    const value = thing[field.name];
    if (!word || value === undefined || value === null) return null;
    const change = (next: unknown) => onChange({ [`${path}${field.name}`]: next });
    if (field.is === "choice")
      return (
        <Row key={field.name} label={word.label}>
          <Choice label={word.label} options={field.options} value={value as string} onChange={change} />
        </Row>
      );
    if (field.is === "colour")
      return <ColourField key={field.name} label={word.label} value={value as string} onChange={change} />;
    return (
      <NumberField
        key={field.name}
        {...word}
        value={value as number}
        min={field.least ?? undefined}
        max={field.most ?? undefined}
        onSlide={onSlide && ((next) => onSlide({ [field.name]: next }))}
        onChange={(next) => change(field.whole ? Math.round(next) : next)}
      />
    );
  });
}

/** The fields of a kind. */
export function fieldsOf(kinds: Shapes["KindShape"][] | undefined, kind: string, but: string[] = []): FieldShape[] {
  return kinds?.find((one) => one.kind === kind)?.fields.filter((field) => !but.includes(field.name)) ?? [];
}
