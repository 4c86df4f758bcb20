import { Switch } from "radix-ui";
import { useState } from "react";
import { Button, Choice, NumberField, Row, TextField } from "../ui/controls";
import { Panel } from "../ui/Panel";
import { keyLabel, keyOf, useCommands } from "./commands";
import { pressed } from "./keys";
import { useSettings } from "./store";

/** Interface size, hand, motion, name, keys. */
export function SettingsPanel(props: { open: boolean; onClose: () => void }) {
  const settings = useSettings();
  const { stage, bench } = useCommands();
  const [asking, setAsking] = useState<string | null>(null);
  const [clash, setClash] = useState("");
  const keyed = [...stage, ...bench].filter((command) => keyOf(command));
  return (
    <Panel title="Settings" open={props.open} onClose={props.onClose}>
      <div className="space-y-2.5">
        <NumberField
          label="Interface size"
          value={settings.size}
          min={80}
          max={150}
          step={5}
          unit="%"
          onChange={(size) => settings.change({ size })}
        />
        <Row label="Tools on the side of the">
          <Choice
            label="Hand"
            options={["right", "left"] as const}
            value={settings.hand}
            onChange={(hand) => settings.change({ hand })}
          />
        </Row>
        <Row label="Reduced motion">
          <Switch.Root
            aria-label="Reduced motion"
            checked={settings.still}
            onCheckedChange={(still) => settings.change({ still })}
            className="h-5 w-9 border border-vein bg-raised p-px data-[state=checked]:border-act data-[state=checked]:bg-act"
          >
            <Switch.Thumb className="block h-4 w-4 bg-quiet data-[state=checked]:translate-x-4 data-[state=checked]:bg-paper" />
          </Switch.Root>
        </Row>
        <TextField label="Your name on comments" value={settings.who} onChange={(who) => settings.change({ who })} />
        <h3 className="pt-3 font-semibold">Keys</h3>
        <p className="text-quiet">Choose a line, then press the new key.</p>
        {clash && <p className="text-wrong">{clash}</p>}
        <ul className="max-h-[24vh] overflow-y-auto">
          {keyed.map((command) => (
            <li key={command.id}>
              <button
                type="button"
                onClick={() => setAsking(command.id)}
                onKeyDown={(event) => {
                  if (asking !== command.id) return;
                  event.preventDefault();
                  event.stopPropagation();
                  const name = pressed(event.nativeEvent);
                  if (["shift", "control", "alt", "meta"].includes(name.split("+").pop()!)) return;
                  setAsking(null);
                  if (name === "escape") return;
                  const other = keyed.find((c) => c.id !== command.id && keyOf(c) === name);
                  setClash(other ? `${keyLabel(name)} is the key of “${other.name}”. Choose another one.` : "");
                  if (!other) settings.change({ keys: { ...settings.keys, [command.id]: name } });
                }}
                className="flex w-full justify-between py-0.5 text-left hover:text-act"
              >
                <span>{command.name}</span>
                <span className="text-quiet">{asking === command.id ? "press a key" : keyLabel(keyOf(command)!)}</span>
              </button>
            </li>
          ))}
        </ul>
        <Button weight="quiet" onClick={() => settings.change({ keys: {} })}>
          Use the keys Hollow Marble came with
        </Button>
      </div>
    </Panel>
  );
}
