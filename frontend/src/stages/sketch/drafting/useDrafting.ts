import { useRef, useState } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import { ask as askFor, at, type Edit, useWork } from "../../../api/queries";
import { useBench } from "../../../bench/store";
import type { Direction } from "../../../paper/guides";
import type { Letter } from "../../../ui/AxisFields";
import { tr } from "../../../words/words";
import { type Face, useSketch } from "../store";

type Change = Shapes["DraftRequest"]["change"];
export type Draft = Shapes["DraftAnswer"];
export type Found = Shapes["RecoverAnswer"];

/**
 * The perspective as it would be while a hand drags it: the server works every step out without storing it, one request
 * at a time, always the newest; the release stores the last step that could be.
 */
export function useDrafting(project: string, document: string, edit: Edit) {
  const notify = useBench((bench) => bench.notify);
  const work = useWork(document);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [found, setFound] = useState<Found | null>(null);
  const last = useRef<Draft | null>(null);
  const next = useRef<Change | null>(null);
  const busy = useRef<Promise<void> | null>(null);
  const refusal = useRef<string | null>(null);

  const ask = async (change: Change): Promise<Draft | null> => {
    try {
      const found = await answer(
        api.POST("/api/projects/{project}/sheets/{document}/draft", { ...at(project, document), body: { change } }),
      );
      refusal.current = null;
      return found;
    } catch (error) {
      refusal.current = (error as Error).message;
      return null;
    }
  };
  const run = async () => {
    while (next.current) {
      const change = next.current;
      next.current = null;
      const found = await ask(change);
      if (found) {
        last.current = found;
        setDraft(found);
      }
    }
    busy.current = null;
  };
  const drag = (change: Change) => {
    next.current = change;
    busy.current ??= run();
  };
  const release = async (what: "perspective" | "box") => {
    await busy.current;
    const found = last.current;
    last.current = null;
    if (refusal.current) notify(refusal.current);
    if (found) await edit({ kind: "set_perspective", perspective: found.perspective, box: found.box ?? null, what });
    setDraft(null);
  };
  const begin = async (points: 1 | 2 | 3, view: string | null, box: Shapes["ConstructionBox"] | null) => {
    const found = await ask({ how: "begin", points, view });
    if (!found) return notify(refusal.current ?? tr("The perspective could not be set."));
    await edit({ kind: "set_perspective", perspective: found.perspective, box, what: "perspective" });
  };
  const recover = (along: Letter, length: number) =>
    work(async () => {
      const path = "/api/projects/{project}/sheets/{document}/recover";
      const call = (headers: Record<string, string>) =>
        api.POST(path, { ...at(project, document), headers, body: { along, length } });
      setFound(await askFor(document, call, (recovered) => recovered.made));
    });
  const circle = async (face: Face | null, middle: [number, number], rim: [number, number]) => {
    const { take, nib } = useSketch.getState();
    if (!face) return notify(tr("Begin the circle on a face of the construction box."));
    const kept = await work(() =>
      askFor(document, (headers) =>
        api.POST("/api/projects/{project}/sheets/{document}/guides/circle", {
          ...at(project, document),
          headers,
          body: { face, middle, rim },
        }),
      ),
    );
    if (kept) take(nib);
  };
  return { draft, drag, release, begin, recover, found, circle };
}

export type Drafting = ReturnType<typeof useDrafting>;

const ALONG: Record<string, [number, number]> = {
  front: [0, 2],
  back: [0, 2],
  left: [1, 2],
  right: [1, 2],
  top: [0, 1],
  bottom: [0, 1],
};

/** The face of the construction box that is meant: the one the hand stands on, or the chosen one where it stands beside them all. */
export function faceMeant(
  drafted: Shapes["Drafted"],
  chosen: Face | null,
  [x, y]: readonly [number, number],
): Face | null {
  const under = drafted.box?.faces.find(({ quad }) => {
    // around a convex face every corner lies on the same side of the one before
    const turns = quad.map(([ax, ay], k) => {
      const [bx, by] = quad[(k + 1) % quad.length]!;
      return Math.sign((bx! - ax!) * (y - ay!) - (by! - ay!) * (x - ax!));
    });
    return turns.every((turn) => turn >= 0) || turns.every((turn) => turn <= 0);
  });
  return (under?.face as Face | undefined) ?? chosen;
}

/** The directions lines hold to: those of the face drawn on, or all three. */
export function directionsOf(drafted: Shapes["Drafted"], face: string | null): Direction[] {
  const all = (drafted.vanishing ?? []) as Direction[];
  const along = face === null ? undefined : ALONG[face];
  return along ? all.filter((_, axis) => along.includes(axis)) : all;
}
