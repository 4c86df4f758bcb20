import { useRef } from "react";
import { type PerspectiveCamera, Vector3 } from "three";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { spotsOn } from "../../../ui/pointing";
import { onScreen, rayAt } from "../../../view3d/orbit";
import { tr } from "../../../words/words";
import { useFormStage } from "../store";
import { type CurveStep, keptAs, oneAtATime } from "./curve";
import { inSpace, normalOf, type Standing, type Stands, type Triple, tilted } from "./ground";

interface KnobsProps {
  project: string;
  form: string;
  part: Shapes["Part"];
  step: CurveStep;
  stands: Stands;
  camera: PerspectiveCamera;
  size: { width: number; height: number };
  edit: Edit;
  refuse: (sentence: string) => void;
  frozen: { current: string | null };
  /** Shows the curve as it would be; as it is stored where there is nothing. */
  show: (kept: Shapes["KeptCurve"] | null) => void;
}

/** Px from the plane's origin to its knobs. */
const ARM = 64;
/** Cosine between view and axis below which a circle about it is as good as seen from its edge. */
const EDGE_ON = 0.08;
type Grip = "across" | "up" | "normal" | "off";

/** The plane a curve stands on, by hand: tilted by the end of an arm, moved along its normal. */
export function PlaneKnobs(props: KnobsProps) {
  const { stands, camera, size } = props;
  const grab = useGrab(props);
  const origin = seatOf(props);
  const mm = (origin.distanceTo(camera.position) * Math.tan((camera.fov * Math.PI) / 360) * 2 * ARM) / size.height;
  const across = new Vector3(...stands.across);
  const up = new Vector3(...stands.up);
  const seen = (place: Vector3) => onScreen(camera, place, size.width, size.height);
  const centre = seen(origin);
  const arms: [Grip, string, Vector3][] = [
    // the end of an arm swings about the other one
    ["across", tr("Tilt the plane about its across"), origin.clone().addScaledVector(up, mm)],
    ["up", tr("Tilt the plane about its up"), origin.clone().addScaledVector(across, mm)],
    ["normal", tr("Turn the plane in itself"), origin.clone().addScaledVector(across, mm).addScaledVector(up, mm)],
    ["off", tr("Move the plane along its normal"), origin.clone().addScaledVector(normalOf(stands), mm)],
  ];
  return (
    <g data-testid="plane" stroke="var(--quiet)">
      {arms.map(([grip, label, place]) => {
        const { x, y } = seen(place);
        // an arm that points at the eye cannot be taken hold of, nor be swung in a plane that is seen from its edge
        const looking = place.clone().sub(camera.position).normalize();
        const swung = grip === "off" ? null : { across, up, normal: normalOf(stands) }[grip];
        if (Math.hypot(x - centre.x, y - centre.y) < 14 || (swung && Math.abs(looking.dot(swung)) < 2 * EDGE_ON))
          return null;
        return (
          <g key={grip}>
            {grip !== "normal" && <line x1={centre.x} y1={centre.y} x2={x} y2={y} strokeDasharray="7 4 1 4" />}
            <g
              data-knob
              role="button"
              tabIndex={-1}
              aria-label={label}
              className="pointer-events-auto cursor-grab"
              onPointerDown={(event) => grab(event, grip)}
            >
              <circle cx={x} cy={y} r={11} fill="transparent" stroke="none" />
              {grip === "off" ? (
                <rect x={x - 4.5} y={y - 4.5} width={9} height={9} fill="var(--canvas)" strokeWidth={1.6} />
              ) : (
                <path
                  d={`M ${x - 6} ${y + 3.5} A 7 7 0 0 1 ${x + 6} ${y + 3.5}`}
                  fill="none"
                  stroke="var(--ink)"
                  strokeWidth={2.2}
                />
              )}
            </g>
          </g>
        );
      })}
    </g>
  );
}

/** Where the arms begin: at the plane's origin, about which it tilts; amid the curve's points where that is out of view. */
function seatOf({ stands, step, camera, size }: KnobsProps): Vector3 {
  const origin = new Vector3(...stands.origin);
  const middle = new Vector3();
  for (const place of step.points) middle.add(inSpace(stands, place as number[]).divideScalar(step.points.length));
  const inView = (place: Vector3) => {
    const { x, y } = onScreen(camera, place, size.width, size.height);
    const ahead = place.clone().sub(camera.position).dot(camera.getWorldDirection(new Vector3())) > 0;
    return ahead && x > ARM && y > ARM && x < size.width - ARM && y < size.height - ARM;
  };
  return !inView(origin) && inView(middle) ? middle : origin;
}

/** Follows a hand that holds one of the knobs; the server shows the curve where it would stand. */
function useGrab(props: KnobsProps) {
  const latest = useRef(props);
  latest.current = props;
  return (event: React.PointerEvent, grip: Grip) => {
    event.stopPropagation();
    const { project, form, part, step, stands, camera, refuse, frozen } = latest.current;
    const spotOf = spotsOn((event.target as Element).closest("[data-testid=view3d]")!);
    const plane = step.plane ?? {};
    const seat = seatOf(latest.current);
    const first = reachedIn(stands, seat, grip, camera, spotOf(event));
    let wanted: Standing | null = null;
    const asking = oneAtATime(async (next: Standing) => {
      latest.current.show(await keptAs(project, form, { ...step, plane: next }, {}));
    });
    const move = (e: PointerEvent) => {
      if (frozen.current) return refuse(frozen.current);
      const now = reachedIn(stands, seat, grip, camera, spotOf(e));
      if (first === null || now === null) return;
      const { snap, grid } = useFormStage.getState();
      if (grip === "off") {
        let by = now - first;
        if (snap === "grid") by = Math.round(by / grid) * grid;
        const moved = normalOf(stands)
          .multiplyScalar(by)
          .add(new Vector3(...((plane.origin ?? [0, 0, 0]) as Triple)));
        wanted = { ...plane, origin: rounded(moved.toArray(), 4) };
      } else {
        // to whole degrees, as they would be typed
        const degrees = Math.round(((now - first) * 180) / Math.PI);
        const axis = { across: 0, up: 1, normal: 2 }[grip];
        wanted = { ...plane, tilt: rounded(tilted((plane.tilt ?? [0, 0, 0]) as Triple, axis, degrees), 4) };
      }
      asking.want(wanted);
    };
    const up = async () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      await asking.settled();
      if (!wanted) return;
      const fields = grip === "off" ? { "plane.origin": wanted.origin } : { "plane.tilt": wanted.tilt };
      const done = await latest.current.edit({ amend: { kind: "step", part: part.id, index: 0, fields } });
      if (!done) latest.current.show(null);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  };
}

const rounded = (values: Triple, digits: number) => values.map((value) => Number(value.toFixed(digits))) as Triple;

/** What a spot says of a knob: the angle about its axis, or mm along the normal; nothing where that is seen end on. `seat` is where the
 * arms begin. */
function reachedIn(
  stands: Stands,
  seat: Vector3,
  grip: Grip,
  camera: PerspectiveCamera,
  spot: { x: number; y: number; width: number; height: number },
): number | null {
  const origin = new Vector3(...stands.origin);
  const axes = { across: new Vector3(...stands.across), up: new Vector3(...stands.up), normal: normalOf(stands) };
  const { ray } = rayAt(camera, spot.x, spot.y, spot.width, spot.height);
  if (grip === "off") {
    // the place on the normal's line that is nearest to the ray
    const between = ray.direction.clone().cross(axes.normal);
    if (between.lengthSq() < 1e-4) return null;
    const from = ray.origin.clone().sub(seat);
    return from.cross(ray.direction).dot(axes.normal.clone().cross(ray.direction)) / between.lengthSq();
  }
  const about = axes[grip];
  const facing = ray.direction.dot(about);
  const two = { across: [axes.up, axes.normal], up: [axes.normal, axes.across], normal: [axes.across, axes.up] }[grip];
  if (Math.abs(facing) < EDGE_ON) return null;
  const distance = seat.clone().sub(ray.origin).dot(about) / facing;
  const place = ray.origin.clone().addScaledVector(ray.direction, distance).sub(origin);
  return Math.atan2(place.dot(two[1]!), place.dot(two[0]!));
}
