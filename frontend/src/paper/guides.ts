/** Guides that ink holds to. Page px, turns in degrees. */
export type Guide =
  | { kind: "straightedge"; id: string; start: [number, number]; end: [number, number] }
  | { kind: "ellipse"; id: string; centre: [number, number]; across: number; down: number; turn?: number };

type Place = [number, number];

/** The place on a guide that is nearest to a place of the page. */
export function nearest(guide: Guide, [x, y]: Place): Place {
  if (guide.kind === "straightedge") {
    const [ax, ay] = guide.start;
    const [dx, dy] = [guide.end[0] - ax, guide.end[1] - ay];
    const t = ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy);
    const along = Math.min(1, Math.max(0, t));
    return [ax + along * dx, ay + along * dy];
  }
  const turn = ((guide.turn ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [dx, dy] = [x - guide.centre[0], y - guide.centre[1]];
  const [u, v] = onEllipse(guide.across, guide.down, c * dx + s * dy, -s * dx + c * dy);
  return [guide.centre[0] + c * u - s * v, guide.centre[1] + s * u + c * v];
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

/** The guide within reach of a place, the nearest one; null where there is none. */
export function guideAt(guides: Guide[], place: Place, reach: number): Guide | null {
  let best: Guide | null = null;
  let least = reach;
  for (const guide of guides) {
    const [x, y] = nearest(guide, place);
    const away = Math.hypot(x - place[0], y - place[1]);
    if (away <= least) [best, least] = [guide, away];
  }
  return best;
}
