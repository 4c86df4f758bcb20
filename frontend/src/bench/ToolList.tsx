import { Toolbar } from "radix-ui";
import { memo, useEffect, useMemo, useRef, useState } from "react";
import { tr } from "../words/words";
import { type Command, keyLabel, keyOf, run, useCommands, wanted } from "./commands";
import { ToolHint, ToolHints } from "./ToolHint";

/** Px of a line of the list at the interface's usual size, in rem, and of a heading. */
const LINE_REM = 1.9;
const HEADING_REM = 2.2;

/**
 * Tools as words. The groups stand in an index that keeps its place; below it the tools of one group that can act now; the rest of
 * the group is one fold away and says why it cannot act. What is left of the height shows what is used most of the other groups.
 * The foot belongs to the tool in hand: its options open there, so that no line moves when another tool is taken up.
 */
export function ToolList(props: { commands: Command[] }) {
  const listed = props.commands.filter((command) => !command.hidden);
  const groups = [...new Set(listed.map((command) => command.group))];
  const [chosen, setChosen] = useState<string | null>(null);
  // the order, and the group one begins with, are those of when one came: nothing changes its place while one works
  const signature = listed.map(({ likely }) => likely ?? 0).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another stage, or its first part, is a new beginning
  const [order, beginning] = useMemo(
    () => [[...listed].sort((a, b) => wanted(b) - wanted(a)).map(({ id }) => id), first(listed)] as const,
    [signature],
  );
  const open = groups.find((group) => group === chosen) ?? groups.find((group) => group === beginning) ?? groups[0];
  const [unfolded, setUnfolded] = useState(false);
  const show = (group: string) => {
    setChosen(group);
    setUnfolded(false);
  };

  const room = useRef<HTMLDivElement>(null);
  const lines = useLines(room);
  const atHand = useMemo(() => {
    const rank = new Map(order.map((id, index) => [id, index]));
    return listed
      .filter((command) => command.group !== open && !command.cannot && !command.seldom && wanted(command) > 0)
      .sort((a, b) => (rank.get(a.id) ?? order.length) - (rank.get(b.id) ?? order.length))
      .slice(0, lines);
  }, [listed, open, order, lines]);

  const inHand = listed.filter((command) => command.active && command.options && !command.open);
  const newest = inHand.at(-1);
  /** The tool in hand where it has nothing to be set. */
  const taken = listed.findLast((command) => command.active && !command.cannot);
  const seen = useRef(newest?.id);
  const hand = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!newest || seen.current === newest.id) return;
    seen.current = newest.id;
    // the word of what one has just taken up is in view, however one took it up
    if (newest.group !== open && !atHand.some(({ id }) => id === newest.id)) {
      setChosen(newest.group);
      setUnfolded(false);
    }
    requestAnimationFrame(() => hand.current?.scrollIntoView({ block: "nearest" }));
  }, [newest, open, atHand]);

  const own = listed.filter((command) => command.group === open);
  const able = own.filter((command) => command.active || (!command.cannot && !command.seldom));
  const rest = own.filter((command) => !able.includes(command));
  const line = (command: Command) => (
    <Tool key={command.id} command={command} ref={command === newest ? hand : undefined} />
  );
  return (
    <ToolHints>
      <nav aria-label={tr("Tools")} className="flex h-full flex-col bg-paper [contain:layout_style]">
        <Toolbar.Root orientation="vertical" loop={false} className="flex min-h-0 flex-1 flex-col">
          <div
            role="group"
            aria-label={tr("Groups of tools")}
            className="grid grid-cols-2 gap-x-1 border-vein border-b px-3 py-2"
          >
            {groups.map((group) => (
              <Toolbar.Button key={group} asChild>
                <button
                  type="button"
                  aria-expanded={group === open}
                  onClick={() => show(group)}
                  className={`min-h-[26px] truncate border-b-2 px-1 text-left ${group === open ? "border-act font-semibold text-act" : "border-transparent text-quiet hover:text-ink"}`}
                >
                  {tr(group)}
                </button>
              </Toolbar.Button>
            ))}
          </div>
          <section aria-label={open && tr(open)} className="max-h-[calc(100%-6rem)] shrink-0 overflow-y-auto py-2">
            {able.map(line)}
            {rest.length > 0 && (
              <Toolbar.Button asChild>
                <button
                  type="button"
                  aria-expanded={unfolded}
                  onClick={() => setUnfolded(!unfolded)}
                  className="min-h-[26px] w-full px-4 text-left text-quiet hover:text-ink"
                >
                  {unfolded ? tr("Fewer") : tr`${rest.length} more …`}
                </button>
              </Toolbar.Button>
            )}
            {unfolded && rest.map(line)}
          </section>
          <div ref={room} className="min-h-0 flex-1 overflow-y-auto border-vein border-t">
            {atHand.length > 0 && (
              <section aria-label={tr("At hand")} className="py-1">
                <h2 className="px-4 pt-1 text-[0.86rem] text-quiet">{tr("At hand")}</h2>
                {atHand.map(line)}
              </section>
            )}
          </div>
        </Toolbar.Root>
        <section
          aria-label={tr("In hand")}
          className="h-[clamp(7rem,30%,22rem)] shrink-0 overflow-y-auto border-vein border-t px-4 py-1.5"
        >
          {inHand.map((command, index) => (
            // not keyed by the tool: those of one kind share their fields, which need not be built anew
            <div key={index} className="pb-1.5">
              <h2 className="pb-1 font-semibold">{command.name}</h2>
              {command.options}
            </div>
          ))}
          {!newest && taken?.does && (
            <>
              <h2 className="pb-1 font-semibold">{taken.name}</h2>
              <p className="text-quiet">{taken.does}</p>
            </>
          )}
        </section>
      </nav>
    </ToolHints>
  );
}

/** The group one begins with: that of the tool in hand, else that of what is wanted most and can act. */
function first(commands: Command[]): string | undefined {
  const inHand = commands.find((command) => command.active && command.options);
  const able = commands.filter((command) => !command.cannot && command.likely);
  return (inHand ?? able.sort((a, b) => (b.likely ?? 0) - (a.likely ?? 0))[0])?.group;
}

/** How many lines fit into what is left of the list's height. */
function useLines(room: React.RefObject<HTMLDivElement | null>): number {
  const [lines, setLines] = useState(0);
  useEffect(() => {
    const rem = () => Number.parseFloat(getComputedStyle(document.documentElement).fontSize) || 13;
    const watch = new ResizeObserver(([entry]) => {
      const height = entry!.contentRect.height / rem();
      setLines(Math.max(0, Math.floor((height - HEADING_REM) / LINE_REM)));
    });
    watch.observe(room.current!);
    return () => watch.disconnect();
  }, [room]);
  return lines;
}

interface ToolProps {
  command: Command;
  ref?: React.Ref<HTMLDivElement>;
}

/** What a line shows of a command, but for options that always stand under it. */
const SHOWN = ["id", "name", "active", "cannot", "note", "key", "does", "open"] as const;

/** Commands are made anew whenever anything changes; a line is drawn anew only where it would look another. */
function looksAlike(before: ToolProps, now: ToolProps): boolean {
  const [a, b] = [before.command, now.command];
  return !a.open && !b.open && before.ref === now.ref && SHOWN.every((field) => a[field] === b[field]);
}

const Tool = memo(function Tool({ command, ref }: ToolProps) {
  const key = keyOf(command);
  /** What is done is what the command does now, not when its line was drawn last. */
  const now = () => useCommands.getState().stage.find(({ id }) => id === command.id) ?? command;
  return (
    <div ref={ref} className={`border-l-[3px] ${command.active ? "border-act" : "border-transparent"}`}>
      <ToolHint command={command}>
        <Toolbar.Button asChild>
          <button
            type="button"
            aria-pressed={command.active ?? undefined}
            data-tool={command.name}
            aria-description={command.cannot}
            aria-keyshortcuts={key ? key.replace("mod", "Control").split("+").map(upper).join("+") : undefined}
            onClick={() => run(now())}
            className={`flex w-full items-baseline justify-between gap-2 py-[0.22rem] pr-4 pl-[0.95rem] text-left ${command.active ? "font-semibold text-act" : command.cannot ? "text-quiet" : "hover:text-act"}`}
          >
            <span className="min-w-0">
              {command.name}
              {command.cannot && (
                <span aria-hidden="true" className="block text-[0.86rem] leading-snug">
                  {command.cannot}
                </span>
              )}
            </span>
            <span aria-hidden="true" className="shrink-0 font-medium text-[0.86rem] text-quiet">
              {command.note ?? (key ? keyLabel(key) : "")}
            </span>
          </button>
        </Toolbar.Button>
      </ToolHint>
      {command.open && <div className="pr-4 pb-1.5 pl-[1.2rem]">{command.options}</div>}
    </div>
  );
}, looksAlike);

/** A key as ARIA writes it. */
function upper(part: string): string {
  return part.length > 1 ? part.slice(0, 1).toUpperCase() + part.slice(1) : part.toUpperCase();
}
