import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answer, api, type Shapes, Unreachable } from "../../api/client";
import { at } from "../../api/queries";
import type { Selection } from "./store";

/** The outline of what a layer holds, where its transparency is locked: wet ink shows only inside it. */
export function useLockedPaint(
  project: string,
  document: string,
  layer: Shapes["LayerOutline"] | undefined,
  head: number | null,
): Path2D | null {
  const { data } = useQuery({
    queryKey: ["painted", document, layer?.id, head],
    enabled: layer?.lock_paint ?? false,
    queryFn: async () => {
      try {
        return await answer(
          api.POST("/api/projects/{project}/sheets/{document}/selection", {
            ...at(project, document),
            body: { shape: { by: "paint", layer: layer!.id }, how: "instead", before: null, feather: 0 },
          }),
        );
      } catch (error) {
        if (error instanceof Unreachable) throw error;
        return { selection: "", rect: [0, 0, 0, 0], edges: [] } as Selection; // nothing is painted: nothing can show
      }
    },
    placeholderData: (before) => before,
  });
  return useMemo(() => (layer?.lock_paint ? outlineOf(data ?? null) : null), [data, layer?.lock_paint]);
}

/** A selection's edges as a path in page px; null where nothing is selected. */
export function outlineOf(selection: Selection | null): Path2D | null {
  if (!selection) return null;
  const path = new Path2D();
  for (const edge of selection.edges) {
    for (const place of edge as [number, number][]) path.lineTo(...place); // the first one begins it
    path.closePath();
  }
  return path;
}
