import { useQueries } from "@tanstack/react-query";
import { useMemo, useRef } from "react";
import { Box3, Vector3 } from "three";
import type { Shapes } from "../api/client";
import { queries, refresh } from "../api/queries";
import { everyOne, placesAround } from "./copies";
import { fetchPart, fetchSkin, type PartMesh, type SkinMesh, showAsItIs } from "./partMesh";

export interface Shown<Mesh extends SkinMesh = SkinMesh> {
  part: Shapes["Part"];
  mesh: Mesh;
}

type FormState = Pick<Shapes["FormState"], "body" | "keys">;

/** Meshes of the shown parts; a part is fetched again only when its own mesh has another key, and is shown as it was till then. */
export function useSkins(project: string, form: string, state: FormState | undefined): Shown[] {
  return useMeshes(project, form, useWithoutCurves(state), "skin", fetchSkin);
}

/** A form without its curves, which nobody sees but who builds of them. */
function useWithoutCurves(state: FormState | undefined): FormState | undefined {
  return useMemo(() => {
    const parts = state?.body.parts;
    if (!state || !parts?.some(isCurve)) return state;
    return { ...state, body: { ...state.body, parts: parts.filter((part) => !isCurve(part)) } };
  }, [state]);
}

/** Whether a part is a curve, for others to be built of. */
export function isCurve(part: Shapes["Part"]): boolean {
  return part.steps[0]?.kind === "curve";
}

/** The same with the cages the parts are shaped by. */
export function useParts(
  project: string,
  form: string,
  state: FormState | undefined,
  bare: string | null = null,
): Shown<PartMesh>[] {
  return useMeshes(project, form, state, "part", fetchPart, bare);
}

function useMeshes<Mesh extends SkinMesh>(
  project: string,
  form: string,
  state: FormState | undefined,
  what: string,
  fetch: (address: string, before?: Mesh, bare?: boolean) => Promise<Mesh>,
  /** The part that is wanted without the details on its skin. */
  bare: string | null = null,
): Shown<Mesh>[] {
  // a part that cannot be worked out has no key, and the rest of the form stays
  const parts = useMemo(
    () => (state?.body.parts ?? []).filter((part) => part.visible && state?.keys[part.id]),
    [state?.body.parts, state?.keys],
  );
  const latest = useRef(new Map<string, Mesh>());
  const meshes = useQueries({
    queries: parts.map((part) => ({
      queryKey: ["mesh", what, form, part.id, state!.keys[part.id], part.id === bare],
      queryFn: () =>
        fetch(
          `/api/projects/${project}/forms/${form}/parts/${part.id}`,
          latest.current.get(part.id) as Mesh,
          part.id === bare,
        ).catch(async (error) => {
          await refresh(form); // it was tried, so the form tells by now why it cannot be
          throw error;
        }),
      gcTime: 2_000,
    })),
    combine: (results) => results.map((result) => result.data),
  });
  return useMemo(
    () =>
      parts.flatMap((part, index) => {
        const before = latest.current.get(part.id);
        const mesh = meshes[index] ?? before;
        if (!mesh) return [];
        if (before && before !== mesh) showAsItIs(before); // what a drag left in it must not come back with an undo
        latest.current.set(part.id, mesh);
        return [{ part, mesh }];
      }),
    [parts, meshes],
  );
}

// what the card holds of a mesh is let go with the mesh
queries.getQueryCache().subscribe(({ type, query }) => {
  if (type === "removed" && query.queryKey[0] === "mesh")
    (query.state.data as SkinMesh | undefined)?.geometry.dispose();
});

/** A part with all the copies of its mesh as points of their own, for what looks at each of them. */
export function oneByOne<Mesh extends SkinMesh>(shown: Shown<Mesh>): Shown<Mesh> {
  return shown.mesh.copies ? { ...shown, mesh: everyOne(shown.mesh) } : shown;
}

/** Whether every shown part's mesh has come: before that a box around them would be that of whichever came first. */
export function allHere(state: FormState | undefined, shown: Shown[]): boolean {
  // curves are not among the skins
  const wanted = (state?.body.parts ?? []).filter((part) => part.visible && state?.keys[part.id] && !isCurve(part));
  const come = shown.filter(({ part }) => !isCurve(part));
  return shown.length > 0 && come.length === wanted.length;
}

/** Box around all meshes: middle and largest extent, mm. */
export function extentOf(shown: Shown[]): { target: [number, number, number]; extent: number } {
  const box = new Box3();
  const point = new Vector3();
  for (const { mesh } of shown) {
    const places = placesAround(mesh);
    for (let at = 0; at < places.length; at += 3) box.expandByPoint(point.fromArray(places, at));
  }
  if (box.isEmpty()) return { target: [0, 0, 0], extent: 110 };
  return { target: box.getCenter(point).toArray(), extent: Math.max(...box.getSize(new Vector3()).toArray(), 10) };
}
