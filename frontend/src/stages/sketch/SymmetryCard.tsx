import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { Card, Switch } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";

/** Symmetry while drawing, by number. */
export function SymmetryCard(props: { sheet: Shapes["SheetOutline"]; edit: Edit }) {
  const { sheet, edit } = props;
  const { on = false, axis, mirror = true, turns = 1 } = sheet.symmetry;
  const angle = axis.angle ?? 90;
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "symmetry", fields } });
  return (
    <Card title={tr("Symmetry")}>
      <Switch label={tr("Symmetry")} on={on} onChange={() => change({ on: !on })} />
      {on && (
        <>
          <Switch
            word={tr("Mirror across the axis")}
            label={tr("Mirror")}
            on={mirror}
            onChange={() => change({ mirror: !mirror })}
          />
          <NumberField
            label={tr("Times around")}
            value={turns}
            min={1}
            max={24}
            onChange={(value) => change({ turns: Math.round(value) })}
          />
          <NumberField label={tr("Axis across")} value={axis.x} unit="px" onChange={(x) => change({ "axis.x": x })} />
          <NumberField label={tr("Axis down")} value={axis.y} unit="px" onChange={(y) => change({ "axis.y": y })} />
          <NumberField
            label={tr("Angle")}
            value={angle}
            digits={1}
            unit="°"
            onChange={(value) => change({ "axis.angle": value })}
          />
        </>
      )}
    </Card>
  );
}
