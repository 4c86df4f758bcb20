import { useState } from "react";
import type { Shapes } from "../../api/client";
import { newId, useBoard, useEdit, useTakes, useThread } from "../../api/queries";
import { useAddressedView } from "../../bench/address";
import { withWords } from "../../bench/commands";
import type { Doing } from "../../bench/Doings";
import { type StageProps, useSettings } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { pictureOf } from "../../ui/Picture";
import { save } from "../../ui/save";
import { tr } from "../../words/words";
import { EmptyBoard, TakesOnTheBoard } from "./Board";
import { CommentCard, PinsCard } from "./PinsCard";
import { ThreadCard } from "./ThreadCard";
import { VerdictCard } from "./VerdictCard";
import { Wipe } from "./Wipe";
import { REVIEW_WORDS } from "./words";

type Take = Shapes["TakeShape"];

/** Review: get a decision. */
export default function ReviewStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "board")!;
  const { data } = useBoard(project, row.id);
  const { data: takes } = useTakes(project);
  const edit = useEdit(project, row.id);
  const who = useSettings((settings) => settings.who) || "Designer";
  const [chosen, setChosen] = useState<string | null>(null);
  useAddressedView("Review", null, chosen, setChosen);
  const [pinning, setPinning] = useState(false);
  const [asked, setAsked] = useState<{ take: string; x: number; y: number } | null>(null);

  const board = data?.body;
  const hung = (board?.takes ?? []).flatMap((id) => takes?.filter((take) => take.id === id) ?? []);
  const free = (takes ?? []).filter((take) => take.picture && !(board?.takes ?? []).includes(take.id));
  const [first] = free;
  const pair = (board?.pair ?? []).flatMap((id) => hung.filter((take) => take.id === id));
  const current = hung.find((take) => take.id === chosen) ?? pair[0] ?? hung[0];
  const thread = useThread(project, current?.id, data?.standing.head);

  const pin = async (text: string) => {
    if (!asked) return;
    const at = new Date().toISOString();
    if (!(await edit({ kind: "pin_comment", id: newId().slice(0, 8), ...asked, text, who, at }))) return;
    setAsked(null);
    setPinning(false);
  };
  const hang = (take: Take) => void edit({ kind: "hang_take", take: take.id, name: `${take.name}, ${take.quality}` });
  const compare = (take: Take) => {
    const other =
      pair.find((candidate) => candidate.id !== take.id) ?? hung.find((candidate) => candidate.id !== take.id);
    if (other) edit({ kind: "compare_pair", left: other.id, right: take.id });
  };
  const doingsOf = (take: Take): Doing[] => [
    {
      name: tr("Compare with this"),
      cannot: hung.length > 1 ? undefined : tr("Hang two takes first."),
      run: () => compare(take),
    },
    { name: tr("Take it down"), run: () => edit({ kind: "take_down", take: take.id }) },
    { name: tr("Save as PNG"), run: () => save(pictureOf(project, take), `${take.name} ${take.quality}.png`) },
  ];
  const commands = withWords(
    [
      { id: "look", name: tr("Look"), group: "Board", key: "l", active: !pinning, run: () => setPinning(false) },
      {
        id: "pin",
        name: tr("Pin a comment"),
        group: "Board",
        key: "p",
        active: pinning,
        run: () => setPinning(true),
        options: <p className="text-[0.92rem] text-quiet">{tr("Click the picture where it belongs.")}</p>,
      },
      {
        id: "compare",
        name: tr("Compare with this"),
        group: "Board",
        key: "c",
        cannot: hung.length > 1 ? undefined : tr("Hang two takes first."),
        run: () => current && compare(current),
      },
      {
        id: "down",
        name: tr("Take it down"),
        cannot: current ? undefined : tr("Nothing hangs here yet."),
        group: "Board",
        run: () => current && edit({ kind: "take_down", take: current.id }),
      },
      ...free.map((take) => ({
        id: `hang-${take.id}`,
        name: tr`Hang ${take.name}, ${take.quality}`,
        group: tr("Takes to hang"),
        likely: 6,
        does: tr("Hang it on the board."),
        run: () => hang(take),
      })),
    ],
    REVIEW_WORDS,
  );
  const pins = (board?.pins ?? []).filter((item) => item.take === current?.id);

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        hung.length === 0 ? (
          <EmptyBoard first={first} onHang={hang} />
        ) : (
          <div className="absolute inset-0 flex flex-col p-7">
            <Wipe
              project={project}
              pair={pair.length === 2 ? pair : current ? [current] : []}
              current={current!}
              pins={board?.pins ?? []}
              pinning={pinning}
              onPlace={(take, x, y) => {
                setChosen(take);
                setAsked({ take, x, y });
              }}
            />
            <TakesOnTheBoard
              project={project}
              takes={hung}
              current={current}
              onChoose={setChosen}
              doingsOf={doingsOf}
            />
          </div>
        )
      }
      inspector={
        <>
          {asked && (
            <CommentCard
              take={takes?.find((take) => take.id === asked.take)?.name}
              onPin={pin}
              onLeave={() => setAsked(null)}
            />
          )}
          {current && board && <VerdictCard take={current} board={board} who={who} edit={edit} />}
          {current && <PinsCard pins={pins} edit={edit} />}
          {thread && <ThreadCard steps={thread.steps} project={project} />}
        </>
      }
      foot={
        <span>
          {hung.length} {tr("on the board")}
        </span>
      }
    />
  );
}
