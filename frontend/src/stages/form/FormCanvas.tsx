import { type ReactNode, type RefObject, useMemo } from "react";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { useBench } from "../../bench/store";
import type { Triple } from "../../ui/AxisFields";
import type { PartMesh } from "../../view3d/partMesh";
import { extentOf, type Shown as ShownPart } from "../../view3d/useParts";
import { View3D, type ViewHandle } from "../../view3d/View3D";
import { tr } from "../../words/words";
import { BeginOverPinned } from "./Beginnings";
import type { Pickable } from "./built/SolidEdges";
import { isDetail } from "./detail/kinds";
import { SkinLines, SkinPlace } from "./detail/SkinLines";
import { EnvelopeBox } from "./EnvelopeBox";
import { overBy } from "./FormFoot";
import { FormOverlay } from "./FormOverlay";
import { FormScene } from "./FormScene";
import { formEye } from "./hand";
import type { Measuring } from "./measuring";
import { ReferencePlane } from "./ReferencePlane";
import type { StoodLines } from "./sheetLines";
import type { StartShape } from "./starts";
import { type PickKind, useFormStage } from "./store";
import type { Dragging } from "./useDrag";
import type { FormHands } from "./useHands";

interface CanvasProps {
  project: string;
  form: string;
  data: Shapes["FormState"] | undefined;
  parts: ShownPart<PartMesh>[];
  measuring: Measuring;
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
  /** What an empty form offers. */
  beginnings: ReactNode;
  /** W, D, H in mm the brief asks for, and what the form has. */
  envelope: Triple | null;
  size: Shapes["SizeShape"] | undefined;
  /** Faces and edges of the part worked on, where it is built. */
  pickable: Pickable | undefined;
  edit: Edit;
  begin: (start: StartShape) => unknown;
  beginOver: (over: Shapes["BeginRequest"]) => unknown;
}

const NO_NAMES: string[] = [];

/** The form, what stands behind it and what lies over it. */
export function FormCanvas(props: CanvasProps) {
  const { data, parts, active, mesh, lines, project } = props;
  const { solo, shown, clear, kind, tool, skinPlace } = useFormStage();
  const notify = useBench((bench) => bench.notify);
  const problem = active && data?.problems[active.id];
  const references = data?.body.references;
  const { form } = props;
  const stands = active && data?.keys[active.id];
  const { envelope, size } = props;
  const over = !!envelope && !!size && size.parts > 0 && overBy(size, envelope).some((mm) => mm > 0.05);
  const faceNames = props.pickable?.faces ?? NO_NAMES;
  const middle = useMemo(() => extentOf(parts).target, [parts]);
  const scene = useMemo(
    () => (
      <>
        <FormScene
          parts={solo ? parts.filter(({ part }) => part.id === solo) : parts}
          active={active?.id ?? null}
          drawing={tool === "curve"}
          shown={shown}
          clear={clear}
          kind={kind}
          items={props.items}
          faceNames={faceNames}
        />
        {active && stands && active.steps.some(isDetail) && (
          <SkinLines project={project} form={form} part={active.id} stands={stands} />
        )}
        {skinPlace && <SkinPlace place={skinPlace} />}
        {envelope && <EnvelopeBox envelope={envelope} middle={middle} over={over} />}
        {references?.map((reference) => (
          <ReferencePlane
            key={reference.id}
            project={project}
            reference={reference}
            alone={!parts.length}
            lines={lines.find((stood) => stood.reference === reference.id)?.lines}
          />
        ))}
      </>
    ),
    [
      project,
      parts,
      active,
      stands,
      skinPlace,
      form,
      solo,
      shown,
      clear,
      kind,
      tool,
      props.items,
      references,
      lines,
      envelope,
      over,
      middle,
      faceNames,
    ],
  );
  return (
    <>
      <View3D
        label={tr("Form")}
        busy={!!active && !mesh && !problem}
        eye={formEye}
        hands={props.hands}
        handle={props.view}
        overlay={(size) => {
          props.canvas.current = size;
          return (
            <FormOverlay
              {...props}
              size={size}
              meshKey={active && data?.keys[active.id]}
              form={props.form}
              measures={data?.body.measures ?? []}
              refuse={notify}
            />
          );
        }}
      >
        {scene}
      </View3D>
      <span role="status" aria-label={tr("Picked")} className="sr-only">
        {active && props.items.length ? pickSaid(props.items.length, kind, active.name) : ""}
      </span>
      {problem && (
        <p role="alert" className="absolute inset-x-0 top-6 mx-auto w-fit max-w-[32rem] bg-paper px-4 py-2 text-wrong">
          {problem}
        </p>
      )}
      {data && (tool === "begin" || (tool === "pick" && !data.body.parts?.length && !references?.length)) && (
        <div className={data.body.parts?.length ? "absolute inset-0 bg-canvas/90" : ""}>{props.beginnings}</div>
      )}
      {data && tool === "pick" && !data.body.parts?.length && references?.length ? (
        <BeginOverPinned references={references} beginOver={props.beginOver} begin={props.begin} />
      ) : null}
    </>
  );
}

/** What is picked, as a screen reader is told. */
function pickSaid(count: number, kind: PickKind, part: string): string {
  const many = { points: tr("points"), edges: tr("edges"), faces: tr("faces") }[kind];
  const one = { points: tr("1 point"), edges: tr("1 edge"), faces: tr("1 face") }[kind];
  return count === 1 ? tr`${one} of ${part} is picked` : tr`${count} ${many} of ${part} are picked`;
}
