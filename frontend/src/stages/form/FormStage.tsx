import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { answer, api, type Shapes, send } from "../../api/client";
import { at, newId, useEdit, useForm } from "../../api/queries";
import type { StageProps } from "../../bench/Bench";
import { useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { Button } from "../../ui/controls";
import { cameraOf, lookFrom, type Side } from "../../view3d/orbit";
import { allHere, extentOf, useParts } from "../../view3d/useParts";
import { type Spot, View3D, type ViewHandle } from "../../view3d/View3D";
import { formCommands } from "./commands";
import type { Grip, StepValues } from "./dragging";
import { FormInspector } from "./FormInspector";
import { FormScene } from "./FormScene";
import { Handle } from "./Handle";
import { Picker, pickedPoints, seatOf } from "./picking";
import { ReferencePlane } from "./ReferencePlane";
import { isEven, type StartShape } from "./starts";
import type { PickHow } from "./store";
import { type PickKind, useFormStage } from "./store";
import { type Drag, useDrag } from "./useDrag";

/** Ms within which a second touch of the same item counts as one gesture with the first. */
const TWICE = 350;

/** Form: sculpt the product. */
export default function FormStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const edit = useEdit(project, row.id);
  const notify = useBench((bench) => bench.notify);
  const state = useFormStage();
  const { set } = state;
  const parts = useParts(project, row.id, data?.body);
  // the part worked on is chosen from the document, never from whichever mesh arrives first
  const shownParts = data?.body.parts?.filter((candidate) => candidate.visible) ?? [];
  const active = shownParts.find((candidate) => candidate.id === state.part) ?? shownParts[0];
  const mesh = parts.find((shown) => shown.part.id === active?.id)?.mesh;
  const view = useRef<ViewHandle>(null);
  const importer = useRef<HTMLInputElement>(null);
  const [cagePoints, setCagePoints] = useState<Float32Array | null>(null);
  const [hovered, setHovered] = useState<number | null>(null);
  const [boxing, setBoxing] = useState<{ from: Spot; to: Spot } | null>(null);
  const fresh = useRef(false);
  const seen = useRef<string>(undefined);

  useEffect(() => {
    set({ part: active?.id ?? null });
  }, [active?.id, set]);
  useEffect(() => {
    setCagePoints(null);
    const now = useFormStage.getState();
    const counts = mesh && {
      points: mesh.points.length / 3,
      edges: mesh.edges.length / 2,
      faces: mesh.faceStarts.length - 1,
    };
    if (counts && now.items.some((item) => item >= counts[now.kind])) set({ items: [] });
    if (mesh && seen.current === active?.id) set({ milliseconds: mesh.meta.milliseconds });
    if (mesh) seen.current = active?.id;
  }, [mesh, active?.id, set]);
  useEffect(() => {
    if (allHere(data?.body, parts) && !fresh.current) {
      fresh.current = true;
      const { target, extent } = extentOf(parts);
      set({ orbit: lookFrom("three-quarter", target, extent) });
    }
  }, [data?.body, parts, set]);

  const size = useQuery({
    queryKey: ["size", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/size", at(project, row.id))),
    placeholderData: (previous) => previous,
    enabled: !!data,
  });

  const items = mesh ? state.items : [];
  const picked = useMemo(() => (mesh ? pickedPoints(mesh, state.kind, items) : []), [mesh, state.kind, items]);
  const seat = mesh && picked.length ? seatOf(cagePoints ?? mesh.points, picked) : null;
  const address = active && `/api/projects/${project}/forms/${row.id}/parts/${active.id}`;
  const symmetric = active?.symmetric ?? false;

  const shape = async (step: object) => {
    if (!active) return false;
    return edit({ kind: "shape", part: active.id, step: { ...step, symmetric } } as Shapes["Shape"]);
  };
  const place = (values: StepValues, points = picked) =>
    shape({ kind: "placed", how: values.how, points, values: values.values, seat: values.seat });

  const picker = (spot: { width: number; height: number }) =>
    new Picker(mesh!, cameraOf(state.orbit, spot.width, spot.height), spot, state.through, state.shown);

  const { drag, begin, move, end } = useDrag({ mesh, address, symmetric, view, setCagePoints, place });

  // a second touch of the same item picks the row or band it belongs to
  const touched = useRef({ item: -1, at: 0 });
  const twice = (item: number): boolean => {
    const before = touched.current;
    touched.current = { item, at: performance.now() };
    return state.kind !== "points" && before.item === item && performance.now() - before.at < TWICE;
  };
  const grabbed = useRef<{
    item: number | null;
    drag: Drag | null;
    from: Spot;
    moved: boolean;
    adding: boolean;
  } | null>(null);
  const hands = {
    onDown: (spot: Spot, event: PointerEvent) => {
      if (!mesh) return false;
      const item = picker(spot).at(state.kind, spot);
      if (item == null) {
        if (!event.shiftKey) return false;
        setBoxing({ from: spot, to: spot });
        return true;
      }
      grabbed.current = { item, drag: null, from: spot, moved: false, adding: event.shiftKey };
      return true;
    },
    onMove: (spot: Spot) => {
      if (boxing) return setBoxing({ ...boxing, to: spot });
      const grab = grabbed.current;
      if (!grab || !mesh || grab.item == null) return;
      if (!grab.moved && Math.hypot(spot.x - grab.from.x, spot.y - grab.from.y) < 4) return;
      if (!grab.moved) {
        grab.moved = true;
        const chosen = items.includes(grab.item) ? items : [grab.item];
        set({ items: chosen });
        grab.drag = begin("free", grab.from, pickedPoints(mesh, state.kind, chosen));
      }
      if (grab.drag) grab.drag = move(grab.drag, spot);
    },
    onUp: (spot: Spot) => {
      if (boxing && mesh) {
        const found = picker(spot).inBox(state.kind, boxing.from, spot);
        set({ items: [...new Set([...items, ...found])] });
        setBoxing(null);
        return;
      }
      const grab = grabbed.current;
      grabbed.current = null;
      if (!grab || grab.item == null) return;
      if (grab.drag) end(grab.drag);
      else if (!grab.adding && twice(grab.item)) pickMore(state.kind === "faces" ? "band" : "row", [grab.item]);
      else if (!grab.adding) set({ items: [grab.item] });
      else
        set({
          items: items.includes(grab.item) ? items.filter((other) => other !== grab.item) : [...items, grab.item],
        });
    },
    onClick: () => set({ items: [] }),
    onHover: (spot: Spot) => mesh && setHovered(picker(spot).at(state.kind, spot)),
  };

  const gripDown = (grip: Grip, event: React.PointerEvent) => {
    const frame = (event.target as Element).closest("[data-testid=view3d]")!;
    const box = frame.getBoundingClientRect();
    const spotOf = (e: { clientX: number; clientY: number }): Spot => ({
      x: e.clientX - box.left,
      y: e.clientY - box.top,
      width: box.width,
      height: box.height,
    });
    let now = begin(grip, spotOf(event), picked);
    const moved = (e: PointerEvent) => {
      now = move(now, spotOf(e));
    };
    const up = () => {
      window.removeEventListener("pointermove", moved);
      window.removeEventListener("pointerup", up);
      end(now);
    };
    window.addEventListener("pointermove", moved);
    window.addEventListener("pointerup", up);
  };

  const look = (side: Side) => {
    const { target, extent } = extentOf(parts);
    set({ orbit: lookFrom(side, target, extent) });
  };
  const choose = (kind: PickKind) => set({ kind, items: convert(kind), tool: "pick" });
  const convert = (kind: PickKind): number[] => {
    if (!mesh || kind === state.kind) return state.items;
    const points = new Set(picked);
    if (kind === "points") return [...points];
    if (kind === "edges") {
      return Array.from({ length: mesh.edges.length / 2 }, (_, e) => e).filter(
        (e) => points.has(mesh.edges[2 * e]) && points.has(mesh.edges[2 * e + 1]),
      );
    }
    return Array.from({ length: mesh.faceStarts.length - 1 }, (_, f) => f).filter((f) =>
      mesh.facePoints.subarray(mesh.faceStarts[f], mesh.faceStarts[f + 1]).every((p) => points.has(p)),
    );
  };
  const beginPart = async (start: StartShape) => {
    const id = newId().slice(0, 8);
    const count = data?.body.parts?.length ?? 0;
    const kept = await edit({
      kind: "start_part",
      part: id,
      name: count ? `Part ${count + 1}` : "Body",
      start,
      symmetric: isEven(start),
    });
    if (kept) set({ part: id, items: [], tool: "pick" });
  };
  const extrude = () => {
    if (state.kind !== "faces" || !items.length) return notify("Pick faces first, then extrude them.");
    shape({ kind: "extruded", faces: items, distance: state.distance });
  };
  const crease = (value: number, sharp = false) => {
    if (!mesh || state.kind !== "edges" || !items.length) return notify("Pick edges first, then crease them.");
    const edges = items.map((edge) => [mesh.edges[2 * edge], mesh.edges[2 * edge + 1]]);
    shape({ kind: "creased", edges, crease: value, sharp });
  };
  const inset = () => {
    if (state.kind !== "faces" || !items.length) return notify("Pick faces first, then set them in.");
    shape({ kind: "inset", faces: items, width: state.inset.width, single: state.inset.single });
  };
  const pickedEdge = () =>
    mesh && state.kind === "edges" && items.length === 1
      ? [mesh.edges[2 * items[0]], mesh.edges[2 * items[0] + 1]]
      : null;
  const addRow = () => {
    const edge = pickedEdge();
    if (!edge) return notify("Pick one edge that the row is to cross.");
    shape({ kind: "row", edge, share: state.share / 100 });
  };
  const fill = () => {
    const edge = pickedEdge();
    if (!edge) return notify("Pick one edge of the opening’s border.");
    shape({ kind: "filled", edge });
  };
  const removeFaces = async () => {
    if (await shape({ kind: "removed", faces: items })) set({ items: [] });
  };
  const pickMore = async (how: PickHow, from = items, kind = state.kind) => {
    if (!active || !from.length) return notify("Pick something to begin from first.");
    try {
      const picked = await answer(
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/pick", {
          params: { path: { project, document: row.id, part: active.id } },
          body: { kind, items: from as [number], how },
        }),
      );
      set({ items: picked.items });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const bringIn = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    try {
      await send(`/api/projects/${project}/forms/${row.id}/import`, { method: "POST", body: form });
    } catch (error) {
      notify((error as Error).message);
    }
    const { refresh } = await import("../../api/queries");
    await refresh(row.id);
  };
  const download = (format: string) =>
    location.assign(
      `/api/projects/${project}/forms/${row.id}/export?format=${format}${format === "obj" && active ? `&part=${active.id}` : ""}`,
    );

  const commands = formCommands({
    state,
    symmetric,
    hasPicked: state.kind === "faces" && items.length > 0,
    choose,
    convert,
    look,
    extrude,
    crease,
    begin: beginPart,
    inset,
    addRow,
    fill,
    removeFaces,
    pickMore: (how) => pickMore(how),
    download,
    pickAll: () => mesh && set({ items: everything(mesh, state.kind) }),
    bringIn: () => importer.current?.click(),
    mirror: () => active && edit({ kind: "change_part", part: active.id, symmetric: !symmetric }),
  });

  return (
    <>
      <Workplace
        project={project}
        document={row.id}
        commands={commands}
        canvas={
          <>
            <View3D
              label="Form"
              busy={!!data?.body.parts?.length && !mesh}
              orbit={state.orbit}
              onOrbit={(orbit) => set({ orbit })}
              hands={hands}
              handle={view}
              overlay={(box) => (
                <svg className="h-full w-full" role="presentation">
                  {seat && (
                    <Handle
                      seat={seat}
                      camera={cameraOf(state.orbit, box.width, box.height)}
                      size={box}
                      kind={state.handle}
                      held={drag?.grip ?? null}
                      said={drag?.values ? say(drag.values) : ""}
                      onGrip={gripDown}
                    />
                  )}
                  {boxing && (
                    <rect
                      x={Math.min(boxing.from.x, boxing.to.x)}
                      y={Math.min(boxing.from.y, boxing.to.y)}
                      width={Math.abs(boxing.to.x - boxing.from.x)}
                      height={Math.abs(boxing.to.y - boxing.from.y)}
                      fill="var(--pick)"
                      fillOpacity={0.08}
                      stroke="var(--pick)"
                    />
                  )}
                </svg>
              )}
            >
              <FormScene
                parts={parts}
                active={active?.id ?? null}
                cagePoints={cagePoints}
                shown={state.shown}
                kind={state.kind}
                items={items}
                hovered={drag ? null : hovered}
              />
              {data?.body.references?.map((reference) => (
                <ReferencePlane key={reference.id} project={project} reference={reference} />
              ))}
            </View3D>
            {data && !data.body.parts?.length && <NoForm onBox={() => set({ tool: "box" })} />}
          </>
        }
        inspector={
          data && (
            <FormInspector
              project={project}
              documents={documents}
              form={data.body}
              active={active}
              mesh={mesh}
              picked={picked}
              edit={edit}
              place={place}
              crease={crease}
            />
          )
        }
        foot={
          size.data && (
            <>
              <b className="font-medium text-ink" data-testid="size">
                {size.data.width.toFixed(1)} × {size.data.depth.toFixed(1)} × {size.data.height.toFixed(1)} mm
              </b>
              <span>{(size.data.volume / 1000).toFixed(1)} cm³</span>
              <span>{size.data.parts} parts</span>
              <span>{size.data.faces} faces</span>
              {state.milliseconds > 0 && <span>{state.milliseconds.toFixed(1)} ms</span>}
            </>
          )
        }
      />
      <input
        ref={importer}
        type="file"
        accept=".obj"
        aria-label="Cage file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) bringIn(file);
        }}
      />
    </>
  );
}

function everything(mesh: NonNullable<ReturnType<typeof useParts>[number]["mesh"]>, kind: PickKind): number[] {
  const count = { points: mesh.points.length / 3, edges: mesh.edges.length / 2, faces: mesh.faceStarts.length - 1 }[
    kind
  ];
  return Array.from({ length: count }, (_, index) => index);
}

function say({ how, values }: StepValues): string {
  const letters = ["W", "D", "H"];
  if (how === "turn") return `${Math.hypot(...values).toFixed(1)}°`;
  const rest = how === "size" ? 1 : 0;
  return values
    .map((value, axis) => ({ value, letter: letters[axis] }))
    .filter(({ value }) => Math.abs(value - rest) > 0.005)
    .map(({ value, letter }) =>
      how === "size"
        ? `${letter} ${Math.round(value * 100)} %`
        : `${letter} ${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(1)}`,
    )
    .join("  ");
}

function NoForm(props: { onBox: () => void }) {
  const go = useBench((bench) => bench.go);
  return (
    <div className="absolute inset-x-0 top-[34%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">No form yet</p>
      <p className="mt-1 mb-4 text-quiet">
        The right volume in minutes: begin with a box of the product’s size, over your own sketch.
      </p>
      <div className="flex justify-center gap-3">
        <Button weight="act" onClick={props.onBox}>
          Begin with a box
        </Button>
        <Button onClick={() => go("Sketch")}>Frame a view to pin</Button>
      </div>
    </div>
  );
}
