import { useQueries } from "@tanstack/react-query";
import { type PerspectiveCamera, Vector3 } from "three";
import { fetchArrays } from "../../api/arrays";
import type { Shapes } from "../../api/client";
import { sheetQuery } from "../../api/queries";
import type { Spot } from "../../ui/pointing";
import { onScreen } from "../../view3d/orbit";

type Reference = Shapes["Reference"];

/** Lines of a sheet's view where the view stands, mm: each a row of x, y, z. */
export interface StoodLines {
  reference: string;
  plane: "front" | "side" | "top";
  lines: Float32Array[];
}

/** Where a place of the page stands in space, for a view pinned square-on, mm. */
export function placeOnPlane(reference: Reference, x: number, y: number): [number, number, number] {
  const [[ax, ay], [bx, by]] = reference.line as [[number, number], [number, number]];
  const scale = reference.length / Math.hypot(bx - ax, by - ay);
  const across = (x - (ax + bx) / 2) * scale;
  const upward = ((ay + by) / 2 - y) * scale;
  if (reference.plane === "side") return [0, across, upward];
  return reference.plane === "top" ? [across, upward, 0] : [across, 0, upward];
}

/** The drawn lines of the views pinned square-on; they follow the sheets. */
export function useSheetLines(project: string, references: Reference[]): StoodLines[] {
  const square = references.filter((reference) => reference.plane !== "sketch" && reference.visible !== false);
  const heads = useQueries({
    queries: square.map((reference) => sheetQuery(project, reference.sheet)),
    combine: (results) => results.map((result) => result.data?.standing.head ?? null),
  });
  return useQueries({
    queries: square.map((reference, index) => ({
      queryKey: ["view-lines", reference.sheet, reference.view, heads[index]],
      queryFn: () =>
        fetchArrays<{ lines: number }>(
          `/api/projects/${project}/sheets/${reference.sheet}/views/${reference.view}/lines`,
        ),
      enabled: heads[index] !== undefined,
    })),
    combine: (results) =>
      results.flatMap((result, index) => {
        const reference = square[index];
        if (!result.data || !reference) return [];
        const points = result.data.array("points", Float32Array);
        const starts = result.data.array("starts", Int32Array);
        const lines = Array.from({ length: starts.length - 1 }, (_, line) => {
          const out = new Float32Array(3 * (starts[line + 1]! - starts[line]!));
          for (let k = starts[line]!; k < starts[line + 1]!; k++) {
            out.set(placeOnPlane(reference, points[2 * k]!, points[2 * k + 1]!), 3 * (k - starts[line]!));
          }
          return out;
        });
        return [{ reference: reference.id, plane: reference.plane as StoodLines["plane"], lines }];
      }),
  });
}

const TURNED_AWAY = { front: new Vector3(0, 1, 0), side: new Vector3(1, 0, 0), top: new Vector3(0, 0, 1) };

/** The place on the sheets' lines nearest to the pointer, within reach of it on the screen; only views seen square-on count. */
export function nearestOnLines(
  stood: StoodLines[],
  camera: PerspectiveCamera,
  spot: Spot,
  reach: number,
): { place: Vector3; line: Float32Array; plane: StoodLines["plane"] } | null {
  const facing = camera.getWorldDirection(new Vector3());
  let best: { place: Vector3; line: Float32Array; plane: StoodLines["plane"] } | null = null;
  let nearest = reach;
  for (const { plane, lines } of stood) {
    if (Math.abs(facing.dot(TURNED_AWAY[plane])) < 0.9) continue;
    for (const line of lines) {
      for (let k = 0; k < line.length; k += 3) {
        const place = new Vector3(line[k]!, line[k + 1]!, line[k + 2]!);
        const s = onScreen(camera, place, spot.width, spot.height);
        const distance = Math.hypot(s.x - spot.x, s.y - spot.y);
        if (distance < nearest) {
          nearest = distance;
          best = { place, line, plane };
        }
      }
    }
  }
  return best;
}
