import { answer, api, type Shapes, send } from "../../api/client";
import { createProject, queries, sendForm } from "../../api/queries";
import { tr } from "../../words/words";
import { useBench } from "../store";

/** What a file is to a project, by the end of its name. */
export type Arriving = "project" | "picture" | "layers" | "form";

const ENDINGS: Record<string, Arriving> = {
  marble: "project",
  png: "picture",
  jpg: "picture",
  jpeg: "picture",
  tif: "picture",
  tiff: "picture",
  ora: "layers",
  obj: "form",
  stl: "form",
  ply: "form",
  glb: "form",
};

/** Kinds of file that hold a cage to sculpt on; others come in as still bodies. */
const CAGES = new Set(["obj"]);

/** What file choosers of each kind offer. */
export const ACCEPT = {
  project: ".marble",
  anything: Object.keys(ENDINGS)
    .map((ending) => `.${ending}`)
    .join(","),
};

export function arriving(name: string): Arriving | null {
  return ENDINGS[name.split(".").at(-1)!.toLowerCase()] ?? null;
}

/** The sentence for a file that is none of these. */
export function noUse(name: string): string {
  return tr`${name} is of no kind that can come in. Bring a picture (PNG, JPEG, TIFF), layers (OpenRaster), a form (OBJ, STL, PLY, glTF) or a project (.marble).`;
}

/** A file's name without its ending, as the name of a product. */
export function productName(file: string): string {
  return (
    file
      .replace(/\.[^.]+$/, "")
      .replaceAll(/[_-]+/g, " ")
      .trim()
      .slice(0, 56) || tr("New product")
  );
}

/** A name that no project has yet. */
export function freeName(wanted: string, taken: readonly string[]): string {
  const others = new Set(taken.map((name) => name.toLowerCase()));
  if (!others.has(wanted.toLowerCase())) return wanted;
  let number = 2;
  while (others.has(`${wanted} ${number}`.toLowerCase())) number++;
  return `${wanted} ${number}`;
}

/** Takes a project's file in, and opens it. */
export async function receiveProject(file: File): Promise<void> {
  const answered = await send(`/api/projects/file?name=${encodeURIComponent(file.name.slice(-200))}`, {
    method: "POST",
    body: file,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const arrived = (await answered.json()) as Shapes["Arrived"];
  await queries.invalidateQueries({ queryKey: ["projects"] });
  useBench.getState().open(arrived.project.id);
  if (arrived.said) useBench.getState().notify(arrived.said);
}

type Documents = readonly Shapes["DocumentShape"][];

/** Puts a file into an open project: a picture or layers on a sheet, a form among its parts. Goes where it can be seen. */
export async function bringInto(project: string, documents: Documents, file: File): Promise<void> {
  const kind = arriving(file.name);
  const { sheet, stage, go, openSheet } = useBench.getState();
  const form = new FormData();
  form.append("file", file);
  if (kind === "picture" && stage === "Form") {
    const { id } = documents.find((document) => document.kind === "form")!;
    await sendForm(id, `/api/projects/${project}/forms/${id}/pictures`, form);
    await queries.invalidateQueries({ queryKey: ["project", project] });
  } else if (kind === "form") {
    if (!CAGES.has(file.name.split(".").at(-1)!.toLowerCase())) form.append("still", "true");
    const { id } = documents.find((document) => document.kind === "form")!;
    await sendForm(id, `/api/projects/${project}/forms/${id}/import`, form);
    go("Form");
  } else if (kind === "picture" || kind === "layers") {
    const sheets = documents.filter((document) => document.kind === "sheet");
    const { id } = sheets.find((one) => one.id === sheet) ?? sheets.find((one) => one.chosen) ?? sheets[0]!;
    await sendForm(id, `/api/projects/${project}/sheets/${id}/${kind === "picture" ? "pictures" : "layers"}`, form);
    openSheet(id);
  } else if (kind === "project") await receiveProject(file);
  else throw new Error(noUse(file.name));
}

/** Begins a project with a file. */
export async function beginWith(file: File, taken: readonly string[]): Promise<void> {
  const kind = arriving(file.name);
  if (!kind) throw new Error(noUse(file.name));
  if (kind === "project") return receiveProject(file);
  const id = await createProject(freeName(productName(file.name), taken), "");
  const { documents } = await answer(api.GET("/api/projects/{project}", { params: { path: { project: id } } }));
  useBench.getState().open(id);
  await bringInto(id, documents, file);
}
