import { useEffect, useRef } from "react";
import type { Shapes } from "../../../api/client";
import { toScreen, type Viewport } from "../../../paper/viewport";
import { firstLine } from "../../../ui/words";
import { tr } from "../../../words/words";
import { Knob } from "../Knob";
import { useSketch } from "../store";
import { useKnobs } from "../useKnobs";
import type { Note, Notes } from "./useNotes";

type Place = [number, number];

/** Knobs of the notes that can be changed: each end of each note. */
export function NoteMarks(props: { view: Viewport; layers: Shapes["LayerOutline"][]; notes: Notes }) {
  const found = props.layers.filter((layer) => layer.visible && !layer.locked).flatMap((layer) => layer.notes ?? []);
  return found.map((note) => <Mark key={note.id} view={props.view} note={note as Note} notes={props.notes} />);
}

function Mark({ view, note: stored, notes }: { view: Viewport; note: Note; notes: Notes }) {
  const { note: picked, set } = useSketch();
  const { moving, drag } = useKnobs<Note>(view, (note) => notes.put(note));
  const note = moving ?? stored;
  const ends = endsOf(note);
  const words = "words" in note ? note.at : null; // the knob stands beside the first letter, not on it
  const on = picked === note.id;
  return (
    <g data-testid="note">
      {moving && ends.length > 1 && (
        <polyline
          points={ends.map(([, place]) => toScreen(view, ...place).join(",")).join(" ")}
          stroke="var(--pick)"
          strokeDasharray="4 4"
          fill="none"
        />
      )}
      {ends.map(([label, place, change]) => (
        <Knob
          key={label}
          view={view}
          label={label}
          at={place}
          full={on}
          aside={place === words ? 11 : 0}
          onGrab={(event) => {
            set({ note: note.id });
            drag(change)(event);
          }}
        />
      ))}
    </g>
  );
}

type End = [label: string, place: Place, change: (to: Place) => Note];

function endsOf(note: Note): End[] {
  const name = "words" in note ? `“${firstLine(note.words, 24)}”` : `the ${note.kind}`;
  if (note.kind === "lettering") return [[tr`Move ${name}`, note.at as Place, (at) => ({ ...note, at })]];
  if (note.kind === "callout") {
    return [
      [tr`Move ${name}`, note.at as Place, (at) => ({ ...note, at })],
      [tr`Move what ${name} speaks of`, note.to as Place, (to) => ({ ...note, to })],
    ];
  }
  const [a, b] = [note.start as Place, note.end as Place];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const across: Place = [-(b[1] - a[1]) / length, (b[0] - a[0]) / length];
  const middle: Place = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const side = note.kind === "dimension" ? (note.off ?? 60) : (note.bend ?? 0) * length;
  const lever: Place = [middle[0] + across[0] * side, middle[1] + across[1] * side];
  const aside = (to: Place) => (to[0] - middle[0]) * across[0] + (to[1] - middle[1]) * across[1];
  return [
    [tr`Move the start of ${name}`, a, (start) => ({ ...note, start })],
    [tr`Move the end of ${name}`, b, (end) => ({ ...note, end })],
    [
      note.kind === "dimension" ? tr`Carry ${name} aside` : tr`Bend ${name}`,
      lever,
      (to) =>
        note.kind === "dimension"
          ? { ...note, off: aside(to) }
          : { ...note, bend: Math.max(-1, Math.min(1, aside(to) / length)) },
    ],
  ];
}

/** The words being written, where they will stand. Enter puts them, Shift Enter begins a new line, Escape drops them. */
export function WritingField({ view, notes }: { view: Viewport; notes: Notes }) {
  const field = useRef<HTMLTextAreaElement>(null);
  const { writing } = notes;
  const { notes: look, colour } = useSketch();
  useEffect(() => field.current?.focus(), []);
  if (!writing) return null;
  const [x, y] = toScreen(view, ...writing.at);
  const size = Math.max(12, look.size * view.scale);
  return (
    <textarea
      ref={field}
      data-knob
      aria-label={tr("Words")}
      rows={1}
      className="pointer-events-auto absolute resize-none overflow-hidden border border-pick bg-raised px-1 outline-none"
      style={{ left: x - 5, top: y - size * 1.05, fontSize: size, lineHeight: 1.25, width: "16em", color: colour }}
      onInput={(event) => {
        const area = event.currentTarget;
        area.rows = area.value.split("\n").length;
      }}
      onBlur={(event) => notes.write(event.currentTarget.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter" && !event.shiftKey) event.currentTarget.blur();
        if (event.key === "Escape") {
          event.currentTarget.value = "";
          event.currentTarget.blur();
        }
      }}
    />
  );
}
