import { useQueries } from "@tanstack/react-query";
import { api, type Shapes } from "../../../api/client";
import { ask, type Edit, newId, sendForm, sheetQuery, useProject, useWork } from "../../../api/queries";
import { Button, Options, Picker } from "../../../ui/controls";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";

/** Tone layers of a project's sheets: both ids, and a name. */
function usePaint(project: string, wanted: boolean): [string, string][] {
  const { data } = useProject(project);
  const sheets = (wanted && data?.documents.filter(({ kind }) => kind === "sheet")) || [];
  return useQueries({
    queries: sheets.map(({ id }) => sheetQuery(project, id)),
    combine: (results) =>
      results.flatMap(({ data }, k) =>
        (data?.body.layers ?? [])
          .filter(({ kind }) => kind === "tone")
          .map((layer): [string, string] => [`${sheets[k]!.id} ${layer.id}`, tr`${sheets[k]!.name}: ${layer.name}`]),
      ),
  });
}

/** What can be done with many of one: a picture that drives them, and letting each go its own way. */
export function Spreading(props: { project: string; document: string; part: Shapes["Part"]; edit: Edit }) {
  const { project, document, part, edit } = props;
  const work = useWork(document);
  const pictures = useFileChooser(tr("Grey picture"), ".png,.jpg,.jpeg,.tif,.tiff,.webp", (file) =>
    work(() => {
      const form = new FormData();
      form.append("file", file);
      return sendForm(document, `/api/projects/${project}/forms/${document}/parts/${part.id}/grey`, form);
    }),
  );
  const start = part.steps[0];
  const real = part.steps.some(({ kind }) => kind === "made_real");
  const spread = start?.kind === "spread" ? start : null;
  const driven = !!spread?.picture;
  const paint = usePaint(project, !!spread);
  const by = spread?.painted ? `${spread.painted.sheet} ${spread.painted.layer}` : "";
  const drive = (chosen: string) =>
    work(() => {
      const [sheet = "", layer = ""] = chosen.split(" ");
      const to = { params: { path: { project, document, part: part.id } }, body: { sheet, layer } };
      return ask(document, (headers) =>
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/paint", { ...to, headers }),
      );
    });
  return (
    <div className="flex flex-wrap gap-2">
      {spread && paint.length > 0 && (
        <div
          className="w-full"
          title={tr("The darker a place is painted, the brighter it counts; bare paper counts as dark.")}
        >
          <Picker label={tr("Drive it by paint")} value={by} onChange={(chosen) => chosen && drive(chosen)}>
            <Options of={[...(by ? [] : ([["", tr("choose a tone layer")]] as const)), ...paint]} />
          </Picker>
        </div>
      )}
      {spread && (
        <Button onClick={pictures.open}>
          {driven ? tr("Drive it by another picture …") : tr("Drive it by a grey picture …")}
        </Button>
      )}
      {driven && (
        <Button
          onClick={() =>
            edit({ amend: { kind: "step", part: part.id, index: 0, fields: { picture: null, painted: null } } })
          }
        >
          {tr("Drive it by chance again")}
        </Button>
      )}
      {!real && (
        <Button
          onClick={() =>
            edit({
              kind: "shape",
              part: part.id,
              step: { kind: "made_real", tag: newId().slice(0, 6) },
            } as Shapes["Shape"])
          }
        >
          {tr("Make each of them real")}
        </Button>
      )}
      {pictures.field}
    </div>
  );
}
