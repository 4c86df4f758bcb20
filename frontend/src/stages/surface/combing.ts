import { percentile } from "../../view3d/probing/scales";
import type { Combed } from "./asked";

/** How far the longest teeth stand, as a share of the form's extent. */
const LONGEST = 0.14;
/** Share of all teeth that stand within that. */
const MOST = 0.97;

/** Teeth of combs and the lines over their tips, in pieces, and where they change sides; of one part, or of all. `length` mm for a bend of
 * 1/mm. */
export function combOf(
  combed: Combed,
  extent: number,
  scale: number,
  share: number,
  part: string | null = null,
): { teeth: Float32Array; tips: Float32Array; marks: Float32Array; length: number } {
  const bends: number[] = [];
  for (let line = 0; line + 1 < combed.starts.length; line++)
    if (combs(combed, line, part))
      for (let k = combed.starts[line]!; k < combed.starts[line + 1]!; k++) bends.push(combed.bend[k]!);
  const length = (scale * LONGEST * extent) / Math.max(percentile(Float32Array.from(bends), MOST), 1e-4);
  const tipOf = (k: number) =>
    [0, 1, 2].map((axis) => combed.places[3 * k + axis]! + combed.out[3 * k + axis]! * combed.bend[k]! * length);
  const teeth: number[] = [];
  const tips: number[] = [];
  const { starts, closed } = combed;
  for (let line = 0; line + 1 < starts.length; line++) {
    if (!combs(combed, line, part)) continue;
    const [start, end] = [starts[line]!, starts[line + 1]!];
    let owed = 0;
    for (let k = start; k < end; k++) {
      const tip = tipOf(k);
      owed += share;
      if (owed >= 1 || k === start || k === end - 1) {
        owed %= 1;
        teeth.push(combed.places[3 * k]!, combed.places[3 * k + 1]!, combed.places[3 * k + 2]!, ...tip);
      }
      const next = k + 1 < end ? k + 1 : closed[line] ? start : -1;
      if (next >= 0) tips.push(...tip, ...tipOf(next));
    }
  }
  const marks: number[] = [];
  combed.inflects.forEach((line, k) => {
    if (combs(combed, line, part)) marks.push(...combed.inflections.subarray(3 * k, 3 * k + 3));
  });
  return {
    teeth: Float32Array.from(teeth),
    tips: Float32Array.from(tips),
    marks: Float32Array.from(marks),
    length,
  };
}

/** Whether a curve is combed. */
function combs(combed: Combed, line: number, part: string | null): boolean {
  return part === null || combed.parts[combed.part[line]!] === part;
}
