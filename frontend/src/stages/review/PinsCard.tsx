import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { type Doing, Doings, menuOf } from "../../bench/Doings";
import { Button, Card } from "../../ui/controls";
import { when } from "../../ui/when";
import { tr } from "../../words/words";

/** The words of a pin that was just placed. */
export function CommentCard(props: { take: string | undefined; onPin: (text: string) => void; onLeave: () => void }) {
  const [text, setText] = useState("");
  return (
    <Card title={tr("A comment")} aside={props.take}>
      <textarea
        aria-label={tr("Comment")}
        value={text}
        // biome-ignore lint/a11y/noAutofocus: the pin was just placed, the next thing is to write
        autoFocus
        rows={3}
        onChange={(event) => setText(event.target.value)}
        className="w-full border border-vein bg-raised p-2 outline-none focus:border-act"
      />
      <div className="flex gap-2">
        <Button weight="act" disabled={!text.trim()} onClick={() => props.onPin(text.trim())}>
          {tr("Pin it")}
        </Button>
        <Button onClick={props.onLeave}>{tr("Leave it")}</Button>
      </div>
    </Card>
  );
}

/** What was said about a picture, and whether it is done. */
export function PinsCard({ pins, edit }: { pins: Shapes["Pin"][]; edit: Edit }) {
  const open = pins.filter((item) => !item.resolved).length;
  const doingsOf = (pin: Shapes["Pin"], index: number): Doing[] => [
    {
      name: pin.resolved ? tr("open again") : tr("resolve"),
      label: pin.resolved ? tr`Open pin ${index + 1}` : tr`Resolve pin ${index + 1}`,
      run: () => edit({ kind: "resolve_pin", id: pin.id, resolved: !pin.resolved }),
    },
    {
      name: tr("remove"),
      label: tr`Remove pin ${index + 1}`,
      run: () => edit({ kind: "remove_pin", id: pin.id }),
    },
  ];
  return (
    <Card title={tr("Pins")} aside={pins.length ? tr`${open} open` : tr("none yet")}>
      {pins.map((item, index) => (
        <div
          key={item.id}
          {...menuOf(doingsOf(item, index))}
          className={item.resolved ? "text-quiet line-through" : ""}
        >
          <p>
            <b className="mr-1 font-semibold text-pick">{index + 1}</b>
            {item.text}
          </p>
          <div className="flex flex-wrap items-baseline gap-x-2 text-[0.92rem] text-quiet">
            {item.who}, {when(item.at)}
            <Doings className="flex" doings={doingsOf(item, index)} />
          </div>
        </div>
      ))}
    </Card>
  );
}
