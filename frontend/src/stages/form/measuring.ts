import { useEffect, useMemo, useRef } from "react";
import type { PerspectiveCamera, Vector3 } from "three";
import type { Shapes } from "../../api/client";
import { type Edit, newId } from "../../api/queries";
import type { Spot } from "../../ui/pointing";
import { cameraOf } from "../../view3d/orbit";
import { isShaped, type PartMesh } from "../../view3d/partMesh";
import { isCurve } from "../../view3d/useParts";
import { tr } from "../../words/words";
import { type Anchor, type Catch, caughtAt, placeOf, useCatches } from "./built/catching";
import { useCurve } from "./built/curve";
import { useHand } from "./hand";
import { placeUnder, pointAt } from "./picking";
import { type Shown, useFormStage } from "./store";

/** Share of its distance by which a place may lie behind the skin under the pointer and still be seen. */
const BEHIND = 0.02;
const NONE: Shapes["Measure"][] = [];

interface MeasuringProps {
  project: string;
  document: string;
  state: Shapes["FormState"] | undefined;
  meshes: ReadonlyMap<string, PartMesh>;
  edit: Edit;
}

export interface Measuring {
  /** What the tool does with a spot; whether anything was there. */
  place: (spot: Spot, down: boolean) => boolean;
  /** Where an anchor is now; null where it is hidden or gone. */
  placed: (anchor: Anchor) => Vector3 | null;
}

/** Sets dimensions between two places of any parts, one touch each, and knows where those that are set stand. */
export function useMeasuring(props: MeasuringProps): Measuring {
  const { project, document, state, meshes } = props;
  const on = useFormStage((stage) => stage.tool === "measure");
  const measures = state?.body.measures;
  const parts = state?.body.parts;
  // a point of a cage comes with its mesh: nothing is asked for it whenever the cage is shaped
  const meant = useMemo(() => {
    const curves = new Set(parts?.filter(isCurve).map(({ id }) => id));
    const anchors = (measures ?? NONE).flatMap(({ first, second }) => [first, second]);
    return [...new Set(anchors.filter((one) => "on" in one || curves.has(one.part)).map(({ part }) => part))];
  }, [measures, parts]);
  const catches = useCatches(project, document, state, on ? "all" : meant);
  const { shown, solo } = useFormStage();
  const points = useMemo(
    () => (on ? cagePoints(parts ?? [], meshes, shown, solo) : []),
    [on, parts, meshes, shown, solo],
  );
  const latest = useRef({ ...props, catches, points });
  latest.current = { ...props, catches, points };
  useEffect(() => {
    if (on) return;
    useCurve.getState().set({ caught: null });
    useFormStage.getState().set({ measuring: null });
  }, [on]);

  return useMemo(
    () => ({
      place: (spot, down) => {
        const { catches, points, meshes, edit } = latest.current;
        const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
        const { measuring, set } = useFormStage.getState();
        const caught = caughtAt(seen([...catches, ...points], camera, spot, meshes), camera, spot);
        useCurve.getState().set({ caught: caught && { word: caught.word, place: caught.place.toArray() } });
        if (!down || !caught) return !!caught;
        if (!measuring) set({ measuring: caught.anchor });
        else {
          set({ measuring: null });
          if (JSON.stringify(measuring) !== JSON.stringify(caught.anchor))
            edit(measureBetween(measuring, caught.anchor));
        }
        return true;
      },
      placed: (anchor) => onSkin(anchor, meshes) ?? placeOf(anchor, catches),
    }),
    [meshes, catches],
  );
}

/** Points of the cages of parts that are shown, where they can be touched: on the skin above them, on the cage, or both. */
function cagePoints(
  parts: Shapes["Part"][],
  meshes: ReadonlyMap<string, PartMesh>,
  how: Shown,
  solo: string | null,
): Catch[] {
  return parts.flatMap(({ id, name }) => {
    const mesh = meshes.get(id);
    if (!mesh || !isShaped(mesh) || (solo && solo !== id)) return [];
    return Array.from(mesh.limitOf, (_, point): Catch[] => {
      const anchor = { part: id, point };
      const skin = onSkin(anchor, meshes);
      if (!skin) return []; // the skin does not reach it
      const places = { both: [skin, pointAt(mesh.points, point)], skin: [skin], cage: [pointAt(mesh.points, point)] }[
        how
      ];
      return places.map((place) => ({ place, anchor, word: tr`point ${point + 1} of ${name}` }));
    }).flat();
  });
}

/** The place on the skin above a cage's point. */
function onSkin(anchor: Anchor, meshes: ReadonlyMap<string, PartMesh>): Vector3 | null {
  const mesh = meshes.get(anchor.part);
  if (!mesh || "on" in anchor) return null;
  const skin = mesh.limitOf[anchor.point];
  return skin === undefined || skin < 0 ? null : pointAt(mesh.positions, skin);
}

/** Places that no skin hides; middles of round edges lie within, and are seen for all that. */
function seen(all: Catch[], camera: PerspectiveCamera, spot: Spot, meshes: ReadonlyMap<string, PartMesh>): Catch[] {
  const skin = placeUnder(meshes.values(), camera, spot);
  if (!skin) return all;
  const far = skin.distanceTo(camera.position) * (1 + BEHIND);
  return all.filter(
    ({ place, anchor }) => ("on" in anchor && anchor.at === "centre") || place.distanceTo(camera.position) < far,
  );
}

/** Mm of a dimension: straight, or along one direction. */
export function lengthOf(measure: Shapes["Measure"], first: Vector3, second: Vector3): number {
  const by = second.clone().sub(first);
  if (measure.along === "W") return Math.abs(by.x);
  if (measure.along === "D") return Math.abs(by.y);
  return measure.along === "H" ? Math.abs(by.z) : by.length();
}

/** A dimension between two places. */
function measureBetween(first: Anchor, second: Anchor): Shapes["PutMeasure"] {
  return { kind: "put_measure", measure: { id: newId().slice(0, 8), first, second, along: "straight" } };
}
