import { type ReactNode, useState } from "react";
import type { Shapes } from "../../api/client";
import { useSheet } from "../../api/queries";
import { useBench } from "../../bench/store";
import { Button } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { useReading } from "../../ui/numbers/reading";
import { Picture } from "../../ui/Picture";
import { tr } from "../../words/words";
import { FIRST, type StartShape } from "./starts";

/** Sheets offered at most, the chosen direction first. */
const MOST_SHEETS = 2;

interface BeginningsProps {
  project: string;
  sheets: Shapes["DocumentShape"][];
  /** W, D, H in mm the brief asks for. */
  envelope: readonly [number, number, number] | null;
  begin: (start: StartShape) => unknown;
  beginOver: (over: Shapes["BeginRequest"]) => unknown;
  onFile: () => void;
}

/** An empty form: what it is for, and the likely ways to begin, each as a small drawing. */
export function Beginnings(props: BeginningsProps) {
  const { sheets, begin, envelope } = props;
  const read = useReading();
  const size = envelope ?? FIRST.box.size;
  const [typed, setHigh] = useState<number | null>(null);
  // the brief may come later than this
  const high = typed ?? size[2];
  const go = useBench((bench) => bench.go);
  const drawn = sheets.filter((sheet) => sheet.head !== null);
  const offered = [...drawn.filter((sheet) => sheet.chosen), ...drawn.filter((sheet) => !sheet.chosen)];
  return (
    <div className="pointer-events-none absolute inset-0 overflow-y-auto">
      <div className="mx-auto max-w-[46rem] px-4 pt-[12vh] pb-8 text-center">
        {/* on paper of their own: the brief’s box stands behind */}
        <p className="mx-auto w-fit bg-canvas px-3 font-semibold font-serif text-[1.6rem]">{tr("No form yet")}</p>
        <p className="mx-auto mb-4 w-fit bg-canvas px-3 py-1 text-quiet">
          {tr("The right volume in minutes. Begin with your drawing, or with a plain shape.")}
        </p>
        <div className="pointer-events-auto flex flex-wrap justify-center gap-3 text-left">
          {offered.slice(0, MOST_SHEETS).map((sheet) => (
            <FromSheet key={sheet.id} {...props} sheet={sheet} high={high} onHigh={setHigh} />
          ))}
          {!offered.length && (
            <Tile
              name={tr("Draw its outline first")}
              says={tr("A side view on a sheet becomes a body in one move.")}
              onClick={() => go("Sketch")}
            >
              <path d="M20 66C19 30 32 14 62 14s44 16 42 50c-1 8-8 9-41 9s-42 0-43-7Z" fill="none" />
              <path d="m104 52 22-22 5 5-22 22-7 2Z" />
            </Tile>
          )}
          <Tile name={tr("A box")} says={read.size(size)} onClick={() => begin({ ...FIRST.box, size: [...size] })}>
            <path d="M48 26 84 14l24 8v40L70 76 48 66Z" />
            <path d="M48 26l22 9 38-13M70 35v41" fill="none" />
          </Tile>
          <Tile
            name={tr("A ball")}
            says={read.length(size[0])}
            onClick={() => begin({ ...FIRST.sphere, size: [size[0], size[0], size[0]] })}
          >
            <circle cx="78" cy="44" r="30" />
            <path d="M48 44c14 10 46 10 60 0M78 14c-12 16-12 44 0 60" fill="none" />
          </Tile>
          <Tile
            name={tr("A ring")}
            says={tr`${read.length(2 * (FIRST.ring.radius + FIRST.ring.tube))} across`}
            onClick={() => begin(FIRST.ring)}
          >
            <path d="M34 44c0-14 20-24 44-24s44 10 44 24-20 24-44 24-44-10-44-24Z" />
            <path d="M56 42c0-6 10-10 22-10s22 4 22 10-10 9-22 9-22-3-22-9Z" fill="var(--canvas)" />
          </Tile>
          <Tile name={tr("A file")} says={tr("OBJ, PLY, STL, glTF")} onClick={props.onFile}>
            <path d="M52 14h36l16 16v46H52Z" />
            <path d="M88 14v16h16M78 40v22M69 54l9 9 9-9" fill="none" />
          </Tile>
        </div>
      </div>
    </div>
  );
}

function Tile(props: { name: string; says: string; onClick: () => unknown; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={props.onClick}
      className="flex w-[9.6rem] flex-col border border-vein bg-raised text-left hover:border-act"
    >
      <svg
        viewBox="0 0 156 88"
        className="w-full bg-page"
        aria-hidden="true"
        fill="var(--plaster)"
        stroke="var(--ink)"
        strokeWidth="1.4"
        strokeLinejoin="round"
      >
        {props.children}
      </svg>
      <span className="px-2.5 py-2">
        <span className="block font-semibold">{props.name}</span>
        <span className="block text-[0.92rem] text-quiet">{props.says}</span>
      </span>
    </button>
  );
}

/** A sheet's drawing, made a body in one move. */
function FromSheet(
  props: BeginningsProps & { sheet: Shapes["DocumentShape"]; high: number; onHigh: (high: number) => void },
) {
  const { project, sheet, high, envelope, beginOver } = props;
  const { data } = useSheet(project, sheet.id);
  const views =
    data?.body.views.filter((view) => !view.struck && (view.view === "front" || view.view === "side")) ?? [];
  const [wanted, setWanted] = useState<string | null>(null);
  const view = views.find((one) => one.id === wanted) ?? views[0];
  if (!data) return null;
  const place = `/api/projects/${project}/sheets/${sheet.id}`;
  const picture = view
    ? `${place}/views/${view.id}.png?head=${data.standing.head}`
    : `${place}/page.png?wide=480&head=${data.standing.head}`;
  const over = (how: "turned" | "outlined") => {
    const deep = envelope && how === "outlined" ? envelope[view?.view === "side" ? 0 : 1] : null;
    return beginOver({ sheet: sheet.id, view: view?.id ?? null, how, height: high, deep });
  };
  return (
    <section aria-label={tr`Begin from ${sheet.name}`} className="flex w-[22rem] border border-act bg-raised">
      <div className="w-[8.4rem] shrink-0 bg-page">
        <Picture
          src={picture}
          alt={tr`What is drawn on ${sheet.name}`}
          className={`h-full w-full ${view ? "object-contain p-1" : "object-cover"}`}
        />
      </div>
      <div className="min-w-0 flex-1 space-y-1.5 px-2.5 py-2">
        <p className="truncate font-semibold">{sheet.name}</p>
        {views.length > 1 && (
          <select
            aria-label={tr("The view to begin from")}
            value={view!.id}
            onChange={(event) => setWanted(event.target.value)}
            className="w-full border border-vein bg-raised"
          >
            {views.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        )}
        <NumberField label={tr("High")} value={high} min={1} max={10000} digits={0} unit="mm" onChange={props.onHigh} />
        <Button weight="act" onClick={() => over("outlined")}>
          {tr("Body by its outline")}
        </Button>
        <Button onClick={() => over("turned")}>{tr("Turned about its middle")}</Button>
      </div>
    </section>
  );
}

/** A view is pinned and nothing stands before it yet: what to make of it, below it. */
export function BeginOverPinned(props: {
  references: Shapes["Reference"][];
  begin: BeginningsProps["begin"];
  beginOver: BeginningsProps["beginOver"];
}) {
  const reference = props.references.findLast(({ plane }) => plane === "front" || plane === "side");
  const over = (how: "turned" | "outlined") =>
    reference &&
    props.beginOver({ sheet: reference.sheet, view: reference.view, how, height: reference.length, deep: null });
  return (
    <div className="absolute inset-x-0 bottom-6 flex flex-wrap items-center justify-center gap-2">
      <span className="text-quiet">{tr("Begin over it:")}</span>
      {reference && (
        <>
          <Button weight="act" onClick={() => over("outlined")}>
            {tr("Body by its outline")}
          </Button>
          <Button onClick={() => over("turned")}>{tr("Turned about its middle")}</Button>
        </>
      )}
      <Button onClick={() => props.begin(FIRST.box)}>{tr("A box")}</Button>
    </div>
  );
}
