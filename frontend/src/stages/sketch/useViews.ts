import { api, type Shapes } from "../../api/client";
import { ask, at, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import { tr } from "../../words/words";

type Place = [number, number];

/** Views copied, moved, set in line, repeated faintly: with all that is drawn in them. */
export function useViews(project: string, document: string, sheet: Shapes["SheetOutline"] | undefined) {
  const notify = useBench((bench) => bench.notify);
  const work = useWork(document);
  const of = (view: string) => ({ params: { path: { project, document, view } } });
  return {
    /** Copies a view to another sheet, or (null) to a place on this one. */
    copy: (view: string, to: string | null, middle?: Place) =>
      work(async () => {
        await ask(to ?? document, (headers) =>
          api.POST("/api/projects/{project}/sheets/{document}/views/{view}/copy", {
            ...of(view),
            headers: to && to !== document ? {} : headers,
            body: { to: to ?? document, at: middle ?? null },
          }),
        );
        if (to && to !== document) {
          notify(tr("The copy lies on the other sheet, in the same place."));
        }
      }),
    faint: (view: string, middle: Place) =>
      work(() =>
        ask(document, (headers) =>
          api.POST("/api/projects/{project}/sheets/{document}/views/{view}/faint", {
            ...of(view),
            headers,
            body: { at: middle, scale: 1.6, opacity: 0.14 },
          }),
        ),
      ),
    /** Moves the smallest view under a place. */
    move: (from: Place, by: Place) => {
      const view = (sheet?.views ?? [])
        .filter(({ rect: [l, t, r, b] }) => l <= from[0] && from[0] < r && t <= from[1] && from[1] < b)
        .sort((a, b) => size(a) - size(b))[0];
      if (!view) return notify(tr("There is no view there. Begin the drag inside a view’s frame."));
      if (Math.hypot(...by) < 2) return;
      return work(() =>
        ask(document, (headers) =>
          api.POST("/api/projects/{project}/sheets/{document}/views/move", {
            ...at(project, document),
            headers,
            body: { moves: { [view.id]: by } },
          }),
        ),
      );
    },
    arrange: (way: Shapes["ArrangeRequest"]["way"], views: string[]) =>
      work(() =>
        ask(document, (headers) =>
          api.POST("/api/projects/{project}/sheets/{document}/views/arrange", {
            ...at(project, document),
            headers,
            body: { way, views },
          }),
        ),
      ),
  };
}

function size({ rect: [left, top, right, bottom] }: Shapes["View"]): number {
  return (right - left) * (bottom - top);
}
