import { type RefObject, useMemo, useRef } from "react";
import { Unreachable } from "../../api/client";
import { useBench } from "../../bench/store";
import { LETTERS } from "../../ui/AxisFields";
import type { Spot } from "../../ui/pointing";
import { cameraOf } from "../../view3d/orbit";
import { type PartMesh, previewStep, showAsItIs } from "../../view3d/partMesh";
import type { ViewHandle } from "../../view3d/View3D";
import { dragValues, type Grip, type HandleSeat, type StepValues } from "./dragging";
import { useHand } from "./hand";
import { pointAt } from "./picking";
import { farSide } from "./seat";
import type { StoodLines } from "./sheetLines";
import { type SnapField, snapped } from "./snapping";
import { useFormStage } from "./store";

export interface Drag {
  grip: Grip;
  from: Spot;
  seat: HandleSeat;
  picked: number[];
  values: StepValues | null;
  snap: SnapField;
}

interface Dragged {
  mesh: PartMesh | undefined;
  /** The part's address. */
  address: string | undefined;
  symmetry: object | null;
  lines: StoodLines[];
  view: RefObject<ViewHandle | null>;
  place: (values: StepValues, points: number[]) => Promise<boolean>;
}

/** A drag of the pick: previews while the hand moves, one edit when it lets go. */
export function useDrag(dragged: Dragged) {
  const latest = useRef(dragged);
  latest.current = dragged;
  return useMemo(() => new Dragging(() => latest.current), []);
}

interface Wish {
  step: object;
  drag: Drag | undefined;
}

export class Dragging {
  /** The newest wish; it waits while the preview of one before it is on its way. */
  private wish: Wish | null = null;
  private asked: AbortController | null = null;

  constructor(private readonly now: () => Dragged) {}

  begin(grip: Grip, spot: Spot, points: number[], seat: HandleSeat): Drag {
    const { mesh, lines } = this.now();
    const { handle, oneSide, snap, grid } = useFormStage.getState();
    const letters = LETTERS.filter((letter) => grip.includes(letter));
    const oneSided = handle === "size" && oneSide && letters.length > 0;
    const moving = new Set(points);
    const others =
      snap === "points"
        ? Array.from({ length: mesh!.points.length / 3 }, (_, k) => k)
            .filter((point) => !moving.has(point))
            .map((point) => pointAt(mesh!.points, point))
        : [];
    const begun: Drag = {
      grip,
      from: spot,
      seat: oneSided ? farSide(seat, mesh!.points, points, letters) : seat,
      picked: points,
      values: null,
      snap: { to: snap, grid, others, lines },
    };
    useHand.setState({ drag: begun, hovered: null });
    return begun;
  }

  move(drag: Drag, spot: Spot): Drag {
    const { handle, reach } = useFormStage.getState();
    const how = drag.grip === "N" ? "push" : handle === "push" ? "move" : handle;
    const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
    const values = dragValues(how, drag.grip, drag.seat, camera, drag.from, spot);
    if (how === "move") values.values = snapped(values.values, drag.grip, drag.seat, camera, spot, drag.snap);
    const next = { ...drag, values };
    this.previewed({ kind: "placed", points: drag.picked, reach, ...values }, next);
    return next;
  }

  async end(drag: Drag): Promise<void> {
    useHand.setState({ drag: null });
    this.wish = null;
    this.asked?.abort(); // what counts now is the edit
    const kept = drag.values && !isNothing(drag.values) && (await this.now().place(drag.values, drag.picked));
    if (!kept) this.asItIs();
  }

  /**
   * Shows what a step would do, without storing it: the newest wish, one at a time. What a drag says of itself is shown with the
   * skin it is true of.
   */
  async previewed(step: object, drag?: Drag): Promise<void> {
    this.wish = { step, drag };
    if (this.asked) return;
    while (this.wish) {
      const { mesh, address, symmetry, view } = this.now();
      if (!mesh) return;
      const { step, drag } = this.wish;
      const said = drag && { drag };
      this.wish = null;
      this.asked = new AbortController();
      const { signal } = this.asked;
      try {
        const wanted = useFormStage.getState().beside === "largest";
        const shown = await previewStep(`${address}/preview`, { ...step, symmetry }, mesh, wanted, signal);
        if (signal.aborted) continue; // the hand let go; it may have taken hold again meanwhile
        const { points, milliseconds, bends } = shown;
        useHand.setState({ cagePoints: points, milliseconds, bends: bends && { ...bends, mesh }, ...said });
        view.current?.redraw();
        performance.mark("skin-shown");
      } catch (error) {
        if (signal.aborted) continue; // the hand let go; it may have taken hold again meanwhile
        // the skin follows again when the server does; what it refuses is said
        if (said) useHand.setState(said);
        if (!(error instanceof Unreachable)) useBench.getState().notify((error as Error).message);
      }
    }
    this.asked = null;
  }

  /** Shows the part as it stands: what was dragged is not kept. */
  private asItIs(): void {
    const { mesh, view } = this.now();
    if (!mesh) return;
    showAsItIs(mesh);
    useHand.setState({ cagePoints: null, bends: null });
    view.current?.redraw();
  }
}

function isNothing({ how, values }: StepValues): boolean {
  const rest = how === "size" ? 1 : 0;
  return values.every((value) => Math.abs(value - rest) < 1e-6);
}
