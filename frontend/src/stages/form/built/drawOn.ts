import { useEffect, useRef } from "react";
import { answer, api } from "../../../api/client";
import { at, useWork } from "../../../api/queries";
import { useBench } from "../../../bench/store";
import { useFormStage } from "../store";
import { useCurve } from "./curve";
import type { Standing } from "./ground";

/** Where a plane stands; `on` is the part whose face it names. */
function standing(project: string, document: string, plane: Standing, on?: string) {
  const body = { plane, on: on ?? null };
  return answer(api.POST("/api/projects/{project}/forms/{document}/curves/plane", { ...at(project, document), body }));
}

/** What is drawn on goes along with the part whose face it is. */
export function useGroundFollows(project: string, document: string, keys: Record<string, string> | undefined): void {
  const ground = useCurve((curve) => (curve.on === "set" ? curve.ground : null));
  const key = ground?.on && keys?.[ground.on];
  const before = useRef<{ plane: Standing; key: string | undefined } | null>(null);
  useEffect(() => {
    const was = before.current;
    before.current = ground && { plane: ground.plane, key };
    if (!ground || was?.plane !== ground.plane || was.key === key) return;
    const { plane, on } = ground;
    standing(project, document, plane, on).then(
      (stands) => {
        const now = useCurve.getState().ground;
        if (now?.plane === plane) useCurve.getState().set({ ground: { ...now, stands } });
      },
      (error: Error) => useBench.getState().notify(error.message), // its face is gone
    );
  }, [project, document, key, ground]);
}

/** Sets what is drawn on next, by a plane as a step says it, and takes up the drawing tool. `on` is the part whose face it names. */
export function useDrawOn(project: string, document: string) {
  const work = useWork();
  return (plane: Standing, name: string, on?: string) =>
    work(async () => {
      const stands = await standing(project, document, plane, on);
      useCurve.getState().set({ on: "set", off: 0, placed: [], ground: { plane, stands, name, ...(on && { on }) } });
      useFormStage.getState().set({ tool: "curve" });
    });
}
