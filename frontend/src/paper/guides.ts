import type { Shapes } from "../api/client";

type Place = [number, number];

/** What ink can hold to: lines through places, or an ellipse. Page px, turns in degrees. */
export type Hold = { kind: "line"; places: Place[] } | (Shapes["EllipseGuide"] & { kind: "ellipse" });

/** A direction lines hold to: a homogeneous vanishing point, its last number 0 at infinity. */
export type Direction = [number, number, number];

/** Everything on a sheet that ink can hold to. */
export function holdsOf(drafted: Shapes["Drafted"], box: boolean): Hold[] {
  const found: Hold[] = [];
  for (const guide of drafted.guides ?? []) {
    if (guide.ellipse) found.push({ ...guide.ellipse, kind: "ellipse" });
    for (const line of guide.lines ?? []) found.push({ kind: "line", places: line as Place[] });
  }
  if (box) {
    for (const edge of drafted.box?.edges ?? [])
      if (!edge.hidden) found.push({ kind: "line", places: edge.line as Place[] });
  }
  return found;
}

/** The place on something held to that is nearest to a place of the page. */
export function nearest(hold: Hold, [x, y]: Place): Place {
  if (hold.kind === "line") return onLine(hold.places, [x, y]);
  const turn = ((hold.turn ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [dx, dy] = [x - hold.centre[0], y - hold.centre[1]];
  const [u, v] = onEllipse(hold.across, hold.down, c * dx + s * dy, -s * dx + c * dy);
  return [hold.centre[0] + c * u - s * v, hold.centre[1] + s * u + c * v];
}

function onLine(places: Place[], [x, y]: Place): Place {
  let best: Place = places[0] ?? [x, y];
  let least = Number.POSITIVE_INFINITY;
  for (let k = 1; k < places.length; k++) {
    const [[ax, ay], [bx, by]] = [places[k - 1]!, places[k]!];
    const [dx, dy] = [bx - ax, by - ay];
    const t = ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1);
    const along = Math.min(1, Math.max(0, t));
    const at: Place = [ax + along * dx, ay + along * dy];
    const away = Math.hypot(at[0] - x, at[1] - y);
    if (away < least) [best, least] = [at, away];
  }
  return best;
}

/**
 * Nearest place on x²/a² + y²/b² = 1, by walking the centre of curvature: each step goes to where the circle that
 * fits the ellipse best is nearest. Five steps are exact to a thousandth of a pixel.
 */
function onEllipse(a: number, b: number, px: number, py: number): Place {
  const [x, y] = [Math.abs(px), Math.abs(py)];
  let [tx, ty] = [Math.SQRT1_2, Math.SQRT1_2];
  for (let k = 0; k < 5; k++) {
    const ex = ((a * a - b * b) * tx ** 3) / a;
    const ey = ((b * b - a * a) * ty ** 3) / b;
    const [rx, ry] = [a * tx - ex, b * ty - ey];
    const [qx, qy] = [x - ex, y - ey];
    const share = Math.hypot(rx, ry) / Math.max(Math.hypot(qx, qy), 1e-12);
    tx = Math.min(1, Math.max(0, (qx * share + ex) / a));
    ty = Math.min(1, Math.max(0, (qy * share + ey) / b));
    const length = Math.hypot(tx, ty) || 1;
    [tx, ty] = [tx / length, ty / length];
  }
  return [Math.sign(px || 1) * a * tx, Math.sign(py || 1) * b * ty];
}

/** What lies within reach of a place to hold to, the nearest; null where there is nothing. */
export function holdAt(holds: Hold[], place: Place, reach: number): Hold | null {
  let best: Hold | null = null;
  let least = reach;
  for (const hold of holds) {
    const [x, y] = nearest(hold, place);
    const away = Math.hypot(x - place[0], y - place[1]);
    if (away <= least) [best, least] = [hold, away];
  }
  return best;
}

/** The line through a place along the direction a hand that went from it to `to` means; as long as any page. */
export function along(directions: Direction[], from: Place, to: Place): Hold {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  let best: Place = [1, 0];
  let least = -1;
  for (const [x, y, w] of directions) {
    const [vx, vy] = w ? [x - from[0], y - from[1]] : [x, y];
    const far = Math.hypot(vx, vy);
    if (far < 1e-9) continue;
    const near = Math.abs((vx * dx + vy * dy) / (far * length));
    if (near > least) {
      least = near;
      best = [vx / far, vy / far];
    }
  }
  const reach = 20_000;
  return {
    kind: "line",
    places: [
      [from[0] - best[0] * reach, from[1] - best[1] * reach],
      [from[0] + best[0] * reach, from[1] + best[1] * reach],
    ],
  };
}
