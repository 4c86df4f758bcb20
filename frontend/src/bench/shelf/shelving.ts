import { useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../../api/client";
import { queries } from "../../api/queries";

const to = (project: string) => ({ params: { path: { project } } });

async function again(): Promise<void> {
  await queries.invalidateQueries({ queryKey: ["projects"] });
}

export async function rename(project: string, name: string, maker: string): Promise<void> {
  await answer(api.POST("/api/projects/{project}/name", { ...to(project), body: { name, maker } }));
  await again();
}

/** Copies a project; answers with the copy's name. */
export async function duplicate(project: string): Promise<string> {
  const made = await answer(api.POST("/api/projects/{project}/duplicate", to(project)));
  await again();
  return made.project.name;
}

export async function putAway(project: string): Promise<void> {
  await answer(api.POST("/api/projects/{project}/away", to(project)));
  await again();
}

export async function bringBack(project: string): Promise<void> {
  await answer(api.POST("/api/projects/{project}/back", to(project)));
  await again();
}

/** Projects that were put away; known under the name of the list they belong to, so that both are asked for anew together. */
export function usePutAway(on: boolean) {
  return useQuery({
    queryKey: ["projects", "away"],
    enabled: on,
    queryFn: async () => (await answer(api.GET("/api/projects/away"))).projects,
  });
}

const LOOKS_AGAIN = 300;

/** How far the demo's projects are; looked after while they are built. */
export function useDemo(): Shapes["DemoShape"] | undefined {
  return useQuery({
    queryKey: ["demo"],
    staleTime: 0,
    queryFn: () => answer(api.GET("/api/demo")),
    refetchInterval: ({ state }) => (state.data?.busy ? LOOKS_AGAIN : false),
  }).data;
}

export async function bringDemo(): Promise<void> {
  queries.setQueryData(["demo"], await answer(api.POST("/api/demo")));
}
