import type { Shapes } from "../../api/client";
import { FormSize } from "../../ui/FormSize";
import { useReading } from "../../ui/numbers/reading";
import { useHand } from "./hand";

/** The form's size, and how long its last change took. */
export function FormFoot({ size }: { size: Shapes["SizeShape"] | undefined }) {
  const milliseconds = useHand((hand) => hand.milliseconds);
  const read = useReading();
  return (
    <>
      <FormSize size={size} />
      {size && milliseconds > 0 && <span>{read.number(milliseconds, 1)} ms</span>}
    </>
  );
}
