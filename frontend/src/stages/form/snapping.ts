import { type PerspectiveCamera, Vector3 } from "three";
import type { Spot } from "../../ui/pointing";
import { onScreen } from "../../view3d/orbit";
import type { Directions, Grip, HandleSeat } from "./dragging";
import { nearestOnLines, type StoodLines } from "./sheetLines";
import type { SnapTo } from "./store";

const REACH = 14;
const FLAT = { front: [0, 2], side: [1, 2], top: [0, 1] } as const;

export interface SnapField {
  to: SnapTo;
  grid: number;
  /** Points that do not move. */
  others: Vector3[];
  lines: StoodLines[];
}

/** A move brought to the grid, to a point, or to a sheet's line under the pointer; as it was where nothing is near. */
export function snapped(
  values: [number, number, number],
  grip: Grip,
  seat: HandleSeat,
  camera: PerspectiveCamera,
  spot: Spot,
  field: SnapField,
): [number, number, number] {
  const goal = seat.place.clone().add(new Vector3(...values));
  if (field.to === "grid") {
    for (const axis of [0, 1, 2] as const) {
      if (Math.abs(values[axis]) > 1e-9) {
        goal.setComponent(axis, Math.round(goal.getComponent(axis) / field.grid) * field.grid);
      }
    }
    return held(goal.sub(seat.place), grip, seat.directions);
  }
  if (field.to === "points") {
    let nearest = REACH;
    let place: Vector3 | null = null;
    for (const other of field.others) {
      const s = onScreen(camera, other, spot.width, spot.height);
      const distance = Math.hypot(s.x - spot.x, s.y - spot.y);
      if (distance < nearest) [nearest, place] = [distance, other];
    }
    return place ? held(place.clone().sub(seat.place), grip, seat.directions) : values;
  }
  if (field.to === "lines") {
    const found = nearestOnLines(field.lines, camera, spot, REACH);
    if (!found) return values;
    for (const axis of FLAT[found.plane]) goal.setComponent(axis, found.place.getComponent(axis));
    return held(goal.sub(seat.place), grip, seat.directions);
  }
  return values;
}

/** Only as far as the grip lets it go. */
function held(by: Vector3, grip: Grip, directions: Directions): [number, number, number] {
  if (grip === "W" || grip === "D" || grip === "H") {
    const way = directions[grip];
    return way.clone().multiplyScalar(by.dot(way)).toArray() as [number, number, number];
  }
  const out = { WD: directions.H, DH: directions.W, WH: directions.D }[grip as "WD"];
  if (out) by.addScaledVector(out, -by.dot(out));
  return by.toArray() as [number, number, number];
}
