import { useEffect, useState } from "react";
import type { Shapes } from "../../../api/client";
import type { Edit } from "../../../api/queries";
import { ALIGNS, FONTS } from "../../../api/values";
import { Button, Card, Choice, ColourField } from "../../../ui/controls";
import { NumberField, SliderField } from "../../../ui/numbers/NumberField";
import { firstLine } from "../../../ui/words";
import { tr } from "../../../words/words";
import { useSketch } from "../store";
import type { Note, Notes } from "./useNotes";

/** Size and typeface of the next words. */
export function NoteOptions({ hint, font = false }: { hint: string; font?: boolean }) {
  const { notes, set } = useSketch();
  return (
    <>
      <SliderField
        label={tr("Height")}
        value={notes.size}
        min={8}
        max={240}
        onChange={(size) => set({ notes: { ...notes, size } })}
      />
      {font && (
        <Choice
          label={tr("Typeface")}
          options={FONTS}
          value={notes.font}
          onChange={(next) => set({ notes: { ...notes, font: next } })}
        />
      )}
      <p className="pt-1 text-[0.92rem] text-quiet">{hint}</p>
    </>
  );
}

/** The picked note: its words and numbers. */
export function NotesCard(props: { sheet: Shapes["SheetOutline"]; notes: Notes; edit: Edit }) {
  const { sheet, notes, edit } = props;
  const { note: picked, set } = useSketch();
  const all = sheet.layers.flatMap((layer) => (layer.notes ?? []) as Note[]);
  const note = all.find((one) => one.id === picked);
  if (!all.length) return null;
  return (
    <Card title={tr("Notes")} aside={`${all.length}`}>
      {!note && (
        <ul>
          {all.map((one) => (
            <li key={one.id}>
              <Button weight="quiet" onClick={() => set({ note: one.id })}>
                {about(one)}
              </Button>
            </li>
          ))}
        </ul>
      )}
      {note && (
        <>
          {"words" in note && <WordsField value={note.words} onChange={(words) => notes.put({ ...note, words })} />}
          <NumberField
            label={tr("Height of letters")}
            value={note.size ?? 30}
            min={4}
            max={800}
            unit="px"
            onChange={(size) => notes.put({ ...note, size })}
          />
          {note.kind === "lettering" && (
            <>
              <Choice
                label={tr("Typeface of the note")}
                options={FONTS}
                value={note.font ?? "sans"}
                onChange={(font) => notes.put({ ...note, font })}
              />
              <Choice
                label={tr("Set from")}
                options={ALIGNS}
                value={note.align ?? "left"}
                onChange={(align) => notes.put({ ...note, align })}
              />
              <NumberField
                label={tr("Turn of the words")}
                value={note.turn ?? 0}
                digits={1}
                unit="°"
                onChange={(turn) => notes.put({ ...note, turn })}
              />
            </>
          )}
          {note.kind === "dimension" && <LengthField note={note} sheet={sheet} edit={edit} />}
          <ColourField
            label={tr("Colour of the note")}
            value={(note.colour ?? "#20282b").toLowerCase()}
            onChange={(colour) => notes.put({ ...note, colour })}
          />
          <div className="flex gap-x-4">
            <Button weight="quiet" onClick={() => notes.remove(note.id)}>
              {tr("Take the note away")}
            </Button>
            <Button weight="quiet" onClick={() => set({ note: null })}>
              {tr("All notes")}
            </Button>
          </div>
        </>
      )}
    </Card>
  );
}

function about(note: Note): string {
  if ("words" in note) return `“${firstLine(note.words, 32)}”`;
  return note.kind === "arrow" ? tr("An arrow") : tr("A dimension");
}

function WordsField({ value, onChange }: { value: string; onChange: (words: string) => void }) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <textarea
      aria-label={tr("The note’s words")}
      value={text}
      rows={Math.min(5, text.split("\n").length)}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => (text.trim() && text !== value ? onChange(text.trim()) : setText(value))}
      className="w-full resize-none border border-vein bg-raised px-1.5 py-1 font-medium outline-none focus:border-act"
    />
  );
}

/** How long a dimension is; saying so gives the view around it its scale. */
function LengthField(props: { note: Shapes["Dimension"]; sheet: Shapes["SheetOutline"]; edit: Edit }) {
  const { note, sheet, edit } = props;
  const [[ax, ay], [bx, by]] = [note.start, note.end];
  const px = Math.hypot(bx - ax, by - ay);
  const [mx, my] = [(ax + bx) / 2, (ay + by) / 2];
  const view = sheet.views
    .filter(({ rect: [left, top, right, bottom] }) => left <= mx && mx < right && top <= my && my < bottom)
    .sort((a, b) => area(a.rect) - area(b.rect))[0];
  if (!view) {
    return <p className="text-quiet">{tr("Frame the view around it, and it can be given in mm.")}</p>;
  }
  return (
    <NumberField
      label={tr`Length in ${view.name}`}
      value={view.scale ? px / view.scale : 0}
      digits={1}
      min={0}
      unit="mm"
      onChange={(length) => length > 0 && edit({ kind: "set_scale", view: view.id, scale: px / length })}
    />
  );
}

function area([left, top, right, bottom]: Shapes["View"]["rect"]): number {
  return (right - left) * (bottom - top);
}
