import { useState } from "react";
import type { Shapes } from "../../api/client";
import { createProject, useProjects, useWork } from "../../api/queries";
import { Button, Disclosure, TextField } from "../../ui/controls";
import { Menu } from "../../ui/Menu";
import { Picture } from "../../ui/Picture";
import { useFileChooser } from "../../ui/useFileChooser";
import { ago, bytes } from "../../ui/when";
import { tr } from "../../words/words";
import { useBench } from "../store";
import { ACCEPT, beginWith, freeName } from "./arrivals";
import { bringBack, duplicate, putAway, rename, usePutAway } from "./shelving";

type Card = Shapes["ProjectCardShape"];

/** The projects in the data folder as pictures, and what can be done with them. */
export function Shelf(props: { current?: string; onOpen: (project: string) => void }) {
  const { data } = useProjects();
  const work = useWork();
  const [wanted, setWanted] = useState("");
  const [naming, setNaming] = useState<string | null>(null);
  const projects = data?.projects ?? [];
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const found = projects.filter((project) =>
    words.every((word) => `${project.name} ${project.maker}`.toLowerCase().includes(word)),
  );
  const names = projects.map((project) => project.name);
  const begin = () => work(async () => props.onOpen(await createProject(freeName(tr("New product"), names), "")));
  const chooser = useFileChooser(tr("Open a file"), ACCEPT.anything, (file) => work(() => beginWith(file, names)));
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <input
          aria-label={tr("Find a project")}
          placeholder={tr("Find a project")}
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
          className="min-h-[28px] min-w-[8rem] flex-1 border border-quiet bg-raised px-3 py-1 outline-none focus:border-act"
        />
        <Button weight="act" onClick={begin}>
          {tr(tr("New product"))}
        </Button>
        <Button onClick={chooser.open}>{tr("Open a file")}</Button>
      </div>
      <ul aria-label={tr("Projects")} className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-4">
        {found.map((project) => (
          <li key={project.id} aria-label={project.name}>
            <ProjectCard
              project={project}
              current={project.id === props.current}
              naming={naming === project.id}
              onName={(on) => setNaming(on ? project.id : null)}
              onOpen={() => props.onOpen(project.id)}
            />
          </li>
        ))}
      </ul>
      {projects.length > 0 && found.length === 0 && (
        <p className="text-quiet">{tr("No project of that name or maker.")}</p>
      )}
      <PutAway />
      {chooser.field}
    </>
  );
}

function ProjectCard(props: {
  project: Card;
  current: boolean;
  naming: boolean;
  onName: (on: boolean) => void;
  onOpen: () => void;
}) {
  const { project, current, naming, onName, onOpen } = props;
  const work = useWork();
  const notify = useBench((bench) => bench.notify);
  return (
    <div className="border border-vein bg-raised">
      <button
        type="button"
        aria-label={tr`Open ${project.name}`}
        onClick={onOpen}
        className={`block aspect-[16/10] w-full bg-page hover:outline hover:outline-2 hover:outline-quiet ${current ? "outline outline-2 outline-act" : ""}`}
      >
        {project.picture ? (
          <Picture src={project.picture} alt="" className="h-full w-full object-cover" />
        ) : (
          <span className="grid h-full place-content-center text-quiet">{tr("Nothing drawn yet")}</span>
        )}
      </button>
      <div className="px-3 pt-2 pb-2.5">
        {naming ? (
          <Naming project={project} onDone={() => onName(false)} />
        ) : (
          <div className="flex items-center justify-between gap-2">
            <span className={`truncate font-semibold ${current ? "text-act" : ""}`}>{project.name}</span>
            <Menu
              label={tr`More for ${project.name}`}
              items={[
                { name: tr("Open"), run: onOpen },
                { name: tr("Rename"), run: () => setTimeout(() => onName(true)) }, // once the menu has given the focus back
                {
                  name: tr("Duplicate"),
                  run: () => work(async () => notify(tr`${await duplicate(project.id)} is on the shelf.`)),
                },
                { name: tr("Take along as a file"), run: () => location.assign(`/api/projects/${project.id}/file`) },
                { name: tr("Put away"), run: () => work(() => putAway(project.id)) },
              ]}
            />
          </div>
        )}
        <p className="truncate text-quiet">
          {project.newer ? tr("From a newer version: to look at") : project.maker || tr("No maker named")}
        </p>
        <p className="truncate text-[0.86rem] text-quiet">
          {ago(project.changed)}, {bytes(project.bytes)}
        </p>
      </div>
    </div>
  );
}

function Naming(props: { project: Card; onDone: () => void }) {
  const [name, setName] = useState(props.project.name);
  const [maker, setMaker] = useState(props.project.maker);
  const work = useWork();
  const keep = () => work(() => rename(props.project.id, name, maker)).then((kept) => kept && props.onDone());
  return (
    <form
      className="space-y-1.5 pb-1"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.stopPropagation();
        props.onDone();
      }}
    >
      <TextField live focused label={tr("Product")} value={name} onChange={setName} />
      <TextField live label={tr("Maker")} value={maker} onChange={setMaker} />
      <div className="flex gap-2">
        <Button weight="act" disabled={!name.trim()} onClick={keep}>
          {tr("Keep")}
        </Button>
        <Button weight="quiet" onClick={props.onDone}>
          {tr("Leave it")}
        </Button>
      </div>
    </form>
  );
}

/** Projects that were put away; nothing is deleted. */
function PutAway() {
  const { data } = usePutAway(true);
  const work = useWork();
  if (!data?.length) return null;
  return (
    <div className="mt-5 border-vein border-t pt-3">
      <Disclosure title={tr`Put away: ${data.length}`}>
        <ul aria-label={tr("Put away")}>
          {data.map((project) => (
            <li key={project.id} className="flex min-h-[28px] items-center justify-between gap-3">
              <span className="truncate text-ink">{project.name}</span>
              <Button
                weight="quiet"
                label={tr`Bring ${project.name} back`}
                onClick={() => work(() => bringBack(project.id))}
              >
                {tr("Bring back")}
              </Button>
            </li>
          ))}
        </ul>
        <p>{tr("Their files lie in the folder “put-away” of the data folder, until you take them out of there.")}</p>
      </Disclosure>
    </div>
  );
}
