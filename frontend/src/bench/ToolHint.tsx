import { Tooltip } from "radix-ui";
import type { ReactElement, ReactNode } from "react";
import { type Command, keyLabel, keyOf } from "./commands";
import { Motion } from "./Motion";

/** Milliseconds one rests on a name before what it does is shown. */
const RESTS = 700;

/** What a tool does, in one line and a small moving drawing, beside its name when one rests on it. */
export function ToolHint(props: { command: Command; children: ReactElement }) {
  const { command } = props;
  if (!command.does) return props.children;
  const key = keyOf(command);
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{props.children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side="right"
          align="start"
          sideOffset={6}
          collisionPadding={8}
          className="pointer-events-none z-40 w-[17rem] border border-quiet bg-paper p-3 text-ink"
        >
          <Motion of={command.id} />
          <p>
            {command.does} {key && <span className="whitespace-nowrap text-quiet">{keyLabel(key)}</span>}
          </p>
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

/** Around all that have hints: once one is shown the next comes sooner. */
export function ToolHints(props: { children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={RESTS} skipDelayDuration={200} disableHoverableContent>
      {props.children}
    </Tooltip.Provider>
  );
}
