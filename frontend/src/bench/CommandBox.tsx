import { useId, useRef, useState } from "react";
import { Panel } from "../ui/Panel";
import { tr } from "../words/words";
import { answersTo, type Command, keyLabel, keyOf, run, useCommands } from "./commands";

/** Every command by name, meaning and key; recent ones first. */
export function CommandBox(props: { onClose: () => void }) {
  const { stage, ledger, bench, recent } = useCommands();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const list = useId();
  const chosen = useRef<HTMLDivElement>(null);
  const rank = (command: Command) => {
    const place = recent.indexOf(command.id);
    return place < 0 ? recent.length : place;
  };
  const found = [...stage, ...ledger, ...bench]
    .filter((command) => command.id !== "commands")
    .map((command) => ({ command, worth: answersTo(command, text) }))
    .filter(({ worth }) => worth > 0)
    .sort((a, b) => b.worth - a.worth || rank(a.command) - rank(b.command) || able(b.command) - able(a.command))
    .map(({ command }) => command);
  const choose = (command: Command | undefined) => {
    if (!command) return;
    props.onClose();
    run(command);
  };
  const step = (to: number) => {
    setAt(Math.max(0, Math.min(to, found.length - 1)));
    requestAnimationFrame(() => chosen.current?.scrollIntoView({ block: "nearest" }));
  };
  return (
    <Panel title={tr("Commands")} onClose={props.onClose}>
      <input
        role="combobox"
        aria-label={tr("Find a command")}
        aria-expanded
        aria-controls={list}
        aria-activedescendant={found[at] ? `${list}-${found[at].id}` : undefined}
        placeholder={tr("What would you like to do? “round the edge”, “lighter”, “save”")}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") step(at + 1);
          else if (event.key === "ArrowUp") step(at - 1);
          else if (event.key === "PageDown") step(at + 10);
          else if (event.key === "PageUp") step(at - 10);
          else if (event.key === "Enter") choose(found[at]);
          else return;
          event.preventDefault();
        }}
        className="mb-3 w-full border border-quiet bg-raised px-3 py-2 outline-none focus:border-act"
      />
      <div id={list} role="listbox" aria-label={tr("Commands found")} className="max-h-[44vh] overflow-y-auto">
        {found.map((command, index) => {
          const key = keyOf(command);
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: keys are heard by the field above, as in every combobox
            // biome-ignore lint/a11y/useFocusableInteractive: the field above keeps the focus
            <div
              key={command.id}
              id={`${list}-${command.id}`}
              ref={index === at ? chosen : undefined}
              role="option"
              aria-selected={index === at}
              onClick={() => choose(command)}
              onPointerMove={() => setAt(index)}
              className={`flex cursor-pointer justify-between gap-4 border-l-[3px] px-3 py-1 ${index === at ? "border-act bg-raised" : "border-transparent"}`}
            >
              <span className="min-w-0">
                <span className={command.cannot ? "text-quiet" : index === at ? "font-semibold" : ""}>
                  {command.name}
                </span>{" "}
                <span className="text-quiet">{tr(command.group)}</span>
                {(command.cannot || (index === at && command.does)) && (
                  <span className="block text-[0.92rem] text-quiet">{command.cannot ?? command.does}</span>
                )}
              </span>
              <span className="shrink-0 text-quiet">{key ? keyLabel(key) : ""}</span>
            </div>
          );
        })}
      </div>
      {found.length === 0 && (
        <p className="px-3 py-1 text-quiet">{tr("Nothing here does that. Try another word, or another stage.")}</p>
      )}
    </Panel>
  );
}

const able = (command: Command) => (command.cannot ? 0 : 1);
