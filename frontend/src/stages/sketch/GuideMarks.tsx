import type { AnyEdit } from "../../api/queries";
import type { Guide } from "../../paper/guides";
import { toScreen, type Viewport } from "../../paper/viewport";
import { useKnobs } from "./useKnobs";

type Place = [number, number];

/** The guides over the page, with knobs to lay them anew. */
export function GuideMarks(props: { view: Viewport; guides: Guide[]; edit: (edit: AnyEdit) => Promise<boolean> }) {
  return props.guides.map((guide) => <Mark key={guide.id} {...props} guide={guide} />);
}

function Mark(props: { view: Viewport; guide: Guide; edit: (edit: AnyEdit) => Promise<boolean> }) {
  const { view, edit } = props;
  const { moving, drag } = useKnobs<Guide>(view, (guide) => edit({ kind: "put_guide", guide }));
  const guide = moving ?? props.guide;
  const knob = (label: string, at: Place, change: (place: Place) => Guide) => {
    const [x, y] = toScreen(view, ...at);
    return (
      <circle
        data-knob
        aria-label={label}
        cx={x}
        cy={y}
        r={6}
        fill="var(--raised)"
        stroke="var(--pick)"
        strokeWidth={2}
        className="pointer-events-auto cursor-move"
        onPointerDown={drag(change)}
      />
    );
  };
  if (guide.kind === "straightedge") {
    const [a, b] = [toScreen(view, ...guide.start), toScreen(view, ...guide.end)];
    return (
      <g data-testid="guide">
        <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--pick)" strokeWidth={1.5} />
        {knob("Move the straightedge’s start", guide.start, (start) => ({ ...guide, start }))}
        {knob("Move the straightedge’s end", guide.end, (end) => ({ ...guide, end }))}
      </g>
    );
  }
  const turn = ((guide.turn ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [x, y] = guide.centre;
  const around = (place: Place) => [c * (place[0] - x) + s * (place[1] - y), -s * (place[0] - x) + c * (place[1] - y)];
  const points = Array.from({ length: 96 }, (_, k) => {
    const t = (k * Math.PI) / 48;
    const [u, v] = [guide.across * Math.cos(t), guide.down * Math.sin(t)];
    return toScreen(view, x + c * u - s * v, y + s * u + c * v).join(",");
  });
  const far: Place = [x + c * guide.across, y + s * guide.across];
  const low: Place = [x - s * guide.down, y + c * guide.down];
  return (
    <g data-testid="guide">
      <polygon points={points.join(" ")} fill="none" stroke="var(--pick)" strokeWidth={1.5} />
      {knob("Move the ellipse", guide.centre, (centre) => ({ ...guide, centre }))}
      {knob("Size and turn the ellipse", far, ([px, py]) => ({
        ...guide,
        across: Math.max(4, Math.hypot(px - x, py - y)),
        turn: (Math.atan2(py - y, px - x) * 180) / Math.PI,
      }))}
      {knob("Size the ellipse’s other axis", low, (place) => ({
        ...guide,
        down: Math.max(4, Math.abs(around(place)[1])),
      }))}
    </g>
  );
}
