import { useEffect, useMemo, useRef } from "react";
import type { Shapes } from "../../api/client";
import { useBalance, useChecks, useEdit, useForm, useFormSize, useOutline } from "../../api/queries";
import type { Command } from "../../bench/commands";
import { type StageProps, useSettings } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { FormSize } from "../../ui/FormSize";
import { useReading } from "../../ui/numbers/reading";
import { lookCommands } from "../../view3d/looks";
import { lookFrom } from "../../view3d/orbit";
import { percentile, type Range } from "../../view3d/probing/scales";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { extentOf, oneByOne, type Shown, useSkins } from "../../view3d/useParts";
import { tr } from "../../words/words";
import { useRowComb, useSections } from "./asked";
import { BalanceCard, ContinuityCard, FindingsCard, SoundnessCard } from "./cards/CheckCards";
import { PLANES, RowsCard, SectionsCard } from "./cards/CutCards";
import { DirectionFields, LightCard } from "./cards/LightCards";
import { CurvatureCard, DeviationCard, DraftCard, type Drawn, TITLES, WallCard } from "./cards/MapCards";
import { type Checking, type Maps, useMaps, type ValueMap } from "./maps";
import type { PaneProps } from "./ProbePane";
import { SurfaceCanvas } from "./SurfaceCanvas";
import { lineKind, type Place, type Probe, quantityOf, surfaceEye, unitOf, useSurface } from "./store";

interface ProbeWords {
  id: Probe;
  name: string;
  group: string;
  key?: string;
  seldom?: boolean;
  does: string;
  means?: string;
}

const PROBES: readonly ProbeWords[] = [
  {
    id: "stripes",
    name: tr("Stripes"),
    group: "Light",
    key: "z",
    does: tr("Stripes of light run over the skin; where they kink, the surface does."),
    means: tr("zebra, reflection"),
  },
  {
    id: "highlight",
    name: tr("Highlight lines"),
    group: "Light",
    key: "h",
    does: tr("Lines of light that stay where they are when the eye moves; drag the dot to sweep them."),
  },
  {
    id: "reflection",
    name: tr("Reflection lines"),
    group: "Light",
    key: "r",
    does: tr("The mirror of line lights, as seen from here."),
  },
  {
    id: "isophotes",
    name: tr("Isophotes"),
    group: "Light",
    key: "i",
    does: tr("Lines of equal brightness in far light."),
  },
  {
    id: "polished",
    name: tr("Polished"),
    group: "Light",
    key: "p",
    does: tr("The form polished, under strip lamps."),
    means: tr("light tunnel, gloss"),
  },
  {
    id: "largest",
    name: TITLES.largest,
    group: "Bend",
    key: "l",
    does: tr("Colours tell how small the radius is where the skin bends most, and a line along which way."),
  },
  {
    id: "mean",
    name: TITLES.mean,
    group: "Bend",
    key: "m",
    does: tr("Colours tell where the skin bulges and where it is hollow."),
  },
  { id: "gaussian", name: TITLES.gaussian, group: "Bend", key: "g", does: tr("Colours tell domes from saddles.") },
  {
    id: "radius",
    name: TITLES.radius,
    group: "Bend",
    does: tr("Colours tell the smallest radius everywhere, in mm: what a cutter or a mould has to reach."),
  },
  {
    id: "high",
    name: TITLES.high,
    group: "Bend",
    seldom: true,
    does: tr("The principal curvature that bulges most, with its direction."),
    means: tr("principal curvature"),
  },
  {
    id: "low",
    name: TITLES.low,
    group: "Bend",
    seldom: true,
    does: tr("The principal curvature that is most hollow, with its direction."),
    means: tr("principal curvature"),
  },
  {
    id: "sections",
    name: tr("Sections"),
    group: "Bend",
    key: "x",
    does: tr("Cut by planes, with the curvature as a comb; dragged, typed, or a family."),
    means: tr("slice, contour, comb"),
  },
  {
    id: "combs",
    name: tr("Row combs"),
    group: "Bend",
    key: "b",
    does: tr("Touch the form: the row of edges there is combed by its curvature."),
  },
  {
    id: "findings",
    name: tr("Findings"),
    group: "Check",
    key: "f",
    does: tr("All that is beyond its tolerance; touching one goes there."),
    means: tr("errors, problems, report"),
  },
  {
    id: "continuity",
    name: tr("Continuity"),
    group: "Check",
    key: "t",
    does: tr("Gap, kink and jump of curvature along every seam, with a verdict."),
    means: tr("tangent, seam, crease"),
  },
  {
    id: "soundness",
    name: tr("Soundness"),
    group: "Check",
    key: "c",
    does: tr("Look for holes, crossings and slivers."),
  },
  {
    id: "deviation",
    name: tr("Deviation"),
    group: "Check",
    key: "e",
    does: tr("How far a part is from an earlier version or from another part."),
    means: tr("compare, difference"),
  },
  {
    id: "draft",
    name: tr("Draft"),
    group: "Making",
    key: "u",
    does: tr("How far the surface leans from the way the mould opens, undercuts, and the parting line."),
    means: tr("undercut, mould, parting line, demoulding"),
  },
  {
    id: "wall",
    name: tr("Walls"),
    group: "Making",
    key: "w",
    does: tr("How thick a part is everywhere, by ray or by the largest ball within."),
    means: tr("thickness"),
  },
  {
    id: "balance",
    name: tr("Balance"),
    group: "Making",
    key: "q",
    does: tr("Volume, weight, centre of mass, and whether it stands."),
    means: tr("mass, weight, volume"),
  },
];

/** What asks for everything that counts to be checked. */
const CHECKED: ReadonlySet<Probe> = new Set(["findings", "continuity", "soundness"]);

const BY_ID = new Map(PROBES.map((probe) => [probe.id, probe]));

/** Surface: is it good enough to look at? */
export default function SurfaceStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const state = useSurface();
  const { set, probe, beside } = state;
  const skins = useSkins(project, row.id, data);
  const parts = useMemo(() => skins.map(oneByOne), [skins]);
  const edit = useEdit(project, row.id);
  const head = data?.standing.head;
  const checking = data?.body.checking as Checking | undefined;
  const some = parts.length > 0;
  useAddressedOrbit("Surface", surfaceEye, data, parts);

  // the finding one has gone to is seen by the probe that found it
  const looked = probe === "findings" && state.gone ? state.gone : probe;
  const shown = useMemo(() => new Set([probe, looked, ...(beside ? [beside] : [])]), [probe, looked, beside]);
  const maps = useMaps(project, row.id, parts, looked, checking, state);
  const besideMaps = useMaps(project, row.id, parts, beside ?? "stripes", checking, state);
  const keys = useMemo(() => parts.map(({ mesh }) => mesh.meta.key).join(), [parts]);
  const sections = useSections(project, row.id, keys, shown.has("sections") && some ? state.cutting : null);
  const combs = useRowComb(project, row.id, keys, state.row, shown.has("combs"));
  const checked = [...shown].some((which) => CHECKED.has(which));
  const { data: checks, isFetching, error: unchecked } = useChecks(project, row.id, head, checked && some);
  const { data: balance, error: unweighed } = useBalance(project, row.id, head, shown.has("balance") && some);
  const references = data?.body.references;
  const drawn = useDrawn(documents, references);
  const against =
    shown.has("deviation") && state.against && "reference" in state.against ? state.against.reference : null;
  const fits = drawn.some(({ id, plane }) => id === state.drawnBeside && plane === PLANES[state.cutting.across]);
  const cutBeside = shown.has("sections") && fits ? state.drawnBeside : null;
  const outline = useOutline(project, row.id, head, against ?? cutBeside, against ? null : state.cutting.at);
  const still = useMemo(
    () =>
      new Map(
        parts.flatMap(({ part, mesh }) => (part.steps[0]?.kind === "still" ? [[part.id, mesh.meta.key] as const] : [])),
      ),
    [parts],
  );
  const cured = useCured(row.id, checks);

  const fly = (place: Place) => {
    const { extent } = extentOf(parts);
    const { azimuth, rise, lens } = surfaceEye.now();
    const near = lookFrom("three-quarter", place, extent * 0.3);
    set({ place });
    surfaceEye.look(lens === near.lens ? { ...near, azimuth, rise } : near);
  };
  const go = (finding: Shapes["FindingShape"]) => {
    set({ part: finding.part, gone: finding.probe });
    fly(finding.place as Place);
  };

  /** Why a probe has nothing to show, or not of all parts. */
  const problemsOf = (which: Probe, { problems }: Maps): string[] => {
    const error = which === "balance" ? unweighed : CHECKED.has(which) ? unchecked : null;
    return error ? [error.message] : problems;
  };
  const paneOf = (which: Probe, whichMaps: Maps): PaneProps => ({
    project,
    form: row.id,
    probe: which,
    label: BY_ID.get(which)!.name,
    parts,
    maps: whichMaps.maps,
    range: rangeOf(which, whichMaps.maps, parts, state.ends, state.percentile, checking),
    outline:
      outline.data && (which === "deviation" ? against : which === "sections" && cutBeside) ? outline.data : null,
    combed: which === "sections" ? sections : which === "combs" ? combs : null,
    checks,
    balance,
    findings: marksOf(which === looked ? probe : which, checks),
    busy: !!data?.body.parts?.length && !parts.length,
  });
  const first = paneOf(looked, maps);
  const panes = beside ? [first, paneOf(beside, besideMaps)] : [first];
  const cards = (which: Probe, pane: PaneProps) => {
    const quantity = quantityOf(which);
    const kind = lineKind(which);
    if (kind || which === "stripes" || which === "polished")
      return <LightCard key={which} project={project} form={row.id} probe={which} kind={kind} />;
    if (!checking) return null;
    if (quantity)
      return (
        pane.range && (
          <CurvatureCard key={which} quantity={quantity} range={pane.range} maps={pane.maps ?? []} parts={parts} />
        )
      );
    const common = { maps: pane.maps ?? [], parts, onFly: fly };
    if (which === "draft")
      return <DraftCard key={which} {...common} checking={checking} lines={data?.body.lines ?? []} edit={edit} />;
    if (which === "wall")
      return <WallCard key={which} {...common} range={pane.range!} checking={checking} edit={edit} />;
    if (which === "deviation")
      return <DeviationCard key={which} {...common} project={project} form={row.id} drawn={drawn} outline={outline} />;
    if (which === "sections")
      return (
        <SectionsCard
          key={which}
          project={project}
          form={row.id}
          combed={sections}
          parts={parts}
          drawn={drawn}
          outline={outline}
          onFly={fly}
        />
      );
    if (which === "combs") return <RowsCard key={which} combed={combs} />;
    if (which === "balance") return <BalanceCard key={which} balance={balance} />;
    if (which === "continuity")
      return <ContinuityCard key={which} checks={checks} checking={checking} edit={edit} onFly={fly} />;
    if (which === "soundness")
      return (
        <SoundnessCard
          key={which}
          checks={isFetching ? undefined : checks}
          project={project}
          form={row.id}
          still={still}
          edit={edit}
          onFly={fly}
        />
      );
    return (
      <FindingsCard
        key={which}
        checks={checks}
        cured={cured}
        project={project}
        form={row.id}
        head={head}
        edit={edit}
        onGo={go}
      />
    );
  };

  const missing = !data || data.body.parts?.length ? undefined : tr("There is no form yet. Begin one in Form.");
  const commands: Command[] = [
    ...PROBES.map((words) => ({
      ...words,
      active: probe === words.id,
      options:
        lineKind(words.id) || words.id === "stripes" || words.id === "polished" ? (
          <DirectionFields lines={words.id !== "stripes"} />
        ) : undefined,
      likely: words.id === "stripes" ? 9 : words.seldom ? 2 : 7,
      cannot: missing,
      run: () => set({ probe: words.id, gone: null, ...(beside === words.id && { beside: null }) }),
    })),
    {
      id: "side by side",
      name: tr("Side by side"),
      group: "Look",
      key: "y",
      active: beside !== null,
      does: tr("The probe in hand stays in the left half; the next one opens in the right half, under the same eye."),
      means: tr("compare, split, two views"),
      cannot: missing,
      run: () => set({ beside: beside ? null : probe === "stripes" ? "largest" : "stripes" }),
    },
    {
      id: "exchange sides",
      name: tr("Exchange sides"),
      group: "Look",
      seldom: true,
      does: tr("What is in the left half goes to the right, and the other way round."),
      cannot: missing ?? (beside ? undefined : tr("Only one probe is shown. Put two side by side first.")),
      run: () => beside && set({ probe: beside, beside: probe }),
    },
    ...lookCommands(
      surfaceEye,
      () => parts,
      () => set({ place: null, gone: null }),
    ),
  ];
  const change = useSettings((settings) => settings.change);
  useEffect(() => {
    if (some) change({ looked: true });
  }, [some, change]);
  const size = useFormSize(project, row.id, head);

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={<SurfaceCanvas project={project} form={data} panes={panes} />}
      inspector={
        <>
          <Problems told={problemsOf(looked, maps)} />
          {cards(probe, first)}
          {beside && (
            <>
              <Problems told={problemsOf(beside, besideMaps)} />
              {cards(beside, panes[1]!)}
            </>
          )}
        </>
      }
      foot={<FormSize size={size} />}
    />
  );
}

/** What the server could not, or would not, do. */
function Problems({ told }: { told: string[] }) {
  const read = useReading();
  if (!told.length) return null;
  return (
    <section role="alert" className="border-vein border-b px-4 py-3 text-warn">
      {told.map((sentence) => (
        <p key={sentence}>{read.sentence(sentence)}</p>
      ))}
    </section>
  );
}

/** Views that stand behind the form, by the names they have on their sheets. */
function useDrawn(documents: StageProps["documents"], references: Shapes["Reference"][] | undefined): Drawn[] {
  return useMemo(
    () =>
      (references ?? []).map(({ id, sheet, plane }) => {
        const name = documents.find((document) => document.id === sheet)?.name ?? "";
        return { id, plane, name: `${name}, ${tr(plane)}` };
      }),
    [documents, references],
  );
}

/** Where a map's colours begin and end. Small rings and knobs bend far more than the body: the legend follows the largest part until it
 * is set by hand. */
function rangeOf(
  probe: Probe,
  maps: (ValueMap | undefined)[] | null,
  parts: Shown[],
  ends: Partial<Record<Probe, number>>,
  share: number,
  checking: Checking | undefined,
): Range | null {
  if (!maps) return null;
  const unit = unitOf(probe);
  if (probe === "draft") return { scale: "both", low: -20, high: 20, unit };
  if (probe === "wall") {
    const wanted = checking?.wall ?? 1;
    const median = percentile(maps.find((map) => map)?.values ?? Float32Array.of(wanted), 0.5);
    return { scale: "one", low: 0, high: ends.wall ?? Math.max(2.5 * wanted, 1.25 * median), unit };
  }
  const extents = parts.map((shown, index) => (maps[index] ? extentOf([shown]).extent : 0));
  const map = maps[extents.indexOf(Math.max(...extents))];
  if (!map) return null;
  const end = ends[probe] ?? Math.max(percentile(map.values, share / 100), 1e-6);
  return probe === "radius" ? { scale: "one", low: 0, high: end, unit } : { scale: "both", low: -end, high: end, unit };
}

function marksOf(probe: Probe, checks: Shapes["ChecksAnswer"] | undefined): PaneProps["findings"] {
  if (!checks || !CHECKED.has(probe)) return [];
  return checks.findings
    .filter((finding) => probe === "findings" || finding.probe === probe)
    .map((finding) => ({
      place: finding.place as Place,
      wrong: finding.state === "open" && finding.beyond,
      name: `${finding.name}: ${finding.sentence} (${finding.id})`,
    }));
}

/** Findings that were there since one came to the stage, and are not any more. */
function useCured(form: string, checks: Shapes["ChecksAnswer"] | undefined): readonly Shapes["FindingShape"][] {
  const met = useRef<{ form: string; all: Map<string, Shapes["FindingShape"]> }>({ form, all: new Map() });
  if (met.current.form !== form) met.current = { form, all: new Map() };
  return useMemo(() => {
    if (!checks) return [];
    const now = new Set(checks.findings.map(({ id }) => id));
    for (const finding of checks.findings) if (finding.beyond) met.current.all.set(finding.id, finding);
    return [...met.current.all.values()].filter(({ id }) => !now.has(id));
  }, [checks]);
}
