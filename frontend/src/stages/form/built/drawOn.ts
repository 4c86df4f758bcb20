import { answer, api } from "../../../api/client";
import { at, useWork } from "../../../api/queries";
import { useFormStage } from "../store";
import { useCurve } from "./curve";
import type { Standing } from "./ground";

/** Sets what is drawn on next, by a plane as a step says it, and takes up the drawing tool. `on` is the part whose face it names. */
export function useDrawOn(project: string, document: string) {
  const work = useWork();
  return (plane: Standing, name: string, on?: string) =>
    work(async () => {
      const body = { plane, on: on ?? null };
      const stands = await answer(
        api.POST("/api/projects/{project}/forms/{document}/curves/plane", { ...at(project, document), body }),
      );
      useCurve.getState().set({ on: "set", off: 0, placed: [], ground: { plane, stands, name, ...(on && { on }) } });
      useFormStage.getState().set({ tool: "curve" });
    });
}
