import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { toScreen, type Viewport } from "../../paper/viewport";
import { tr } from "../../words/words";
import { PerspectiveMarks } from "./drafting/PerspectiveMarks";
import type { Drafting } from "./drafting/useDrafting";
import { GuideMarks } from "./GuideMarks";
import { useSheetHand } from "./hand";
import { Knob } from "./Knob";
import { NoteMarks } from "./notes/NoteMarks";
import { NOTE_TOOLS, type Notes } from "./notes/useNotes";
import { PictureMarks } from "./PictureMarks";
import type { Selection, SketchTool } from "./store";
import { useKnobs } from "./useKnobs";
import { onLines } from "./useLines";

const DRAWN_STRAIGHT: readonly SketchTool[] = [
  "straightedge",
  "sweep",
  "circle",
  "callout",
  "dimension",
  "arrow",
  "move paint",
  "move view",
];

interface OverlayProps {
  project: string;
  document: string;
  drafting: Drafting;
  notes: Notes;
  /** The layer worked on holds notes. */
  noting: boolean;
  view: Viewport;
  sheet: Shapes["SheetOutline"];
  /** The way of the drag that is going on, and the tool it is made with. */
  tool: SketchTool;
  selection: Selection | null;
  lines: Shapes["PickedLine"][];
  pulling: boolean;
  /** The picture layer worked on. */
  picture: Shapes["LayerOutline"] | null;
  edit: Edit;
}

/** Frames of views and the axis of symmetry, over the page. */
export function SheetOverlay(props: OverlayProps) {
  const { view, sheet, tool, selection, lines, pulling, picture, edit } = props;
  const trail = useSheetHand((hand) => hand.trail);
  const [first, last] = [trail[0], trail.at(-1)];
  const carrying = first && onLines(lines, first, 16);
  const path = (places: [number, number][]) => places.map(([x, y]) => toScreen(view, x, y).join(",")).join(" ");
  return (
    <svg className="h-full w-full" role="presentation">
      <PerspectiveMarks view={view} sheet={sheet} tool={tool} drafting={props.drafting} />
      {sheet.views.map((framed) => (
        <Frame key={framed.id} view={view} rect={framed.rect as Rect} name={framed.name} />
      ))}
      {selection?.edges.map((edge) => (
        <g key={edge.flat().slice(0, 6).join()} fill="none" data-testid="selection-edge">
          <polygon points={path(edge as [number, number][])} stroke="var(--paper)" strokeWidth={2} />
          <polygon points={path(edge as [number, number][])} stroke="var(--pick)" strokeDasharray="5 4" />
        </g>
      ))}
      {lines.map(({ id, path: places }) => (
        <polyline
          key={id}
          data-testid="picked-line"
          points={path(places as [number, number][])}
          fill="none"
          stroke="var(--pick)"
          strokeWidth={1.5}
          transform={
            tool === "lines" && first && last && !pulling && carrying
              ? `translate(${between(toScreen(view, ...first), toScreen(view, ...last))})`
              : undefined
          }
        />
      ))}
      {first && last && (tool === "frame" || tool === "box" || tool === "divide") && (
        <Frame view={view} rect={[...first, ...last]} name="" />
      )}
      {trail.length > 1 && (tool === "lasso" || tool === "cut out" || (tool === "lines" && !carrying)) && (
        <polygon points={path(trail)} fill="var(--pick)" fillOpacity={0.08} stroke="var(--pick)" />
      )}
      {trail.length > 1 && tool === "gradient" && first && last && (
        <polyline points={path([first, last])} stroke="var(--pick)" strokeWidth={2} fill="none" />
      )}
      {picture && <PictureMarks view={view} layer={picture} edit={edit} />}
      <GuideMarks project={props.project} document={props.document} view={view} sheet={sheet} edit={edit} />
      {(props.noting || NOTE_TOOLS.includes(tool)) && (
        <NoteMarks view={view} layers={sheet.layers} notes={props.notes} />
      )}
      {first && last && DRAWN_STRAIGHT.includes(tool) && (
        <polyline points={path([first, last])} stroke="var(--pick)" strokeWidth={1.5} />
      )}
      {first && last && tool === "ellipse" && (
        <ellipse
          cx={toScreen(view, ...first)[0]}
          cy={toScreen(view, ...first)[1]}
          rx={Math.abs(last[0] - first[0]) * view.scale}
          ry={Math.abs(last[1] - first[1]) * view.scale}
          transform={`rotate(${(view.angle * 180) / Math.PI} ${toScreen(view, ...first).join(" ")})`}
          fill="none"
          stroke="var(--pick)"
        />
      )}
      {sheet.symmetry.on && <Axis view={view} sheet={sheet} edit={edit} />}
    </svg>
  );
}

type Rect = [number, number, number, number];

function Frame(props: { view: Viewport; rect: Rect; name: string }) {
  const [a, b, c, d] = props.rect;
  const corners: [number, number, number, number][] = [
    [a, b, 1, 1],
    [c, b, -1, 1],
    [c, d, -1, -1],
    [a, d, 1, -1],
  ];
  const arm = 14 / props.view.scale;
  const [tx, ty] = toScreen(props.view, a, b);
  return (
    <g fill="none" stroke="var(--quiet)">
      {corners.map(([x, y, sx, sy]) => {
        const arms: [number, number][] = [
          [x + sx * arm, y],
          [x, y],
          [x, y + sy * arm],
        ];
        const points = arms.map((place) => toScreen(props.view, ...place).join(","));
        return <polyline key={`${sx}${sy}`} points={points.join(" ")} />;
      })}
      <text x={tx + 4} y={ty - 6} fill="var(--quiet)" stroke="none" fontSize="0.92rem">
        {props.name}
      </text>
    </g>
  );
}

function Axis({ view, sheet, edit }: Pick<OverlayProps, "view" | "sheet" | "edit">) {
  const stored = sheet.symmetry.axis;
  const { moving, drag } = useKnobs<{ x: number; y: number; angle: number }>(view, (next) =>
    edit({ amend: { kind: "symmetry", fields: { on: true, axis: next } } }),
  );
  const axis = moving ?? { x: stored.x, y: stored.y, angle: stored.angle ?? 90 };
  const turn = (axis.angle * Math.PI) / 180;
  const far = 4000;
  const along = (t: number) => toScreen(view, axis.x + t * Math.cos(turn), axis.y + t * Math.sin(turn));
  const [[x1, y1], [x2, y2]] = [along(-far), along(far)];
  const reach = 120 / view.scale;
  const end: [number, number] = [axis.x - reach * Math.cos(turn), axis.y - reach * Math.sin(turn)];
  const moved = ([x, y]: [number, number]) => ({ ...axis, x, y });
  const turned = ([x, y]: [number, number]) => {
    const degrees = (Math.atan2(axis.y - y, axis.x - x) * 180) / Math.PI;
    const near = Math.round(degrees / 15) * 15;
    return { ...axis, angle: Math.abs(degrees - near) < 2 ? near : degrees };
  };
  return (
    <g>
      <line x1={x1} y1={y1} x2={x2} y2={y2} stroke="var(--pick)" strokeDasharray="6 5" />
      <Knob view={view} label={tr("Move the axis")} at={[axis.x, axis.y]} full radius={7} onGrab={drag(moved)} />
      <Knob view={view} label={tr("Turn the axis")} at={end} onGrab={drag(turned)} />
    </g>
  );
}

function between(from: [number, number], to: [number, number]): [number, number] {
  return [to[0] - from[0], to[1] - from[1]];
}
