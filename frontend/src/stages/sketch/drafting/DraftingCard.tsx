import { useState } from "react";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { LETTERS, type Letter } from "../../../ui/AxisFields";
import { Button, Card, Choice, Switch } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { tr } from "../../../words/words";
import { useSketch } from "../store";
import type { Drafting } from "./useDrafting";

/** The perspective by number, and the view of a box that is drawn already. */
export function DraftingCard(props: { sheet: Shapes["SheetOutline"]; edit: Edit; drafting: Drafting }) {
  const { sheet, edit, drafting } = props;
  const { directed, face, lighter, set } = useSketch();
  const [along, setAlong] = useState<Letter>("H");
  const [length, setLength] = useState(100);
  const read = useReading();
  const perspective = drafting.draft?.perspective ?? sheet.perspective;
  const marked = Object.values(sheet.edges);
  const change = (fields: Partial<Shapes["Perspective"]>) =>
    sheet.perspective &&
    edit({
      kind: "set_perspective",
      perspective: { ...sheet.perspective, ...fields },
      box: sheet.box ?? null,
      what: "perspective",
    });
  const faces = (sheet.drafted.box?.faces ?? []).map((one) => one.face);
  return (
    <Card title={tr("Perspective")} aside={perspective ? tr`${perspective.points}-point` : tr("none")}>
      {perspective && (
        <>
          <NumberField
            label={tr("Lens")}
            value={(36 * perspective.focal) / sheet.width}
            min={4}
            max={2000}
            unit="mm"
            fixed
            onChange={(lens) => change({ focal: (lens * sheet.width) / 36 })}
          />
          {perspective.points > 1 && (
            <NumberField
              label={tr("Turned to the side")}
              value={perspective.turn ?? 0}
              digits={1}
              min={-90}
              max={90}
              unit="°"
              onChange={(turn) => change({ turn })}
            />
          )}
          {perspective.points > 2 && (
            <NumberField
              label={tr("Seen from above")}
              value={perspective.tilt ?? 0}
              digits={1}
              min={-80}
              max={80}
              unit="°"
              onChange={(tilt) => change({ tilt })}
            />
          )}
          <Switch
            word={tr("Lines hold to directions")}
            label={tr("Hold to directions")}
            on={directed}
            onChange={() => set({ directed: !directed })}
          />
          {faces.length > 0 && (
            <>
              <span className="text-quiet">{tr("Drawn on")}</span>
              <Choice
                label={tr("Face drawn on")}
                options={["space", ...faces] as const}
                value={face ?? "space"}
                onChange={(value) => set({ face: value === "space" ? null : value })}
              />
            </>
          )}
        </>
      )}
      <Switch
        word={tr("Lines along guides")}
        label={tr("Lines along guides")}
        on={lighter}
        onChange={() => set({ lighter: !lighter })}
      />
      {marked.length > 0 && (
        <section aria-label={tr("Drawn box")} className="space-y-1.5 border-vein border-t pt-1.5">
          <p className="text-quiet">
            {LETTERS.map((letter) => (
              <span key={letter} className="mr-3">
                {letter} {marked.filter((one) => one === letter).length}
              </span>
            ))}
            {tr("edges marked")}
          </p>
          <div className="flex items-center gap-3">
            <Choice label={tr("Known along")} options={LETTERS} value={along} onChange={setAlong} />
            <span className="text-quiet">{tr("is")}</span>
            <NumberField label={tr("Known length")} hideLabel value={length} min={0.1} unit="mm" onChange={setLength} />
          </div>
          <Button onClick={() => drafting.recover(along, length)}>{tr("Find the view of the drawn box")}</Button>
          {drafting.found && (
            <div role="status" aria-label={tr("What was found")} className="text-quiet">
              <p>
                {read.size(drafting.found.size, 1)}
                {sureTo(drafting.found.size_within)} {tr("through a")} {drafting.found.lens.toFixed(0)} {tr("mm lens")}
                {sureTo(drafting.found.lens_within)}
                {tr(". The lines lie")} {read.number(drafting.found.error, 1)} {tr("px beside it, from")}{" "}
                {drafting.found.corners} {tr("corners.")}
              </p>
              {drafting.found.doubt && (
                <p className="border-warn border-l-[3px] pl-2 text-ink">{drafting.found.doubt}</p>
              )}
            </div>
          )}
        </section>
      )}
    </Card>
  );
}

/** How far off a number may be, said after it; nothing where that is not known. */
function sureTo(share: number | null | undefined): string {
  return share == null ? "" : ` (± ${Math.max(1, Math.round(share * 100))} %)`;
}
