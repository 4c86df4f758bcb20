import { Button, Choice } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { tr } from "../../../words/words";
import { type CurveKind, PLACES, useCurve } from "./curve";

const IN_SPACE: readonly CurveKind[] = ["lines", "spline"];
const KINDS: readonly CurveKind[] = ["lines", "spline", "arc", "circle", "ellipse", "rectangle"];

const HINTS: Record<CurveKind, string> = {
  lines: tr("Touch its corners; the first again closes it, the last again ends it."),
  spline: tr("Touch places on it; the first again closes it, the last again ends it."),
  arc: tr("Touch both ends, then a place on it."),
  circle: tr("Touch its middle, then a place on it."),
  ellipse: tr("Touch its middle, one end, then how wide it is."),
  rectangle: tr("Touch two opposite corners."),
};

/** What is drawn next, and on which plane. */
export function CurveOptions(props: { onFinish: (closed: boolean) => void }) {
  const { kind, on, off, ground, placed, set } = useCurve();
  const space = on === "space";
  const grounds = [...(["front", "side", "top", "space"] as const), ...(ground ? (["set"] as const) : [])];
  return (
    <div className="space-y-1.5">
      <p className="text-quiet">{HINTS[kind]}</p>
      <Choice
        label={tr("What to draw")}
        options={space ? IN_SPACE : KINDS}
        value={kind}
        onChange={(next) => set({ kind: next, placed: [] })}
      />
      <Choice
        label={tr("Drawn on")}
        options={grounds}
        value={on}
        onChange={(next) =>
          set({ on: next, placed: [], ...(next === "space" && !IN_SPACE.includes(kind) && { kind: "lines" }) })
        }
      />
      {on === "set" && ground && <p>{tr`On ${ground.name}.`}</p>}
      {space ? (
        <p className="text-quiet">{tr("Places lie on what they are put on: points, corners, skins.")}</p>
      ) : (
        <NumberField
          label={tr("Off by")}
          value={off}
          unit="mm"
          digits={1}
          onChange={(next) => set({ off: next, placed: [] })}
        />
      )}
      {PLACES[kind] === null && placed.length > 1 && (
        <div className="flex gap-2">
          <Button onClick={() => props.onFinish(false)}>{tr("End it")}</Button>
          {placed.length > 2 && <Button onClick={() => props.onFinish(true)}>{tr("Close it")}</Button>}
        </div>
      )}
    </div>
  );
}
