import { Problem } from "../../../api/client";
import { newId, sendForm, useWork } from "../../../api/queries";
import { FONTS } from "../../../api/values";
import { DoingWords, menuOf } from "../../../bench/Doings";
import { Button, Card, Choice, ColourField, Disclosure, Row, Switch, TextField } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { OneStop } from "../../../ui/OneStop";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import type { Mark } from "../kinds";
import { touchedPart } from "../moves";
import { useSetting, useStudioStage } from "../store";
import { FinishFields } from "./FinishFields";

const calledOf = (mark: Mark) => mark.name || (mark.what.kind === "words" ? (mark.what.text ?? "") : tr("Artwork"));

/** Lettering and artwork on the product: touch where the chosen one is to lie. */
export function MarkCard(props: StudioProps) {
  const { project, studio, formId, stored, size, edit, onDraft } = props;
  const marks = useSetting(stored).marks ?? [];
  const { mark: chosen, set } = useStudioStage();
  const work = useWork(studio);
  const mark = marks.find((one) => one.id === chosen) ?? marks.at(-1);
  /** What is seen in the middle of the picture, where a new mark lies first. */
  const spot = async () => {
    const found = await touchedPart({ project, form: formId }, stored, [size[0] / 2, size[1] / 2], size);
    if (!found) throw new Problem(tr("There is no product in the middle of the picture. Frame it first."));
    return { part: found.part, at: found.place };
  };
  const addWords = () =>
    work(async () => {
      const id = newId().slice(0, 8);
      const fresh: Mark = { id, ...(await spot()), what: { kind: "words", text: tr("Words"), font: "sans strong" } };
      if (await edit({ kind: "put_mark", mark: fresh })) set({ mark: id });
    });
  const chooser = useFileChooser(tr("Artwork"), "image/png,image/svg+xml,image/jpeg,image/webp,.svg", (file) =>
    work(async () => {
      const id = newId().slice(0, 8);
      const { part, at } = await spot();
      const form = new FormData();
      form.append("file", file);
      for (const [name, value] of Object.entries({ id, part, x: at[0], y: at[1], z: at[2] }))
        form.append(name, String(value));
      await sendForm(studio, `/api/projects/${project}/studios/${studio}/artwork`, form);
      set({ mark: id });
    }),
  );
  return (
    <Card title={tr("Marks")} aside={marks.length ? tr("touch where it lies") : tr("none yet")}>
      {marks.length === 0 && (
        <p className="text-quiet">{tr("A word mark, a scale, a label: printed, sunk in or in foil.")}</p>
      )}
      <OneStop className="flex flex-wrap gap-x-3">
        {marks.map((one) => (
          <button
            key={one.id}
            type="button"
            aria-pressed={one.id === mark?.id}
            onClick={() => set({ mark: one.id })}
            {...menuOf([{ name: tr("Take it off"), run: () => edit({ kind: "remove_mark", id: one.id }) }], () =>
              set({ mark: one.id }),
            )}
            className={one.id === mark?.id ? "text-act" : "text-quiet hover:text-ink"}
          >
            {calledOf(one)}
          </button>
        ))}
      </OneStop>
      <div className="-mx-2.5 flex flex-wrap">
        <Button weight="quiet" onClick={addWords}>
          {tr("Add words")}
        </Button>
        <Button weight="quiet" onClick={chooser.open}>
          {tr("Bring in artwork")}
        </Button>
      </div>
      {chooser.field}
      {mark && (
        <MarkFields
          project={project}
          mark={mark}
          edit={edit}
          onSlide={(next) => onDraft({ marks: marks.map((one) => (one.id === next.id ? next : one)) })}
        />
      )}
    </Card>
  );
}

interface FieldsProps {
  project: string;
  mark: Mark;
  edit: StudioProps["edit"];
  onSlide: (mark: Mark) => void;
}

function MarkFields({ project, mark, edit, onSlide }: FieldsProps) {
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "mark", id: mark.id, fields } });
  const number = (
    field: "width" | "turn" | "depth",
    label: string,
    unit: string,
    limits: [number, number],
    digits: number,
    usual: number,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      digits={digits}
      step={digits > 1 ? 0.02 : digits ? 0.5 : 1}
      min={limits[0]}
      max={limits[1]}
      value={mark[field] ?? usual}
      onSlide={(value) => onSlide({ ...mark, [field]: value })}
      onChange={(value) => change({ [field]: value })}
    />
  );
  return (
    <>
      {mark.what.kind === "words" && (
        <>
          <TextField
            label={tr("Words")}
            value={mark.what.text ?? ""}
            onChange={(text) => change({ "what.text": text })}
          />
          <Choice
            label={tr("Typeface")}
            options={FONTS}
            value={mark.what.font ?? "sans strong"}
            onChange={(font) => change({ "what.font": font })}
          />
        </>
      )}
      <Switch label={tr("Seen")} on={mark.on ?? true} onChange={(on) => change({ on })} />
      <Row label={tr("As")}>
        <Choice
          label={tr("As")}
          options={["print", "stencil", "relief", "foil"]}
          value={mark.way ?? "print"}
          onChange={(way) => change({ way })}
        />
      </Row>
      {number("width", tr("Width"), "mm", [0.5, 2000], 1, 20)}
      {number("turn", tr("Turned"), "°", [-180, 180], 0, 0)}
      {number("depth", tr("Raised"), "mm", [-3, 3], 2, 0)}
      {(mark.way === "foil" || ((mark.way ?? "print") === "print" && mark.what.kind === "words")) && (
        <ColourField label={tr("Colour")} value={mark.colour!} onChange={(colour) => change({ colour })} />
      )}
      {mark.way === "stencil" && mark.finish && (
        <Disclosure title={tr`Finished in ${tr(mark.finish.material ?? "paper")}`}>
          <FinishFields
            project={project}
            finish={mark.finish}
            onChange={(fields) =>
              change(
                "material" in fields
                  ? { finish: fields }
                  : Object.fromEntries(Object.entries(fields).map(([name, value]) => [`finish.${name}`, value])),
              )
            }
          />
        </Disclosure>
      )}
      <div className="-mx-2.5 flex flex-wrap">
        <DoingWords doings={[{ name: tr("Take it off"), run: () => edit({ kind: "remove_mark", id: mark.id }) }]} />
      </div>
    </>
  );
}
