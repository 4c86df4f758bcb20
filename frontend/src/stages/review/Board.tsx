import type { Shapes } from "../../api/client";
import { type Doing, menuOf } from "../../bench/Doings";
import { Empty } from "../../bench/Empty";
import { useBench } from "../../bench/store";
import { Button } from "../../ui/controls";
import { OneStop } from "../../ui/OneStop";
import { Picture, pictureOf } from "../../ui/Picture";
import { tr } from "../../words/words";

type Take = Shapes["TakeShape"];

/** What there is to do while nothing hangs on the board. */
export function EmptyBoard({ first, onHang }: { first: Take | undefined; onHang: (take: Take) => void }) {
  const go = useBench((bench) => bench.go);
  return (
    <Empty title={tr("An empty board")} says={tr("The right people see the right pictures here and answer.")}>
      {first && (
        <Button weight="act" onClick={() => onHang(first)}>
          {tr("Hang")} {first.name}
        </Button>
      )}
      <Button weight={first ? "plain" : "act"} onClick={() => go("Studio")}>
        {tr("Take a picture")}
      </Button>
      {!first && <Button onClick={() => go("Form")}>{tr("Look at the form")}</Button>}
    </Empty>
  );
}

/** All that hangs on the board, small, to choose from. */
export function TakesOnTheBoard(props: {
  project: string;
  takes: Take[];
  current: Take | undefined;
  onChoose: (take: string) => void;
  doingsOf: (take: Take) => Doing[];
}) {
  return (
    <OneStop as="ul" aria-label={tr("Takes on the board")} className="mt-4 flex h-20 shrink-0 gap-3 overflow-x-auto">
      {props.takes.map((take) => (
        <li key={take.id} {...menuOf(props.doingsOf(take), () => props.onChoose(take.id))}>
          <button
            type="button"
            onClick={() => props.onChoose(take.id)}
            aria-pressed={take.id === props.current?.id}
            className={`h-full border-2 text-left ${take.id === props.current?.id ? "border-act" : "border-vein"}`}
          >
            <Picture src={pictureOf(props.project, take)} alt={`${take.name}, ${take.quality}`} className="h-full" />
          </button>
        </li>
      ))}
    </OneStop>
  );
}
