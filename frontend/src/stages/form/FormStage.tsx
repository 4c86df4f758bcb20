import { type ReactNode, useEffect, useMemo, useRef } from "react";
import { Vector3 } from "three";
import type { Shapes } from "../../api/client";
import { useFindingCounts, useForm, useFormSize } from "../../api/queries";
import { useEnvelope } from "../../bench/brief/useBrief";
import { useCopying } from "../../bench/copying";
import { type StageProps, useBench } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import type { Spot } from "../../ui/pointing";
import { lookCommands } from "../../view3d/looks";
import { cameraOf } from "../../view3d/orbit";
import { isShaped, type PartMesh } from "../../view3d/partMesh";
import { useAddressedOrbit } from "../../view3d/useAddressedOrbit";
import { isCurve, useParts } from "../../view3d/useParts";
import type { ViewHandle } from "../../view3d/View3D";
import { tr } from "../../words/words";
import { Beginnings } from "./Beginnings";
import { pickedAfter, UNPICKED, useCurve } from "./built/curve";
import { usePickable } from "./built/SolidEdges";
import { useCurveDrawing } from "./built/useCurveDrawing";
import { formCommands } from "./commands";
import { useFollowing } from "./detail/useFollowing";
import { FormCanvas } from "./FormCanvas";
import { FormFoot } from "./FormFoot";
import { FormInspector } from "./FormInspector";
import { FormProbe } from "./FormProbe";
import { formEye, useHand } from "./hand";
import { useMeasuring } from "./measuring";
import { placeUnder } from "./picking";
import { type SeatTo, seatNow, seatTo } from "./seat";
import { useSheetLines } from "./sheetLines";
import { isParted } from "./steps";
import { useFormStage } from "./store";
import { STEP_TOOLS } from "./tools";
import { useFormFiles } from "./useFormFiles";
import { useHands } from "./useHands";
import { countsOf, usePicks } from "./usePicks";
import { lineToolOf, useShaping } from "./useShaping";

const NONE: Shapes["Reference"][] = [];
const NO_NOTES: string[] = [];

/** Form: sculpt the product. */
export default function FormStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "form")!;
  const { data } = useForm(project, row.id);
  const notify = useBench((bench) => bench.notify);
  const state = useFormStage();
  const { set } = state;
  const parts = useParts(project, row.id, data, state.beneath);
  const meshes = useMemo(() => new Map(parts.map(({ part, mesh }) => [part.id, mesh])), [parts]);
  // the part worked on is chosen from the document, never from whichever mesh arrives first
  const shownParts = data?.body.parts?.filter((candidate) => candidate.visible) ?? [];
  const active = shownParts.find((candidate) => candidate.id === state.part) ?? shownParts[0];
  const mesh = active && meshes.get(active.id);
  const lines = useSheetLines(project, data?.body.references ?? NONE);
  const view = useRef<ViewHandle>(null);
  const canvas = useRef({ width: 800, height: 600 });
  useEffect(() => {
    set({ part: active?.id ?? null, beneath: null, skinPlace: null });
    useCurve.getState().set(UNPICKED);
  }, [active?.id, set]);
  useArrivedMesh(mesh, active?.id);
  useFollowing(project, row.id, data);
  useAddressedOrbit("Form", formEye, data, parts);

  const envelope = useEnvelope(project, documents);
  const size = useFormSize(project, row.id, data?.standing.head);

  const counts = useFindingCounts(project, row.id, data?.standing.head, true);

  const picks = usePicks(project, row.id, active, mesh);
  const { picked } = picks;
  const shaping = useShaping({
    project,
    document: row.id,
    form: data?.body,
    held: data?.held ?? {},
    active,
    mesh,
    picked,
    lines,
    view,
  });
  const { edit, place, apply, dragging, frozen } = shaping;
  const files = useFormFiles(project, row.id, active?.id);
  const lineTool = lineToolOf(state.tool, state.nexts);
  const pickable = usePickable(
    project,
    row.id,
    active && !isCurve(active) ? active.id : undefined,
    active && data?.keys[active.id],
  );
  const curves = useCurveDrawing({ project, document: row.id, state: data, meshes, lines, edit });
  const measuring = useMeasuring({ project, document: row.id, state: data, meshes, edit });
  const hands = useHands({
    mesh,
    dragging,
    onPlace:
      state.tool === "curve"
        ? curves.place
        : state.tool === "measure"
          ? measuring.place
          : state.tool === "skin-place"
            ? (spot, down) => placeOnSkin(mesh, spot, down)
            : null,
    onFace: pickable?.faces.length ? (face, adding) => pickFace(pickable.faces[face], adding) : null,
    onLine: lineTool || state.tool === "turned" || state.tool === "skin-line" ? shaping.drawn : null,
    pickMore: picks.pickMore,
    frozen,
    refuse: notify,
  });
  const cameraNow = () => cameraOf(formEye.now(), canvas.current.width, canvas.current.height);
  /** A step of the arrow keys: along the world's direction that runs most to the right, or up, on the screen. */
  const nudge = (across: number, up: number) => {
    const seat = mesh && seatNow(mesh, state.kind, picks.items);
    if (!seat) return;
    const way = new Vector3().setFromMatrixColumn(cameraNow().matrixWorld, across ? 0 : 1).multiplyScalar(across || up);
    const axis = [0, 1, 2].reduce((a, b) => (Math.abs(way.getComponent(b)) > Math.abs(way.getComponent(a)) ? b : a));
    const values: [number, number, number] = [0, 0, 0];
    values[axis] = Math.sign(way.getComponent(axis)) * state.grid;
    place({ how: "move", values, seat: seat.place.toArray() as [number, number, number] });
  };
  const seatAt = (to: SeatTo) =>
    mesh &&
    set({
      seat: seatTo(to, mesh, useHand.getState().cagePoints ?? mesh.points, state.kind, picks.items, cameraNow()),
    });

  const { planes = [], turns = 1 } = active?.symmetry ?? {};
  const commands = formCommands({
    ...picks,
    ...shaping,
    ...files,
    finishCurve: curves.finish,
    state,
    part: !!active,
    parted: isParted(active),
    curve: !!active && isCurve(active),
    shaped: !(active && isCurve(active)) && (!mesh || isShaped(mesh)),
    held: active && data?.held?.[active.id],
    symmetry: planes.length ? planes.join(" ") : turns > 1 ? `${turns} turns` : undefined,
    looks: lookCommands(formEye, () => (state.solo ? parts.filter(({ part }) => part.id === state.solo) : parts)),
    nudge,
  });

  const copying = useCopying({
    project,
    document: row.id,
    thing: active && { what: "part", items: [active.id], said: active.name },
    hint: tr("There is no part to copy yet."),
  });

  return (
    <>
      <Workplace
        project={project}
        document={row.id}
        commands={[...commands, ...copying]}
        canvas={
          <Halves
            left={
              <FormCanvas
                project={project}
                form={row.id}
                pickable={pickable}
                edit={edit}
                data={data}
                parts={parts}
                measuring={measuring}
                active={active}
                mesh={mesh}
                items={picks.items}
                lines={lines}
                drawing={!!lineTool || state.tool === "skin-line"}
                dragging={dragging}
                hands={hands}
                frozen={frozen}
                view={view}
                canvas={canvas}
                envelope={envelope}
                size={size}
                begin={shaping.begin}
                beginOver={shaping.beginOver}
                beginnings={
                  <Beginnings
                    project={project}
                    sheets={documents.filter((document) => document.kind === "sheet")}
                    envelope={envelope}
                    begin={shaping.begin}
                    beginOver={shaping.beginOver}
                    onFile={() => files.bringIn(false)}
                  />
                }
              />
            }
            right={state.beside && <FormProbe project={project} form={row.id} parts={parts} probe={state.beside} />}
          />
        }
        inspector={
          data && (
            <FormInspector
              project={project}
              document={row.id}
              documents={documents}
              form={data.body}
              meshKey={active && data.keys[active.id]}
              active={active}
              mesh={mesh}
              measuring={measuring}
              grams={active && size?.grams[active.id]}
              edit={edit}
              place={place}
              crease={(numbers) => apply(STEP_TOOLS.find((tool) => tool.kind === "creased")!, numbers)}
              seatAt={seatAt}
              beginOver={shaping.beginOver}
              counts={counts}
              pickable={pickable}
              notes={mesh?.meta.told ?? NO_NOTES}
            />
          )
        }
        foot={<FormFoot size={size} envelope={envelope} />}
      />
      {files.chooser}
    </>
  );
}

/** A touched place of the part is where the next detail goes. */
function placeOnSkin(mesh: PartMesh | undefined, spot: Spot, down: boolean): boolean {
  if (!down || !mesh) return false;
  const camera = cameraOf(useHand.getState().orbit, spot.width, spot.height);
  const place = placeUnder([mesh], camera, spot);
  if (!place) return false;
  const rounded = place.toArray().map((mm) => Math.round(1000 * mm) / 1000) as [number, number, number];
  useFormStage.getState().set({ skinPlace: rounded, tool: "pick" });
  return true;
}

/** A touched face of a built part is picked; Shift picks more. */
function pickFace(name: string | undefined, adding: boolean): void {
  if (!name) return;
  const { faces, edges, set } = useCurve.getState();
  set({ faces: pickedAfter(faces, name, adding), edges: adding ? edges : [] });
}

/** The model, and beside it what a probe shows of it. */
function Halves(props: { left: ReactNode; right: ReactNode }) {
  return (
    <div className="absolute inset-0 flex">
      <div className="relative min-w-0 flex-1">{props.left}</div>
      {props.right && <div className="relative min-w-0 flex-1 border-vein border-l-2">{props.right}</div>}
    </div>
  );
}

/** When another mesh has come, what was dragged and picked of the one before it goes where it does not fit. */
function useArrivedMesh(mesh: PartMesh | undefined, part: string | undefined): void {
  const seen = useRef<string>(undefined);
  useEffect(() => {
    useHand.setState({ cagePoints: null, bends: null, hovered: null });
    if (!mesh) return;
    const { items, kind, set } = useFormStage.getState();
    if (items.some((item) => item >= countsOf(mesh)[kind])) set({ items: [] });
    if (seen.current === part) useHand.setState({ milliseconds: mesh.meta.milliseconds });
    seen.current = part;
  }, [mesh, part]);
}
