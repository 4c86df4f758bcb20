import { useQueries } from "@tanstack/react-query";
import { useMemo, useRef } from "react";
import type { Shapes } from "../api/client";
import { fetchPart, type PartMesh } from "./partMesh";

export interface Shown {
  part: Shapes["Part"];
  mesh: PartMesh;
}

/** Meshes of the shown parts; a part is fetched again only when its own recipe changed, and is shown as it was till then. */
export function useParts(project: string, form: string, body: Shapes["Form"] | undefined): Shown[] {
  const parts = useMemo(() => (body?.parts ?? []).filter((part) => part.visible), [body]);
  const latest = useRef(new Map<string, PartMesh>());
  const meshes = useQueries({
    queries: parts.map((part) => ({
      queryKey: ["mesh", form, part.id, part.level, JSON.stringify(part.steps)],
      queryFn: () => fetchPart(`/api/projects/${project}/forms/${form}/parts/${part.id}/mesh`),
      gcTime: 30_000,
    })),
    combine: (results) => results.map((result) => result.data),
  });
  return useMemo(
    () =>
      parts.flatMap((part, index) => {
        const mesh = meshes[index] ?? latest.current.get(part.id);
        if (!mesh) return [];
        latest.current.set(part.id, mesh);
        return [{ part, mesh }];
      }),
    [parts, meshes],
  );
}

/** Whether every shown part's mesh has come: before that a box around them would be that of whichever came first. */
export function allHere(body: Shapes["Form"] | undefined, shown: Shown[]): boolean {
  return shown.length > 0 && shown.length === (body?.parts ?? []).filter((part) => part.visible).length;
}

/** Box around all meshes: middle and largest extent, mm. */
export function extentOf(shown: Shown[]): { target: [number, number, number]; extent: number } {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  for (const { mesh } of shown) {
    for (let at = 0; at < mesh.positions.length; at++) {
      const axis = at % 3;
      low[axis] = Math.min(low[axis], mesh.positions[at]);
      high[axis] = Math.max(high[axis], mesh.positions[at]);
    }
  }
  if (!Number.isFinite(low[0])) return { target: [0, 0, 0], extent: 110 };
  const target = low.map((value, axis) => (value + high[axis]) / 2) as [number, number, number];
  return { target, extent: Math.max(...high.map((value, axis) => value - low[axis]), 10) };
}
