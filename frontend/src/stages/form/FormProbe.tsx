import { useEffect, useMemo, useRef } from "react";
import { Vector3 } from "three";
import type { PartMesh } from "../../view3d/partMesh";
import { largestOf, useLargest } from "../../view3d/probing/curved";
import { Mapped } from "../../view3d/probing/Mapped";
import { Striped } from "../../view3d/probing/Striped";
import { percentile, plain, type Range } from "../../view3d/probing/scales";
import { extentOf, oneByOne, type Shown } from "../../view3d/useParts";
import { View3D, type ViewHandle } from "../../view3d/View3D";
import { tr } from "../../words/words";
import { formEye, useHand } from "./hand";
import { type Beside, useFormStage } from "./store";

const BESIDE_NAMES: Record<Beside, string> = {
  stripes: tr("Stripes"),
  polished: tr("Polished"),
  largest: tr("Largest curvature"),
};

/** As the tool says which it is. */
export const BESIDE_NOTES: Record<Beside, string> = {
  stripes: tr("stripes"),
  polished: tr("polished"),
  largest: tr("curvature"),
};

const ACROSS = { stripes: new Vector3(0.32, -0.12, 0.94), polished: new Vector3(0.45, -0.78, 0.42) };
const COUNT = 14;
/** Share of the largest part's curvature that lies within the colours. */
const WITHIN = 0.9;

/** What a probe shows of the form beside the model, by the same eye; it follows a handle while it is dragged. */
export function FormProbe(props: { project: string; form: string; parts: Shown<PartMesh>[]; probe: Beside }) {
  const { project, form, parts, probe } = props;
  const solo = useFormStage((state) => state.solo);
  const shown = useMemo(
    () => (solo ? parts.filter(({ part }) => part.id === solo) : parts).map(oneByOne),
    [parts, solo],
  );
  const view = useRef<ViewHandle>(null);
  const stored = useLargest(project, form, shown, probe === "largest");
  const dragged = useHand((hand) => hand.bends);
  // the skin itself is drawn anew in place, for both views
  useEffect(
    () => useHand.subscribe((now, before) => now.cagePoints !== before.cagePoints && view.current?.redraw()),
    [],
  );
  const range = useMemo((): Range | null => {
    const extents = shown.map((one, k) => (stored[k] ? extentOf([one]).extent : 0));
    const values = stored[extents.indexOf(Math.max(...extents))];
    if (!values) return null;
    const end = Math.max(percentile(values, WITHIN), 1e-6);
    return { scale: "both", low: -end, high: end, unit: "1/mm" };
  }, [shown, stored]);
  const scene = useMemo(
    () =>
      shown.map(({ part, mesh }, k) => {
        const values = stored[k];
        if (probe !== "largest")
          return <Striped key={part.id} geometry={mesh.geometry} count={COUNT} across={ACROSS[probe]} look={probe} />;
        if (!values || !range) return null;
        const held = dragged?.mesh === mesh ? withPatches(mesh, values, dragged) : values;
        return <Mapped key={part.id} mesh={mesh} map={{ values: held, marked: null }} range={range} />;
      }),
    [shown, stored, range, probe, dragged],
  );
  return (
    <>
      <View3D label={BESIDE_NAMES[probe]} eye={formEye} handle={view}>
        {scene}
      </View3D>
      <h2 className="pointer-events-none absolute top-3 left-4 bg-paper px-2 py-1 font-semibold">
        {BESIDE_NAMES[probe]}
        {range && probe === "largest" && (
          <span className="font-normal text-quiet"> {tr`± ${plain(range.high)} ${range.unit}`}</span>
        )}
      </h2>
    </>
  );
}

/** A map's values with those a drag has moved in their place. */
function withPatches(
  mesh: PartMesh,
  values: Float32Array,
  moved: { patches: Int32Array; high: Float32Array; low: Float32Array },
) {
  const held = values.slice();
  let at = 0;
  for (const patch of moved.patches) {
    const [start, end] = [mesh.patchStarts[patch]!, mesh.patchStarts[patch + 1]!];
    for (let k = start; k < end; k++, at++) held[k] = largestOf(moved.high[at]!, moved.low[at]!);
  }
  return held;
}
