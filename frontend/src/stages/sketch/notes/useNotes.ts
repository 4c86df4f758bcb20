import { useState } from "react";
import { changedFields } from "../../../api/change";
import type { Shapes } from "../../../api/client";
import { type Edit, newId } from "../../../api/queries";
import { tr } from "../../../words/words";
import { useSketch } from "../store";

type Place = [number, number];
export type Note = Shapes["PutNote"]["note"];

/** Where words are being written, and what they become. */
export interface Writing {
  at: Place;
  /** The place a callout speaks of. */
  to?: Place;
}

/** Notes put on the sheet's notes layer, which is added with the first of them. */
export function useNotes(sheet: Shapes["SheetOutline"] | undefined, edit: Edit) {
  const [writing, setWriting] = useState<Writing | null>(null);
  const layerFor = async (): Promise<string | null> => {
    const chosen = useSketch.getState().layer;
    const open = (sheet?.layers ?? []).filter((layer) => layer.kind === "notes" && !layer.locked);
    const found = open.find((layer) => layer.id === chosen) ?? open.at(-1);
    if (found) return found.id;
    const id = newId().slice(0, 8);
    return (await edit({ kind: "add_layer", id, name: tr("Notes"), holds: "notes" })) ? id : null;
  };
  const put = async (note: Note) => {
    for (const owner of sheet?.layers ?? []) {
      const old = owner.notes?.find((other) => other.id === note.id);
      if (!old) continue;
      await edit({ amend: { kind: "note", layer: owner.id, id: note.id, fields: changedFields(old, note) } });
      return;
    }
    const layer = await layerFor();
    if (layer && (await edit({ kind: "put_note", layer, note }))) useSketch.getState().set({ note: note.id });
  };
  const remove = async (id: string) => {
    const owner = (sheet?.layers ?? []).find((layer) => layer.notes?.some((other) => other.id === id));
    if (owner && (await edit({ kind: "remove_notes", layer: owner.id, ids: [id] }))) {
      useSketch.getState().set({ note: null });
    }
  };
  const write = async (words: string) => {
    const now = useSketch.getState();
    const at = writing;
    setWriting(null);
    if (!at || !words.trim()) return;
    const look = { id: newId().slice(0, 8), colour: now.colour, size: now.notes.size, words: words.trim() };
    await put(
      at.to
        ? { kind: "callout", ...look, at: at.at, to: at.to }
        : { kind: "lettering", ...look, at: at.at, font: now.notes.font, turn: 0, align: "left" },
    );
  };
  /** A drag or touch with one of the notes' tools. */
  const dragged = (tool: string, first: Place, last: Place) => {
    const now = useSketch.getState();
    const look = { id: newId().slice(0, 8), colour: now.colour, size: now.notes.size };
    if (tool === "words") setWriting({ at: last });
    else if (tool === "callout") setWriting({ at: last, to: first });
    else if (tool === "dimension") put({ kind: "dimension", ...look, start: first, end: last, off: -2 * look.size });
    else if (tool === "arrow") put({ kind: "arrow", ...look, start: first, end: last, bend: 0 });
  };
  return { writing, write, put, remove, dragged };
}

export type Notes = ReturnType<typeof useNotes>;

export const NOTE_TOOLS: readonly string[] = ["words", "callout", "dimension", "arrow"];
