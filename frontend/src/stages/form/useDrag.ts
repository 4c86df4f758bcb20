import { type RefObject, useRef, useState } from "react";
import type { Vector3 } from "three";
import { useBench } from "../../bench/store";
import { cameraOf } from "../../view3d/orbit";
import { type PartMesh, previewStep } from "../../view3d/partMesh";
import type { Spot, ViewHandle } from "../../view3d/View3D";
import { dragValues, type Grip, type StepValues } from "./dragging";
import { seatOf } from "./picking";
import { useFormStage } from "./store";

export interface Drag {
  grip: Grip;
  from: Spot;
  seat: Vector3;
  picked: number[];
  values: StepValues | null;
}

/** A drag of the pick: previews while the hand moves, one edit when it lets go. */
export function useDrag(props: {
  mesh: PartMesh | undefined;
  address: string | undefined;
  symmetric: boolean;
  view: RefObject<ViewHandle | null>;
  setCagePoints: (points: Float32Array) => void;
  place: (values: StepValues, points: number[]) => Promise<boolean>;
}) {
  const { mesh, address, symmetric, view, setCagePoints, place } = props;
  const state = useFormStage();
  const { set } = state;
  const notify = useBench((bench) => bench.notify);
  const [drag, setDrag] = useState<Drag | null>(null);

  // one preview is on its way at a time; the newest wish waits
  const asking = useRef(false);
  const wish = useRef<{ values: StepValues; picked: number[] } | null>(null);
  const lastPreview = useRef<Promise<void>>(Promise.resolve());
  const preview = (values: StepValues, points: number[]) => {
    wish.current = { values, picked: points };
    if (asking.current || !mesh) return;
    asking.current = true;
    lastPreview.current = (async () => {
      while (wish.current) {
        const { values: now, picked: which } = wish.current;
        wish.current = null;
        try {
          const step = { kind: "placed", how: now.how, points: which, values: now.values, seat: now.seat, symmetric };
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

  const begin = (grip: Grip, spot: Spot, points: number[]) => {
    const begun: Drag = { grip, from: spot, seat: seatOf(mesh!.points, points), picked: points, values: null };
    setDrag(begun);
    return begun;
  };
  const move = (now: Drag, spot: Spot): Drag => {
    const how = now.grip === "free" && state.handle !== "size" && state.handle !== "turn" ? "move" : state.handle;
    const camera = cameraOf(state.orbit, spot.width, spot.height);
    const values = dragValues(how, now.grip, now.seat, camera, now.from, spot);
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
      if (!kept && mesh) preview({ how: "move", values: [0, 0, 0], seat: [0, 0, 0] }, now.picked);
    }
  };
  return { drag, begin, move, end };
}

function isNothing({ how, values }: StepValues): boolean {
  const rest = how === "size" ? 1 : 0;
  return values.every((value) => Math.abs(value - rest) < 1e-6);
}
