import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { Button, Card, Choice, Disclosure, Row, TextField } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { Picture } from "../../../ui/Picture";
import { plain } from "../../../view3d/probing/scales";
import { tr } from "../../../words/words";
import type { Checking } from "../maps";
import { type Place, useSurface } from "../store";
import { CountsSwitch } from "./MapCards";

type Checks = Shapes["ChecksAnswer"];
type Seam = Shapes["SeamShape"];
type Fly = (place: Place) => void;

const PRESETS = {
  [tr("Gloss")]: { gap: 0.005, angle: 0.05, jump: 2 },
  [tr("Series")]: { gap: 0.01, angle: 0.1, jump: 5 },
  [tr("Mock-up")]: { gap: 0.1, angle: 0.5, jump: 20 },
} as const;

/** What is allowed along seams, as presets and as numbers. */
function Tolerances({ checking, edit }: { checking: Checking; edit: Edit }) {
  const names = Object.keys(PRESETS);
  const now = names.find((name) =>
    Object.entries(PRESETS[name]!).every(([key, value]) => checking[key as "gap" | "angle" | "jump"] === value),
  );
  return (
    <Card title={tr("Allowed")}>
      <Choice
        label={tr("Tolerances")}
        options={names}
        value={now ?? ""}
        onChange={(name) => edit({ kind: "set_checking", ...PRESETS[name]! })}
      />
      <NumberField
        label={tr("Gap")}
        value={checking.gap}
        min={0.0001}
        max={100}
        step={0.005}
        digits={3}
        unit="mm"
        onChange={(gap) => edit({ kind: "set_checking", gap })}
      />
      <NumberField
        label={tr("Kink")}
        value={checking.angle}
        min={0.001}
        max={180}
        step={0.05}
        digits={2}
        unit="°"
        onChange={(angle) => edit({ kind: "set_checking", angle })}
      />
      <NumberField
        label={tr("Curvature")}
        value={checking.jump}
        min={0.1}
        max={1000}
        step={1}
        digits={1}
        unit="%"
        onChange={(jump) => edit({ kind: "set_checking", jump })}
      />
      <NumberField
        label={tr("Around odd points")}
        value={checking.around}
        min={0.1}
        max={1000}
        step={5}
        digits={0}
        unit="%"
        onChange={(around) => edit({ kind: "set_checking", around })}
      />
      <CountsSwitch probe="continuity" checking={checking} edit={edit} />
    </Card>
  );
}

const VERDICTS = { beyond: tr("beyond"), near: tr("near it"), within: tr("within"), edge: tr("an edge") };
const COLOURS = { beyond: "text-wrong", near: "text-warn", within: "text-act", edge: "text-quiet" };
const SIGN = { beyond: "✕", near: "△", within: "✓", edge: "∟" };

/** Every seam with its numbers and its verdict, the worst first. */
export function ContinuityCard(props: { checks: Checks | undefined; checking: Checking; edit: Edit; onFly: Fly }) {
  const { checks, checking, edit, onFly } = props;
  if (!checks) return <Card title={tr("Continuity")}>{tr("Checking…")}</Card>;
  const order = ["beyond", "near", "within", "edge"];
  const all = [...checks.seams].sort((a, b) => order.indexOf(a.verdict) - order.indexOf(b.verdict));
  const edges = all.filter(({ verdict }) => verdict === "edge");
  const seams = all.filter(({ kind, verdict }) => kind !== "around" && verdict !== "edge");
  const odd = [...new Set(checks.seams.map(({ part }) => part))].flatMap((part) => {
    const own = checks.seams.filter((seam) => seam.kind === "around" && seam.part === part);
    const worst = own.sort((a, b) => b.jump.most - a.jump.most)[0];
    return worst ? [{ worst, count: own.length }] : [];
  });
  const count = (verdict: string) =>
    [...seams, ...odd.map(({ worst }) => worst)].filter((one) => one.verdict === verdict).length;
  return (
    <>
      <Card
        title={tr("Continuity")}
        aside={tr`${count("beyond")} beyond, ${count("near")} near, ${count("within")} within`}
      >
        {seams.length === 0 && (
          <p>{tr("No seam: the surface goes on everywhere in its curvature, but for odd points.")}</p>
        )}
        <ul className="space-y-1">
          {seams.slice(0, 30).map((seam, k) => (
            <SeamLine key={k} seam={seam} onFly={onFly} />
          ))}
          {odd.map(({ worst, count }) => (
            <SeamLine key={worst.part} seam={worst} count={count} onFly={onFly} />
          ))}
        </ul>
        {edges.length > 0 && <p className="text-quiet">{tr`${edges.length} sharp edges are built so.`}</p>}
        {seams.length > 30 && <p className="text-quiet">{tr`${seams.length - 30} more`}</p>}
      </Card>
      <Tolerances checking={checking} edit={edit} />
    </>
  );
}

/** A seam, or the worst of a part's odd points. */
function SeamLine({ seam, count = 0, onFly }: { seam: Seam; count?: number; onFly: Fly }) {
  const read = useReading();
  const what =
    seam.kind === "around"
      ? tr`${seam.name}: ${count} odd points`
      : seam.other
        ? tr`${seam.name} meets ${seam.other}`
        : `${seam.name}: ${read.length(seam.length, 1)}`;
  const worst = seam.angle.most > 0.005 ? seam.angle : seam.gap.most > 0 ? seam.gap : seam.jump;
  return (
    <li>
      <button type="button" onClick={() => onFly(worst.place as Place)} className="w-full text-left hover:underline">
        <span className="flex justify-between gap-2">
          <span>{what}</span>
          <span className={COLOURS[seam.verdict]}>
            {SIGN[seam.verdict]} {VERDICTS[seam.verdict]}
          </span>
        </span>
        <span className="block text-[0.92rem] text-quiet tabular-nums">
          {seam.kind !== "around" && `${read.length(seam.gap.most, 3)}, ${plain(seam.angle.most)}°, `}
          {count > 0 && tr("at the most ")}
          {plain(seam.jump.most)} %
        </span>
      </button>
    </li>
  );
}

/** What is unsound, part by part; a finding leads the eye there. */
export function SoundnessCard(props: {
  checks: Checks | undefined;
  project: string;
  form: string;
  /** Parts that are still bodies: their meshes can be mended. */
  still: ReadonlyMap<string, string>;
  edit: Edit;
  onFly: Fly;
}) {
  const { checks, still, onFly } = props;
  const read = useReading();
  if (!checks) return <Card title={tr("Soundness")}>{tr("Checking…")}</Card>;
  return (
    <>
      {checks.soundness.map((part) => {
        const total = Object.values(part.counts).reduce((sum, count) => sum + count, 0);
        return (
          <Card key={part.part} title={part.name} aside={total === 0 ? tr("sound") : tr`${total} to look at`}>
            <Row label={tr("Closed")}>{part.closed ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Manifold")}>{part.manifold ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Faces turn one way")}>{part.consistent ? tr("yes") : tr("no")}</Row>
            <Row label={tr("Slivers")}>{part.counts.sliver}</Row>
            <Row label={tr("Doubled points")}>{part.counts["doubled point"]}</Row>
            <Row label={tr("Slits")}>{part.counts["small gap"]}</Row>
            <Row label={tr("Crossings")}>{part.counts.crossing}</Row>
            <ul>
              {checks.findings
                .filter((finding) => finding.part === part.part && finding.probe === "soundness")
                .map((finding) => (
                  <li key={finding.id}>
                    <button
                      type="button"
                      onClick={() => onFly(finding.place as Place)}
                      className="py-0.5 text-left text-warn hover:underline"
                    >
                      {read.sentence(finding.sentence)}
                    </button>
                  </li>
                ))}
            </ul>
            {still.has(part.part) && total > 0 && <Mending {...props} part={part.part} mesh={still.get(part.part)!} />}
          </Card>
        );
      })}
    </>
  );
}

/** What would mend a still body, before it is done. */
function Mending(props: { project: string; form: string; part: string; mesh: string; edit: Edit }) {
  const { project, form, part, mesh, edit } = props;
  const [within, setWithin] = useState(0.01);
  const [fill, setFill] = useState(0);
  const { data, error } = useQuery({
    queryKey: ["mending", form, part, mesh, within, fill],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/forms/{document}/parts/{part}/mending", {
          params: { path: { project, document: form, part }, query: { within, fill } },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const left = data && Object.values(data.counts).reduce((sum, count) => sum + count, 0);
  const nothing = data && !(data.joined || data.dropped || data.turned || data.filled);
  return (
    <Disclosure title={tr("Mend it")} open>
      <NumberField
        label={tr("Join points within")}
        value={within}
        min={0}
        max={100}
        step={0.01}
        digits={3}
        unit="mm"
        onChange={setWithin}
      />
      <NumberField
        label={tr("Fill openings up to")}
        value={fill}
        min={0}
        max={100_000}
        step={10}
        digits={1}
        unit="mm"
        onChange={setFill}
      />
      {error && <p className="text-warn">{error.message}</p>}
      {data && (
        <p>
          {nothing
            ? tr("With these numbers nothing would change.")
            : tr`It would join ${data.joined} points, drop ${data.dropped} faces, turn ${data.turned} and fill ${data.filled} openings; then ${left === 0 ? tr("it is sound") : tr`${left} remain to look at`}.`}
        </p>
      )}
      {data && !nothing && (
        <Button weight="act" onClick={() => void edit({ kind: "shape", part, step: { kind: "mended", within, fill } })}>
          {tr("Mend")}
        </Button>
      )}
    </Disclosure>
  );
}

/** All findings: open ones, those near their tolerance, accepted ones with their reasons. */
export function FindingsCard(props: {
  checks: Checks | undefined;
  cured: readonly Shapes["FindingShape"][];
  project: string;
  form: string;
  head: number | null | undefined;
  edit: Edit;
  onGo: (finding: Shapes["FindingShape"]) => void;
}) {
  const { checks, cured, project, form, head, edit, onGo } = props;
  if (!checks) return <Card title={tr("Findings")}>{tr("Checking…")}</Card>;
  const open = checks.findings.filter(({ state, beyond }) => state === "open" && beyond);
  const near = checks.findings.filter(({ state, beyond }) => state === "open" && !beyond);
  const accepted = checks.findings.filter(({ state }) => state === "accepted");
  const address = `/api/projects/${project}/forms/${form}`;
  const common = { address, head, edit, onGo };
  return (
    <>
      <Card title={tr("Findings")} aside={open.length ? tr`${open.length} to look at` : tr("none open")}>
        {open.length === 0 && <p>{tr("Nothing is beyond its tolerance.")}</p>}
        <FindingList findings={open} {...common} />
      </Card>
      {near.length > 0 && (
        <Card title={tr("Near their tolerance")} aside={near.length}>
          <FindingList findings={near} {...common} />
        </Card>
      )}
      {accepted.length > 0 && (
        <Card title={tr("Accepted")} aside={accepted.length}>
          <FindingList findings={accepted} {...common} />
        </Card>
      )}
      {cured.length > 0 && (
        <Card title={tr("Cured since one came here")} aside={cured.length}>
          <ul>
            {cured.map((finding) => (
              <li key={finding.id} className="text-quiet line-through">
                {finding.name}: {finding.sentence}
              </li>
            ))}
          </ul>
        </Card>
      )}
      <Card title={tr("Report")}>
        <p className="text-quiet">{tr("One page with pictures and numbers, and the same as data.")}</p>
        <span className="flex gap-1.5">
          {(["pdf", "html", "json"] as const).map((format) => (
            <a
              key={format}
              href={`${address}/report?format=${format}`}
              download
              aria-label={tr`Report as ${format}`}
              className="border border-vein bg-raised px-2.5 py-1 hover:border-quiet"
            >
              {format.toUpperCase()}
            </a>
          ))}
        </span>
      </Card>
    </>
  );
}

function FindingList(props: {
  address: string;
  head: number | null | undefined;
  findings: readonly Shapes["FindingShape"][];
  edit: Edit;
  onGo: (finding: Shapes["FindingShape"]) => void;
}) {
  return (
    <ul className="space-y-1.5">
      {props.findings.map((finding) => (
        <FindingLine key={finding.id} {...props} finding={finding} />
      ))}
    </ul>
  );
}

function FindingLine(props: {
  address: string;
  head: number | null | undefined;
  finding: Shapes["FindingShape"];
  edit: Edit;
  onGo: (finding: Shapes["FindingShape"]) => void;
}) {
  const { address, head, finding, edit, onGo } = props;
  const [x, y, z] = finding.place as Place;
  const read = useReading();
  const [asked, setAsked] = useState(false);
  const place = useSurface((state) => state.place);
  const here = place?.every((value, axis) => value === finding.place[axis]);
  const accept = (reason: string) => {
    setAsked(false);
    const { id, amount, sentence } = finding;
    return edit({ kind: "accept_finding", accepted: { id, reason, amount, sentence } });
  };
  return (
    <li className={here ? "border-act border-l-2 pl-2" : ""}>
      <button type="button" onClick={() => onGo(finding)} className="block w-full text-left hover:underline">
        <Picture
          src={`${address}/findings/picture?x=${x}&y=${y}&z=${z}&head=${head}`}
          alt=""
          className="float-right mb-1 ml-2 h-[50px] w-[80px] object-cover"
        />
        <span className={finding.state === "open" && finding.beyond ? "text-wrong" : "text-warn"}>{finding.name}</span>{" "}
        {read.sentence(finding.sentence)}
      </button>
      {finding.state === "accepted" ? (
        <Disclosure title={tr("Reason")}>
          <p className="text-ink">{finding.reason}</p>
          <Button weight="quiet" onClick={() => void edit({ kind: "reopen_finding", finding: finding.id })}>
            {tr("Open it again")}
          </Button>
        </Disclosure>
      ) : asked ? (
        <TextField label={tr("Why it is meant so")} value="" focused onChange={accept} />
      ) : (
        <Button weight="quiet" label={tr`Accept: ${finding.sentence}`} onClick={() => setAsked(true)}>
          {tr("Accept, with a reason")}
        </Button>
      )}
    </li>
  );
}

/** Volumes, weights, the centre of mass, and whether it stands. */
export function BalanceCard({ balance }: { balance: Shapes["BalanceAnswer"] | undefined }) {
  const read = useReading();
  if (!balance) return <Card title={tr("Balance")}>{tr("Working it out…")}</Card>;
  const { standing, centre } = balance;
  return (
    <>
      <Card title={tr("Balance")} aside={balance.by_weight ? `${balance.grams.toFixed(1)} g` : tr("by volume")}>
        {!balance.by_weight && (
          <p className="text-quiet">
            {tr("No part has a material yet, so it is weighed by volume. Choose materials in Form.")}
          </p>
        )}
        {centre && (
          <Row label={tr("Centre of mass W, D, H")}>
            {(centre as Place).map((value) => read.length(value, 1)).join(", ")}
          </Row>
        )}
        {standing && (
          <>
            <Row label={tr("Stands on its foot")}>{standing.stands ? tr("yes") : tr("no")}</Row>
            <Row label={tr("To the edge it would tip over")}>{read.length(standing.margin, 1)}</Row>
            <Row label={tr("Can be leaned by")}>{plain(standing.tip)}°</Row>
          </>
        )}
      </Card>
      {balance.parts.map((part) => (
        <Card key={part.part} title={part.name} aside={part.grams ? `${part.grams.toFixed(1)} g` : undefined}>
          {part.why && <p className="text-warn">{part.why}</p>}
          {part.volume !== null && <Row label={tr("Volume")}>{read.volume(part.volume)}</Row>}
          <Row label={tr("Area")}>
            {plain(part.area / 100)} {tr("cm²")}
          </Row>
        </Card>
      ))}
    </>
  );
}
