import { type ComponentProps, useLayoutEffect, useRef } from "react";

/** What takes part: whatever is pressed. Fields that are typed into keep their own stops, since arrows mean something in them. */
const STOPS = "button:not(:disabled), a[href], [role=button][tabindex]";

/**
 * A group of buttons that is one stop of Tab: arrows lead on through it, up and down by rows where it has any (`data-row`), and
 * Home and End to its ends. One comes back to where one left (ARIA Authoring Practices, "Managing focus within components").
 * What was pressed with a pointer leaves the arrows to the canvas, where they nudge what is picked.
 */
export function OneStop(props: ComponentProps<"div"> & { as?: "div" | "ul" | "ol" | "nav" | "section" }) {
  const { as: Element = "div" as const, ...rest } = props;
  const ref = useRef<HTMLElement>(null);
  const last = useRef<HTMLElement | null>(null);
  const pointed = useRef(false);
  useLayoutEffect(() => {
    const group = ref.current!;
    const settle = () => {
      const all = stopsIn(group);
      const one =
        all.find((stop) => stop === last.current) ??
        all.find((stop) => stop.matches("[aria-current]:not([aria-current=false]), [aria-pressed=true]")) ??
        all[0];
      for (const stop of all) stop.tabIndex = stop === one ? 0 : -1;
    };
    settle();
    const watch = new MutationObserver(settle);
    watch.observe(group, {
      childList: true,
      subtree: true,
      attributeFilter: ["disabled", "aria-current", "aria-pressed"],
    });
    return () => watch.disconnect();
  }, []);
  const lead = (event: React.KeyboardEvent) => {
    const all = stopsIn(ref.current!);
    const here = all.indexOf(event.target as HTMLElement);
    const to =
      here < 0 || pointed.current || event.ctrlKey || event.metaKey || event.altKey
        ? undefined
        : aim(all, here, event.key);
    if (!to) return;
    event.preventDefault();
    event.stopPropagation();
    to.focus();
  };
  const arrive = (event: React.FocusEvent) => {
    const target = event.target as HTMLElement;
    if (!target.matches(STOPS)) return;
    last.current = target;
    for (const stop of stopsIn(ref.current!)) stop.tabIndex = stop === target ? 0 : -1;
  };
  const leave = (event: React.FocusEvent) => {
    if (!event.currentTarget.contains(event.relatedTarget as Node | null)) pointed.current = false;
  };
  return (
    <Element
      {...(rest as object)}
      ref={ref as never}
      onKeyDown={lead}
      onFocus={arrive}
      onBlur={leave}
      onPointerDown={() => {
        pointed.current = true;
      }}
    />
  );
}

function stopsIn(group: HTMLElement): HTMLElement[] {
  return [...group.querySelectorAll<HTMLElement>(STOPS)];
}

/** Where a key leads from one of the stops. */
function aim(all: HTMLElement[], here: number, key: string): HTMLElement | undefined {
  if (key === "Home") return all[0];
  if (key === "End") return all.at(-1);
  if (key === "ArrowRight") return all[here + 1];
  if (key === "ArrowLeft") return all[here - 1];
  if (key !== "ArrowDown" && key !== "ArrowUp") return undefined;
  const row = all[here]!.closest("[data-row]");
  const step = key === "ArrowDown" ? 1 : -1;
  if (!row) return all[here + step];
  const rows = [...new Set(all.map((stop) => stop.closest("[data-row]")))];
  const there = rows[rows.indexOf(row) + step];
  const inRow = (of: Element | null | undefined) => all.filter((stop) => stop.closest("[data-row]") === of);
  const next = inRow(there);
  return next[Math.min(inRow(row).indexOf(all[here]!), next.length - 1)];
}
