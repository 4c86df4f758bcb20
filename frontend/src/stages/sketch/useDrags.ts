import type { Shapes } from "../../api/client";
import { type Edit, newId } from "../../api/queries";
import { type Drafting, faceMeant } from "./drafting/useDrafting";
import type { Guide } from "./GuideMarks";
import { NOTE_TOOLS, type Notes } from "./notes/useNotes";
import { useSketch } from "./store";
import { onLines, type useLines } from "./useLines";
import type { useToneWork } from "./useToneWork";
import type { useViews } from "./useViews";

type Place = [number, number];
type Rect = [number, number, number, number];

/** Hears of a finished drag: its way, page px. */
export type Finish = (way: Place[], event: PointerEvent) => void;

interface Doings {
  sheet: Shapes["SheetOutline"] | undefined;
  edit: Edit;
  tone: ReturnType<typeof useToneWork>;
  lines: ReturnType<typeof useLines>;
  views: ReturnType<typeof useViews>;
  drafting: Drafting;
  notes: Notes;
}

/** What a finished drag over the page does with each tool that does not draw. */
export function useDrags({ sheet, edit, tone, lines, views, drafting, notes }: Doings) {
  const sketch = useSketch();
  const done = (kept: boolean) => kept && sketch.take(sketch.nib);
  const put = (guide: Guide) => edit({ kind: "put_guide", guide }).then(done);
  const id = () => newId().slice(0, 8);

  return (way: Place[], event: PointerEvent): void => {
    const [first, last] = [way[0], way.at(-1)];
    if (!sheet || !first || !last) return;
    const { tool } = sketch;
    const [dx, dy] = [last[0] - first[0], last[1] - first[1]];
    const rect = inside(first, last, sheet.width, sheet.height);
    const how = event.shiftKey ? "add" : event.altKey ? "take away" : undefined;
    if (NOTE_TOOLS.includes(tool)) notes.dragged(tool, first, last);
    else if (tool === "frame") {
      const kind = sketch.frameAs;
      const named = sheet.views.filter((other) => other.view === kind).length;
      edit({ kind: "frame_view", id: id(), view: kind, name: named ? `${kind} ${named + 1}` : kind, rect }).then(done);
    } else if (tool === "lasso") tone.select({ by: "outline", points: way }, how);
    else if (tool === "box") tone.select({ by: "box", rect }, how);
    else if (tool === "region") tone.select({ by: "region", at: last, gap: sketch.gap }, how);
    else if (tool === "move paint") tone.shift({ by: [dx, dy], copies: event.altKey });
    else if (tool === "fill") tone.fill(last);
    else if (tool === "gradient") tone.grade(first, last);
    else if (tool === "take colour") tone.takeColour(last);
    else if (tool === "lines") {
      const held = onLines(sketch.lines, first, 16) && Math.hypot(dx, dy) > 4;
      if (!held) lines.pick(way, event.shiftKey);
      else if (sketch.pulling) lines.change({ how: "pull", at: first, by: [dx, dy], reach: 60 });
      else lines.change({ how: "carry", by: [dx, dy] });
    } else if (tool === "cut out") lines.change({ how: "cut out", points: way });
    else if (tool === "straightedge") put({ kind: "straightedge", id: id(), start: first, end: last });
    else if (tool === "ellipse") {
      put({ kind: "ellipse", id: id(), centre: first, across: Math.abs(dx), down: Math.abs(dy), turn: 0 });
    } else if (tool === "circle") drafting.circle(faceMeant(sheet.drafted, sketch.face, first), first, last);
    else if (tool === "divide") {
      const division = { kind: "division", id: id(), columns: 2, rows: 2, on_across: 0, on_down: 0 } as const;
      const [left, top, right, bottom] = rect;
      const face = faceMeant(sheet.drafted, sketch.face, first);
      const drawn = right - left > 8 && bottom - top > 8;
      if (face && (sketch.face || !drawn)) put({ ...division, crossed: true, face });
      else if (drawn) {
        const quad: [Place, Place, Place, Place] = [
          [left, top],
          [right, top],
          [right, bottom],
          [left, bottom],
        ];
        put({ ...division, crossed: true, quad });
      }
    } else if (tool === "sweep") {
      const turn = (Math.atan2(dy, dx) * 180) / Math.PI;
      const length = Math.max(40, Math.hypot(dx, dy));
      put({
        kind: "sweep",
        id: id(),
        family: sketch.family,
        at: first,
        turn,
        length,
        bend: 1,
        flipped: false,
        comb: true,
      });
    } else if (tool === "move view") views.move(first, [dx, dy]);
    else if (tool === "put copy" && sketch.copying) {
      views.copy(sketch.copying, null, last);
      sketch.set({ copying: null });
      sketch.take(sketch.nib);
    } else if (tool === "put faint" && sketch.fainting) {
      views.faint(sketch.fainting, last);
      sketch.set({ fainting: null });
      sketch.take(sketch.nib);
    }
  };
}

function inside(from: Place, to: Place, width: number, height: number): Rect {
  const [left, right] = [Math.min(from[0], to[0]), Math.max(from[0], to[0])];
  const [top, bottom] = [Math.min(from[1], to[1]), Math.max(from[1], to[1])];
  return [
    Math.max(0, Math.round(left)),
    Math.max(0, Math.round(top)),
    Math.min(width, Math.round(right)),
    Math.min(height, Math.round(bottom)),
  ];
}
