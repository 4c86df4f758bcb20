import { Button } from "../ui/controls";
import type { MenuItem } from "../ui/Menu";
import { OneStop } from "../ui/OneStop";
import { useCanvasMenu } from "./CanvasMenu";

/** One thing that can be done with a row of a list. */
export interface Doing extends MenuItem {
  pressed?: boolean;
}

/** What can be done with something, as quiet words beside it. */
export function Doings(props: { doings: Doing[]; className?: string }) {
  return (
    <OneStop className={props.className ?? "-mx-2.5 flex flex-wrap"}>
      <DoingWords doings={props.doings} />
    </OneStop>
  );
}

/** The words alone, where the list they stand in is one stop already. */
export function DoingWords(props: { doings: Doing[] }) {
  return props.doings.map(({ name, label, run, cannot, pressed }) => (
    <Button key={name} weight="quiet" label={label} pressed={pressed} disabled={!!cannot} onClick={run}>
      {name}
    </Button>
  ));
}

/** Opens the same as a menu at the hand: by the other button, a long press or the menu key. `pick` says what it is about. */
export function menuOf(doings: Doing[], pick?: () => void) {
  return {
    onContextMenu: (event: React.MouseEvent) => {
      event.preventDefault();
      event.stopPropagation();
      pick?.();
      const box = event.currentTarget.getBoundingClientRect();
      // the menu key has no place of its own
      const at =
        event.clientX || event.clientY ? { x: event.clientX, y: event.clientY } : { x: box.left + 12, y: box.bottom };
      useCanvasMenu.setState({ at, doings });
    },
  };
}
