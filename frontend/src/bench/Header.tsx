import { answer, api, type Shapes } from "../api/client";
import { queries, useFindingCounts, useStatus, useTakes, useTasks, useWork } from "../api/queries";
import { duration } from "../ui/duration";
import { OneStop } from "../ui/OneStop";
import { Picture, pictureOf } from "../ui/Picture";
import { useNarrower } from "../ui/useMedia";
import { told, tr } from "../words/words";
import { type Carried, carries, putDown, receives, useTaking } from "./carrying";
import { FirstSteps } from "./FirstSteps";
import { STAGES, type Stage, useBench } from "./store";

interface HeaderProps {
  project: Shapes["ProjectShape"];
  documents: Shapes["DocumentShape"][];
  onProjects: () => void;
  onBrief: () => void;
  onKeys: () => void;
  onSettings: () => void;
}

/** Rem of a window in which the stages have a line of their own, and the thread has no room. */
const TIGHT = 52;

/** Mark, project, stages, thread, darkroom. */
export function Header(props: HeaderProps) {
  const { stage, go } = useBench();
  const work = useWork();
  const put = (to: Stage, thing: Carried) => work(() => putDown(props.project.id, props.documents, to, thing));
  const taking = useTaking();
  const tight = useNarrower(TIGHT);
  return (
    <header
      className={`flex shrink-0 items-center gap-x-3 border-vein border-b bg-paper px-4 ${tight ? "flex-wrap" : "h-[3.4rem]"}`}
    >
      <svg viewBox="0 0 22 22" className="h-[1.6rem] w-[1.6rem]" aria-hidden="true">
        <circle cx="11" cy="11" r="8" fill="none" stroke="var(--vein)" strokeWidth="5" />
        <path d="M14.8 18A8 8 0 1 1 17.8 6.8" fill="none" stroke="var(--ink)" strokeWidth="5" />
      </svg>
      <button
        type="button"
        onClick={props.onProjects}
        className={`flex min-w-[3rem] items-baseline gap-3 hover:text-act ${tight ? "flex-1" : ""}`}
        title={tr("Projects")}
      >
        <h1 className="truncate font-semibold font-serif text-[1.45rem] tracking-tight">{props.project.name}</h1>
        <span className="truncate text-quiet max-[1100px]:hidden">{props.project.maker}</span>
        {props.project.newer && (
          <span className="whitespace-nowrap border border-quiet px-1.5 text-quiet">
            {tr("from a newer version: to look at")}
          </span>
        )}
      </button>
      <OneStop
        as="nav"
        aria-label={tr("Stages")}
        className={`flex gap-6 max-[1000px]:ml-2 max-[1000px]:gap-3 ${tight ? "order-last ml-0 w-full overflow-x-auto" : "ml-8"}`}
      >
        {STAGES.map((name) => (
          <button
            key={name}
            type="button"
            aria-current={name === stage ? "page" : undefined}
            onClick={() => go(name)}
            {...receives(name, (thing) => put(name, thing))}
            className={`${taking.has(name) ? "outline outline-2 outline-act" : ""} border-b-2 pt-4 pb-3.5 ${name === stage ? "border-act font-semibold" : "border-transparent text-quiet hover:text-ink"}`}
          >
            {tr(name)}
          </button>
        ))}
      </OneStop>
      <Thread project={props.project.id} documents={props.documents} onBrief={props.onBrief} onPut={put} />
      <FirstSteps project={props.project.id} documents={props.documents} />
      <LongWork project={props.project.id} />
      <button type="button" onClick={props.onSettings} className="text-quiet hover:text-ink">
        {tr("Settings")}
      </button>
      <button
        type="button"
        onClick={props.onKeys}
        aria-label={tr("Keys")}
        className="px-1 font-semibold text-quiet hover:text-ink"
      >
        ?
      </button>
    </header>
  );
}

/** The chain from sheet to board, each link a way there. */
function Thread(props: {
  project: string;
  documents: Shapes["DocumentShape"][];
  onBrief: () => void;
  onPut: (stage: Stage, thing: Carried) => void;
}) {
  const { stage, go, sheet } = useBench();
  const tight = useNarrower(TIGHT);
  const { data: takes } = useTakes(props.project);
  const sheets = props.documents.filter((document) => document.kind === "sheet");
  const shown =
    sheets.find((document) => document.id === sheet) ?? sheets.find((document) => document.chosen) ?? sheets[0];
  const form = props.documents.find((document) => document.kind === "form");
  const counts = useFindingCounts(props.project, form?.id, form?.head);
  const open = Object.values(counts ?? {}).reduce((sum, count) => sum + count, 0);
  const newest = takes?.filter((take) => take.picture).at(-1);
  const knots = [
    {
      stage: "Sketch",
      name: !shown
        ? tr("No sheet")
        : shown.chosen
          ? tr`Sheet: ${shown.name}, the chosen direction`
          : tr`Sheet: ${shown.name}`,
      chosen: shown?.chosen ?? false,
      picture: shown?.head
        ? `/api/projects/${props.project}/sheets/${shown.id}/page.png?wide=160&head=${shown.head}`
        : null,
      word: tr("sheet"),
    },
    {
      stage: "Form",
      name: !open ? tr("Form") : open === 1 ? tr("Form, 1 finding open") : tr`Form, ${open} findings open`,
      chosen: false,
      open,
      picture: form?.head
        ? `/api/projects/${props.project}/documents/${form.id}/portrait.png?wide=160&at=${form.head}`
        : null,
      word: tr("form"),
    },
    {
      stage: "Studio",
      chosen: false,
      name: newest ? tr`Take: ${newest.name}` : tr("No take yet"),
      picture: newest ? pictureOf(props.project, newest) : null,
      word: tr("take"),
    },
    { stage: "Review", name: tr("Board"), chosen: false, picture: null, word: tr("board") },
  ] as const;
  return (
    <OneStop as="nav" aria-label={tr("Thread")} className={`ml-auto items-center ${tight ? "hidden" : "flex"}`}>
      <button
        type="button"
        title={tr("The brief")}
        onClick={props.onBrief}
        className="grid h-8 w-11 place-items-center border border-vein bg-raised text-[0.78rem] text-quiet hover:border-quiet"
      >
        {tr("brief")}
      </button>
      {knots.map((knot) => (
        <span key={knot.stage} className="flex items-center">
          <span className="h-px w-3 bg-quiet" />
          <button
            type="button"
            aria-label={knot.name}
            title={knot.name}
            onClick={() => go(knot.stage)}
            {...receives(knot.stage, (thing) => props.onPut(knot.stage, thing))}
            {...(knot.stage === "Studio" && newest ? carries({ kind: "take", id: newest.id, name: newest.name }) : {})}
            className={`relative grid h-8 w-11 place-items-center overflow-hidden bg-raised text-[0.78rem] text-quiet hover:border-quiet ${stage === knot.stage || (stage === "Surface" && knot.stage === "Form") ? "border-2 border-act" : "border border-vein"}`}
          >
            {knot.picture ? <Picture src={knot.picture} alt="" className="h-full w-full object-cover" /> : knot.word}
            {"open" in knot && knot.open > 0 && (
              <span
                data-testid="findings open"
                className="absolute top-0 right-0 min-w-[1.1rem] bg-wrong px-0.5 text-center font-semibold text-[0.78rem] text-paper leading-[1.1rem]"
              >
                {knot.open}
              </span>
            )}
            {knot.chosen && <span className="absolute inset-x-0 bottom-0 h-[5px] bg-act" />}
          </button>
        </span>
      ))}
    </OneStop>
  );
}

/** Long work under way: what, how far, time left, cancel. */
function LongWork(props: { project: string }) {
  const { data: tasks = [] } = useTasks(props.project);
  const { data: status } = useStatus();
  const current = tasks.find((task) => task.state === "running") ?? tasks[0];
  if (!current) {
    return (
      <span className="ml-3 whitespace-nowrap text-quiet max-[1000px]:hidden" title={status && told(status.renderer)}>
        {tr("Darkroom idle")}
      </span>
    );
  }
  const cancel = () =>
    answer(
      api.POST("/api/projects/{project}/tasks/{task}/cancel", {
        params: { path: { project: props.project, task: current.id } },
      }),
    ).catch(() => queries.invalidateQueries({ queryKey: ["tasks", props.project] }));
  return (
    <div role="status" aria-label={tr("Darkroom")} className="flex items-center gap-2 text-quiet">
      <span className="max-w-[10rem] truncate">{current.what}</span>
      <span className="h-[3px] w-16 bg-vein">
        <span className="block h-full bg-act" style={{ width: `${current.share * 100}%` }} />
      </span>
      <span className="w-9 text-right">{current.left != null ? duration(current.left) : "…"}</span>
      {tasks.length > 1 && <span>+{tasks.length - 1}</span>}
      <button type="button" onClick={cancel} className="hover:text-wrong">
        {tr("Cancel")}
      </button>
    </div>
  );
}
