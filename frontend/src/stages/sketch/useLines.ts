import { answer, api, type Shapes } from "../../api/client";
import { at, useWork } from "../../api/queries";
import type { Page } from "../../paper/page";
import { useSketch } from "./store";

type Place = [number, number];
type Change = Shapes["LinesRequest"]["change"];

/** Picking and changing lines that are drawn already. */
export function useLines(project: string, document: string, page: Page | null, layer: string | undefined) {
  const work = useWork(document);
  const { set } = useSketch();
  const now = useSketch.getState;

  const found = async (points: Place[]) => {
    const { lines } = await answer(
      api.POST("/api/projects/{project}/sheets/{document}/lines/pick", {
        ...at(project, document),
        body: { layer: layer!, points },
      }),
    );
    return lines;
  };
  const pick = (points: Place[], adding: boolean) =>
    work(async () => {
      if (!layer) return;
      const lines = await found(points);
      const before = adding ? now().lines.filter((line) => lines.every((other) => other.id !== line.id)) : [];
      set({ lines: [...before, ...lines] });
    });
  const change = (what: Change) =>
    work(async () => {
      if (!page) return;
      const lines = now().lines;
      await page.ask("lines/change", { layer, ids: lines.map((line) => line.id), change: what });
      const moves = what.how === "carry" && !what.copies ? what : null;
      const simple = moves && !moves.mirror && (moves.scale ?? 1) === 1 && !moves.turn;
      if (simple) {
        const [dx, dy] = moves.by as Place;
        set({ lines: lines.map(({ id, path }) => ({ id, path: path.map(([x, y]) => [x + dx, y + dy]) })) });
      } else if (what.how !== "restyle") set({ lines: [] });
    });
  return { pick, change };
}

/** Whether a place lies within reach of any picked line. */
export function onLines(lines: Shapes["PickedLine"][], [x, y]: Place, reach: number): boolean {
  return lines.some(({ path }) => path.some(([px, py]) => Math.hypot(px - x, py - y) <= reach));
}
