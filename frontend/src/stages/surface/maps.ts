import { useQueries } from "@tanstack/react-query";
import { fetchArrays, type Packed } from "../../api/arrays";
import type { Shapes } from "../../api/client";
import { type Curved, fetchCurved, largestOf } from "../../view3d/probing/curved";
import type { Shown } from "../../view3d/useParts";
import { type Probe, type Quantity, quantityOf, type SurfaceState } from "./store";

export interface Region {
  area: number;
  place: [number, number, number];
  worst: number;
  reach: number;
}

/** Values at every mesh point of a part, and what is told beside them. */
export interface ValueMap {
  values: Float32Array;
  /** False (0) where it is a mean of its neighbours, or an estimate. */
  exact: Uint8Array | null;
  /** Direction of a curvature, 3 of 127ths a point. */
  along: Int8Array | null;
  /** Points of undercuts. */
  marked: Uint8Array | null;
  lines: { places: Float32Array; starts: Int32Array; closed: Uint8Array } | null;
  estimate: boolean;
  least: number | null;
  regions: Region[];
  undercuts: Region[];
  compared: Compared | null;
}

export interface Compared {
  mean: number;
  rms: number;
  most: number;
  place: [number, number, number];
  counts: number[];
  bounds: number[];
}

const EMPTY: Omit<ValueMap, "values"> = {
  exact: null,
  along: null,
  marked: null,
  lines: null,
  estimate: false,
  least: null,
  regions: [],
  undercuts: [],
  compared: null,
};

const FLATTEST = 1e-7;

const VALUE: Record<Quantity, (high: number, low: number) => number> = {
  high: (high) => high,
  low: (_, low) => low,
  mean: (high, low) => (high + low) / 2,
  gaussian: (high, low) => high * low,
  largest: largestOf,
  radius: (high, low) => 1 / Math.max(Math.abs(high), Math.abs(low), FLATTEST),
};

/** A quantity follows from both principal curvatures; the direction told is that of the one it follows most. */
export function quantityMap(curved: Curved, quantity: Quantity): ValueMap {
  const count = curved.high.length;
  const values = new Float32Array(count);
  const along = new Int8Array(3 * count);
  const tells = VALUE[quantity];
  for (let k = 0; k < count; k++) {
    const [high, low] = [curved.high[k]!, curved.low[k]!];
    values[k] = tells(high, low);
    const second = quantity === "low" || (quantity !== "high" && Math.abs(low) > Math.abs(high));
    const first = 6 * k + (second ? 3 : 0);
    along.set(curved.along.subarray(first, first + 3), 3 * k);
  }
  const directed = quantity !== "mean" && quantity !== "gaussian";
  return { ...EMPTY, values, along: directed ? along : null, exact: curved.exact, estimate: curved.estimate };
}

export type Checking = Required<Shapes["Checking"]>;
type Asked = Pick<SurfaceState, "wallBy" | "part" | "against">;

export interface Maps {
  /** Null where the probe colours nothing, undefined for what is on its way. */
  maps: (ValueMap | undefined)[] | null;
  /** Why there is none of some parts, each sentence once. */
  problems: string[];
}

/** The maps a probe colours the shown parts by. */
export function useMaps(
  project: string,
  form: string,
  shown: Shown[],
  probe: Probe,
  checking: Checking | undefined,
  asked: Asked,
): Maps {
  const quantity = quantityOf(probe);
  const maps = quantity !== null || probe === "draft" || probe === "wall" || probe === "deviation";
  const found = useQueries({
    queries: shown.map(({ part, mesh }) => {
      const address = `/api/projects/${project}/forms/${form}/parts/${part.id}`;
      const query = maps ? queryOf(probe, checking, asked, part.id, mesh.meta.closed) : null;
      return {
        queryKey: ["map", quantity ? "curvature" : probe, form, part.id, mesh.meta.key, query],
        enabled: query !== null,
        gcTime: 30_000,
        retry: false,
        queryFn: async ({ signal }: { signal: AbortSignal }) =>
          quantity ? fetchCurved(address, signal) : read(probe, await fetchArrays(`${address}/${query}`, { signal })),
      };
    }),
    combine: (results) => results.map(({ data, error }) => ({ data, error })),
  });
  if (!maps) return NONE;
  return {
    maps: found.map(({ data }) => data && (quantity ? quantityOfKept(data as Curved, quantity) : (data as ValueMap))),
    problems: [...new Set(found.flatMap(({ error }) => (error ? [error.message] : [])))],
  };
}

const NONE: Maps = { maps: null, problems: [] };

const kept = new WeakMap<Curved, Partial<Record<Quantity, ValueMap>>>();

function quantityOfKept(curved: Curved, quantity: Quantity): ValueMap {
  const known = kept.get(curved) ?? {};
  kept.set(curved, known);
  known[quantity] ??= quantityMap(curved, quantity);
  return known[quantity];
}

/** What is asked of one part; null where it has no such map. */
function queryOf(
  probe: Probe,
  checking: Checking | undefined,
  asked: Asked,
  part: string,
  closed: boolean,
): string | null {
  if (quantityOf(probe)) return "curvature";
  if (!checking) return null;
  const [x, y, z] = checking.pull as [number, number, number];
  if (probe === "draft") return `draft?x=${x}&y=${y}&z=${z}&wanted=${checking.draft}`;
  if (probe === "wall")
    return asked.part === part && closed ? `wall?way=${asked.wallBy}&wanted=${checking.wall}` : null;
  if (asked.part !== part || !asked.against || "reference" in asked.against) return null;
  if ("line" in asked.against) return `deviation?line=${asked.against.line}`;
  return asked.against.other === part ? null : `deviation?other=${asked.against.other}`;
}

interface MapMeta extends Compared {
  estimate: boolean;
  least: number | null;
  steep: Region[];
  undercuts: Region[];
  thinnest: Region[];
}

function read(probe: Probe, packed: Packed<unknown>): ValueMap {
  const meta = packed.meta as MapMeta;
  if (probe === "draft") {
    return {
      ...EMPTY,
      values: packed.array("angle", Float32Array),
      marked: packed.array("undercut", Uint8Array),
      lines: {
        places: packed.array("places", Float32Array),
        starts: packed.array("starts", Int32Array),
        closed: packed.array("closed", Uint8Array),
      },
      least: meta.least,
      regions: meta.steep,
      undercuts: meta.undercuts,
    };
  }
  if (probe === "wall") {
    return { ...EMPTY, values: packed.array("thickness", Float32Array), least: meta.least, regions: meta.thinnest };
  }
  return { ...EMPTY, values: packed.array("away", Float32Array), compared: meta };
}
