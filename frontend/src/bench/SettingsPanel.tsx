import { useState } from "react";
import { Button, Choice, Row, Switch, TextField } from "../ui/controls";
import { NumberField } from "../ui/numbers/NumberField";
import { Panel } from "../ui/Panel";
import { keyLabel, keyOf, useCommands } from "./commands";
import { pressed } from "./keys";
import { useSettings } from "./store";

/** Interface size, hand, motion, name, keys. */
export function SettingsPanel(props: { open: boolean; onClose: () => void }) {
  const settings = useSettings();
  const { stage, ledger, bench } = useCommands();
  const [asking, setAsking] = useState<string | null>(null);
  const [clash, setClash] = useState("");
  const keyed = [...stage, ...ledger, ...bench].filter((command) => keyOf(command));
  return (
    <Panel title="Settings" open={props.open} onClose={props.onClose}>
      <div className="space-y-2.5">
        <NumberField
          label="Interface size"
          value={settings.size}
          min={80}
          max={200}
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
        <Switch label="Reduced motion" on={settings.still} onChange={(still) => settings.change({ still })} />
        <Row label="Lengths in">
          <Choice
            label="Lengths in"
            options={["mm", "inch"] as const}
            value={settings.unit}
            onChange={(unit) => settings.change({ unit })}
          />
        </Row>
        <Row label="Decimal sign">
          <Choice
            label="Decimal sign"
            options={["browser", "point", "comma"] as const}
            value={settings.sign}
            onChange={(sign) => settings.change({ sign })}
          />
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
