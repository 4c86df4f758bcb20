import { useEffect, useMemo, useRef } from "react";
import { queries, useEdit, useSheet } from "../../api/queries";
import { fromWords, useArrivals } from "../../bench/address";
import { useCopying } from "../../bench/copying";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import type { PaperHandle } from "../../paper/PaperCanvas";
import { tr } from "../../words/words";
import { sketchCommands } from "./commands";
import { BoxOptions, FaceOptions, PerspectiveOptions } from "./drafting/DraftingOptions";
import { useDrafting } from "./drafting/useDrafting";
import { LightOptions } from "./LightOptions";
import { NumbersOptions } from "./NumbersOptions";
import { useNotes } from "./notes/useNotes";
import { SheetsOverview } from "./overview/SheetsOverview";
import { SheetCanvas, SheetFoot } from "./SheetCanvas";
import { SheetInspector } from "./SheetInspector";
import { useSketch } from "./store";
import { useDrags } from "./useDrags";
import { useInk } from "./useInk";
import { useLines } from "./useLines";
import { useSheetPage } from "./useSheetPage";
import { useSheetWork } from "./useSheetWork";
import { useToneWork } from "./useToneWork";
import { useViews } from "./useViews";

/** Sketch: think on paper. */
export default function SketchStage({ project, documents }: StageProps) {
  const wanted = useBench((bench) => bench.sheet);
  const sheets = useMemo(() => documents.filter((document) => document.kind === "sheet"), [documents]);
  const row =
    sheets.find((document) => document.id === wanted) ?? sheets.find((document) => document.chosen) ?? sheets[0]!; // a project has a sheet from its first day on
  const address = `/api/projects/${project}/sheets/${row.id}`;
  const { data } = useSheet(project, row.id);
  const edit = useEdit(project, row.id);
  const sketch = useSketch();
  const paper = useRef<PaperHandle>(null);
  const { page, stamp } = useSheetPage(address, row.id, data);

  useEffect(() => {
    if (wanted !== row.id) useBench.setState({ sheet: row.id }); // the address says which sheet it is
  }, [wanted, row.id]);
  useArrivals("Sketch", row.id, (words) => {
    const middle = fromWords(words, 4);
    if (middle) paper.current?.show(middle);
  });
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
  useEffect(() => {
    if (layer?.id) useSketch.getState().set({ lines: [] });
  }, [layer?.id]);

  const ink = useInk(project, row.id, data, layer, page);
  const tone = useToneWork(project, row.id, page, layer?.id);
  const lines = useLines(project, row.id, page, layer?.id);
  const views = useViews(project, row.id, data?.body);
  const drafting = useDrafting(project, row.id, edit);
  const notes = useNotes(data?.body, edit);
  const doings = useSheetWork(project, row.id, sheets.length, layers, layer?.id);
  const finish = useDrags({ sheet: data?.body, edit, tone, lines, views, drafting, notes });
  const beginSprint = () => {
    const { sprintMinutes, set, take } = useSketch.getState();
    take("pencil");
    set({ sprint: Date.now() + sprintMinutes * 60_000 });
    useBench.getState().setBare("all");
  };

  const count = sketch.lines.length;
  const copying = useCopying({
    project,
    document: row.id,
    thing: count
      ? {
          what: "lines",
          items: sketch.lines.map((line) => line.id),
          said: count === 1 ? tr("a line") : tr`${count} lines`,
        }
      : sketch.selection && layer?.kind === "tone"
        ? { what: "paint", items: [layer.id, sketch.selection.selection], said: tr`selected paint of ${layer.name}` }
        : undefined,
    hint: tr("Pick lines first, with Lines; or select paint of a tone layer."),
    onto: {
      lines: { id: layer?.kind === "ink" ? layer.id : undefined },
      paint: { id: layer?.kind === "tone" ? layer.id : undefined },
    },
  });
  const symmetry = data?.body.symmetry;
  const commands = sketchCommands({
    ...doings,
    symmetry: symmetry?.on ?? false,
    guides: ink.pen.holds.length > 0,
    options: {
      perspective: data && <PerspectiveOptions sheet={data.body} edit={edit} drafting={drafting} />,
      box: data && <BoxOptions sheet={data.body} edit={edit} drafting={drafting} />,
      numbers: data && <NumbersOptions size={[data.body.width, data.body.height]} onDraw={ink.drawThrough} />,
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
    mirror: () => symmetry && edit({ amend: { kind: "symmetry", fields: { on: !symmetry.on } } }),
    picture: doings.chooser.open,
    zoom: (factor) => paper.current?.zoom(factor),
    whole: () => paper.current?.fit(),
    turn: (radians) => paper.current?.turn(radians),
    save: (what) => location.assign(`${address}/${what}`),
    nudge: ink.nudge,
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
        commands={[...commands, ...copying]}
        canvas={
          page &&
          data && (
            <>
              <SheetCanvas
                project={project}
                document={row.id}
                data={data}
                page={page}
                stamp={stamp}
                layer={layer}
                ink={ink}
                edit={edit}
                drafting={drafting}
                notes={notes}
                paper={paper}
                onDragged={finish}
                onPicture={doings.chooser.open}
              />
              {sketch.overview && <SheetsOverview project={project} sheets={sheets} onNew={doings.addSheet} />}
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
              onMerge={doings.merge}
              onDuplicate={doings.duplicate}
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
        foot={data && <SheetFoot sheet={data.body} page={page} />}
      />
      {doings.chooser.field}
    </>
  );
}
