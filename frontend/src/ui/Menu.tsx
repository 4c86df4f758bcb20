import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

export interface MenuItem {
  name: string;
  /** What it is called where nothing beside it tells what it is done with. */
  label?: string;
  run: () => unknown;
  /** Why it cannot be done now. */
  cannot?: string;
  key?: string;
  wrong?: boolean;
}

/** A line of any menu. */
export const LINE =
  "flex min-h-[28px] cursor-pointer items-center justify-between gap-6 px-3 py-1 outline-none border-l-[3px] border-transparent data-[highlighted]:border-act data-[highlighted]:bg-raised data-[disabled]:cursor-default data-[disabled]:text-quiet";
/** What a menu lies on. */
export const SURFACE = "z-50 min-w-[11rem] max-w-[20rem] border border-quiet bg-paper py-1 text-ink";

/** One line of a menu. */
export function MenuLine({ item }: { item: MenuItem }) {
  return (
    <>
      <span className={item.wrong ? "text-wrong" : ""}>
        {item.label ?? item.name}
        {item.cannot && <span className="block text-[0.86rem] text-quiet">{item.cannot}</span>}
      </span>
      {item.key && <span className="shrink-0 whitespace-nowrap text-quiet">{item.key}</span>}
    </>
  );
}

/** Things to do, as the lines of a menu. */
export function MenuItems({ items }: { items: MenuItem[] }) {
  return items.map((item) => (
    <DropdownMenu.Item key={item.name} disabled={!!item.cannot} onSelect={() => void item.run()} className={LINE}>
      <MenuLine item={item} />
    </DropdownMenu.Item>
  ));
}

/** What else can be done with a thing, behind its own button. */
export function Menu(props: { label: string; items: MenuItem[]; children?: ReactNode; className?: string }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger aria-label={props.label} className={`text-quiet hover:text-ink ${props.className ?? ""}`}>
        {props.children ?? "…"}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className={SURFACE}>
          <MenuItems items={props.items} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
