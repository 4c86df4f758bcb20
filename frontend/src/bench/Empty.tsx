import type { ReactNode } from "react";
import type { Shapes } from "../api/client";
import { useProject, useWork } from "../api/queries";
import { Button } from "../ui/controls";
import { useFileChooser } from "../ui/useFileChooser";
import { tr } from "../words/words";
import { bringInto } from "./shelf/arrivals";
import { useBench } from "./store";

/** A stage with nothing in it yet: what it is for, and the likely moves. */
export function Empty(props: { title: string; says: string; children: ReactNode }) {
  return (
    <div className="pointer-events-none absolute inset-x-0 top-[34%] px-4 text-center">
      <p className="font-semibold font-serif text-[1.6rem]">{props.title}</p>
      <p className="mx-auto mt-1 mb-4 max-w-[34rem]">{props.says}</p>
      <div className="pointer-events-auto flex flex-wrap justify-center gap-3">{props.children}</div>
    </div>
  );
}

/** The two moves where a form is missing: begin one, or bring one in. Another stage that needs one stays where it is. */
export function FormMissing(props: { project: string; title: string; says: string }) {
  const { go, stage } = useBench();
  const work = useWork();
  const documents: Shapes["DocumentShape"][] = useProject(props.project).data?.documents ?? [];
  const chooser = useFileChooser(tr("3D file"), ".obj,.stl,.ply,.glb", (file) =>
    work(async () => {
      await bringInto(props.project, documents, file);
      go(stage);
    }),
  );
  return (
    <Empty title={props.title} says={props.says}>
      <Button weight="act" onClick={() => go("Form")}>
        {tr("Begin a form")}
      </Button>
      <Button onClick={chooser.open}>{tr("Bring in a 3D file")}</Button>
      {chooser.field}
    </Empty>
  );
}
