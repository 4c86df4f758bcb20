import { useState } from "react";
import { changedFields } from "../../api/change";
import type { Shapes } from "../../api/client";
import { bodyOf, type Edit, newId, useDivisions } from "../../api/queries";
import { MATERIALS } from "../../api/values";
import { AxisFields, LETTERS, type Letter, type Triple, withAxis } from "../../ui/AxisFields";
import { Button, Card, Choice, Row, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import { OneStop } from "../../ui/OneStop";
import { isCurve } from "../../view3d/useParts";
import { tr } from "../../words/words";
import { FIRST, StartFields, type StartShape } from "./starts";
import { hasNumbers, isParted, StepFields } from "./steps";
import { useFormStage } from "./store";

interface PartProps {
  project: string;
  document: string;
  form: Shapes["Form"];
  active: Shapes["Part"];
  /** Names what it looks like. */
  meshKey: string | undefined;
  grams: number | undefined;
  /** What is to be known of how it was made. */
  notes: string[];
  edit: Edit;
}

/** What a part began with, in words. */
const BEGAN: Record<StartShape["kind"], string> = {
  box: "a box",
  sphere: "a sphere",
  cylinder: "a cylinder",
  tube: "a tube",
  ring: "a ring",
  disc: "a disc",
  grid: "a grid",
  turned: "a turned profile",
  outlined: "an outline",
};

type Material = NonNullable<Shapes["Part"]["material"]>;

/** The part worked on: its name, symmetry, smoothness, copies. */
export function PartCard(props: PartProps) {
  const { active, edit, form } = props;
  const read = useReading();
  const change = (fields: Partial<Shapes["ChangePart"]>) => edit({ kind: "change_part", part: active.id, ...fields });
  const start = active.steps[0]!; // a part begins with its start
  const others = (form.parts ?? []).filter((part) => part.id !== active.id);
  const source = form.parts?.find((part) => part.id === active.link);
  const place = active.steps.at(-1)!;
  const curve = isCurve(active);
  const shaped = start.kind in FIRST || start.kind === "imported";
  return (
    <Card title={active.name} aside={active.locked ? tr("locked") : source ? tr`follows ${source.name}` : ""}>
      <TextField label={tr("Name")} value={active.name} onChange={(name) => change({ name })} />
      <TextField label={tr("Group")} value={active.group ?? ""} onChange={(group) => change({ group })} />
      {!curve && <MadeOf active={active} onChange={(material) => change({ material })} />}
      {props.notes.map((note) => (
        <p key={note} className="border-warn border-l-[3px] pl-2">
          {read.sentence(note)}
        </p>
      ))}
      {props.grams !== undefined && <Row label={tr("Weighs, solid")}>{read.number(props.grams, 1)} g</Row>}
      {start.kind in FIRST && !source && (
        <>
          <Row label={tr`Started from ${BEGAN[start.kind as StartShape["kind"]]}`}> </Row>
          <StartFields made start={start as StartShape} onChange={(fields) => amendStep(props, 0, fields)} />
        </>
      )}
      {shaped && <SymmetryFields {...props} />}
      {start.kind !== "still" && !curve && (
        <>
          <NumberField
            label={tr("Smoothness level")}
            value={active.level ?? 3}
            min={1}
            max={5}
            onChange={(level) => change({ level: Math.round(level) })}
          />
          <NumberField
            label={tr("Smoothness in takes")}
            value={active.take_level ?? Math.max(3, active.level ?? 3)}
            min={1}
            max={6}
            onChange={(level) => change({ take_level: Math.round(level) })}
          />
          {shaped && <Divisions {...props} />}
        </>
      )}
      {place.kind === "stood" && (
        <StepFields
          kind="stood"
          values={{ ...place }}
          of={active.steps.length}
          parted={isParted(active)}
          onChange={(fields) => amendStep(props, active.steps.length - 1, fields)}
        />
      )}
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => duplicate(props, false)}>{tr("Copy")}</Button>
        <Button onClick={() => duplicate(props, true)}>{tr("Linked copy")}</Button>
        {source && (
          <Button onClick={() => edit({ kind: "break_link", part: active.id })}>{tr("Break the link")}</Button>
        )}
      </div>
      {others.length > 0 && !source && shaped && (
        <label className="flex items-center justify-between gap-3 text-quiet">
          {tr("Merge in")}
          <select
            aria-label={tr("Merge in")}
            value=""
            onChange={(event) =>
              event.target.value && edit({ kind: "merge_parts", part: active.id, other: event.target.value })
            }
            className="border border-vein bg-raised text-ink"
          >
            <option value="">{tr("another part …")}</option>
            {others.map((part) => (
              <option key={part.id} value={part.id}>
                {part.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </Card>
  );
}

function MadeOf({ active, onChange }: { active: Shapes["Part"]; onChange: (material: Material) => unknown }) {
  return (
    <label className="flex items-center justify-between gap-3 text-quiet">
      {tr("Made of")}
      <select
        aria-label={tr("Made of")}
        value={active.material ?? ""}
        onChange={(event) => event.target.value && onChange(event.target.value as Material)}
        className="border border-vein bg-raised text-ink"
      >
        {!active.material && <option value="">{tr("not said")}</option>}
        {MATERIALS.filter((material) => material !== null).map((material) => (
          <option key={material} value={material}>
            {tr(material)}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Other numbers for a step: only those that were changed are sent. */
function amendStep({ active, edit }: Pick<PartProps, "active" | "edit">, index: number, fields: object) {
  const step = active.steps[index]!;
  return edit({ amend: { kind: "step", part: active.id, index, fields: changedFields(step, { ...step, ...fields }) } });
}

function duplicate({ active, edit, form }: PartProps, linked: boolean) {
  const names = new Set((form.parts ?? []).map((part) => part.name));
  let number = 2;
  while (names.has(`${active.name.slice(0, 50)} ${number}`)) number++;
  edit({
    kind: "duplicate_part",
    part: active.id,
    copy_id: newId().slice(0, 8),
    name: `${active.name.slice(0, 50)} ${number}`,
    linked,
    stood: { kind: "stood", move: linked ? [10, 0, 0] : [0, 0, 0] },
  });
}

/** Across planes, or by turns about an axis. Switched off, both sides stay as they are. */
function SymmetryFields({ active, document, edit }: Pick<PartProps, "active" | "document" | "edit">) {
  const symmetry = active.symmetry ?? {};
  const change = (say: (now: NonNullable<Shapes["Part"]["symmetry"]>) => Shapes["ChangePart"]["symmetry"]) =>
    edit(async () => {
      const now = bodyOf<Shapes["Form"]>(document)?.parts?.find(({ id }) => id === active.id);
      return { kind: "change_part", part: active.id, symmetry: say(now?.symmetry ?? {}) };
    });
  const across = (letter: Letter) =>
    change(({ planes = [] }) => ({
      planes: planes.includes(letter) ? planes.filter((other) => other !== letter) : [...planes, letter],
    }));
  const planes = (symmetry.planes ?? []) as Letter[];
  const turns = symmetry.turns ?? 1;
  const centre = (symmetry.centre ?? [0, 0, 0]) as [number, number, number];
  return (
    <>
      <Row label={tr("Symmetry across")}>
        <span className="flex gap-2">
          {LETTERS.map((letter) => (
            <Button
              key={letter}
              weight="quiet"
              label={tr`Symmetry across ${letter}`}
              pressed={planes.includes(letter)}
              onClick={() => across(letter)}
            >
              {letter}
            </Button>
          ))}
        </span>
      </Row>
      <NumberField
        label={tr("Symmetry by turns")}
        value={turns}
        min={1}
        max={128}
        onChange={(value) => change((now) => ({ ...now, planes: [], turns: Math.round(value) }))}
      />
      {turns > 1 && (
        <>
          <Choice
            label={tr("Turns about")}
            options={LETTERS}
            value={(symmetry.axis ?? "H") as Letter}
            onChange={(axis) => change((now) => ({ ...now, axis }))}
          />
          <AxisFields
            label={tr("Axis at")}
            unit="mm"
            values={centre}
            digits={1}
            onChange={(next, at) =>
              change((now) => ({ ...now, centre: withAxis((now.centre ?? [0, 0, 0]) as Triple, at, next[at]!) }))
            }
          />
        </>
      )}
      {(planes.length > 0 || turns > 1) && (
        <Button weight="quiet" onClick={() => change(() => ({}))}>
          {tr("Apply symmetry and go on without")}
        </Button>
      )}
    </>
  );
}

/** Where the form twists or turns too much for its divisions. */
function Divisions(props: PartProps) {
  const { project, document, active } = props;
  const set = useFormStage((state) => state.set);
  const faces = useDivisions(project, document, active.id, props.meshKey)?.faces ?? [];
  const [worst] = faces;
  if (!worst) return null;
  return (
    <div className="border-warn border-l-[3px] pl-2">
      <p>
        {tr("Too few divisions in")} {faces.length} {faces.length === 1 ? tr("face") : tr("faces")}
        {tr(": the skin turns by")} {Math.round(worst.turn)}
        {tr("°, the cage twists by")} {Math.round(worst.twist)}°.
      </p>
      <Button weight="quiet" onClick={() => set({ kind: "faces", items: faces.map((one) => one.face), tool: "pick" })}>
        {tr("Pick them")}
      </Button>
    </div>
  );
}

/** Every step of the part, oldest first; its numbers can be changed at any time. */
export function RecipeCard({ active, edit }: Pick<PartProps, "active" | "edit">) {
  const [open, setOpen] = useState<number | null>(null);
  const read = useReading();
  return (
    <Card title={tr("Recipe")} aside={active.steps.length === 1 ? tr("1 step") : tr`${active.steps.length} steps`}>
      <OneStop as="ol" className="max-h-[18rem] overflow-y-auto">
        {active.steps.map((step, index) => (
          <li key={index} className={open === index ? "border-act border-l-[3px] pl-2" : ""}>
            <button
              type="button"
              aria-expanded={open === index}
              onClick={() => setOpen(open === index ? null : index)}
              className="flex w-full gap-2 text-left hover:text-act"
            >
              <span className="w-5 shrink-0 text-right text-quiet">{index + 1}</span>
              <span>{read.sentence(step.said || step.kind)}</span>
            </button>
            {open === index && (
              <div className="space-y-1.5 py-1 pl-7">
                {hasNumbers(step) ? (
                  <StepFields
                    kind={step.kind}
                    values={{ ...step }}
                    of={index + 1}
                    parted={isParted(active)}
                    onChange={(fields) => amendStep({ active, edit }, index, fields)}
                  />
                ) : (
                  index > 0 && <p className="text-quiet">{tr("This step has no numbers.")}</p>
                )}
                {index > 0 && (
                  <Button
                    weight="quiet"
                    label={tr`Take step ${index + 1} out`}
                    onClick={async () => {
                      if (await edit({ kind: "drop_step", part: active.id, index })) setOpen(null);
                    }}
                  >
                    {tr("Take it out")}
                  </Button>
                )}
              </div>
            )}
          </li>
        ))}
      </OneStop>
    </Card>
  );
}
