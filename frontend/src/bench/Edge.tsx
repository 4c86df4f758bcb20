import { type ReactNode, useEffect, useRef, useState } from "react";

type Side = "left" | "right" | "top" | "bottom";

const STRIP: Record<Side, string> = {
  left: "inset-y-0 left-0 w-3 border-r",
  right: "inset-y-0 right-0 w-3 border-l",
  top: "inset-x-0 top-0 h-3 border-b",
  bottom: "inset-x-0 bottom-0 h-3 border-t",
};
const TAB: Record<Side, string> = {
  left: "top-1/2 left-0 -translate-y-1/2 [writing-mode:vertical-rl] rotate-180",
  right: "top-1/2 right-0 -translate-y-1/2 [writing-mode:vertical-rl]",
  top: "top-0 left-1/2 -translate-x-1/2",
  bottom: "bottom-0 left-1/2 -translate-x-1/2",
};
const PLACE: Record<Side, string> = {
  left: "inset-y-0 left-0 border-r",
  right: "inset-y-0 right-0 border-l",
  top: "inset-x-0 top-0 border-b",
  bottom: "inset-x-0 bottom-0 border-t",
};

/**
 * A panel that lies behind an edge of the canvas: its tab opens it over the canvas, and so does a pointer that rests on the edge
 * where only the canvas is shown. It goes when one turns to the canvas again, or with Escape.
 */
export function Edge(props: {
  side: Side;
  name: string;
  /** Rem; left and right only. */
  width?: number;
  /** A pointer at the edge opens it. */
  reaches: boolean;
  children: ReactNode;
}) {
  const { side, name, reaches } = props;
  const [open, setOpen] = useState(false);
  const panel = useRef<HTMLDivElement>(null);
  const tab = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!open) return;
    const outside = (event: Event) => {
      const target = event.target as Element;
      // menus and hints of the panel stand beside it in the document
      if (panel.current?.contains(target) || target.closest("[data-radix-popper-content-wrapper],[role=dialog]"))
        return;
      setOpen(false);
    };
    const key = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || document.querySelector("[role=dialog]")) return;
      setOpen(false);
      requestAnimationFrame(() => tab.current?.focus());
    };
    window.addEventListener("pointerdown", outside, true);
    window.addEventListener("keydown", key);
    return () => {
      window.removeEventListener("pointerdown", outside, true);
      window.removeEventListener("keydown", key);
    };
  }, [open]);
  if (!open) {
    return (
      <>
        {reaches && (
          <div
            aria-hidden="true"
            className={`absolute z-20 border-transparent hover:border-quiet ${STRIP[side]}`}
            onPointerEnter={(event) => event.pointerType !== "touch" && event.buttons === 0 && setOpen(true)}
          />
        )}
        <button
          ref={tab}
          type="button"
          aria-expanded={false}
          onClick={() => setOpen(true)}
          onPointerEnter={(event) => reaches && event.pointerType !== "touch" && setOpen(true)}
          className={`absolute z-20 border border-vein bg-paper px-1.5 py-2 text-[0.92rem] text-quiet hover:text-ink ${reaches ? "opacity-0 hover:opacity-100 focus-visible:opacity-100" : ""} ${TAB[side]}`}
        >
          {name}
        </button>
      </>
    );
  }
  return (
    <div
      ref={panel}
      className={`absolute z-20 max-w-[88%] border-quiet bg-paper ${PLACE[side]}`}
      style={props.width ? { width: `${props.width}rem` } : undefined}
      onPointerLeave={(event) => reaches && event.pointerType !== "touch" && event.buttons === 0 && setOpen(false)}
    >
      {props.children}
    </div>
  );
}
