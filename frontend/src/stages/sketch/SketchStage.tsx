import { useEffect, useMemo, useRef, useState } from "react";
import { answer, api, send } from "../../api/client";
import { at, newId, queries, refresh, stateKey, useEdit, useSheet } from "../../api/queries";
import type { StageProps } from "../../bench/Bench";
import { useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import type { Guide } from "../../paper/guides";
import { nibOf } from "../../paper/nibs";
import { PaperCanvas, type PaperHandle } from "../../paper/PaperCanvas";
import { Page } from "../../paper/page";
import { tinted } from "../../paper/tint";
import type { Viewport } from "../../paper/viewport";
import type { Look, WetStroke } from "../../paper/wetInk";
import { BlankSheet } from "./BlankSheet";
import { sketchCommands } from "./commands";
import { SheetInspector } from "./SheetInspector";
import { SheetOverlay } from "./SheetOverlay";
import { Sprint } from "./Sprint";
import { isNib, useSketch } from "./store";
import { onLines, useLines } from "./useLines";
import { useToneWork } from "./useToneWork";

type Place = [number, number];

/** Sketch: think on paper. */
export default function SketchStage({ project, documents }: StageProps) {
  const { sheet: wanted, openSheet, notify, setBare } = useBench();
  const sheets = documents.filter((document) => document.kind === "sheet");
  const row = sheets.find((document) => document.id === wanted) ?? sheets[0];
  const address = `/api/projects/${project}/sheets/${row.id}`;
  const { data } = useSheet(project, row.id);
  const edit = useEdit(project, row.id);
  const sketch = useSketch();
  const [stamp, setStamp] = useState(0);
  const [view, setView] = useState<Viewport | null>(null);
  const [trail, setTrail] = useState<Place[]>([]);
  const [begun, setBegun] = useState<string | null>(null);
  const paper = useRef<PaperHandle>(null);
  const chooser = useRef<HTMLInputElement>(null);

  const size = data && `${data.body.width}x${data.body.height}`;
  const page = useMemo(
    () =>
      data ? new Page(address, data.body.width, data.body.height, data.body.paper, () => setStamp((n) => n + 1)) : null,
    [address, size, data?.body.paper],
  );
  useEffect(() => {
    if (page && data) page.follow(data.standing.head ?? null).catch((error) => notify(error.message));
  }, [page, data, notify]);
  useEffect(() => {
    useSketch.getState().set({ selection: null, copying: null, lines: [] });
  }, [row.id]);

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
  const nib = nibOf(nibName, sketch.size[nibName], sketch.tone[nibName] / 100);
  const symmetry = data?.body.symmetry;
  const tone = useToneWork(project, row.id, page, layer?.id);

  const lines = useLines(project, row.id, page, layer?.id);

  const clip = useMemo(() => {
    if (!sketch.selection) return null;
    const path = new Path2D();
    for (const edge of sketch.selection.edges) {
      const [[x, y], ...rest] = edge as Place[];
      path.moveTo(x, y);
      for (const next of rest) path.lineTo(...next);
      path.closePath();
    }
    return path;
  }, [sketch.selection]);
  const look: Look = {
    clip: layer?.kind === "tone" ? clip : null,
    blend: layer && layer.mode !== "normal" && !nib.lifts ? layer.mode : "source-over",
    alpha: layer?.opacity ?? 1,
  };
  const wet = nib.lifts ? (data?.body.paper ?? "#ffffff") : sketch.colour;

  const work = async (doing: () => Promise<unknown>) => {
    try {
      await doing();
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const place = (file: File) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      const layered = file.name.toLowerCase().endsWith(".ora");
      await send(`${address}/${layered ? "layers" : "pictures"}`, { method: "POST", body: form });
      await refresh(row.id);
    });
  const addSheet = () =>
    work(async () => {
      const made = await answer(
        api.POST("/api/projects/{project}/documents", {
          params: { path: { project } },
          body: { kind: "sheet", name: `Sheet ${sheets.length + 1}` },
        }),
      );
      await queries.invalidateQueries({ queryKey: ["project", project] });
      openSheet(made.id);
    });
  const onLayer = (what: "merge" | "duplicate") => (id: string) =>
    work(async () => {
      await answer(
        api.POST(`/api/projects/{project}/sheets/{document}/${what}`, { ...at(project, row.id), body: { layer: id } }),
      );
      await refresh(row.id);
    });
  const copyView = (id: string, to: string, middle?: Place) =>
    work(async () => {
      await answer(
        api.POST("/api/projects/{project}/sheets/{document}/views/{view}/copy", {
          params: { path: { project, document: row.id, view: id } },
          body: { to, at: middle ?? null },
        }),
      );
      await refresh(to);
      if (to !== row.id) notify("The copy lies on the other sheet, in the same place.");
    });
  const nudge = (what: "size" | "tone", factor: number, step: number) => {
    const now = useSketch.getState();
    const value = now[what][nibName];
    const next =
      what === "size" ? Math.max(0.5, Math.round(value * factor * 10) / 10) : Math.min(100, Math.max(5, value + step));
    now.set({ [what]: { ...now[what], [nibName]: next } });
  };
  const addLayer = async (holds: "ink" | "tone" | "group") => {
    const id = newId().slice(0, 8);
    const count = layers.filter((other) => other.kind === holds).length + 1;
    const name = { ink: `Layer ${layers.length + 1}`, tone: `Tone ${count}`, group: `Group ${count}` }[holds];
    const above = holds === "tone" ? null : (layer?.id ?? null);
    const kept = await edit({ kind: "add_layer", id, name, holds, above });
    // tone belongs beneath the lines
    if (kept && holds === "tone") await edit({ kind: "move_layer", layer: id, group: null, place: 0 });
    if (kept && holds !== "group") useSketch.getState().set({ layer: id });
  };
  const putGuide = (guide: Guide) => edit({ kind: "put_guide", guide }).then((kept) => kept && sketch.take(sketch.nib));
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
      size: String(nib.size),
      tone: String(nib.tone),
      colour: sketch.colour,
    });
    if (layer.kind === "tone" && sketch.selection) query.set("selection", sketch.selection.selection);
    page
      .keep(stroke, layer.kind === "tone" ? "paint" : "strokes", query)
      .then(() => refresh(row.id))
      .catch((error) => notify(error.message));
  };

  const dragged = (way: Place[], ended: boolean, event: PointerEvent) => {
    setTrail(ended ? [] : way);
    if (!ended || !data) return;
    const [first, last] = [way[0], way.at(-1)!];
    const how = event.shiftKey ? "add" : event.altKey ? "take away" : undefined;
    if (sketch.tool === "frame") {
      const kind = sketch.frameAs;
      const named = data.body.views.filter((other) => other.view === kind).length;
      edit({
        kind: "frame_view",
        id: newId().slice(0, 8),
        view: kind,
        name: named ? `${kind} ${named + 1}` : kind,
        rect: inside(first, last, data.body.width, data.body.height),
      }).then((kept) => kept && sketch.take(sketch.nib));
    } else if (sketch.tool === "lasso") tone.select({ by: "outline", points: way }, how);
    else if (sketch.tool === "box") {
      tone.select({ by: "box", rect: inside(first, last, data.body.width, data.body.height) }, how);
    } else if (sketch.tool === "region") tone.select({ by: "region", at: last, gap: sketch.gap }, how);
    else if (sketch.tool === "fill") tone.fill(last);
    else if (sketch.tool === "gradient") tone.grade(first, last);
    else if (sketch.tool === "take colour") tone.takeColour(last);
    else if (sketch.tool === "lines") {
      const [dx, dy] = [last[0] - first[0], last[1] - first[1]];
      const held = onLines(sketch.lines, first, 16) && Math.hypot(dx, dy) > 4;
      if (!held) lines.pick(way, event.shiftKey);
      else if (sketch.pulling) lines.change({ how: "pull", at: first, by: [dx, dy], reach: 60 });
      else lines.change({ how: "carry", by: [dx, dy] });
    } else if (sketch.tool === "straightedge") {
      putGuide({ kind: "straightedge", id: newId().slice(0, 8), start: first, end: last });
    } else if (sketch.tool === "ellipse") {
      const [across, down] = [Math.abs(last[0] - first[0]), Math.abs(last[1] - first[1])];
      putGuide({ kind: "ellipse", id: newId().slice(0, 8), centre: first, across, down, turn: 0 });
    } else if (sketch.tool === "cut out") lines.change({ how: "cut out", points: way });
    else if (sketch.tool === "put copy" && sketch.copying) {
      copyView(sketch.copying, row.id, last);
      sketch.set({ copying: null });
      sketch.take(sketch.nib);
    }
  };

  const commands = sketchCommands({
    symmetry: symmetry?.on ?? false,
    guides: !!data?.body.guides.length,
    addLayer,
    addSheet,
    mirror: () => symmetry && edit({ kind: "set_symmetry", ...symmetry, on: !symmetry.on }),
    picture: () => chooser.current?.click(),
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
                guides={sketch.holding ? (data.body.guides as Guide[]) : []}
                reach={18}
                drawing={isNib(sketch.tool)}
                handle={paper}
                onView={setView}
                onBegin={() => setBegun(row.id)}
                onStroke={keep}
                onDrag={dragged}
                overlay={(shown) => (
                  <SheetOverlay
                    view={shown}
                    sheet={data.body}
                    trail={trail}
                    tool={sketch.tool}
                    selection={sketch.selection}
                    lines={sketch.lines}
                    pulling={sketch.pulling}
                    picture={layer?.kind === "picture" && !layer.locked ? layer : null}
                    edit={edit}
                  />
                )}
              />
              {data.standing.head == null && begun !== row.id && (
                <BlankSheet onPicture={() => chooser.current?.click()} />
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
              onCopyView={copyView}
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
              <span>{view ? Math.round(view.scale * 100) : 100} %</span>
              <span>{page && page.milliseconds > 0 ? `${page.milliseconds.toFixed(1)} ms` : ""}</span>
            </>
          )
        }
        onMoved={() => queries.invalidateQueries({ queryKey: stateKey(row.id) })}
      />
      <input
        ref={chooser}
        type="file"
        accept="image/png,image/jpeg,image/tiff,image/webp,.ora"
        aria-label="Picture file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) place(file);
        }}
      />
    </>
  );
}

function rgb(colour: string): [number, number, number] {
  return [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as [number, number, number];
}

function inside(from: Place, to: Place, width: number, height: number): [number, number, number, number] {
  const [left, right] = [Math.min(from[0], to[0]), Math.max(from[0], to[0])];
  const [top, bottom] = [Math.min(from[1], to[1]), Math.max(from[1], to[1])];
  return [
    Math.max(0, Math.round(left)),
    Math.max(0, Math.round(top)),
    Math.min(width, Math.round(right)),
    Math.min(height, Math.round(bottom)),
  ];
}
