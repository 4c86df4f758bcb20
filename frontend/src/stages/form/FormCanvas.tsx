import { type RefObject, useMemo } from "react";
import type { Shapes } from "../../api/client";
import { useBench } from "../../bench/store";
import { Button } from "../../ui/controls";
import type { PartMesh } from "../../view3d/partMesh";
import type { Shown as ShownPart } from "../../view3d/useParts";
import { View3D, type ViewHandle } from "../../view3d/View3D";
import { FormOverlay } from "./FormOverlay";
import { FormScene } from "./FormScene";
import { formEye } from "./hand";
import { ReferencePlane } from "./ReferencePlane";
import type { StoodLines } from "./sheetLines";
import { useFormStage } from "./store";
import type { Dragging } from "./useDrag";
import type { FormHands } from "./useHands";

interface CanvasProps {
  project: string;
  data: Shapes["FormState"] | undefined;
  parts: ShownPart<PartMesh>[];
  meshes: Map<string, PartMesh>;
  active: Shapes["Part"] | undefined;
  mesh: PartMesh | undefined;
  items: number[];
  lines: StoodLines[];
  drawing: boolean;
  dragging: Dragging;
  hands: FormHands;
  frozen: { current: string | null };
  view: RefObject<ViewHandle | null>;
  canvas: RefObject<{ width: number; height: number }>;
}

/** The form, what stands behind it and what lies over it. */
export function FormCanvas(props: CanvasProps) {
  const { data, parts, active, mesh, lines, project } = props;
  const { solo, shown, clear, kind, tool, measuring, set } = useFormStage();
  const notify = useBench((bench) => bench.notify);
  const problem = active && data?.problems[active.id];
  const references = data?.body.references;
  const scene = useMemo(
    () => (
      <>
        <FormScene
          parts={solo ? parts.filter(({ part }) => part.id === solo) : parts}
          active={active?.id ?? null}
          shown={shown}
          clear={clear}
          kind={tool === "measure" ? "points" : kind}
          items={tool === "measure" ? (measuring === null ? [] : [measuring]) : props.items}
        />
        {references?.map((reference) => (
          <ReferencePlane
            key={reference.id}
            project={project}
            reference={reference}
            lines={lines.find((stood) => stood.reference === reference.id)?.lines}
          />
        ))}
      </>
    ),
    [project, parts, active?.id, solo, shown, clear, kind, tool, measuring, props.items, references, lines],
  );
  return (
    <>
      <View3D
        label="Form"
        busy={!!active && !mesh && !problem}
        eye={formEye}
        hands={props.hands}
        handle={props.view}
        overlay={(size) => {
          props.canvas.current = size;
          return <FormOverlay {...props} size={size} measures={data?.body.measures ?? []} refuse={notify} />;
        }}
      >
        {scene}
      </View3D>
      {problem && (
        <p role="alert" className="absolute inset-x-0 top-6 mx-auto w-fit max-w-[32rem] bg-paper px-4 py-2 text-wrong">
          {problem}
        </p>
      )}
      {data && !data.body.parts?.length && tool !== "turned" && <NoForm onBox={() => set({ tool: "box" })} />}
    </>
  );
}

function NoForm(props: { onBox: () => void }) {
  const go = useBench((bench) => bench.go);
  return (
    <div className="pointer-events-none absolute inset-x-0 top-[34%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">No form yet</p>
      <p className="mt-1 mb-4 text-quiet">
        The right volume in minutes: begin with a box of the product’s size, over your own sketch.
      </p>
      <div className="pointer-events-auto flex justify-center gap-3">
        <Button weight="act" onClick={props.onBox}>
          Begin with a box
        </Button>
        <Button onClick={() => go("Sketch")}>Frame a view to pin</Button>
      </div>
    </div>
  );
}
