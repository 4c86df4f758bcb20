import { useEffect, useRef, useState } from "react";
import { changedFields } from "../../api/change";
import { answer, api, type Shapes } from "../../api/client";
import { at, type Edit } from "../../api/queries";
import { toScreen, type Viewport } from "../../paper/viewport";
import { tr } from "../../words/words";
import { Knob } from "./Knob";
import { useKnobs } from "./useKnobs";

type Place = [number, number];
export type Guide = Shapes["PutGuide"]["guide"];
type GuideShape = Shapes["GuideShape"];

interface MarksProps {
  project: string;
  document: string;
  view: Viewport;
  sheet: Shapes["SheetOutline"];
  edit: Edit;
}

/** The guides over the page, with knobs to lay them anew. */
export function GuideMarks(props: MarksProps) {
  return props.sheet.guides.map((guide) => (
    <Mark
      key={guide.id}
      {...props}
      guide={guide}
      shape={(props.sheet.drafted.guides ?? []).find((shape) => shape.id === guide.id)}
    />
  ));
}

function Mark(props: MarksProps & { guide: Guide; shape: GuideShape | undefined }) {
  const { view, edit } = props;
  const { moving, drag } = useKnobs<Guide>(view, (next) =>
    edit({ amend: { kind: "guide", id: next.id, fields: changedFields(props.guide, next) } }),
  );
  const shape = useShape(props, moving) ?? props.shape;
  if (!shape) return null;
  const path = (places: Place[]) => places.map((place) => toScreen(view, ...place).join(",")).join(" ");
  return (
    <g data-testid="guide" fill="none">
      {(shape.fine ?? []).map((line) => (
        <polyline
          key={`f${line}`}
          points={path(line as Place[])}
          stroke="var(--pick)"
          strokeWidth={0.75}
          opacity={0.5}
        />
      ))}
      {(shape.lines ?? []).map((line) => (
        <polyline
          key={`l${line}`}
          points={path(line as Place[])}
          stroke="var(--pick)"
          strokeWidth={1.25}
          opacity={0.8}
        />
      ))}
      {shape.ellipse && (
        <polygon points={path(around(shape.ellipse))} stroke="var(--pick)" strokeWidth={1.25} opacity={0.8} />
      )}
      {knobsOf(moving ?? props.guide).map(([label, place, change]) => (
        <Knob key={label} view={view} label={label} at={place} onGrab={drag(change)} />
      ))}
    </g>
  );
}

/** How a guide lies on the page while it is moved, worked out by the server, the newest only. */
function useShape({ project, document }: MarksProps, moving: Guide | null): GuideShape | null {
  const [shape, setShape] = useState<GuideShape | null>(null);
  const wanted = useRef<Guide | null>(null);
  const busy = useRef(false);
  useEffect(() => {
    wanted.current = moving;
    if (!moving) return setShape(null);
    if (busy.current) return;
    const run = async () => {
      busy.current = true;
      while (wanted.current) {
        const guide = wanted.current;
        wanted.current = null;
        try {
          const found = await answer(
            api.POST("/api/projects/{project}/sheets/{document}/guides/shape", {
              ...at(project, document),
              body: { guide },
            }),
          );
          setShape(found);
        } catch {
          // what does not fit keeps its last shape; the release says why
        }
      }
      busy.current = false;
    };
    run();
  }, [moving, project, document]);
  return moving ? shape : null;
}

function around(ellipse: Shapes["EllipseGuide"]): Place[] {
  const turn = ((ellipse.turn ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [x, y] = ellipse.centre as Place;
  return Array.from({ length: 96 }, (_, k) => {
    const t = (k * Math.PI) / 48;
    const [u, v] = [ellipse.across * Math.cos(t), ellipse.down * Math.sin(t)];
    return [x + c * u - s * v, y + s * u + c * v];
  });
}

type Grip = [label: string, place: Place, change: (to: Place) => Guide];

/** What can be dragged on a guide: a name, where it is, and the guide after it was dragged to a place. */
function knobsOf(guide: Guide): Grip[] {
  if (guide.kind === "straightedge") {
    return [
      [tr("Move the straightedge’s start"), guide.start as Place, (start) => ({ ...guide, start })],
      [tr("Move the straightedge’s end"), guide.end as Place, (end) => ({ ...guide, end })],
    ];
  }
  if (guide.kind === "ellipse") {
    const turn = ((guide.turn ?? 0) * Math.PI) / 180;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [x, y] = guide.centre as Place;
    return [
      [tr("Move the ellipse"), [x, y], (centre) => ({ ...guide, centre })],
      [
        tr("Size and turn the ellipse"),
        [x + c * guide.across, y + s * guide.across],
        ([px, py]) => ({
          ...guide,
          across: Math.max(4, Math.hypot(px - x, py - y)),
          turn: (Math.atan2(py - y, px - x) * 180) / Math.PI,
        }),
      ],
      [
        tr("Size the ellipse’s other axis"),
        [x - s * guide.down, y + c * guide.down],
        ([px, py]) => ({ ...guide, down: Math.max(4, Math.abs(-s * (px - x) + c * (py - y))) }),
      ],
    ];
  }
  if (guide.kind === "division" && guide.quad) {
    const quad = guide.quad as Place[];
    const names = ["first", "second", "third", "fourth"];
    return quad.map((corner, k) => [
      tr`Move the division’s ${names[k]} corner`,
      corner,
      (to) => ({ ...guide, quad: quad.map((old, j) => (j === k ? to : old)) as typeof guide.quad }),
    ]);
  }
  if (guide.kind === "sweep") {
    const [x, y] = guide.at as Place;
    const turn = ((guide.turn ?? 0) * Math.PI) / 180;
    return [
      [tr("Move the sweep curve"), [x, y], (to) => ({ ...guide, at: to })],
      [
        tr("Turn and size the sweep curve"),
        [x + guide.length * Math.cos(turn), y + guide.length * Math.sin(turn)],
        ([px, py]) => ({
          ...guide,
          length: Math.max(8, Math.hypot(px - x, py - y)),
          turn: (Math.atan2(py - y, px - x) * 180) / Math.PI,
        }),
      ],
    ];
  }
  return [];
}
