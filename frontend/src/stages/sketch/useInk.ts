import { useMemo } from "react";
import type { Shapes } from "../../api/client";
import { useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import { holdsOf } from "../../paper/guides";
import { nibOf } from "../../paper/nibs";
import type { Page } from "../../paper/page";
import type { PenSettings } from "../../paper/pen";
import { copiesOf } from "../../paper/symmetry";
import { channels, tinted } from "../../paper/tint";
import { WetStroke } from "../../paper/wetInk";
import { tr } from "../../words/words";
import { directionsOf } from "./drafting/useDrafting";
import { isNib, useSketch } from "./store";
import { outlineOf, useLockedPaint } from "./useLockedPaint";

/** Share of its tone a line has that holds to something: construction lines soft, design lines firm. */
const LIGHTER = 0.45;

/** Pressure of a line that no hand draws. */
const EVEN = 0.6;

/** Screen px within which a line holds to a guide. */
const REACH = 18;

/** How the pen draws on a layer of the sheet, and what becomes of a finished line. */
export function useInk(
  project: string,
  document: string,
  data: Shapes["SheetState"] | undefined,
  layer: Shapes["LayerOutline"] | undefined,
  page: Page | null,
) {
  const sketch = useSketch();
  const notify = useBench((bench) => bench.notify);
  const work = useWork(document);
  const { directed, holding, face, selection } = sketch;
  const nibName = isNib(sketch.tool) ? sketch.tool : sketch.nib;
  const strength = sketch.tone[nibName] / 100;
  const broken = nibName.endsWith("lifter") ? "plain" : sketch.line;
  const nib = nibOf(nibName, sketch.size[nibName], strength, broken);
  const wet = nib.lifts ? (data?.body.paper ?? "#ffffff") : sketch.colour;
  const within = useLockedPaint(project, document, layer, data?.standing.head ?? null);
  const clip = useMemo(() => outlineOf(selection), [selection]);
  const body = data?.body;
  const pen: Omit<PenSettings, "page"> = {
    nib,
    heldNib: sketch.lighter && !nib.lifts ? { ...nib, tone: Math.max(0.05, strength * LIGHTER) } : nib,
    colour: bytes(layer?.tint && !nib.lifts ? tinted(wet, layer.tint) : wet),
    look: {
      clips: [layer?.kind === "tone" ? clip : null, layer?.lock_paint ? within : null].filter((one) => one !== null),
      blend: layer && layer.mode !== "normal" && !nib.lifts ? layer.mode : "source-over",
      alpha: layer?.opacity ?? 1,
    },
    symmetry: symmetryOf(body?.symmetry),
    steady: sketch.steady,
    reach: REACH,
    directions: useMemo(() => (directed && body ? directionsOf(body.drafted, face) : []), [directed, face, body]),
    holds: useMemo(() => (holding && body ? holdsOf(body.drafted, body.box?.shown ?? false) : []), [holding, body]),
  };

  const keep = (stroke: WetStroke) => {
    if (!layer || !page) return notify(tr("There is no layer to draw on. Add one first."));
    const query = new URLSearchParams({
      layer: layer.id,
      nib: nibName,
      size: String(stroke.nib.size),
      tone: String(stroke.nib.tone),
      line: stroke.nib.line,
      colour: sketch.colour,
    });
    if (layer.kind === "tone" && selection) query.set("selection", selection.selection);
    work(() => page.keep(stroke, layer.kind === "tone" ? "paint" : "strokes", query));
  };
  /** Draws with the nib in hand through places of the page, at an even pressure. */
  const drawThrough = (course: [number, number][]) => {
    if (!page) return;
    const stroke = new WetStroke(
      page.width,
      page.height,
      pen.nib,
      pen.colour,
      pen.symmetry ? copiesOf(pen.symmetry) : [],
      pen.look,
    );
    for (const [x, y] of course) stroke.add(x, y, EVEN);
    stroke.finish();
    keep(stroke);
  };
  const nudge = (what: "size" | "tone", factor: number, step: number) => {
    const now = useSketch.getState();
    const value = now[what][nibName];
    const next =
      what === "size" ? Math.max(0.5, Math.round(value * factor * 10) / 10) : Math.min(100, Math.max(5, value + step));
    now.set({ [what]: { ...now[what], [nibName]: next } });
  };
  return { pen, keep, nudge, drawThrough };
}

function symmetryOf(stored: Shapes["SheetOutline"]["symmetry"] | undefined): PenSettings["symmetry"] {
  if (!stored?.on) return null;
  const { axis, mirror = true, turns = 1 } = stored;
  return { x: axis.x, y: axis.y, angle: ((axis.angle ?? 90) * Math.PI) / 180, mirror, turns };
}

function bytes(colour: string): [number, number, number] {
  const [red, green, blue] = channels(colour);
  return [Math.round(red * 255), Math.round(green * 255), Math.round(blue * 255)];
}
