import { skipToken, useQuery } from "@tanstack/react-query";
import { type ReactNode, useLayoutEffect, useMemo, useRef, useState } from "react";
import { answer, api, type Shapes } from "../api/client";
import { unsafe, useOutbox } from "../api/outbox";
import { ask, at, queries, refresh, stateKey, useWork } from "../api/queries";
import { Button } from "../ui/controls";
import { useReading } from "../ui/numbers/reading";
import { useNarrower } from "../ui/useMedia";
import { tr } from "../words/words";
import { useCommands } from "./commands";
import { History } from "./History";

/** Rem of a window in which the line may need two. */
const TIGHT = 60;

type Standing = Shapes["Standing"];

/** The last edit as a sentence with its undo; opened, the whole ledger with versions and branches. */
export function LedgerLine(props: { project: string; document: string; foot?: ReactNode }) {
  const [open, setOpen] = useState(false);
  const work = useWork(props.document);
  const read = useReading();
  const { data } = useQuery<{ standing: Standing }>({ queryKey: stateKey(props.document), queryFn: skipToken });
  const standing = data?.standing;
  const move = (way: "undo" | "redo") => {
    const path = `/api/projects/{project}/documents/{document}/${way}` as const;
    return work(() =>
      ask(props.document, (headers) => api.POST(path, { ...at(props.project, props.document), headers })),
    );
  };
  const tight = useNarrower(TIGHT);
  const setLedger = useCommands((registry) => registry.setLedger);
  const latest = useRef(move);
  latest.current = move;
  const { can_undo, can_redo, sentence } = standing ?? {};
  useLayoutEffect(() => {
    setLedger([
      {
        id: "undo",
        name: can_undo ? tr`Undo: ${read.sentence(sentence!)}` : tr("Undo"),
        group: "Ledger",
        key: "mod+z",
        does: tr("Take the last edit back; nothing is lost."),
        means: tr("back revert"),
        cannot: can_undo ? undefined : tr("There is nothing to undo."),
        run: () => void latest.current("undo"),
      },
      {
        id: "redo",
        name: tr("Redo"),
        group: "Ledger",
        key: "mod+shift+z",
        does: tr("Do again what was undone."),
        means: tr("forward again"),
        cannot: can_redo ? undefined : tr("There is nothing to redo."),
        run: () => void latest.current("redo"),
      },
    ]);
    return () => setLedger([]);
  }, [can_undo, can_redo, sentence, read, setLedger]);
  if (!standing) return <footer className="h-[calc(2.6rem+1px)] border-vein border-t bg-paper" />;
  return (
    <footer className="relative z-10 border-vein border-t bg-paper">
      {open && <LedgerList {...props} standing={standing} />}
      {/* its height never changes with what it says: the canvas would move under the hand */}
      <div
        className={`flex items-center gap-x-3.5 px-4 text-quiet ${tight ? "min-h-[2.6rem] flex-wrap" : "h-[2.6rem] overflow-hidden"}`}
      >
        <button
          type="button"
          title={standing.can_undo ? tr`Undo: ${read.sentence(standing.sentence)}` : tr("Nothing to undo")}
          disabled={!standing.can_undo}
          onClick={() => move("undo")}
          className="px-1 text-ink hover:text-act disabled:opacity-40"
        >
          {tr("Undo")}
        </button>
        <button
          type="button"
          title={standing.can_redo ? tr("Redo what was undone") : tr("Nothing to redo")}
          disabled={!standing.can_redo}
          onClick={() => move("redo")}
          className="px-1 text-ink hover:text-act disabled:opacity-40"
        >
          {tr("Redo")}
        </button>
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="flex min-w-0 max-w-full items-center gap-3.5 hover:text-ink"
        >
          <span className="truncate font-medium text-ink" data-testid="sentence">
            {read.sentence(standing.sentence)}
          </span>
          <span className="shrink-0">
            {standing.edits} {standing.edits === 1 ? tr("edit") : tr("edits")}
            {standing.since ? tr`, after “${standing.since}”` : ""}
          </span>
        </button>
        <span aria-live="polite" className="sr-only">
          {read.sentence(standing.sentence)}
        </span>
        <NotYetSafe />
        <div className={`ml-auto flex gap-x-2.5 ${tight ? "min-w-0 flex-wrap" : "shrink-0"}`}>{props.foot}</div>
      </div>
    </footer>
  );
}

/** What was done and waits for a server that does not answer. */
function NotYetSafe() {
  const late = useOutbox(({ waiting }) => unsafe(waiting).length);
  if (!late) return null;
  return (
    <span role="status" aria-label={tr("Not yet safe")} className="shrink-0 font-medium text-warn">
      {late === 1 ? tr("1 change is") : tr`${late} changes are`} {tr("not yet safe, and sent when the server is back")}
    </span>
  );
}

type Ledger = Shapes["LedgerShape"];

function LedgerList(props: { project: string; document: string; standing: Standing }) {
  const work = useWork(props.document);
  const [name, setName] = useState("");
  const read = useReading();
  const { data } = useQuery({
    queryKey: ["ledger", props.document],
    queryFn: () =>
      answer(api.GET("/api/projects/{project}/documents/{document}/ledger", at(props.project, props.document))),
  });
  const rows = useMemo(() => (data ? arrange(data) : []), [data]);
  const go = (edit: number | null) =>
    work(() =>
      ask(props.document, (headers) =>
        api.POST("/api/projects/{project}/documents/{document}/go", {
          ...at(props.project, props.document),
          headers,
          body: { edit },
        }),
      ),
    );
  const keep = () =>
    work(async () => {
      await answer(
        api.POST("/api/projects/{project}/documents/{document}/versions", {
          ...at(props.project, props.document),
          body: { name, edit: props.standing.head },
        }),
      );
      setName("");
      await queries.invalidateQueries({ queryKey: ["ledger", props.document] });
      await refresh(props.document);
    });
  if (!data) return null;
  return (
    <>
      <History project={props.project} document={props.document} ledger={data} onGo={go} />
      <section
        aria-label={tr("Ledger")}
        className="grid h-[26vh] grid-cols-[minmax(0,1fr)_minmax(9rem,16rem)] grid-rows-[minmax(0,1fr)] border-vein border-b"
      >
        <ol className="overflow-y-auto py-2">
          {rows.map((row) => (
            <li key={row.id ?? "start"}>
              <button
                type="button"
                aria-current={row.id === data.head ? "step" : undefined}
                onClick={() => go(row.id)}
                style={{ paddingLeft: `${1.2 + row.branch * 1.2}rem` }}
                className={`flex w-full items-center gap-3 py-0.5 pr-4 text-left hover:bg-raised ${row.id === data.head ? "font-semibold text-act" : row.ahead ? "text-quiet" : ""}`}
              >
                <span className="flex-1 truncate">
                  {row.branch > 0 && <span className="mr-1 text-quiet">{tr("branch")}</span>}
                  {read.sentence(row.sentence)}
                </span>
                {row.versions.map((version) => (
                  <span key={version} className="text-pick">
                    {version}
                  </span>
                ))}
              </button>
            </li>
          ))}
        </ol>
        <div className="border-vein border-l p-3">
          <p className="mb-2 text-quiet">
            {tr("Name this point to find it again, or step to any line; a new edit there begins a branch.")}
          </p>
          <div className="flex gap-2">
            <input
              aria-label={tr("Version name")}
              placeholder={tr("waist in")}
              value={name}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && name.trim() && keep()}
              className="w-full min-w-0 border border-vein bg-raised px-2 py-1 outline-none focus:border-act"
            />
            <Button disabled={!name.trim()} onClick={keep}>
              {tr("Keep")}
            </Button>
          </div>
        </div>
      </section>
    </>
  );
}

interface LedgerRow {
  id: number | null;
  sentence: string;
  branch: number;
  ahead: boolean;
  versions: string[];
}

/** Lines newest first; those off the present branch are set in by how many branches lie between. */
function arrange(ledger: Ledger): LedgerRow[] {
  const parents = new Map(ledger.lines.map((line) => [line.id, line.parent ?? null]));
  const path = new Set<number | null>([null]);
  for (let step: number | null | undefined = ledger.tip; step != null; step = parents.get(step)) path.add(step);
  const behind = new Set<number | null>([null]);
  for (let step: number | null | undefined = ledger.head; step != null; step = parents.get(step)) behind.add(step);
  const depth = new Map<number | null, number>([[null, 0]]);
  const newestChild = new Map<number | null, number>();
  const rows: LedgerRow[] = [
    { id: null, sentence: tr("The start"), branch: 0, ahead: false, versions: named(ledger, null) },
  ];
  for (const line of ledger.lines) newestChild.set(line.parent ?? null, line.id);
  for (const line of ledger.lines) {
    const parent = line.parent ?? null;
    const level = path.has(line.id)
      ? 0
      : Math.max(1, depth.get(parent)! + (newestChild.get(parent) === line.id ? 0 : 1));
    depth.set(line.id, level);
    rows.push({
      id: line.id,
      sentence: line.sentence,
      branch: level,
      ahead: !behind.has(line.id),
      versions: named(ledger, line.id),
    });
  }
  return rows.reverse();
}

function named(ledger: Ledger, edit: number | null): string[] {
  return ledger.versions.filter((version) => (version.edit ?? null) === edit).map((version) => version.name);
}
