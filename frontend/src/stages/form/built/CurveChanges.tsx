import { useState } from "react";
import type { Shapes } from "../../../api/client";
import { type Edit, newId } from "../../../api/queries";
import { Button, Card, Options, Picker } from "../../../ui/controls";
import { isCurve } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { StepFields } from "../steps";
import { OtherCurves } from "./choosing";

const FIRST = {
  curve_offset: { distance: 2, sharp: false },
  curve_mirrored: { along: "up", both: true },
  curve_joined: { how: "smooth" },
} as const;
type ChangeKind = keyof typeof FIRST;

const NAMES: Record<ChangeKind, { name: string; apply: string }> = {
  curve_offset: { name: tr("Beside itself"), apply: tr("Offset it") },
  curve_mirrored: { name: tr("With its mirror image"), apply: tr("Mirror it") },
  curve_joined: { name: tr("With another curve"), apply: tr("Join them") },
};

/** Steps that change the curve worked on as a whole; each keeps its numbers in the recipe. */
export function CurveChanges({ form, part, edit }: { form: Shapes["Form"]; part: Shapes["Part"]; edit: Edit }) {
  const [kind, setKind] = useState<ChangeKind>("curve_offset");
  const [numbers, setNumbers] = useState<Record<ChangeKind, Record<string, unknown>>>({ ...FIRST });
  const [other, setOther] = useState("");
  const curves = (form.parts ?? []).filter((one) => one.id !== part.id && isCurve(one));
  const joins = kind === "curve_joined";
  const apply = () => {
    const inputs = joins ? { inputs: { with: { kind: "part", part: other } } } : {};
    const step = { kind, ...numbers[kind], tag: newId().slice(0, 6), ...inputs };
    return edit({ kind: "shape", part: part.id, step } as Shapes["Shape"]);
  };
  return (
    <Card title={tr("As a whole")}>
      <Picker label={tr("Next")} value={kind} onChange={(value) => setKind(value as ChangeKind)}>
        <Options of={Object.entries(NAMES).map(([value, { name }]) => [value, name])} />
      </Picker>
      {joins && (
        <Picker label={tr("The other")} value={other} onChange={setOther}>
          <OtherCurves of={curves} />
        </Picker>
      )}
      <StepFields
        kind={kind}
        values={numbers[kind]}
        onChange={(fields) => setNumbers({ ...numbers, [kind]: { ...numbers[kind], ...fields } })}
      />
      {joins && !other ? (
        <p className="text-quiet">{tr("Choose the curve it goes on in.")}</p>
      ) : (
        <Button onClick={apply}>{NAMES[kind].apply}</Button>
      )}
    </Card>
  );
}
