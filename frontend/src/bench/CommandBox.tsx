import { useEffect, useState } from "react";
import { Panel } from "../ui/Panel";
import { type Command, keyLabel, keyOf, run, useCommands } from "./commands";

/** Every command by name with its key; recent ones first. */
export function CommandBox(props: { open: boolean; onClose: () => void }) {
  const { stage, bench, recent } = useCommands();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  useEffect(() => {
    if (props.open) {
      setText("");
      setAt(0);
    }
  }, [props.open]);
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = (command: Command) => {
    const place = recent.indexOf(command.id);
    return place < 0 ? recent.length : place;
  };
  const found = [...stage, ...bench]
    .filter((command) => command.id !== "commands")
    .filter((command) => wanted.every((word) => `${command.group} ${command.name}`.toLowerCase().includes(word)))
    .sort((a, b) => rank(a) - rank(b));
  const choose = (command: Command | undefined) => {
    if (!command) return;
    props.onClose();
    run(command);
  };
  return (
    <Panel title="Commands" open={props.open} onClose={props.onClose}>
      <input
        aria-label="Find a command"
        placeholder="Type part of its name"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setAt(Math.min(at + 1, found.length - 1));
          else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else if (event.key === "Enter") choose(found[at]);
          else return;
          event.preventDefault();
        }}
        className="mb-3 w-full border border-vein bg-raised px-3 py-2 outline-none focus:border-act"
      />
      <ul aria-label="Commands found" className="max-h-[44vh] overflow-y-auto">
        {found.map((command, index) => {
          const key = keyOf(command);
          return (
            <li key={command.id}>
              <button
                type="button"
                onClick={() => choose(command)}
                onPointerMove={() => setAt(index)}
                className={`flex w-full justify-between px-3 py-1 text-left ${index === at ? "bg-raised text-act" : ""}`}
              >
                <span>
                  {command.name} <span className="text-quiet">{command.group}</span>
                </span>
                <span className="text-quiet">{key ? keyLabel(key) : ""}</span>
              </button>
            </li>
          );
        })}
        {found.length === 0 && <li className="px-3 py-1 text-quiet">Nothing by that name in this stage.</li>}
      </ul>
    </Panel>
  );
}
