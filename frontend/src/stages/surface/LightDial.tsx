import { dragged, KNOB } from "../../ui/knobs";
import { tr } from "../../words/words";

const RADIUS = 38;

/** On the canvas: drag the dot to turn the light, the bar beneath to set how many there are. */
export function LightDial(props: {
  height: number;
  around: number;
  above: number;
  count: number;
  least: number;
  most: number;
  what: string;
  onTurn: (around: number, above: number) => void;
  onCount: (count: number) => void;
}) {
  const { height, around, above, count, least, most } = props;
  const [cx, cy] = [70, height - 96];
  const dot = { x: cx + (around / 180) * RADIUS, y: cy - (above / 90) * RADIUS };
  const bar = { left: cx - RADIUS, width: 2 * RADIUS, y: cy + RADIUS + 20 };
  const drag = (move: (x: number, y: number) => void) => (event: React.PointerEvent<SVGElement>) =>
    dragged(event, move);
  const clamp = (value: number, most: number) => Math.round(Math.max(-most, Math.min(most, value)));
  return (
    <g>
      <rect
        x={cx - RADIUS - 14}
        y={cy - RADIUS - 14}
        width={2 * RADIUS + 28}
        height={2 * RADIUS + 62}
        fill="var(--paper)"
      />
      <rect x={cx - RADIUS} y={cy - RADIUS} width={2 * RADIUS} height={2 * RADIUS} fill="none" stroke="var(--vein)" />
      <path d={`M${cx - RADIUS} ${cy}h${2 * RADIUS}M${cx} ${cy - RADIUS}v${2 * RADIUS}`} stroke="var(--vein)" />
      <circle
        {...KNOB}
        aria-label={tr("Direction of the light")}
        cx={dot.x}
        cy={dot.y}
        r={7}
        fill="var(--act)"
        className="pointer-events-auto cursor-move"
        onPointerDown={drag((x, y) =>
          props.onTurn(clamp(((x - cx) / RADIUS) * 180, 180), clamp(((cy - y) / RADIUS) * 90, 90)),
        )}
      />
      <line x1={bar.left} x2={bar.left + bar.width} y1={bar.y} y2={bar.y} stroke="var(--quiet)" strokeWidth={2} />
      <rect
        {...KNOB}
        aria-label={tr("How many")}
        x={bar.left + ((count - least) / (most - least)) * bar.width - 3}
        y={bar.y - 7}
        width={6}
        height={14}
        fill="var(--ink)"
        className="pointer-events-auto cursor-ew-resize"
        onPointerDown={drag((x) =>
          props.onCount(
            Math.round(Math.max(least, Math.min(most, least + ((x - bar.left) / bar.width) * (most - least)))),
          ),
        )}
      />
      <text x={cx} y={bar.y + 20} textAnchor="middle" fontSize="0.86rem" fill="var(--quiet)">
        {count} {props.what}
      </text>
    </g>
  );
}
