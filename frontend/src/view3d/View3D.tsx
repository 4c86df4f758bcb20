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
import { CustomToneMapping, NoToneMapping, PerspectiveCamera } from "three";
import { useCanvasMenu } from "../bench/CanvasMenu";
import { pointed, type Spot } from "../ui/pointing";
import type { Eye } from "./eye";
import { aim, type Orbit, shifted, turned, zoomed } from "./orbit";

/** What the stage does with the pointer. Returning true from `onDown` takes the drag away from the view. */
export interface Hands {
  onDown?: (spot: Spot, event: PointerEvent) => boolean;
  onMove?: (spot: Spot, event: PointerEvent) => void;
  onUp?: (spot: Spot, event: PointerEvent) => void;
  onClick?: (spot: Spot, event: PointerEvent) => void;
  onHover?: (spot: Spot) => void;
  /** More is asked for at a place: what is meant there is picked first. */
  onMenu?: (spot: Spot) => void;
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
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    let start: Spot | null = null;
    let last: Spot | null = null;
    let handed = false;
    const hands = () => latest.current.hands;
    const look = (change: (orbit: Orbit) => Orbit) => latest.current.eye.look(change(latest.current.eye.now()));
    const clicked = (at: Spot) => start !== null && Math.hypot(at.x - start.x, at.y - start.y) <= CLICK_REACH;
    const up = (at: Spot, event: PointerEvent) => {
      if (handed) hands()?.onUp?.(at, event);
      else if (event.type === "pointerup" && clicked(at)) hands()?.onClick?.(at, event);
    };
    return pointed(frame.current!, {
      onDown: (at, event) => {
        start = last = at;
        handed = hands()?.onDown?.(at, event) ?? false;
        return true;
      },
      onMove: (at, event) => {
        if (handed) return hands()?.onMove?.(at, event);
        const [dx, dy] = [at.x - last!.x, at.y - last!.y];
        if (clicked(at)) return;
        look((orbit) => turned(orbit, dx, dy));
        last = at;
      },
      onUp: up,
      onCancel: up,
      onHover: (at) => hands()?.onHover?.(at),
      onShift: (at, dx, dy) => look((orbit) => shifted(orbit, dx, dy, at.height)),
      onPinch: ({ width, height }, { x, y, spread, turn, dx, dy }) =>
        look((orbit) => {
          const near = zoomed(shifted(orbit, dx, dy, height), 1 / spread, x, y, width, height);
          return { ...near, azimuth: near.azimuth + turn };
        }),
      onMenu: (at) => {
        const { left, top, width, height } = frame.current!.getBoundingClientRect();
        hands()?.onMenu?.({ x: at.x - left, y: at.y - top, width, height });
        useCanvasMenu.setState({ at, doings: null });
      },
      onWheel: ({ x, y, width, height }, delta) =>
        look((orbit) => zoomed(orbit, Math.exp(delta * 0.0012), x, y, width, height)),
    });
  }, []);

  // what is drawn is drawn anew when it changes itself, not when the eye moves
  const { children, eye, handle, neutral } = props;
  const scene = useMemo(
    () => (
      <Canvas
        frameloop="demand"
        dpr={Math.min(devicePixelRatio, 2)}
        gl={{ antialias: true, toneMapping: neutral ? CustomToneMapping : NoToneMapping }}
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
