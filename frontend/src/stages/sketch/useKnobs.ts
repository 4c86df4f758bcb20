import { type PointerEvent as ReactPointerEvent, useState } from "react";
import { toPage, type Viewport } from "../../paper/viewport";
import { holdOn } from "../../ui/knobs";

type Place = [number, number];

/**
 * Drags of a thing's knobs over the page: the thing as it is while the hand moves (null at rest), and what a knob
 * needs; the release keeps the last state, where there was any move.
 */
export function useKnobs<T>(view: Viewport, keep: (thing: T) => Promise<unknown>) {
  const [moving, setMoving] = useState<T | null>(null);
  const drag = (change: (to: Place) => T) => (event: ReactPointerEvent<SVGCircleElement>) => {
    const target = event.currentTarget;
    holdOn(target, event);
    const box = target.ownerSVGElement!.getBoundingClientRect();
    let next: T | null = null;
    const move = (step: PointerEvent) => {
      next = change(toPage(view, step.clientX - box.left, step.clientY - box.top));
      setMoving(next);
    };
    const up = async () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      if (next) await keep(next);
      setMoving(null);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
  };
  return { moving, drag };
}
