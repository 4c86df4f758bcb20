import { useEffect } from "react";
import { useReading } from "../ui/numbers/reading";
import { tr } from "../words/words";
import { useBench } from "./store";

const SECONDS = 8;

/** A plain sentence near the hand; it goes by itself or when dismissed. */
export function Notice() {
  const { notice, dismiss, connected } = useBench();
  const read = useReading();
  useEffect(() => {
    if (!notice || notice.ways) return;
    const timer = setTimeout(dismiss, SECONDS * 1000);
    return () => clearTimeout(timer);
  }, [notice, dismiss]);
  useEffect(() => {
    if (!notice || notice.ways) return;
    // who goes on has read it
    const goesOn = (event: PointerEvent) => {
      if (!(event.target as Element).closest("[role=alert]")) dismiss();
    };
    window.addEventListener("pointerdown", goesOn, true);
    return () => window.removeEventListener("pointerdown", goesOn, true);
  }, [notice, dismiss]);
  return (
    <div
      aria-live="polite"
      className="pointer-events-none fixed inset-x-0 bottom-12 z-30 flex flex-col items-center gap-2"
    >
      {!connected && (
        <p className="border border-warn bg-raised px-4 py-2 text-warn">
          {tr(
            "The server is not answering. Go on: what you do is kept here in order and sent when it is back. Do not close this page before.",
          )}
        </p>
      )}
      {notice && (
        <p
          role="alert"
          className="pointer-events-auto flex max-w-[44rem] gap-4 border border-wrong bg-raised px-4 py-2"
        >
          <span>{read.sentence(notice.text)}</span>
          {(notice.ways ?? [{ name: tr("Understood"), run: () => {} }]).map(({ name, run }) => (
            <button
              key={name}
              type="button"
              onClick={() => {
                dismiss();
                run();
              }}
              className={`shrink-0 ${notice.ways ? "font-medium text-act" : "text-quiet"} hover:text-ink`}
            >
              {name}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}
