import { useEffect, useRef, useState } from "react";
import { Vector3 } from "three";
import { fetchArrays, type Packed } from "../../api/arrays";
import { send } from "../../api/client";
import { useBench } from "../../bench/store";
import { saveBytes } from "../../ui/save";
import { forwardOf } from "../../view3d/orbit";
import { type Cutting, directionOf, type LineKind, normalOf, type Place, type SurfaceState, surfaceEye } from "./store";
import type { Lines } from "./Traced";

export interface LightLines extends Lines {
  level: Int32Array;
  milliseconds: number;
}

export interface Combed extends Lines {
  bend: Float32Array;
  out: Float32Array;
  level: Int32Array;
  part: Int32Array;
  lengths: Float64Array;
  inflections: Float32Array;
  inflects: Int32Array;
  parts: string[];
  names: string[];
}

/** Asks for what a swept number tells: one question at a time, always the newest next; what was told last stays till then. */
function useSwept<T>(key: string | null, ask: (signal: AbortSignal) => Promise<T>): T | null {
  const [told, setTold] = useState<{ key: string; value: T } | null>(null);
  const hand = useRef<{ busy: boolean; done: string | null }>({ busy: false, done: null });
  const latest = useRef({ key, ask });
  latest.current = { key, ask };
  const notify = useBench((bench) => bench.notify);
  useEffect(() => {
    if (key === null || hand.current.busy) return;
    let gone = false;
    const leaving = new AbortController();
    const next = async (): Promise<void> => {
      const wanted = latest.current;
      if (gone || wanted.key === null || wanted.key === hand.current.done) return;
      hand.current = { busy: true, done: wanted.key };
      try {
        const value = await wanted.ask(leaving.signal);
        if (!gone) setTold({ key: wanted.key, value });
      } catch (error) {
        if (!gone) notify((error as Error).message);
      } finally {
        hand.current.busy = false;
      }
      return next();
    };
    void next();
    return () => {
      // a swept key comes with every frame: only leaving the probe gives the question up
      if (latest.current.key !== null) return;
      gone = true;
      leaving.abort();
    };
  }, [key, notify]);
  return key === null ? null : (told?.value ?? null);
}

const post = (body: object): RequestInit => ({
  method: "POST",
  headers: { "Content-Type": "application/json" },
  body: JSON.stringify(body),
});

type Lit = Pick<SurfaceState, "lightAround" | "lightAbove" | "turn" | "away" | "lights" | "spacing">;

function lightsBody(kind: LineKind, state: Lit, eye: Place): object {
  return {
    kind,
    towards: directionOf(state.lightAround, state.lightAbove),
    turn: state.turn,
    away: state.away,
    count: state.lights,
    spacing: state.spacing,
    eye,
  };
}

/** Lines of light over the form at a head of its ledger; reflections follow the eye. */
export function useLightLines(
  project: string,
  form: string,
  meshes: string,
  kind: LineKind | null,
  state: Lit,
  eye: Place,
): LightLines | null {
  const body = kind && lightsBody(kind, state, kind === "reflection" ? eye : [0, 0, 0]);
  return useSwept(body && meshes ? meshes + JSON.stringify(body) : null, async (signal) => {
    const packed = await fetchArrays<{ milliseconds: number }>(`/api/projects/${project}/forms/${form}/lines`, {
      ...post(body!),
      signal,
    });
    return { ...linesOf(packed), level: packed.array("level", Int32Array), milliseconds: packed.meta.milliseconds };
  });
}

function linesOf(packed: Packed<unknown>): Lines {
  return {
    places: packed.array("places", Float32Array),
    starts: packed.array("starts", Int32Array),
    closed: packed.array("closed", Uint8Array),
  };
}

function combedOf(packed: Packed<{ parts: string[]; names: string[] }>): Combed {
  return {
    ...linesOf(packed),
    bend: packed.array("bend", Float32Array),
    out: packed.array("out", Float32Array),
    level: packed.array("level", Int32Array),
    part: packed.array("part", Int32Array),
    lengths: packed.array("lengths", Float64Array),
    inflections: packed.array("inflections", Float32Array),
    inflects: packed.array("inflects", Int32Array),
    parts: packed.meta.parts,
    names: packed.meta.names,
  };
}

const cuttingBody = (cutting: Cutting) => ({
  normal: normalOf(cutting),
  at: cutting.at,
  count: cutting.count,
  spacing: cutting.spacing,
});

export function useSections(project: string, form: string, meshes: string, cutting: Cutting | null): Combed | null {
  const body = cutting && cuttingBody(cutting);
  return useSwept(body && meshes ? meshes + JSON.stringify(body) : null, async (signal) =>
    combedOf(await fetchArrays(`/api/projects/${project}/forms/${form}/sections`, { ...post(body!), signal })),
  );
}

export function useRowComb(
  project: string,
  form: string,
  meshes: string,
  row: SurfaceState["row"],
  on: boolean,
): Combed | null {
  return useSwept(on && row && meshes ? meshes + JSON.stringify(row) : null, async (signal) =>
    combedOf(
      await fetchArrays(`/api/projects/${project}/forms/${form}/parts/${row!.part}/combs`, {
        ...post({ place: row!.place }),
        signal,
      }),
    ),
  );
}

/** Saves lines of light as they are seen from here, in true size. */
export async function saveLightLines(
  project: string,
  form: string,
  kind: LineKind,
  state: Lit,
  format: "svg" | "dxf",
): Promise<void> {
  const eye = eyePlace();
  const { target } = surfaceEye.now();
  const seen_from = eye.map((value, k) => value - target[k]!);
  const body = { ...lightsBody(kind, state, eye), seen_from };
  const got = await send(`/api/projects/${project}/forms/${form}/lines/flat?format=${format}`, post(body));
  saveBytes(await got.blob(), `${kind} lines.${format}`);
}

export async function saveSections(
  project: string,
  form: string,
  cutting: Cutting,
  format: "svg" | "dxf",
): Promise<void> {
  const got = await send(
    `/api/projects/${project}/forms/${form}/sections/flat?format=${format}`,
    post(cuttingBody(cutting)),
  );
  saveBytes(await got.blob(), `Sections.${format}`);
}

/** Where the eye is, mm. */
export function eyePlace(): Place {
  const orbit = surfaceEye.now();
  return new Vector3(...orbit.target).addScaledVector(forwardOf(orbit), -orbit.distance).toArray() as Place;
}
