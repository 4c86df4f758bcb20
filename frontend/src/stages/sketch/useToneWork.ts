import { answer, api, type Shapes } from "../../api/client";
import { at, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import type { Page } from "../../paper/page";
import { tr } from "../../words/words";
import type { Shift } from "./PaintCard";
import { type Selection, useSketch } from "./store";

type Shape = Shapes["SelectRequest"]["shape"];

/** Selecting, filling, grading and clearing on the sheet's tone layers. */
export function useToneWork(project: string, document: string, page: Page | null, layer: string | undefined) {
  const notify = useBench((bench) => bench.notify);
  const doing = useWork(document);
  const { set } = useSketch();
  const now = useSketch.getState;

  const select = (shape: Shape, how = now().how) =>
    doing(async () => {
      const before = now().selection?.selection ?? null;
      const selection = await answer(
        api.POST("/api/projects/{project}/sheets/{document}/selection", {
          ...at(project, document),
          body: { shape, how, before, feather: shape.by === "rest" || shape.by === "softening" ? 0 : now().feather },
        }),
      );
      set({ selection });
    });

  const work = (where: string, body: object) =>
    doing(async () => {
      const answered = await page?.ask(where, { layer, ...body });
      if (answered?.selection) set({ selection: answered.selection as Selection });
    });

  const chosen = () => now().selection?.selection ?? null;
  return {
    select,
    fill: (at: [number, number] | null) => {
      const { colour, opacity, gap } = now();
      return work("fill", { at, gap, colour, opacity: opacity / 100, selection: chosen() });
    },
    grade: (start: [number, number], end: [number, number]) => {
      const { colour, opacity, gradient } = now();
      return work("gradient", {
        shape: gradient.shape,
        start,
        end,
        first: colour,
        last: gradient.last,
        first_opacity: opacity / 100,
        last_opacity: gradient.lastOpacity / 100,
        selection: chosen(),
      });
    },
    clear: (outside: boolean) => {
      const selection = chosen();
      if (!selection) return notify(tr("Nothing is selected yet. Select what to clear first."));
      return work("clear", { selection, outside });
    },
    shift: (how: Shift) => {
      const selection = chosen();
      if (!selection) return notify(tr("Nothing is selected yet. Select the paint to move first."));
      return work("shift", { selection, ...how });
    },
    shade: () => {
      const { light } = now();
      return work("shade", {
        body: light.body,
        light: [light.across, light.up],
        base: light.base,
        shadow: light.shadow / 100,
      });
    },
    takeColour: (place: [number, number]) =>
      doing(async () => {
        const { colour } = await answer(
          api.GET("/api/projects/{project}/sheets/{document}/colour", {
            params: { path: { project, document }, query: { x: place[0], y: place[1] } },
          }),
        );
        const { nib, take } = now();
        set({ colour: colour.toLowerCase() });
        take(nib);
      }),
  };
}
