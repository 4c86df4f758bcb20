import { DropdownMenu } from "radix-ui";
import { useEffect, useMemo, useRef } from "react";
import { create } from "zustand";
import { LINE, type MenuItem, MenuItems, MenuLine, SURFACE } from "../ui/Menu";
import { tr } from "../words/words";
import { type Command, keyLabel, keyOf, run, useCommands, wanted } from "./commands";

/** Lines of the menu, beside Undo and Redo. */
const MOST = 12;

/** Groups of what one does with what is picked; looking about and saving have their own places. */
const ELSEWHERE = new Set(["Look", "Take along", "Stages", "Bench", "Begin"]);

/** Where the menu at the hand is open, px of the window, and of what: of a row of a list, else of what is picked on the canvas. */
export const useCanvasMenu = create<{ at: { x: number; y: number } | null; doings: MenuItem[] | null }>(() => ({
  at: null,
  doings: null,
}));
const CLOSED = { at: null, doings: null };

/** At the hand: undo in words, and what can act on what is picked. */
export function CanvasMenu() {
  const { at, doings } = useCanvasMenu();
  const { stage, ledger } = useCommands();
  const anchor = useRef<HTMLButtonElement>(null);
  const items = useMemo(() => {
    const able = (command: Command) => !command.cannot && !command.active && !ELSEWHERE.has(command.group);
    const picked = stage.filter(
      (command) => able(command) && (!command.hidden || command.byEvent || command.id === "copy"),
    );
    return [...picked].sort((a, b) => wanted(b) - wanted(a)).slice(0, MOST);
  }, [stage]);
  useEffect(() => {
    if (at) anchor.current?.focus({ preventScroll: true });
  }, [at]);
  if (!at) return null;
  const line = (command: Command) => {
    const key = keyOf(command);
    return (
      <DropdownMenu.Item key={command.id} disabled={!!command.cannot} onSelect={() => run(command)} className={LINE}>
        <MenuLine item={{ name: command.name, run: command.run, key: key && keyLabel(key) }} />
      </DropdownMenu.Item>
    );
  };
  return (
    <DropdownMenu.Root open modal={false} onOpenChange={(open) => !open && useCanvasMenu.setState(CLOSED)}>
      <DropdownMenu.Trigger
        ref={anchor}
        aria-label={tr("Here")}
        className="fixed h-px w-px"
        style={{ left: at.x, top: at.y }}
      />
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={2}
          collisionPadding={8}
          className={SURFACE}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            document.querySelector<HTMLElement>("main")?.focus();
          }}
        >
          {doings && <MenuItems items={doings} />}
          {doings && <DropdownMenu.Separator className="my-1 h-px bg-vein" />}
          {ledger.map(line)}
          {!doings && items.length > 0 && <DropdownMenu.Separator className="my-1 h-px bg-vein" />}
          {!doings && items.map(line)}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
