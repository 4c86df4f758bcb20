import { useState } from "react";
import type { Shapes } from "../../../api/client";
import { type Edit, newId } from "../../../api/queries";
import { Button, Card, Disclosure, Options, Picker, Row } from "../../../ui/controls";
import { isCurve } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { StepFields, type StepKind } from "../steps";
import { useFormStage } from "../store";
import { named } from "./choosing";
import { useCurve } from "./curve";
import { useDrawOn } from "./drawOn";
import { Measured } from "./Measured";
import { edgeOf, type Pickable } from "./SolidEdges";

interface SolidProps {
  /** The key of the part as it stands. */
  stands: string | undefined;
  project: string;
  document: string;
  form: Shapes["Form"];
  part: Shapes["Part"];
  pickable: Pickable | undefined;
  edit: Edit;
}

/** What the next step of each kind begins with. */
const FIRST = {
  combined: { how: "join", blend: 0 },
  rounded: { radius: 2, end: null },
  chamfered: { width: 1 },
  hollowed: { wall: 1.6 },
  moved_out: { distance: 1 },
  split_solid: { axis: "H", at: 0, gap: 0.2, above: true },
  repeated_along: { count: 3, step: [20, 0, 0] },
  repeated_round: { count: 6, axis: "H", at: [0, 0, 0], angle: 360 },
  mirrored_solid: { axis: "W", at: 0 },
  capped: {},
  exact: {},
  follower: {},
  healed: {},
} as const;
type SolidKind = keyof typeof FIRST;

const NAMES: Record<SolidKind, { name: string; apply: string }> = {
  combined: { name: tr("With another part"), apply: tr("Do it") },
  rounded: { name: tr("Round edges"), apply: tr("Round picked edges") },
  chamfered: { name: tr("Chamfer edges"), apply: tr("Chamfer picked edges") },
  hollowed: { name: tr("Hollow"), apply: tr("Hollow it") },
  moved_out: { name: tr("Offset the skin"), apply: tr("Offset it") },
  split_solid: { name: tr("Split in two"), apply: tr("Split into two parts") },
  repeated_along: { name: tr("Repeat along a line"), apply: tr("Repeat it") },
  repeated_round: { name: tr("Repeat round an axis"), apply: tr("Repeat it") },
  mirrored_solid: { name: tr("Mirror and join"), apply: tr("Mirror it") },
  capped: { name: tr("Cap openings"), apply: tr("Cap them") },
  exact: { name: tr("Make exact faces"), apply: tr("Make it exact") },
  follower: { name: tr("A solid that follows it"), apply: tr("Begin it as a part") },
  healed: { name: tr("Heal"), apply: tr("Heal it") },
};

/** What can be done with a part as a solid; a sculpted one becomes exact faces with the first of it. */
export function SolidCard(props: SolidProps) {
  const { project, document, form, part, pickable, edit } = props;
  const drawOn = useDrawOn(project, document);
  const { edges, faces, set } = useCurve();
  const [kind, setKind] = useState<SolidKind>("combined");
  const [numbers, setNumbers] = useState<Record<SolidKind, Record<string, unknown>>>({ ...FIRST });
  const [other, setOther] = useState("");
  const [by, setBy] = useState("");
  const others = (form.parts ?? []).filter((one) => one.id !== part.id && !isCurve(one));
  const sculpted = !pickable?.faces.length;
  const shape = (step: object) => edit({ kind: "shape", part: part.id, step } as Shapes["Shape"]);
  const apply = async () => {
    const tag = newId().slice(0, 6);
    if (kind === "split_solid") {
      const name = tr`${part.name.slice(0, 50)} below`;
      const inputs = by ? { inputs: { by: { kind: "part", part: by } } } : {};
      const split = { kind, ...numbers.split_solid, tag, ...inputs };
      await edit({
        kind: "part_off",
        part: part.id,
        other: newId().slice(0, 8),
        name,
        step: split,
      } as Shapes["PartOff"]);
      return;
    }
    if (kind === "follower") {
      const id = newId().slice(0, 8);
      const start = {
        kind: "exact",
        name: part.name.slice(0, 60),
        tag,
        inputs: { of: { kind: "part", part: part.id } },
      };
      const name = tr`${part.name.slice(0, 50)}, solid`;
      if (await edit({ kind: "start_part", part: id, name, start } as Shapes["StartPart"])) {
        useFormStage.getState().set({ part: id, items: [] });
      }
      return;
    }
    if (kind === "combined") {
      const combined = { kind, ...numbers.combined, tag };
      await edit({ kind: "combine_parts", part: part.id, other, step: combined } as Shapes["CombineParts"]);
      return;
    }
    const picked = kind === "rounded" || kind === "chamfered" ? { edges: edges.map(edgeOf) } : {};
    const open = kind === "hollowed" ? { open: faces } : {};
    if (await shape({ kind, ...numbers[kind], tag, ...picked, ...open })) set({ edges: [], faces: [] });
  };
  const wants = wanting(kind, { other, edges: edges.length, sculpted });
  return (
    <Card title={tr("Solid")} aside={sculpted ? "" : tr`${pickable!.faces.length} faces`}>
      <Picker label={tr("Next")} value={kind} onChange={(value) => setKind(value as SolidKind)}>
        <Options of={Object.entries(NAMES).map(([value, { name }]) => [value, name])} />
      </Picker>
      {kind === "combined" && (
        <Picker label={tr("The other")} value={other} onChange={setOther}>
          <Options
            of={[["", others.length ? tr("choose a part …") : tr("there is no other part yet")], ...named(others)]}
          />
        </Picker>
      )}
      {kind === "split_solid" && (
        <Picker label={tr("Along")} value={by} onChange={setBy}>
          <Options of={[["", tr("a plane")], ...named((form.parts ?? []).filter(({ id }) => id !== part.id))]} />
        </Picker>
      )}
      <StepFields
        kind={kind as StepKind}
        values={by && kind === "split_solid" ? { ...numbers[kind], inputs: { by } } : numbers[kind]}
        onChange={(fields) => setNumbers({ ...numbers, [kind]: { ...numbers[kind], ...fields } })}
      />
      {!sculpted && (
        <Row label={tr("Picked")}>
          <span>{pickedSaid(edges.length, faces.length)}</span>
          {faces.length === 1 && (
            <Button weight="quiet" onClick={() => drawOn({ face: faces[0]! }, tr`a face of ${part.name}`, part.id)}>
              {tr("draw on it")}
            </Button>
          )}
          {edges.length + faces.length > 0 && (
            <Button weight="quiet" onClick={() => set({ edges: [], faces: [] })}>
              {tr("none")}
            </Button>
          )}
        </Row>
      )}
      {!sculpted && <Measured {...{ project, document, edges, faces }} part={part.id} stands={props.stands} />}
      {wants ? (
        <p className="text-quiet">{wants}</p>
      ) : (
        <Button weight="act" onClick={apply}>
          {NAMES[kind].apply}
        </Button>
      )}
      {!sculpted && kind === "hollowed" && <OpenFaces pickable={pickable!} />}
    </Card>
  );
}

/** How much is picked, in words. */
function pickedSaid(edges: number, faces: number): string {
  const lines = edges === 1 ? tr("1 edge") : tr`${edges} edges`;
  const patches = faces === 1 ? tr("1 face") : tr`${faces} faces`;
  if (edges && faces) return tr`${lines}, ${patches}`;
  return edges ? lines : faces ? patches : tr("nothing yet");
}

/** What is still wanting for a step; nothing where it can be done. */
function wanting(kind: SolidKind, has: { other: string; edges: number; sculpted: boolean }): string | null {
  if (kind === "combined") return has.other ? null : tr("Choose the part to join, cut away or keep in common.");
  if (kind === "rounded" || kind === "chamfered") {
    if (has.sculpted) return tr("A sculpted skin has no edges to pick yet. Make exact faces first.");
    return has.edges ? null : tr("Touch edges of the part, with Shift for more.");
  }
  return null;
}

/** Faces to leave open, by touch on the list: the same as on the part. */
function OpenFaces({ pickable }: { pickable: Pickable }) {
  const { faces, set } = useCurve();
  return (
    <Disclosure title={tr("Faces to leave open")}>
      <div className="flex max-h-[10rem] flex-wrap gap-1 overflow-y-auto">
        {pickable.faces.map((face, index) => (
          <Button
            key={face}
            weight="quiet"
            pressed={faces.includes(face)}
            label={tr`Face ${index + 1}`}
            onClick={() =>
              set({ faces: faces.includes(face) ? faces.filter((one) => one !== face) : [...faces, face] })
            }
          >
            {index + 1}
          </Button>
        ))}
      </div>
    </Disclosure>
  );
}
