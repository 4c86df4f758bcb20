import { useState } from "react";
import { answer, api } from "../api/client";
import { queries, useProjects } from "../api/queries";
import { Button, TextField } from "../ui/controls";
import { Bench } from "./Bench";

const OPEN = "hollow-marble-project";

/** Chooses the project: the one last open, else the newest; an empty data folder starts one. */
export function Door() {
  const { data, error, refetch } = useProjects();
  const [chosen, setChosen] = useState(
    () => new URLSearchParams(location.search).get("project") ?? localStorage.getItem(OPEN),
  );
  if (error) {
    return (
      <Welcome>
        <p className="mb-3">{error.message}</p>
        <Button onClick={() => refetch()}>Try again</Button>
      </Welcome>
    );
  }
  if (!data) return null;
  const open = (id: string) => {
    localStorage.setItem(OPEN, id);
    setChosen(id);
  };
  const found = data.projects.find((project) => project.id === chosen) ?? data.projects[0];
  if (!found) return <FirstProject onOpen={open} />;
  return <Bench key={found.id} project={found} onOpen={open} />;
}

function Welcome(props: { children: React.ReactNode }) {
  return (
    <main className="mx-auto mt-[18vh] max-w-[30rem] px-6">
      <h1 className="mb-3 font-semibold font-serif text-[2rem]">Hollow Marble</h1>
      {props.children}
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

/** Creates a project and returns its id. */
export async function createProject(name: string, maker: string): Promise<string> {
  const state = await answer(api.POST("/api/projects", { body: { name, maker } }));
  await queries.invalidateQueries({ queryKey: ["projects"] });
  return state.project.id;
}
