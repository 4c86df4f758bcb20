import { useState } from "react";
import type { Shapes } from "../../../api/client";
import { type Edit, newId } from "../../../api/queries";
import { Button, Card, Options, Picker, Switch } from "../../../ui/controls";
import { useReading } from "../../../ui/numbers/reading";
import type { PartMesh } from "../../../view3d/partMesh";
import { isCurve } from "../../../view3d/useParts";
import { tr } from "../../../words/words";
import { named } from "../built/choosing";
import { StepFields, type StepKind } from "../steps";
import { useFormStage } from "../store";
import { ALIKE, DETAIL_KINDS, DETAILS, type DetailKind, isDetail, linesOf, OWN_PARTS } from "./kinds";
import { Spreading } from "./Spreading";

interface DetailProps {
  project: string;
  document: string;
  form: Shapes["Form"];
  part: Shapes["Part"];
  mesh: PartMesh;
  edit: Edit;
}

const firsts = () =>
  Object.fromEntries(DETAIL_KINDS.map((kind) => [kind, DETAILS[kind].first])) as Record<
    DetailKind,
    Record<string, unknown>
  >;

/** What can be put on the skin of a part: lines, and what is made along them. */
export function DetailCard({ project, document, form, part, mesh, edit }: DetailProps) {
  const { kind: picked, items, beneath, skinSmooth, skinPlace, tool, set } = useFormStage();
  const lines = linesOf(part.steps);
  const [chosen, setKind] = useState<DetailKind | null>(null);
  const [numbers, setNumbers] = useState(firsts);
  const [line, setLine] = useState<number | null>(null);
  const [plane, setPlane] = useState("");
  const [profile, setProfile] = useState("");
  const [drawing, setDrawing] = useState("");
  const [element, setElement] = useState("");
  const [far, setFar] = useState("");
  const [alone, setAlone] = useState(false);
  const read = useReading();
  const kind = chosen ?? (lines.length ? "along_line" : "section_line");
  const { takes, apply: said } = DETAILS[kind];
  const has = (what: (typeof takes)[number] | string) => (takes as readonly string[]).includes(what);
  const along = lines.some(([index]) => index === line) ? line : (lines.at(-1)?.[0] ?? null);
  const curves = (form.parts ?? []).filter(isCurve);
  const edges =
    picked === "edges" && mesh.edges.length
      ? items.map((edge) => [mesh.edges[2 * edge]!, mesh.edges[2 * edge + 1]!])
      : [];
  const otherSides = ALIKE.includes(kind) ? part.symmetry : null;
  const inputs = {
    ...(has("line") && along !== null && { line: { kind: "step", index: along } }),
    ...(has("plane") && plane && { plane: { kind: "part", part: plane } }),
    ...(has("within") && drawing && { within: { kind: "part", part: drawing } }),
    ...(has("curve") && drawing && { curve: { kind: "part", part: drawing } }),
    ...(has("other") && element && { other: { kind: "part", part: element } }),
    ...(has("profile") && profile && { profile: { kind: "part", part: profile } }),
  };
  const values: Record<string, unknown> =
    kind === "drawn_line"
      ? { smooth: skinSmooth }
      : { ...numbers[kind], ...(has("place") && { at: skinPlace ?? [0, 0, 0] }), inputs };
  const others = (form.parts ?? []).filter(({ id }) => id !== part.id);
  const farLines = others.flatMap((other) =>
    linesOf(other.steps).flatMap(([index, what]) => {
      const tag = other.steps[index]?.tag;
      return tag ? [{ value: `${other.id} ${tag}`, name: tr`${other.name}: ${read.sentence(what)}` }] : [];
    }),
  );
  /** Stitches, and what is spread or repeated, are a part of their own with its own finish. */
  const begin = async (step: { kind: string; inputs: object }) => {
    const id = newId().slice(0, 8);
    const tag = along === null ? "" : (part.steps[along]?.tag ?? "");
    const [farPart = "", farTag = ""] = far.split(" ");
    const source = form.parts?.find((other) => other.id === (kind === "spread" ? element : part.id));
    const inputs = {
      stitched: { line: { kind: "part", part: part.id, at: tag } },
      spread: { ...step.inputs, element: { kind: "part", part: element }, on: { kind: "part", part: part.id } },
      repeated: {
        element: { kind: "part", part: part.id },
        ...(far && { line: { kind: "part", part: farPart, at: farTag } }),
      },
    }[kind as "stitched" | "spread" | "repeated"];
    const named = kind === "stitched" ? {} : { name: (source?.name ?? "").slice(0, 60) };
    const start = { ...step, ...named, inputs };
    const name = {
      stitched: tr`Stitches on ${part.name.slice(0, 40)}`,
      spread: tr`${(source?.name ?? "").slice(0, 40)}, spread`,
      repeated: tr`${part.name.slice(0, 40)}, repeated`,
    }[kind as "stitched" | "spread" | "repeated"];
    const doing = { kind: "start_part", part: id, name, start };
    if (await edit(doing as unknown as Shapes["StartPart"]))
      set({ part: id, items: [], tool: "pick", skinPlace: null });
  };
  const put = async () => {
    if (kind === "drawn_line") return set({ tool: "skin-line", items: [] });
    const step = {
      kind,
      ...numbers[kind],
      tag: newId().slice(0, 6),
      inputs,
      ...(kind === "row_line" && { edges }),
      ...(has("other") && { name: (others.find(({ id }) => id === element)?.name ?? "").slice(0, 60) }),
      ...(has("place") && { at: skinPlace }),
      ...(otherSides && !alone && { symmetry: otherSides }),
    };
    if (OWN_PARTS.includes(kind)) return begin(step);
    const parts = kind === "parted_along" || kind === "cut_within";
    const doing = parts
      ? {
          kind: "part_along",
          part: part.id,
          other: newId().slice(0, 8),
          name: tr`${part.name.slice(0, 50)}, the rest`,
          step,
        }
      : { kind: "shape", part: part.id, step };
    const kept = await edit(doing as unknown as Shapes["Shape"]);
    if (!kept) return;
    set({ beneath: null, ...(has("place") && { skinPlace: null }) });
    if (kind.endsWith("_line") && kind !== "along_line") {
      setKind("along_line");
      setLine(null);
    }
  };
  const wants = wanting(kind, {
    place: !!skinPlace,
    drawing: !!drawing,
    element: !!element,
    far: !!far || numbers.repeated.way !== "line",
    line: along !== null,
    edges: edges.length > 0,
    caged: mesh.edges.length > 0,
  });
  const details = part.steps.filter(isDetail).length;
  return (
    <Card title={tr("Detail")} aside={details ? tr`${details} on its skin` : ""}>
      <Picker label={tr("Put on it")} value={kind} onChange={(value) => setKind(value as DetailKind)}>
        <Options of={DETAIL_KINDS.map((value) => [value, DETAILS[value].name])} />
      </Picker>
      {has("line") && lines.length > 0 && (
        <Picker label={tr("Along")} value={String(along)} onChange={(value) => setLine(Number(value))}>
          <Options of={lines.map(([index, what]) => [String(index), tr`${index + 1}: ${read.sentence(what)}`])} />
        </Picker>
      )}
      {(has("element") || has("other")) && (
        <Picker label={has("other") ? tr("The other") : tr("Of")} value={element} onChange={setElement}>
          <Options of={[["", tr("choose a part …")], ...named(others.filter((other) => !isCurve(other)))]} />
        </Picker>
      )}
      {has("far-line") && numbers.repeated.way === "line" && (
        <Picker label={tr("Line")} value={far} onChange={setFar}>
          <Options
            of={[
              ["", farLines.length ? tr("choose a line …") : tr("no other part has a line yet")],
              ...farLines.map(({ value, name }) => [value, name] as const),
            ]}
          />
        </Picker>
      )}
      {has("plane") && curves.length > 0 && (
        <Picker label={tr("Plane")} value={plane} onChange={setPlane}>
          <Options of={[["", tr("by numbers")], ...named(curves)]} />
        </Picker>
      )}
      {has("profile") && curves.length > 0 && (
        <Picker label={tr("Cross-section")} value={profile} onChange={setProfile}>
          <Options of={[["", tr("by numbers")], ...named(curves)]} />
        </Picker>
      )}
      {(has("within") || has("curve")) && (curves.length > 0 || has("curve")) && (
        <Picker label={has("curve") ? tr("Drawing") : tr("Field")} value={drawing} onChange={setDrawing}>
          <Options
            of={[
              [
                "",
                has("within") ? tr("by numbers") : curves.length ? tr("choose a curve …") : tr("there is no curve yet"),
              ],
              ...named(curves),
            ]}
          />
        </Picker>
      )}
      {has("place") && (
        <Button
          pressed={tool === "skin-place"}
          onClick={() => set({ tool: tool === "skin-place" ? "pick" : "skin-place", items: [] })}
        >
          {skinPlace ? tr("Touch another place") : tr("Touch its place on the part")}
        </Button>
      )}
      <StepFields
        kind={kind as StepKind}
        values={values}
        onChange={(fields) => {
          if (kind === "drawn_line") return set({ skinSmooth: (fields.smooth as number | undefined) ?? skinSmooth });
          if (fields.at) set({ skinPlace: fields.at as [number, number, number] });
          setNumbers({ ...numbers, [kind]: { ...numbers[kind], ...fields } });
        }}
      />
      {otherSides && <Switch label={tr("On its other sides too")} on={!alone} onChange={(on) => setAlone(!on)} />}
      {wants ? (
        <p className="text-quiet">{wants}</p>
      ) : (
        <Button weight="act" onClick={put}>
          {said}
        </Button>
      )}
      {OWN_PARTS.includes(part.steps[0]?.kind as DetailKind) && part.steps[0]?.kind !== "stitched" && (
        <Spreading {...{ project, document, part, edit }} />
      )}
      {details > 0 && (
        <Button
          pressed={beneath === part.id}
          onClick={() => set({ beneath: beneath === part.id ? null : part.id, items: [] })}
        >
          {beneath === part.id ? tr("Show its details again") : tr("Shape beneath its details")}
        </Button>
      )}
    </Card>
  );
}

/** What is still wanting for a detail; nothing where it can be put. */
function wanting(
  kind: DetailKind,
  has: Record<"line" | "edges" | "caged" | "place" | "drawing" | "element" | "far", boolean>,
): string | null {
  const takes: readonly string[] = DETAILS[kind].takes;
  if (takes.includes("line") && !has.line)
    return tr("Lay a line on the skin first: by a plane, by hand or along edges.");
  if (takes.includes("other") && !has.element) return tr("Choose the part whose skin it meets.");
  if (takes.includes("element") && !has.element) return tr("Choose the part to spread; it stands on its origin.");
  if (takes.includes("far-line") && !has.far) return tr("Choose the line to repeat it along.");
  if (takes.includes("curve") && !has.drawing)
    return tr("Choose the curve to set on the skin, or bring one from DXF or SVG.");
  if (takes.includes("place") && !has.place) return tr("Say where: touch its place on the part, or type it.");
  if (takes.includes("edges") && !has.edges) {
    return has.caged
      ? tr("Pick edges of the cage that hang together, end to end.")
      : tr("Only a sculpted part has a cage whose edges a line can follow. Shape beneath its details to pick them.");
  }
  return null;
}
