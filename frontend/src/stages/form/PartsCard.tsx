import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { type Doing, DoingWords, menuOf } from "../../bench/Doings";
import { Card } from "../../ui/controls";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";
import { useFormStage } from "./store";

interface PartsProps {
  form: Shapes["Form"];
  active: Shapes["Part"] | undefined;
  edit: Edit;
}

/** All parts by group: shown, locked, looked at alone; with how many findings are open where that is known. */
export function PartsCard({ form, active, edit, counts }: PartsProps & { counts: Record<string, number> | null }) {
  const parts = form.parts ?? [];
  const groups = [...new Set(parts.map((part) => part.group ?? ""))].sort((a, b) =>
    a === "" ? -1 : a.localeCompare(b),
  );
  return (
    <Card title={tr("Parts")} aside={parts.length ? "" : tr("none yet")}>
      <OneStop>
        {groups.map((group) => {
          const members = parts.filter((part) => (part.group ?? "") === group);
          const shown = members.some((part) => part.visible !== false);
          return (
            <div key={group}>
              {group && (
                <div className="flex items-center gap-2 text-quiet">
                  <button
                    type="button"
                    aria-label={tr`${shown ? tr("Hide") : tr("Show")} the group ${group}`}
                    onClick={async () => {
                      for (const part of members) {
                        if ((part.visible !== false) === shown)
                          await edit({ kind: "change_part", part: part.id, visible: !shown });
                      }
                    }}
                    className="w-[24px]"
                  >
                    {shown ? "●" : "○"}
                  </button>
                  {group}
                </div>
              )}
              {members.map((part) => (
                <PartRow
                  key={part.id}
                  part={part}
                  active={part.id === active?.id}
                  open={counts?.[part.id] ?? 0}
                  edit={edit}
                />
              ))}
            </div>
          );
        })}
      </OneStop>
    </Card>
  );
}

function PartRow(props: { part: Shapes["Part"]; active: boolean; open: number; edit: PartsProps["edit"] }) {
  const { part, active, open, edit } = props;
  const solo = useFormStage((form) => form.solo);
  const set = useFormStage((form) => form.set);
  const change = (fields: Partial<Shapes["ChangePart"]>) => edit({ kind: "change_part", part: part.id, ...fields });
  const doings: Doing[] = [
    {
      name: solo === part.id ? tr("all") : tr("only"),
      label: solo === part.id ? tr`Show all again, not only ${part.name}` : tr`Look only at ${part.name}`,
      pressed: solo === part.id,
      run: () => set({ solo: solo === part.id ? null : part.id, part: part.id, items: [] }),
    },
    {
      name: part.locked ? tr("locked") : tr("lock"),
      label: part.locked ? tr`Unlock ${part.name}` : tr`Lock ${part.name}`,
      pressed: part.locked,
      run: () => change({ locked: !part.locked }),
    },
    { name: tr("remove"), label: tr`Remove ${part.name}`, run: () => edit({ kind: "remove_part", part: part.id }) },
  ];
  const pick = () => set({ part: part.id, items: [] });
  return (
    <div
      data-row
      {...menuOf(doings, pick)}
      className={`-mx-4 flex items-center gap-2 border-l-[3px] px-[0.8rem] ${active ? "border-act bg-raised" : "border-transparent"} ${part.group ? "pl-[1.4rem]" : ""}`}
    >
      <button
        type="button"
        aria-label={part.visible ? tr`Hide ${part.name}` : tr`Show ${part.name}`}
        onClick={() => change({ visible: !part.visible })}
        className="w-[24px] shrink-0 text-quiet"
      >
        {part.visible ? "●" : "○"}
      </button>
      <button type="button" aria-current={active} onClick={pick} className="flex-1 truncate py-0.5 text-left">
        {part.name}
        {part.link ? <span className="text-quiet"> {tr("linked")}</span> : ""}
        {open > 0 && <span className="text-wrong"> {tr`${open} to look at`}</span>}
      </button>
      {/* of the others the name matters; what can be done with them is in their menu */}
      {(active || doings.some(({ pressed }) => pressed)) && <DoingWords doings={doings} />}
    </div>
  );
}
