import { useRef } from "react";
import { sendForm, useWork } from "../../api/queries";

/** Cages and still bodies from files, and the form as a file. */
export function useFormFiles(project: string, document: string, active: string | undefined) {
  const work = useWork(document);
  const chooser = useRef<HTMLInputElement>(null);
  const still = useRef(false);
  const address = `/api/projects/${project}/forms/${document}`;
  const bringIn = (file: File) =>
    work(() => {
      const form = new FormData();
      form.append("file", file);
      form.append("still", String(still.current));
      return sendForm(document, `${address}/import`, form);
    });
  return {
    bringIn: (asStill: boolean) => {
      still.current = asStill;
      chooser.current?.click();
    },
    download: (format: string) => {
      const one = (format === "obj" || format === "cage.ply") && active ? `&part=${active}` : "";
      location.assign(`${address}/export?format=${format}${one}`);
    },
    chooser: (
      <input
        ref={chooser}
        type="file"
        accept=".obj,.ply,.stl,.glb"
        aria-label="Cage file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) bringIn(file);
        }}
      />
    ),
  };
}
