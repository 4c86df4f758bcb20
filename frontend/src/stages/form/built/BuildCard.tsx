import { useState } from "react";
import type { Shapes } from "../../../api/client";
import { type Edit, newId } from "../../../api/queries";
import { Button, Card, Options, Picker } from "../../../ui/controls";
import { isCurve } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { useFormStage } from "../store";
import { named, OtherCurves } from "./choosing";

interface BuildProps {
  form: Shapes["Form"];
  part: Shapes["Part"];
  edit: Edit;
}

type Input = "path" | "left" | "right" | "profile2" | "profile3";

interface Way {
  kind: string;
  name: string;
  /** What the curve in hand is to it. */
  as: "profile" | "path" | "profile1";
  needs: readonly Input[];
  may?: readonly Input[];
  first: object;
}

/** What can be built of a curve. */
const WAYS: readonly Way[] = [
  { kind: "turned_profile", name: tr("Turned"), as: "profile", needs: [], first: { angle: 360 } },
  { kind: "extruded_profile", name: tr("Extruded"), as: "profile", needs: [], first: { distance: 10 } },
  { kind: "piped_path", name: tr("Piped along it"), as: "path", needs: [], first: { radius: 2 } },
  { kind: "swept_profile", name: tr("Swept along a path"), as: "profile", needs: ["path"], first: {} },
  { kind: "railed_profile", name: tr("Run along two rails"), as: "profile", needs: ["left", "right"], first: {} },
  {
    kind: "lofted_profiles",
    name: tr("Lofted to other profiles"),
    as: "profile1",
    needs: ["profile2"],
    may: ["profile3"],
    first: {},
  },
];

const INPUTS: Record<Input, string> = {
  path: tr("Path"),
  left: tr("Left rail"),
  right: tr("Right rail"),
  profile2: tr("Second profile"),
  profile3: tr("Third profile"),
};

const HOWS = [
  ["join", tr("joined")],
  ["cut away", tr("cut away")],
  ["keep common", tr("kept in common")],
] as const;

/** What a form is trimmed to, as a step takes it in: a part, or what a step before made ("step 2"). */
function room(within: string): object {
  const step = /^step (\d+)$/.exec(within);
  return step ? { kind: "step", index: Number(step[1]) } : { kind: "part", part: within };
}

/** What to build of the curve worked on: a new part, or onto one that is there. */
export function BuildCard({ form, part, edit }: BuildProps) {
  const set = useFormStage((state) => state.set);
  const [kind, setKind] = useState(WAYS[0]!.kind);
  const [inputs, setInputs] = useState<Partial<Record<Input, string>>>({});
  const [onto, setOnto] = useState("");
  const [how, setHow] = useState("join");
  const [within, setWithin] = useState("");
  const parts = form.parts ?? [];
  const curves = parts.filter((other) => other.id !== part.id && isCurve(other));
  const bodies = parts.filter((other) => !isCurve(other));
  const earlier = (bodies.find(({ id }) => id === onto)?.steps ?? []).map(
    (_, index) => [`step ${index}`, tr`what was there after step ${index + 1}`] as const,
  );
  const way = WAYS.find((one) => one.kind === kind)!;
  const missing = way.needs.find((input) => !inputs[input]);
  const build = async () => {
    const taken = Object.fromEntries(
      [...way.needs, ...(way.may ?? [])].flatMap((input) => {
        const curve = inputs[input];
        return curve ? [[input, { kind: "part", part: curve }]] : [];
      }),
    );
    const step = {
      kind: way.kind,
      ...way.first,
      tag: newId().slice(0, 6),
      inputs: {
        ...taken,
        [way.as]: { kind: "part", part: part.id },
        ...(within && { within: room(within) }),
      },
    };
    if (onto) {
      const kept = await edit({ kind: "shape", part: onto, step: { ...step, how } } as Shapes["Shape"]);
      if (kept) set({ part: onto, items: [] });
      return;
    }
    const id = newId().slice(0, 8);
    const name = `${way.name} ${bodies.length + 1}`;
    const kept = await edit({ kind: "start_part", part: id, name, start: step } as Shapes["StartPart"]);
    if (kept) set({ part: id, items: [], tool: "pick" });
  };
  return (
    <Card title={tr("Build")}>
      <Picker label={tr("It is")} value={kind} onChange={setKind}>
        <Options of={WAYS.map(({ kind, name }) => [kind, name])} />
      </Picker>
      {[...way.needs, ...(way.may ?? [])].map((input) => (
        <Picker
          key={input}
          label={INPUTS[input]}
          value={inputs[input] ?? ""}
          onChange={(curve) => setInputs({ ...inputs, [input]: curve })}
        >
          <OtherCurves of={curves} />
        </Picker>
      ))}
      <Picker
        label={tr("As")}
        value={onto}
        onChange={(next) => {
          setOnto(next);
          setWithin("");
        }}
      >
        <Options
          of={[["", tr("a part of its own")], ...bodies.map(({ id, name }) => [id, tr`a step of ${name}`] as const)]}
        />
      </Picker>
      {onto && (
        <Picker label={tr("There it is")} value={how} onChange={setHow}>
          <Options of={HOWS} />
        </Picker>
      )}
      <Picker label={tr("Only within")} value={within} onChange={setWithin}>
        <Options of={[["", tr("all of it")], ...named(bodies.filter(({ id }) => id !== onto)), ...earlier]} />
      </Picker>
      {missing ? (
        <p className="text-quiet">{tr`Choose its ${INPUTS[missing].toLowerCase()} to build it.`}</p>
      ) : (
        <Button weight="act" onClick={build}>
          {tr("Build it")}
        </Button>
      )}
    </Card>
  );
}
