import { useQueries } from "@tanstack/react-query";
import { fetchArrays } from "../../api/arrays";
import type { Shown } from "../useParts";

/** Both principal curvatures at every mesh point with their directions, 3 of 127ths each. */
export interface Curved {
  high: Float32Array;
  low: Float32Array;
  along: Int8Array;
  exact: Uint8Array;
  /** It is an estimate from triangles. */
  estimate: boolean;
}

export async function fetchCurved(part: string, signal?: AbortSignal): Promise<Curved> {
  const packed = await fetchArrays<{ estimate: boolean }>(`${part}/curvature`, { signal });
  return {
    high: packed.array("high", Float32Array),
    low: packed.array("low", Float32Array),
    along: packed.array("along", Int8Array),
    exact: packed.array("exact", Uint8Array),
    estimate: packed.meta.estimate,
  };
}

/** Of two principal curvatures the one of the smaller radius. */
export const largestOf = (high: number, low: number) => (Math.abs(low) > Math.abs(high) ? low : high);

/** The largest curvature of the shown parts as they are stored. */
export function useLargest(project: string, form: string, shown: Shown[], on: boolean): (Float32Array | undefined)[] {
  return useQueries({
    queries: shown.map(({ part, mesh }) => ({
      queryKey: ["largest", form, part.id, mesh.meta.key],
      enabled: on,
      gcTime: 30_000,
      retry: false,
      queryFn: async ({ signal }: { signal: AbortSignal }) => {
        const { high, low } = await fetchCurved(`/api/projects/${project}/forms/${form}/parts/${part.id}`, signal);
        return high.map((value, k) => largestOf(value, low[k]!));
      },
    })),
    combine: (results) => results.map(({ data }) => data),
  });
}
