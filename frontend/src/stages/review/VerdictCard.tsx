import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { Edit } from "../../api/queries";
import { Button, Card, Choice } from "../../ui/controls";
import { when } from "../../ui/when";
import { tr } from "../../words/words";

type Decision = Shapes["Verdict"]["decision"];
const LOOKS: Record<Decision, string> = { keep: "text-act", change: "text-warn", drop: "text-wrong" };

/** Keep, change or drop, with the reason; what was decided stays as a dated record. */
export function VerdictCard(props: { take: Shapes["TakeShape"]; board: Shapes["Board"]; who: string; edit: Edit }) {
  const [decision, setDecision] = useState<Decision>("keep");
  const [reason, setReason] = useState("");
  const given = (props.board.verdicts ?? []).filter((verdict) => verdict.take === props.take.id);
  const last = given.at(-1);
  const decide = async () => {
    const kept = await props.edit({
      kind: "give_verdict",
      take: props.take.id,
      decision,
      reason: reason.trim(),
      who: props.who,
      at: new Date().toISOString(),
    });
    if (kept) setReason("");
  };
  return (
    <Card title={tr("Verdict")} aside={last ? <b className={LOOKS[last.decision]}>{last.decision}</b> : tr("open")}>
      <ol className="space-y-1">
        {given.map((verdict) => (
          <li key={verdict.at}>
            <b className={`font-semibold ${LOOKS[verdict.decision]}`}>{verdict.decision}</b> {verdict.reason}
            <span className="block text-[0.92rem] text-quiet">
              {verdict.who}, {when(verdict.at)}
            </span>
          </li>
        ))}
      </ol>
      <Choice<Decision>
        label={tr("Verdict")}
        options={["keep", "change", "drop"]}
        value={decision}
        onChange={setDecision}
      />
      <textarea
        aria-label={tr("Reason")}
        placeholder={tr("The reason")}
        rows={2}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
        className="w-full border border-vein bg-raised p-2 outline-none focus:border-act"
      />
      <Button weight="act" disabled={!reason.trim()} onClick={decide}>
        {tr("Decide")}
      </Button>
    </Card>
  );
}
