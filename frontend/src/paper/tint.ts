type Colour = [red: number, green: number, blue: number];

/** A colour given the hue and saturation of a tint, keeping its own luminosity (W3C mode color), as `core/ink/blend` does. */
export function tinted(colour: string, tint: string): string {
  const wanted = luminosity(channels(colour));
  let c = channels(tint);
  const each = (change: (value: number) => number): Colour => [change(c[0]), change(c[1]), change(c[2])];
  const by = wanted - luminosity(c);
  c = each((value) => value + by);
  const level = luminosity(c);
  const [low, high] = [Math.min(...c), Math.max(...c)];
  if (low < 0) c = each((value) => level + ((value - level) * level) / (level - low));
  if (high > 1) c = each((value) => level + ((value - level) * (1 - level)) / (high - level));
  return `#${c
    .map((value) =>
      Math.round(value * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}

/** Red, green and blue of a colour, 0 to 1. */
export function channels(colour: string): Colour {
  const one = (at: number) => Number.parseInt(colour.slice(at, at + 2), 16) / 255;
  return [one(1), one(3), one(5)];
}

/** How light a colour is (W3C compositing). */
export function luminosity([r, g, b]: Colour): number {
  return 0.3 * r + 0.59 * g + 0.11 * b;
}
