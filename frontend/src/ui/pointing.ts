/** A place on a canvas, px from its corner, and how large the canvas is. */
export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Where events lie on a canvas that stays where it is meanwhile. */
export function spotsOn(canvas: Element): (event: { clientX: number; clientY: number }) => Spot {
  const { left, top, width, height } = canvas.getBoundingClientRect();
  return ({ clientX, clientY }) => ({ x: clientX - left, y: clientY - top, width, height });
}

/** What two fingers did since they were last looked at: what lay under them goes by `dx` and `dy`, then turns and spreads about their middle. */
export interface Pinch {
  x: number;
  y: number;
  /** How many times as far apart they are. */
  spread: number;
  /** Radians they turned by. */
  turn: number;
  /** px their middle went. */
  dx: number;
  dy: number;
}

/** What a canvas does with the pointer: one drag at a time, of one hand. */
export interface Pointing {
  /** A drag begins; false where it is not wanted. */
  onDown: (at: Spot, event: PointerEvent) => boolean;
  onMove: (at: Spot, event: PointerEvent) => void;
  onUp: (at: Spot, event: PointerEvent) => void;
  /** The drag is taken away: by a second finger, or by the system. */
  onCancel: (at: Spot, event: PointerEvent) => void;
  onHover?: (at: Spot) => void;
  /** Space, or a button beside the main one, is held: the view is shifted by px. */
  onShift: (at: Spot, dx: number, dy: number) => void;
  onPinch: (at: Spot, pinch: Pinch) => void;
  onWheel: (at: Spot, delta: number) => void;
  /** The button beside the main one was pressed in place, or a finger rested: px of the window. */
  onMenu?: (at: { x: number; y: number }, event: PointerEvent) => void;
}

/** Whether a pen was turned around: its eraser end is button 5 (W3C Pointer Events, 4.1.3). */
export function isEraser(event: { button: number; buttons: number }): boolean {
  return event.button === 5 || (event.buttons & 32) !== 0;
}

interface Finger {
  x: number;
  y: number;
}

/** What presses, types or switches with the space bar. */
const OWN_SPACE =
  "button, a, input, textarea, select, summary, [role=button], [role=menuitem], [contenteditable], [role=dialog]";

/** Px a hand may tremble and still be in place, and milliseconds a finger rests to ask for more. */
const TREMBLES = 6;
const RESTS = 550;

/** Wires a canvas to the pointer, the wheel and the space bar; answers with what takes the wires away. */
export function pointed(canvas: HTMLElement, hand: Pointing): () => void {
  const fingers = new Map<number, Finger>();
  let mode: "drag" | "shift" | "fingers" | null = null;
  let spaced = false;
  let last: Spot | null = null;
  let begun: { x: number; y: number; beside: boolean } | null = null;
  let resting: ReturnType<typeof setTimeout> | undefined;
  let rested = false;
  const inPlace = (event: PointerEvent) =>
    begun !== null && Math.hypot(event.clientX - begun.x, event.clientY - begun.y) < TREMBLES;
  const spot = (event: MouseEvent): Spot => {
    const { left, top, width, height } = canvas.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top, width, height };
  };
  const down = (event: PointerEvent) => {
    if ((event.target as Element).closest("[data-knob]")) return;
    const at = spot(event);
    if (event.pointerType === "touch") fingers.set(event.pointerId, at);
    clearTimeout(resting);
    begun = { x: event.clientX, y: event.clientY, beside: event.button === 2 && !spaced };
    if (fingers.size >= 2) {
      begun = null;
      if (mode === "drag") hand.onCancel(at, event);
      mode = "fingers";
      return;
    }
    const shifts = spaced || (event.button > 0 && !isEraser(event));
    if (!shifts && !hand.onDown(at, event)) return;
    canvas.setPointerCapture(event.pointerId);
    mode = shifts ? "shift" : "drag";
    last = at;
    if (event.pointerType === "touch" && mode === "drag" && hand.onMenu) {
      resting = setTimeout(() => {
        if (mode !== "drag" || !begun) return;
        hand.onCancel(at, event);
        mode = null;
        rested = true;
        hand.onMenu?.({ x: begun.x, y: begun.y }, event);
      }, RESTS);
    }
  };
  const move = (event: PointerEvent) => {
    const at = spot(event);
    if (!inPlace(event)) clearTimeout(resting);
    if (mode === "fingers") {
      const [before, others] = [fingers.get(event.pointerId), [...fingers].filter(([id]) => id !== event.pointerId)];
      const still = others[0]?.[1];
      if (!before || !still) return;
      fingers.set(event.pointerId, at);
      hand.onPinch(at, pinched(still, before, at));
    } else if (mode === "shift" && last) hand.onShift(at, at.x - last.x, at.y - last.y);
    else if (mode === "drag") hand.onMove(at, event);
    else hand.onHover?.(at);
    last = at;
  };
  const ended = (event: PointerEvent) => {
    clearTimeout(resting);
    const asks = mode === "shift" && begun?.beside && event.type === "pointerup" && inPlace(event);
    const dragged = mode === "drag";
    fingers.delete(event.pointerId);
    if (mode !== "fingers" || fingers.size === 0) mode = null;
    if (asks) hand.onMenu?.({ x: event.clientX, y: event.clientY }, event);
    if (!dragged) return;
    if (event.type === "pointerup") hand.onUp(spot(event), event);
    else hand.onCancel(spot(event), event);
  };
  // a finger that rested has asked for more: lifting it is no click beside what it asked for
  const lifted = (event: TouchEvent) => {
    if (rested) event.preventDefault();
    rested = false;
  };
  const wheel = (event: WheelEvent) => {
    event.preventDefault();
    hand.onWheel(spot(event), event.deltaY);
  };
  const key = (event: KeyboardEvent) => {
    // what one is in may have its own use for the space bar; the canvas, and whatever only lies around it, has none
    if (event.code !== "Space" || (event.target as Element).closest(OWN_SPACE)) return;
    spaced = event.type === "keydown";
    event.preventDefault();
  };
  const wires = new AbortController();
  const { signal } = wires;
  canvas.addEventListener("pointerdown", down, { signal });
  canvas.addEventListener("pointermove", move, { signal });
  canvas.addEventListener("pointerup", ended, { signal });
  canvas.addEventListener("pointercancel", ended, { signal });
  canvas.addEventListener("touchend", lifted, { passive: false, signal });
  canvas.addEventListener("wheel", wheel, { passive: false, signal });
  canvas.addEventListener("contextmenu", (event) => event.preventDefault(), { signal });
  window.addEventListener("keydown", key, { signal });
  window.addEventListener("keyup", key, { signal });
  return () => {
    clearTimeout(resting);
    wires.abort();
  };
}

/** One of two fingers went from one place to another. */
export function pinched(still: Finger, from: Finger, to: Finger): Pinch {
  const angle = (place: Finger) => Math.atan2(place.y - still.y, place.x - still.x);
  const apart = (place: Finger) => Math.hypot(place.x - still.x, place.y - still.y);
  return {
    x: (to.x + still.x) / 2,
    y: (to.y + still.y) / 2,
    spread: apart(to) / Math.max(1, apart(from)),
    turn: angle(to) - angle(from),
    dx: (to.x - from.x) / 2,
    dy: (to.y - from.y) / 2,
  };
}
