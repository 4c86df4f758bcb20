import { Card, Choice, Picker, Row } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { plain } from "../../../view3d/probing/scales";
import type { Shown } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { type Combed, saveSections } from "../asked";
import { type Across, type Cutting, type Place, useSurface } from "../store";
import { FlatFiles } from "./FlatFiles";
import { type Drawn, OutlineCard, type OutlineState } from "./MapCards";

/** The plane a view is pinned in that a section across a direction lies in. */
export const PLANES: Record<Across, string | null> = { W: "side", D: "front", H: "top", free: null };

const ACROSS = ["W", "D", "H", "free"] as const;

/** Where the planes cut, how their combs stand, and how long the sections are. */
export function SectionsCard(props: {
  project: string;
  form: string;
  combed: Combed | null;
  parts: Shown[];
  drawn: Drawn[];
  outline: OutlineState;
  onFly: (place: Place) => void;
}) {
  const { project, form, combed, parts, drawn, outline, onFly } = props;
  const { cutting, drawnBeside, set } = useSurface();
  const fitting = drawn.filter(({ plane }) => plane === PLANES[cutting.across]);
  const read = useReading();
  const put = (change: Partial<Cutting>) => set({ cutting: { ...cutting, ...change } });
  const slid = (name: "at" | "count" | "spacing" | "around" | "above") => ({
    onChange: (value: number) => put({ [name]: value }),
    onSlide: (value: number) => put({ [name]: value }),
  });
  return (
    <>
      <Card title={tr("Sections")}>
        <p className="text-quiet">{tr("Cut by planes, with their curvature as a comb. Drag the grip, or type.")}</p>
        <Choice label={tr("Across")} options={ACROSS} value={cutting.across} onChange={(across) => put({ across })} />
        {cutting.across === "free" && (
          <>
            <NumberField
              label={tr("Around")}
              value={cutting.around}
              min={-180}
              max={180}
              unit="°"
              {...slid("around")}
            />
            <NumberField label={tr("Above")} value={cutting.above} min={-90} max={90} unit="°" {...slid("above")} />
          </>
        )}
        <NumberField
          label={tr("At")}
          value={cutting.at}
          min={-5000}
          max={5000}
          step={0.5}
          digits={2}
          unit="mm"
          {...slid("at")}
        />
        <NumberField label={tr("How many")} value={cutting.count} min={1} max={60} {...slid("count")} />
        {cutting.count > 1 && (
          <NumberField
            label={tr("Apart")}
            value={cutting.spacing}
            min={0.1}
            max={500}
            step={0.5}
            digits={1}
            unit="mm"
            {...slid("spacing")}
          />
        )}
        {fitting.length > 0 && (
          <Picker
            label={tr("Beside a drawing")}
            value={drawnBeside ?? ""}
            onChange={(chosen) => set({ drawnBeside: chosen || null })}
          >
            <option value="">{tr("none")}</option>
            {fitting.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Picker>
        )}
        <Row label={tr("In true size")}>
          <FlatFiles
            label={(format) => tr`Save the sections as ${format}`}
            save={(format) => saveSections(project, form, cutting, format)}
          />
        </Row>
      </Card>
      {fitting.some(({ id }) => id === drawnBeside) && (
        <OutlineCard title={tr("First section beside what is drawn")} outline={outline} onFly={onFly} />
      )}
      <CombFields parts={parts} />
      {combed && (
        <Card title={tr("Curves")} aside={tr`${combed.lengths.length} curves`}>
          {combed.lengths.length === 0 && <p>{tr("The plane misses the form. Drag it back over it.")}</p>}
          {Array.from(combed.lengths.slice(0, 14), (length, k) => (
            <Row key={k} label={curveName(combed, k)}>
              {read.length(length, 2)}
            </Row>
          ))}
          <CombSays combed={combed} />
        </Card>
      )}
    </>
  );
}

function curveName(combed: Combed, line: number): string {
  const name = combed.names[combed.part[line]!]!;
  return combed.level.some((level) => level > 0) ? tr`${name}, plane ${combed.level[line]! + 1}` : name;
}

function CombSays({ combed }: { combed: Combed }) {
  const read = useReading();
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const bend of combed.bend) {
    low = Math.min(low, bend);
    high = Math.max(high, bend);
  }
  if (!combed.bend.length) return null;
  const tightest = Math.max(Math.abs(low), Math.abs(high));
  return (
    <>
      <Row label={tr("Curvature")}>
        {plain(low)} {tr("to")} {plain(high)} {tr("1/mm")}
      </Row>
      {tightest > 1e-6 && <Row label={tr("Tightest radius")}>{read.length(1 / tightest, 2)}</Row>}
      <Row label={tr("Inflections")}>{combed.inflections.length / 3}</Row>
    </>
  );
}

function CombFields({ parts }: { parts?: Shown[] }) {
  const { combScale, combShare, combOf, set } = useSurface();
  return (
    <Card title={tr("Comb")}>
      {parts && (
        <Picker label={tr("Of")} value={combOf ?? ""} onChange={(combOf) => set({ combOf: combOf || null })}>
          <option value="">{tr("the largest part")}</option>
          {parts.map(({ part }) => (
            <option key={part.id} value={part.id}>
              {part.name}
            </option>
          ))}
        </Picker>
      )}
      <NumberField
        label={tr("Scale")}
        value={combScale}
        min={0}
        max={20}
        step={0.1}
        digits={1}
        onChange={(combScale) => set({ combScale })}
        onSlide={(combScale) => set({ combScale })}
      />
      <NumberField
        label={tr("Density")}
        value={Math.round(combShare * 100)}
        min={2}
        max={100}
        step={5}
        unit="%"
        onChange={(share) => set({ combShare: share / 100 })}
        onSlide={(share) => set({ combShare: share / 100 })}
      />
    </Card>
  );
}

/** The comb along a row of the cage's edges on the skin. */
export function RowsCard({ combed }: { combed: Combed | null }) {
  const read = useReading();
  return (
    <>
      <Card title={tr("Row combs")}>
        <p className="text-quiet">
          {tr("Touch the form: the row of edges nearest to it is combed, by how much the skin bends along it.")}
        </p>
        {combed?.lengths.length ? (
          <>
            <Row label={combed.names[0]!}>
              {read.length(
                combed.lengths.reduce((sum, one) => sum + one, 0),
                2,
              )}
            </Row>
            <CombSays combed={combed} />
          </>
        ) : null}
      </Card>
      <CombFields />
    </>
  );
}
