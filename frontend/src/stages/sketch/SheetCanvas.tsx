import { type RefObject, useState } from "react";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { fromWords, inWords, keepView, keptView } from "../../bench/address";
import { useCanvasMenu } from "../../bench/CanvasMenu";
import { PaperCanvas, type PaperHandle } from "../../paper/PaperCanvas";
import type { Page } from "../../paper/page";
import { useReading } from "../../ui/numbers/reading";
import { tr } from "../../words/words";
import { BlankSheet } from "./BlankSheet";
import type { Drafting } from "./drafting/useDrafting";
import { useSheetHand } from "./hand";
import { WritingField } from "./notes/NoteMarks";
import type { Notes } from "./notes/useNotes";
import { SheetOverlay } from "./SheetOverlay";
import { Sprint } from "./Sprint";
import { isNib, type SketchTool, useSketch } from "./store";
import type { Finish } from "./useDrags";
import type { useInk } from "./useInk";

interface CanvasProps {
  project: string;
  document: string;
  data: Shapes["SheetState"];
  page: Page;
  stamp: number;
  layer: Shapes["LayerOutline"] | undefined;
  ink: ReturnType<typeof useInk>;
  edit: Edit;
  drafting: Drafting;
  notes: Notes;
  paper: RefObject<PaperHandle | null>;
  /** What a finished drag with a tool that does not draw does. */
  onDragged: Finish;
  onPicture: () => void;
}

/** The sheet on its table, with what lies over it. */
export function SheetCanvas(props: CanvasProps) {
  const { project, document, data, layer, ink, edit, drafting, notes } = props;
  const { tool, selection, lines, pulling } = useSketch();
  const [begun, setBegun] = useState<string | null>(null);
  return (
    <>
      <PaperCanvas
        {...ink.pen}
        page={props.page}
        stamp={props.stamp}
        drawing={isNib(tool)}
        handle={props.paper}
        start={fromWords(keptView("Sketch", document) ?? "", 4)}
        onView={({ scale }, middle) => {
          useSheetHand.setState({ scale });
          keepView("Sketch", document, inWords(middle));
        }}
        onEnd={turnedPen}
        onMenu={(place) => useCanvasMenu.setState({ at: place, doings: null })}
        onBegin={() => setBegun(document)}
        onStroke={ink.keep}
        onDrag={(trail, phase, event) => {
          useSheetHand.setState({ trail: phase === "under way" ? trail : [] });
          if (phase === "ended") props.onDragged(trail, event);
        }}
        overlay={(view) => (
          <>
            <SheetOverlay
              project={project}
              document={document}
              drafting={drafting}
              notes={notes}
              noting={layer?.kind === "notes"}
              view={view}
              sheet={data.body}
              tool={tool}
              selection={selection}
              lines={lines}
              pulling={pulling}
              picture={layer?.kind === "picture" && !layer.locked ? layer : null}
              edit={edit}
            />
            {notes.writing && <WritingField view={view} notes={notes} />}
          </>
        )}
      />
      {data.standing.head == null && bare(data.body) && begun !== document && (
        <BlankSheet onPicture={props.onPicture} />
      )}
      <span role="status" aria-label={tr("Picked")} className="sr-only">
        {lines.length ? (lines.length === 1 ? tr("1 line is picked") : tr`${lines.length} lines are picked`) : ""}
      </span>
      <Sprint />
    </>
  );
}

/** What was in the hand before its pen was turned around. */
let before: SketchTool | null = null;

/** A pen turned around lifts; turned back, it goes on with what it did. */
function turnedPen(end: "point" | "eraser"): void {
  const { tool, take } = useSketch.getState();
  const lifts = tool === "lifter" || tool === "soft lifter";
  if (end === "eraser" && !lifts) {
    before = tool;
    take("lifter");
  } else if (end === "point" && before) {
    if (lifts) take(before);
    before = null;
  }
}

/** Nothing has been put on the page yet. */
function bare(sheet: Shapes["SheetOutline"]): boolean {
  return sheet.layers.every((layer) => layer.kind === "ink" && layer.strokes === 0);
}

/** The line under the sheet. */
export function SheetFoot({ sheet, page }: { sheet: Shapes["SheetOutline"]; page: Page | null }) {
  const scale = useSheetHand((hand) => hand.scale);
  const read = useReading();
  return (
    <>
      <span>
        {sheet.width} × {sheet.height} {tr("px")}
      </span>
      <span>{Math.round(scale * 100)} %</span>
      <span>{page && page.milliseconds > 0 ? tr`${read.number(page.milliseconds, 1)} ms` : ""}</span>
    </>
  );
}
