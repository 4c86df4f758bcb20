import { answer, api, type Shapes } from "../../api/client";
import { type AnyEdit, at, queries, refresh } from "../../api/queries";
import { useBench } from "../../bench/store";
import type { Guide } from "../../paper/guides";
import { Button, Card, NumberField, Row, TextField } from "../../ui/controls";
import { ColourCard } from "./ColourCard";
import { GuidesCard } from "./GuidesCard";
import { LayersCard } from "./LayersCard";
import { LinesCard } from "./LinesCard";
import { PageCard } from "./PageCard";
import { useSketch } from "./store";

interface InspectorProps {
  project: string;
  sheets: Shapes["DocumentShape"][];
  current: Shapes["DocumentShape"];
  sheet: Shapes["SheetOutline"];
  layer: string | undefined;
  edit: (edit: AnyEdit) => Promise<boolean>;
  onMerge: (layer: string) => void;
  onDuplicate: (layer: string) => void;
  onSelectPaint: (layer: string) => void;
  onCopyView: (view: string, to: string) => void;
  onLines: (change: Shapes["LinesRequest"]["change"]) => void;
}

/** Numbers and relations of the sheet. */
export function SheetInspector(props: InspectorProps) {
  const picked = useSketch((sketch) => sketch.lines.length > 0);
  return (
    <>
      {picked && <LinesCard onChange={props.onLines} />}
      <ColourCard colours={props.sheet.colours} />
      <LayersCard {...props} />
      {props.sheet.guides.length > 0 && <GuidesCard guides={props.sheet.guides as Guide[]} edit={props.edit} />}
      <ViewsCard {...props} />
      <SymmetryCard {...props} />
      <PageCard sheet={props.sheet} edit={props.edit} />
      <SheetsCard {...props} />
    </>
  );
}

function ViewsCard({ sheet, sheets, current, edit, onCopyView }: InspectorProps) {
  const { copying, set, take } = useSketch();
  return (
    <Card title="Views" aside={sheet.views.length ? "" : "none yet"}>
      {sheet.views.length === 0 && (
        <p className="text-quiet">Frame what belongs together, to pin it behind the form.</p>
      )}
      {sheet.views.map((view) => (
        <div key={view.id}>
          <TextField
            label={`${view.view}`}
            value={view.name}
            onChange={(name) => edit({ kind: "change_view", id: view.id, name })}
          />
          <div className="flex gap-4">
            <Button
              weight="quiet"
              label={`${view.struck ? "Take up again" : "Strike out"} ${view.name}`}
              onClick={() => edit({ kind: "strike_out", id: view.id, struck: !view.struck })}
            >
              {view.struck ? "Take up again" : "Strike out"}
            </Button>
            <Button
              weight="quiet"
              label={`Copy ${view.name} to another place`}
              pressed={copying === view.id}
              onClick={() => {
                set({ copying: view.id });
                take("put copy");
              }}
            >
              Copy
            </Button>
            {sheets.length > 1 && (
              <select
                aria-label={`Copy ${view.name} to a sheet`}
                value=""
                onChange={(event) => onCopyView(view.id, event.target.value)}
                className="min-h-[24px] max-w-[6rem] border border-vein bg-raised text-quiet"
              >
                <option value="">to sheet…</option>
                {sheets
                  .filter((other) => other.id !== current.id)
                  .map((other) => (
                    <option key={other.id} value={other.id}>
                      {other.name}
                    </option>
                  ))}
              </select>
            )}
            <Button
              weight="quiet"
              label={`Remove the frame of ${view.name}`}
              onClick={() => edit({ kind: "remove_view", id: view.id })}
            >
              Remove
            </Button>
          </div>
        </div>
      ))}
    </Card>
  );
}

function SymmetryCard({ sheet, edit }: InspectorProps) {
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

function SheetsCard({ project, sheets, current, sheet: shown, edit }: InspectorProps) {
  const { openSheet, notify } = useBench();
  const rename = async (name: string) => {
    try {
      await answer(
        api.POST("/api/projects/{project}/documents/{document}/name", { ...at(project, current.id), body: { name } }),
      );
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ["project", project] });
    await refresh(current.id);
  };
  return (
    <Card title="Sheets" aside={`${sheets.length}`}>
      <Row label="The direction gone on with">
        <Button
          weight="quiet"
          pressed={shown.chosen}
          label={`Chosen direction: ${shown.chosen ? "yes" : "no"}`}
          onClick={() => edit({ kind: "choose", chosen: !shown.chosen })}
        >
          {shown.chosen ? "yes" : "no"}
        </Button>
      </Row>
      {sheets.map((sheet) =>
        sheet.id === current.id ? (
          <TextField key={sheet.id} label="Name of this sheet" hideLabel value={sheet.name} onChange={rename} />
        ) : (
          <Button key={sheet.id} weight="quiet" onClick={() => openSheet(sheet.id)}>
            {sheet.name}
          </Button>
        ),
      )}
    </Card>
  );
}
