import { useQuery } from "@tanstack/react-query";
import { fetchArrays } from "../../../api/arrays";
import type { Shapes } from "../../../api/client";
import type { Finish, Setting } from "../kinds";

/** Where a flat sheet lies on a mesh: which of its points each point is, the triangles, mm across and up. */
export interface LaidOn {
  point: Uint32Array;
  triangles: Uint32Array;
  texture: Float32Array;
}

interface Asked {
  project: string;
  form: string;
  setting: Setting;
  wearer: string;
  /** Key of the part's mesh. */
  mesh: string;
}

/** How a finish lies on a part or a zone, once it has come; nothing is asked for where there is nothing to lay. */
export function useLaid(asked: Asked, sheets: Shapes["SheetsShape"] | undefined): LaidOn | null {
  const { project, form, setting, wearer, mesh } = asked;
  const finish: Finish = JSON.parse(sheets?.finish ?? "{}");
  const wanted = sheets !== undefined && (sheets.colour ?? sheets.relief ?? sheets.rough) !== null;
  const { data } = useQuery<LaidOn>({
    queryKey: ["laid", mesh, wearer, setting.zones, finish.lay, finish.grain?.kind ?? finish.material],
    queryFn: async ({ signal }) => {
      const packed = await fetchArrays(`/api/projects/${project}/staging/laid`, {
        method: "POST",
        body: JSON.stringify({ form, setting, wearer, finish }),
        headers: { "Content-Type": "application/json" },
        signal,
      });
      return {
        point: packed.array("point", Uint32Array),
        triangles: packed.array("triangles", Uint32Array),
        texture: packed.array("texture", Float32Array),
      };
    },
    enabled: wanted,
    gcTime: 2_000,
  });
  return wanted ? (data ?? null) : null;
}
