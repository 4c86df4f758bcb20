import { useMemo, useState } from "react";
import type { Shapes } from "../api/client";
import { useReading } from "../ui/numbers/reading";
import { Picture } from "../ui/Picture";
import { tr } from "../words/words";

type Ledger = Shapes["LedgerShape"];

/** The present branch as a strip: sliding over it shows what the document looked like, letting go stands there. */
export function History(props: {
  project: string;
  document: string;
  ledger: Ledger;
  onGo: (edit: number | null) => void;
}) {
  const { ledger } = props;
  const read = useReading();
  const path = useMemo(() => pathOf(ledger), [ledger]);
  const here = Math.max(
    0,
    path.findIndex(({ id }) => id === (ledger.head ?? null)),
  );
  const [sliding, setSliding] = useState<number | null>(null);
  const at = Math.min(sliding ?? here, path.length - 1);
  const shown = path[at]!;
  const settle = () => {
    if (sliding !== null && sliding !== here) props.onGo(path[at]!.id);
    setSliding(null);
  };
  return (
    <section aria-label={tr("History")} className="flex items-center gap-4 border-vein border-b px-4 py-2">
      <Picture
        src={`/api/projects/${props.project}/documents/${props.document}/portrait.png?wide=240&at=${shown.id ?? 0}`}
        alt={tr`After: ${read.sentence(shown.sentence)}`}
        className="h-[6.2rem] w-[9.3rem] shrink-0 border border-vein bg-page object-contain"
      />
      <label className="min-w-0 flex-1">
        <span className="block truncate">
          <span className="text-quiet">
            {at} {tr("of")} {path.length - 1}:
          </span>{" "}
          {read.sentence(shown.sentence)}
        </span>
        <input
          type="range"
          aria-label={tr("Go through the history")}
          aria-valuetext={read.sentence(shown.sentence)}
          min={0}
          max={path.length - 1}
          value={at}
          onChange={(event) => setSliding(Number(event.target.value))}
          onPointerUp={settle}
          onKeyUp={settle}
          onBlur={settle}
          className="w-full accent-act"
        />
      </label>
    </section>
  );
}

/** The lines from the start to the tip of the branch one is on. */
function pathOf(ledger: Ledger): { id: number | null; sentence: string }[] {
  const lines = new Map(ledger.lines.map((line) => [line.id, line]));
  const path: { id: number | null; sentence: string }[] = [];
  for (let at = ledger.tip ?? null; at !== null; at = lines.get(at)!.parent ?? null) path.push(lines.get(at)!);
  return [{ id: null, sentence: tr("The start") }, ...path.reverse()];
}
