import { useQuery } from "@tanstack/react-query";
import { type PerspectiveCamera, Vector3 } from "three";
import { fetchArrays } from "../../../api/arrays";
import { onScreen } from "../../../view3d/orbit";
import { tr } from "../../../words/words";
import { pickedAfter, useCurve } from "./curve";

export interface Pickable {
  faces: string[];
  edges: { name: string; points: Float32Array }[];
}

export function pickableQuery(project: string, form: string, part: string | undefined, key: string | undefined) {
  return {
    queryKey: ["pickable", form, part, key],
    queryFn: async (): Promise<Pickable> => {
      const packed = await fetchArrays<{ faces: string[]; edges: string[] }>(
        `/api/projects/${project}/forms/${form}/parts/${part}/names`,
      );
      const lines = packed.array("lines", Float32Array);
      const starts = packed.array("lineStarts", Int32Array);
      const edges = packed.meta.edges.map((name, k) => ({
        name,
        points: lines.subarray(3 * starts[k]!, 3 * starts[k + 1]!),
      }));
      return { faces: packed.meta.faces, edges };
    },
    enabled: !!part && !!key,
  };
}

/** Faces and edges of a built part by name. */
export function usePickable(project: string, form: string, part: string | undefined, key: string | undefined) {
  return useQuery({ ...pickableQuery(project, form, part, key), placeholderData: (before) => before, retry: false })
    .data;
}

/** An edge as a step names it. */
export function edgeOf(name: string): { faces: [string, string]; middle: [number, number, number]; length: number } {
  const [one = "", other = "", numbers = ""] = name.split("|");
  const [x = 0, y = 0, z = 0, length = 0] = numbers.split(",").map(Number);
  return { faces: [one, other], middle: [x, y, z], length };
}

/** Edges of the built part worked on, to be touched; Shift picks more. */
export function SolidEdges(props: {
  pickable: Pickable | undefined;
  camera: PerspectiveCamera;
  size: { width: number; height: number };
}) {
  const { camera, size, pickable } = props;
  const { edges, set } = useCurve();
  const place = new Vector3();
  return (
    <g data-testid="solid-edges">
      {pickable?.edges.map(({ name, points }, index) => {
        const seen: string[] = [];
        for (let k = 0; k < points.length; k += 3) {
          const { x, y } = onScreen(camera, place.fromArray(points, k), size.width, size.height);
          seen.push(`${x.toFixed(1)},${y.toFixed(1)}`);
        }
        const picked = edges.includes(name);
        return (
          <g key={name}>
            <polyline points={seen.join(" ")} fill="none" stroke={picked ? "var(--pick)" : "none"} strokeWidth={3.5} />
            <polyline
              data-knob
              role="button"
              tabIndex={-1}
              aria-pressed={picked}
              aria-label={tr`Edge ${index + 1}`}
              points={seen.join(" ")}
              fill="none"
              stroke="var(--pick)"
              strokeOpacity={0}
              strokeWidth={9}
              style={{ pointerEvents: "stroke" }}
              className="cursor-pointer hover:[stroke-opacity:0.35]"
              onPointerDown={(event) => {
                event.stopPropagation();
                set({ edges: pickedAfter(edges, name, event.shiftKey) });
              }}
            />
          </g>
        );
      })}
    </g>
  );
}
