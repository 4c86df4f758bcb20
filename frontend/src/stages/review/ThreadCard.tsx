import { answer, api, type Shapes } from "../../api/client";
import { at } from "../../api/queries";
import { type Stage, useBench } from "../../bench/store";
import { Button, Card } from "../../ui/controls";

const STAGE: Record<Shapes["ThreadStep"]["kind"], Stage> = {
  sheet: "Sketch",
  form: "Form",
  shot: "Studio",
  take: "Studio",
};
const WORD: Record<Shapes["ThreadStep"]["kind"], string> = { sheet: "Sheet", form: "Form", shot: "Shot", take: "Take" };

/** From the picture back to the shot, the form version and the sheet it came from; each can be opened as it was. */
export function ThreadCard(props: {
  steps: Shapes["ThreadStep"][];
  project: string;
  onMoved: (document: string) => void;
}) {
  const { go, openSheet, chooseShot, notify } = useBench();
  const open = (step: Shapes["ThreadStep"]) => {
    if (step.kind === "sheet") openSheet(step.id);
    else {
      if (step.kind === "shot") chooseShot(step.id);
      go(STAGE[step.kind]);
    }
  };
  const asItWas = async (step: Shapes["ThreadStep"]) => {
    try {
      await answer(
        api.POST("/api/projects/{project}/documents/{document}/go", {
          ...at(props.project, step.id),
          body: { edit: step.edit ?? null },
        }),
      );
      props.onMoved(step.id);
      open(step);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return (
    <Card title="Where it came from" aside="thread">
      <ol className="space-y-1.5 border-quiet border-l pl-3">
        {[...props.steps].reverse().map((step) => (
          <li key={step.kind + step.id}>
            <button type="button" onClick={() => open(step)} className="text-left font-medium hover:text-act">
              {WORD[step.kind]} {step.name}
            </button>
            {step.chosen && <span className="ml-2 bg-act px-1.5 text-[0.86rem] text-paper">chosen</span>}
            <p className="text-[0.92rem] text-quiet">
              {step.sentence}
              {!step.current && step.kind !== "shot" && (
                <Button weight="quiet" label={`Open ${step.name} as it was`} onClick={() => asItWas(step)}>
                  open as it was
                </Button>
              )}
              {!step.current && step.kind === "shot" && ", changed since"}
            </p>
          </li>
        ))}
      </ol>
    </Card>
  );
}
