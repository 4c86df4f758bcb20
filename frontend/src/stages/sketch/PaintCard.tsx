import { useState } from "react";
import { Button, Card } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { tr } from "../../words/words";

export interface Shift {
  by?: [number, number];
  turn?: number;
  scale?: number;
  mirror?: boolean;
  copies?: boolean;
}

/** Selected paint moved, turned and scaled by number. */
export function PaintCard({ onShift }: { onShift: (shift: Shift) => void }) {
  const [round, setRound] = useState(0);
  const shift = (how: Shift) => {
    onShift(how);
    setRound((n) => n + 1);
  };
  return (
    <Card title={tr("Selected paint")}>
      <div key={round} className="space-y-1.5">
        <NumberField label={tr("Paint across")} value={0} unit="px" onChange={(x) => shift({ by: [x, 0] })} />
        <NumberField label={tr("Paint down")} value={0} unit="px" onChange={(y) => shift({ by: [0, y] })} />
        <NumberField
          label={tr("Turn the paint by")}
          value={0}
          digits={1}
          unit="°"
          onChange={(turn) => shift({ turn })}
        />
        <NumberField
          label={tr("Scale the paint to")}
          value={100}
          min={2}
          max={2000}
          unit="%"
          onChange={(value) => shift({ scale: value / 100 })}
        />
      </div>
      <div className="flex gap-x-4">
        <Button weight="quiet" onClick={() => shift({ mirror: true })}>
          {tr("Mirror the paint")}
        </Button>
        <Button weight="quiet" onClick={() => shift({ by: [40, 40], copies: true })}>
          {tr("Duplicate the paint")}
        </Button>
      </div>
    </Card>
  );
}
