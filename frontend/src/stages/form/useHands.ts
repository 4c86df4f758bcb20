import { type RefObject, useRef, useState } from "react";
import { Vector3 } from "three";
import { cameraOf } from "../../view3d/orbit";
import { isShaped, type PartMesh } from "../../view3d/partMesh";
import type { Spot } from "../../view3d/View3D";
import { Picker, pickedPoints } from "./picking";
import { handleSeat } from "./seat";
import { type PickHow, useFormStage } from "./store";
import type { Drag, useDrag } from "./useDrag";

/** Ms within which a second touch of the same item counts as one gesture with the first. */
const TWICE = 350;

interface HandsProps {
  mesh: PartMesh | undefined;
  cagePoints: Float32Array | null;
  dragging: Pick<ReturnType<typeof useDrag>, "begin" | "move" | "end">;
  /** A tool that draws a line over the view takes the pen; null where none does. */
  onLine: ((spots: Spot[]) => void) | null;
  /** A tool that takes single points; null where none does. */
  onPoint: ((point: number) => void) | null;
  pickMore: (how: PickHow, from: number[]) => void;
  frozen: RefObject<string | null>;
  refuse: (sentence: string) => void;
}

/** What pen and mouse do over the form: pick, gather in a box or a loop, drag, draw a line. */
export function useHands(props: HandsProps) {
  const { mesh, dragging, onLine, onPoint } = props;
  const state = useFormStage();
  const { set, items, kind } = state;
  const [hovered, setHovered] = useState<number | null>(null);
  const [gathering, setGathering] = useState<Spot[] | null>(null);
  const [line, setLine] = useState<Spot[] | null>(null);

  const made = useRef<{ picker: Picker; key: unknown[] } | null>(null);
  const picker = (spot: { width: number; height: number }): Picker => {
    const key = [mesh, state.orbit, spot.width, spot.height, state.through, state.shown];
    if (!made.current || key.some((part, at) => part !== made.current!.key[at])) {
      const camera = cameraOf(state.orbit, spot.width, spot.height);
      made.current = { picker: new Picker(mesh!, camera, spot, state.through, state.shown), key };
    }
    return made.current.picker;
  };

  const touched = useRef({ item: -1, at: 0 });
  const twice = (item: number): boolean => {
    const before = touched.current;
    touched.current = { item, at: performance.now() };
    return kind !== "points" && before.item === item && performance.now() - before.at < TWICE;
  };
  const choose = (item: number, adding: boolean) => {
    if (!adding && twice(item)) props.pickMore(kind === "faces" ? "band" : "row", [item]);
    else if (!adding) set({ items: [item] });
    else set({ items: items.includes(item) ? items.filter((other) => other !== item) : [...items, item] });
  };
  /** A touch without a drag, also where the handle lies over what is meant. */
  const touch = (spot: Spot, adding: boolean) => {
    const item = mesh ? picker(spot).at(kind, spot) : null;
    if (item !== null) choose(item, adding);
  };
  const grabbed = useRef<{
    item: number;
    drag: Drag | null;
    from: Spot;
    moved: boolean;
    adding: boolean;
  } | null>(null);

  const seatFor = (chosen: number[]) =>
    handleSeat(mesh!, props.cagePoints ?? mesh!.points, kind, chosen, state.seat) ?? {
      place: new Vector3(),
      directions: { W: new Vector3(1, 0, 0), D: new Vector3(0, 1, 0), H: new Vector3(0, 0, 1) },
      out: new Vector3(0, 0, 1),
    };

  const hands = {
    onDown: (spot: Spot, event: PointerEvent) => {
      if (onLine) {
        setLine([spot]);
        return true;
      }
      if (!mesh || !isShaped(mesh)) return false;
      const item = picker(spot).at(onPoint ? "points" : kind, spot);
      if (item == null) {
        if (!event.shiftKey || onPoint) return false;
        setGathering([spot]);
        return true;
      }
      grabbed.current = { item, drag: null, from: spot, moved: false, adding: event.shiftKey };
      return true;
    },
    onMove: (spot: Spot) => {
      if (line) return setLine([...line, spot]);
      if (gathering) return setGathering(state.lasso ? [...gathering, spot] : [gathering[0], spot]);
      const grab = grabbed.current;
      if (!grab || !mesh || onPoint) return;
      if (!grab.moved && Math.hypot(spot.x - grab.from.x, spot.y - grab.from.y) < 4) return;
      if (!grab.moved) {
        grab.moved = true;
        if (props.frozen.current) return props.refuse(props.frozen.current);
        const chosen = items.includes(grab.item) ? items : [grab.item];
        set({ items: chosen });
        const points = pickedPoints(mesh, kind, chosen);
        grab.drag = dragging.begin(state.handle === "push" ? "N" : "free", grab.from, points, seatFor(chosen));
      }
      if (grab.drag) grab.drag = dragging.move(grab.drag, spot);
    },
    onUp: (spot: Spot) => {
      if (line) {
        setLine(null);
        onLine?.([...line, spot]);
        return;
      }
      if (gathering && mesh) {
        const find = picker(spot);
        const found = state.lasso ? find.inLoop(kind, [...gathering, spot]) : find.inBox(kind, gathering[0], spot);
        set({ items: [...new Set([...items, ...found])] });
        setGathering(null);
        return;
      }
      const grab = grabbed.current;
      grabbed.current = null;
      if (!grab) return;
      if (onPoint) onPoint(grab.item);
      else if (grab.drag) dragging.end(grab.drag);
      else if (!grab.moved) choose(grab.item, grab.adding);
    },
    onClick: () => set({ items: [] }),
    onHover: (spot: Spot) =>
      mesh && isShaped(mesh) && setHovered(onLine ? null : picker(spot).at(onPoint ? "points" : kind, spot)),
  };
  return { hands, hovered, gathering, line, touch };
}
