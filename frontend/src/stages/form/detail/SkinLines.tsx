import { useQuery } from "@tanstack/react-query";
import { BufferAttribute, BufferGeometry } from "three";
import { fetchArrays } from "../../../api/arrays";
import { useGeometry } from "../../../view3d/useGeometry";

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Mm a line is drawn above the skin it lies on, so that the skin does not cover it. */
const LIFT = 0.06;

interface Laid {
  places: Float32Array;
  normals: Float32Array;
  starts: Int32Array;
  steps: number[];
}

/** The lines that steps of a part lay on its skin. */
function useLaid(project: string, form: string, part: string, key: string | undefined): Laid | undefined {
  return useQuery({
    queryKey: ["skin-lines", form, part, key],
    queryFn: async (): Promise<Laid> => {
      const packed = await fetchArrays<{ steps: number[] }>(
        `/api/projects/${project}/forms/${form}/parts/${part}/lines`,
      );
      return {
        places: packed.array("places", Float32Array),
        normals: packed.array("normals", Float32Array),
        starts: packed.array("starts", Int32Array),
        steps: packed.meta.steps,
      };
    },
    enabled: !!key,
    placeholderData: (before) => before,
    retry: false,
  }).data;
}

/** Lines on the skin of the part worked on, drawn over it. */
export function SkinLines(props: { project: string; form: string; part: string; stands: string | undefined }) {
  const laid = useLaid(props.project, props.form, props.part, props.stands);
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    if (!laid) return made;
    const { places, normals, starts } = laid;
    made.setAttribute(
      "position",
      new BufferAttribute(
        places.map((value, k) => value + LIFT * normals[k]!),
        3,
      ),
    );
    const pairs: number[] = [];
    for (let line = 0; line + 1 < starts.length; line++)
      for (let k = starts[line]!; k + 1 < starts[line + 1]!; k++) pairs.push(k, k + 1);
    made.setIndex(pairs);
    return made;
  }, [laid]);
  if (!laid?.places.length) return null;
  return (
    <>
      <lineSegments geometry={geometry} renderOrder={3}>
        <lineBasicMaterial color={token("--act")} />
      </lineSegments>
      <lineSegments geometry={geometry} renderOrder={3}>
        <lineBasicMaterial color={token("--act")} transparent opacity={0.25} depthTest={false} />
      </lineSegments>
    </>
  );
}

/** Where on the skin the next detail goes. */
export function SkinPlace({ place }: { place: [number, number, number] }) {
  const geometry = useGeometry(() => {
    const made = new BufferGeometry();
    made.setAttribute("position", new BufferAttribute(new Float32Array(place), 3));
    return made;
  }, [place]);
  return (
    <points geometry={geometry} renderOrder={5}>
      <pointsMaterial color={token("--pick")} size={11} sizeAttenuation={false} depthTest={false} transparent />
    </points>
  );
}
