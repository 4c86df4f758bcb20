import type { Shapes } from "../../../api/client";
import { type Edit, newId, sendForm, useWork } from "../../../api/queries";
import { Button } from "../../../ui/controls";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";

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
  const driven = start?.kind === "spread" && !!start.picture;
  return (
    <div className="flex flex-wrap gap-2">
      {start?.kind === "spread" && (
        <Button onClick={pictures.open}>
          {driven ? tr("Drive it by another picture …") : tr("Drive it by a grey picture …")}
        </Button>
      )}
      {driven && (
        <Button onClick={() => edit({ amend: { kind: "step", part: part.id, index: 0, fields: { picture: null } } })}>
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
