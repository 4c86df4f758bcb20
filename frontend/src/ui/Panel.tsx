import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { tr } from "../words/words";

/** What had the focus last outside of panels: where it goes back to when one closes. */
let last: Element | null = null;
document.addEventListener("focusin", ({ target }) => {
  if (target instanceof Element && !target.closest("[role=dialog]")) last = target;
});

function backToWork(event: Event): void {
  event.preventDefault();
  const there = last instanceof HTMLElement && last.isConnected && last !== document.body ? last : null;
  (there ?? document.querySelector<HTMLElement>("main"))?.focus();
}

/** A panel over the bench for settings, keys and projects, open for as long as it is there; canvas tools never use it. */
export function Panel(props: { title: string; onClose: () => void; wide?: boolean | "most"; children: ReactNode }) {
  const width = props.wide === "most" ? "w-[62rem]" : props.wide ? "w-[44rem]" : "w-[30rem]";
  return (
    <Dialog.Root open onOpenChange={(open) => !open && props.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={backToWork}
          className={`fixed top-[8vh] left-1/2 z-50 max-h-[84vh] max-w-[94vw] -translate-x-1/2 overflow-auto border border-vein bg-paper p-6 text-ink ${width}`}
        >
          <Dialog.Title className="mb-4 pr-16 font-semibold font-serif text-[1.5rem]">{props.title}</Dialog.Title>
          {props.children}
          {/* last, so that the focus begins with what the panel is for */}
          <Dialog.Close className="absolute top-6 right-6 px-1 text-quiet hover:text-ink print:hidden">
            {tr("Close")}
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
