import { api, type Shapes } from "../../api/client";
import { ask, at, useWork } from "../../api/queries";
import { type Stage, useBench } from "../../bench/store";
import { Button, Card } from "../../ui/controls";
import { useReading } from "../../ui/numbers/reading";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";

const STAGE: Record<Shapes["ThreadStep"]["kind"], Stage> = {
  sheet: "Sketch",
  form: "Form",
  shot: "Studio",
  take: "Studio",
};
const WORD: Record<Shapes["ThreadStep"]["kind"], string> = {
  sheet: tr("Sheet"),
  form: tr("Form"),
  shot: tr("Shot"),
  take: tr("Take"),
};

/** From the picture back to the shot, the form version and the sheet it came from; each can be opened as it was. */
export function ThreadCard(props: { steps: Shapes["ThreadStep"][]; project: string }) {
  const { go, openSheet, chooseShot } = useBench();
  const work = useWork();
  const read = useReading();
  const open = (step: Shapes["ThreadStep"]) => {
    if (step.kind === "sheet") openSheet(step.id);
    else {
      if (step.kind === "shot") chooseShot(step.id);
      go(STAGE[step.kind]);
    }
  };
  const asItWas = (step: Shapes["ThreadStep"]) =>
    work(async () => {
      await ask(step.id, (headers) =>
        api.POST("/api/projects/{project}/documents/{document}/go", {
          ...at(props.project, step.id),
          headers,
          body: { edit: step.edit ?? null },
        }),
      );
      open(step);
    });
  return (
    <Card title={tr("Where it came from")} aside={tr("thread")}>
      <OneStop as="ol" className="space-y-1.5 border-quiet border-l pl-3">
        {[...props.steps].reverse().map((step) => (
          <li key={step.kind + step.id}>
            <button type="button" onClick={() => open(step)} className="text-left font-medium hover:text-act">
              {WORD[step.kind]} {step.name}
            </button>
            {step.chosen && <span className="ml-2 bg-act px-1.5 text-[0.86rem] text-paper">{tr("chosen")}</span>}
            <p className="text-[0.92rem] text-quiet">
              {read.sentence(step.sentence)}
              {!step.current && step.kind !== "shot" && (
                <Button weight="quiet" label={tr`Open ${step.name} as it was`} onClick={() => asItWas(step)}>
                  {tr("open as it was")}
                </Button>
              )}
              {!step.current && step.kind === "shot" && tr(", changed since")}
            </p>
          </li>
        ))}
      </OneStop>
    </Card>
  );
}
