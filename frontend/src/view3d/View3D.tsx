import { Canvas, useThree } from "@react-three/fiber";
import {
  type ReactNode,
  type RefObject,
  useEffect,
  useImperativeHandle,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { NeutralToneMapping, NoToneMapping, PerspectiveCamera } from "three";
import type { Eye } from "./eye";
import { aim, type Orbit, shifted, turned, zoomed } from "./orbit";

export interface Spot {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** What the stage does with the pointer. Returning true from `onDown` takes the drag away from the view. */
export interface Hands {
  onDown?: (spot: Spot, event: PointerEvent) => boolean;
  onMove?: (spot: Spot, event: PointerEvent) => void;
  onUp?: (spot: Spot, event: PointerEvent) => void;
  onClick?: (spot: Spot, event: PointerEvent) => void;
  onHover?: (spot: Spot) => void;
}

export interface ViewHandle {
  redraw: () => void;
}

interface ViewProps {
  eye: Eye;
  hands?: Hands;
  label: string;
  /** What is to be seen has not arrived yet. */
  busy?: boolean;
  children: ReactNode;
  /** What lies over the scene; what of it follows the eye asks for the eye itself. */
  overlay?: (size: { width: number; height: number }) => ReactNode;
  handle?: RefObject<ViewHandle | null>;
  neutral?: boolean;
}

const CLICK_REACH = 4;

/** The 3D view of Form and Surface: drag beside the form turns it, space or right button shifts it, wheel zooms. */
export function View3D(props: ViewProps) {
  const frame = useRef<HTMLDivElement>(null);
  const latest = useRef(props);
  latest.current = props;
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) =>
      setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    );
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const target = frame.current!;
    const fingers = new Map<number, Spot>();
    let mode: "turn" | "shift" | "hand" | "fingers" | null = null;
    let spaced = false;
    let start: Spot | null = null;
    let last: Spot | null = null;
    const spot = (event: PointerEvent | WheelEvent): Spot => {
      const box = target.getBoundingClientRect();
      return { x: event.clientX - box.left, y: event.clientY - box.top, width: box.width, height: box.height };
    };
    const down = (event: PointerEvent) => {
      if ((event.target as Element).closest("[data-knob]")) return;
      const at = spot(event);
      if (event.pointerType === "touch") fingers.set(event.pointerId, at);
      if (fingers.size === 2) {
        mode = "fingers";
        return;
      }
      target.setPointerCapture(event.pointerId);
      start = last = at;
      if (spaced || event.button > 0) mode = "shift";
      else mode = latest.current.hands?.onDown?.(at, event) ? "hand" : "turn";
    };
    const move = (event: PointerEvent) => {
      const at = spot(event);
      const { eye, hands } = latest.current;
      const orbit = eye.now();
      if (mode === "fingers" && fingers.has(event.pointerId) && fingers.size === 2) {
        const [a, b] = [...fingers.values()];
        fingers.set(event.pointerId, at);
        const [c, d] = [...fingers.values()];
        const zoom = Math.hypot(b.x - a.x, b.y - a.y) / Math.max(1, Math.hypot(d.x - c.x, d.y - c.y));
        const [x, y] = [(c.x + d.x) / 2, (c.y + d.y) / 2];
        const next = zoomed(orbit, zoom, x, y, at.width, at.height);
        eye.look(shifted(next, x - (a.x + b.x) / 2, y - (a.y + b.y) / 2, at.height));
        return;
      }
      if (!last || !start) hands?.onHover?.(at);
      else if (mode === "hand") hands?.onMove?.(at, event);
      else if (Math.hypot(at.x - start.x, at.y - start.y) > CLICK_REACH || mode === "shift") {
        const [dx, dy] = [at.x - last.x, at.y - last.y];
        if (mode === "turn") eye.look(turned(orbit, dx, dy));
        else eye.look(shifted(orbit, dx, dy, at.height));
        last = at;
        return;
      }
      if (mode === "hand") last = at;
    };
    const up = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      const at = spot(event);
      const { hands } = latest.current;
      if (start && mode === "hand") hands?.onUp?.(at, event);
      else if (start && mode === "turn" && Math.hypot(at.x - start.x, at.y - start.y) <= CLICK_REACH)
        hands?.onClick?.(at, event);
      if (fingers.size === 0) mode = start = last = null;
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const at = spot(event);
      const { eye } = latest.current;
      eye.look(zoomed(eye.now(), Math.exp(event.deltaY * 0.0012), at.x, at.y, at.width, at.height));
    };
    const key = (event: KeyboardEvent) => {
      if (event.code === "Space" && event.target === document.body) {
        spaced = event.type === "keydown";
        event.preventDefault();
      }
    };
    const still = (event: Event) => event.preventDefault();
    target.addEventListener("pointerdown", down);
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", up);
    target.addEventListener("wheel", wheel, { passive: false });
    target.addEventListener("contextmenu", still);
    window.addEventListener("keydown", key);
    window.addEventListener("keyup", key);
    return () => {
      target.removeEventListener("pointerdown", down);
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", up);
      target.removeEventListener("wheel", wheel);
      target.removeEventListener("contextmenu", still);
      window.removeEventListener("keydown", key);
      window.removeEventListener("keyup", key);
    };
  }, []);

  // what is drawn is drawn anew when it changes itself, not when the eye moves
  const { children, eye, handle, neutral } = props;
  const scene = useMemo(
    () => (
      <Canvas
        frameloop="demand"
        dpr={Math.min(devicePixelRatio, 2)}
        gl={{ antialias: true, toneMapping: neutral ? NeutralToneMapping : NoToneMapping }}
        style={{ background: "transparent" }}
      >
        <Rig eye={eye} handle={handle} />
        {children}
      </Canvas>
    ),
    [children, eye, handle, neutral],
  );
  return (
    <div
      ref={frame}
      className="absolute inset-0 touch-none"
      role="group"
      aria-label={props.label}
      aria-busy={props.busy ?? false}
      data-testid="view3d"
    >
      {scene}
      {size.width > 0 && (
        <div className="pointer-events-none absolute inset-0 overflow-hidden">{props.overlay?.(size)}</div>
      )}
    </div>
  );
}

/** Holds the camera where the eye is. */
function Rig(props: { eye: Eye; handle?: RefObject<ViewHandle | null> }) {
  const { eye, handle } = props;
  const { camera, invalidate, size } = useThree();
  useImperativeHandle(handle, () => ({ redraw: invalidate }), [invalidate]);
  useLayoutEffect(() => {
    const look = (orbit: Orbit) => {
      if (camera instanceof PerspectiveCamera) {
        camera.aspect = size.width / Math.max(size.height, 1);
        aim(camera, orbit);
      }
      invalidate();
    };
    look(eye.now());
    return eye.follow(look);
  }, [camera, eye, size, invalidate]);
  return null;
}
