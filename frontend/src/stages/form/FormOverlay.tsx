import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { LETTERS } from "../../ui/AxisFields";
import { type Reading, useReading } from "../../ui/numbers/reading";
import { type Spot, spotsOn } from "../../ui/pointing";
import { cameraOf } from "../../view3d/orbit";
import type { PartMesh } from "../../view3d/partMesh";
import { isCurve } from "../../view3d/useParts";
import { CurvePoints } from "./built/CurvePoints";
import { Drawing } from "./built/Drawing";
import { type Pickable, SolidEdges } from "./built/SolidEdges";
import { Dimensions, MeasuringMarks } from "./Dimensions";
import type { Grip, StepValues } from "./dragging";
import { Handle } from "./Handle";
import { useHand } from "./hand";
import type { Measuring } from "./measuring";
import { Reach, Traces } from "./Overlay";
import { pickedPoints } from "./picking";
import { seatNow, useSeat } from "./seat";
import { useFormStage } from "./store";
import type { Drag, Dragging } from "./useDrag";
import type { FormHands } from "./useHands";

interface OverlayProps {
  size: { width: number; height: number };
  measures: Shapes["Measure"][];
  measuring: Measuring;
  mesh: PartMesh | undefined;
  /** The handle gives way to a line that is drawn. */
  drawing: boolean;
  dragging: Dragging;
  hands: FormHands;
  frozen: { current: string | null };
  refuse: (sentence: string) => void;
  project: string;
  form: string;
  data: Shapes["FormState"] | undefined;
  active: Shapes["Part"] | undefined;
  meshKey: string | undefined;
  pickable: Pickable | undefined;
  edit: Edit;
}

/** What lies over the form and follows eye and hand: dimensions, the handle, what gathers or is drawn. */
export function FormOverlay(props: OverlayProps) {
  const { size, mesh } = props;
  const orbit = useHand((hand) => hand.orbit);
  const drag = useHand((hand) => hand.drag);
  const gathering = useHand((hand) => hand.gathering);
  const line = useHand((hand) => hand.line);
  const { reach, tool, handle, lasso } = useFormStage();
  const seat = useSeat(mesh);
  const read = useReading();
  return (
    <svg className="h-full w-full" role="presentation">
      <Dimensions measures={props.measures} measuring={props.measuring} orbit={orbit} size={size} />
      {tool === "measure" && <MeasuringMarks measuring={props.measuring} orbit={orbit} size={size} />}
      {seat && reach > 0 && <Reach seat={seat.place} reach={reach} orbit={orbit} size={size} />}
      {seat && !props.drawing && tool !== "measure" && (
        <Handle
          seat={seat}
          camera={cameraOf(orbit, size.width, size.height)}
          size={size}
          kind={handle}
          held={drag?.grip ?? null}
          said={drag?.values ? inWords(drag.values, read) : ""}
          onGrip={(grip, event) => grab(props, grip, event)}
        />
      )}
      <Built {...props} camera={cameraOf(orbit, size.width, size.height)} />
      <Traces gathering={gathering} lasso={lasso} line={line} />
    </svg>
  );
}

/** A curve that is being drawn, the curve worked on, or the edges of a built part. */
function Built(props: OverlayProps & { camera: ReturnType<typeof cameraOf> }) {
  const tool = useFormStage((state) => state.tool);
  const { active, camera, size } = props;
  if (tool === "curve") return <Drawing camera={camera} size={size} />;
  if (!active) return null;
  if (isCurve(active)) return <CurvePoints {...props} part={active} />;
  return props.pickable?.edges.length && tool !== "measure" ? (
    <SolidEdges pickable={props.pickable} camera={camera} size={size} />
  ) : null;
}

/** Px a hand may move on a grip and still only touch what lies beneath. */
const STILL = 3;

/** Follows a hand that holds a grip of the handle until it lets go. */
function grab({ mesh, dragging, hands, frozen, refuse }: OverlayProps, grip: Grip, event: React.PointerEvent): void {
  const spotOf = spotsOn((event.target as Element).closest("[data-testid=view3d]")!);
  const from = spotOf(event);
  const still = (to: Spot) => Math.hypot(to.x - from.x, to.y - from.y) < STILL;
  let now: Drag | null = null;
  const begin = () => {
    const { kind, items } = useFormStage.getState();
    return dragging.begin(grip, from, pickedPoints(mesh!, kind, items), seatNow(mesh!, kind, items)!);
  };
  const moved = (e: PointerEvent) => {
    const to = spotOf(e);
    if ((!now && still(to)) || frozen.current || !mesh) return;
    now = dragging.move(now ?? begin(), to);
  };
  const up = (e: PointerEvent) => {
    window.removeEventListener("pointermove", moved);
    window.removeEventListener("pointerup", up);
    const to = spotOf(e);
    if (now) dragging.end(now);
    else if (still(to)) hands.touch(to, e.shiftKey, e.timeStamp);
    else if (frozen.current) refuse(frozen.current);
  };
  window.addEventListener("pointermove", moved);
  window.addEventListener("pointerup", up);
}

/** What a drag has done so far. */
function inWords({ how, values }: StepValues, read: Reading): string {
  const letters = LETTERS;
  if (how === "turn") return `${read.number(Math.hypot(...values), 1)}°`;
  if (how === "push") return `${values[0] < 0 ? "−" : "+"}${read.bare(Math.abs(values[0]), 1)}`;
  const rest = how === "size" ? 1 : 0;
  return values
    .map((value, axis) => ({ value, letter: letters[axis] }))
    .filter(({ value }) => Math.abs(value - rest) > 0.005)
    .map(({ value, letter }) =>
      how === "size"
        ? `${letter} ${Math.round(value * 100)} %`
        : `${letter} ${value > 0 ? "+" : "−"}${read.bare(Math.abs(value), 1)}`,
    )
    .join("  ");
}
