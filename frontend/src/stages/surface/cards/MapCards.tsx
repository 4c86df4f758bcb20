import { useQuery } from "@tanstack/react-query";
import type { Shapes } from "../../../api/client";
import { answer, api } from "../../../api/client";
import { at, type Edit, newId } from "../../../api/queries";
import { AxisFields } from "../../../ui/AxisFields";
import { Button, Card, Choice, Picker, Row } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { plain, type Range } from "../../../view3d/probing/scales";
import type { Shown } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import type { Checking, Region, ValueMap } from "../maps";
import { type Place, type Probe, type Quantity, useSurface } from "../store";

type Maps = (ValueMap | undefined)[];
type Fly = (place: Place) => void;

export const TITLES: Record<Quantity, string> = {
  largest: tr("Largest curvature"),
  high: tr("Most bulging"),
  low: tr("Most hollow"),
  mean: tr("Mean curvature"),
  gaussian: tr("Gaussian curvature"),
  radius: tr("Smallest radius"),
};

/** The range of a curvature part by part, and where its legend ends. */
export function CurvatureCard({
  quantity,
  range,
  maps,
  parts,
}: {
  quantity: Quantity;
  range: Range;
  maps: Maps;
  parts: Shown[];
}) {
  const { ends, set } = useSurface();
  const read = useReading();
  const fine = quantity === "gaussian";
  const estimate = maps.some((map) => map?.estimate);
  return (
    <Card title={TITLES[quantity]} aside={range.unit}>
      {parts.map(({ part }, index) => {
        const values = maps[index]?.values;
        return values ? <Extremes key={part.id} name={part.name} values={values} /> : null;
      })}
      <NumberField
        label={tr("Legend ends at")}
        value={range.high}
        min={quantity === "radius" ? 0.01 : 0.00001}
        max={quantity === "radius" ? 100_000 : 100}
        step={quantity === "radius" ? 1 : fine ? 0.0005 : 0.005}
        digits={quantity === "radius" ? 1 : fine ? 5 : 3}
        unit={range.unit}
        onChange={(end) => set({ ends: { ...ends, [quantity]: end } })}
      />
      <PercentileField probe={quantity} />
      {range.unit === "1/mm" && <Row label={tr("Radius at the legend’s end")}>{read.length(1 / range.high, 1)}</Row>}
      <p className="pt-1 text-quiet">
        {estimate
          ? tr("Of a still body curvature is an estimate from its triangles; elsewhere it is exact.")
          : tr(
              "Exact from the limit surface; at odd points, where curvature is not defined, the mean of the neighbours.",
            )}
      </p>
    </Card>
  );
}

function Extremes({ name, values }: { name: string; values: Float32Array }) {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (const value of values) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  return (
    <Row label={name}>
      {plain(low)} {tr("to")} {high >= 1e6 ? tr("flat") : plain(high)}
    </Row>
  );
}

/** How much of the largest part lies within the legend; a legend that was set by hand follows it again. */
function PercentileField({ probe }: { probe: Probe }) {
  const { ends, percentile, set } = useSurface();
  const follow = (share: number) => set({ percentile: share, ends: { ...ends, [probe]: undefined } });
  return (
    <>
      <NumberField
        label={tr("Within it, of the largest part")}
        value={percentile}
        min={50}
        max={100}
        step={1}
        unit="%"
        onChange={follow}
      />
      {ends[probe] !== undefined && (
        <Button weight="quiet" onClick={() => follow(percentile)}>
          {tr("Follow the largest part")}
        </Button>
      )}
    </>
  );
}

/** Regions of a map, the worst first; touching one goes there. */
function Regions({ regions, says, onFly }: { regions: Region[]; says: (region: Region) => string; onFly: Fly }) {
  const read = useReading();
  return (
    <ul>
      {regions.slice(0, 12).map((region) => (
        <li key={region.place.join()}>
          <button
            type="button"
            onClick={() => onFly(region.place)}
            className="py-0.5 text-left text-warn hover:underline"
          >
            {read.sentence(says(region))}
          </button>
        </li>
      ))}
      {regions.length > 12 && <li className="text-quiet">{tr`${regions.length - 12} more`}</li>}
    </ul>
  );
}

/** Draft against the pull, undercuts, and the parting line that follows. */
export function DraftCard(props: {
  checking: Checking;
  maps: Maps;
  parts: Shown[];
  lines: Shapes["KeptLine"][];
  edit: Edit;
  onFly: Fly;
}) {
  const { checking, maps, parts, lines, edit, onFly } = props;
  return (
    <>
      <Card title={tr("Draft")}>
        <p className="text-quiet">
          {tr("Degrees the surface leans from the way the mould opens. Hatched: neither half lets go of it.")}
        </p>
        <AxisFields
          label={tr("Pull")}
          digits={2}
          values={checking.pull as Place}
          onChange={(pull) => edit({ kind: "set_checking", pull: [...pull] as Place })}
        />
        <NumberField
          label={tr("Wanted draft")}
          value={checking.draft}
          min={0}
          max={89}
          step={0.25}
          digits={2}
          unit="°"
          onChange={(draft) => edit({ kind: "set_checking", draft })}
        />
        <CountsSwitch probe="draft" checking={checking} edit={edit} />
      </Card>
      {parts.map(({ part }, index) => {
        const map = maps[index];
        if (!map) return null;
        const under = map.undercuts.reduce((sum, { area }) => sum + area, 0);
        return (
          <Card
            key={part.id}
            title={part.name}
            aside={
              map.undercuts.length + map.regions.length === 0
                ? tr("lets go")
                : tr`${map.undercuts.length + map.regions.length} to look at`
            }
          >
            <Row label={tr("Least, off the parting line")}>{plain(map.least ?? 90)}°</Row>
            {under > 0 && (
              <Row label={tr("Undercut")}>
                {plain(under)} {tr("mm²")}
              </Row>
            )}
            <Regions regions={map.undercuts} says={({ area }) => tr`Undercut of ${plain(area)} mm²`} onFly={onFly} />
            <Regions
              regions={map.regions}
              says={({ area, worst }) => tr`${plain(area)} mm² at ${plain(worst)}°`}
              onFly={onFly}
            />
            {map.lines && map.lines.starts.length > 1 && (
              <Button onClick={() => void keepParting(edit, part.id, map, lines.length)}>
                {tr("Keep the parting line")}
              </Button>
            )}
          </Card>
        );
      })}
      {lines.length > 0 && (
        <Card title={tr("Kept lines")}>
          {lines.map((line) => (
            <Row key={line.id} label={line.name}>
              <Button
                weight="quiet"
                label={tr`Let ${line.name} go`}
                onClick={() => void edit({ kind: "forget_line", line: line.id })}
              >
                {tr("Let go")}
              </Button>
            </Row>
          ))}
        </Card>
      )}
    </>
  );
}

/** Places of a kept line at the most. */
const MOST_KEPT = 4000;

async function keepParting(edit: Edit, part: string, map: ValueMap, there: number): Promise<void> {
  const { places, starts, closed } = map.lines!;
  let longest = 0;
  for (let k = 1; k + 1 < starts.length; k++)
    if (starts[k + 1]! - starts[k]! > starts[longest + 1]! - starts[longest]!) longest = k;
  const [start, end] = [starts[longest]!, starts[longest + 1]!];
  const step = Math.max(1, Math.ceil((end - start) / MOST_KEPT));
  const kept: Place[] = [];
  for (let k = start; k < end; k += step) kept.push([places[3 * k]!, places[3 * k + 1]!, places[3 * k + 2]!]);
  await edit({
    kind: "keep_line",
    line: { id: newId(), name: tr`Parting line ${there + 1}`, part, places: kept, closed: closed[longest] === 1 },
  });
}

/** Whether what a probe finds counts as findings. */
export function CountsSwitch({
  probe,
  checking,
  edit,
}: {
  probe: Checking["counted"][number];
  checking: Checking;
  edit: Edit;
}) {
  const counts = checking.counted.includes(probe);
  const others = checking.counted.filter((one) => one !== probe);
  return (
    <Choice
      label={tr("Whether it counts")}
      options={COUNTS}
      value={counts ? COUNTS[0] : COUNTS[1]}
      onChange={(chosen) => edit({ kind: "set_checking", counted: chosen === COUNTS[0] ? [...others, probe] : others })}
    />
  );
}

const COUNTS = [tr("Counts as finding"), tr("Only look")] as const;

/** Walls of one part, by ray or by the largest sphere within. */
export function WallCard(props: {
  checking: Checking;
  maps: Maps;
  range: Range;
  parts: Shown[];
  edit: Edit;
  onFly: Fly;
}) {
  const { checking, maps, range, parts, edit, onFly } = props;
  const { wallBy, part, ends, set } = useSurface();
  const read = useReading();
  const index = parts.findIndex((shown) => shown.part.id === part);
  const map = maps[index];
  const open = index >= 0 && !parts[index]!.mesh.meta.closed;
  return (
    <>
      <Card title={tr("Walls")}>
        <p className="text-quiet">
          {wallBy === "ray"
            ? tr("How far it is straight inward to the other side.")
            : tr("How wide the largest ball is that touches here and stays inside: what a wall is to the melt.")}
        </p>
        <Choice label={tr("How it is measured")} options={WAYS} value={wallBy} onChange={(wallBy) => set({ wallBy })} />
        <PartChoice parts={parts} />
        <NumberField
          label={tr("Wanted wall")}
          value={checking.wall}
          min={0.01}
          max={1000}
          step={0.1}
          digits={2}
          unit="mm"
          onChange={(wall) => edit({ kind: "set_checking", wall })}
        />
        <NumberField
          label={tr("Legend ends at")}
          value={range.high}
          min={0.01}
          max={10_000}
          step={0.5}
          digits={2}
          unit="mm"
          onChange={(end) => set({ ends: { ...ends, wall: end } })}
        />
        <CountsSwitch probe="wall" checking={checking} edit={edit} />
      </Card>
      {open && (
        <Card title={parts[index]!.part.name}>
          <p>{tr("It is open, so it has no wall. Fill its openings first.")}</p>
        </Card>
      )}
      {map && (
        <Card title={parts[index]!.part.name}>
          <Row label={tr("Thinnest")}>{map.least === null ? "–" : read.length(map.least, 2)}</Row>
          <Regions
            regions={map.regions}
            says={({ area, worst }) => tr`${plain(worst)} mm over ${plain(area)} mm²`}
            onFly={onFly}
          />
        </Card>
      )}
    </>
  );
}

const WAYS = ["ray", "sphere"] as const;

/** Which part is asked. */
function PartChoice({ parts }: { parts: Shown[] }) {
  const { part, set } = useSurface();
  return (
    <Picker label={tr("Part")} value={part ?? ""} onChange={(part) => set({ part: part || null })}>
      <option value="">{tr("Choose one")}</option>
      {parts.map(({ part }) => (
        <option key={part.id} value={part.id}>
          {part.name}
        </option>
      ))}
    </Picker>
  );
}

/** How far a part is from what it was, or from another. */
export function DeviationCard(props: {
  project: string;
  form: string;
  maps: Maps;
  parts: Shown[];
  drawn: Drawn[];
  outline: OutlineState;
  onFly: Fly;
}) {
  const { project, form, maps, parts, drawn, outline, onFly } = props;
  const { part, against, set } = useSurface();
  const read = useReading();
  const { data } = useQuery({
    queryKey: ["ledger", form, "versions"],
    queryFn: () => answer(api.GET("/api/projects/{project}/documents/{document}/ledger", at(project, form))),
  });
  const versions = data?.versions ?? [];
  const index = parts.findIndex((shown) => shown.part.id === part);
  const compared = maps[index]?.compared;
  const value = !against
    ? ""
    : "line" in against
      ? `line ${against.line}`
      : "other" in against
        ? `other ${against.other}`
        : `reference ${against.reference}`;
  const choose = (chosen: string) => {
    const [kind, what] = [chosen.slice(0, chosen.indexOf(" ")), chosen.slice(chosen.indexOf(" ") + 1)];
    set({
      against:
        kind === "line"
          ? { line: Number(what) }
          : kind === "other"
            ? { other: what }
            : kind === "reference"
              ? { reference: what }
              : null,
    });
  };
  return (
    <>
      <Card title={tr("Deviation")}>
        <p className="text-quiet">
          {tr("How far every place is from the nearest of another surface, outside positive.")}
        </p>
        <PartChoice parts={parts} />
        <Picker label={tr("From")} value={value} onChange={choose}>
          <option value="">{tr("Choose one")}</option>
          <optgroup label={tr("As it was")}>
            {versions.map((version) => (
              <option key={`${version.edit} ${version.name}`} value={`line ${version.edit}`}>
                {version.name}
              </option>
            ))}
          </optgroup>
          <optgroup label={tr("Another part")}>
            {parts
              .filter((shown) => shown.part.id !== part)
              .map(({ part }) => (
                <option key={part.id} value={`other ${part.id}`}>
                  {part.name}
                </option>
              ))}
          </optgroup>
          <optgroup label={tr("A drawn outline, beside the silhouette")}>
            {drawn.map(({ id, name }) => (
              <option key={id} value={`reference ${id}`}>
                {name}
              </option>
            ))}
          </optgroup>
        </Picker>
        {versions.length === 0 && (
          <p className="text-quiet">{tr("Name a version in the ledger to compare with it later.")}</p>
        )}
      </Card>
      {against && "reference" in against && (
        <OutlineCard title={tr("Silhouette beside what is drawn")} outline={outline} onFly={onFly} />
      )}
      {compared && (
        <Card title={parts[index]!.part.name}>
          <Row label={tr("Farthest")}>
            <button type="button" onClick={() => onFly(compared.place)} className="text-act hover:underline">
              {read.length(compared.most, 3)}
            </button>
          </Row>
          <Row label={tr("Mean")}>{read.length(compared.mean, 3)}</Row>
          <Row label={tr("Root mean square")}>{read.length(compared.rms, 3)}</Row>
          <Histogram counts={compared.counts} bounds={compared.bounds} />
        </Card>
      )}
    </>
  );
}

export interface Drawn {
  id: string;
  name: string;
  plane: Shapes["Reference"]["plane"];
}

export interface OutlineState {
  data: Shapes["OutlineAnswer"] | undefined;
  error: Error | null;
}

/** How far drawn lines are from the form. */
export function OutlineCard({ title, outline, onFly }: { title: string; outline: OutlineState; onFly: Fly }) {
  const read = useReading();
  const { data, error } = outline;
  if (error)
    return (
      <Card title={title}>
        <p className="text-warn">{error.message}</p>
      </Card>
    );
  if (!data) return null;
  return (
    <Card title={title}>
      <Row label={tr("Farthest")}>
        <button type="button" onClick={() => onFly(data.place as Place)} className="text-act hover:underline">
          {read.length(data.most, 2)}
        </button>
      </Row>
      <Row label={tr("Mean")}>{read.length(data.mean, 2)}</Row>
      <Row label={tr("Root mean square")}>{read.length(data.rms, 2)}</Row>
      <Histogram counts={data.counts} bounds={data.bounds} />
    </Card>
  );
}

function Histogram({ counts, bounds }: { counts: number[]; bounds: number[] }) {
  const most = Math.max(...counts, 1);
  const [low, high] = [bounds[0]!, bounds.at(-1)!];
  return (
    <figure aria-label={tr`How many places deviate by how much, ${plain(low)} to ${plain(high)} mm`}>
      <svg viewBox={`0 0 ${counts.length} 20`} className="h-16 w-full" preserveAspectRatio="none" aria-hidden="true">
        {counts.map((count, k) => {
          const tall = count ? Math.max(0.3, (20 * Math.sqrt(count)) / Math.sqrt(most)) : 0;
          return <rect key={k} x={k + 0.08} y={20 - tall} width={0.84} height={tall} fill="var(--act)" />;
        })}
        {low < 0 && (
          <line x1={counts.length / 2} x2={counts.length / 2} y1={0} y2={20} stroke="var(--quiet)" strokeWidth={0.12} />
        )}
      </svg>
      <figcaption className="flex justify-between text-[0.86rem] text-quiet tabular-nums">
        <span>{plain(low)}</span>
        {low < 0 && <span>0</span>}
        <span>
          {plain(high)} {tr("mm")}
        </span>
      </figcaption>
    </figure>
  );
}
