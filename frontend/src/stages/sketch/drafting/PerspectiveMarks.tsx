import type { PointerEvent as ReactPointerEvent } from "react";
import type { Shapes } from "../../../api/client";
import { middleOf, toPage, toScreen, type Viewport } from "../../../paper/viewport";
import { LETTERS } from "../../../ui/AxisFields";
import { holdOn, KNOB } from "../../../ui/knobs";
import { tr } from "../../../words/words";
import { Knob } from "../Knob";
import { type SketchTool, useSketch } from "../store";
import type { Drafting } from "./useDrafting";

type Place = [number, number];

const COLOURS = ["var(--width)", "var(--depth)", "var(--height)"];

interface MarksProps {
  view: Viewport;
  sheet: Shapes["SheetOutline"];
  tool: SketchTool;
  drafting: Drafting;
}

/** Grid, horizon, vanishing points and construction box over the page; knobs while their tool is taken. */
export function PerspectiveMarks({ view, sheet, tool, drafting }: MarksProps) {
  const perspective = drafting.draft?.perspective ?? sheet.perspective;
  const box = drafting.draft ? drafting.draft.box : sheet.box;
  const drafted = drafting.draft?.drafted ?? sheet.drafted;
  const face = useSketch((sketch) => sketch.face);
  if (!perspective) return null;
  const screen = (place: Place) => toScreen(view, ...place);
  const path = (places: Place[]) => places.map((place) => screen(place).join(",")).join(" ");
  const grab = (change: (to: Place) => void, what: "perspective" | "box") => (event: ReactPointerEvent<SVGElement>) => {
    const target = event.currentTarget;
    holdOn(target, event);
    const frame = target.closest("svg")!.getBoundingClientRect();
    let moved = false;
    const move = (step: PointerEvent) => {
      moved = true;
      change(toPage(view, step.clientX - frame.left, step.clientY - frame.top));
    };
    const up = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      if (moved) drafting.release(what);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
  };
  const knob = (label: string, at: Place, colour: string, change: (to: Place) => void, what: "perspective" | "box") => (
    <Knob key={label} view={view} label={label} at={at} colour={colour} radius={7} onGrab={grab(change, what)} />
  );
  const shown = drafted.box;
  return (
    <g data-testid="perspective">
      {(perspective.shown ?? true) && (
        <g fill="none" strokeWidth={1} opacity={tool === "perspective" ? 0.5 : 0.22} data-testid="perspective-grid">
          {drafted.grid?.map((lines, axis) =>
            lines.map((line) => (
              <polyline key={`${axis}${line}`} points={path(line as Place[])} stroke={COLOURS[axis]} />
            )),
          )}
          {drafted.horizon && (
            <polyline points={path(drafted.horizon as Place[])} stroke="var(--ink)" strokeWidth={1} />
          )}
        </g>
      )}
      {shown && box && (box.shown ?? true) && (
        <g fill="none" data-testid="construction-box">
          {shown.faces.map(
            (one) =>
              one.face === face && (
                <polygon
                  key={one.face}
                  points={path(one.quad as Place[])}
                  fill="var(--pick)"
                  fillOpacity={0.09}
                  stroke="none"
                />
              ),
          )}
          {shown.edges.map((edge) => (
            <polyline
              key={`${edge.line}`}
              points={path(edge.line as Place[])}
              stroke={COLOURS[edge.along]}
              strokeWidth={edge.hidden ? 1 : 1.5}
              strokeDasharray={edge.hidden ? "3 5" : undefined}
              opacity={edge.hidden ? 0.6 : 0.9}
            />
          ))}
        </g>
      )}
      {tool === "perspective" &&
        drafted.vanishing?.map(([x, y, w], which) =>
          w
            ? knob(
                tr`Move the vanishing point of ${LETTERS[which]}`,
                [x, y],
                COLOURS[which] ?? "var(--pick)",
                (to) => drafting.drag({ how: "drag", which, to }),
                "perspective",
              )
            : null,
        )}
      {tool === "perspective" && <Ways view={view} drafted={drafted} grab={grab} drafting={drafting} />}
      {tool === "construction box" && box && shown && (
        <>
          {knob(
            tr("Move the construction box"),
            box.at as Place,
            "var(--pick)",
            (to) => drafting.drag({ how: "try", perspective, box: { ...box, at: to } }),
            "box",
          )}
          {knob(
            tr("Bring the construction box nearer or farther"),
            middleOfTop(shown),
            "var(--act)",
            (to) => {
              const [bx, by] = box.at as Place;
              const top = middleOfTop(shown);
              const factor = Math.hypot(to[0] - bx, to[1] - by) / Math.max(1, Math.hypot(top[0] - bx, top[1] - by));
              const scale = Math.min(2000, Math.max(0.02, box.scale * factor));
              drafting.drag({ how: "try", perspective, box: { ...box, scale } });
            },
            "box",
          )}
        </>
      )}
    </g>
  );
}

function middleOfTop(box: Shapes["BoxShape"]): Place {
  // the upright edges' upper ends
  const tops = box.edges.filter((edge) => edge.along === 2).map((edge) => edge.line[1] as Place);
  return middleOf(tops);
}

/** Arrows at the canvas edge towards vanishing points that lie beyond it; dragging one moves the point as far. */
function Ways(props: {
  view: Viewport;
  drafted: Shapes["Drafted"];
  grab: (change: (to: Place) => void, what: "perspective" | "box") => (event: ReactPointerEvent<SVGElement>) => void;
  drafting: Drafting;
}) {
  const { view, drafted, grab, drafting } = props;
  const box = document.querySelector("[data-testid=paper]")?.getBoundingClientRect();
  if (!box) return null;
  return (drafted.vanishing ?? []).map(([x, y, w], which) => {
    if (!w) return null;
    const [sx, sy] = toScreen(view, x, y);
    if (sx >= 0 && sy >= 0 && sx <= box.width && sy <= box.height) return null;
    const edge: Place = [Math.min(box.width - 26, Math.max(26, sx)), Math.min(box.height - 26, Math.max(26, sy))];
    const away = Math.hypot(sx - edge[0], sy - edge[1]);
    // far points move in proportion: a small drag at the edge is a long way out there
    const gain = 1 + away / 260;
    let from: Place | null = null;
    return (
      <g
        key={LETTERS[which]}
        {...KNOB}
        aria-label={tr`Drag the far vanishing point of ${LETTERS[which]}`}
        className="pointer-events-auto cursor-move"
        onPointerDown={grab((to) => {
          from ??= toPage(view, ...edge);
          drafting.drag({
            how: "drag",
            which,
            to: [x + (to[0] - from[0]) * gain, y + (to[1] - from[1]) * gain],
          });
        }, "perspective")}
      >
        <circle cx={edge[0]} cy={edge[1]} r={11} fill="var(--raised)" stroke={COLOURS[which]} strokeWidth={2} />
        <text x={edge[0]} y={edge[1] + 4} textAnchor="middle" fontSize="0.86rem" fontWeight={600} fill={COLOURS[which]}>
          {LETTERS[which]}
        </text>
      </g>
    );
  });
}
