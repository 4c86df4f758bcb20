import type { Shapes } from "../../api/client";
import type { AnyEdit } from "../../api/queries";
import { Button, Card, NumberField, Row } from "../../ui/controls";

/** Symmetry while drawing, by number. */
export function SymmetryCard(props: { sheet: Shapes["SheetOutline"]; edit: (edit: AnyEdit) => Promise<boolean> }) {
  const { sheet, edit } = props;
  const { on = false, axis, mirror = true, turns = 1 } = sheet.symmetry;
  const angle = axis.angle ?? 90;
  const change = (fields: Partial<Shapes["SetSymmetry"]>) =>
    edit({ kind: "set_symmetry", on, axis, mirror, turns, ...fields });
  const set = (fields: Partial<typeof axis>) => change({ axis: { ...axis, angle, ...fields } });
  return (
    <Card title="Symmetry" aside={on ? "on" : "off"}>
      <Row label="Symmetry">
        <Button weight="quiet" pressed={on} onClick={() => change({ on: !on })}>
          {on ? "switch off" : "switch on"}
        </Button>
      </Row>
      {on && (
        <>
          <Row label="Mirror across the axis">
            <Button
              weight="quiet"
              label={`Mirror: ${mirror ? "yes" : "no"}`}
              pressed={mirror}
              onClick={() => change({ mirror: !mirror })}
            >
              {mirror ? "yes" : "no"}
            </Button>
          </Row>
          <NumberField
            label="Times around"
            value={turns}
            min={1}
            max={24}
            onChange={(value) => change({ turns: Math.round(value) })}
          />
          <NumberField label="Axis across" value={axis.x} unit="px" onChange={(x) => set({ x })} />
          <NumberField label="Axis down" value={axis.y} unit="px" onChange={(y) => set({ y })} />
          <NumberField label="Angle" value={angle} digits={1} unit="°" onChange={(value) => set({ angle: value })} />
        </>
      )}
    </Card>
  );
}
