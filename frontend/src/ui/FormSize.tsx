import type { Shapes } from "../api/client";

/** A form's size, volume, weight and how much there is of it, under the canvas. */
export function FormSize({ size }: { size: Shapes["SizeShape"] | undefined }) {
  if (!size) return null;
  const grams = Object.values(size.grams);
  return (
    <>
      <b className="font-medium text-ink" data-testid="size">
        {size.width.toFixed(1)} × {size.depth.toFixed(1)} × {size.height.toFixed(1)} mm
      </b>
      <span>{(size.volume / 1000).toFixed(1)} cm³</span>
      {grams.length > 0 && <span>{grams.reduce((a, b) => a + b, 0).toFixed(0)} g</span>}
      <span>{size.parts === 1 ? "1 part" : `${size.parts} parts`}</span>
      <span>{size.faces} faces</span>
    </>
  );
}
