import type { Shapes } from "../../api/client";
import { type Edit, useProject, useWork } from "../../api/queries";
import { carries, putDown } from "../../bench/carrying";
import { Button, Card, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { useSketch } from "./store";

/** The views framed on the page: named, struck out, copied, repeated faintly. */
export function ViewsCard(props: {
  project: string;
  sheet: Shapes["SheetOutline"];
  sheets: Shapes["DocumentShape"][];
  current: Shapes["DocumentShape"];
  edit: Edit;
  onCopyView: (view: string, to: string) => void;
}) {
  const { project, sheet, sheets, current, edit, onCopyView } = props;
  const { copying, fainting, set, take } = useSketch();
  const work = useWork();
  const documents = useProject(project).data?.documents ?? [];
  return (
    <Card title={tr("Views")} aside={sheet.views.length ? "" : tr("none yet")}>
      {sheet.views.length === 0 && (
        <p className="text-quiet">{tr("Frame what belongs together, to pin it behind the form.")}</p>
      )}
      {sheet.views.map((view) => (
        <div key={view.id} {...carries({ kind: "view", sheet: current.id, view: view.id })}>
          <TextField
            label={`${view.view}`}
            value={view.name}
            onChange={(name) => edit({ kind: "change_view", id: view.id, name })}
          />
          {view.scale && (
            <NumberField
              label={tr`Scale of ${view.name}`}
              value={view.scale}
              digits={2}
              min={0.01}
              unit="px a mm"
              onChange={(scale) => edit({ kind: "set_scale", view: view.id, scale })}
            />
          )}
          <div className="-mx-2.5 flex flex-wrap">
            <Button
              weight="quiet"
              label={`${view.struck ? tr("Take up again") : tr("Strike out")} ${view.name}`}
              onClick={() => edit({ kind: "strike_out", id: view.id, struck: !view.struck })}
            >
              {view.struck ? tr("Take up again") : tr("Strike out")}
            </Button>
            <Button
              weight="quiet"
              label={tr`Copy ${view.name} to another place`}
              pressed={copying === view.id}
              onClick={() => {
                set({ copying: view.id });
                take("put copy");
              }}
            >
              {tr("Copy")}
            </Button>
            {sheets.length > 1 && (
              <select
                aria-label={tr`Copy ${view.name} to a sheet`}
                value=""
                onChange={(event) => onCopyView(view.id, event.target.value)}
                className="min-h-[24px] max-w-[6rem] border border-vein bg-raised text-quiet"
              >
                <option value="">{tr("to sheet…")}</option>
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
              label={tr`Repeat ${view.name} faintly behind`}
              pressed={fainting === view.id}
              onClick={() => {
                set({ fainting: view.id });
                take("put faint");
              }}
            >
              {tr("Faint")}
            </Button>
            <Button
              weight="quiet"
              label={tr`Stand ${view.name} behind the form`}
              onClick={() =>
                work(() => putDown(project, documents, "Form", { kind: "view", sheet: current.id, view: view.id }))
              }
            >
              {tr("To Form")}
            </Button>
            <Button
              weight="quiet"
              label={tr`Remove the frame of ${view.name}`}
              onClick={() => edit({ kind: "remove_view", id: view.id })}
            >
              {tr("Remove")}
            </Button>
          </div>
        </div>
      ))}
    </Card>
  );
}
