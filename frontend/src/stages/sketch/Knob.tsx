import type { PointerEvent } from "react";
import { toScreen, type Viewport } from "../../paper/viewport";
import { KNOB } from "../../ui/knobs";

interface KnobProps {
  view: Viewport;
  label: string;
  /** Page px. */
  at: [number, number];
  onGrab: (event: PointerEvent<SVGCircleElement>) => void;
  colour?: string;
  /** Filled: it moves the whole thing, or is picked. */
  full?: boolean;
  radius?: number;
  /** Screen px beside its place, so as not to lie on what is there. */
  aside?: number;
}

/** Something to drag on the page: named, and large enough for a pen. */
export function Knob({ view, label, at, onGrab, colour = "var(--pick)", full, radius = 6, aside = 0 }: KnobProps) {
  const [x, y] = toScreen(view, ...at);
  return (
    <circle
      {...KNOB}
      aria-label={label}
      cx={x - aside}
      cy={y}
      r={radius}
      fill={full ? colour : "var(--raised)"}
      stroke={colour}
      strokeWidth={2}
      className="pointer-events-auto cursor-move"
      onPointerDown={onGrab}
    />
  );
}
