import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { AnyEdit } from "../../api/queries";
import { Button, Card, Choice, NumberField, Row, TextField } from "../../ui/controls";
import type { PartMesh } from "../../view3d/partMesh";
import type { StepValues } from "./dragging";
import { seatOf } from "./picking";
import { ReferencesCard } from "./ReferencesCard";
import { FIRST, StartFields, type StartShape } from "./starts";
import { type HandleKind, useFormStage } from "./store";

interface InspectorProps {
  project: string;
  documents: Shapes["DocumentShape"][];
  form: Shapes["Form"];
  active: Shapes["Part"] | undefined;
  mesh: PartMesh | undefined;
  picked: number[];
  edit: (edit: AnyEdit) => Promise<boolean>;
  place: (values: StepValues) => Promise<boolean>;
  crease: (value: number, sharp?: boolean) => void;
}

/** The pick's numbers, then the part, the parts, what stands behind. */
export function FormInspector(props: InspectorProps) {
  return (
    <>
      {props.mesh && <PickCard {...props} mesh={props.mesh} />}
      {props.active && <PartCard {...props} active={props.active} />}
      <PartsCard {...props} />
      <ReferencesCard project={props.project} documents={props.documents} form={props.form} edit={props.edit} />
    </>
  );
}

const LETTERS = ["W", "D", "H"] as const;

function PickCard(props: InspectorProps & { mesh: PartMesh }) {
  const { kind, items, handle, set } = useFormStage();
  const { mesh, picked } = props;
  if (!items.length) {
    return (
      <Card title="Pick" aside={kind}>
        <p className="text-quiet">
          Click {kind} on the cage or the skin; Shift adds, Shift-drag beside the form draws a box.
        </p>
      </Card>
    );
  }
  const noun = items.length === 1 ? kind.slice(0, -1) : kind;
  const seat = seatOf(mesh.points, picked);
  return (
    <Card title={`${items.length} ${noun}`} aside="handle">
      <Choice<HandleKind>
        label="Handle"
        options={["move", "turn", "size"]}
        value={handle}
        onChange={(value) => set({ handle: value })}
      />
      <HandleNumbers key={handle} how={handle} seat={seat.toArray() as [number, number, number]} place={props.place} />
      {kind === "edges" && <Creases {...props} />}
    </Card>
  );
}

/** Typed numbers for the handle: a place to go to, degrees to turn by, per cent to size to. */
function HandleNumbers(props: {
  how: HandleKind;
  seat: [number, number, number];
  place: (values: StepValues) => Promise<boolean>;
}) {
  const { how, seat, place } = props;
  const rest = how === "move" ? seat : how === "turn" ? [0, 0, 0] : [100, 100, 100];
  const words = { move: "Middle", turn: "Turn about", size: "Size along" }[how];
  const [round, setRound] = useState(0);
  const apply = async (axis: number, value: number) => {
    const values: [number, number, number] = how === "size" ? [1, 1, 1] : [0, 0, 0];
    values[axis] = how === "move" ? value - seat[axis] : how === "turn" ? value : value / 100;
    await place({ how, values, seat });
    setRound((n) => n + 1);
  };
  return (
    <div className="grid grid-cols-3 gap-1.5">
      {LETTERS.map((letter, axis) => (
        <NumberField
          key={`${letter}${round}`}
          letter={letter}
          label={`${words} ${letter}`}
          value={rest[axis]}
          digits={how === "size" ? 0 : 1}
          onChange={(value) => apply(axis, value)}
        />
      ))}
    </div>
  );
}

function Creases({ mesh, crease }: InspectorProps & { mesh: PartMesh }) {
  const items = useFormStage((state) => state.items);
  const known = new Map<string, number>();
  mesh.creaseSharpness.forEach((sharpness, at) => {
    known.set(`${mesh.creaseEdges[2 * at]},${mesh.creaseEdges[2 * at + 1]}`, sharpness);
  });
  const values = items.map((edge) => known.get(`${mesh.edges[2 * edge]},${mesh.edges[2 * edge + 1]}`) ?? 0);
  const same = values.every((value) => value === values[0]);
  const sharp = same && values[0] >= 10;
  return (
    <>
      {sharp ? (
        <Row label="Crease">fully sharp</Row>
      ) : (
        <NumberField
          label={same ? "Crease" : "Crease (mixed)"}
          value={Math.min(1, values[0] / 3)}
          min={0}
          max={1}
          step={0.05}
          digits={2}
          onChange={(value) => crease(value)}
        />
      )}
      <Button weight="quiet" onClick={() => crease(sharp ? 0 : 1, !sharp)}>
        {sharp ? "Make soft" : "Make fully sharp"}
      </Button>
    </>
  );
}

function PartCard({ active, edit }: InspectorProps & { active: Shapes["Part"] }) {
  const start = active.steps[0];
  return (
    <Card title={active.name} aside={`${active.steps.length} ${active.steps.length === 1 ? "step" : "steps"}`}>
      <TextField
        label="Name"
        value={active.name}
        onChange={(name) => edit({ kind: "change_part", part: active.id, name })}
      />
      {start.kind in FIRST && (
        <>
          <Row label={`Started from a ${start.kind}`}> </Row>
          <StartFields
            made
            start={start as StartShape}
            onChange={(step) => edit({ kind: "change_step", part: active.id, index: 0, step })}
          />
        </>
      )}
      <NumberField
        label="Smoothness level"
        value={active.level ?? 3}
        min={1}
        max={5}
        onChange={(level) => edit({ kind: "change_part", part: active.id, level: Math.round(level) })}
      />
      <Row label="Symmetry across W">
        <Button
          weight="quiet"
          pressed={active.symmetric}
          onClick={() => edit({ kind: "change_part", part: active.id, symmetric: !active.symmetric })}
        >
          {active.symmetric ? "on" : "off"}
        </Button>
      </Row>
    </Card>
  );
}

function PartsCard({ form, active, edit }: InspectorProps) {
  const set = useFormStage((state) => state.set);
  return (
    <Card title="Parts" aside={form.parts?.length ? "" : "none yet"}>
      {(form.parts ?? []).map((part) => (
        <div
          key={part.id}
          className={`-mx-4 flex items-center gap-2 border-l-[3px] px-[0.8rem] ${part.id === active?.id ? "border-act bg-raised" : "border-transparent"}`}
        >
          <button
            type="button"
            aria-label={part.visible ? `Hide ${part.name}` : `Show ${part.name}`}
            onClick={() => edit({ kind: "change_part", part: part.id, visible: !part.visible })}
            className="min-h-[24px] w-[24px] shrink-0 text-quiet"
          >
            {part.visible ? "●" : "○"}
          </button>
          <button
            type="button"
            onClick={() => set({ part: part.id, items: [] })}
            className="flex-1 truncate py-0.5 text-left"
          >
            {part.name}
          </button>
          <Button
            weight="quiet"
            label={`Remove ${part.name}`}
            onClick={() => edit({ kind: "remove_part", part: part.id })}
          >
            remove
          </Button>
        </div>
      ))}
    </Card>
  );
}
