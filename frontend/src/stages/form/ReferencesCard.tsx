import { useState } from "react";
import type { Shapes } from "../../api/client";
import { type Edit, newId, useSheet } from "../../api/queries";
import { type Doing, Doings, menuOf } from "../../bench/Doings";
import { Button, Card, Choice } from "../../ui/controls";
import { holdOn } from "../../ui/knobs";
import { NumberField, SliderField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";
import { formEye } from "./hand";
import { inPerspective, lookFromSketch } from "./sketchView";

type Rect = [number, number, number, number];
type Line = [[number, number], [number, number]];
type View = Shapes["View"];
type Plane = Shapes["Reference"]["plane"];

interface CardProps {
  project: string;
  documents: Shapes["DocumentShape"][];
  form: Shapes["Form"];
  edit: Edit;
  beginOver: (over: Shapes["BeginRequest"]) => unknown;
}

/** Sheet views that stand behind the form, and those that could. */
export function ReferencesCard({ project, documents, form, edit, beginOver }: CardProps) {
  const sheets = documents.filter((document) => document.kind === "sheet");
  const references = form.references ?? [];
  return (
    <Card title={tr("Behind it")}>
      {references.map((reference) => (
        <Pinned key={reference.id} project={project} reference={reference} edit={edit} />
      ))}
      {sheets.map((sheet) => (
        <Pinnable
          key={sheet.id}
          project={project}
          sheet={sheet}
          references={references}
          edit={edit}
          beginOver={beginOver}
        />
      ))}
    </Card>
  );
}

function Pinnable(props: {
  project: string;
  sheet: Shapes["DocumentShape"];
  references: Shapes["Reference"][];
  edit: CardProps["edit"];
  beginOver: CardProps["beginOver"];
}) {
  const { data } = useSheet(props.project, props.sheet.id);
  const free = (data?.body.views ?? []).filter(
    (view) => !props.references.some((reference) => reference.sheet === props.sheet.id && reference.view === view.id),
  );
  const pin = (view: View) => {
    if (view.view === "three-quarter" && inPerspective(data!.body, view.rect as Rect)) {
      formEye.look(lookFromSketch(data!.body, view.rect as Rect));
      return props.edit({
        kind: "pin_reference",
        id: newId().slice(0, 8),
        sheet: props.sheet.id,
        view: view.id,
        plane: "sketch",
        line: [
          [view.rect[0], view.rect[1]],
          [view.rect[0], view.rect[3]],
        ],
        length: 100,
        opacity: 0.6,
      });
    }
    return props.beginOver({ sheet: props.sheet.id, view: view.id, how: "pin", height: 100 });
  };
  if (!data) return null;
  if (!data.body.views.length)
    return (
      <p className="text-quiet">
        {tr("Frame a view on")} {props.sheet.name} {tr("to pin it here.")}
      </p>
    );
  return (
    <OneStop>
      {free.map((view) => (
        <div key={view.id} data-row className="flex items-center justify-between gap-2">
          <span className="truncate text-quiet">
            {view.name}, {props.sheet.name}
          </span>
          <Button label={tr`Pin ${view.name}`} onClick={() => pin(view)}>
            {tr("Pin")}
          </Button>
        </div>
      ))}
    </OneStop>
  );
}

function Pinned(props: { project: string; reference: Shapes["Reference"]; edit: CardProps["edit"] }) {
  const { reference, edit } = props;
  const { data } = useSheet(props.project, reference.sheet);
  const view = data?.body.views.find((candidate) => candidate.id === reference.view);
  const change = (fields: Partial<Shapes["ChangeReference"]>) =>
    edit({ kind: "change_reference", id: reference.id, ...fields });
  if (!view) {
    return (
      <p className="text-quiet">
        {tr("The view behind is gone.")}{" "}
        <Button weight="quiet" onClick={() => edit({ kind: "unpin_reference", id: reference.id })}>
          {tr("Take it away")}
        </Button>
      </p>
    );
  }
  const doings: Doing[] = [
    {
      name: (reference.visible ?? true) ? tr("hide") : tr("show"),
      label: (reference.visible ?? true) ? tr`Hide ${view.name}` : tr`Show ${view.name}`,
      run: () => change({ visible: !(reference.visible ?? true) }),
    },
    {
      name: tr("away"),
      label: tr`Take ${view.name} away`,
      run: () => edit({ kind: "unpin_reference", id: reference.id }),
    },
  ];
  return (
    <section
      aria-label={tr`Reference ${view.name}`}
      {...menuOf(doings)}
      className="space-y-1.5 border-vein border-b pb-2"
    >
      <div className="flex items-center justify-between">
        <span className="font-medium">{view.name}</span>
        <Doings className="flex" doings={doings} />
      </div>
      {reference.plane === "sketch" ? (
        <InSketch sheet={data!.body} view={view} />
      ) : (
        <>
          <KnownLength
            picture={`/api/projects/${props.project}/sheets/${reference.sheet}/views/${reference.view}.png?head=${data?.standing.head}`}
            view={view}
            line={reference.line as Line}
            onChange={(line) => change({ line })}
          />
          <NumberField
            label={tr("The violet line is")}
            value={reference.length}
            digits={1}
            min={0.1}
            unit="mm"
            onChange={(length) => change({ length })}
          />
        </>
      )}
      <Choice<Plane>
        label={tr("Seen from")}
        options={
          inPerspective(data!.body, view.rect as Rect) ? ["front", "side", "top", "sketch"] : ["front", "side", "top"]
        }
        value={reference.plane}
        onChange={(plane) => change({ plane })}
      />
      <SliderField
        label={tr("Opacity")}
        value={Math.round((reference.opacity ?? 0.5) * 100)}
        min={0}
        max={100}
        onChange={(value) => change({ opacity: value / 100 })}
      />
      {reference.plane !== "sketch" && (
        <Choice
          label={tr("Reference shows")}
          options={["the picture", "its lines only"] as const}
          value={reference.outline ? "its lines only" : "the picture"}
          onChange={(value) => change({ outline: value === "its lines only" })}
        />
      )}
    </section>
  );
}

/** A view in the sketch's own perspective: its size comes from the construction box. */
function InSketch({ sheet, view }: { sheet: Shapes["SheetOutline"]; view: View }) {
  const read = useReading();
  if (!inPerspective(sheet, view.rect as Rect)) {
    return (
      <p className="text-quiet">
        {tr("The sheet’s construction box no longer stands in this view. Set it in there again.")}
      </p>
    );
  }
  return (
    <>
      <p className="text-quiet">
        {tr("In its own perspective, by its box of")} {read.size(sheet.box!.size)}.
      </p>
      <Button onClick={() => formEye.look(lookFromSketch(sheet, view.rect as Rect))}>
        {tr("Look from the sketch")}
      </Button>
    </>
  );
}

/** The view with the line of known length; its ends can be dragged. */
function KnownLength(props: { picture: string; view: View; line: Line; onChange: (line: Line) => void }) {
  const [left, top, right, bottom] = props.view.rect as [number, number, number, number];
  const [moving, setMoving] = useState<Line | null>(null);
  const line = moving ?? props.line;
  const [width, height] = [right - left, bottom - top];
  const unit = Math.max(width, height) / 100;
  const grip = (end: 0 | 1) => (event: React.PointerEvent<SVGCircleElement>) => {
    const target = event.currentTarget;
    holdOn(target, event);
    const box = target.ownerSVGElement!.getBoundingClientRect();
    let next = line;
    const move = (step: PointerEvent) => {
      const place: [number, number] = [
        left + ((step.clientX - box.left) / box.width) * width,
        top + ((step.clientY - box.top) / box.height) * height,
      ];
      next = end === 0 ? [place, line[1]] : [line[0], place];
      setMoving(next);
    };
    const up = () => {
      target.removeEventListener("pointermove", move);
      target.removeEventListener("pointerup", up);
      setMoving(null);
      if (next !== line) props.onChange(next);
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", up);
  };
  return (
    <div
      className="relative border border-vein bg-page"
      style={{ aspectRatio: `${width} / ${height}`, maxHeight: "11rem", margin: "0 auto" }}
    >
      <img src={props.picture} alt="" className="h-full w-full" />
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="absolute inset-0 h-full w-full touch-none"
        role="group"
        aria-label={tr("Line of known length")}
      >
        <line
          x1={line[0][0] - left}
          y1={line[0][1] - top}
          x2={line[1][0] - left}
          y2={line[1][1] - top}
          stroke="var(--pick)"
          strokeWidth={unit * 1.2}
        />
        {([0, 1] as const).map((end) => (
          <circle
            key={end}
            cx={line[end][0] - left}
            cy={line[end][1] - top}
            r={unit * 3}
            fill="var(--pick)"
            className="cursor-move"
            onPointerDown={grip(end)}
          />
        ))}
      </svg>
    </div>
  );
}
