import { useQueries } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import { at, refresh, sheetQuery } from "../../../api/queries";
import { useBench } from "../../../bench/store";

/** Lines on skins follow the sheets they were drawn on: when Form is opened, and whenever a sheet that is pinned here changes. What was
 * undone stays undone until a sheet changes again. */
export function useFollowing(project: string, document: string, state: Shapes["FormState"] | undefined): void {
  const follows = !!state?.body.parts?.some((part) => part.steps.some((step) => step.kind === "sheet_line"));
  const sheets = [...new Set((state?.body.references ?? []).map(({ sheet }) => sheet))];
  const heads = useQueries({
    queries: follows ? sheets.map((sheet) => sheetQuery(project, sheet)) : [],
    combine: (results) => results.map((result) => result.data?.standing.head ?? "").join(" "),
  });
  const undone = useRef(false);
  undone.current = !!state?.standing.can_redo;
  useEffect(() => {
    if (!follows || undone.current || !heads.trim()) return;
    answer(api.POST("/api/projects/{project}/forms/{document}/follow", at(project, document))).then(
      async ({ lines, told }) => {
        if (lines) await refresh(document);
        for (const said of told) useBench.getState().notify(said);
      },
      (error: Error) => useBench.getState().notify(error.message),
    );
  }, [project, document, follows, heads]);
}
