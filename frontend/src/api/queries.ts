import { QueryClient, useMutation, useQuery } from "@tanstack/react-query";
import { useBench } from "../bench/store";
import { answer, api, type Shapes } from "./client";

export const queries = new QueryClient({
  defaultOptions: { queries: { retry: 1, staleTime: Number.POSITIVE_INFINITY, refetchOnWindowFocus: false } },
});

export const stateKey = (document: string) => ["state", document];

export function useProjects() {
  return useQuery({ queryKey: ["projects"], queryFn: () => answer(api.GET("/api/projects")) });
}

export function useProject(project: string) {
  return useQuery({
    queryKey: ["project", project],
    queryFn: () => answer(api.GET("/api/projects/{project}", { params: { path: { project } } })),
  });
}

export function sheetQuery(project: string, document: string) {
  return {
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/sheets/{document}", at(project, document))),
  };
}

export function useSheet(project: string, document: string) {
  return useQuery(sheetQuery(project, document));
}

export function useForm(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/forms/{document}", at(project, document))),
  });
}

export function useStudio(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/studios/{document}", at(project, document))),
  });
}

export function useBoard(project: string, document: string) {
  return useQuery({
    queryKey: stateKey(document),
    queryFn: () => answer(api.GET("/api/projects/{project}/boards/{document}", at(project, document))),
  });
}

export function useTakes(project: string) {
  return useQuery({
    queryKey: ["takes", project],
    queryFn: async () => {
      const { takes } = await answer(api.GET("/api/projects/{project}/takes", { params: { path: { project } } }));
      return takes;
    },
  });
}

export function useStatus() {
  return useQuery({ queryKey: ["status"], queryFn: () => answer(api.GET("/api/status")) });
}

/** Path parameters of a document's addresses. */
export function at(project: string, document: string) {
  return { params: { path: { project, document } } };
}

export type AnyEdit = Shapes["EditRequest"]["edit"];

/** Sends one edit of a document and brings the document up to date; refusals appear as a notice. */
export function useEdit(project: string, document: string) {
  const notify = useBench((bench) => bench.notify);
  const { mutateAsync } = useMutation({
    mutationFn: (edit: AnyEdit) =>
      answer(
        api.POST("/api/projects/{project}/documents/{document}/edits", { ...at(project, document), body: { edit } }),
      ),
  });
  return async (edit: AnyEdit): Promise<boolean> => {
    try {
      await mutateAsync(edit);
      await refresh(document);
      return true;
    } catch (error) {
      notify((error as Error).message);
      await refresh(document);
      return false;
    }
  };
}

/** Fetches a document again after it moved. */
export async function refresh(document: string): Promise<void> {
  await Promise.all([
    queries.invalidateQueries({ queryKey: stateKey(document) }),
    queries.invalidateQueries({ queryKey: ["ledger", document] }),
  ]);
}

/** An id for a new thing in a document. */
export function newId(): string {
  return crypto
    .getRandomValues(new Uint32Array(2))
    .reduce((text, word) => text + word.toString(16).padStart(8, "0"), "");
}
