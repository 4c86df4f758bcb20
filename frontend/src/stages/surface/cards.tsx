import type { Shapes } from "../../api/client";
import { Button, Card, Row } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import type { Shown } from "../../view3d/useParts";
import { tr } from "../../words/words";
import { type CurvatureMap, plain, type Quantity, unitOf } from "./curvature";
import { useSurface } from "./store";

export type Finding = Shapes["FindingShape"];

/** What the bands mean, and their numbers. */
export function StripesCard() {
  const { count, around, above, set } = useSurface();
  return (
    <Card title={tr("Stripes")}>
      <p className="text-quiet">
        {tr(
          "Bands of light in the mirror of the surface. A band that breaks shows a kink, one that bends sharply a jump in curvature.",
        )}
      </p>
      <NumberField label={tr("Count")} value={count} min={2} max={60} onChange={(count) => set({ count })} />
      <NumberField
        label={tr("Around")}
        value={around}
        min={-180}
        max={180}
        unit="°"
        onChange={(around) => set({ around })}
      />
      <NumberField label={tr("Above")} value={above} min={-90} max={90} unit="°" onChange={(above) => set({ above })} />
    </Card>
  );
}

const TITLES: Record<Quantity, string> = {
  mean: tr("Mean curvature"),
  gaussian: tr("Gaussian curvature"),
  largest: tr("Largest curvature"),
};

/** The range of a curvature part by part, and where its legend ends. */
export function CurvatureCard(props: {
  quantity: Quantity;
  range: number;
  maps: (CurvatureMap | undefined)[];
  parts: Shown[];
  chosen: boolean;
  onRange: (end: number | null) => void;
}) {
  const { quantity, range, maps, parts, chosen, onRange } = props;
  const read = useReading();
  const unit = unitOf(quantity);
  return (
    <Card title={TITLES[quantity]} aside={unit}>
      {parts.map(({ part }, index) => {
        const values = maps[index]?.[quantity];
        if (!values) return null;
        let [low, high] = [Infinity, -Infinity];
        for (const value of values) {
          low = Math.min(low, value);
          high = Math.max(high, value);
        }
        return (
          <Row key={part.id} label={part.name}>
            {plain(low)} {tr("to")} {plain(high)}
          </Row>
        );
      })}
      <NumberField
        label={tr("Legend ends at")}
        value={range}
        min={0.00001}
        max={100}
        step={quantity === "gaussian" ? 0.0005 : 0.005}
        digits={quantity === "gaussian" ? 5 : 3}
        unit={unit}
        onChange={onRange}
      />
      {chosen && (
        <Button weight="quiet" onClick={() => onRange(null)}>
          {tr("Follow the largest part")}
        </Button>
      )}
      {quantity !== "gaussian" && <Row label={tr("Radius at the legend’s end")}>{read.length(1 / range, 1)}</Row>}
      <p className="pt-1 text-quiet">
        {tr("Exact from the limit surface; at odd points, where curvature is not defined, the mean of the neighbours.")}
      </p>
    </Card>
  );
}

/** What is unsound, part by part; a finding leads the eye there. */
export function SoundnessCard(props: {
  answer: Shapes["SoundnessShape"][];
  busy: boolean;
  onFly: (finding: Finding) => void;
}) {
  const read = useReading();
  if (props.busy) return <Card title={tr("Soundness")}>{tr("Checking…")}</Card>;
  return (
    <>
      {props.answer.map((part) => {
        const total = Object.values(part.counts).reduce((sum, count) => sum + count, 0);
        return (
          <Card key={part.part} title={part.name} aside={total === 0 ? tr("sound") : tr`${total} to look at`}>
            <Row label={tr("Closed")}>{part.closed ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Manifold")}>{part.manifold ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Faces turn one way")}>{part.consistent ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Slivers")}>{part.counts.sliver}</Row>
            <Row label={tr("Crossings")}>{part.counts.crossing}</Row>
            <ul>
              {part.findings.map((finding) => (
                <li key={JSON.stringify(finding)}>
                  <button
                    type="button"
                    onClick={() => props.onFly(finding)}
                    className="py-0.5 text-left text-warn hover:underline"
                  >
                    {read.sentence(finding.sentence)}
                  </button>
                </li>
              ))}
            </ul>
          </Card>
        );
      })}
    </>
  );
}
