/** Carries a place of the page to a copy of it. */
export type Copy = (x: number, y: number) => [number, number];

export interface Symmetry {
  x: number;
  y: number;
  /** Radians. */
  angle: number;
  mirror: boolean;
  turns: number;
}

/** The copies a symmetry makes of a stroke, in the server's order; see `core/ink/path.copies`. */
export function copiesOf({ x, y, angle, mirror, turns }: Symmetry): Copy[] {
  const [c, s] = [Math.cos(2 * angle), Math.sin(2 * angle)];
  const found: Copy[] = [];
  for (let turn = 0; turn < Math.max(1, turns); turn++) {
    const t = (2 * Math.PI * turn) / Math.max(1, turns);
    const [ct, st] = [Math.cos(t), Math.sin(t)];
    for (const flip of mirror ? [false, true] : [false]) {
      found.push((px, py) => {
        const [dx, dy] = [px - x, py - y];
        const [fx, fy] = flip ? [c * dx + s * dy, s * dx - c * dy] : [dx, dy];
        return [ct * fx - st * fy + x, st * fx + ct * fy + y];
      });
    }
  }
  return found.slice(1);
}
