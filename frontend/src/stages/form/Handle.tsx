import type { PerspectiveCamera, Vector3 } from "three";
import { LETTERS, type Letter } from "../../ui/AxisFields";
import { KNOB } from "../../ui/knobs";
import { onScreen } from "../../view3d/orbit";
import { tr } from "../../words/words";
import type { Grip, HandleSeat } from "./dragging";
import type { HandleKind } from "./store";

const ARM = 74;
const COLOURS = { W: "var(--width)", D: "var(--depth)", H: "var(--height)" };

interface HandleProps {
  seat: HandleSeat;
  camera: PerspectiveCamera;
  size: { width: number; height: number };
  kind: HandleKind;
  /** What the drag has done so far, shown beside the grip. */
  said: string;
  held: Grip | null;
  onGrip: (grip: Grip, event: React.PointerEvent) => void;
}

/** The on-screen grip: along a direction by its arm, in a plane by the patch between two arms, freely by the seat. */
export function Handle(props: HandleProps) {
  const { camera, size } = props;
  const { place: seat, directions, out } = props.seat;
  const centre = onScreen(camera, seat, size.width, size.height);
  const mm = seat.distanceTo(camera.position) * Math.tan((camera.fov * Math.PI) / 360) * (2 / size.height) * ARM;
  const ends = Object.fromEntries(
    LETTERS.map((letter) => {
      const tip = onScreen(camera, seat.clone().addScaledVector(directions[letter], mm), size.width, size.height);
      return [letter, tip];
    }),
  ) as Record<Letter, Vector3>;
  const knob = (grip: Grip, label: string) => ({
    ...KNOB,
    "aria-label": label,
    className: "pointer-events-auto cursor-grab",
    onPointerDown: (event: React.PointerEvent) => props.onGrip(grip, event),
  });
  const verb = { move: "Move", turn: "Turn", size: "Size", push: "Push" }[props.kind];
  if (props.kind === "push")
    return (
      <Push
        {...props}
        centre={centre}
        tip={onScreen(camera, seat.clone().addScaledVector(out, mm), size.width, size.height)}
        knob={knob}
      />
    );
  return (
    <g>
      {props.kind !== "turn" &&
        (["WD", "DH", "WH"] as const).map((grip) => {
          const [a, b] = [ends[grip[0] as "W"], ends[grip[1] as "D"]];
          const corner = (s: number, t: number) =>
            `${centre.x + s * (a.x - centre.x) + t * (b.x - centre.x)},${centre.y + s * (a.y - centre.y) + t * (b.y - centre.y)}`;
          const area = Math.abs((a.x - centre.x) * (b.y - centre.y) - (a.y - centre.y) * (b.x - centre.x));
          if (area < 500) return null;
          return (
            <polygon
              key={grip}
              {...knob(grip, `${verb} in the plane ${grip}`)}
              points={[corner(0.28, 0.28), corner(0.5, 0.28), corner(0.5, 0.5), corner(0.28, 0.5)].join(" ")}
              fill="var(--ink)"
              fillOpacity={props.held === grip ? 0.5 : 0.16}
            />
          );
        })}
      {LETTERS.map((letter) => {
        const tip = ends[letter];
        const length = Math.hypot(tip.x - centre.x, tip.y - centre.y);
        if (length < 12) return null;
        const colour = COLOURS[letter];
        return (
          <g
            key={letter}
            {...knob(letter, `${verb} along ${letter}`)}
            opacity={props.held && props.held !== letter ? 0.35 : 1}
          >
            <line x1={centre.x} y1={centre.y} x2={tip.x} y2={tip.y} stroke={colour} strokeWidth={2.5} />
            <line x1={centre.x} y1={centre.y} x2={tip.x} y2={tip.y} stroke="transparent" strokeWidth={14} />
            {props.kind === "move" && <circle cx={tip.x} cy={tip.y} r={5.5} fill={colour} />}
            {props.kind === "size" && <rect x={tip.x - 5} y={tip.y - 5} width={10} height={10} fill={colour} />}
            {props.kind === "turn" && (
              <circle cx={tip.x} cy={tip.y} r={6} fill="var(--paper)" stroke={colour} strokeWidth={2.5} />
            )}
            <text x={tip.x + 10} y={tip.y + 4} fill={colour} fontSize="0.92rem" fontWeight={600}>
              {letter}
            </text>
          </g>
        );
      })}
      <circle {...knob("free", `${verb} freely`)} cx={centre.x} cy={centre.y} r={6.5} fill="var(--ink)" />
      <Said x={centre.x + 14} y={centre.y - 14} text={props.said} />
    </g>
  );
}

/** One arm, along the mean normal of what is picked: points go out along their own. */
function Push(
  props: HandleProps & {
    centre: Vector3;
    tip: Vector3;
    knob: (grip: Grip, label: string) => React.SVGProps<SVGGElement>;
  },
) {
  const { centre, tip, knob } = props;
  return (
    <g>
      <g {...knob("N", tr("Push outward"))}>
        <line x1={centre.x} y1={centre.y} x2={tip.x} y2={tip.y} stroke="var(--ink)" strokeWidth={2.5} />
        <line x1={centre.x} y1={centre.y} x2={tip.x} y2={tip.y} stroke="transparent" strokeWidth={14} />
        <circle cx={tip.x} cy={tip.y} r={6.5} fill="var(--ink)" />
      </g>
      <circle cx={centre.x} cy={centre.y} r={4} fill="var(--paper)" stroke="var(--ink)" strokeWidth={2} />
      <Said x={tip.x + 12} y={tip.y - 8} text={props.said} />
    </g>
  );
}

/** Words beside the hand, readable over anything. */
export function Said(props: { x: number; y: number; text: string }) {
  if (!props.text) return null;
  return (
    <text
      x={props.x}
      y={props.y}
      fontSize="1rem"
      fontWeight={600}
      fill="var(--ink)"
      stroke="var(--paper)"
      strokeWidth={4}
      paintOrder="stroke"
    >
      {props.text}
    </text>
  );
}
