/** What a stroke is drawn with; the fields and numbers are those of `core/ink/path.py`. */
export interface Nib {
  size: number;
  tone: number;
  thin: number;
  pale: number;
  soft: number;
  grain: number;
  tooth: number;
  flow: number;
  lean: number;
  lifts: boolean;
  /** How the line is broken. */
  line: LineStyle;
}

export type LineStyle = "plain" | "split" | "hidden";

/** Lengths of ink and gaps in turn, in units of the nib's size or 2.5 px. */
export const PATTERNS: Record<LineStyle, number[]> = { plain: [], split: [8, 3, 1.2, 3], hidden: [3.5, 3] };

export type NibName = "pencil" | "fineliner" | "marker" | "mist" | "grain" | "lifter" | "soft lifter";

const plain = { thin: 0.3, pale: 0.15, soft: 1.2, grain: 0.55, tooth: 1, flow: 0, lean: 0, lifts: false };

const KINDS: Record<NibName, Omit<Nib, "size" | "tone" | "line">> = {
  pencil: { ...plain, lean: 1 },
  fineliner: { ...plain, thin: 1, pale: 1, soft: 1, grain: 0 },
  marker: { ...plain, thin: 0.85, pale: 0.9, soft: 1.6, grain: 0.1, tooth: 2 },
  mist: { ...plain, thin: 0.7, pale: 0.05, soft: 0, grain: 0, flow: 0.12 },
  grain: { ...plain, thin: 0.7, pale: 0.3, soft: 5, grain: 0.95, tooth: 2.6, lean: 0.5 },
  lifter: { ...plain, thin: 0.5, pale: 0.6, soft: 2, grain: 0, lifts: true },
  "soft lifter": { ...plain, thin: 0.7, pale: 0.1, soft: 0, grain: 0, flow: 0.1, lifts: true },
};

export function nibOf(name: NibName, size: number, tone: number, line: LineStyle = "plain"): Nib {
  return { size, tone, line, ...KINDS[name] };
}
