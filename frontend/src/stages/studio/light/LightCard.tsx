import { Button, Card, Disclosure } from "../../../ui/controls";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { useChoices } from "../Fields";
import type { Lamp } from "../kinds";
import { useSetting, useStudioStage } from "../store";
import { freshLamp, Meaning } from "./LampCard";
import { PlanFromAbove, PlanFromTheSide } from "./LightingPlan";
import { useLampDoings } from "./lampDoings";

/** Lamps on the plan, what the chosen one means, more of them, and lights to begin with. */
export function LightCard(props: StudioProps) {
  const { project, studio, formId, stored, edit, facts, onDraft, onLamp } = props;
  const doingsOf = useLampDoings({ project, form: formId }, studio, stored, edit);
  const setting = useSetting(stored);
  const choices = useChoices(project);
  const { lamp: chosen, set } = useStudioStage();
  const lamps = setting.lamps ?? [];
  const draft = (next: Lamp) => onDraft({ lamps: lamps.map((other) => (other.id === next.id ? next : other)) });
  const plan = { setting, onDraft: draft, onDone: onLamp, doingsOf };
  const add = async (kind: Lamp["kind"]) => {
    const lamp = freshLamp(kind);
    if (await edit({ kind: "set_lamp", lamp })) set({ lamp: lamp.id, tool: "lamp" });
  };
  return (
    <Card title={tr("Lighting plan")} aside={tr("above, side")}>
      <PlanFromAbove {...plan} />
      <PlanFromTheSide {...plan} />
      <Meaning facts={facts} lamp={lamps.find((lamp) => lamp.id === chosen) ?? lamps[0]} />
      <Disclosure title={tr("Add")}>
        <div className="-mx-2.5 flex flex-wrap">
          {choices?.lamp_kinds.map(({ kind }) => (
            <Button key={kind} weight="quiet" onClick={() => add(kind as Lamp["kind"])}>
              {tr(kind)}
            </Button>
          ))}
        </div>
      </Disclosure>
      <Disclosure title={tr("Begin the light anew")}>
        <div className="-mx-2.5 flex flex-wrap">
          {choices?.lights.map((start) => (
            <Button
              key={start}
              weight="quiet"
              onClick={async () => {
                if (await edit({ kind: "start_light", start })) set({ lamp: "key", alone: null });
              }}
            >
              {tr(start)}
            </Button>
          ))}
        </div>
      </Disclosure>
    </Card>
  );
}
