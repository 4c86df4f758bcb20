/** Where the page lies on the screen: page px to screen px by scale, turn and shift. */
export interface Viewport {
  x: number;
  y: number;
  scale: number;
  /** Radians. */
  angle: number;
}

export function toScreen(view: Viewport, x: number, y: number): [number, number] {
  const c = Math.cos(view.angle) * view.scale;
  const s = Math.sin(view.angle) * view.scale;
  return [c * x - s * y + view.x, s * x + c * y + view.y];
}

export function toPage(view: Viewport, x: number, y: number): [number, number] {
  const c = Math.cos(view.angle) / view.scale;
  const s = Math.sin(view.angle) / view.scale;
  const [dx, dy] = [x - view.x, y - view.y];
  return [c * dx + s * dy, -s * dx + c * dy];
}

/** Zooms, and turns where asked, about a place on the screen. */
export function about(view: Viewport, x: number, y: number, zoom: number, turn = 0): Viewport {
  const scale = Math.min(16, Math.max(0.05, view.scale * zoom));
  const [px, py] = toPage(view, x, y);
  const next = { ...view, scale, angle: view.angle + turn };
  const [sx, sy] = toScreen(next, px, py);
  return { ...next, x: view.x + x - sx, y: view.y + y - sy };
}

/** The whole page in the middle of a canvas, upright. */
export function fitted(width: number, height: number, pageWidth: number, pageHeight: number): Viewport {
  const scale = Math.min((width - 48) / pageWidth, (height - 48) / pageHeight);
  return { x: (width - pageWidth * scale) / 2, y: (height - pageHeight * scale) / 2, scale, angle: 0 };
}

/** What is in the middle of a canvas, how large and how turned. */
export type Middled = readonly [x: number, y: number, scale: number, angle: number];

/** A viewport by what is in the middle of the canvas, so that it holds in a window of another size. */
export function middled(view: Viewport, width: number, height: number): Middled {
  return [...toPage(view, width / 2, height / 2), view.scale, view.angle];
}

export function fromMiddled([x, y, scale, angle]: Middled, width: number, height: number): Viewport {
  const turned = { x: 0, y: 0, scale: Math.min(16, Math.max(0.05, scale)), angle };
  const [sx, sy] = toScreen(turned, x, y);
  return { ...turned, x: width / 2 - sx, y: height / 2 - sy };
}

/** The middle of some places. */
export function middleOf(places: readonly (readonly [number, number])[]): [number, number] {
  const sum = (axis: 0 | 1) => places.reduce((total, place) => total + place[axis], 0);
  return [sum(0) / places.length, sum(1) / places.length];
}
