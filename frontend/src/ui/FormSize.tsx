import type { Shapes } from "../api/client";
import { tr } from "../words/words";
import { useReading } from "./numbers/reading";

/** A form's size, volume, weight and how much there is of it, under the canvas. */
export function FormSize({ size }: { size: Shapes["SizeShape"] | undefined }) {
  const read = useReading();
  if (!size?.parts) return null;
  const grams = Object.values(size.grams);
  return (
    <>
      <b className="font-medium text-ink" data-testid="size">
        {read.size([size.width, size.depth, size.height], 1)}
      </b>
      <span>{read.volume(size.volume)}</span>
      {grams.length > 0 && <span>{grams.reduce((a, b) => a + b, 0).toFixed(0)} g</span>}
      <span>{size.parts === 1 ? tr("1 part") : tr`${size.parts} parts`}</span>
      {size.faces > 0 && (
        <span>
          {size.faces} {tr("faces")}
        </span>
      )}
    </>
  );
}
