import { useState } from "react";
import { Button, Choice, Row, Switch, TextField } from "../ui/controls";
import { NumberField } from "../ui/numbers/NumberField";
import { Panel } from "../ui/Panel";
import { language, languages, speak, tr } from "../words/words";
import { keyLabel, keyOf, useCommands } from "./commands";
import { pressed } from "./keys";
import { useSettings } from "./store";

/** Interface size, hand, motion, name, keys. */
export function SettingsPanel(props: { onClose: () => void }) {
  const settings = useSettings();
  const { stage, ledger, bench } = useCommands();
  const [asking, setAsking] = useState<string | null>(null);
  const [clash, setClash] = useState("");
  const keyed = [...stage, ...ledger, ...bench].filter((command) => keyOf(command));
  return (
    <Panel title={tr("Settings")} onClose={props.onClose}>
      <div className="space-y-2.5">
        <NumberField
          label={tr("Interface size")}
          value={settings.size}
          min={80}
          max={200}
          step={5}
          unit="%"
          onChange={(size) => settings.change({ size })}
        />
        <Row label={tr("Tools on the side of the")}>
          <Choice
            label={tr("Hand")}
            options={["right", "left"] as const}
            value={settings.hand}
            onChange={(hand) => settings.change({ hand })}
          />
        </Row>
        <Switch label={tr("Reduced motion")} on={settings.still} onChange={(still) => settings.change({ still })} />
        {languages.length > 1 && (
          <label className="flex min-h-6 items-center justify-between gap-3 text-quiet">
            {tr("Language")}
            <select
              aria-label={tr("Language")}
              value={language()}
              onChange={(event) => speak(event.target.value)}
              className="border border-vein bg-raised text-ink"
            >
              {languages.map((name) => (
                <option key={name} value={name}>
                  {new Intl.DisplayNames([name], { type: "language" }).of(name)}
                </option>
              ))}
            </select>
          </label>
        )}
        <Row label={tr("Lengths in")}>
          <Choice
            label={tr("Lengths in")}
            options={["mm", "inch"] as const}
            value={settings.unit}
            onChange={(unit) => settings.change({ unit })}
          />
        </Row>
        <Row label={tr("Decimal sign")}>
          <Choice
            label={tr("Decimal sign")}
            options={["browser", "point", "comma"] as const}
            value={settings.sign}
            onChange={(sign) => settings.change({ sign })}
          />
        </Row>
        <TextField
          label={tr("Your name on comments")}
          value={settings.who}
          onChange={(who) => settings.change({ who })}
        />
        <h3 className="pt-3 font-semibold">{tr("Keys")}</h3>
        <p className="text-quiet">{tr("Choose a line, then press the new key.")}</p>
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
                className="flex w-full items-center justify-between py-0.5 text-left hover:text-act"
              >
                <span>{command.name}</span>
                <span className="text-quiet">
                  {asking === command.id ? tr("press a key") : keyLabel(keyOf(command)!)}
                </span>
              </button>
            </li>
          ))}
        </ul>
        <Button weight="quiet" onClick={() => settings.change({ keys: {} })}>
          {tr("Use the keys Hollow Marble came with")}
        </Button>
      </div>
    </Panel>
  );
}
