"""Edits of a sheet's notes: words, callouts, dimensions, arrows."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, put, replaced
from hollow_marble.documents.sheet.edits.strokes import open_layer
from hollow_marble.documents.sheet.model import Note, NotesLayer, Sheet, View


def notes_layer(sheet: Sheet, ident: str) -> NotesLayer:
    """A layer that notes can be put on."""
    layer = open_layer(sheet, ident)
    if not isinstance(layer, NotesLayer):
        raise HollowMarbleError(f"“{layer.name}” holds no notes. Choose a notes layer, or add one.")
    return layer


class PutNote(Frozen):
    """Put a note on the page, or change one that is there."""

    kind: Literal["put_note"] = "put_note"
    layer: str
    note: Note

    def sentence(self) -> str:
        words = getattr(self.note, "words", None)
        if words:
            short = words.split("\n")[0]
            return f"Wrote “{short if len(short) <= 40 else short[:39] + '…'}”"
        return f"Put {'an arrow' if self.note.kind == 'arrow' else 'a dimension'} on the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = notes_layer(sheet, self.layer)
        note = self.note
        if note.kind in ("arrow", "dimension"):
            (ax, ay), (bx, by) = note.start, note.end
            if (bx - ax) ** 2 + (by - ay) ** 2 < 16:
                raise HollowMarbleError("Its two ends lie on one another. Drag from one place to another.")
        changed = layer.model_copy(update={"notes": put(layer.notes, note)})
        return sheet.model_copy(update={"layers": replaced(sheet.layers, changed)})


class RemoveNotes(Frozen):
    """Take notes off the page."""

    kind: Literal["remove_notes"] = "remove_notes"
    layer: str
    ids: Annotated[tuple[str, ...], Field(min_length=1)]

    def sentence(self) -> str:
        return "Took a note off the page" if len(self.ids) == 1 else f"Took {len(self.ids)} notes off the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = notes_layer(sheet, self.layer)
        for ident in self.ids:
            find(layer.notes, ident, "note")
        left = tuple(note for note in layer.notes if note.id not in self.ids)
        return sheet.model_copy(update={"layers": replaced(sheet.layers, layer.model_copy(update={"notes": left}))})


class SetScale(Frozen):
    """Say how long a dimension is: the view around it takes its scale from that, px a mm."""

    kind: Literal["set_scale"] = "set_scale"
    view: str
    scale: float = Field(gt=0, le=10_000)

    def sentence(self) -> str:
        return f"Set the scale of a view to {self.scale:.3g} px a mm"

    def applied_to(self, sheet: Sheet) -> Sheet:
        view: View = find(sheet.views, self.view, "view")
        return sheet.model_copy(update={"views": replaced(sheet.views, view.model_copy(update={"scale": self.scale}))})
