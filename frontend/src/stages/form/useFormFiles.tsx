import { useRef } from "react";
import type { Shapes } from "../../api/client";
import { queries, sendForm, stateKey, useWork } from "../../api/queries";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";
import { useCurve } from "./built/curve";
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
  /** Sends a file, and works on the first of what came of it. */
  const bring = async (file: File, to: string, fields: Record<string, string>) => {
    const before = new Set(parts().map(({ id }) => id));
    if (!(await send(file, to, fields))) return;
    const first = parts().find(({ id }) => !before.has(id));
    if (first) useFormStage.getState().set({ part: first.id, items: [] });
  };
  const solids = useFileChooser(tr("STEP or IGES file"), ".step,.stp,.iges,.igs", (file) =>
    bring(file, "solids", { heal: "true" }),
  );
  const profiles = useFileChooser(tr("DXF or SVG file"), ".dxf,.svg", (file) => {
    const { on } = useCurve.getState();
    return bring(file, "profiles", { on: on === "side" || on === "top" ? on : "front" });
  });
  return {
    bringIn: (asStill: boolean) => {
      still.current = asStill;
      cages.open();
    },
    bringSolids: solids.open,
    bringProfiles: profiles.open,
    download: (format: string) => {
      if (format === "step") return location.assign(`${address}/step`);
      if (format === "dxf" || format === "svg")
        return location.assign(`${address}/parts/${active}/profile?format=${format}`);
      const { within } = useFormStage.getState();
      const caged = format === "obj" || format === "cage.ply";
      const one = caged && active ? `&part=${active}` : "";
      const fine = within && !caged ? `&tolerance=${within}` : "";
      location.assign(`${address}/export?format=${format}${one}${fine}`);
    },
    chooser: (
      <>
        {cages.field}
        {solids.field}
        {profiles.field}
      </>
    ),
  };
}
