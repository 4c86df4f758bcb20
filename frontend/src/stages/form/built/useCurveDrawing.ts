import { useEffect, useRef } from "react";
import { Vector3 } from "three";
import { answer, api, type Shapes } from "../../../api/client";
import { at, type Edit, newId } from "../../../api/queries";
import { useBench } from "../../../bench/store";
import type { Spot } from "../../../ui/pointing";
import { cameraOf } from "../../../view3d/orbit";
import type { PartMesh } from "../../../view3d/partMesh";
import { tr } from "../../../words/words";
import { useHand } from "../hand";
import { placeUnder } from "../picking";
import { nearestOnLines, type StoodLines } from "../sheetLines";
import { useFormStage } from "../store";
import { caughtAt, useCatches } from "./catching";
import { type CurveStep, curveOf, PLACES, useCurve } from "./curve";
import { useGroundFollows } from "./drawOn";
import { away, type Ground, groundOf, inSpace, type Place, placed, rounded, type Stands, underSpot } from "./ground";

interface DrawingProps {
  project: string;
  document: string;
  state: Shapes["FormState"] | undefined;
  meshes: ReadonlyMap<string, PartMesh>;
  lines: StoodLines[];
  edit: Edit;
}

/** Px within which a place already put down, or a line of a sheet, is meant. */
const REACH = 10;
/** Px beside an axis of the plane, or beside level and upright, within which it is meant. */
const ON_AXIS = 6;
const NONE: string[] = [];
/** Mm a traced spline may lie beside the line it follows. */
const TRACED_WITHIN = 0.1;

/** Puts down places of a curve, one touch each, and makes the curve of them. */
export function useCurveDrawing(props: DrawingProps) {
  const tool = useFormStage((stage) => stage.tool);
  const catches = useCatches(props.project, props.document, props.state, tool === "curve" ? "all" : NONE);
  const latest = useRef({ ...props, catches });
  latest.current = { ...props, catches };
  const notify = useBench((bench) => bench.notify);
  useGroundFollows(props.project, props.document, props.state?.keys);
  useEffect(() => {
    if (tool !== "curve") useCurve.getState().set({ placed: [], hover: null, caught: null });
  }, [tool]);

  const keep = async (step: Omit<CurveStep, "plane">, { plane, on }: Pick<Ground, "plane" | "on">) => {
    const { state, edit } = latest.current;
    const part = newId().slice(0, 8);
    const name = nameOf(state?.body);
    const start = { ...step, plane, ...(on && { inputs: { on: { kind: "part", part: on } } }) };
    if (await edit({ kind: "start_part", part, name, start } as Shapes["StartPart"])) {
      useFormStage.getState().set({ part, items: [], tool: "pick" });
      useCurve.getState().set({ placed: [], hover: null, caught: null });
    }
  };

  const finish = async (closed: boolean) => {
    const { kind, placed } = useCurve.getState();
    const made = curveOf(kind, placed, closed);
    if (!made) return notify(tr("There are too few places for a curve yet. Put down another."));
    await keep(made, groundNow());
  };

  const trace = async (line: Float32Array, on: StoodLines["plane"]) => {
    const { project, document } = latest.current;
    const skip = Math.max(1, Math.floor(line.length / 3 / 2000));
    const points: [number, number, number][] = [];
    for (let k = 0; k < line.length; k += 3 * skip) points.push([line[k]!, line[k + 1]!, line[k + 2]!]);
    try {
      const fitted = await answer(
        api.POST("/api/projects/{project}/forms/{document}/curves/fit", {
          ...at(project, document),
          body: { points, plane: { on }, tolerance: TRACED_WITHIN },
        }),
      );
      const all = fitted.points.map((_, index) => index);
      const pieces = [{ name: "traced", kind: "by" as const, points: all }];
      await keep({ kind: "curve", points: fitted.points, pieces }, { plane: { on } });
      notify(tr`The traced line lies within ${fitted.off.toFixed(3)} mm of the drawn one.`);
    } catch (error) {
      notify((error as Error).message);
    }
  };

  const place = (spot: Spot, down: boolean) => {
    put(spot, down);
    return true; // the pen is for drawing, whatever lies under it
  };
  const put = (spot: Spot, down: boolean) => {
    const { kind, placed, set } = useCurve.getState();
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const { stands } = groundNow();
    const found = spotted(spot, stands, latest.current);
    if (!found) {
      if (down) notify(tr("The plane is seen from its edge. Look at it from another side, or choose another plane."));
      return;
    }
    if (!down) {
      const { word } = found;
      return set({ hover: found.place, caught: word ? { word, place: inSpace(stands, found.place).toArray() } : null });
    }
    if (!placed.length) {
      const line = nearestOnLines(latest.current.lines, camera, spot, REACH);
      if (line) return void trace(line.line, line.plane);
    }
    const many = PLACES[kind];
    const near = (index: number) => placed[index] && away(camera, spot, inSpace(stands, placed[index])) < REACH;
    if (many === null && placed.length > 1 && near(placed.length - 1)) return void finish(false);
    if (many === null && placed.length > 2 && near(0)) return void finish(true);
    set({ placed: [...placed, found.place] });
    if (many !== null && placed.length + 1 === many) void finish(true);
  };
  return { place, finish };
}

/** What is drawn on as it is set now. */
export function groundNow(): Ground {
  const { on, off, ground } = useCurve.getState();
  return groundOf(on, off, ground);
}

interface Field {
  meshes: ReadonlyMap<string, PartMesh>;
  catches: ReturnType<typeof useCatches>;
}

/** Where a spot puts a place down: on what draws it, on the plane, or in space on the skin or as far away as the place before. */
function spotted(spot: Spot, stands: Stands | null, field: Field): { place: Place; word: string | null } | null {
  const { placed: before, kind } = useCurve.getState();
  const { snap, grid, solo } = useFormStage.getState();
  const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
  const caught = caughtAt(field.catches, camera, spot);
  if (caught) return { place: rounded(placed(stands, caught.place), 1e-6), word: caught.word };
  if (!stands) {
    const shown = solo ? [field.meshes.get(solo)].flatMap((mesh) => mesh ?? []) : field.meshes.values();
    const skin = placeUnder(shown, camera, spot);
    const like = before.length ? inSpace(null, before.at(-1)!) : new Vector3(...useHand.getState().orbit.target);
    const place = skin ?? underSpot(null, camera, spot, like);
    return place && { place: rounded(place.toArray(), skin ? 1e-6 : 0.01), word: skin ? tr("on the skin") : null };
  }
  const under = underSpot(stands, camera, spot, new Vector3());
  if (!under) return null;
  const found = placed(stands, under);
  const next = rounded(found, snap === "grid" ? grid : 0.01);
  const last = kind === "lines" ? before.at(-1) : undefined;
  let word: string | null = null;
  // what is as good as level with, or straight above, the place before is; and what is as good as on an axis of the plane is on it
  for (const axis of [0, 1]) {
    const to = (value: number) => away(camera, spot, inSpace(stands, axis ? [found[0]!, value] : [value, found[1]!]));
    if (last && to(last[axis]!) < ON_AXIS) {
      next[axis] = last[axis]!;
      word = axis ? tr("level") : tr("upright");
    } else if (to(0) < ON_AXIS) {
      next[axis] = 0;
      word ??= tr("on the axis");
    }
  }
  return { place: next, word };
}

function nameOf(form: Shapes["Form"] | undefined): string {
  const names = new Set((form?.parts ?? []).map(({ name }) => name));
  let number = 1;
  while (names.has(tr`Curve ${number}`)) number++;
  return tr`Curve ${number}`;
}
