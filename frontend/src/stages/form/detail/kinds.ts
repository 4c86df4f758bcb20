import { tr } from "../../../words/words";

interface Detail {
  name: string;
  apply: string;
  /** What it is made of beside the part. */
  takes: readonly ("line" | "edges" | "pen" | "plane" | "profile")[];
  /** The numbers it begins with. */
  first: Record<string, unknown>;
}

/** What can be put on a skin next, and what each begins with. */
export const DETAILS = {
  section_line: {
    name: tr("Line where a plane cuts it"),
    apply: tr("Lay the line"),
    takes: ["plane"],
    first: { axis: "H", at: 0 },
  },
  drawn_line: { name: tr("Line drawn on it"), apply: tr("Draw it on the part"), takes: ["pen"], first: { smooth: 2 } },
  row_line: { name: tr("Line along picked edges"), apply: tr("Lay the line"), takes: ["edges"], first: {} },
  offset_line: { name: tr("Line beside a line"), apply: tr("Lay the line"), takes: ["line"], first: { by: 3 } },
  along_line: {
    name: tr("Groove, bead or step along a line"),
    apply: tr("Run it along the line"),
    takes: ["line", "profile"],
    first: {
      section: "groove",
      width: 0.8,
      depth: 0.5,
      lean: 10,
      rim: 0.08,
      floor: 0.12,
      reach: 6,
      side: "left",
      ends: "out",
      run_out: 3,
    },
  },
} as const satisfies Record<string, Detail>;

export type DetailKind = keyof typeof DETAILS;
export const DETAIL_KINDS = Object.keys(DETAILS) as DetailKind[];

/** What of a part is put on its skin, by the number of its step. */
export function linesOf(steps: readonly { kind: string; said?: string }[]): (readonly [number, string])[] {
  return steps.flatMap((step, index) =>
    step.kind.endsWith("_line") && step.kind !== "along_line" ? [[index, step.said ?? ""] as const] : [],
  );
}

/** Whether a step lies on the skin, above what shapes it. */
export function isDetail(step: { kind: string }): boolean {
  return step.kind in DETAILS;
}
