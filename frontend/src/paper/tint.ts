/** A colour given the hue and saturation of a tint, keeping its own luminosity (W3C mode color), as `core/ink/blend` does. */
export function tinted(colour: string, tint: string): string {
  const wanted = luminosity(channels(colour));
  let c = channels(tint);
  const by = wanted - luminosity(c);
  c = c.map((value) => value + by);
  const level = luminosity(c);
  const [low, high] = [Math.min(...c), Math.max(...c)];
  if (low < 0) c = c.map((value) => level + ((value - level) * level) / (level - low));
  if (high > 1) c = c.map((value) => level + ((value - level) * (1 - level)) / (high - level));
  return `#${c
    .map((value) =>
      Math.round(value * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}

function channels(colour: string): number[] {
  return [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16) / 255);
}

function luminosity([r, g, b]: number[]): number {
  return 0.3 * r + 0.59 * g + 0.11 * b;
}
