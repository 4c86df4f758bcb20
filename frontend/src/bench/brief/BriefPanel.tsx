import { useState } from "react";
import type { Shapes } from "../../api/client";
import { bodyOf, type Edit, useEdit } from "../../api/queries";
import { AxisFields, type Triple, withAxis } from "../../ui/AxisFields";
import { Button } from "../../ui/controls";
import { Panel } from "../../ui/Panel";
import { useOnItsWay } from "../../ui/useOnItsWay";
import { tr } from "../../words/words";
import { Board } from "./Board";
import { useBrief } from "./useBrief";

/** What a product is when nobody has said how large it may be, mm. */
const A_SIZE: Triple = [62, 34, 108];

/** What the product must be: in words, by its size, by pictures. */
export function BriefPanel(props: {
  project: string;
  documents: readonly Shapes["DocumentShape"][];
  onClose: () => void;
}) {
  const brief = useBrief(props.project, props.documents);
  return (
    <Panel title={tr("The brief")} onClose={props.onClose} wide="most">
      {brief && (
        <Content
          key={brief.document}
          project={props.project}
          documents={props.documents}
          document={brief.document}
          brief={brief.body}
          onLeave={props.onClose}
        />
      )}
    </Panel>
  );
}

function Content(props: {
  project: string;
  documents: readonly Shapes["DocumentShape"][];
  document: string;
  brief: Shapes["Brief"];
  onLeave: () => void;
}) {
  const { brief } = props;
  const edit = useEdit(props.project, props.document);
  return (
    <div className="grid grid-cols-[19rem_1fr] gap-6 max-[760px]:grid-cols-1">
      <div className="space-y-4">
        <Words
          label={tr("What it must be")}
          placeholder={tr("A pocket recorder for birdsong. One hand, one thumb, any weather.")}
          rows={4}
          most={2000}
          value={brief.what ?? ""}
          onChange={(what) => edit({ kind: "write_brief", what })}
        />
        <Envelope envelope={(brief.envelope ?? null) as Triple | null} document={props.document} edit={edit} />
        <Words
          label={tr("Notes")}
          placeholder={tr("Who uses it, where, what it costs, what it must never do.")}
          rows={9}
          most={20000}
          value={brief.notes ?? ""}
          onChange={(notes) => edit({ kind: "write_brief", notes })}
        />
      </div>
      <Board {...props} edit={edit} />
    </div>
  );
}

/** Several lines of text; they are kept when one leaves the field. */
function Words(props: {
  label: string;
  placeholder: string;
  rows: number;
  most: number;
  value: string;
  onChange: (text: string) => unknown;
}) {
  const [value, set] = useOnItsWay(props.value, props.onChange);
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <label className="block">
      <span className="mb-1 block font-semibold">{props.label}</span>
      <textarea
        aria-label={props.label}
        rows={props.rows}
        maxLength={props.most}
        placeholder={props.placeholder}
        value={typed ?? value}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          if (typed !== null && typed !== value) set(typed);
          setTyped(null);
        }}
        className="w-full resize-y border border-vein bg-raised px-3 py-2 outline-none focus:border-act"
      />
    </label>
  );
}

/** The size the product must keep within. */
function Envelope(props: { envelope: Triple | null; document: string; edit: Edit }) {
  const { envelope, edit } = props;
  return (
    <section aria-label={tr("Size to keep within")}>
      <h3 className="mb-1 font-semibold">{tr("Size to keep within")}</h3>
      {envelope ? (
        <>
          <AxisFields
            label={tr("Size to keep within")}
            unit="mm"
            min={1}
            max={10_000}
            digits={1}
            values={envelope}
            onChange={(values, axis) =>
              edit(async () => {
                const now = (bodyOf<Shapes["Brief"]>(props.document)?.envelope ?? envelope) as Triple;
                return { kind: "set_envelope", envelope: withAxis(now, axis, values[axis]!) };
              })
            }
          />
          <p className="mt-1 flex items-baseline justify-between gap-3 text-quiet">
            {tr("Stands as a faint box in Form.")}
            <Button weight="quiet" onClick={() => edit({ kind: "set_envelope", envelope: null })}>
              {tr("Take it away")}
            </Button>
          </p>
        </>
      ) : (
        <Button onClick={() => edit({ kind: "set_envelope", envelope: A_SIZE })}>{tr("Set a size")}</Button>
      )}
    </section>
  );
}
