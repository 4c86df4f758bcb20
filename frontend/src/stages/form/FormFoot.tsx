import type { Shapes } from "../../api/client";
import { LETTERS, type Triple } from "../../ui/AxisFields";
import { FormSize } from "../../ui/FormSize";
import { useReading } from "../../ui/numbers/reading";
import { tr } from "../../words/words";
import { useHand } from "./hand";

/** The form's size, and how long its last change took. */
export function FormFoot({ size, envelope }: { size: Shapes["SizeShape"] | undefined; envelope: Triple | null }) {
  const milliseconds = useHand((hand) => hand.milliseconds);
  const read = useReading();
  return (
    <>
      {envelope && size && size.parts > 0 && <Over by={overBy(size, envelope)} />}
      <FormSize size={size} />
      {size && milliseconds > 0 && (
        <span>
          {read.number(milliseconds, 1)} {tr("ms")}
        </span>
      )}
    </>
  );
}

/** Mm by which a form is larger than it may be, along W, D and H; 0 where it keeps within. */
export function overBy(size: Shapes["SizeShape"], envelope: Triple): Triple {
  const own = [size.width, size.depth, size.height];
  return envelope.map((most, axis) => Math.max(0, own[axis]! - most)) as Triple;
}

function Over({ by }: { by: Triple }) {
  const read = useReading();
  // what is under a twentieth of a mm over is the rounding of the numbers
  const over = LETTERS.map((letter, axis) => ({ letter, mm: by[axis]! })).filter(({ mm }) => mm > 0.05);
  if (!over.length) return <span>{tr("within the brief")}</span>;
  return (
    <b className="font-medium text-warn">
      {over.map(({ letter, mm }) => `${letter} ${read.length(mm, 1)}`).join(", ")} {tr("over the brief")}
    </b>
  );
}
