import { useEffect, useState } from "react";
import { useBench } from "../../bench/store";
import { tr } from "../../words/words";
import { useSketch } from "./store";

/** All that is on the screen beside the page while a sprint is on: the time left, and a way out. */
export function Sprint() {
  const { sprint, set } = useSketch();
  const bare = useBench((bench) => bench.setBare);
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    if (sprint === null) return;
    const end = () => {
      set({ sprint: null });
      bare("nothing");
    };
    const clock = setInterval(() => (Date.now() >= sprint ? end() : setNow(Date.now())), 500);
    const key = (event: KeyboardEvent) => event.key === "Escape" && end();
    window.addEventListener("keydown", key);
    return () => {
      clearInterval(clock);
      window.removeEventListener("keydown", key);
      bare("nothing");
    };
  }, [sprint, set, bare]);
  if (sprint === null) return null;
  const left = Math.max(0, Math.ceil((sprint - now) / 1000));
  return (
    <div className="absolute right-4 bottom-3 flex items-baseline gap-4 text-quiet">
      <span data-testid="sprint" role="timer" aria-label={tr("Time left in the sprint")}>
        {Math.floor(left / 60)}:{String(left % 60).padStart(2, "0")}
      </span>
      <button
        type="button"
        className="hover:text-ink"
        onClick={() => {
          set({ sprint: null });
          bare("nothing");
        }}
      >
        {tr("End")}
      </button>
    </div>
  );
}
