import { type RefObject, useEffect, useState } from "react";
import { Vector3 } from "three";
import { useReading } from "../../ui/numbers/reading";
import { cameraOf, onScreen } from "../../view3d/orbit";
import { STEPS } from "../../view3d/probing/Mapped";
import { cssAt, plain, type Range } from "../../view3d/probing/scales";
import { tr } from "../../words/words";
import { type Place, type Probe, type Reading, unitOf, useSurface, useSurfaceHand } from "./store";

/** Where findings are, on the screen. */
export function FindingMarks(props: {
  marks: readonly { place: Place; wrong: boolean; name: string }[];
  size: { width: number; height: number };
}) {
  const { marks, size } = props;
  const orbit = useSurfaceHand((hand) => hand.orbit);
  const place = useSurface((state) => state.place);
  const camera = cameraOf(orbit, size.width, size.height);
  return marks.map((mark) => {
    const s = onScreen(camera, new Vector3(...mark.place), size.width, size.height);
    const here = place?.every((value, axis) => value === mark.place[axis]);
    const r = here ? 12 : 6;
    return (
      <g key={mark.name} data-testid="mark">
        <title>{mark.name}</title>
        <circle cx={s.x} cy={s.y} r={r} fill="none" stroke="var(--paper)" strokeWidth={here ? 5 : 3.5} />
        <circle
          cx={s.x}
          cy={s.y}
          r={r}
          fill="none"
          stroke={mark.wrong ? "var(--wrong)" : "var(--warn)"}
          strokeWidth={here ? 2.5 : 1.5}
          strokeDasharray={mark.wrong ? undefined : "3 2"}
        />
      </g>
    );
  });
}

/** The value under the pointer, with its unit, and the direction it is of. */
export function ReadValue(props: { probe: Probe; follow: RefObject<((reading: Reading | null) => void) | null> }) {
  const { probe, follow } = props;
  const [under, setUnder] = useState<Reading | null>(null);
  useEffect(() => {
    follow.current = setUnder;
    return () => {
      follow.current = null;
    };
  }, [follow]);
  const read = useReading();
  if (!under) return null;
  const unit = unitOf(probe);
  const bend = unit === "1/mm" && probe !== "mean" && Math.abs(under.value) > 1e-6 ? 1 / Math.abs(under.value) : null;
  const flat = under.value >= 1e6;
  const said =
    unit === "mm" && probe !== "deviation"
      ? flat
        ? probe === "radius"
          ? tr("flat")
          : tr("nothing behind it")
        : read.length(under.value, 2)
      : unit === "mm"
        ? read.length(under.value, 3)
        : `${plain(under.value)} ${unit}`;
  return (
    <>
      {under.along && (
        <line
          data-testid="bends along"
          x1={under.along[0].x}
          y1={under.along[0].y}
          x2={under.along[1].x}
          y2={under.along[1].y}
          stroke="var(--ink)"
          strokeWidth={2}
        />
      )}
      <text
        x={under.spot.x + 14}
        y={under.spot.y - 10}
        fontWeight={600}
        fill="var(--ink)"
        stroke="var(--paper)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {said}
        {bend !== null && bend < 100_000 && tr`, radius ${read.length(bend, 1)}`}
        {under.exact ? "" : tr(" (averaged)")}
      </text>
    </>
  );
}

/** What the ends of a map mean, beside their values. */
function endsOf(probe: Probe): [high: string, low: string] {
  if (probe === "gaussian") return [tr("dome"), tr("saddle")];
  if (probe === "draft") return [tr("lets go"), tr("lets go backwards")];
  if (probe === "deviation") return [tr("outside"), tr("inside")];
  if (probe === "wall") return [tr("thick"), tr("thin")];
  if (probe === "radius") return [tr("flatter"), tr("tighter")];
  return [tr("bulging"), tr("hollow")];
}

export function Legend({ range, probe }: { range: Range; probe: Probe }) {
  const { low, high, unit, scale } = range;
  const [over, under] = endsOf(probe);
  const css = Array.from({ length: 25 }, (_, k) => cssAt(scale, 1 - k / 24)).join(",");
  const ticks = Array.from({ length: STEPS / 2 + 1 }, (_, k) => high + ((low - high) * k) / (STEPS / 2));
  return (
    <div
      role="img"
      aria-label={tr`Legend from ${plain(low)} to ${plain(high)} ${unit}`}
      className="pointer-events-none absolute top-6 right-6 flex gap-2 bg-paper px-3 py-2.5"
    >
      <div data-pigment className="h-40 w-3" style={{ background: `linear-gradient(${css})` }} />
      <div className="flex h-40 flex-col justify-between text-[0.92rem] leading-none tabular-nums">
        {ticks.map((value, k) => (
          <span key={k}>
            {plain(value)}
            {k === 0 ? ` ${unit}, ${over}` : k === ticks.length - 1 ? `, ${under}` : ""}
          </span>
        ))}
      </div>
    </div>
  );
}
