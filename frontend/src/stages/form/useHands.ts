import { type RefObject, useMemo, useRef } from "react";
import type { Spot } from "../../ui/pointing";
import { cameraOf } from "../../view3d/orbit";
import { isShaped, type PartMesh } from "../../view3d/partMesh";
import type { Hands } from "../../view3d/View3D";
import { useCurve } from "./built/curve";
import { useHand } from "./hand";
import { faceUnder, Picker, pickedPoints } from "./picking";
import { seatNow } from "./seat";
import { type PickHow, useFormStage } from "./store";
import type { Drag, Dragging } from "./useDrag";

/** Ms within which a second touch of the same item counts as one gesture with the first. */
const TWICE = 350;
/** Px a hand may move and still only touch. */
const STILL = 4;

interface Handled {
  mesh: PartMesh | undefined;
  dragging: Dragging;
  /** A tool that draws a line over the view takes the pen; null where none does. */
  onLine: ((spots: Spot[]) => void) | null;
  /** A tool that puts down places takes them, and hears where the pointer is; whether there was one. Null where no tool does. */
  onPlace: ((spot: Spot, down: boolean) => boolean) | null;
  /** Faces of a body without a cage are picked; null where there are none. */
  onFace: ((face: number, adding: boolean) => void) | null;
  pickMore: (how: PickHow, from: number[]) => void;
  frozen: RefObject<string | null>;
  refuse: (sentence: string) => void;
}

/** What pen and mouse do over the form: pick, gather in a box or a loop, drag, draw a line. */
export function useHands(handled: Handled): FormHands {
  const latest = useRef(handled);
  latest.current = handled;
  return useMemo(() => new FormHands(() => latest.current), []);
}

interface Grab {
  item: number;
  drag: Drag | null;
  from: Spot;
  moved: boolean;
  adding: boolean;
  /** When it was pressed, ms as events tell it: a busy machine takes up both presses late. */
  at: number;
}

export class FormHands implements Hands {
  private made: { picker: Picker; key: unknown[] } | null = null;
  private touched = { item: -1, at: 0 };
  private grabbed: Grab | null = null;

  constructor(private readonly now: () => Handled) {}

  onDown = (spot: Spot, event: PointerEvent): boolean => {
    const { mesh, onLine, onPlace } = this.now();
    if (onPlace) return onPlace(spot, true);
    if (onLine) {
      useHand.setState({ line: [spot] });
      return true;
    }
    if (!mesh || !isShaped(mesh)) return false;
    const item = this.picker(mesh, spot).at(useFormStage.getState().kind, spot);
    if (item == null) {
      if (!event.shiftKey) return false;
      useHand.setState({ gathering: [spot] });
      return true;
    }
    this.grabbed = { item, drag: null, from: spot, moved: false, adding: event.shiftKey, at: event.timeStamp };
    return true;
  };

  onMove = (spot: Spot): void => {
    const { line, gathering } = useHand.getState();
    if (line) useHand.setState({ line: [...line, spot] });
    else if (gathering) {
      const { lasso } = useFormStage.getState();
      useHand.setState({ gathering: lasso ? [...gathering, spot] : [gathering[0]!, spot] });
    } else if (this.grabbed) this.drag(this.grabbed, spot);
  };

  onUp = (spot: Spot): void => {
    const { mesh, dragging, onLine } = this.now();
    const { line, gathering } = useHand.getState();
    if (line) {
      useHand.setState({ line: null });
      onLine?.([...line, spot]);
      return;
    }
    if (gathering && mesh) {
      const { lasso, kind, items, set } = useFormStage.getState();
      const find = this.picker(mesh, spot);
      const found = lasso ? find.inLoop(kind, [...gathering, spot]) : find.inBox(kind, gathering[0]!, spot);
      set({ items: [...new Set([...items, ...found])] });
      useHand.setState({ gathering: null });
      return;
    }
    const grab = this.grabbed;
    this.grabbed = null;
    if (!grab) return;
    if (grab.drag) dragging.end(grab.drag);
    else if (!grab.moved) this.choose(grab.item, grab.adding, grab.at);
  };

  onClick = (spot: Spot, event: PointerEvent): void => {
    const { mesh, onFace } = this.now();
    useFormStage.getState().set({ items: [] });
    useCurve.getState().set({ points: [], pieces: [] });
    if (!onFace || !mesh) return;
    const face = faceUnder(mesh, cameraOf(useHand.getState().orbit, spot.width, spot.height), spot);
    if (face !== null) onFace(face, event.shiftKey);
    else if (!event.shiftKey) useCurve.getState().set({ edges: [], faces: [] });
  };

  onHover = (spot: Spot): void => {
    const { mesh, onLine, onPlace } = this.now();
    if (onPlace) {
      onPlace(spot, false);
      return;
    }
    if (!mesh || !isShaped(mesh)) return;
    const hovered = onLine ? null : this.picker(mesh, spot).at(useFormStage.getState().kind, spot);
    if (hovered !== useHand.getState().hovered) useHand.setState({ hovered });
  };

  onMenu = (spot: Spot): void => {
    if (!useFormStage.getState().items.length) this.touch(spot, false);
  };

  /** A touch without a drag, also where the handle lies over what is meant. */
  touch = (spot: Spot, adding: boolean, at = performance.now()): void => {
    const { mesh } = this.now();
    const item = mesh ? this.picker(mesh, spot).at(useFormStage.getState().kind, spot) : null;
    if (item !== null) this.choose(item, adding, at);
  };

  private drag(grab: Grab, spot: Spot): void {
    const { mesh, dragging, frozen, refuse } = this.now();
    if (!mesh) return;
    if (!grab.moved && Math.hypot(spot.x - grab.from.x, spot.y - grab.from.y) < STILL) return;
    if (!grab.moved) {
      grab.moved = true;
      if (frozen.current) {
        refuse(frozen.current);
        return;
      }
      const { items, kind, handle, set } = useFormStage.getState();
      const chosen = items.includes(grab.item) ? items : [grab.item];
      set({ items: chosen });
      const seat = seatNow(mesh, kind, chosen)!;
      grab.drag = dragging.begin(handle === "push" ? "N" : "free", grab.from, pickedPoints(mesh, kind, chosen), seat);
    }
    if (grab.drag) grab.drag = dragging.move(grab.drag, spot);
  }

  private choose(item: number, adding: boolean, at: number): void {
    const { items, kind, set } = useFormStage.getState();
    if (!adding && this.twice(item, at)) this.now().pickMore(kind === "faces" ? "band" : "row", [item]);
    else if (!adding) set({ items: [item] });
    else set({ items: items.includes(item) ? items.filter((other) => other !== item) : [...items, item] });
  }

  private twice(item: number, at: number): boolean {
    const before = this.touched;
    this.touched = { item, at };
    const soon = at - before.at < TWICE;
    return useFormStage.getState().kind !== "points" && before.item === item && soon;
  }

  /** Finds what is under a spot; kept while mesh, eye and what is shown stay. */
  private picker(mesh: PartMesh, spot: { width: number; height: number }): Picker {
    const { through, shown } = useFormStage.getState();
    const { orbit } = useHand.getState();
    const key = [mesh, orbit, spot.width, spot.height, through, shown];
    if (!this.made || key.some((part, at) => part !== this.made!.key[at])) {
      const camera = cameraOf(orbit, spot.width, spot.height);
      this.made = { picker: new Picker(mesh, camera, spot, through, shown), key };
    }
    return this.made.picker;
  }
}
