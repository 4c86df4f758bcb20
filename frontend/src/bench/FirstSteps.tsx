import { Popover } from "radix-ui";
import type { Shapes } from "../api/client";
import { useBoard, useForm, useTakes } from "../api/queries";
import { Button } from "../ui/controls";
import { tr } from "../words/words";
import { type Stage, useBench, useSettings } from "./store";

interface Step {
  name: string;
  how: string;
  stage: Stage;
  done: boolean;
}

/**
 * Six things that lead from a blank sheet to an answer, on one's own project: each is noticed when it is done, by whatever way.
 * Dismissed once, they are gone for good.
 */
export function FirstSteps(props: { project: string; documents: readonly Shapes["DocumentShape"][] }) {
  const { led, change } = useSettings();
  const sheet = props.documents.some(({ kind, head }) => kind === "sheet" && head !== null);
  if (led || !props.documents.length) return null;
  return <Led {...props} sheet={sheet} onGone={() => change({ led: true })} />;
}

function Led(props: {
  project: string;
  documents: readonly Shapes["DocumentShape"][];
  sheet: boolean;
  onGone: () => void;
}) {
  const { project, documents, sheet } = props;
  const go = useBench((bench) => bench.go);
  const looked = useSettings((settings) => settings.looked);
  const id = (kind: string) => documents.find((document) => document.kind === kind)?.id ?? "";
  const { data: form } = useForm(project, id("form"));
  const { data: board } = useBoard(project, id("board"));
  const { data: takes } = useTakes(project);
  const parts = form?.body.parts ?? [];
  const steps: Step[] = [
    {
      name: tr("Draw the outline"),
      how: tr("In Sketch, from the front or the side, in one line."),
      stage: "Sketch",
      done: sheet,
    },
    {
      name: tr("Make it a body"),
      how: tr("In Form: “Body by its outline”, or begin with a shape."),
      stage: "Form",
      done: parts.length > 0,
    },
    {
      name: tr("Shape it"),
      how: tr("Pick faces (F) and drag, extrude (X) or bevel an edge (B)."),
      stage: "Form",
      done: parts.some((part) => (part.steps?.length ?? 0) > 1),
    },
    {
      name: tr("Look at its surface"),
      how: tr("In Surface: stripes kink where the skin does."),
      stage: "Surface",
      done: parts.length > 0 && looked,
    },
    {
      name: tr("Take a picture"),
      how: tr("In Studio: choose a finish, then a draft take (D)."),
      stage: "Studio",
      done: !!takes?.length,
    },
    {
      name: tr("Get an answer"),
      how: tr("In Review: hang the take, say keep, change or drop."),
      stage: "Review",
      done: !!board?.body.verdicts?.length,
    },
  ];
  const done = steps.filter((step) => step.done).length;
  const next = steps.find((step) => !step.done);
  return (
    <Popover.Root>
      <Popover.Trigger
        title={tr("First steps")}
        className="flex items-center gap-2 whitespace-nowrap text-quiet hover:text-ink max-[1180px]:hidden"
      >
        <span className="text-act">{next ? tr`Next: ${next.name.toLowerCase()}` : tr("All six done")}</span>
        <span>
          {done}/{steps.length}
        </span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={10}
          collisionPadding={8}
          className="z-40 w-[22rem] border border-quiet bg-paper p-4 text-ink"
        >
          <h2 className="mb-2 font-semibold">{tr("From a blank sheet to an answer")}</h2>
          <ol className="space-y-1.5">
            {steps.map((step) => (
              <li key={step.name} className="flex gap-2">
                <span className={`w-4 shrink-0 ${step.done ? "text-act" : "text-quiet"}`}>
                  <span aria-hidden="true">{step.done ? "✓" : "·"}</span>
                  <span className="sr-only">{step.done ? tr("done") : tr("to do")}</span>
                </span>
                <span>
                  <button
                    type="button"
                    onClick={() => go(step.stage)}
                    className={`text-left hover:text-act ${step === next ? "font-semibold" : step.done ? "text-quiet" : ""}`}
                  >
                    {step.name}
                  </button>
                  {step === next && <span className="block text-quiet">{step.how}</span>}
                </span>
              </li>
            ))}
          </ol>
          <div className="mt-3 text-right">
            <Button weight="quiet" onClick={props.onGone}>
              {tr("I know my way: do not show this again")}
            </Button>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
