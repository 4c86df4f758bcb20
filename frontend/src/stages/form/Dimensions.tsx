import type { Vector3 } from "three";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { Button, Card, Choice } from "../../ui/controls";
import { useReading } from "../../ui/numbers/reading";
import { cameraOf, type Orbit, onScreen } from "../../view3d/orbit";
import { tr } from "../../words/words";
import { useCurve } from "./built/curve";
import { Caught } from "./built/Drawing";
import { inSpace } from "./built/ground";
import { Said } from "./Handle";
import { lengthOf, type Measuring } from "./measuring";
import { useFormStage } from "./store";

interface Box {
  width: number;
  height: number;
}

/** Dimensions between points, drawn over the form and kept true to it. */
export function Dimensions(props: { measures: Shapes["Measure"][]; measuring: Measuring; orbit: Orbit; size: Box }) {
  const { size, measuring } = props;
  const read = useReading();
  const camera = cameraOf(props.orbit, size.width, size.height);
  return (
    <>
      {props.measures.map((measure) => {
        const first = measuring.placed(measure.first);
        const second = measuring.placed(measure.second);
        if (!first || !second) return null;
        // along a direction the line runs that way from the first point, and a thin one leads to the second
        const turn = first.clone();
        if (measure.along === "W") turn.x = second.x;
        else if (measure.along === "D") turn.y = second.y;
        else if (measure.along === "H") turn.z = second.z;
        else turn.copy(second);
        const shown = (place: Vector3) => onScreen(camera, place, size.width, size.height);
        const [a, b, c] = [shown(first), shown(turn), shown(second)];
        const [dx, dy] = [b.x - a.x, b.y - a.y];
        const long = Math.max(1, Math.hypot(dx, dy));
        const [nx, ny] = [(-dy / long) * 5, (dx / long) * 5];
        return (
          <g key={measure.id} data-testid="dimension">
            <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--ink)" strokeWidth={1.4} />
            {[a, b].map((end) => (
              <line
                key={`${end.x},${end.y}`}
                x1={end.x - nx}
                y1={end.y - ny}
                x2={end.x + nx}
                y2={end.y + ny}
                stroke="var(--ink)"
                strokeWidth={1.4}
              />
            ))}
            <line x1={b.x} y1={b.y} x2={c.x} y2={c.y} stroke="var(--quiet)" strokeDasharray="2 3" />
            <Said
              x={(a.x + b.x) / 2 + 8}
              y={(a.y + b.y) / 2 - 8}
              text={read.length(lengthOf(measure, first, second), 1)}
            />
          </g>
        );
      })}
    </>
  );
}

/** Dimensions set on the form. */
export function MeasuresCard(props: { form: Shapes["Form"]; edit: Edit; measuring: Measuring }) {
  const { form, edit, measuring } = props;
  const measures = form.measures ?? [];
  const read = useReading();
  if (!measures.length) return null;
  return (
    <Card title={tr("Dimensions")} aside={measures.length}>
      {measures.map((measure) => {
        const first = measuring.placed(measure.first);
        const second = measuring.placed(measure.second);
        return (
          <div key={measure.id}>
            <div className="flex items-center justify-between">
              <b className="font-medium">
                {first && second ? read.length(lengthOf(measure, first, second), 1) : gone(measure, form)}
              </b>
              <Button
                weight="quiet"
                label={tr("Take away the dimension")}
                onClick={() => edit({ kind: "remove_measure", id: measure.id })}
              >
                {tr("take away")}
              </Button>
            </div>
            <Choice
              label={tr("Measured along")}
              options={["straight", "W", "D", "H"] as const}
              value={measure.along ?? "straight"}
              onChange={(along) => edit({ amend: { kind: "measure", id: measure.id, fields: { along } } })}
            />
          </div>
        );
      })}
    </Card>
  );
}

/** Why a dimension has no number now. */
function gone({ first, second }: Shapes["Measure"], form: Shapes["Form"]): string {
  const shown = (part: string) => form.parts?.find(({ id }) => id === part)?.visible !== false;
  return shown(first.part) && shown(second.part) ? tr("its place is gone") : tr("on a hidden part");
}

/** What a dimension would begin or end at, and where it began. */
export function MeasuringMarks({ measuring, orbit, size }: { measuring: Measuring; orbit: Orbit; size: Box }) {
  const first = useFormStage((state) => state.measuring);
  const caught = useCurve((state) => state.caught);
  const camera = cameraOf(orbit, size.width, size.height);
  const begun = first && measuring.placed(first);
  const from = begun && onScreen(camera, begun, size.width, size.height);
  const to = caught && onScreen(camera, inSpace(null, caught.place), size.width, size.height);
  return (
    <>
      {from && <circle cx={from.x} cy={from.y} r={5} fill="none" stroke="var(--act)" strokeWidth={2} />}
      {from && to && <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} stroke="var(--act)" strokeDasharray="4 3" />}
      {to && <Caught at={to} word={caught.word} />}
    </>
  );
}
