import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../../api/client";
import type { Setting } from "./kinds";

/** Where lamps, camera and product stand for a setting; of one being dragged the newest, and the one before is called off. */
export function useStaging(
  project: string,
  form: string,
  studio: string,
  head: number | null | undefined,
  setting: Setting,
) {
  return useQuery({
    queryKey: ["staging", form, studio, head, setting],
    queryFn: ({ signal }): Promise<Shapes["StagingShape"]> =>
      answer(
        api.POST("/api/projects/{project}/staging", {
          params: { path: { project } },
          body: { form, studio, setting },
          signal,
        }),
      ) as Promise<Shapes["StagingShape"]>,
    enabled: head !== undefined,
    placeholderData: keepPreviousData,
    gcTime: 1_000,
  }).data;
}
