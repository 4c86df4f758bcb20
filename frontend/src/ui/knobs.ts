import { useEffect } from "react";

/** Screen px a knob goes with one press of an arrow key; with Shift five times as far. */
const STEP = 8;

const WAYS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** What every knob on a canvas needs to be reached by the Tab key. */
export const KNOB = { "data-knob": true, role: "button", tabIndex: 0 } as const;

/** Follows a hand beyond the knob it took hold of; keys have no pointer to follow. */
export function holdOn(target: Element, event: { pointerId: number; isTrusted?: boolean; nativeEvent?: Event }): void {
  if ((event.nativeEvent ?? event).isTrusted) target.setPointerCapture(event.pointerId);
}

/** Follows the hand that takes hold of a knob of a drawing: `move` hears where it is in the drawing, px, until it lets go. */
export function dragged(event: React.PointerEvent<SVGElement>, move: (x: number, y: number) => void): void {
  const target = event.currentTarget;
  const { left, top } = target.ownerSVGElement!.getBoundingClientRect();
  holdOn(target, event);
  const follow = (step: PointerEvent) => move(step.clientX - left, step.clientY - top);
  const up = () => {
    target.removeEventListener("pointermove", follow);
    target.removeEventListener("pointerup", up);
  };
  target.addEventListener("pointermove", follow);
  target.addEventListener("pointerup", up);
}

/** Arrow keys drag the knob that has the focus, as a pointer would: the one way there is to move one by hand. */
export function useKnobKeys(): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const way = WAYS[event.key];
      const knob = document.activeElement?.closest("[data-knob]");
      if (!way || !knob || event.defaultPrevented) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      const { left, top, width, height } = knob.getBoundingClientRect();
      const [x, y] = [left + width / 2, top + height / 2];
      const far = STEP * (event.shiftKey ? 5 : 1);
      const tell = (type: string, share: number) =>
        knob.dispatchEvent(
          new PointerEvent(type, {
            bubbles: true,
            cancelable: true,
            pointerId: 1,
            pointerType: "mouse",
            isPrimary: true,
            button: type === "pointermove" ? -1 : 0,
            buttons: type === "pointerup" ? 0 : 1,
            clientX: x + share * far * way[0],
            clientY: y + share * far * way[1],
          }),
        );
      tell("pointerdown", 0);
      tell("pointermove", 0.5);
      tell("pointermove", 1);
      tell("pointerup", 1);
    };
    window.addEventListener("keydown", down, true);
    return () => window.removeEventListener("keydown", down, true);
  }, []);
}
