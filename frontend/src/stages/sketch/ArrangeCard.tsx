import type { Shapes } from "../../api/client";
import { Button, Card } from "../../ui/controls";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";

type Way = Shapes["ArrangeRequest"]["way"];

const WAYS: [Way, string][] = [
  ["left", tr("Left sides")],
  ["centre", tr("Centres")],
  ["right", tr("Right sides")],
  ["top", tr("Tops")],
  ["middle", tr("Middles")],
  ["bottom", tr("Feet")],
  ["spread across", tr("Even gaps across")],
  ["spread down", tr("Even gaps down")],
];

/** Views set in line with one another, with all that is drawn in them. */
export function ArrangeCard(props: {
  views: Shapes["View"][];
  chosen: string[];
  onChoose: (views: string[]) => void;
  onArrange: (way: Way, views: string[]) => void;
}) {
  const { views, chosen, onChoose, onArrange } = props;
  const set = chosen.filter((id) => views.some((view) => view.id === id));
  return (
    <Card title={tr("Arrange")} aside={set.length ? tr`${set.length} views` : tr("all views")}>
      <div className="flex flex-wrap gap-x-3">
        {views.map((view) => {
          const on = set.includes(view.id);
          return (
            <label key={view.id} className="flex min-h-[24px] items-center gap-1.5">
              <input
                type="checkbox"
                checked={on}
                onChange={() => onChoose(on ? set.filter((id) => id !== view.id) : [...set, view.id])}
                className="accent-act"
              />
              {view.name}
            </label>
          );
        })}
      </div>
      <OneStop className="flex flex-wrap gap-x-3 gap-y-1">
        {WAYS.map(([way, name]) => (
          <Button key={way} weight="quiet" onClick={() => onArrange(way, set)}>
            {name}
          </Button>
        ))}
      </OneStop>
    </Card>
  );
}
