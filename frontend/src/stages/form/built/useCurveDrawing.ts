import { useRef } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import { at, type Edit, newId } from "../../../api/queries";
import { useBench } from "../../../bench/store";
import type { Spot } from "../../../ui/pointing";
import { cameraOf } from "../../../view3d/orbit";
import { tr } from "../../../words/words";
import { useHand } from "../hand";
import { nearestOnLines, type StoodLines } from "../sheetLines";
import { useFormStage } from "../store";
import { away, type CurveStep, curveOf, inPlane, PLACES, rounded, standsOf, useCurve } from "./curve";

interface DrawingProps {
  project: string;
  document: string;
  form: Shapes["Form"] | undefined;
  lines: StoodLines[];
  edit: Edit;
}

/** Px within which a place already put down, or a line of a sheet, is meant. */
const REACH = 10;
/** Px beside an axis of the plane within which it is meant. */
const ON_AXIS = 6;
/** Mm a traced spline may lie beside the line it follows. */
const TRACED_WITHIN = 0.1;

/** Puts down places of a curve, one touch each, and makes the curve of them. */
export function useCurveDrawing(props: DrawingProps) {
  const latest = useRef(props);
  latest.current = props;
  const notify = useBench((bench) => bench.notify);

  const keep = async (step: Omit<CurveStep, "plane">, plane: CurveStep["plane"]) => {
    const { form, edit } = latest.current;
    const part = newId().slice(0, 8);
    const name = nameOf(form);
    const start = { ...step, plane };
    if (await edit({ kind: "start_part", part, name, start } as Shapes["StartPart"])) {
      useFormStage.getState().set({ part, items: [], tool: "pick" });
      useCurve.getState().set({ placed: [], hover: null });
    }
  };

  const finish = async (closed: boolean) => {
    const { kind, on, off, placed } = useCurve.getState();
    const made = curveOf(kind, placed, closed);
    if (!made) return notify(tr("There are too few places for a curve yet. Put down another."));
    await keep(made, planeOf(on, off));
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
      await keep(
        {
          kind: "curve",
          points: fitted.points as [number, number][],
          pieces: [{ name: "traced", kind: "by", points: all }],
        },
        { on },
      );
      notify(tr`The traced line lies within ${fitted.off.toFixed(3)} mm of the drawn one.`);
    } catch (error) {
      notify((error as Error).message);
    }
  };

  const place = (spot: Spot, down: boolean) => {
    const { kind, on, off, placed, set } = useCurve.getState();
    const { snap, grid } = useFormStage.getState();
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const stands = standsOf(on, off);
    const found = inPlane(stands, camera, spot);
    if (!found) {
      if (down) notify(tr("The plane is seen from its edge. Look at it from another side, or choose another plane."));
      return;
    }
    const next = rounded(found, snap === "grid" ? grid : 0.01);
    // what is as good as on an axis of the plane is on it
    if (away(stands, camera, spot, [0, found[1]]) < ON_AXIS) next[0] = 0;
    if (away(stands, camera, spot, [found[0], 0]) < ON_AXIS) next[1] = 0;
    if (!down) return set({ hover: next });
    if (!placed.length) {
      const line = nearestOnLines(latest.current.lines, camera, spot, REACH);
      if (line) return void trace(line.line, line.plane);
    }
    const many = PLACES[kind];
    const near = (index: number) => placed[index] && away(stands, camera, spot, placed[index]) < REACH;
    if (many === null && placed.length > 1 && near(placed.length - 1)) return void finish(false);
    if (many === null && placed.length > 2 && near(0)) return void finish(true);
    set({ placed: [...placed, next] });
    if (many !== null && placed.length + 1 === many) void finish(true);
  };
  return { place, finish };
}

/** The plane of a curve drawn on a side, so many mm off the middle. */
function planeOf(on: "front" | "side" | "top", off: number): CurveStep["plane"] {
  const origin = standsOf(on, off).origin;
  return off ? { on, origin } : { on };
}

function nameOf(form: Shapes["Form"] | undefined): string {
  const names = new Set((form?.parts ?? []).map(({ name }) => name));
  let number = 1;
  while (names.has(tr`Curve ${number}`)) number++;
  return tr`Curve ${number}`;
}
