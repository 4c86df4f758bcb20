import type { AnyEdit } from "../../api/queries";
import type { Guide } from "../../paper/guides";
import { Button, Card, NumberField } from "../../ui/controls";

/** Guides on the page, by number. */
export function GuidesCard(props: { guides: Guide[]; edit: (edit: AnyEdit) => Promise<boolean> }) {
  const put = (guide: Guide) => props.edit({ kind: "put_guide", guide });
  return (
    <Card title="Guides" aside={`${props.guides.length}`}>
      {props.guides.map((guide, number) => (
        <div key={guide.id} className="space-y-1.5">
          <div className="flex items-center justify-between">
            <span>{guide.kind === "straightedge" ? "Straightedge" : "Ellipse"}</span>
            <Button
              weight="quiet"
              label={`Take guide ${number + 1} away`}
              onClick={() => props.edit({ kind: "remove_guide", id: guide.id })}
            >
              Take away
            </Button>
          </div>
          {guide.kind === "ellipse" && (
            <>
              <NumberField
                label={`Half across, guide ${number + 1}`}
                value={guide.across}
                min={2}
                unit="px"
                onChange={(across) => put({ ...guide, across })}
              />
              <NumberField
                label={`Half down, guide ${number + 1}`}
                value={guide.down}
                min={2}
                unit="px"
                onChange={(down) => put({ ...guide, down })}
              />
              <NumberField
                label={`Turn, guide ${number + 1}`}
                value={guide.turn ?? 0}
                digits={1}
                unit="°"
                onChange={(turn) => put({ ...guide, turn })}
              />
            </>
          )}
        </div>
      ))}
    </Card>
  );
}
