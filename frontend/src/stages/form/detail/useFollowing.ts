import { useQueries } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import { at, refresh, sheetQuery } from "../../../api/queries";
import { useBench } from "../../../bench/store";

/** Lines on skins and what paint drives follow their sheets: when Form is opened, and whenever such a sheet changes. What was undone stays
 * undone until a sheet changes again. */
export function useFollowing(project: string, document: string, state: Shapes["FormState"] | undefined): void {
  const steps = (state?.body.parts ?? []).flatMap((part) => part.steps);
  const pinned = steps.some(({ kind }) => kind === "sheet_line") ? (state?.body.references ?? []) : [];
  const painted = steps.flatMap((step) => (step.kind === "spread" && step.painted ? [step.painted] : []));
  const sheets = [...new Set([...pinned, ...painted].map(({ sheet }) => sheet))];
  const follows = sheets.length > 0;
  const heads = useQueries({
    queries: sheets.map((sheet) => sheetQuery(project, sheet)),
    combine: (results) => results.map((result) => result.data?.standing.head ?? "").join(" "),
  });
  const undone = useRef(false);
  undone.current = !!state?.standing.can_redo;
  useEffect(() => {
    if (!follows || undone.current || !heads.trim()) return;
    answer(api.POST("/api/projects/{project}/forms/{document}/follow", at(project, document))).then(
      async ({ steps, told }) => {
        if (steps) await refresh(document);
        for (const said of told) useBench.getState().notify(said);
      },
      (error: Error) => useBench.getState().notify(error.message),
    );
  }, [project, document, follows, heads]);
}
