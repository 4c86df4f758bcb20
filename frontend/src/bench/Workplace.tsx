import { type ReactNode, useLayoutEffect } from "react";
import { type Command, useCommands } from "./commands";
import { LedgerLine } from "./LedgerLine";
import { useBench, useSettings } from "./store";
import { ToolList } from "./ToolList";

/** One stage's place at the bench: tool list, canvas, inspector, ledger. */
export function Workplace(props: {
  project: string;
  /** The document whose ledger stands at the bottom. */
  document: string;
  commands: Command[];
  canvas: ReactNode;
  inspector: ReactNode;
  foot?: ReactNode;
}) {
  const hand = useSettings((settings) => settings.hand);
  const bare = useBench((bench) => bench.bare);
  const setStage = useCommands((registry) => registry.setStage);
  // keys must never meet stale commands, nor find none because a stage that is gone took away its successor's:
  // layout effects of what goes are undone before those of what comes are done
  useLayoutEffect(() => {
    setStage(props.commands);
    return () => setStage([]);
  }, [props.commands, setStage]);
  const tools = <ToolList commands={props.commands} />;
  const inspector = (
    <aside
      aria-label="Inspector"
      className="w-[20.6rem] shrink-0 overflow-y-auto border-vein border-x bg-paper max-[900px]:w-[15rem]"
    >
      {props.inspector}
    </aside>
  );
  return (
    <div className="flex h-full flex-col">
      <div className="flex min-h-0 flex-1">
        {!bare && (hand === "right" ? tools : inspector)}
        <main className="relative min-w-0 flex-1 overflow-hidden bg-canvas">{props.canvas}</main>
        {!bare && (hand === "right" ? inspector : tools)}
      </div>
      {!bare && <LedgerLine project={props.project} document={props.document} foot={props.foot} />}
    </div>
  );
}
