import { useRef } from "react";
import type { Shapes } from "../../api/client";
import { queries, sendForm, stateKey, useWork } from "../../api/queries";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";
import { useFormStage } from "./store";

/** Cages, still bodies and solids from files, and the form as a file. */
export function useFormFiles(project: string, document: string, active: string | undefined) {
  const work = useWork(document);
  const still = useRef(false);
  const address = `/api/projects/${project}/forms/${document}`;
  const send = (file: File, to: string, fields: Record<string, string>) =>
    work(() => {
      const form = new FormData();
      form.append("file", file);
      for (const [name, value] of Object.entries(fields)) form.append(name, value);
      return sendForm(document, `${address}/${to}`, form);
    });
  const cages = useFileChooser(tr("Cage file"), ".obj,.ply,.stl,.glb", (file) =>
    send(file, "import", { still: String(still.current) }),
  );
  const parts = () => queries.getQueryData<Shapes["FormState"]>(stateKey(document))?.body.parts ?? [];
  const solids = useFileChooser(tr("STEP or IGES file"), ".step,.stp,.iges,.igs", async (file) => {
    const before = new Set(parts().map(({ id }) => id));
    if (!(await send(file, "solids", { heal: "true" }))) return;
    const first = parts().find(({ id }) => !before.has(id));
    if (first) useFormStage.getState().set({ part: first.id, items: [] });
  });
  return {
    bringIn: (asStill: boolean) => {
      still.current = asStill;
      cages.open();
    },
    bringSolids: solids.open,
    download: (format: string) => {
      if (format === "step") return location.assign(`${address}/step`);
      const one = (format === "obj" || format === "cage.ply") && active ? `&part=${active}` : "";
      location.assign(`${address}/export?format=${format}${one}`);
    },
    chooser: (
      <>
        {cages.field}
        {solids.field}
      </>
    ),
  };
}
