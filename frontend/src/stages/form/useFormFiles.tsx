import { useRef } from "react";
import { sendForm, useWork } from "../../api/queries";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";

/** Cages and still bodies from files, and the form as a file. */
export function useFormFiles(project: string, document: string, active: string | undefined) {
  const work = useWork(document);
  const still = useRef(false);
  const address = `/api/projects/${project}/forms/${document}`;
  const bringIn = (file: File) =>
    work(() => {
      const form = new FormData();
      form.append("file", file);
      form.append("still", String(still.current));
      return sendForm(document, `${address}/import`, form);
    });
  const chooser = useFileChooser(tr("Cage file"), ".obj,.ply,.stl,.glb", bringIn);
  return {
    bringIn: (asStill: boolean) => {
      still.current = asStill;
      chooser.open();
    },
    download: (format: string) => {
      const one = (format === "obj" || format === "cage.ply") && active ? `&part=${active}` : "";
      location.assign(`${address}/export?format=${format}${one}`);
    },
    chooser: chooser.field,
  };
}
