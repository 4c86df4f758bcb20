import { useQueries } from "@tanstack/react-query";
import { BufferAttribute, Color } from "three";
import { fetchArrays } from "../../api/arrays";
import type { Shown } from "../../view3d/useParts";

export interface CurvatureMap {
  mean: Float32Array;
  gaussian: Float32Array;
  largest: Float32Array;
  /** Direction of the largest, 3 of 127ths a point. */
  along: Int8Array;
  exact: Uint8Array;
  meta: Record<Quantity, number> & { exact: number };
}

export const QUANTITIES = ["mean", "gaussian", "largest"] as const;
export type Quantity = (typeof QUANTITIES)[number];

export const quantityOf = (probe: string): Quantity | null => QUANTITIES.find((name) => name === probe) ?? null;
export const unitOf = (quantity: Quantity) => (quantity === "gaussian" ? "1/mm²" : "1/mm");

/** Curvature of the shown parts, worked out by the server from exact derivatives. */
export function useCurvature(project: string, form: string, shown: Shown[], on: boolean): (CurvatureMap | undefined)[] {
  return useQueries({
    queries: shown.map(({ part, mesh }) => ({
      queryKey: ["curvature", form, part.id, mesh.meta.key],
      enabled: on && part.steps[0]?.kind !== "still", // a still body of flat triangles has no curvature
      gcTime: 30_000,
      queryFn: async () => {
        const packed = await fetchArrays<CurvatureMap["meta"]>(
          `/api/projects/${project}/forms/${form}/parts/${part.id}/curvature`,
        );
        return {
          meta: packed.meta,
          mean: packed.array("mean", Float32Array),
          gaussian: packed.array("gaussian", Float32Array),
          largest: packed.array("largest", Float32Array),
          along: packed.array("along", Int8Array),
          exact: packed.array("exact", Uint8Array),
        };
      },
    })),
    combine: (results) => results.map((result) => result.data),
  });
}

const HOLLOW = new Color(0.36, 0.34, 0.72);
const FLAT = new Color(0.93, 0.92, 0.9);
const BULGE = new Color(0.8, 0.5, 0.1);

const mixed = new Color();

/** Colour of a value: violet where hollow, pale where flat, ochre where it bulges. */
export function colourOf(value: number, range: number): [number, number, number] {
  const t = Math.max(-1, Math.min(1, value / range));
  const end = t < 0 ? HOLLOW : BULGE;
  return mixed.lerpColors(FLAT, end, Math.abs(t)).toArray() as [number, number, number];
}

export function paint({ mesh }: Shown, values: Float32Array, range: number): void {
  const colours = new Uint8Array(values.length * 3);
  for (let at = 0; at < values.length; at++) {
    const colour = colourOf(values[at]!, range).map((channel) => Math.round(channel ** 2.2 * 255));
    colours.set(colour, 3 * at);
  }
  mesh.geometry.setAttribute("color", new BufferAttribute(colours, 3, true));
}

/** 3 digits that matter; what is nothing beside a curve of a metre's radius is 0. */
export function plain(value: number): string {
  if (Math.abs(value) < 5e-7) return "0";
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))));
  return value.toFixed(Math.min(8, digits)).replace("-", "−");
}
