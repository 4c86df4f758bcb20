import { Button } from "../ui/controls";
import { Panel } from "../ui/Panel";
import { keyLabel, keyOf, useCommands } from "./commands";
import { useBench } from "./store";

const HANDS = [
  ["Draw, pick, drag", "pen, left button or one finger"],
  ["Zoom to the pointer", "wheel, or two fingers"],
  ["Shift the view", "space and drag, right button, or two fingers"],
  ["Turn the view", "drag beside the form, or two fingers"],
  ["What can be done here", "right click, a pen’s side button, or a long press"],
  ["Lift instead of draw", "the other end of the pen"],
  ["Box pick", "Shift and drag"],
  ["Add to the pick", "Shift and click"],
  ["Change a number", "drag its name, turn the wheel in it, arrows"],
  ["Finer, coarser steps", "Alt, Shift with any of these"],
];

/** Every key of the present stage. */
export function KeySheet(props: { open: boolean; onClose: () => void }) {
  const { stage, ledger, bench } = useCommands();
  const name = useBench((bench) => bench.stage);
  const keyed = [...stage, ...ledger, ...bench].filter((command) => keyOf(command));
  const groups = [...new Set(keyed.map((command) => command.group))];
  return (
    <Panel title={`Keys in ${name}`} open={props.open} onClose={props.onClose} wide="most">
      <p className="mb-4 flex items-baseline justify-between gap-4 text-quiet print:hidden">
        Rest on a tool’s name to see what it does. Keys can be changed in Settings.
        <Button onClick={() => window.print()}>Print this page</Button>
      </p>
      <div className="grid grid-cols-3 gap-x-8 gap-y-4 max-[760px]:grid-cols-1">
        {groups.map((group) => (
          <section key={group}>
            <h3 className="mb-1 text-quiet">{group}</h3>
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
          <h3 className="mb-1 text-quiet">Hands</h3>
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
