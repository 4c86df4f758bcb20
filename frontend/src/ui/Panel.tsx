import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

/** A panel over the bench for settings, keys and new projects; canvas tools never use it. */
export function Panel(props: {
  title: string;
  open: boolean;
  onClose: () => void;
  wide?: boolean | "most";
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={props.open} onOpenChange={(open) => !open && props.onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed top-[8vh] left-1/2 z-50 max-h-[84vh] -translate-x-1/2 overflow-auto border border-vein bg-paper p-6 text-ink ${props.wide === "most" ? "w-[62rem]" : props.wide ? "w-[44rem]" : "w-[30rem]"} max-w-[94vw]`}
        >
          <Dialog.Title className="mb-4 font-serif font-semibold text-[1.5rem]">{props.title}</Dialog.Title>
          {props.children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
