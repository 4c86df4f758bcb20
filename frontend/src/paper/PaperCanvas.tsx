import { type ReactNode, type RefObject, useCallback, useEffect, useImperativeHandle, useRef, useState } from "react";
import { along, type Direction, type Hold, holdAt, nearest } from "./guides";
import type { Nib } from "./nibs";
import type { Page } from "./page";
import { leanOf, Pressure } from "./pressure";
import { copiesOf, type Symmetry } from "./symmetry";
import { about, fitted, fromMiddled, middled, toPage, type Viewport } from "./viewport";
import { type Look, WetStroke } from "./wetInk";

export interface PaperHandle {
  fit: () => void;
  /** Shows what was in the middle of the canvas before (`middled`). */
  show: (middle: readonly number[]) => void;
  turn: (radians: number) => void;
}

interface PaperProps {
  page: Page;
  /** Changes whenever the page's pixels did. */
  stamp: number;
  nib: Nib;
  colour: [number, number, number];
  symmetry: Symmetry | null;
  look: Look;
  /** Page px the line hangs behind the pen, which steadies it. */
  steady: number;
  /** What a line holds to when it begins within `reach` screen px of it. */
  holds: Hold[];
  reach: number;
  /** Directions every line holds to, the one the hand sets out in; none where lines are free. */
  directions: Direction[];
  /** The nib of a line that holds to something. */
  heldNib: Nib;
  /** Draws strokes; otherwise drags go to `onDrag`. */
  drawing: boolean;
  /** The pen has touched the paper. */
  onBegin: () => void;
  onStroke: (stroke: WetStroke) => void;
  /** The way of a drag over the page so far, page px; one place is a touch. */
  onDrag?: (trail: [number, number][], ended: boolean, event: PointerEvent) => void;
  /** How the page lies on the canvas, and what is in its middle. */
  onView: (view: Viewport, middle: readonly number[]) => void;
  handle: RefObject<PaperHandle | null>;
  /** What is in the middle of the canvas at first; the whole page where it is left out. */
  start: readonly number[] | null;
  overlay: (view: Viewport) => ReactNode;
}

/** Screen px a hand goes before the direction it sets out in is known. */
const SETTING_OUT = 9;

/** The sheet: pen draws, wheel zooms to the pointer, space-drag or right button shifts, two fingers do all of it. */
export function PaperCanvas(props: PaperProps) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [view, setView] = useState<Viewport | null>(null);
  const latest = useRef(props);
  latest.current = props;
  const viewNow = useRef(view);
  viewNow.current = view;
  const wet = useRef<WetStroke | null>(null);
  const scheduled = useRef(0);

  const draw = useCallback(() => {
    scheduled.current = 0;
    const target = canvas.current;
    const now = viewNow.current;
    if (!target || !now) return;
    const context = target.getContext("2d")!;
    const ratio = devicePixelRatio;
    const { width, height } = target;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = getComputedStyle(target).getPropertyValue("--canvas");
    context.fillRect(0, 0, width, height);
    const c = Math.cos(now.angle) * now.scale * ratio;
    const s = Math.sin(now.angle) * now.scale * ratio;
    context.setTransform(c, s, -s, c, now.x * ratio, now.y * ratio);
    context.imageSmoothingEnabled = now.scale < 3;
    context.imageSmoothingQuality = "high";
    context.drawImage(latest.current.page.canvas, 0, 0);
    wet.current?.onto(context);
    context.setTransform(1, 0, 0, 1, 0, 0);
  }, []);
  const schedule = useCallback(() => {
    if (!scheduled.current) scheduled.current = requestAnimationFrame(draw);
  }, [draw]);
  useEffect(schedule, [view, props.stamp, props.page, schedule]);

  const place = useCallback((next: Viewport) => {
    viewNow.current = next;
    setView(next);
    const { width, height } = frame.current!.getBoundingClientRect();
    latest.current.onView(next, middled(next, width, height));
  }, []);
  const fit = useCallback(() => {
    const { page } = latest.current;
    if (!frame.current) return;
    const box = frame.current.getBoundingClientRect();
    place(fitted(box.width, box.height, page.width, page.height));
  }, [place]);
  const show = useCallback(
    (middle: readonly number[]) => {
      const { width, height } = frame.current!.getBoundingClientRect();
      place(fromMiddled(middle, width, height));
    },
    [place],
  );
  useImperativeHandle(props.handle, () => ({
    fit,
    show,
    turn: (radians) => {
      const box = frame.current!.getBoundingClientRect();
      if (viewNow.current) place(about(viewNow.current, box.width / 2, box.height / 2, 1, radians));
    },
  }));
  useEffect(() => {
    const watch = new ResizeObserver(() => {
      if (!frame.current) return;
      const box = frame.current.getBoundingClientRect();
      canvas.current!.width = Math.round(box.width * devicePixelRatio);
      canvas.current!.height = Math.round(box.height * devicePixelRatio);
      const { start } = latest.current;
      if (viewNow.current) schedule();
      else if (start) show(start);
      else fit();
    });
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, [fit, show, schedule]);

  useEffect(() => {
    const target = frame.current!;
    const fingers = new Map<number, { x: number; y: number }>();
    let pressure = new Pressure();
    let mode: "draw" | "shift" | "drag" | "fingers" | null = null;
    let spaced = false;
    let penSeen = false;
    let trail: [number, number][] = [];
    let last = { x: 0, y: 0 };
    const spot = (event: PointerEvent | WheelEvent) => {
      const box = target.getBoundingClientRect();
      return { x: event.clientX - box.left, y: event.clientY - box.top };
    };
    let pulled: [number, number] = [0, 0];
    let held: Hold | null = null;
    // samples of a line whose direction the hand has not shown yet
    let waiting: PointerEvent[] = [];
    const begin = (event: PointerEvent) => {
      const { page, nib, heldNib, colour, symmetry, look, holds, reach, directions } = latest.current;
      const at = spot(event);
      pressure = new Pressure();
      held = holdAt(holds, toPage(viewNow.current!, at.x, at.y), reach / viewNow.current!.scale);
      waiting = !held && directions.length ? [event] : [];
      const copies = symmetry ? copiesOf(symmetry) : [];
      const drawn = held || waiting.length ? heldNib : nib;
      wet.current = new WetStroke(page.width, page.height, drawn, colour, copies, look);
      if (!waiting.length) addSample(event, true);
    };
    const follow = (event: PointerEvent) => {
      if (!waiting.length) return addSample(event);
      waiting.push(event);
      const [from, to] = [spot(waiting[0]), spot(event)];
      if (Math.hypot(to.x - from.x, to.y - from.y) < SETTING_OUT) return;
      const now = viewNow.current!;
      held = along(latest.current.directions, toPage(now, from.x, from.y), toPage(now, to.x, to.y));
      const [first, ...rest] = waiting;
      waiting = [];
      addSample(first, true);
      for (const sample of rest) addSample(sample);
    };
    const addSample = (event: PointerEvent, first = false) => {
      const at = spot(event);
      let [x, y] = toPage(viewNow.current!, at.x, at.y);
      const { steady } = latest.current;
      if (held) [x, y] = nearest(held, [x, y]);
      const away = Math.hypot(x - pulled[0], y - pulled[1]);
      if (first || steady <= 0) pulled = [x, y];
      else if (away <= steady) return;
      else {
        const share = (away - steady) / away;
        pulled = [pulled[0] + (x - pulled[0]) * share, pulled[1] + (y - pulled[1]) * share];
      }
      wet.current?.add(...pulled, pressure.of(event), leanOf(event));
    };
    const down = (event: PointerEvent) => {
      if ((event.target as Element).closest("[data-knob]") || !viewNow.current) return;
      const at = spot(event);
      if (event.pointerType === "touch") {
        fingers.set(event.pointerId, at);
        if (fingers.size === 2) {
          mode = "fingers";
          wet.current = null;
          schedule();
          return;
        }
        if (penSeen) return;
      }
      if (event.pointerType === "pen") penSeen = true;
      target.setPointerCapture(event.pointerId);
      last = at;
      if (spaced || event.button === 2 || event.button === 1) mode = "shift";
      else if (latest.current.drawing) {
        mode = "draw";
        begin(event);
        schedule();
        latest.current.onBegin();
      } else {
        mode = "drag";
        trail = [toPage(viewNow.current, at.x, at.y)];
        latest.current.onDrag?.(trail, false, event);
      }
    };
    const move = (event: PointerEvent) => {
      const at = spot(event);
      if (mode === "fingers" && fingers.has(event.pointerId) && fingers.size === 2) {
        const [a, b] = [...fingers.values()];
        fingers.set(event.pointerId, at);
        const [c, d] = [...fingers.values()];
        const zoom = Math.hypot(d.x - c.x, d.y - c.y) / Math.max(1, Math.hypot(b.x - a.x, b.y - a.y));
        const turn = Math.atan2(d.y - c.y, d.x - c.x) - Math.atan2(b.y - a.y, b.x - a.x);
        const next = about(viewNow.current!, (c.x + d.x) / 2, (c.y + d.y) / 2, zoom, turn);
        place({ ...next, x: next.x + (c.x + d.x - a.x - b.x) / 2, y: next.y + (c.y + d.y - a.y - b.y) / 2 });
      } else if (mode === "shift") {
        place({ ...viewNow.current!, x: viewNow.current!.x + at.x - last.x, y: viewNow.current!.y + at.y - last.y });
      } else if (mode === "draw") {
        const events = event.getCoalescedEvents?.() ?? [];
        for (const sample of events.length ? events : [event]) follow(sample);
        schedule();
      } else if (mode === "drag") {
        trail.push(toPage(viewNow.current!, at.x, at.y));
        latest.current.onDrag?.(trail, false, event);
      }
      last = at;
    };
    const up = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      const ended = mode;
      if (mode === "fingers" && fingers.size > 0) return;
      mode = null;
      if (ended === "draw" && wet.current) {
        const stroke = wet.current;
        if (waiting.length) {
          // the hand never set out: a dot where it touched
          const [touch] = waiting;
          waiting = [];
          addSample(touch, true);
        }
        wet.current = null;
        const at = spot(event);
        const end = toPage(viewNow.current!, at.x, at.y);
        const [x, y] = held ? nearest(held, end) : end;
        // a steadied line hangs behind the pen: let it arrive
        if (latest.current.steady > 0 && stroke.length > 1) stroke.add(x, y, pressure.last);
        stroke.finish();
        latest.current.onStroke(stroke);
      } else if (ended === "drag") latest.current.onDrag?.(trail, true, event);
    };
    const cancel = () => {
      mode = null;
      fingers.clear();
      wet.current = null;
      schedule();
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const at = spot(event);
      if (viewNow.current) place(about(viewNow.current, at.x, at.y, Math.exp(-event.deltaY * 0.0016)));
    };
    const key = (event: KeyboardEvent) => {
      if (event.code === "Space" && (event.target === document.body || event.target === target)) {
        spaced = event.type === "keydown";
        event.preventDefault();
      }
    };
    const still = (event: Event) => event.preventDefault();
    target.addEventListener("pointerdown", down);
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", cancel);
    target.addEventListener("wheel", wheel, { passive: false });
    target.addEventListener("contextmenu", still);
    window.addEventListener("keydown", key);
    window.addEventListener("keyup", key);
    return () => {
      target.removeEventListener("pointerdown", down);
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", cancel);
      target.removeEventListener("wheel", wheel);
      target.removeEventListener("contextmenu", still);
      window.removeEventListener("keydown", key);
      window.removeEventListener("keyup", key);
    };
  }, [place, schedule]);

  return (
    <div
      ref={frame}
      className="absolute inset-0 touch-none"
      style={{ cursor: props.drawing ? "crosshair" : "cell" }}
      data-testid="paper"
    >
      <canvas ref={canvas} role="img" aria-label="Sheet" className="h-full w-full" />
      {view && <div className="pointer-events-none absolute inset-0 overflow-hidden">{props.overlay(view)}</div>}
    </div>
  );
}
