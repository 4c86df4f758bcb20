import { Card, Row } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { tr } from "../../../words/words";
import { saveLightLines } from "../asked";
import { type LineKind, type Probe, useSurface } from "../store";
import { FlatFiles } from "./FlatFiles";

/** The direction of stripes and lamps, or of line lights. */
export function DirectionFields({ lines = false }: { lines?: boolean }) {
  const state = useSurface();
  const [around, above] = lines ? (["lightAround", "lightAbove"] as const) : (["around", "above"] as const);
  const put = (name: typeof around | typeof above) => (value: number) => state.set({ [name]: value });
  return (
    <>
      <NumberField
        label={tr("Around")}
        value={state[around]}
        min={-180}
        max={180}
        unit="°"
        onChange={put(around)}
        onSlide={put(around)}
      />
      <NumberField
        label={tr("Above")}
        value={state[above]}
        min={-90}
        max={90}
        unit="°"
        onChange={put(above)}
        onSlide={put(above)}
      />
    </>
  );
}

const SAYS: Record<string, string> = {
  stripes: tr(
    "Bands of light in the mirror of the surface. A band that breaks shows a kink, one that bends sharply a jump in curvature.",
  ),
  polished: tr(
    "Strip lamps over a polished skin, as in a light tunnel. Turn the form and watch the lamps run over it.",
  ),
  highlight: tr(
    "Where the line square to the surface meets a line of light. They do not follow the eye, so they can be compared and kept.",
  ),
  reflection: tr("Where the mirror of a line of light is seen from here. They run over the form as one turns it."),
  isophotes: tr(
    "Lines of equal brightness in far light. A line that breaks shows a kink, a corner in it a jump in curvature.",
  ),
};

/** What the light shows, and its numbers. */
export function LightCard({
  project,
  form,
  probe,
  kind,
}: {
  project: string;
  form: string;
  probe: Probe;
  kind: LineKind | null;
}) {
  const state = useSurface();
  const { count, lights, spacing, turn, away, set } = state;
  const titles: Record<string, string> = {
    stripes: tr("Stripes"),
    polished: tr("Polished"),
    highlight: tr("Highlight lines"),
    reflection: tr("Reflection lines"),
    isophotes: tr("Isophotes"),
  };
  const slid = (name: "lights" | "spacing" | "turn" | "away" | "count") => ({
    onChange: (value: number) => set({ [name]: value }),
    onSlide: (value: number) => set({ [name]: value }),
  });
  return (
    <Card title={titles[probe]!}>
      <p className="text-quiet">{SAYS[probe]}</p>
      {kind ? (
        <NumberField label={tr("Lines")} value={lights} min={1} max={60} {...slid("lights")} />
      ) : (
        <NumberField label={tr("Count")} value={count} min={2} max={60} {...slid("count")} />
      )}
      <DirectionFields lines={probe !== "stripes"} />
      {(kind === "highlight" || kind === "reflection") && (
        <>
          <NumberField
            label={tr("Apart")}
            value={spacing}
            min={0.1}
            max={500}
            step={0.5}
            digits={1}
            unit="mm"
            {...slid("spacing")}
          />
          <NumberField label={tr("Turned")} value={turn} min={-180} max={180} unit="°" {...slid("turn")} />
          <NumberField
            label={tr("Off the form")}
            value={away}
            min={1}
            max={5000}
            step={5}
            digits={0}
            unit="mm"
            {...slid("away")}
          />
        </>
      )}
      {kind && (
        <Row label={tr("As seen from here")}>
          <FlatFiles
            label={(format) => tr`Save the lines as ${format}`}
            save={(format) => saveLightLines(project, form, kind, state, format)}
          />
        </Row>
      )}
    </Card>
  );
}
