import { useEffect, useRef, useState } from "react";
import { answer, api, type Shapes } from "../../../api/client";
import { at, queries, useSheet, useWork } from "../../../api/queries";
import { useBench } from "../../../bench/store";
import { Button } from "../../../ui/controls";
import { Picture } from "../../../ui/Picture";
import { tr } from "../../../words/words";
import { useSketch } from "../store";

type Row = Shapes["DocumentShape"];

/** All sheets of the project beside one another: opened, put in order, duplicated, two compared. */
export function SheetsOverview(props: { project: string; sheets: Row[]; onNew: () => void }) {
  const { project, sheets } = props;
  const { openSheet } = useBench();
  const set = useSketch((sketch) => sketch.set);
  const [picked, setPicked] = useState<string[]>([]);
  const [comparing, setComparing] = useState(false);
  /** What is dragged: known at once, where state would lag behind a quick hand. */
  const carried = useRef<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const tried = useWork();
  const work = async (doing: () => Promise<unknown>) => {
    await tried(doing);
    await queries.invalidateQueries({ queryKey: ["project", project] });
  };
  const place = (id: string, to: number) =>
    work(() =>
      answer(
        api.POST("/api/projects/{project}/documents/{document}/place", { ...at(project, id), body: { place: to } }),
      ),
    );
  const duplicate = (id: string) =>
    work(() => answer(api.POST("/api/projects/{project}/documents/{document}/duplicate", at(project, id))));
  const both = picked.map((id) => sheets.find((sheet) => sheet.id === id)).filter((sheet) => sheet !== undefined);
  const close = () => set({ overview: false });
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.defaultPrevented || document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      if (comparing) setComparing(false);
      else set({ overview: false });
    };
    window.addEventListener("keydown", key, true);
    return () => window.removeEventListener("keydown", key, true);
  }, [comparing, set]);
  return (
    <section aria-label={tr("All sheets")} className="absolute inset-0 flex flex-col overflow-y-auto bg-canvas p-6">
      <header className="mb-4 flex items-baseline gap-4">
        <h2 className="font-serif text-[1.5rem]">{comparing ? tr("Two sheets") : tr("All sheets")}</h2>
        <span className="flex-1 text-quiet">
          {comparing
            ? both.map((sheet) => sheet.name).join(" and ")
            : picked.length === 2
              ? tr("Two are picked.")
              : tr("Drag to put them in order; pick two to compare them.")}
        </span>
        {comparing ? (
          <Button onClick={() => setComparing(false)}>{tr("Back to all")}</Button>
        ) : (
          <>
            {both.length === 2 && (
              <Button weight="act" onClick={() => setComparing(true)}>
                {tr("Compare")}
              </Button>
            )}
            <Button onClick={props.onNew}>{tr("New sheet")}</Button>
          </>
        )}
        <Button onClick={close}>{tr("Close")}</Button>
      </header>
      {comparing ? (
        <div className="grid min-h-0 flex-1 grid-cols-2 gap-4">
          {both.map((sheet) => (
            <figure key={sheet.id} className="flex min-h-0 flex-col items-center gap-2">
              <Picture
                src={picture(project, sheet, 1600)}
                alt={sheet.name}
                className="max-h-full min-h-0 max-w-full border border-vein bg-page object-contain"
              />
              <figcaption>
                <Button weight="quiet" onClick={() => openSheet(sheet.id)}>
                  {tr("Open")} {sheet.name}
                </Button>
              </figcaption>
            </figure>
          ))}
        </div>
      ) : (
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-5" aria-label={tr("Sheets in order")}>
          {sheets.map((sheet, index) => (
            <li
              key={sheet.id}
              draggable
              onDragStart={(event) => {
                event.dataTransfer.setData("text/plain", sheet.id);
                carried.current = sheet.id;
              }}
              onDragEnd={() => {
                carried.current = null;
                setOver(null);
              }}
              onDragOver={(event) => {
                event.preventDefault();
                setOver(sheet.id);
              }}
              onDragLeave={() => setOver(null)}
              onDrop={(event) => {
                event.preventDefault();
                setOver(null);
                const id = carried.current;
                if (id && id !== sheet.id) place(id, index);
              }}
              className={over === sheet.id ? "outline outline-2 outline-pick" : ""}
            >
              <Thumb
                project={project}
                sheet={sheet}
                picked={picked.includes(sheet.id)}
                onPick={() =>
                  setPicked((now) =>
                    now.includes(sheet.id) ? now.filter((id) => id !== sheet.id) : [...now, sheet.id].slice(-2),
                  )
                }
                onOpen={() => {
                  close();
                  openSheet(sheet.id);
                }}
                onEarlier={index > 0 ? () => place(sheet.id, index - 1) : undefined}
                onLater={index < sheets.length - 1 ? () => place(sheet.id, index + 1) : undefined}
                onDuplicate={() => duplicate(sheet.id)}
              />
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function picture(project: string, sheet: Row, wide: number): string {
  return `/api/projects/${project}/sheets/${sheet.id}/page.png?head=${sheet.head ?? 0}&wide=${wide}`;
}

function Thumb(props: {
  project: string;
  sheet: Row;
  picked: boolean;
  onPick: () => void;
  onOpen: () => void;
  onEarlier?: () => void;
  onLater?: () => void;
  onDuplicate: () => void;
}) {
  const { sheet } = props;
  const { data } = useSheet(props.project, sheet.id);
  return (
    <article aria-label={sheet.name} className="space-y-1.5">
      <button
        type="button"
        aria-label={tr`Open ${sheet.name}`}
        onClick={props.onOpen}
        className="relative block w-full border border-vein bg-page hover:border-act"
      >
        <Picture src={picture(props.project, sheet, 560)} alt="" className="aspect-[3/2] w-full object-contain" />
        {data?.body.chosen && (
          <span className="absolute right-2 bottom-2 bg-act px-2 py-0.5 text-paper">{tr("Chosen direction")}</span>
        )}
      </button>
      <div className="flex items-baseline justify-between gap-2">
        <span className="truncate font-medium">{sheet.name}</span>
        <label className="flex min-h-[24px] items-center gap-1.5 text-quiet">
          <input
            type="checkbox"
            aria-label={tr`Pick ${sheet.name}`}
            checked={props.picked}
            onChange={props.onPick}
            className="accent-act"
          />
          {tr("pick")}
        </label>
      </div>
      <div className="-mx-2.5 flex text-[0.92rem]">
        {props.onEarlier && (
          <Button weight="quiet" label={tr`Earlier: ${sheet.name}`} onClick={props.onEarlier}>
            {tr("Earlier")}
          </Button>
        )}
        {props.onLater && (
          <Button weight="quiet" label={tr`Later: ${sheet.name}`} onClick={props.onLater}>
            {tr("Later")}
          </Button>
        )}
        <Button weight="quiet" label={tr`Duplicate ${sheet.name}`} onClick={props.onDuplicate}>
          {tr("Duplicate")}
        </Button>
      </div>
    </article>
  );
}
