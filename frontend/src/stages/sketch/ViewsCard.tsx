import { useShallow } from "zustand/react/shallow";
import type { Shapes } from "../../api/client";
import { type Edit, useProject, useWork } from "../../api/queries";
import { carries, putDown } from "../../bench/carrying";
import { copy } from "../../bench/copying";
import { type Doing, Doings, menuOf } from "../../bench/Doings";
import { Card, TextField } from "../../ui/controls";
import { Menu } from "../../ui/Menu";
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
  const { copying, fainting, set, take } = useSketch(
    useShallow(({ copying, fainting, set, take }) => ({ copying, fainting, set, take })),
  );
  const work = useWork();
  const documents = useProject(project).data?.documents ?? [];
  const doingsOf = (view: Shapes["View"]): Doing[] => [
    {
      name: view.struck ? tr("Take up again") : tr("Strike out"),
      label: view.struck ? tr`Take up again ${view.name}` : tr`Strike out ${view.name}`,
      run: () => edit({ kind: "strike_out", id: view.id, struck: !view.struck }),
    },
    {
      name: tr("Copy"),
      label: tr`Copy ${view.name} to another place`,
      pressed: copying === view.id,
      run: () => {
        set({ copying: view.id });
        take("put copy");
      },
    },
    {
      name: tr("Faint"),
      label: tr`Repeat ${view.name} faintly behind`,
      pressed: fainting === view.id,
      run: () => {
        set({ fainting: view.id });
        take("put faint");
      },
    },
    {
      name: tr("To Form"),
      label: tr`Stand ${view.name} behind the form`,
      run: () => work(() => putDown(project, documents, "Form", { kind: "view", sheet: current.id, view: view.id })),
    },
    {
      name: tr("Remove"),
      label: tr`Remove the frame of ${view.name}`,
      run: () => edit({ kind: "remove_view", id: view.id }),
    },
  ];
  const along = (view: Shapes["View"]): Doing => ({
    name: tr("Copy, to paste in another project"),
    run: () => copy(project, current.id, { what: "view", items: [view.id], said: tr`the view ${view.name}` }),
  });
  const others = sheets.filter((other) => other.id !== current.id);
  const toSheets = (view: Shapes["View"]): Doing[] =>
    others.map((other) => ({
      name: other.id,
      label: tr`Copy ${view.name} to ${other.name}`,
      run: () => onCopyView(view.id, other.id),
    }));
  return (
    <Card title={tr("Views")} aside={sheet.views.length ? "" : tr("none yet")}>
      {sheet.views.length === 0 && (
        <p className="text-quiet">{tr("Frame what belongs together, to pin it behind the form.")}</p>
      )}
      {sheet.views.map((view) => (
        <div
          key={view.id}
          {...carries({ kind: "view", sheet: current.id, view: view.id })}
          {...menuOf([...doingsOf(view), along(view), ...toSheets(view)])}
        >
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
          <div className="flex items-center justify-between">
            <Doings doings={doingsOf(view)} />
            {others.length > 0 && (
              <Menu label={tr`Copy ${view.name} to a sheet`} items={toSheets(view)}>
                {tr("to sheet…")}
              </Menu>
            )}
          </div>
        </div>
      ))}
    </Card>
  );
}
