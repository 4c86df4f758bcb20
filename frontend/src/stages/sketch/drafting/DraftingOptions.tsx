import { changedFields } from "../../../api/change";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { SWEEPS } from "../../../api/values";
import { LETTERS, withAxis } from "../../../ui/AxisFields";
import { Button, Choice, Switch } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { tr } from "../../../words/words";
import { type Face, useSketch } from "../store";
import type { Drafting } from "./useDrafting";

interface OptionProps {
  sheet: Shapes["SheetOutline"];
  edit: Edit;
  drafting: Drafting;
}

const COUNTS = ["1 point", "2 points", "3 points"] as const;

/** How many vanishing points; whether the grid shows; whether lines hold to the directions. */
export function PerspectiveOptions({ sheet, edit, drafting }: OptionProps) {
  const { directed, set } = useSketch();
  const { perspective, box } = sheet;
  const show = (shown: boolean) => perspective && edit({ amend: { kind: "perspective", fields: { shown } } });
  return (
    <>
      <Choice
        label={tr("Vanishing points")}
        options={COUNTS}
        value={perspective ? COUNTS[perspective.points - 1]! : ("" as (typeof COUNTS)[number])}
        onChange={(count) => drafting.begin((COUNTS.indexOf(count) + 1) as 1 | 2 | 3, viewInWork(sheet), box ?? null)}
      />
      {perspective ? (
        <>
          <Switch label={tr("Grid")} on={perspective.shown ?? true} onChange={() => show(!perspective.shown)} />
          <Switch
            word={tr("Lines hold to it")}
            label={tr("Lines hold to directions")}
            on={directed}
            onChange={() => set({ directed: !directed })}
          />
          <Button
            weight="quiet"
            onClick={() => edit({ kind: "set_perspective", perspective: null, box: null, what: "away" })}
          >
            {tr("Take it away")}
          </Button>
        </>
      ) : (
        <p className="pt-1 text-[0.92rem] text-quiet">{tr("Choose how many; then drag the points.")}</p>
      )}
    </>
  );
}

/** The box's proportions in mm. */
export function BoxOptions({ sheet, edit, drafting }: OptionProps) {
  const { perspective, box } = sheet;
  const put = (next: Shapes["ConstructionBox"] | null) =>
    box && next
      ? edit({ amend: { kind: "box", fields: changedFields(box, next) } })
      : edit({ kind: "set_perspective", perspective: perspective ?? null, box: next, what: "box" });
  if (!perspective) {
    return (
      <>
        <p className="pt-1 text-[0.92rem] text-quiet">{tr("A box stands in a perspective.")}</p>
        <Button onClick={() => drafting.begin(3, viewInWork(sheet), null)}>{tr("Set three points")}</Button>
      </>
    );
  }
  if (!box) {
    const [left, top, right, bottom] = frame(sheet);
    const tall = 0.52 * (bottom - top);
    return (
      <Button
        onClick={() =>
          put({
            size: [60, 40, 100],
            at: [(left + right) / 2, bottom - 0.22 * (bottom - top)],
            scale: tall / 110,
            shown: true,
          })
        }
      >
        {tr("Set a box in")}
      </Button>
    );
  }
  const { size } = box;
  return (
    <>
      <div className="space-y-1 py-1">
        {LETTERS.map((letter, axis) => (
          <NumberField
            key={letter}
            label={tr`Box ${letter}`}
            letter={letter}
            value={size[axis]!}
            min={0.1}
            max={10000}
            unit="mm"
            digits={size[axis]! < 10 ? 1 : 0}
            onChange={(value) => put({ ...box, size: withAxis(size, axis, value) })}
          />
        ))}
      </div>
      <Switch label={tr("Box")} on={box.shown ?? true} onChange={() => put({ ...box, shown: !box.shown })} />
      <Button weight="quiet" label={tr("Take the box away")} onClick={() => put(null)}>
        {tr("Take it away")}
      </Button>
    </>
  );
}

/** The face of the box that is drawn on. */
export function FaceOptions({ sheet, hint }: { sheet: Shapes["SheetOutline"]; hint: string }) {
  const { face, set } = useSketch();
  const faces = (sheet.drafted.box?.faces ?? []).map((one) => one.face);
  if (!faces.length) return <p className="pt-1 text-[0.92rem] text-quiet">{tr("Set a construction box first.")}</p>;
  return (
    <>
      <Choice
        label={tr("Face")}
        options={["none", ...faces] as const}
        value={face ?? "none"}
        onChange={(value) => set({ face: value === "none" ? null : (value as Face) })}
      />
      <p className="pt-1 text-[0.92rem] text-quiet">{hint}</p>
    </>
  );
}

/** The kinds of sweep curves. */

/** The family of sweep curves the next one is of. */
export function SweepOptions() {
  const { family, set } = useSketch();
  return (
    <>
      <Choice
        label={tr("Family")}
        options={SWEEPS}
        value={family ?? "easing"}
        onChange={(next) => set({ family: next })}
      />
      <p className="pt-1 text-[0.92rem] text-quiet">{tr("Drag from its beginning the way it sets out.")}</p>
    </>
  );
}

/** The view in work: the last framed three-quarter view, where a perspective is begun; else the page. */
function viewInWork(sheet: Shapes["SheetOutline"]): string | null {
  return sheet.views.filter((view) => view.view === "three-quarter" && !view.struck).at(-1)?.id ?? null;
}

function frame(sheet: Shapes["SheetOutline"]): [number, number, number, number] {
  const view = sheet.views.find((one) => one.id === viewInWork(sheet));
  return view ? (view.rect as [number, number, number, number]) : [0, 0, sheet.width, sheet.height];
}
