import { type ReactNode, useLayoutEffect, useRef } from "react";
import { useNarrower } from "../ui/useMedia";
import { tr } from "../words/words";
import { useCanvasMenu } from "./CanvasMenu";
import { type Command, useCommands } from "./commands";
import { Edge } from "./Edge";
import { LedgerLine } from "./LedgerLine";
import { useBench, useSettings } from "./store";
import { ToolList } from "./ToolList";

/** Rem of a window in which panels lie over the canvas instead of beside it. */
const NARROW = 69;
/** Rem. */
const LEAST = { tools: 9, inspector: 13 };
const MOST = { tools: 26, inspector: 34 };

type Panel = "tools" | "inspector";

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
  const widths = useSettings((settings) => settings.widths);
  const bare = useBench((bench) => bench.bare);
  const narrow = useNarrower(NARROW);
  const setStage = useCommands((registry) => registry.setStage);
  // keys must never meet stale commands, nor find none because a stage that is gone took away its successor's:
  // layout effects of what goes are undone before those of what comes are done
  useLayoutEffect(() => {
    setStage(props.commands);
    return () => setStage([]);
  }, [props.commands, setStage]);
  const content: Record<Panel, ReactNode> = {
    tools: <ToolList commands={props.commands} />,
    inspector: (
      <aside aria-label={tr("Inspector")} className="h-full overflow-y-auto bg-paper [contain:layout_style]">
        {props.inspector || (
          <p role="status" className="coming px-4 py-3 text-quiet">
            {tr("Coming")}
          </p>
        )}
      </aside>
    ),
  };
  const sides: readonly [Panel, Panel] = hand === "right" ? ["tools", "inspector"] : ["inspector", "tools"];
  const beside = bare === "nothing" && !narrow;
  const panel = (name: Panel, side: "left" | "right") => {
    if (beside) return <Beside name={name} side={side} content={content[name]} />;
    if (bare === "all") return null;
    const word = name === "tools" ? tr("Tools") : tr("Numbers");
    return (
      <Edge side={side} name={word} width={Math.max(widths[name], LEAST[name])} reaches={bare === "panels"}>
        {content[name]}
      </Edge>
    );
  };
  const ledger = <LedgerLine project={props.project} document={props.document} foot={props.foot} />;
  return (
    <div className="relative flex h-full flex-col">
      <div className="relative flex min-h-0 flex-1">
        {beside && panel(sides[0], "left")}
        <main
          tabIndex={-1}
          onContextMenu={(event) => {
            if (event.defaultPrevented) return; // a canvas that tells a drag from a press opens it itself
            event.preventDefault();
            useCanvasMenu.setState({ at: { x: event.clientX, y: event.clientY }, doings: null });
          }}
          className="relative min-w-0 flex-1 overflow-hidden bg-canvas outline-none"
        >
          {props.canvas}
        </main>
        {beside && panel(sides[1], "right")}
        {!beside && panel(sides[0], "left")}
        {!beside && panel(sides[1], "right")}
      </div>
      {bare === "nothing" && ledger}
      {bare === "panels" && (
        <Edge side="bottom" name={tr("Ledger")} reaches>
          {ledger}
        </Edge>
      )}
    </div>
  );
}

/** A panel beside the canvas, whose inner edge can be dragged. */
function Beside(props: { name: Panel; side: "left" | "right"; content: ReactNode }) {
  const { name, side } = props;
  const { widths, change } = useSettings();
  const box = useRef<HTMLDivElement>(null);
  const set = (rem: number) =>
    change({ widths: { ...widths, [name]: Math.min(MOST[name], Math.max(LEAST[name], rem)) } });
  const drag = (event: React.PointerEvent) => {
    event.preventDefault();
    const { left, right } = box.current!.getBoundingClientRect();
    const rem = Number.parseFloat(getComputedStyle(document.documentElement).fontSize);
    const wires = new AbortController();
    const move = (to: PointerEvent) => set((side === "left" ? to.clientX - left : right - to.clientX) / rem);
    window.addEventListener("pointermove", move, { signal: wires.signal });
    for (const ends of ["pointerup", "pointercancel"])
      window.addEventListener(ends, () => wires.abort(), { signal: wires.signal });
  };
  return (
    <div
      ref={box}
      style={{ width: `${widths[name]}rem` }}
      className={`relative shrink-0 border-vein ${side === "left" ? "border-r" : "border-l"}`}
    >
      {props.content}
      <div
        role="separator"
        tabIndex={0}
        aria-label={name === "tools" ? tr("Width of the tool list") : tr("Width of the inspector")}
        aria-orientation="vertical"
        aria-valuenow={Math.round(widths[name] * 10) / 10}
        aria-valuemin={LEAST[name]}
        aria-valuemax={MOST[name]}
        onPointerDown={drag}
        onKeyDown={(event) => {
          const way = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
          if (!way) return;
          event.preventDefault();
          set(widths[name] + (side === "left" ? way : -way));
        }}
        className={`absolute inset-y-0 z-10 w-1.5 cursor-col-resize touch-none hover:bg-vein focus-visible:bg-act ${side === "left" ? "-right-[3px]" : "-left-[3px]"}`}
      />
    </div>
  );
}
