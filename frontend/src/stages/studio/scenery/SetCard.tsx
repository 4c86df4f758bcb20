import { sendForm, useWork } from "../../../api/queries";
import { Button, Card, Choice, Disclosure } from "../../../ui/controls";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { Fields, fieldsOf, useChoices } from "../Fields";
import { FinishFields } from "../finish/FinishFields";
import type { Finish, StudioSet } from "../kinds";
import { useSetting, useStudioStage } from "../store";

/** What the product stands on and in front of. */
export function SetCard({ project, studio, stored, edit, onDraft }: StudioProps) {
  const choices = useChoices(project);
  const work = useWork(studio);
  const { tool, set } = useStudioStage();
  const chooser = useFileChooser(tr("Picture file"), "image/png,image/jpeg,image/tiff,image/webp", (file) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      await sendForm(studio, `/api/projects/${project}/studios/${studio}/pictures`, form);
    }),
  );
  const setting = useSetting(stored);
  const chosen = setting.set as StudioSet & { ground: Record<string, unknown>; finish?: Finish };
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "set", fields } });
  return (
    <Card title={tr("Set")} aside={tr(chosen.kind)}>
      <Choice
        label={tr("Kind of set")}
        options={(choices?.set_kinds ?? [])
          .map((one) => one.kind)
          .filter((kind) => kind !== "picture" || chosen.kind === kind)}
        value={chosen.kind}
        onChange={(kind) => change({ kind })}
      />
      <Fields
        kind={chosen.kind}
        fields={fieldsOf(choices?.set_kinds, chosen.kind)}
        thing={chosen}
        onSlide={(fields) => onDraft({ set: { ...chosen, ...fields } as StudioSet })}
        onChange={change}
      />
      <div className="-mx-2.5 flex flex-wrap">
        <Button weight="quiet" onClick={chooser.open}>
          {chosen.kind === "picture" ? tr("Another picture behind") : tr("Hang a picture behind")}
        </Button>
        {chosen.kind === "picture" && (
          <>
            <Button
              weight="quiet"
              pressed={tool === "horizon"}
              onClick={() => set({ tool: tool === "horizon" ? "set" : "horizon", take: null })}
            >
              {tr("Touch its horizon")}
            </Button>
            <Button
              weight="quiet"
              pressed={tool === "foot"}
              onClick={() => set({ tool: tool === "foot" ? "set" : "foot", take: null })}
            >
              {tr("Touch where its ground meets the floor")}
            </Button>
          </>
        )}
      </div>
      {chooser.field}
      <Disclosure title={tr("Ground: reflection and shadow")}>
        <Fields
          kind="ground"
          fields={GROUND}
          thing={chosen.ground}
          path="ground."
          onSlide={(fields) => onDraft({ set: { ...chosen, ground: { ...chosen.ground, ...fields } } as StudioSet })}
          onChange={change}
        />
      </Disclosure>
      {chosen.finish && (
        <Disclosure title={tr`Finished in ${tr(chosen.finish.material ?? "paper")}`}>
          <FinishFields
            project={project}
            finish={chosen.finish}
            onChange={(fields) =>
              change(
                "material" in fields
                  ? { finish: { ...fields } }
                  : Object.fromEntries(Object.entries(fields).map(([name, value]) => [`finish.${name}`, value])),
              )
            }
          />
        </Disclosure>
      )}
    </Card>
  );
}

const unit = { is: "number" as const, least: 0, most: 1, whole: false, options: [] };
const GROUND = [
  { name: "reflection", ...unit },
  { name: "blur", ...unit },
  { name: "shadow", ...unit },
];

/** Ten sets with their light, each as a picture. */
export function ReadySets({ project, edit }: StudioProps) {
  const choices = useChoices(project);
  return (
    <Card title={tr("Ready sets")} aside={tr("set and light")}>
      <div className="grid grid-cols-2 gap-2">
        {choices?.sets.map(({ name, says }) => (
          <button
            key={name}
            type="button"
            title={tr(says)}
            onClick={() => edit({ kind: "start_set", start: name })}
            className="border border-vein text-left hover:border-act"
          >
            <img
              src={`/ready-sets/${name.toLowerCase().replaceAll(" ", "-")}.webp`}
              alt=""
              loading="lazy"
              className="block aspect-[3/2] w-full bg-raised object-cover"
            />
            <span className="block truncate px-1.5 py-0.5">{tr(name)}</span>
          </button>
        ))}
      </div>
    </Card>
  );
}

/** Says where the frame runs off the set, and offers to widen it. */
export function Beyond({ sides, onWiden }: { sides: string[]; onWiden: () => void }) {
  if (!sides.length) return null;
  return (
    <div className="absolute bottom-2 left-2 flex items-center gap-3 bg-raised px-3 py-1.5 text-ink" role="status">
      <span className="text-warn">{tr`The frame runs off the set: ${sides.map((side) => tr(side)).join(", ")}.`}</span>
      <Button onClick={onWiden}>{tr("Widen the set")}</Button>
    </div>
  );
}
