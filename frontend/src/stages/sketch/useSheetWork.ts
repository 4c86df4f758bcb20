import { answer, api, type Shapes } from "../../api/client";
import { ask, at, newId, queries, sendForm, useEdit, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import { useFileChooser } from "../../ui/useFileChooser";
import { tr } from "../../words/words";
import { useSketch } from "./store";

type Holds = "ink" | "tone" | "group" | "notes";

/** Sheets, layers and pictures: adding, placing, merging, copying. */
export function useSheetWork(
  project: string,
  document: string,
  sheets: number,
  layers: Shapes["LayerOutline"][],
  layer: string | undefined,
) {
  const openSheet = useBench((bench) => bench.openSheet);
  const edit = useEdit(project, document);
  const work = useWork(document);
  const { set } = useSketch.getState();

  const place = (file: File) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      const layered = file.name.toLowerCase().endsWith(".ora");
      await sendForm(document, `/api/projects/${project}/sheets/${document}/${layered ? "layers" : "pictures"}`, form);
    });
  const chooser = useFileChooser(tr("Picture file"), "image/png,image/jpeg,image/tiff,image/webp,.ora", place);
  const addSheet = () =>
    work(async () => {
      const made = await answer(
        api.POST("/api/projects/{project}/documents", {
          params: { path: { project } },
          body: { kind: "sheet", name: tr`Sheet ${sheets + 1}` },
        }),
      );
      await queries.invalidateQueries({ queryKey: ["project", project] });
      set({ overview: false });
      openSheet(made.id);
    });
  const onLayer = (what: "merge" | "duplicate") => (id: string) =>
    work(async () => {
      await ask(document, (headers) =>
        api.POST(`/api/projects/{project}/sheets/{document}/${what}`, {
          ...at(project, document),
          headers,
          body: { layer: id },
        }),
      );
    });
  const addLayer = async (holds: Holds) => {
    const id = newId().slice(0, 8);
    const count = layers.filter((other) => other.kind === holds).length + 1;
    const names = {
      notes: tr("Notes"),
      ink: tr`Layer ${layers.length + 1}`,
      tone: tr`Tone ${count}`,
      group: tr`Group ${count}`,
    };
    const above = holds === "tone" ? null : (layer ?? null);
    const kept = await edit({ kind: "add_layer", id, name: names[holds], holds, above });
    // tone belongs beneath the lines
    if (kept && holds === "tone") await edit({ kind: "move_layer", layer: id, group: null, place: 0 });
    if (kept && holds !== "group") set({ layer: id });
  };
  return { chooser, addSheet, merge: onLayer("merge"), duplicate: onLayer("duplicate"), addLayer };
}
