import { answer, api, type Shapes } from "../../api/client";
import { type AnyEdit, at, queries, refresh } from "../../api/queries";
import { useBench } from "../../bench/store";
import { Button, Card, NumberField, Row, TextField } from "../../ui/controls";
import { useSketch } from "./store";

interface InspectorProps {
  project: string;
  sheets: Shapes["DocumentShape"][];
  current: Shapes["DocumentShape"];
  sheet: Shapes["SheetOutline"];
  layer: string | undefined;
  edit: (edit: AnyEdit) => Promise<boolean>;
}

/** Numbers and relations of the sheet. */
export function SheetInspector(props: InspectorProps) {
  return (
    <>
      <LayersCard {...props} />
      <ViewsCard {...props} />
      <SymmetryCard {...props} />
      <SheetsCard {...props} />
    </>
  );
}

function LayersCard({ sheet, layer, edit }: InspectorProps) {
  const set = useSketch((sketch) => sketch.set);
  const shown = [...sheet.layers].reverse();
  const active = sheet.layers.find((candidate) => candidate.id === layer);
  const place = sheet.layers.findIndex((candidate) => candidate.id === layer);
  return (
    <Card title="Layers" aside="top first">
      <ul>
        {shown.map((item) => (
          <li
            key={item.id}
            className={`-mx-4 flex items-center gap-2 border-l-[3px] px-[0.8rem] py-0.5 ${item.id === layer ? "border-act bg-raised" : "border-transparent"}`}
          >
            <button
              type="button"
              aria-label={item.visible ? `Hide ${item.name}` : `Show ${item.name}`}
              onClick={() => edit({ kind: "change_layer", layer: item.id, visible: !item.visible })}
              className="min-h-[24px] w-[24px] shrink-0 text-quiet"
            >
              {item.visible ? "●" : "○"}
            </button>
            <button
              type="button"
              disabled={item.kind !== "ink"}
              onClick={() => set({ layer: item.id })}
              className={`flex-1 truncate text-left ${item.visible ? "" : "text-quiet"}`}
            >
              {item.name}
            </button>
            <span className="text-quiet">
              {item.kind === "ink" ? `ink ${item.strokes}` : "picture"}
              {item.opacity < 1 ? ` ${Math.round(item.opacity * 100)} %` : ""}
            </span>
          </li>
        ))}
      </ul>
      {active && (
        <div className="space-y-1.5 pt-1">
          <TextField
            label="Name"
            value={active.name}
            onChange={(name) => edit({ kind: "change_layer", layer: active.id, name })}
          />
          <NumberField
            label="Opacity"
            value={active.opacity * 100}
            min={0}
            max={100}
            step={5}
            unit="%"
            onChange={(value) => edit({ kind: "change_layer", layer: active.id, opacity: value / 100 })}
          />
          <div className="flex gap-4">
            <Button
              weight="quiet"
              disabled={place >= sheet.layers.length - 1}
              onClick={() => edit({ kind: "change_layer", layer: active.id, place: place + 1 })}
            >
              Up
            </Button>
            <Button
              weight="quiet"
              disabled={place <= 0}
              onClick={() => edit({ kind: "change_layer", layer: active.id, place: place - 1 })}
            >
              Down
            </Button>
            <Button weight="quiet" onClick={() => edit({ kind: "remove_layer", layer: active.id })}>
              Remove
            </Button>
          </div>
        </div>
      )}
    </Card>
  );
}

function ViewsCard({ sheet, edit }: InspectorProps) {
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
  const { on = false, axis } = sheet.symmetry;
  const angle = axis.angle ?? 90;
  const set = (fields: Partial<typeof axis>) => edit({ kind: "set_symmetry", on, axis: { ...axis, angle, ...fields } });
  return (
    <Card title="Symmetry" aside={on ? "on" : "off"}>
      <Row label="Mirror">
        <Button weight="quiet" pressed={on} onClick={() => edit({ kind: "set_symmetry", on: !on, axis })}>
          {on ? "switch off" : "switch on"}
        </Button>
      </Row>
      {on && (
        <>
          <NumberField label="Axis across" value={axis.x} unit="px" onChange={(x) => set({ x })} />
          <NumberField label="Axis down" value={axis.y} unit="px" onChange={(y) => set({ y })} />
          <NumberField label="Angle" value={angle} digits={1} unit="°" onChange={(value) => set({ angle: value })} />
        </>
      )}
    </Card>
  );
}

function SheetsCard({ project, sheets, current }: InspectorProps) {
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
