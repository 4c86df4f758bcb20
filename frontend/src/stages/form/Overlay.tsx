import { Vector3 } from "three";
import type { Spot } from "../../ui/pointing";
import { cameraOf, type Orbit, onScreen } from "../../view3d/orbit";

interface Box {
  width: number;
  height: number;
}

/** The box or loop that gathers, or the line that is being drawn. */
export function Traces(props: { gathering: Spot[] | null; lasso: boolean; line: Spot[] | null }) {
  const { gathering, line } = props;
  const [from, to] = gathering ?? [];
  return (
    <>
      {from && to && !props.lasso && (
        <rect
          x={Math.min(from.x, to.x)}
          y={Math.min(from.y, to.y)}
          width={Math.abs(from.x - to.x)}
          height={Math.abs(from.y - to.y)}
          fill="var(--pick)"
          fillOpacity={0.08}
          stroke="var(--pick)"
        />
      )}
      {gathering && props.lasso && (
        <polygon points={path(gathering)} fill="var(--pick)" fillOpacity={0.08} stroke="var(--pick)" />
      )}
      {line && <polyline points={path(line)} fill="none" stroke="var(--act)" strokeWidth={2.5} strokeLinecap="round" />}
    </>
  );
}

function path(spots: Spot[]): string {
  return spots.map((spot) => `${spot.x},${spot.y}`).join(" ");
}

/** How far a soft pick reaches, about the handle's seat. */
export function Reach(props: { seat: Vector3; reach: number; orbit: Orbit; size: Box }) {
  const camera = cameraOf(props.orbit, props.size.width, props.size.height);
  const centre = onScreen(camera, props.seat, props.size.width, props.size.height);
  const right = new Vector3().setFromMatrixColumn(camera.matrixWorld, 0);
  const rim = onScreen(
    camera,
    props.seat.clone().addScaledVector(right, props.reach),
    props.size.width,
    props.size.height,
  );
  return (
    <circle
      cx={centre.x}
      cy={centre.y}
      r={Math.hypot(rim.x - centre.x, rim.y - centre.y)}
      fill="none"
      stroke="var(--pick)"
      strokeDasharray="4 4"
    />
  );
}
