import { DataTexture, LinearFilter, RGBAFormat } from "three";

/** Colours of a map, from its lowest value to its highest, evenly spaced: OKLab lightness, a, b. Light in the middle where both sides mean
 * something, one way from dark to light where only one does; equal steps look equal. */
type Stop = readonly [lightness: number, a: number, b: number];

const BOTH: readonly Stop[] = [
  [0.34, 0.04, -0.15],
  [0.56, 0.03, -0.13],
  [0.78, 0.012, -0.06],
  [0.945, 0, 0.006],
  [0.8, 0.03, 0.09],
  [0.62, 0.055, 0.115],
  [0.44, 0.06, 0.085],
];

const ONE: readonly Stop[] = [
  [0.36, 0.12, 0.04],
  [0.5, 0.1, 0.09],
  [0.64, 0.03, 0.115],
  [0.76, -0.05, 0.08],
  [0.87, -0.055, 0.02],
  [0.97, 0, 0.006],
];

export type ScaleName = "both" | "one";
const STOPS: Record<ScaleName, readonly Stop[]> = { both: BOTH, one: ONE };

/** sRGB, 0 to 1 (Ottosson 2020, A perceptual color space for image processing). */
function fromOklab([lightness, a, b]: Stop): [number, number, number] {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ].map((linear) => {
    const c = Math.max(0, Math.min(1, linear));
    return c <= 0.0031308 ? 12.92 * c : 1.055 * c ** (1 / 2.4) - 0.055;
  }) as [number, number, number];
}

/** The colour at a share of a scale, sRGB 0 to 1. */
export function colourAt(name: ScaleName, share: number): [number, number, number] {
  const stops = STOPS[name];
  const at = Math.max(0, Math.min(1, share)) * (stops.length - 1);
  const first = Math.min(Math.floor(at), stops.length - 2);
  const between = at - first;
  const [one, other] = [stops[first]!, stops[first + 1]!];
  return fromOklab([0, 1, 2].map((k) => one[k]! * (1 - between) + other[k]! * between) as unknown as Stop);
}

export function cssAt(name: ScaleName, share: number): string {
  return `rgb(${colourAt(name, share)
    .map((c) => Math.round(c * 255))
    .join(",")})`;
}

const textures = new Map<ScaleName, DataTexture>();

/** The scale as a row of colours that a shader looks up. */
export function scaleTexture(name: ScaleName): DataTexture {
  let found = textures.get(name);
  if (!found) {
    const size = 256;
    const data = new Uint8Array(4 * size);
    for (let k = 0; k < size; k++) {
      data.set([...colourAt(name, k / (size - 1)).map((c) => Math.round(c * 255)), 255], 4 * k);
    }
    found = new DataTexture(data, size, 1, RGBAFormat);
    found.magFilter = found.minFilter = LinearFilter;
    found.needsUpdate = true;
    textures.set(name, found);
  }
  return found;
}

/** How a map is coloured: from `low` to `high`. */
export interface Range {
  scale: ScaleName;
  low: number;
  high: number;
  unit: string;
}

/** 3 digits that matter; what is nothing beside a curve of a metre's radius is 0. */
export function plain(value: number): string {
  if (!Number.isFinite(value)) return "∞";
  if (Math.abs(value) < 5e-7) return "0";
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))));
  return value.toFixed(Math.min(8, digits)).replace("-", "−");
}

/** The value that a share of all lies under, of their sizes; what is not finite is left out. */
export function percentile(values: Float32Array, share: number): number {
  const sizes = values.filter(Number.isFinite).map(Math.abs).sort();
  return sizes.length ? sizes[Math.min(sizes.length - 1, Math.floor(share * sizes.length))]! : 1;
}
