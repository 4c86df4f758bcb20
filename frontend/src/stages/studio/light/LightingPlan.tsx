import { type Doing, menuOf } from "../../../bench/Doings";
import { holdOn, KNOB } from "../../../ui/knobs";
import { tr } from "../../../words/words";
import { calledOf, isFar, type Lamp, type Setting, spanOf } from "../kinds";
import { useStudioHand, useStudioStage } from "../store";

interface PlanProps {
  setting: Setting;
  onDraft: (lamp: Lamp) => void;
  onDone: (lamp: Lamp) => void;
  doingsOf: (lamp: Lamp) => Doing[];
}

const [WIDE, TALL, REACH] = [236, 170, 1500];

/** How far away it is drawn, mm: what is far beyond the plan stands at its rim. */
const drawnAt = (lamp: Lamp) => Math.min(lamp.distance ?? 700, REACH);

/** Where it stands around the room, degrees, whatever it is held to. */
function aroundOf(lamp: Lamp, setting: Setting): number {
  const held =
    lamp.held === "camera"
      ? (setting.camera?.azimuth ?? 0)
      : lamp.held === "product"
        ? (setting.units?.[0]?.turn ?? 0)
        : 0;
  return (lamp.azimuth ?? 0) + held;
}

/** Its own number for a place around the room. */
const ownAround = (lamp: Lamp, setting: Setting, around: number) => {
  const own = around - (aroundOf(lamp, setting) - (lamp.azimuth ?? 0));
  return ((((own + 180) % 360) + 360) % 360) - 180;
};

/** Lamps from above: drag one to turn it around the product and set its distance. */
export function PlanFromAbove({ setting, onDraft, onDone, doingsOf }: PlanProps) {
  const { lamp: chosen, set } = useStudioStage();
  const scale = (TALL * 0.62) / REACH;
  const centre = { x: WIDE / 2, y: TALL * 0.46 };
  const spot = (azimuth: number, level: number) => {
    const a = (azimuth * Math.PI) / 180;
    return { x: centre.x + Math.sin(a) * level * scale, y: centre.y + Math.cos(a) * level * scale };
  };
  const camera = setting.camera!;
  const eye = spot(camera.azimuth!, Math.min(camera.distance!, REACH));
  const deep = "depth" in setting.set! ? (setting.set.depth ?? REACH) : REACH;
  const wall = centre.y - Math.min(deep, REACH * 0.72) * scale;
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${TALL}`}
      className="w-full touch-none border border-vein"
      role="group"
      aria-label={tr("Lighting plan from above")}
    >
      <line x1={12} x2={WIDE - 12} y1={wall} y2={wall} stroke="var(--quiet)" strokeDasharray="2 3" />
      <ellipse cx={centre.x} cy={centre.y} rx={7} ry={4.5} fill="var(--act)" />
      <path
        d={`M${eye.x} ${eye.y - 5}l6 9h-12z`}
        fill="var(--quiet)"
        transform={`rotate(${-camera.azimuth!} ${eye.x} ${eye.y})`}
      />
      {(setting.lamps ?? []).map((lamp) => {
        const rise = ((lamp.height ?? 0) * Math.PI) / 180;
        const around = aroundOf(lamp, setting);
        const at = spot(around, drawnAt(lamp) * Math.cos(rise));
        const half = Math.max(7, (spanOf(lamp)[0] * scale) / 2);
        return (
          <LampMark
            key={lamp.id}
            lamp={lamp}
            at={at}
            turn={-around}
            half={half}
            chosen={lamp.id === chosen}
            doings={doingsOf(lamp)}
            onPick={() => set({ lamp: lamp.id, tool: "lamp" })}
            onMove={(x, y) => {
              const [dx, dy] = [(x - centre.x) / scale, (y - centre.y) / scale];
              const distance = Math.hypot(dx, dy) / Math.max(0.2, Math.cos(rise));
              const azimuth = round(ownAround(lamp, setting, (Math.atan2(dx, dy) * 180) / Math.PI));
              onDraft(isFar(lamp) ? { ...lamp, azimuth } : { ...lamp, azimuth, distance: clamp(distance, 60, 20000) });
            }}
            onDone={onDone}
          />
        );
      })}
    </svg>
  );
}

/** Lamps from the side: drag one to raise it and set its distance. */
export function PlanFromTheSide({ setting, onDraft, onDone, doingsOf }: PlanProps) {
  const { lamp: chosen, set } = useStudioStage();
  const scale = (TALL * 0.66) / REACH;
  const centre = { x: WIDE * 0.5, y: TALL * 0.8 };
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${TALL}`}
      className="w-full touch-none border border-vein"
      role="group"
      aria-label={tr("Lighting plan from the side")}
    >
      <line x1={12} x2={WIDE - 12} y1={centre.y + 6} y2={centre.y + 6} stroke="var(--quiet)" strokeDasharray="2 3" />
      <rect x={centre.x - 3.5} y={centre.y - 6} width={7} height={12} rx={3} fill="var(--act)" />
      {(setting.lamps ?? []).map((lamp) => {
        const rise = ((lamp.height ?? 0) * Math.PI) / 180;
        const front = Math.cos((aroundOf(lamp, setting) * Math.PI) / 180) > 0 ? -1 : 1;
        const at = {
          x: centre.x + front * Math.cos(rise) * drawnAt(lamp) * scale,
          y: centre.y - Math.sin(rise) * drawnAt(lamp) * scale,
        };
        const half = Math.max(7, (spanOf(lamp)[1] * scale) / 2);
        return (
          <LampMark
            key={lamp.id}
            lamp={lamp}
            at={at}
            turn={front * (lamp.height ?? 0) + 90}
            half={half}
            chosen={lamp.id === chosen}
            doings={doingsOf(lamp)}
            onPick={() => set({ lamp: lamp.id, tool: "lamp" })}
            onMove={(x, y) => {
              const [dx, dy] = [Math.abs(x - centre.x) / scale, (centre.y - y) / scale];
              const height = clamp(round((Math.atan2(dy, dx) * 180) / Math.PI), -90, 90);
              onDraft(
                isFar(lamp) ? { ...lamp, height } : { ...lamp, height, distance: clamp(Math.hypot(dx, dy), 60, 20000) },
              );
            }}
            onDone={onDone}
          />
        );
      })}
    </svg>
  );
}

interface MarkProps {
  lamp: Lamp;
  at: { x: number; y: number };
  turn: number;
  half: number;
  chosen: boolean;
  doings: Doing[];
  onPick: () => void;
  onMove: (x: number, y: number) => void;
  onDone: (lamp: Lamp) => void;
}

function LampMark({ lamp, at, turn, half, chosen, doings, onPick, onMove, onDone }: MarkProps) {
  const down = (event: React.PointerEvent<SVGGElement>) => {
    onPick();
    const target = event.currentTarget;
    const svg = target.ownerSVGElement!;
    holdOn(target, event);
    let moved = false;
    const move = (step: PointerEvent) => {
      moved = true;
      const box = svg.getBoundingClientRect();
      onMove(((step.clientX - box.left) / box.width) * WIDE, ((step.clientY - box.top) / box.height) * TALL);
    };
    const up = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      const draft = useStudioHand.getState().draft?.lamps?.find((other) => other.id === lamp.id);
      if (moved && draft) onDone(draft);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
  };
  const colour = !lamp.on ? "var(--vein)" : chosen ? "var(--warn)" : "var(--ink)";
  return (
    <g
      {...KNOB}
      aria-label={lamp.kind === "card" ? tr(calledOf(lamp)) : tr`${tr(calledOf(lamp))} lamp`}
      className="cursor-grab"
      onPointerDown={down}
      {...menuOf(doings, onPick)}
    >
      <circle cx={at.x} cy={at.y} r={13} fill="transparent" />
      <line
        x1={at.x - half}
        x2={at.x + half}
        y1={at.y}
        y2={at.y}
        stroke={colour}
        strokeWidth={lamp.kind === "card" ? 2 : 4}
        strokeDasharray={lamp.kind === "card" ? "3 2" : undefined}
        transform={`rotate(${turn} ${at.x} ${at.y})`}
      />
      <text
        x={at.x}
        y={at.y + half * Math.abs(Math.sin((turn * Math.PI) / 180)) + 13}
        textAnchor="middle"
        fontSize={10}
        fill="var(--quiet)"
      >
        {tr(calledOf(lamp))}
      </text>
    </g>
  );
}

const round = (value: number) => Math.round(value);
const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, Math.round(value)));
