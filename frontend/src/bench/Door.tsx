import { useEffect } from "react";
import { useProjects } from "../api/queries";
import { Button } from "../ui/controls";
import { tr } from "../words/words";
import { Bench } from "./Bench";
import { Notice } from "./Notice";
import { Shelf } from "./shelf/Shelf";
import { Welcome } from "./shelf/Welcome";
import { useBench } from "./store";

const OPEN = "hollow-marble-project";

/** Chooses the project: the one last open, else the one changed last; an empty data folder says how to begin. */
export function Door() {
  const { data, error, refetch } = useProjects();
  const { project: chosen, open } = useBench();
  const found = data?.projects.find((project) => project.id === (chosen ?? localStorage.getItem(OPEN)));
  const here = found ?? (chosen ? undefined : data?.projects[0]);
  useEffect(() => {
    if (!here) return;
    localStorage.setItem(OPEN, here.id);
    useBench.setState({ project: here.id });
  }, [here]);
  if (error) {
    return (
      <Hall>
        <p className="mb-3">{error.message}</p>
        <Button onClick={() => refetch()}>{tr("Try again")}</Button>
      </Hall>
    );
  }
  if (!data) return null;
  if (here) return <Bench key={here.id} project={here} onOpen={open} />;
  if (!data.projects.length) return <Welcome />;
  return (
    <Hall>
      <p className="mb-3">
        {tr(
          "The project this address leads to is not on the shelf any more. Bring it back, put its file into the data folder and look again, or open another one.",
        )}
      </p>
      <p className="mb-5">
        <Button onClick={() => refetch()}>{tr("Look again")}</Button>
      </p>
      <Shelf onOpen={open} />
    </Hall>
  );
}

function Hall(props: { children: React.ReactNode }) {
  return (
    <main className="h-full overflow-y-auto">
      <div className="mx-auto max-w-[62rem] px-6 py-[12vh]">
        <h1 className="mb-3 font-semibold font-serif text-[2rem]">{tr("Hollow Marble")}</h1>
        {props.children}
      </div>
      <Notice />
    </main>
  );
}
