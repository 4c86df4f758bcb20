import type { ReactNode } from "react";
import { changedFields } from "../../api/change";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { SWEEPS } from "../../api/values";
import { Button, Card, Choice, Row, Switch } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import type { Guide } from "./GuideMarks";

const NAMES: Record<Guide["kind"], string> = {
  straightedge: tr("Straightedge"),
  ellipse: tr("Ellipse"),
  circle: tr("Circle on a face"),
  division: tr("Division"),
  sweep: tr("Sweep curve"),
};

/** Guides on the page, by number. */
export function GuidesCard(props: { guides: Guide[]; edit: Edit }) {
  return (
    <Card title={tr("Guides")} aside={`${props.guides.length}`}>
      {props.guides.map((guide, index) => (
        <section key={guide.id} aria-label={tr`Guide ${index + 1}`} className="space-y-1.5">
          <div className="flex items-center justify-between">
            <span>{NAMES[guide.kind]}</span>
            <Button
              weight="quiet"
              label={tr`Take away guide ${index + 1}`}
              onClick={() => props.edit({ kind: "remove_guide", id: guide.id })}
            >
              {tr("Take away")}
            </Button>
          </div>
          <Numbers
            guide={guide}
            number={index + 1}
            put={(next) => props.edit({ amend: { kind: "guide", id: guide.id, fields: changedFields(guide, next) } })}
          />
        </section>
      ))}
    </Card>
  );
}

function Numbers({ guide, number, put }: { guide: Guide; number: number; put: (guide: Guide) => void }): ReactNode {
  const name = (what: string) => tr`${what}, guide ${number}`;
  if (guide.kind === "ellipse") {
    return (
      <>
        <NumberField
          label={name(tr("Half across"))}
          value={guide.across}
          min={2}
          unit="px"
          onChange={(across) => put({ ...guide, across })}
        />
        <NumberField
          label={name(tr("Half down"))}
          value={guide.down}
          min={2}
          unit="px"
          onChange={(down) => put({ ...guide, down })}
        />
        <Turn guide={guide} name={name} put={put} />
      </>
    );
  }
  if (guide.kind === "circle") {
    const [x, y] = guide.centre as [number, number];
    return (
      <>
        <Row label={tr("Lies on")}>{guide.face}</Row>
        <NumberField
          label={name(tr("Across"))}
          value={x}
          digits={1}
          unit="mm"
          onChange={(to) => put({ ...guide, centre: [to, y] })}
        />
        <NumberField
          label={name(tr("Along"))}
          value={y}
          digits={1}
          unit="mm"
          onChange={(to) => put({ ...guide, centre: [x, to] })}
        />
        <NumberField
          label={name(tr("Radius"))}
          value={guide.radius}
          digits={1}
          min={0.1}
          unit="mm"
          onChange={(radius) => put({ ...guide, radius })}
        />
      </>
    );
  }
  if (guide.kind === "division") return <DivisionNumbers guide={guide} name={name} put={put} />;
  if (guide.kind === "sweep") {
    return (
      <>
        <Choice
          label={name(tr("Family"))}
          options={SWEEPS}
          value={guide.family ?? "easing"}
          onChange={(family) => put({ ...guide, family })}
        />
        <NumberField
          label={name(tr("Bend"))}
          value={(guide.bend ?? 1) * 100}
          min={10}
          max={200}
          step={5}
          unit="%"
          onChange={(bend) => put({ ...guide, bend: bend / 100 })}
        />
        <NumberField
          label={name(tr("Length"))}
          value={guide.length}
          min={8}
          unit="px"
          onChange={(length) => put({ ...guide, length })}
        />
        <Turn guide={guide} name={name} put={put} />
        <Switch
          label={name(tr("Flip"))}
          word={tr("Flip")}
          on={guide.flipped ?? false}
          onChange={(flipped) => put({ ...guide, flipped })}
        />
        <Switch
          label={name(tr("Curvature comb"))}
          word={tr("Curvature comb")}
          on={guide.comb ?? false}
          onChange={(comb) => put({ ...guide, comb })}
        />
      </>
    );
  }
  return null;
}

function Turn<T extends Shapes["EllipseGuide"] | Shapes["SweepGuide"]>(props: {
  guide: T;
  name: (what: string) => string;
  put: (guide: Guide) => void;
}) {
  return (
    <NumberField
      label={props.name(tr("Turn"))}
      value={props.guide.turn ?? 0}
      digits={1}
      unit="°"
      onChange={(turn) => props.put({ ...props.guide, turn } as Guide)}
    />
  );
}

function DivisionNumbers(props: {
  guide: Shapes["DivisionGuide"];
  name: (what: string) => string;
  put: (guide: Guide) => void;
}) {
  const { guide, name, put } = props;
  const field = (
    label: string,
    key: "columns" | "rows" | "on_across" | "on_down",
    value: number,
    low: number,
    high: number,
  ) => (
    <NumberField
      label={name(label)}
      value={value}
      min={low}
      max={high}
      onChange={(next) => put({ ...guide, kind: "division", [key]: Math.round(next) } as Guide)}
    />
  );
  return (
    <>
      {guide.face && <Row label={tr("Lies on")}>{guide.face}</Row>}
      {field(tr("Parts across"), "columns", guide.columns ?? 2, 1, 40)}
      {field(tr("Parts down"), "rows", guide.rows ?? 2, 1, 40)}
      {field(tr("Carried on across"), "on_across", guide.on_across ?? 0, -12, 12)}
      {field(tr("Carried on down"), "on_down", guide.on_down ?? 0, -12, 12)}
      <Switch
        label={name(tr("Diagonals"))}
        word={tr("Diagonals")}
        on={guide.crossed ?? true}
        onChange={(crossed) => put({ ...guide, kind: "division", crossed })}
      />
    </>
  );
}
