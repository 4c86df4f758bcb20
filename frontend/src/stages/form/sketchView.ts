import { Vector3 } from "three";
import type { Shapes } from "../../api/client";
import type { Triple } from "../../ui/AxisFields";
import type { Orbit } from "../../view3d/orbit";

type Sheet = Pick<Shapes["SheetOutline"], "perspective" | "box" | "drafted">;
type Rect = [number, number, number, number];

/** Whether a view of the sheet was drawn around the construction box, so that it can stand in its own perspective. */
export function inPerspective(sheet: Sheet, rect: Rect): boolean {
  const at = sheet.box?.at;
  const [left, top, right, bottom] = rect;
  return !!sheet.drafted.box && !!at && left <= at[0] && at[0] < right && top <= at[1] && at[1] < bottom;
}

/** The eye of the sketch, mm from the middle of its construction box, which stands at the form's origin. */
export function eyeOf(sheet: Sheet): Vector3 {
  return new Vector3(...(sheet.drafted.box!.eye as Triple));
}

/**
 * Where a view of the sheet stands in space, mm: upper left, upper right, lower right, lower left. It lies square to the
 * sketch's line of sight beyond the origin, so that from the sketch's eye it covers just what was drawn.
 */
export function placesOf(sheet: Sheet, [left, top, right, bottom]: Rect): Vector3[] {
  const { principal, focal } = sheet.perspective!;
  const axes = sheet.drafted.axes!.map((axis) => new Vector3(...(axis as Triple)));
  const [across, down, ahead] = axes as [Vector3, Vector3, Vector3];
  const eye = eyeOf(sheet);
  const depth = -eye.dot(ahead) + 0.9 * new Vector3(...(sheet.box!.size as Triple)).length();
  const corners: [number, number][] = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
  return corners.map(([x, y]) =>
    ahead
      .clone()
      .addScaledVector(across, (x - principal[0]) / focal)
      .addScaledVector(down, (y - principal[1]) / focal)
      .multiplyScalar(depth)
      .add(eye),
  );
}

/** Looks at the form from where the sketch was drawn, the view filling the canvas. */
export function lookFromSketch(sheet: Sheet, rect: Rect): Orbit {
  const eye = eyeOf(sheet);
  const distance = eye.length();
  const corners = placesOf(sheet, rect).map((corner) => corner.sub(eye).normalize());
  const toward = eye.clone().multiplyScalar(-1 / distance);
  const widest = Math.max(...corners.map((corner) => Math.acos(Math.min(1, corner.dot(toward)))));
  return {
    target: [0, 0, 0],
    azimuth: Math.atan2(eye.x, -eye.y),
    rise: Math.asin(Math.max(-1, Math.min(1, eye.z / distance))),
    distance,
    lens: Math.min(100, Math.max(5, ((1.6 * widest * 180) / Math.PI) * 1.05)),
  };
}
