import { useEffect, useState } from "react";
import { createProject, useProjects } from "../api/queries";
import { Button, TextField } from "../ui/controls";
import { Bench } from "./Bench";
import { Notice } from "./Notice";
import { useBench } from "./store";

const OPEN = "hollow-marble-project";

/** Chooses the project: the one last open, else the newest; an empty data folder starts one. */
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
      <Welcome>
        <p className="mb-3">{error.message}</p>
        <Button onClick={() => refetch()}>Try again</Button>
      </Welcome>
    );
  }
  if (!data) return null;
  if (here) return <Bench key={here.id} project={here} onOpen={open} />;
  if (!data.projects.length) return <FirstProject onOpen={open} />;
  return (
    <Welcome>
      <p className="mb-3">
        The project this address leads to is not in the data folder any more. Put its file back there and look again, or
        open another one.
      </p>
      <p className="mb-3">
        <Button onClick={() => refetch()}>Look again</Button>
      </p>
      <ul>
        {data.projects.map((project) => (
          <li key={project.id}>
            <Button weight="quiet" onClick={() => open(project.id)}>
              {project.name}
            </Button>
          </li>
        ))}
      </ul>
    </Welcome>
  );
}

function Welcome(props: { children: React.ReactNode }) {
  return (
    <main className="mx-auto mt-[18vh] max-w-[30rem] px-6">
      <h1 className="mb-3 font-semibold font-serif text-[2rem]">Hollow Marble</h1>
      {props.children}
      <Notice />
    </main>
  );
}

function FirstProject(props: { onOpen: (id: string) => void }) {
  const [name, setName] = useState("New product");
  const [problem, setProblem] = useState("");
  const begin = async () => {
    try {
      const state = await createProject(name, "");
      props.onOpen(state);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Welcome>
      <p className="mb-5 text-quiet">
        From a blank page to a picture somebody answers. Name the product to begin with a blank sheet.
      </p>
      <div className="flex items-end gap-3">
        <TextField live label="Product" value={name} onChange={setName} />
        <Button weight="act" onClick={begin}>
          Begin
        </Button>
      </div>
      {problem && <p className="mt-3 text-wrong">{problem}</p>}
    </Welcome>
  );
}
