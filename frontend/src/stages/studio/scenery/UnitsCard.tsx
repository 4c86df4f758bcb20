import { newId } from "../../../api/queries";
import { Button, Card, Choice, Row } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import type { Unit } from "../kinds";
import { useSetting } from "../store";

/** The product and its copies in the set: how each stands, lies, leans or hangs. */
export function UnitsCard({ stored, body, parts, edit, onDraft }: StudioProps) {
  const setting = useSetting(stored);
  const units = setting.units ?? [];
  const hidden = new Set(setting.hidden ?? []);
  const another = () => {
    const unit: Unit = { id: newId().slice(0, 8), pose: "lie", x: 110, y: 30, turn: 70 };
    return edit({ kind: "place_units", units: [...units, unit] });
  };
  return (
    <>
      <Card title={tr("Products")} aside={String(units.length)}>
        {units.map((unit, index) => {
          const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "unit", id: unit.id, fields } });
          const number = (
            field: "x" | "y" | "turn" | "tip" | "high",
            label: string,
            unitName: string,
            most: number,
          ) => (
            <NumberField
              label={label}
              unit={unitName}
              value={unit[field] ?? 0}
              min={field === "high" ? 0 : -most}
              max={most}
              onSlide={(value) =>
                onDraft({ units: units.map((other) => (other.id === unit.id ? { ...other, [field]: value } : other)) })
              }
              onChange={(value) => change({ [field]: value })}
            />
          );
          return (
            <section key={unit.id} aria-label={tr`Product ${index + 1}`} className="space-y-1.5 pb-2">
              <Row label={tr`Product ${index + 1}`}>
                <Choice
                  label={tr("Pose")}
                  options={["stand", "lie", "face down", "lean", "hang"]}
                  value={unit.pose ?? "stand"}
                  onChange={(pose) => change(pose === "lean" ? { pose, tip: unit.tip || 12 } : { pose })}
                />
              </Row>
              {number("x", tr("Across"), "mm", 5000)}
              {number("y", tr("Back"), "mm", 5000)}
              {number("turn", tr("Turned"), "°", 180)}
              {number("tip", tr("Tipped back"), "°", 90)}
              {unit.pose === "hang" && number("high", tr("Over the ground"), "mm", 3000)}
              {(body.colourways ?? []).length > 0 && (
                <Row label={tr("Wears")}>
                  <Choice
                    label={tr("Wears")}
                    options={["as worked on", ...(body.colourways ?? []).map((way) => way.name)]}
                    value={(body.colourways ?? []).find((way) => way.id === unit.colourway)?.name ?? "as worked on"}
                    onChange={(name) =>
                      change({ colourway: (body.colourways ?? []).find((way) => way.name === name)?.id ?? null })
                    }
                  />
                </Row>
              )}
              {units.length > 1 && (
                <Button
                  weight="quiet"
                  onClick={() => edit({ kind: "place_units", units: units.filter((other) => other.id !== unit.id) })}
                >
                  {tr("Take it out")}
                </Button>
              )}
            </section>
          );
        })}
        <Button onClick={another}>{tr("Another one")}</Button>
      </Card>
      <Card title={tr("In the picture")} aside={tr`${parts.length - hidden.size} of ${parts.length} parts`}>
        {parts.map((part) => (
          <Row key={part.id} label={part.name}>
            <Button
              weight="quiet"
              pressed={!hidden.has(part.id)}
              onClick={() => edit({ kind: "hide_part", part: part.id, name: part.name, hidden: !hidden.has(part.id) })}
            >
              {hidden.has(part.id) ? tr("left out") : tr("shown")}
            </Button>
          </Row>
        ))}
      </Card>
    </>
  );
}
