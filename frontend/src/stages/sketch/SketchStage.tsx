import { useEffect, useMemo, useRef, useState } from "react";
import { answer, api, send } from "../../api/client";
import { newId, queries, refresh, stateKey, useEdit, useSheet } from "../../api/queries";
import type { StageProps } from "../../bench/Bench";
import type { Command } from "../../bench/commands";
import { useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { PaperCanvas, type PaperHandle } from "../../paper/PaperCanvas";
import { Page } from "../../paper/page";
import type { Viewport } from "../../paper/viewport";
import { NIBS } from "../../paper/wetInk";
import { SheetInspector } from "./SheetInspector";
import { SheetOverlay } from "./SheetOverlay";
import { useSketch } from "./store";
import { NibOptions, ViewOptions } from "./ToolOptions";

/** Sketch: think on paper. */
export default function SketchStage({ project, documents }: StageProps) {
  const { sheet: wanted, openSheet, notify } = useBench();
  const sheets = documents.filter((document) => document.kind === "sheet");
  const row = sheets.find((document) => document.id === wanted) ?? sheets[0];
  const address = `/api/projects/${project}/sheets/${row.id}`;
  const { data } = useSheet(project, row.id);
  const edit = useEdit(project, row.id);
  const sketch = useSketch();
  const [stamp, setStamp] = useState(0);
  const [view, setView] = useState<Viewport | null>(null);
  const [framing, setFraming] = useState<{ from: [number, number]; to: [number, number] } | null>(null);
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

  const ink = data?.body.layers.filter((layer) => layer.kind === "ink") ?? [];
  const layer = ink.find((candidate) => candidate.id === sketch.layer) ?? ink.at(-1);
  const nibName = sketch.tool === "lifter" ? "lifter" : "pencil";
  const nib = NIBS[nibName](sketch.size[nibName], sketch.tone[nibName] / 100);
  const axis = data?.body.symmetry;

  const place = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    try {
      await send(`${address}/pictures`, { method: "POST", body: form });
    } catch (error) {
      notify((error as Error).message);
    }
    await refresh(row.id);
  };
  const addSheet = async () => {
    try {
      const made = await answer(
        api.POST("/api/projects/{project}/documents", {
          params: { path: { project } },
          body: { kind: "sheet", name: `Sheet ${sheets.length + 1}` },
        }),
      );
      await queries.invalidateQueries({ queryKey: ["project", project] });
      openSheet(made.id);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const nudge = (what: "size" | "tone", factor: number, step: number) => {
    const now = useSketch.getState();
    const value = now[what][nibName];
    const next =
      what === "size" ? Math.max(0.5, Math.round(value * factor * 10) / 10) : Math.min(100, Math.max(5, value + step));
    now.set({ [what]: { ...now[what], [nibName]: next } });
  };

  const commands: Command[] = [
    {
      id: "pencil",
      name: "Pencil",
      group: "Draw",
      key: "d",
      active: sketch.tool === "pencil",
      options: <NibOptions nib="pencil" />,
      run: () => sketch.set({ tool: "pencil" }),
    },
    {
      id: "lifter",
      name: "Lifter",
      group: "Draw",
      key: "e",
      active: sketch.tool === "lifter",
      options: <NibOptions nib="lifter" />,
      run: () => sketch.set({ tool: "lifter" }),
    },
    {
      id: "mirror",
      name: "Mirror",
      group: "Draw",
      key: "j",
      note: axis?.on ? "on" : undefined,
      run: () => axis && edit({ kind: "set_symmetry", on: !axis.on, axis: axis.axis }),
    },
    {
      id: "frame",
      name: "Frame a view",
      group: "Views",
      key: "f",
      active: sketch.tool === "frame",
      options: <ViewOptions />,
      run: () => sketch.set({ tool: "frame" }),
    },
    { id: "picture", name: "Place a picture", group: "Page", key: "i", run: () => chooser.current?.click() },
    {
      id: "new-layer",
      name: "New ink layer",
      group: "Page",
      key: "n",
      run: () =>
        edit({ kind: "add_layer", id: newId().slice(0, 8), name: `Layer ${(data?.body.layers.length ?? 0) + 1}` }),
    },
    { id: "new-sheet", name: "New sheet", group: "Page", run: addSheet },
    { id: "fit", name: "Whole page", group: "Look", key: "w", run: () => paper.current?.fit() },
    {
      id: "turn-left",
      name: "Turn the paper left",
      group: "Look",
      key: "q",
      run: () => paper.current?.turn(-Math.PI / 24),
    },
    {
      id: "turn-right",
      name: "Turn the paper right",
      group: "Look",
      key: "r",
      run: () => paper.current?.turn(Math.PI / 24),
    },
    { id: "png", name: "Page as PNG", group: "Take along", run: () => location.assign(`${address}/page.png`) },
    { id: "svg", name: "Lines as SVG", group: "Take along", run: () => location.assign(`${address}/page.svg`) },
    { id: "smaller", name: "Smaller nib", group: "Draw", key: "[", hidden: true, run: () => nudge("size", 1 / 1.2, 0) },
    { id: "larger", name: "Larger nib", group: "Draw", key: "]", hidden: true, run: () => nudge("size", 1.2, 0) },
    { id: "paler", name: "Paler tone", group: "Draw", key: ",", hidden: true, run: () => nudge("tone", 1, -5) },
    { id: "darker", name: "Darker tone", group: "Draw", key: ".", hidden: true, run: () => nudge("tone", 1, 5) },
  ];

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
                colour={sketch.tool === "lifter" ? rgb(data.body.paper) : rgb(sketch.colour)}
                mirror={
                  axis?.on ? { x: axis.axis.x, y: axis.axis.y, angle: ((axis.axis.angle ?? 90) * Math.PI) / 180 } : null
                }
                drawing={sketch.tool !== "frame"}
                handle={paper}
                onView={setView}
                onBegin={() => setBegun(row.id)}
                onStroke={(strokes) => {
                  if (!layer) return notify("There is no ink layer to draw on. Add one first.");
                  const query = new URLSearchParams({
                    layer: layer.id,
                    nib: nibName,
                    size: String(nib.size),
                    tone: String(nib.tone),
                    colour: sketch.colour,
                  });
                  page
                    .keep(strokes, query)
                    .then(() => refresh(row.id))
                    .catch((error) => notify(error.message));
                }}
                onDrag={(from, to, ended) => {
                  setFraming(ended ? null : { from, to });
                  if (!ended) return;
                  const kind = sketch.frameAs;
                  const named = data.body.views.filter((other) => other.view === kind).length;
                  edit({
                    kind: "frame_view",
                    id: newId().slice(0, 8),
                    view: kind,
                    name: named ? `${kind} ${named + 1}` : kind,
                    rect: inside(from, to, data.body.width, data.body.height),
                  }).then((kept) => kept && sketch.set({ tool: "pencil" }));
                }}
                overlay={(place) => <SheetOverlay view={place} sheet={data.body} framing={framing} edit={edit} />}
              />
              {data.standing.head == null && begun !== row.id && (
                <BlankSheet onPicture={() => chooser.current?.click()} />
              )}
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
        accept="image/png,image/jpeg,image/tiff"
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

function BlankSheet(props: { onPicture: () => void }) {
  return (
    <div className="pointer-events-none absolute inset-x-0 top-[30%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">A blank sheet</p>
      <p className="mt-1 text-quiet">
        Think on paper: draw with the pen or the mouse, or{" "}
        <button type="button" onClick={props.onPicture} className="pointer-events-auto text-act underline">
          place a picture
        </button>{" "}
        to draw over.
      </p>
    </div>
  );
}

function rgb(colour: string): [number, number, number] {
  return [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16)) as [number, number, number];
}

function inside(
  a: [number, number],
  b: [number, number],
  width: number,
  height: number,
): [number, number, number, number] {
  const clamp = (value: number, most: number) => Math.round(Math.min(most, Math.max(0, value)));
  return [
    clamp(Math.min(a[0], b[0]), width),
    clamp(Math.min(a[1], b[1]), height),
    clamp(Math.max(a[0], b[0]), width),
    clamp(Math.max(a[1], b[1]), height),
  ];
}
