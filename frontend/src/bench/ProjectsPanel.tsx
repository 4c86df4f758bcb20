import { Panel } from "../ui/Panel";
import { tr } from "../words/words";
import { Shelf } from "./shelf/Shelf";

/** The shelf, over the bench. */
export function ProjectsPanel(props: { current: string; onClose: () => void; onOpen: (id: string) => void }) {
  return (
    <Panel title={tr("Projects")} onClose={props.onClose} wide="most">
      <Shelf current={props.current} onOpen={props.onOpen} />
    </Panel>
  );
}
