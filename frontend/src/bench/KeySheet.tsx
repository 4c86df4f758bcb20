import { Button } from "../ui/controls";
import { Panel } from "../ui/Panel";
import { tr } from "../words/words";
import { keyLabel, keyOf, useCommands } from "./commands";
import { useBench } from "./store";

const HANDS = [
  [tr("Draw, pick, drag"), tr("pen, left button or one finger")],
  [tr("Zoom to the pointer"), tr("wheel, or two fingers")],
  [tr("Shift the view"), tr("space and drag, right button, or two fingers")],
  [tr("Turn the view"), tr("drag beside the form, or two fingers")],
  [tr("What can be done here"), tr("right click, a pen’s side button, or a long press")],
  [tr("Lift instead of draw"), tr("the other end of the pen")],
  [tr("Box pick"), tr("Shift and drag")],
  [tr("Add to the pick"), tr("Shift and click")],
  [tr("Change a number"), tr("drag its name, turn the wheel in it, arrows")],
  [tr("Finer, coarser steps"), tr("Alt, Shift with any of these")],
];

/** Every key of the present stage. */
export function KeySheet(props: { onClose: () => void }) {
  const { stage, ledger, bench } = useCommands();
  const name = useBench((bench) => bench.stage);
  const keyed = [...stage, ...ledger, ...bench].filter((command) => keyOf(command));
  const groups = [...new Set(keyed.map((command) => command.group))];
  return (
    <Panel title={tr`Keys in ${tr(name)}`} onClose={props.onClose} wide="most">
      <p className="mb-4 flex items-baseline justify-between gap-4 text-quiet print:hidden">
        {tr("Rest on a tool’s name to see what it does. Keys can be changed in Settings.")}
        <Button onClick={() => window.print()}>{tr("Print this page")}</Button>
      </p>
      <div className="grid grid-cols-3 gap-x-8 gap-y-4 max-[760px]:grid-cols-1">
        {groups.map((group) => (
          <section key={group}>
            <h3 className="mb-1 text-quiet">{tr(group)}</h3>
            {keyed
              .filter((command) => command.group === group)
              .map((command) => (
                <p key={command.id} className="flex justify-between gap-2">
                  <span>{command.name.split(":")[0]}</span>
                  <kbd className="font-medium font-sans text-quiet">{keyLabel(keyOf(command)!)}</kbd>
                </p>
              ))}
          </section>
        ))}
        <section className="col-span-2">
          <h3 className="mb-1 text-quiet">{tr("Hands")}</h3>
          {HANDS.map(([what, how]) => (
            <p key={what} className="flex justify-between gap-2">
              <span>{what}</span>
              <span className="text-quiet">{how}</span>
            </p>
          ))}
        </section>
      </div>
    </Panel>
  );
}
