import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Vector3 } from "three";
import { answer, api, type Shapes } from "../../api/client";
import { at, newId, sendForm, useEdit, useForm } from "../../api/queries";
import type { StageProps } from "../../bench/Bench";
import { useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { Button } from "../../ui/controls";
import { cameraOf, lookFrom, type Side } from "../../view3d/orbit";
import type { PartMesh } from "../../view3d/partMesh";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { extentOf, useParts } from "../../view3d/useParts";
import { type Spot, View3D, type ViewHandle } from "../../view3d/View3D";
import { formCommands } from "./commands";
import type { Grip, StepValues } from "./dragging";
import { comesRound, lineThrough, profileOf, profileOfLine } from "./drawnLines";
import { FormInspector } from "./FormInspector";
import { FormScene } from "./FormScene";
import { Handle } from "./Handle";
import { Dimensions, Reach, Traces } from "./Overlay";
import { measureBetween } from "./PartsCard";
import { pickedPoints } from "./picking";
import { ReferencePlane } from "./ReferencePlane";
import { handleSeat, type SeatTo, seatTo } from "./seat";
import { nearestOnLines, useSheetLines } from "./sheetLines";
import { isEven, type StartShape } from "./starts";
import { type PickHow, type PickKind, useFormStage } from "./store";
import { drawsLine, STEP_TOOLS, type StepTool, stepOf } from "./tools";
import { type Drag, useDrag } from "./useDrag";
import { useHands } from "./useHands";

const NONE: Shapes["Reference"][] = [];

/** Form: sculpt the product. */
export default function FormStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const edit = useEdit(project, row.id);
  const notify = useBench((bench) => bench.notify);
  const state = useFormStage();
  const { set } = state;
  const parts = useParts(project, row.id, data);
  const meshes = useMemo(() => new Map(parts.map(({ part, mesh }) => [part.id, mesh])), [parts]);
  // the part worked on is chosen from the document, never from whichever mesh arrives first
  const shownParts = data?.body.parts?.filter((candidate) => candidate.visible) ?? [];
  const active = shownParts.find((candidate) => candidate.id === state.part) ?? shownParts[0];
  const mesh = active && meshes.get(active.id);
  const lines = useSheetLines(project, data?.body.references ?? NONE);
  const view = useRef<ViewHandle>(null);
  const canvas = useRef({ width: 800, height: 600 });
  const importer = useRef<HTMLInputElement>(null);
  const bringsStill = useRef(false);
  const [cagePoints, setCagePoints] = useState<Float32Array | null>(null);
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
  useAddressedOrbit("Form", state.orbit, data, parts, set);

  const size = useQuery({
    queryKey: ["size", row.id, data?.standing.head],
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}/size", at(project, row.id))),
    placeholderData: (previous) => previous,
    enabled: !!data,
  });

  const items = mesh ? state.items : [];
  const picked = useMemo(() => (mesh ? pickedPoints(mesh, state.kind, items) : []), [mesh, state.kind, items]);
  const seat =
    mesh && picked.length ? handleSeat(mesh, cagePoints ?? mesh.points, state.kind, items, state.seat) : null;
  const address = active && `/api/projects/${project}/forms/${row.id}/parts/${active.id}`;
  const symmetry = active?.symmetry ?? null;
  // what keeps the part from being shaped, so that a drag is refused before it begins
  const frozen = useRef<string | null>(null);
  frozen.current = active?.locked
    ? `${active.name} is locked. Unlock it first.`
    : active?.link
      ? `${active.name} follows ${data?.body.parts?.find((part) => part.id === active.link)?.name}. Shape that one, or break the link first.`
      : null;

  const shape = async (step: object) => {
    if (!active) return false;
    const shaped = { kind: "shape", part: active.id, step: { ...step, symmetry } };
    return edit(shaped as Shapes["Shape"]);
  };
  const place = (values: StepValues, points = picked) =>
    shape({ kind: "placed", points, reach: state.reach, ...values });
  const dragging = useDrag({ mesh, address, symmetry, lines, view, setCagePoints, place });
  const { drag } = dragging;

  const apply = async (tool: StepTool, numbers?: object, line?: Parameters<typeof stepOf>[3]) => {
    if (!active || !mesh) return notify("There is no part to shape yet. Begin one first.");
    const step = stepOf(tool, mesh, state, line);
    if (!step) return notify(tool.hint);
    const kept = await shape({ ...step, ...numbers });
    if (kept && (tool.kind === "removed" || tool.kind === "cut" || tool.kind === "alike")) set({ items: [] });
  };
  const lineTool = STEP_TOOLS.find((tool) => tool.kind === state.tool && drawsLine(tool, state.nexts));
  const drawn = (spots: Spot[]) => {
    const spot = spots[0];
    const camera = cameraOf(state.orbit, spot.width, spot.height);
    const still = spots.every((other) => Math.hypot(other.x - spot.x, other.y - spot.y) < 4);
    if (state.tool === "turned") {
      const found = still ? nearestOnLines(lines, camera, spot, 14) : null;
      const profile = found ? profileOfLine(found.line) : still ? [] : profileOf(spots, camera);
      if (profile.length < 2)
        return notify("Draw the profile beside the upright axis, or touch a line of a sheet seen square-on.");
      return beginPart({ ...state.firsts.turned, profile, closed: comesRound(profile) } as StartShape);
    }
    const line = still ? null : lineThrough(spots, camera, seat?.place ?? new Vector3(...state.orbit.target));
    if (!lineTool || !line) return notify(lineTool?.hint ?? "Draw a line.");
    return apply(lineTool, undefined, line);
  };
  const measurePoint = (point: number) => {
    if (!active) return;
    if (state.measuring === null) return set({ measuring: point });
    if (point !== state.measuring) edit(measureBetween(active.id, state.measuring, point));
    set({ measuring: null });
  };
  const { hands, hovered, gathering, line, touch } = useHands({
    mesh,
    cagePoints,
    dragging,
    onLine: lineTool || state.tool === "turned" ? drawn : null,
    onPoint: state.tool === "measure" ? measurePoint : null,
    pickMore: (how, from) => pickMore(how, from),
    frozen,
    refuse: notify,
  });

  const gripDown = (grip: Grip, event: React.PointerEvent) => {
    if (!seat) return;
    const frame = (event.target as Element).closest("[data-testid=view3d]")!;
    const box = frame.getBoundingClientRect();
    const spotOf = (e: { clientX: number; clientY: number }): Spot => ({
      x: e.clientX - box.left,
      y: e.clientY - box.top,
      width: box.width,
      height: box.height,
    });
    const from = spotOf(event);
    let now: Drag | null = null;
    const moved = (e: PointerEvent) => {
      const to = spotOf(e);
      if (!now && Math.hypot(to.x - from.x, to.y - from.y) < 3) return;
      if (frozen.current) return;
      now = dragging.move(now ?? dragging.begin(grip, from, picked, seat), to);
    };
    const up = (e: PointerEvent) => {
      window.removeEventListener("pointermove", moved);
      window.removeEventListener("pointerup", up);
      const to = spotOf(e);
      if (now) dragging.end(now);
      else if (Math.hypot(to.x - from.x, to.y - from.y) < 3) touch(to, e.shiftKey);
      else if (frozen.current) notify(frozen.current);
    };
    window.addEventListener("pointermove", moved);
    window.addEventListener("pointerup", up);
  };
  /** A step of the arrow keys: along the world's direction that runs most to the right, or up, on the screen. */
  const nudge = (across: number, up: number) => {
    if (!picked.length || !seat) return;
    const camera = cameraOf(state.orbit, canvas.current.width, canvas.current.height);
    const way = new Vector3().setFromMatrixColumn(camera.matrixWorld, across ? 0 : 1).multiplyScalar(across || up);
    const axis = [0, 1, 2].reduce((a, b) => (Math.abs(way.getComponent(b)) > Math.abs(way.getComponent(a)) ? b : a));
    const values: [number, number, number] = [0, 0, 0];
    values[axis] = Math.sign(way.getComponent(axis)) * state.grid;
    place({ how: "move", values, seat: seat.place.toArray() as [number, number, number] });
  };
  const seatAt = (to: SeatTo) => {
    if (!mesh) return;
    const camera = cameraOf(state.orbit, canvas.current.width, canvas.current.height);
    set({ seat: seatTo(to, mesh, cagePoints ?? mesh.points, state.kind, items, camera) });
  };

  const look = (side: Side) => {
    const { target, extent } = extentOf(state.solo ? parts.filter(({ part }) => part.id === state.solo) : parts);
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
      symmetry: isEven(start) ? { planes: ["W"] } : null,
    } as AnyStart);
    if (kept) set({ part: id, items: [], tool: "pick" });
  };
  const pickMore = async (how: PickHow, from = items) => {
    if (!active || !from.length) return notify("Pick something to begin from first.");
    try {
      const found = await answer(
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/pick", {
          params: { path: { project, document: row.id, part: active.id } },
          body: { kind: state.kind, items: from as [number], how },
        }),
      );
      set({ items: found.items });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const bringIn = async (file: File) => {
    const form = new FormData();
    form.append("file", file);
    form.append("still", String(bringsStill.current));
    try {
      await sendForm(row.id, `/api/projects/${project}/forms/${row.id}/import`, form);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const download = (format: string) => {
    const one = (format === "obj" || format === "cage.ply") && active ? `&part=${active.id}` : "";
    location.assign(`/api/projects/${project}/forms/${row.id}/export?format=${format}${one}`);
  };
  const planes = symmetry?.planes ?? [];
  const turns = symmetry?.turns ?? 1;

  const commands = formCommands({
    state,
    symmetry: planes.length ? planes.join(" ") : turns > 1 ? `${turns} turns` : undefined,
    choose,
    convert,
    look,
    apply,
    slide: (tool, numbers) => {
      const step = mesh && stepOf(tool, mesh, state);
      if (step) dragging.previewed({ ...step, ...numbers });
    },
    begin: beginPart,
    pickMore: (how) => pickMore(how),
    nudge,
    download,
    pickAll: () => mesh && set({ items: everything(mesh, state.kind) }),
    bringIn: (still) => {
      bringsStill.current = still;
      importer.current?.click();
    },
    mirror: () =>
      active &&
      edit({
        kind: "change_part",
        part: active.id,
        symmetry: planes.length || turns > 1 ? {} : { planes: ["W"] },
      }),
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
              busy={!!active && !mesh && !data?.problems[active.id]}
              orbit={state.orbit}
              onOrbit={(orbit) => set({ orbit })}
              hands={hands}
              handle={view}
              overlay={(box) => {
                canvas.current = box;
                return (
                  <svg className="h-full w-full" role="presentation">
                    <Dimensions measures={data?.body.measures ?? []} meshes={meshes} orbit={state.orbit} size={box} />
                    {seat && state.reach > 0 && (
                      <Reach seat={seat.place} reach={state.reach} orbit={state.orbit} size={box} />
                    )}
                    {seat && !lineTool && state.tool !== "measure" && (
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
                    <Traces gathering={gathering} lasso={state.lasso} line={line} />
                  </svg>
                );
              }}
            >
              <FormScene
                parts={state.solo ? parts.filter(({ part }) => part.id === state.solo) : parts}
                active={active?.id ?? null}
                cagePoints={cagePoints}
                shown={state.shown}
                clear={state.clear}
                kind={state.tool === "measure" ? "points" : state.kind}
                items={state.tool === "measure" ? (state.measuring === null ? [] : [state.measuring]) : items}
                hovered={drag ? null : hovered}
              />
              {data?.body.references?.map((reference) => (
                <ReferencePlane
                  key={reference.id}
                  project={project}
                  reference={reference}
                  lines={lines.find((stood) => stood.reference === reference.id)?.lines}
                />
              ))}
            </View3D>
            {active && data?.problems[active.id] && (
              <p
                role="alert"
                className="absolute inset-x-0 top-6 mx-auto w-fit max-w-[32rem] bg-paper px-4 py-2 text-wrong"
              >
                {data.problems[active.id]}
              </p>
            )}
            {data && !data.body.parts?.length && state.tool !== "turned" && (
              <NoForm onBox={() => set({ tool: "box" })} />
            )}
          </>
        }
        inspector={
          data && (
            <FormInspector
              project={project}
              document={row.id}
              documents={documents}
              form={data.body}
              meshKey={active && data.keys[active.id]}
              active={active}
              mesh={mesh}
              meshes={meshes}
              seat={seat}
              picked={picked}
              grams={active && size.data?.grams[active.id]}
              edit={edit}
              place={place}
              crease={(numbers) => apply(STEP_TOOLS.find((tool) => tool.kind === "creased")!, numbers)}
              seatAt={seatAt}
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
              {Object.keys(size.data.grams).length > 0 && (
                <span>
                  {Object.values(size.data.grams)
                    .reduce((a, b) => a + b, 0)
                    .toFixed(0)}{" "}
                  g
                </span>
              )}
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
        accept=".obj,.ply,.stl,.glb"
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

type AnyStart = Shapes["StartPart"];

function everything(mesh: PartMesh, kind: PickKind): number[] {
  const count = { points: mesh.points.length / 3, edges: mesh.edges.length / 2, faces: mesh.faceStarts.length - 1 }[
    kind
  ];
  return Array.from({ length: count }, (_, index) => index);
}

function say({ how, values }: StepValues): string {
  const letters = ["W", "D", "H"];
  if (how === "turn") return `${Math.hypot(...values).toFixed(1)}°`;
  if (how === "push") return `${values[0] < 0 ? "−" : "+"}${Math.abs(values[0]).toFixed(1)}`;
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
    <div className="pointer-events-none absolute inset-x-0 top-[34%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">No form yet</p>
      <p className="mt-1 mb-4 text-quiet">
        The right volume in minutes: begin with a box of the product’s size, over your own sketch.
      </p>
      <div className="pointer-events-auto flex justify-center gap-3">
        <Button weight="act" onClick={props.onBox}>
          Begin with a box
        </Button>
        <Button onClick={() => go("Sketch")}>Frame a view to pin</Button>
      </div>
    </div>
  );
}
