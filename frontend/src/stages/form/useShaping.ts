import { type RefObject, useRef } from "react";
import { Vector3 } from "three";
import { api, type Shapes } from "../../api/client";
import { ask, at, newId, queries, refresh, stateKey, useEdit, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import type { Spot } from "../../ui/pointing";
import { cameraOf, lookFrom, rayAt } from "../../view3d/orbit";
import type { PartMesh } from "../../view3d/partMesh";
import type { ViewHandle } from "../../view3d/View3D";
import { tr } from "../../words/words";
import type { StepValues } from "./dragging";
import { comesRound, lineThrough, profileOf, profileOfLine } from "./drawnLines";
import { formEye, useHand } from "./hand";
import { seatNow } from "./seat";
import { nearestOnLines, type StoodLines } from "./sheetLines";
import { isEven, type StartShape } from "./starts";
import { isParted } from "./steps";
import { useFormStage } from "./store";
import { drawsLine, STEP_TOOLS, type StepTool, stepOf } from "./tools";
import { useDrag } from "./useDrag";

interface Shaped {
  project: string;
  document: string;
  form: Shapes["Form"] | undefined;
  /** Why parts are not to be shaped. */
  held: Record<string, string>;
  active: Shapes["Part"] | undefined;
  mesh: PartMesh | undefined;
  picked: number[];
  lines: StoodLines[];
  view: RefObject<ViewHandle | null>;
}

/** Px within which a touched line of a sheet is meant. */
const REACH = 14;

/** What changes the part worked on: steps, drags, lines that are drawn, new parts. */
export function useShaping(shaped: Shaped) {
  const { project, document, form, active, mesh, picked, lines, view } = shaped;
  const edit = useEdit(project, document);
  const notify = useBench((bench) => bench.notify);
  const work = useWork(document);
  const symmetry = active?.symmetry ?? null;

  // what keeps the part from being shaped, so that a drag is refused before it begins
  const frozen = useRef<string | null>(null);
  frozen.current = (active && shaped.held[active.id]) ?? null;

  const shape = async (step: object) =>
    !!active && edit({ kind: "shape", part: active.id, step: { ...step, symmetry } } as Shapes["Shape"]);
  const place = (values: StepValues, points = picked) =>
    shape({ kind: "placed", points, reach: useFormStage.getState().reach, ...values });
  const address = active && `/api/projects/${project}/forms/${document}/parts/${active.id}`;
  const dragging = useDrag({ mesh, address, symmetry, lines, view, place });

  const apply = async (tool: StepTool, numbers?: object, line?: Parameters<typeof stepOf>[3]) => {
    if (!active || !mesh) return notify(tr("There is no part to shape yet. Begin one first."));
    const state = useFormStage.getState();
    const step = stepOf(tool, mesh, state, line);
    if (!step) return notify(tool.hint);
    const whole = tool.kind === "stood" && !isParted(active) ? { apart: 0 } : {}; // not asked for where it says nothing
    const kept = await shape({ ...step, ...numbers, ...whole });
    if (kept && (tool.kind === "removed" || tool.kind === "cut" || tool.kind === "alike")) state.set({ items: [] });
  };
  const slide = (tool: StepTool, numbers: object) => {
    const step = mesh && stepOf(tool, mesh, useFormStage.getState());
    if (step) dragging.previewed({ ...step, ...numbers });
  };
  const begin = async (start: StartShape) => {
    const part = newId().slice(0, 8);
    const count = form?.parts?.length ?? 0;
    const name = count ? tr`Part ${count + 1}` : "Body";
    const even = isEven(start) ? { planes: ["W"] } : null;
    const kept = await edit({ kind: "start_part", part, name, start, symmetry: even } as Shapes["StartPart"]);
    if (kept) useFormStage.getState().set({ part, items: [], tool: "pick" });
  };
  /** Pins a view of a sheet, and begins a part over it. Where it stands is looked at. */
  const beginOver = async (over: Shapes["BeginRequest"]) => {
    const before = new Set(form?.parts?.map(({ id }) => id));
    const kept = await work(() =>
      ask(document, (headers) =>
        api.POST("/api/projects/{project}/forms/{document}/begin", { ...at(project, document), headers, body: over }),
      ),
    );
    if (!kept) return;
    const state = queries.getQueryData<Shapes["FormState"]>(stateKey(document));
    const part = state?.body.parts?.find(({ id }) => !before.has(id));
    const reference = state?.body.references?.find(({ sheet }) => sheet === over.sheet);
    const side = over.how === "pin" && reference && reference.plane !== "sketch" ? reference.plane : "three-quarter";
    formEye.look(lookFrom(side, [0, 0, 0], 1.1 * (over.height ?? 100)));
    if (part) useFormStage.getState().set({ part: part.id, items: [], tool: "pick" });
    await refresh(over.sheet); // it may have been framed for this; whoever goes on meanwhile is not disturbed
  };
  const turn = (spots: Spot[], still: boolean) => {
    const spot = spots[0]!; // where the line begins
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const found = still ? nearestOnLines(lines, camera, spot, REACH) : null;
    const profile = found ? profileOfLine(found.line) : still ? [] : profileOf(spots, camera);
    if (profile.length < 2)
      return notify(tr("Draw the profile beside the upright axis, or touch a line of a sheet seen square-on."));
    const { firsts } = useFormStage.getState();
    return begin({ ...firsts.turned, profile, closed: comesRound(profile) } as StartShape);
  };
  /** A touched line of a sheet, laid on the skin from where its view was drawn. */
  const fromSheet = async (spot: Spot) => {
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const { origin, direction } = rayAt(camera, spot.x, spot.y, spot.width, spot.height).ray;
    const body = {
      eye: origin.toArray() as [number, number, number],
      way: direction.toArray() as [number, number, number],
      smooth: useFormStage.getState().skinSmooth,
    };
    const kept = await work(() =>
      ask(document, (headers) =>
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/throw", {
          params: { path: { project, document, part: active!.id } },
          headers,
          body,
        }),
      ),
    );
    if (kept) useFormStage.getState().set({ tool: "pick", beneath: null });
  };
  /** A line drawn on the skin; where it comes back to its beginning it runs round. */
  const onSkin = async (spots: Spot[], still: boolean) => {
    const spot = spots[0]!; // where the line begins
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const through = lineThrough(spots, camera, new Vector3(...useHand.getState().orbit.target));
    if (!active) return notify(tr("There is no part to shape yet. Begin one first."));
    if (still || !through) return fromSheet(spot);
    const seen = spots.map(({ x, y }) => [x, y] as [number, number]);
    const step = {
      kind: "drawn_line",
      ...through,
      closed: comesRound(seen),
      smooth: useFormStage.getState().skinSmooth,
      tag: newId().slice(0, 6),
    };
    if (await edit({ kind: "shape", part: active.id, step } as unknown as Shapes["Shape"]))
      useFormStage.getState().set({ tool: "pick", beneath: null });
  };
  const drawn = (spots: Spot[]) => {
    const spot = spots[0]!; // where the line begins
    const still = spots.every((other) => Math.hypot(other.x - spot.x, other.y - spot.y) < 4);
    const { tool, nexts, kind, items } = useFormStage.getState();
    if (tool === "turned") return turn(spots, still);
    if (tool === "skin-line") return onSkin(spots, still);
    const { orbit } = useHand.getState();
    const seat = mesh && seatNow(mesh, kind, items);
    const camera = cameraOf(orbit, spot.width, spot.height);
    const line = still ? null : lineThrough(spots, camera, seat?.place ?? new Vector3(...orbit.target));
    const lineTool = lineToolOf(tool, nexts);
    if (!lineTool || !line) return notify(lineTool?.hint ?? tr("Draw a line."));
    return apply(lineTool, undefined, line);
  };
  const mirror = () =>
    active &&
    edit({
      kind: "change_part",
      part: active.id,
      symmetry: symmetry?.planes?.length || (symmetry?.turns ?? 1) > 1 ? {} : { planes: ["W"] },
    });
  return { edit, place, apply, slide, begin, beginOver, drawn, mirror, dragging, frozen };
}

/** The tool that draws a line over the view, where it is in hand. */
export function lineToolOf(
  tool: ReturnType<typeof useFormStage.getState>["tool"],
  nexts: ReturnType<typeof useFormStage.getState>["nexts"],
): StepTool | undefined {
  return STEP_TOOLS.find((other) => other.kind === tool && drawsLine(other, nexts));
}
