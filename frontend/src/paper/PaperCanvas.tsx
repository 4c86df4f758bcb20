import { type ReactNode, type RefObject, useCallback, useEffect, useImperativeHandle, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { isEraser, pointed, type Spot } from "../ui/pointing";
import { tr } from "../words/words";
import { Pen, type PenSettings } from "./pen";
import { about, fitted, fromMiddled, type Middled, middled, toPage, type Viewport } from "./viewport";
import type { WetStroke } from "./wetInk";

export interface PaperHandle {
  fit: () => void;
  /** Shows what was in the middle of the canvas before (`middled`). */
  show: (middle: Middled) => void;
  turn: (radians: number) => void;
  /** Comes nearer about the middle of the canvas. */
  zoom: (factor: number) => void;
}

export type DragPhase = "under way" | "ended" | "taken away";

interface PaperProps extends PenSettings {
  /** Changes whenever the page's pixels did. */
  stamp: number;
  /** Draws strokes; otherwise drags go to `onDrag`. */
  drawing: boolean;
  /** Which end of the pen is about to touch. */
  onEnd?: (end: "point" | "eraser") => void;
  /** More is asked for at a place of the window. */
  onMenu?: (at: { x: number; y: number }) => void;
  /** The pen has touched the paper. */
  onBegin: () => void;
  onStroke: (stroke: WetStroke) => void;
  /** The way of a drag over the page so far, page px; one place is a touch. */
  onDrag?: (trail: [number, number][], phase: DragPhase, event: PointerEvent) => void;
  /** How the page lies on the canvas, and what is in its middle. */
  onView: (view: Viewport, middle: Middled) => void;
  handle: RefObject<PaperHandle | null>;
  /** What is in the middle of the canvas at first; the whole page where it is left out. */
  start: Middled | null;
  overlay: (view: Viewport) => ReactNode;
}

/** The sheet: pen draws, wheel zooms to the pointer, space-drag or right button shifts, two fingers do all of it. */
export function PaperCanvas(props: PaperProps) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [view, setView] = useState<Viewport | null>(null);
  const latest = useRef(props);
  latest.current = props;
  /** The whole page is shown, and shall be in a window of another size. */
  const whole = useRef(false);
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
    latest.current.page.onto(context);
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
    whole.current = true;
  }, [place]);
  const show = useCallback(
    (middle: Middled) => {
      const { width, height } = frame.current!.getBoundingClientRect();
      const [x, y, scale, angle] = middle;
      const { page } = latest.current;
      const near = (value: number, size: number) => Math.min(2 * size, Math.max(-size, value));
      place(fromMiddled([near(x, page.width), near(y, page.height), scale, angle], width, height));
      const fit = fitted(width, height, page.width, page.height);
      whole.current = angle === 0 && Math.abs(scale / fit.scale - 1) < 0.01;
    },
    [place],
  );
  /** The hand has moved the view. */
  const moved = useCallback(
    (next: Viewport) => {
      whole.current = false;
      place(next);
    },
    [place],
  );
  useImperativeHandle(props.handle, () => {
    const aboutMiddle = (zoom: number, turn: number) => {
      const box = frame.current!.getBoundingClientRect();
      if (viewNow.current) moved(about(viewNow.current, box.width / 2, box.height / 2, zoom, turn));
    };
    return {
      fit,
      show,
      turn: (radians) => aboutMiddle(1, radians),
      zoom: (factor) => aboutMiddle(factor, 0),
    };
  });
  useEffect(() => {
    const watch = new ResizeObserver(() => {
      if (!frame.current) return;
      const box = frame.current.getBoundingClientRect();
      const before = {
        width: canvas.current!.width / devicePixelRatio,
        height: canvas.current!.height / devicePixelRatio,
      };
      canvas.current!.width = Math.round(box.width * devicePixelRatio);
      canvas.current!.height = Math.round(box.height * devicePixelRatio);
      const { start } = latest.current;
      // in a window of another size the whole page is whole again, and what was in the middle stays there
      if (viewNow.current && whole.current) fit();
      else if (viewNow.current) {
        place(fromMiddled(middled(viewNow.current, before.width, before.height), box.width, box.height));
        schedule();
      } else if (start) show(start);
      else fit();
    });
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, [fit, show, place, schedule]);

  useEffect(() => {
    let pen: Pen | null = null;
    let trail: [number, number][] = [];
    let penSeen = false;
    let spot: Spot = { x: 0, y: 0, width: 0, height: 0 };
    const now = () => viewNow.current!;
    const drop = () => {
      pen = wet.current = null;
      schedule();
    };
    const drag = (event: PointerEvent) => {
      trail.push(toPage(now(), spot.x, spot.y));
      latest.current.onDrag?.(trail, "under way", event);
    };
    return pointed(frame.current!, {
      onDown: (at, event) => {
        // a hand that rests beside the pen does not draw
        if (!viewNow.current || (event.pointerType === "touch" && penSeen)) return false;
        penSeen ||= event.pointerType === "pen";
        spot = at;
        const corner = { x: event.clientX - at.x, y: event.clientY - at.y };
        if (event.pointerType === "pen") flushSync(() => latest.current.onEnd?.(isEraser(event) ? "eraser" : "point"));
        const { drawing } = latest.current;
        if (drawing) {
          const place = (e: PointerEvent) => toPage(now(), e.clientX - corner.x, e.clientY - corner.y);
          pen = new Pen(latest.current, place, now().scale, event);
          wet.current = pen.wet;
          schedule();
          latest.current.onBegin();
        } else {
          trail = [];
          drag(event);
        }
        return true;
      },
      onMove: (at, event) => {
        spot = at;
        if (!pen) return drag(event);
        const samples = event.getCoalescedEvents?.() ?? [];
        for (const sample of samples.length ? samples : [event]) pen.follow(sample);
        schedule();
      },
      onUp: (_, event) => {
        if (!pen) return latest.current.onDrag?.(trail, "ended", event);
        const stroke = pen.lift(event);
        pen = wet.current = null;
        latest.current.onStroke(stroke);
      },
      onCancel: (_, event) => {
        if (pen) drop();
        else latest.current.onDrag?.(trail, "taken away", event);
      },
      onShift: (_, dx, dy) => moved({ ...now(), x: now().x + dx, y: now().y + dy }),
      onPinch: (_, { x, y, spread, turn, dx, dy }) =>
        moved(about({ ...now(), x: now().x + dx, y: now().y + dy }, x, y, spread, turn)),
      onMenu: (at) => latest.current.onMenu?.(at),
      onWheel: (at, delta) => viewNow.current && moved(about(now(), at.x, at.y, Math.exp(-delta * 0.0016))),
    });
  }, [moved, schedule]);

  return (
    <div
      ref={frame}
      className="absolute inset-0 touch-none"
      style={{ cursor: props.drawing ? "crosshair" : "cell" }}
      data-testid="paper"
    >
      <canvas ref={canvas} role="img" aria-label={tr("Sheet")} className="h-full w-full" />
      {view && <div className="pointer-events-none absolute inset-0 overflow-hidden">{props.overlay(view)}</div>}
    </div>
  );
}
