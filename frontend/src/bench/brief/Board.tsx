import { type PointerEvent as ReactPointerEvent, useRef, useState } from "react";
import { api, type Shapes } from "../../api/client";
import { ask, at, type Edit, queries, refresh, sendForm, useWork } from "../../api/queries";
import { Button } from "../../ui/controls";
import { Menu } from "../../ui/Menu";
import { Picture } from "../../ui/Picture";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";
import { useBench } from "../store";

type BriefPicture = Shapes["BriefPicture"];
type Laid = Pick<BriefPicture, "x" | "y" | "wide">;

/** The board's width in its own units. */
const BOARD = 1000;
const LEAST = 20;
const STEP = 20;

/** Reference pictures, laid out by hand; each can go on to a sheet or behind the form. */
export function Board(props: {
  project: string;
  documents: readonly Shapes["DocumentShape"][];
  document: string;
  brief: Shapes["Brief"];
  edit: Edit;
  onLeave: () => void;
}) {
  const { project, document, brief } = props;
  const work = useWork(document);
  const pictures = brief.pictures ?? [];
  const take = async (files: FileList | File[]) => {
    for (const file of files) {
      const form = new FormData();
      form.append("file", file);
      await work(() => sendForm(document, `/api/projects/${project}/briefs/${document}/pictures`, form));
    }
  };
  const chooser = useFileChooser(tr("Picture for the board"), ".png,.jpg,.jpeg,.tif,.tiff", (file) => take([file]));
  const low = Math.max(560, ...pictures.map(({ y, wide, tall }) => y + wide * tall + STEP));
  return (
    <section
      aria-label={tr("Pictures")}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        event.stopPropagation();
        take(event.dataTransfer.files);
      }}
    >
      <div className="mb-1 flex items-baseline justify-between">
        <h3 className="font-semibold">{tr("Pictures")}</h3>
        <Button onClick={chooser.open}>{tr("Add a picture")}</Button>
      </div>
      <div
        className="relative w-full overflow-hidden border border-vein bg-canvas"
        style={{ aspectRatio: `${BOARD} / ${low}` }}
      >
        {pictures.map((picture) => (
          <Laying key={picture.id} {...props} picture={picture} low={low} />
        ))}
        {pictures.length === 0 && (
          <p className="absolute inset-x-8 top-[38%] text-center text-quiet">
            {tr(
              "Drop pictures here: things of the same kind, materials, hands, places. Each can go on to a sheet or behind the form.",
            )}
          </p>
        )}
      </div>
      {chooser.field}
    </section>
  );
}

/** A picture that can be moved, and sized by its corner. */
function Laying(props: {
  project: string;
  documents: readonly Shapes["DocumentShape"][];
  document: string;
  picture: BriefPicture;
  low: number;
  edit: Edit;
  onLeave: () => void;
}) {
  const { project, document, picture, low, edit } = props;
  const [held, setHeld] = useState<Laid | null>(null);
  const box = useRef<HTMLDivElement>(null);
  const { go, openSheet, notify, sheet: open } = useBench();
  const work = useWork();
  const { x, y, wide } = held ?? picture;
  const place = `/api/projects/${project}/briefs/${document}/pictures/${picture.id}`;
  const lay = (to: Laid) => edit({ kind: "lay_picture", id: picture.id, x: to.x, y: to.y, wide: to.wide });
  const drag = (sizing: boolean) => (event: ReactPointerEvent) => {
    if (event.button !== 0) return;
    event.preventDefault();
    event.stopPropagation();
    const unit = BOARD / box.current!.parentElement!.getBoundingClientRect().width;
    const from = [event.clientX, event.clientY] as const;
    let to: Laid = picture;
    const wires = new AbortController();
    const { signal } = wires;
    const move = (now: PointerEvent) => {
      const [dx, dy] = [(now.clientX - from[0]) * unit, (now.clientY - from[1]) * unit];
      to = sizing
        ? { ...to, wide: Math.min(BOARD, Math.max(LEAST, picture.wide + dx)) }
        : { x: Math.min(BOARD - LEAST, Math.max(LEAST - wide, picture.x + dx)), y: Math.max(0, picture.y + dy), wide };
      setHeld(to);
    };
    const end = async (now: Event) => {
      wires.abort();
      if (to !== picture && now.type === "pointerup") await lay(to);
      setHeld(null);
    };
    window.addEventListener("pointermove", move, { signal });
    for (const ends of ["pointerup", "pointercancel"]) window.addEventListener(ends, end, { signal });
  };
  const sheets = props.documents.filter(({ kind }) => kind === "sheet");
  const sheet = sheets.find(({ id }) => id === open) ?? sheets[0]!;
  const form = props.documents.find(({ kind }) => kind === "form")!;
  const send = async (to: "sheet" | "form", target: string) => {
    const path = `/api/projects/{project}/briefs/{document}/pictures/{picture}/${to}` as const;
    const params = { path: { project, document, picture: picture.id } };
    at(project, target);
    const kept = await work(() =>
      ask(target, (headers) => api.POST(path, { params, headers, body: { document: target } })),
    );
    if (!kept) return;
    await queries.invalidateQueries({ queryKey: ["project", project] });
    await refresh(target);
    props.onLeave();
    if (to === "sheet") openSheet(target);
    else go("Form");
    notify(to === "sheet" ? tr`${picture.name} lies on ${sheet.name}.` : tr`${picture.name} stands behind the form.`);
  };
  const key = (event: React.KeyboardEvent) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (!way) return;
    event.preventDefault();
    const [dx, dy] = way as [number, number];
    if (event.shiftKey) lay({ x, y, wide: Math.min(BOARD, Math.max(LEAST, wide + dx * STEP)) });
    else lay({ x: x + dx * STEP, y: Math.max(0, y + dy * STEP), wide });
  };
  const share = (units: number, of: number) => `${(100 * units) / of}%`;
  return (
    <div
      ref={box}
      role="group"
      aria-label={picture.name}
      className="group absolute touch-none border border-transparent focus-within:border-act hover:border-quiet"
      style={{
        left: share(x, BOARD),
        top: share(y, low),
        width: share(wide, BOARD),
        height: share(wide * picture.tall, low),
      }}
    >
      <button
        type="button"
        aria-label={tr`Move ${picture.name}; Shift with arrows sizes it`}
        onPointerDown={drag(false)}
        onKeyDown={key}
        className="h-full w-full cursor-move"
      >
        <Picture src={`${place}.png`} alt={picture.name} draggable={false} className="h-full w-full" />
      </button>
      <div className="absolute top-1 right-1 bg-paper opacity-0 focus-within:opacity-100 group-hover:opacity-100">
        <Menu
          label={tr`More for ${picture.name}`}
          items={[
            { name: tr`On to ${sheet.name}`, run: () => send("sheet", sheet.id) },
            { name: tr("Behind the form"), run: () => send("form", form.id) },
            {
              name: tr("Take it off the board"),
              wrong: true,
              run: () => edit({ kind: "remove_brief_picture", id: picture.id }),
            },
          ]}
        />
      </div>
      <div
        aria-hidden="true"
        onPointerDown={drag(true)}
        className="absolute right-0 bottom-0 h-4 w-4 cursor-nwse-resize border-quiet border-r-2 border-b-2 opacity-0 group-hover:opacity-100"
      />
    </div>
  );
}
