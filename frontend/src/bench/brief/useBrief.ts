import { useQuery } from "@tanstack/react-query";
import { answer, api, type Shapes } from "../../api/client";
import { at, stateKey } from "../../api/queries";

/** The brief of a project. */
export function useBrief(project: string, documents: readonly Shapes["DocumentShape"][]) {
  const document = documents.find(({ kind }) => kind === "brief")?.id;
  const { data } = useQuery({
    queryKey: stateKey(document ?? ""),
    queryFn: () => answer(api.GET("/api/projects/{project}/briefs/{document}", at(project, document!))),
    enabled: document !== undefined,
  });
  return document && data ? { document, ...data } : undefined;
}

/** W, D, H in mm that the product must keep within; null where the brief says nothing of it. */
export function useEnvelope(project: string, documents: readonly Shapes["DocumentShape"][]) {
  const envelope = useBrief(project, documents)?.body.envelope;
  return (envelope ?? null) as [number, number, number] | null;
}
