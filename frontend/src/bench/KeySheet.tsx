import { Panel } from "../ui/Panel";
import { keyLabel, keyOf, useCommands } from "./commands";

const HANDS = [
  ["Draw, pick, drag", "pen or left button"],
  ["Zoom to the pointer", "wheel"],
  ["Shift the view", "space and drag, or right button"],
  ["Turn the form’s view", "drag beside the form"],
  ["Box pick", "Shift and drag"],
  ["Add to the pick", "Shift and click"],
];

/** Every key of the present stage. */
export function KeySheet(props: { open: boolean; onClose: () => void }) {
  const { stage, ledger, bench } = useCommands();
  const keyed = [...stage, ...ledger, ...bench].filter((command) => keyOf(command));
  const groups = [...new Set(keyed.map((command) => command.group))];
  return (
    <Panel title="Keys" open={props.open} onClose={props.onClose} wide>
      <div className="grid grid-cols-3 gap-x-8 gap-y-4">
        {groups.map((group) => (
          <section key={group}>
            <h3 className="mb-1 text-quiet">{group}</h3>
            {keyed
              .filter((command) => command.group === group)
              .map((command) => (
                <p key={command.id} className="flex justify-between gap-2">
                  <span>{command.name}</span>
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
