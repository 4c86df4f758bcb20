import { useState } from "react";
import { createProject, useProjects } from "../api/queries";
import { Button, TextField } from "../ui/controls";
import { Panel } from "../ui/Panel";

/** The projects in the data folder, and a new one. */
export function ProjectsPanel(props: {
  open: boolean;
  current: string;
  onClose: () => void;
  onOpen: (id: string) => void;
}) {
  const { data } = useProjects();
  const [name, setName] = useState("");
  const [maker, setMaker] = useState("");
  const [problem, setProblem] = useState("");
  const begin = async () => {
    try {
      props.onOpen(await createProject(name, maker));
      setName("");
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Panel title="Projects" open={props.open} onClose={props.onClose}>
      <ul className="mb-5">
        {data?.projects.map((project) => (
          <li key={project.id}>
            <button
              type="button"
              onClick={() => props.onOpen(project.id)}
              className="flex w-full justify-between py-1 text-left hover:text-act"
            >
              <span className={project.id === props.current ? "font-semibold text-act" : ""}>{project.name}</span>
              <span className="text-quiet">{project.maker || project.created.slice(0, 10)}</span>
            </button>
          </li>
        ))}
      </ul>
      <h3 className="mb-2 font-semibold">A new product</h3>
      <div className="space-y-2">
        <TextField live label="Product" value={name} onChange={setName} />
        <TextField live label="Maker" value={maker} onChange={setMaker} />
        {problem && <p className="text-wrong">{problem}</p>}
        <Button weight="act" disabled={!name.trim()} onClick={begin}>
          Begin with a blank sheet
        </Button>
      </div>
    </Panel>
  );
}
