import { useState } from "react";
import type { Shapes } from "../../api/client";
import type { Letter } from "../../ui/AxisFields";
import { Button, Card, Choice } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";
import { useSketch } from "./store";

type Change = Shapes["LinesRequest"]["change"];

/** What can be done with picked lines, by number. */
export function LinesCard(props: {
  onChange: (change: Change) => void;
  /** Marks the picked lines as edges of a drawn box. */
  onMark: (along: Letter | null) => void;
  edges: Record<string, Letter>;
  /** Faces of the construction box the lines can be laid on. */
  faces: Shapes["LayOn"]["face"][];
}) {
  const { onChange, onMark, edges, faces } = props;
  const { lines, colour, pulling, set } = useSketch();
  const [round, setRound] = useState(0);
  const change = (next: Change) => {
    onChange(next);
    setRound((n) => n + 1);
  };
  const carry = (fields: object) => change({ how: "carry", by: [0, 0], turn: 0, scale: 1, ...fields } as Change);
  const count = lines.length;
  return (
    <Card title={count === 1 ? tr("1 line") : tr`${count} lines`} aside={tr("picked")}>
      <Choice
        label={tr("A drag")}
        options={["moves", "pulls"]}
        value={pulling ? "pulls" : "moves"}
        onChange={(how) => set({ pulling: how === "pulls" })}
      />
      <div key={round} className="space-y-1.5">
        <NumberField label={tr("Move across")} value={0} unit="px" onChange={(x) => carry({ by: [x, 0] })} />
        <NumberField label={tr("Move down")} value={0} unit="px" onChange={(y) => carry({ by: [0, y] })} />
        <NumberField label={tr("Turn by")} value={0} digits={1} unit="°" onChange={(turn) => carry({ turn })} />
        <NumberField
          label={tr("Scale to")}
          value={100}
          min={2}
          max={2000}
          unit="%"
          onChange={(value) => carry({ scale: value / 100 })}
        />
        <NumberField
          label={tr("Width to")}
          value={100}
          min={10}
          max={1000}
          unit="%"
          onChange={(value) => change({ how: "restyle", wider: value / 100 })}
        />
        <NumberField
          label={tr("Smooth over")}
          value={0}
          min={0}
          max={600}
          unit="px"
          onChange={(width) => width > 0 && change({ how: "smooth", width })}
        />
      </div>
      <Choice
        label={tr("Broken as")}
        options={["plain", "split", "hidden"]}
        value={"" as "plain" | "split" | "hidden"}
        onChange={(line) => change({ how: "restyle", line, wider: 1 })}
      />
      <div className="flex items-center justify-between gap-2 text-quiet">
        <span>{tr("Edges of a box")}</span>
        <Choice
          label={tr("Edges of a box along")}
          options={["W", "D", "H", "none"]}
          value={markOf(lines.map(({ id }) => edges[id]))}
          onChange={(along) => onMark(along === "none" ? null : along)}
        />
      </div>
      {faces.length > 0 && (
        <div className="flex flex-wrap items-center gap-x-3 text-quiet">
          <span>{tr("Lay them on")}</span>
          {faces.map((face) => (
            <Button
              key={face}
              weight="quiet"
              label={tr`Lay them on the ${face}`}
              onClick={() => change({ how: "lay on", face })}
            >
              {face}
            </Button>
          ))}
        </div>
      )}
      <div className="flex flex-wrap gap-x-4">
        <Button weight="quiet" onClick={() => change({ how: "restyle", colour, wider: 1 })}>
          {tr("Recolour")}
        </Button>
        <Button weight="quiet" onClick={() => carry({ mirror: true })}>
          {tr("Mirror them")}
        </Button>
        <Button weight="quiet" onClick={() => carry({ by: [40, 40], copies: true })}>
          {tr("Duplicate them")}
        </Button>
        <Button weight="quiet" onClick={() => change({ how: "remove" })}>
          {tr("Take away")}
        </Button>
      </div>
    </Card>
  );
}

/** The direction all picked lines are marked with; none where they differ. */
function markOf(marks: (Letter | undefined)[]): Letter | "none" {
  const first = marks[0];
  return first && marks.every((mark) => mark === first) ? first : "none";
}
