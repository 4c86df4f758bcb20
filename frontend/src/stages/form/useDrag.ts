import { type RefObject, useRef, useState } from "react";
import { useBench } from "../../bench/store";
import { cameraOf } from "../../view3d/orbit";
import { type PartMesh, previewStep, showAsItIs } from "../../view3d/partMesh";
import type { Spot, ViewHandle } from "../../view3d/View3D";
import { dragValues, type Grip, type HandleSeat, type Letter, type StepValues } from "./dragging";
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

/** A drag of the pick: previews while the hand moves, one edit when it lets go. */
export function useDrag(props: {
  mesh: PartMesh | undefined;
  address: string | undefined;
  symmetry: object | null;
  lines: StoodLines[];
  view: RefObject<ViewHandle | null>;
  setCagePoints: (points: Float32Array | null) => void;
  place: (values: StepValues, points: number[]) => Promise<boolean>;
}) {
  const { mesh, address, symmetry, lines, view, setCagePoints, place } = props;
  const state = useFormStage();
  const { set } = state;
  const notify = useBench((bench) => bench.notify);
  const [drag, setDrag] = useState<Drag | null>(null);

  // one preview is on its way at a time; the newest wish waits
  const asking = useRef(false);
  const wish = useRef<object | null>(null);
  const lastPreview = useRef<Promise<void>>(Promise.resolve());
  const previewed = (step: object) => {
    wish.current = { ...step, symmetry };
    if (asking.current || !mesh) return;
    asking.current = true;
    lastPreview.current = (async () => {
      while (wish.current) {
        const step = wish.current;
        wish.current = null;
        try {
          const shown = await previewStep(`${address}/preview`, step, mesh);
          setCagePoints(shown.points);
          set({ milliseconds: shown.milliseconds });
          view.current?.redraw();
          performance.mark("skin-shown");
        } catch (error) {
          notify((error as Error).message);
        }
      }
      asking.current = false;
    })();
  };

  /** Shows the part as it stands: what was dragged is not kept. */
  const asItIs = () => {
    if (!mesh) return;
    showAsItIs(mesh);
    setCagePoints(null);
    view.current?.redraw();
  };
  const preview = (values: StepValues, points: number[]) =>
    previewed({ kind: "placed", points, reach: state.reach, ...values });

  const begin = (grip: Grip, spot: Spot, points: number[], seat: HandleSeat) => {
    const letters = (["W", "D", "H"] as Letter[]).filter((letter) => grip.includes(letter));
    const oneSided = state.handle === "size" && state.oneSide && letters.length > 0;
    const moving = new Set(points);
    const others =
      state.snap === "points"
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
      snap: { to: state.snap, grid: state.grid, others, lines },
    };
    setDrag(begun);
    return begun;
  };
  const move = (now: Drag, spot: Spot): Drag => {
    const how = now.grip === "N" ? "push" : state.handle === "push" ? "move" : state.handle;
    const camera = cameraOf(state.orbit, spot.width, spot.height);
    const values = dragValues(how, now.grip, now.seat, camera, now.from, spot);
    if (how === "move") values.values = snapped(values.values, now.grip, now.seat, camera, spot, now.snap);
    const next = { ...now, values };
    setDrag(next);
    preview(values, now.picked);
    return next;
  };
  const end = async (now: Drag) => {
    setDrag(null);
    wish.current = null;
    await lastPreview.current;
    if (now.values && !isNothing(now.values)) {
      const kept = await place(now.values, now.picked);
      if (!kept) asItIs();
    } else asItIs();
  };
  return { drag, begin, move, end, previewed };
}

function isNothing({ how, values }: StepValues): boolean {
  const rest = how === "size" ? 1 : 0;
  return values.every((value) => Math.abs(value - rest) < 1e-6);
}
