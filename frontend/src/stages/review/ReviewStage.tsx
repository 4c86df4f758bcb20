import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Shapes } from "../../api/client";
import { newId, useBoard, useEdit, useTakes } from "../../api/queries";
import { useAddressedView } from "../../bench/address";
import type { Command } from "../../bench/commands";
import { type StageProps, useBench, useSettings } from "../../bench/store";
import { Workplace } from "../../bench/Workplace";
import { Button, Card } from "../../ui/controls";
import { Picture, pictureOf } from "../../ui/Picture";
import { when } from "../../ui/when";
import { ThreadCard } from "./ThreadCard";
import { VerdictCard } from "./VerdictCard";
import { Wipe } from "./Wipe";

type Take = Shapes["TakeShape"];

/** Review: get a decision. */
export default function ReviewStage({ project, documents }: StageProps) {
  const row = documents.find((document) => document.kind === "board")!;
  const { data } = useBoard(project, row.id);
  const { data: takes } = useTakes(project);
  const edit = useEdit(project, row.id);
  const go = useBench((bench) => bench.go);
  const who = useSettings((settings) => settings.who) || "Designer";
  const [chosen, setChosen] = useState<string | null>(null);
  useAddressedView("Review", null, chosen, setChosen);
  const [pinning, setPinning] = useState(false);
  const [asked, setAsked] = useState<{ take: string; x: number; y: number } | null>(null);
  const [text, setText] = useState("");

  const board = data?.body;
  const hung = (board?.takes ?? []).flatMap((id) => takes?.filter((take) => take.id === id) ?? []);
  const free = (takes ?? []).filter((take) => take.picture && !(board?.takes ?? []).includes(take.id));
  const [first] = free;
  const pair = (board?.pair ?? []).flatMap((id) => hung.filter((take) => take.id === id));
  const current = hung.find((take) => take.id === chosen) ?? pair[0] ?? hung[0];
  const thread = useQuery({
    queryKey: ["thread", current?.id, data?.standing.head],
    queryFn: () =>
      answer(
        api.GET("/api/projects/{project}/takes/{take}/thread", { params: { path: { project, take: current!.id } } }),
      ),
    enabled: !!current,
    staleTime: 0,
  });

  const pin = async () => {
    if (!asked || !text.trim()) return;
    const kept = await edit({
      kind: "pin_comment",
      id: newId().slice(0, 8),
      ...asked,
      text: text.trim(),
      who,
      at: new Date().toISOString(),
    });
    if (kept) {
      setAsked(null);
      setText("");
      setPinning(false);
    }
  };
  const compare = (take: Take) => {
    const other =
      pair.find((candidate) => candidate.id !== take.id) ?? hung.find((candidate) => candidate.id !== take.id);
    if (other) edit({ kind: "compare_pair", left: other.id, right: take.id });
  };
  const commands: Command[] = [
    { id: "look", name: "Look", group: "Board", key: "l", active: !pinning, run: () => setPinning(false) },
    {
      id: "pin",
      name: "Pin a comment",
      group: "Board",
      key: "p",
      active: pinning,
      run: () => setPinning(true),
      options: <p className="text-[0.92rem] text-quiet">Click the picture where it belongs.</p>,
    },
    { id: "compare", name: "Compare with this", group: "Board", key: "c", run: () => current && compare(current) },
    {
      id: "down",
      name: "Take it down",
      group: "Board",
      run: () => current && edit({ kind: "take_down", take: current.id }),
    },
    ...free.map((take) => ({
      id: `hang-${take.id}`,
      name: `Hang ${take.name}, ${take.quality}`,
      group: "Takes to hang",
      run: () => void edit({ kind: "hang_take", take: take.id, name: `${take.name}, ${take.quality}` }),
    })),
  ];
  const pins = (board?.pins ?? []).filter((item) => item.take === current?.id);

  return (
    <Workplace
      project={project}
      document={row.id}
      commands={commands}
      canvas={
        hung.length === 0 ? (
          <div className="absolute inset-x-0 top-[34%] text-center">
            <p className="font-semibold font-serif text-[1.6rem]">An empty board</p>
            <p className="mt-1 mb-4 text-quiet">The right people see the right pictures here and answer.</p>
            <div className="flex justify-center gap-3">
              {first && (
                <Button
                  weight="act"
                  onClick={() => edit({ kind: "hang_take", take: first.id, name: `${first.name}, ${first.quality}` })}
                >
                  Hang {first.name}
                </Button>
              )}
              <Button onClick={() => go("Studio")}>Take a picture</Button>
            </div>
          </div>
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
            <ul aria-label="Takes on the board" className="mt-4 flex h-20 shrink-0 gap-3 overflow-x-auto">
              {hung.map((take) => (
                <li key={take.id}>
                  <button
                    type="button"
                    onClick={() => setChosen(take.id)}
                    aria-pressed={take.id === current?.id}
                    className={`h-full border-2 text-left ${take.id === current?.id ? "border-act" : "border-vein"}`}
                  >
                    <Picture src={pictureOf(project, take)} alt={`${take.name}, ${take.quality}`} className="h-full" />
                  </button>
                </li>
              ))}
            </ul>
          </div>
        )
      }
      inspector={
        <>
          {asked && (
            <Card title="A comment" aside={takes?.find((take) => take.id === asked.take)?.name}>
              <textarea
                aria-label="Comment"
                value={text}
                // biome-ignore lint/a11y/noAutofocus: the pin was just placed, the next thing is to write
                autoFocus
                rows={3}
                onChange={(event) => setText(event.target.value)}
                className="w-full border border-vein bg-raised p-2 outline-none focus:border-act"
              />
              <div className="flex gap-2">
                <Button weight="act" disabled={!text.trim()} onClick={pin}>
                  Pin it
                </Button>
                <Button onClick={() => setAsked(null)}>Leave it</Button>
              </div>
            </Card>
          )}
          {current && board && <VerdictCard take={current} board={board} who={who} edit={edit} />}
          {current && (
            <Card
              title="Pins"
              aside={pins.length ? `${pins.filter((item) => !item.resolved).length} open` : "none yet"}
            >
              {pins.map((item, index) => (
                <div key={item.id} className={item.resolved ? "text-quiet line-through" : ""}>
                  <p>
                    <b className="mr-1 font-semibold text-pick">{index + 1}</b>
                    {item.text}
                  </p>
                  <p className="flex items-baseline gap-2 text-[0.92rem] text-quiet">
                    {item.who}, {when(item.at)}
                    <Button
                      weight="quiet"
                      label={`${item.resolved ? "Open" : "Resolve"} pin ${index + 1}`}
                      onClick={() => edit({ kind: "resolve_pin", id: item.id, resolved: !item.resolved })}
                    >
                      {item.resolved ? "open again" : "resolve"}
                    </Button>
                  </p>
                </div>
              ))}
            </Card>
          )}
          {thread.data && <ThreadCard steps={thread.data.steps} project={project} />}
        </>
      }
      foot={<span>{hung.length} on the board</span>}
    />
  );
}
