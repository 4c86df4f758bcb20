import { type Command, keyLabel, keyOf, run } from "./commands";
import { useSettings } from "./store";

/** Tools as words, grouped by intention; options open under the active word. */
export function ToolList(props: { commands: Command[] }) {
  const shown = props.commands.filter((command) => !command.hidden);
  const { folded, change } = useSettings();
  const fold = (group: string) =>
    change({ folded: folded.includes(group) ? folded.filter((other) => other !== group) : [...folded, group] });
  const groups = [...new Set(shown.map((command) => command.group))];
  return (
    <nav
      aria-label="Tools"
      className="w-[13.6rem] shrink-0 overflow-y-auto border-vein border-x bg-paper pt-3 max-[900px]:w-[9rem]"
    >
      {groups.map((group) => (
        <section key={group} className="mb-3">
          <h2 className="mx-4 mb-0.5 text-[0.86rem] text-quiet">
            <button
              type="button"
              aria-label={`${group}${folded.includes(group) ? " …" : ""} tools`}
              aria-expanded={!folded.includes(group)}
              onClick={() => fold(group)}
              className="min-h-[24px] w-full text-left hover:text-ink"
            >
              {group}
              {folded.includes(group) ? " …" : ""}
            </button>
          </h2>
          {shown
            .filter((command) => command.group === group && (command.active || !folded.includes(group)))
            .map((command) => (
              <Tool key={command.id} command={command} />
            ))}
        </section>
      ))}
    </nav>
  );
}

function Tool({ command }: { command: Command }) {
  const key = keyOf(command);
  return (
    <div className={`border-l-[3px] ${command.active ? "border-act" : "border-transparent"}`}>
      <button
        type="button"
        aria-pressed={command.active ?? undefined}
        onClick={() => run(command)}
        className={`flex w-full items-baseline justify-between py-[0.22rem] pr-4 pl-[0.95rem] text-left ${command.active ? "font-semibold text-act" : "hover:text-act"}`}
      >
        <span>{command.name}</span>
        <span className="font-medium text-[0.86rem] text-quiet">{command.note ?? (key ? keyLabel(key) : "")}</span>
      </button>
      {command.active && command.options && <div className="pr-4 pb-1.5 pl-[1.2rem]">{command.options}</div>}
    </div>
  );
}
