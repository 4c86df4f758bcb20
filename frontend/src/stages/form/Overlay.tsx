import { Vector3 } from "three";
import type { Shapes } from "../../api/client";
import { useReading } from "../../ui/numbers/reading";
import type { Spot } from "../../ui/pointing";
import { cameraOf, type Orbit, onScreen } from "../../view3d/orbit";
import type { PartMesh } from "../../view3d/partMesh";
import { Said } from "./Handle";

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

/** Where a dimension's anchor is: on the skin above a cage point. */
export function anchorPlace(anchor: Shapes["Anchor"], meshes: Map<string, PartMesh>): Vector3 | null {
  const mesh = meshes.get(anchor.part);
  const skin = mesh?.limitOf[anchor.point];
  if (!mesh || skin === undefined || skin < 0) return null;
  return new Vector3(mesh.positions[3 * skin]!, mesh.positions[3 * skin + 1]!, mesh.positions[3 * skin + 2]!);
}

/** Mm of a dimension: straight, or along one direction. */
export function lengthOf(measure: Shapes["Measure"], first: Vector3, second: Vector3): number {
  const by = second.clone().sub(first);
  if (measure.along === "W") return Math.abs(by.x);
  if (measure.along === "D") return Math.abs(by.y);
  return measure.along === "H" ? Math.abs(by.z) : by.length();
}

/** Dimensions between points, drawn over the form and kept true to it. */
export function Dimensions(props: {
  measures: Shapes["Measure"][];
  meshes: Map<string, PartMesh>;
  orbit: Orbit;
  size: Box;
}) {
  const { size } = props;
  const read = useReading();
  const camera = cameraOf(props.orbit, size.width, size.height);
  return (
    <>
      {props.measures.map((measure) => {
        const first = anchorPlace(measure.first, props.meshes);
        const second = anchorPlace(measure.second, props.meshes);
        if (!first || !second) return null;
        // along a direction the line runs that way from the first point, and a thin one leads to the second
        const turn = first.clone();
        if (measure.along === "W") turn.x = second.x;
        else if (measure.along === "D") turn.y = second.y;
        else if (measure.along === "H") turn.z = second.z;
        else turn.copy(second);
        const shown = (place: Vector3) => onScreen(camera, place, size.width, size.height);
        const [a, b, c] = [shown(first), shown(turn), shown(second)];
        const [dx, dy] = [b.x - a.x, b.y - a.y];
        const long = Math.max(1, Math.hypot(dx, dy));
        const [nx, ny] = [(-dy / long) * 5, (dx / long) * 5];
        return (
          <g key={measure.id} data-testid="dimension">
            <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--ink)" strokeWidth={1.4} />
            {[a, b].map((end) => (
              <line
                key={`${end.x},${end.y}`}
                x1={end.x - nx}
                y1={end.y - ny}
                x2={end.x + nx}
                y2={end.y + ny}
                stroke="var(--ink)"
                strokeWidth={1.4}
              />
            ))}
            <line x1={b.x} y1={b.y} x2={c.x} y2={c.y} stroke="var(--quiet)" strokeDasharray="2 3" />
            <Said
              x={(a.x + b.x) / 2 + 8}
              y={(a.y + b.y) / 2 - 8}
              text={read.length(lengthOf(measure, first, second), 1)}
            />
          </g>
        );
      })}
    </>
  );
}
