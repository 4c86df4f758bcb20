import { useMemo } from "react";
import { answer, api, type Shapes } from "../../api/client";
import { useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import type { PartMesh } from "../../view3d/partMesh";
import { tr } from "../../words/words";
import { pickedPoints } from "./picking";
import { type PickHow, type PickKind, useFormStage } from "./store";

/** What is picked of the part worked on, and ways to pick other things from it. */
export function usePicks(
  project: string,
  document: string,
  active: Shapes["Part"] | undefined,
  mesh: PartMesh | undefined,
) {
  const notify = useBench((bench) => bench.notify);
  const work = useWork();
  const kind = useFormStage((state) => state.kind);
  const chosen = useFormStage((state) => state.items);
  const set = useFormStage((state) => state.set);
  const items = mesh ? chosen : NONE;
  const picked = useMemo(() => (mesh ? pickedPoints(mesh, kind, items) : []), [mesh, kind, items]);

  /** The pick as things of another kind: those of which all points are picked. */
  const convert = (to: PickKind): number[] => {
    if (!mesh || to === kind) return chosen;
    const points = new Set(picked);
    if (to === "points") return [...points];
    if (to === "edges")
      return indices(mesh, to).filter((e) => points.has(mesh.edges[2 * e]!) && points.has(mesh.edges[2 * e + 1]!));
    return indices(mesh, to).filter((f) =>
      mesh.facePoints.subarray(mesh.faceStarts[f]!, mesh.faceStarts[f + 1]!).every((p) => points.has(p)),
    );
  };
  const pickMore = async (how: PickHow, from = items) => {
    if (!active || !from.length) return notify(tr("Pick something to begin from first."));
    await work(async () => {
      const found = await answer(
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/pick", {
          params: { path: { project, document, part: active.id } },
          body: { kind, items: from as [number], how },
        }),
      );
      set({ items: found.items });
    });
  };
  return {
    items,
    picked,
    convert,
    pickMore,
    choose: (to: PickKind) => set({ kind: to, items: convert(to), tool: "pick" }),
    pickAll: () => mesh && set({ items: indices(mesh, kind) }),
  };
}

const NONE: number[] = [];

/** How many things of each kind a cage has. */
export function countsOf(mesh: PartMesh): Record<PickKind, number> {
  return { points: mesh.points.length / 3, edges: mesh.edges.length / 2, faces: mesh.faceStarts.length - 1 };
}

function indices(mesh: PartMesh, kind: PickKind): number[] {
  return Array.from({ length: countsOf(mesh)[kind] }, (_, index) => index);
}
