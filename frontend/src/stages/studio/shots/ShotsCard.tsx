import { useState } from "react";
import type { Shapes } from "../../../api/client";
import { newId } from "../../../api/queries";
import { type Doing, DoingWords, menuOf } from "../../../bench/Doings";
import { useBench } from "../../../bench/store";
import { Button, Card, Switch, TextField } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { OneStop } from "../../../ui/OneStop";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { useStudioStage } from "../store";
import { behindIn, type Kept } from "./behind";

/** The shots, and what can be done with the chosen one. */
export function ShotsCard(props: StudioProps) {
  const { shots, shot, stored, formHead, edit } = props;
  const { set, beside } = useStudioStage();
  const chooseShot = useBench((bench) => bench.chooseShot);
  const choose = (id: string) => {
    chooseShot(id);
    set({ take: null });
  };
  const duplicate = async (of: Shapes["Shot"]) => {
    const names = new Set(shots.map((other) => other.name));
    let number = 2;
    while (names.has(`${of.name} ${number}`)) number++;
    const id = newId().slice(0, 8);
    if (await edit({ kind: "duplicate_shot", of: of.id, id, name: `${of.name} ${number}` })) choose(id);
  };
  const shotDoings = (of: Shapes["Shot"]): Doing[] => [
    { name: tr("Back to its setting"), run: () => edit({ kind: "open_shot", id: of.id }) },
    { name: tr("Duplicate"), run: () => duplicate(of) },
    {
      name: beside === of.id ? tr("Without its light beside") : tr("Its light beside this one"),
      run: () => set({ beside: beside === of.id ? null : of.id, take: null }),
    },
    {
      name: tr("Update shot"),
      run: () => edit({ kind: "change_shot", id: of.id, update: true, form_edit: formHead }),
    },
    { name: tr("Remove this shot"), run: () => edit({ kind: "remove_shot", id: of.id }) },
  ];
  const behind = shot ? behindIn(shot, stored, formHead) : [];
  return (
    <Card title={tr("Shots")} aside={shots.length ? "" : tr("none yet")}>
      {shots.length === 0 && (
        <p className="text-quiet">
          {tr("A shot keeps view, lamps, finishes and size, so a picture can be taken again.")}
        </p>
      )}
      <OneStop>
        {shots.map((other) => (
          <div
            key={other.id}
            data-row
            {...menuOf(shotDoings(other), () => choose(other.id))}
            className={`-mx-4 border-l-[3px] px-[0.8rem] ${other.id === shot?.id ? "border-act bg-raised" : "border-transparent"}`}
          >
            <button
              type="button"
              aria-current={other.id === shot?.id}
              onClick={() => choose(other.id)}
              className="flex w-full justify-between py-0.5 text-left"
            >
              <span>{other.name}</span>
              <span className="text-quiet">
                {other.width} × {other.height}
              </span>
            </button>
          </div>
        ))}
      </OneStop>
      {shot && (
        <div className="space-y-1.5 pt-1">
          <TextField
            label={tr("Name")}
            value={shot.name}
            onChange={(name) => edit({ kind: "change_shot", id: shot.id, name, update: false })}
          />
          <div className="grid grid-cols-2 gap-4">
            <NumberField
              label={tr("Wide")}
              value={shot.width ?? 960}
              min={16}
              max={8192}
              unit="px"
              onChange={(width) => edit({ kind: "change_shot", id: shot.id, width: Math.round(width), update: false })}
            />
            <NumberField
              label={tr("Tall")}
              value={shot.height ?? 600}
              min={16}
              max={8192}
              unit="px"
              onChange={(height) =>
                edit({ kind: "change_shot", id: shot.id, height: Math.round(height), update: false })
              }
            />
          </div>
          {behind.length > 0 && <Behind key={shot.id} behind={behind} shot={shot} formHead={formHead} edit={edit} />}
          <div className="-mx-2.5 flex flex-wrap">
            <DoingWords doings={[1, 2, 4].map((index) => shotDoings(shot)[index]!)} />
          </div>
        </div>
      )}
    </Card>
  );
}

interface BehindProps extends Pick<StudioProps, "formHead" | "edit"> {
  behind: [Kept, string][];
  shot: Shapes["Shot"];
}

/** What has changed since a shot was kept, and which of it an update takes in. */
function Behind({ behind, shot, formHead, edit }: BehindProps) {
  const [left, leave] = useState<ReadonlySet<Kept>>(new Set());
  const only = behind.map(([kept]) => kept).filter((kept) => !left.has(kept));
  return (
    <>
      <p className="text-warn">{tr("Since this shot was kept, this has changed. An update takes in what is on:")}</p>
      {behind.map(([kept, called]) => (
        <Switch
          key={kept}
          label={tr`Take in ${tr(called)}`}
          word={tr(called)}
          on={!left.has(kept)}
          onChange={(on) => leave(new Set(on ? [...left].filter((other) => other !== kept) : [...left, kept]))}
        />
      ))}
      <div className="flex flex-wrap gap-2">
        {only.length > 0 && (
          <Button onClick={() => edit({ kind: "change_shot", id: shot.id, update: true, form_edit: formHead, only })}>
            {tr("Update shot")}
          </Button>
        )}
        <Button onClick={() => edit({ kind: "open_shot", id: shot.id })}>{tr("Back to its setting")}</Button>
      </div>
    </>
  );
}
