import { type ReactNode, useEffect, useState } from "react";
import { createProject, queries, useWork } from "../../api/queries";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";
import { Notice } from "../Notice";
import { useBench } from "../store";
import { ACCEPT, beginWith } from "./arrivals";
import { BlankSheetPicture, FilePicture, ProjectPicture } from "./pictures";
import { bringDemo, useDemo } from "./shelving";
import { useDrop } from "./useDrop";

/** The first window of an installation without projects: four ways to begin, each with a picture. */
export function Welcome() {
  const open = useBench((bench) => bench.open);
  const work = useWork();
  const take = (file: File | undefined) => file && work(() => beginWith(file, []));
  const over = useDrop(([file]) => take(file));
  const anything = useFileChooser(tr("Picture or 3D file"), ACCEPT.anything, take);
  const project = useFileChooser(tr("Project file"), ACCEPT.project, take);
  const demo = useDemo();
  return (
    <main
      className={`h-full overflow-y-auto bg-canvas ${over ? "outline outline-4 outline-act -outline-offset-4" : ""}`}
    >
      <div className="mx-auto max-w-[62rem] px-6 py-[9vh]">
        <h1 className="font-semibold font-serif text-[2.4rem] leading-tight">{tr("Hollow Marble")}</h1>
        <p className="mt-1 mb-8 text-[1.15rem] text-quiet">
          {tr("Sketch a product, sculpt it, photograph it, and get an answer. How would you like to begin?")}
        </p>
        <div className="grid grid-cols-2 gap-4 max-[640px]:grid-cols-1">
          <Way
            name={tr("A blank sheet")}
            says={tr("Draw first: the pencil is in your hand.")}
            picture={<BlankSheetPicture />}
            main
            onClick={() => work(async () => open(await createProject(tr("New product"), "")))}
          />
          <Way
            name={tr("A picture or a 3D file")}
            says={tr("Choose one, or drop it anywhere in this window: PNG, JPEG, TIFF, OBJ, STL, PLY, glTF.")}
            picture={<FilePicture />}
            onClick={anything.open}
          />
          <Demo demo={demo} onOpen={open} />
          <Way
            name={tr("A project file")}
            says={tr("One that left another Hollow Marble as a .marble file.")}
            picture={<ProjectPicture />}
            onClick={project.open}
          />
        </div>
      </div>
      {anything.field}
      {project.field}
      <Notice />
    </main>
  );
}

/** Two finished projects to look around in, by their pictures. */
function Demo(props: { demo: ReturnType<typeof useDemo>; onOpen: (project: string) => void }) {
  const { demo, onOpen } = props;
  const work = useWork();
  const [wanted, setWanted] = useState<string | null>(null);
  const enter = (name: string) => {
    setWanted(name);
    if (!demo?.projects[name]) work(bringDemo);
  };
  const here = wanted && !demo?.busy ? demo?.projects[wanted] : undefined;
  useEffect(() => {
    // the shelf is asked anew first: what is opened must stand on it
    if (here) queries.invalidateQueries({ queryKey: ["projects"] }).then(() => onOpen(here));
  }, [here, onOpen]);
  return (
    <section aria-label={tr("Look around")} className="border border-vein bg-raised">
      <div className="grid grid-cols-2 gap-px bg-vein">
        {(["Linnet", "Brindle"] as const).map((name) => (
          <button
            key={name}
            type="button"
            aria-label={tr`Look around in ${name}`}
            onClick={() => enter(name)}
            className="group block bg-page text-left"
          >
            <img src={`/demo-${name.toLowerCase()}.jpg`} alt="" className="aspect-[16/10] w-full object-cover" />
          </button>
        ))}
      </div>
      <div className="px-4 py-3">
        <h2 className="font-semibold text-[1.1rem]">{tr("Look around in Linnet or Brindle")}</h2>
        {demo?.busy ? (
          <p role="status" className="flex items-center gap-3 text-quiet">
            <span className="min-w-0 flex-1 truncate">{demo.what}</span>
            <span className="h-[3px] w-24 bg-vein">
              <span className="block h-full bg-act" style={{ width: `${demo.share * 100}%` }} />
            </span>
          </p>
        ) : (
          <p className={demo?.problem ? "text-wrong" : "text-quiet"}>
            {demo?.problem || tr("Alder Row’s pocket recorder and kettle, from first sketch to photograph.")}
          </p>
        )}
      </div>
    </section>
  );
}

function Way(props: { name: string; says: string; picture: ReactNode; main?: boolean; onClick: () => void }) {
  return (
    <button
      type="button"
      onClick={props.onClick}
      className={`flex flex-col border bg-raised text-left hover:border-quiet ${props.main ? "border-act" : "border-vein"}`}
    >
      <span className="block aspect-[32/10] w-full overflow-hidden bg-page" aria-hidden="true">
        {props.picture}
      </span>
      <span className="block px-4 py-3">
        <span className={`block font-semibold text-[1.1rem] ${props.main ? "text-act" : ""}`}>{props.name}</span>
        <span className="block text-quiet">{props.says}</span>
      </span>
    </button>
  );
}
