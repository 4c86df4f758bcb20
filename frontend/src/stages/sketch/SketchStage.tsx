import { useEffect, useMemo, useRef, useState } from "react";
import { answer, api, type Shapes } from "../../api/client";
import { deliver } from "../../api/outbox";
import { adopt, ask, at, newId, queries, sendForm, useEdit, useSheet, useWork } from "../../api/queries";
import { fromWords, inWords, keepView, keptView, useArrivals } from "../../bench/address";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { holdsOf } from "../../paper/guides";
import { nibOf } from "../../paper/nibs";
import { PaperCanvas, type PaperHandle } from "../../paper/PaperCanvas";
import { Page } from "../../paper/page";
import { tinted } from "../../paper/tint";
import type { Look, WetStroke } from "../../paper/wetInk";
import { useFileChooser } from "../../ui/useFileChooser";
import { BlankSheet } from "./BlankSheet";
import { sketchCommands } from "./commands";
import { BoxOptions, FaceOptions, PerspectiveOptions } from "./drafting/DraftingOptions";
import { directionsOf, useDrafting } from "./drafting/useDrafting";
import { useSheetHand } from "./hand";
import { LightOptions } from "./LightOptions";
import { WritingField } from "./notes/NoteMarks";
import { useNotes } from "./notes/useNotes";
import { SheetsOverview } from "./overview/SheetsOverview";
import { SheetInspector } from "./SheetInspector";
import { SheetOverlay } from "./SheetOverlay";
import { Sprint } from "./Sprint";
import { isNib, useSketch } from "./store";
import { useDrags } from "./useDrags";
import { useLines } from "./useLines";
import { outlineOf, useLockedPaint } from "./useLockedPaint";
import { useToneWork } from "./useToneWork";
import { useViews } from "./useViews";

/** Share of its tone a line has that holds to something: construction lines soft, design lines firm. */
const LIGHTER = 0.45;

type Place = [number, number];

/** Sketch: think on paper. */
export default function SketchStage({ project, documents }: StageProps) {
  const { sheet: wanted, openSheet, notify, setBare } = useBench();
  const sheets = documents.filter((document) => document.kind === "sheet");
  const row =
    sheets.find((document) => document.id === wanted) ?? sheets.find((document) => document.chosen) ?? sheets[0];
  const address = `/api/projects/${project}/sheets/${row.id}`;
  const { data } = useSheet(project, row.id);
  const edit = useEdit(project, row.id);
  const sketch = useSketch();
  const [stamp, setStamp] = useState(0);
  const [begun, setBegun] = useState<string | null>(null);
  const paper = useRef<PaperHandle>(null);

  useEffect(() => {
    if (wanted !== row.id) useBench.setState({ sheet: row.id }); // the address says which sheet it is
  }, [wanted, row.id]);
  useArrivals("Sketch", row.id, (words) => {
    const middle = fromWords(words, 4);
    if (middle) paper.current?.show(middle);
  });

  const { width, height, paper: ground } = data?.body ?? {};
  const page = useMemo(
    () =>
      width && height && ground
        ? new Page(
            address,
            width,
            height,
            ground,
            () => setStamp((n) => n + 1),
            (what, send) => deliver(row.id, what, send),
            (answered, from) => adopt(row.id, answered, from),
          )
        : null,
    [address, width, height, ground, row.id],
  );
  useEffect(() => {
    if (page && data) page.follow(data.standing.head ?? null).catch((error) => notify(error.message));
  }, [page, data, notify]);
  useEffect(() => {
    useSketch.getState().set({ selection: null, copying: null, fainting: null, lines: [], note: null, face: null });
  }, [row.id]);

  const chosen = data?.body.chosen;
  useEffect(() => {
    // the thread shows which sheet is the chosen direction
    if (chosen !== undefined) queries.invalidateQueries({ queryKey: ["project", project] });
  }, [chosen, project]);

  const layers = data?.body.layers ?? [];
  const layer =
    layers.find((candidate) => candidate.id === sketch.layer) ??
    layers.filter((candidate) => candidate.kind === "ink").at(-1) ??
    layers.at(-1);
  const picking = layer?.id;
  useEffect(() => {
    if (picking) useSketch.getState().set({ lines: [] });
  }, [picking]);
  const nibName = isNib(sketch.tool) ? sketch.tool : sketch.nib;
  const strength = sketch.tone[nibName] / 100;
  const broken = nibName.endsWith("lifter") ? "plain" : sketch.line;
  const nib = nibOf(nibName, sketch.size[nibName], strength, broken);
  const heldNib = sketch.lighter && !nib.lifts ? { ...nib, tone: Math.max(0.05, strength * LIGHTER) } : nib;
  const symmetry = data?.body.symmetry;
  const tone = useToneWork(project, row.id, page, layer?.id);

  const lines = useLines(project, row.id, page, layer?.id);
  const views = useViews(project, row.id, data?.body);
  const drafting = useDrafting(project, row.id, edit);
  const notes = useNotes(data?.body, edit);
  const within = useLockedPaint(project, row.id, layer, data?.standing.head ?? null);
  const directions = useMemo(
    () => (sketch.directed && data ? directionsOf(data.body.drafted, sketch.face) : []),
    [sketch.directed, sketch.face, data],
  );
  const holds = useMemo(
    () => (sketch.holding && data ? holdsOf(data.body.drafted, data.body.box?.shown ?? false) : []),
    [sketch.holding, data],
  );

  const clip = useMemo(() => outlineOf(sketch.selection), [sketch.selection]);
  const look: Look = {
    clips: [layer?.kind === "tone" ? clip : null, layer?.lock_paint ? within : null].filter((one) => one !== null),
    blend: layer && layer.mode !== "normal" && !nib.lifts ? layer.mode : "source-over",
    alpha: layer?.opacity ?? 1,
  };
  const wet = nib.lifts ? (data?.body.paper ?? "#ffffff") : sketch.colour;

  const work = useWork(row.id);
  const place = (file: File) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      const layered = file.name.toLowerCase().endsWith(".ora");
      await sendForm(row.id, `${address}/${layered ? "layers" : "pictures"}`, form);
    });
  const chooser = useFileChooser("Picture file", "image/png,image/jpeg,image/tiff,image/webp,.ora", place);
  const addSheet = () =>
    work(async () => {
      const made = await answer(
        api.POST("/api/projects/{project}/documents", {
          params: { path: { project } },
          body: { kind: "sheet", name: `Sheet ${sheets.length + 1}` },
        }),
      );
      await queries.invalidateQueries({ queryKey: ["project", project] });
      sketch.set({ overview: false });
      openSheet(made.id);
    });
  const onLayer = (what: "merge" | "duplicate") => (id: string) =>
    work(async () => {
      await ask(row.id, (headers) =>
        api.POST(`/api/projects/{project}/sheets/{document}/${what}`, {
          ...at(project, row.id),
          headers,
          body: { layer: id },
        }),
      );
    });
  const nudge = (what: "size" | "tone", factor: number, step: number) => {
    const now = useSketch.getState();
    const value = now[what][nibName];
    const next =
      what === "size" ? Math.max(0.5, Math.round(value * factor * 10) / 10) : Math.min(100, Math.max(5, value + step));
    now.set({ [what]: { ...now[what], [nibName]: next } });
  };
  const addLayer = async (holds: "ink" | "tone" | "group" | "notes") => {
    const id = newId().slice(0, 8);
    const count = layers.filter((other) => other.kind === holds).length + 1;
    const name = { notes: "Notes", ink: `Layer ${layers.length + 1}`, tone: `Tone ${count}`, group: `Group ${count}` }[
      holds
    ];
    const above = holds === "tone" ? null : (layer?.id ?? null);
    const kept = await edit({ kind: "add_layer", id, name, holds, above });
    // tone belongs beneath the lines
    if (kept && holds === "tone") await edit({ kind: "move_layer", layer: id, group: null, place: 0 });
    if (kept && holds !== "group") useSketch.getState().set({ layer: id });
  };
  const beginSprint = () => {
    const { sprintMinutes, set, take } = useSketch.getState();
    take("pencil");
    set({ sprint: Date.now() + sprintMinutes * 60_000 });
    setBare(true);
  };

  const keep = (stroke: WetStroke) => {
    if (!layer || !page) return notify("There is no layer to draw on. Add one first.");
    const query = new URLSearchParams({
      layer: layer.id,
      nib: nibName,
      size: String(stroke.nib.size),
      tone: String(stroke.nib.tone),
      line: stroke.nib.line,
      colour: sketch.colour,
    });
    if (layer.kind === "tone" && sketch.selection) query.set("selection", sketch.selection.selection);
    work(() => page.keep(stroke, layer.kind === "tone" ? "paint" : "strokes", query));
  };

  const finish = useDrags({ sheet: data?.body, edit, tone, lines, views, drafting, notes });
  const dragged = (way: Place[], ended: boolean, event: PointerEvent) => {
    useSheetHand.setState({ trail: ended ? [] : way });
    if (ended) finish(way, event);
  };

  const commands = sketchCommands({
    symmetry: symmetry?.on ?? false,
    guides: holds.length > 0,
    options: {
      perspective: data && <PerspectiveOptions sheet={data.body} edit={edit} drafting={drafting} />,
      box: data && <BoxOptions sheet={data.body} edit={edit} drafting={drafting} />,
      face: (hint: string) => data && <FaceOptions sheet={data.body} hint={hint} />,
      light: data && (
        <LightOptions
          project={project}
          document={row.id}
          head={data.standing.head ?? null}
          onShade={() => tone.shade()}
        />
      ),
    },
    addLayer,
    addSheet,
    mirror: () => symmetry && edit({ amend: { kind: "symmetry", fields: { on: !symmetry.on } } }),
    picture: () => chooser.open(),
    whole: () => paper.current?.fit(),
    turn: (radians) => paper.current?.turn(radians),
    save: (what) => location.assign(`${address}/${what}`),
    nudge,
    fillSelection: () => tone.fill(null),
    clear: (outside) => (sketch.lines.length && !outside ? lines.change({ how: "remove" }) : tone.clear(outside)),
    invert: () => tone.select({ by: "rest" }),
    selectNothing: () => sketch.set({ selection: null, lines: [] }),
    beginSprint,
  });

  return (
    <>
      <Workplace
        project={project}
        document={row.id}
        commands={commands}
        canvas={
          page &&
          data && (
            <>
              <PaperCanvas
                page={page}
                stamp={stamp}
                nib={nib}
                colour={rgb(layer?.tint && !nib.lifts ? tinted(wet, layer.tint) : wet)}
                symmetry={
                  symmetry?.on
                    ? {
                        x: symmetry.axis.x,
                        y: symmetry.axis.y,
                        angle: ((symmetry.axis.angle ?? 90) * Math.PI) / 180,
                        mirror: symmetry.mirror ?? true,
                        turns: symmetry.turns ?? 1,
                      }
                    : null
                }
                look={look}
                steady={sketch.steady}
                holds={holds}
                directions={directions}
                heldNib={heldNib}
                reach={18}
                drawing={isNib(sketch.tool)}
                handle={paper}
                start={fromWords(keptView("Sketch", row.id) ?? "", 4)}
                onView={({ scale }, middle) => {
                  useSheetHand.setState({ scale });
                  keepView("Sketch", row.id, inWords(middle));
                }}
                onBegin={() => setBegun(row.id)}
                onStroke={keep}
                onDrag={dragged}
                overlay={(shown) => (
                  <>
                    <SheetOverlay
                      project={project}
                      document={row.id}
                      drafting={drafting}
                      notes={notes}
                      noting={layer?.kind === "notes"}
                      view={shown}
                      sheet={data.body}
                      tool={sketch.tool}
                      selection={sketch.selection}
                      lines={sketch.lines}
                      pulling={sketch.pulling}
                      picture={layer?.kind === "picture" && !layer.locked ? layer : null}
                      edit={edit}
                    />
                    {notes.writing && <WritingField view={shown} notes={notes} />}
                  </>
                )}
              />
              {sketch.overview && <SheetsOverview project={project} sheets={sheets} onNew={addSheet} />}
              {data.standing.head == null && bare(data.body) && begun !== row.id && (
                <BlankSheet onPicture={() => chooser.open()} />
              )}
              <Sprint />
            </>
          )
        }
        inspector={
          data && (
            <SheetInspector
              project={project}
              sheets={sheets}
              current={row}
              sheet={data.body}
              layer={layer?.id}
              edit={edit}
              onMerge={onLayer("merge")}
              onDuplicate={onLayer("duplicate")}
              onSelectPaint={(id) => tone.select({ by: "paint", layer: id })}
              onCopyView={(view, to) => views.copy(view, to)}
              onMark={(along) =>
                edit({ kind: "mark_edges", strokes: sketch.lines.map((line) => line.id) as [string], along })
              }
              onShift={tone.shift}
              onArrange={views.arrange}
              tool={sketch.tool}
              drafting={drafting}
              notes={notes}
              onLines={lines.change}
            />
          )
        }
        foot={
          data && (
            <>
              <span>
                {data.body.width} × {data.body.height} px
              </span>
              <Zoom />
              <span>{page && page.milliseconds > 0 ? `${page.milliseconds.toFixed(1)} ms` : ""}</span>
            </>
          )
        }
      />
      {chooser.field}
    </>
  );
}

function Zoom() {
  const scale = useSheetHand((hand) => hand.scale);
  return <span>{Math.round(scale * 100)} %</span>;
}

function rgb(colour: string): [number, number, number] {
  return [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as [number, number, number];
}

/** Nothing has been put on the page yet. */
function bare(sheet: Shapes["SheetOutline"]): boolean {
  return sheet.layers.every((layer) => layer.kind === "ink" && layer.strokes === 0);
}
