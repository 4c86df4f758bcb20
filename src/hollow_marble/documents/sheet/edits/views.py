"""Edits of a sheet's views."""

from __future__ import annotations

from typing import Literal

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.sheet.edits.strokes import drawn_on
from hollow_marble.documents.sheet.edits.tone import with_tiles
from hollow_marble.documents.sheet.model import (
    InkLayer,
    Name,
    NotesLayer,
    PictureLayer,
    Rect,
    Sheet,
    Stroke,
    ToneLayer,
    View,
    ViewKind,
)
from hollow_marble.documents.sheet.moving import inside, moved_note


class FrameView(Frozen):
    """Frame a region of the page as a view of the product."""

    kind: Literal["frame_view"] = "frame_view"
    id: str
    view: ViewKind
    name: Name
    rect: Rect

    def sentence(self) -> str:
        return f"Framed a {self.view} view, {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        view = View(id=self.id, view=self.view, name=self.name, rect=_checked(self.rect))
        return sheet.model_copy(update={"views": (*sheet.views, view)})


class ChangeView(Frozen):
    """Rename a view, say from where it looks, or frame it anew."""

    kind: Literal["change_view"] = "change_view"
    id: str
    view: ViewKind | None = None
    name: Name | None = None
    rect: Rect | None = None

    def sentence(self) -> str:
        return "Changed a view"

    def applied_to(self, sheet: Sheet) -> Sheet:
        old = find(sheet.views, self.id, "view")
        rect = _checked(self.rect) if self.rect else None
        changed = old.model_copy(update=given(view=self.view, name=self.name, rect=rect))
        return sheet.model_copy(update={"views": replaced(sheet.views, changed)})


class StrikeOut(Frozen):
    """Mark the idea in a view as dropped, or take it up again."""

    kind: Literal["strike_out"] = "strike_out"
    id: str
    struck: bool

    def sentence(self) -> str:
        return "Struck out a view" if self.struck else "Took a struck-out view up again"

    def applied_to(self, sheet: Sheet) -> Sheet:
        changed = find(sheet.views, self.id, "view").model_copy(update={"struck": self.struck})
        return sheet.model_copy(update={"views": replaced(sheet.views, changed)})


class RemoveView(Frozen):
    """Take a frame away; what is drawn in it stays."""

    kind: Literal["remove_view"] = "remove_view"
    id: str

    def sentence(self) -> str:
        return "Removed a view’s frame"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"views": without(sheet.views, self.id, "view")})


class PutCopy(Frozen):
    """Put a copy of what is drawn in a view on the page, framed as a view of its own.

    strokes : copied strokes, already in their new place, lowest first, for an ink layer
    """

    kind: Literal["put_copy"] = "put_copy"
    view: View
    layer: str
    strokes: tuple[Stroke, ...]

    def sentence(self) -> str:
        return f"Put a copy of {self.view.name} on the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = find(sheet.layers, self.layer, "layer")
        drawn = drawn_on(layer, self.strokes)
        view = self.view.model_copy(update={"rect": _checked(self.view.rect)})
        return sheet.model_copy(update={"layers": replaced(sheet.layers, drawn), "views": (*sheet.views, view)})


class MoveViews(Frozen):
    """Move views on the page with all that is drawn in them.

    moves : px to the right and down by view
    strokes : moved strokes by layer, to take the place of those with the same id
    tiles : exchanged tiles by tone layer
    said : what was done, in words
    """

    kind: Literal["move_views"] = "move_views"
    moves: dict[str, tuple[int, int]]
    strokes: dict[str, tuple[Stroke, ...]] = {}
    tiles: dict[str, dict[str, str | None]] = {}
    said: Name

    def sentence(self) -> str:
        return self.said

    def applied_to(self, sheet: Sheet) -> Sheet:
        old = {ident: find(sheet.views, ident, "view") for ident in self.moves}
        views = tuple(
            view.model_copy(update={"rect": _shifted(view.rect, *self.moves[view.id])}) if view.id in old else view
            for view in sheet.views
        )
        layers = []
        for layer in sheet.layers:
            if isinstance(layer, InkLayer) and layer.id in self.strokes:
                moved = {stroke.id: stroke for stroke in self.strokes[layer.id]}
                layer = layer.model_copy(update={"strokes": tuple(moved.get(s.id, s) for s in layer.strokes)})
            elif isinstance(layer, ToneLayer) and layer.id in self.tiles:
                layer = with_tiles(layer, self.tiles[layer.id])
            elif isinstance(layer, PictureLayer):
                middle = sum(x for x, _ in layer.quad) / 4, sum(y for _, y in layer.quad) / 4
                for ident, (dx, dy) in self.moves.items():
                    if inside(old[ident].rect, middle):
                        quad = tuple((x + dx, y + dy) for x, y in layer.quad)
                        layer = layer.model_copy(update={"quad": quad})
                        break
            elif isinstance(layer, NotesLayer):
                notes = layer.notes
                for ident, by in self.moves.items():
                    notes = tuple(moved_note(note, old[ident].rect, by) for note in notes)
                layer = layer.model_copy(update={"notes": notes})
            layers.append(layer)
        return sheet.model_copy(update={"views": views, "layers": tuple(layers)})


class RepeatFaintly(Frozen):
    """Put copies of sketches behind everything else, faint, as a layer of their own."""

    kind: Literal["repeat_faintly"] = "repeat_faintly"
    layer: InkLayer

    def sentence(self) -> str:
        return "Repeated a sketch faintly behind the others"

    def applied_to(self, sheet: Sheet) -> Sheet:
        if any(layer.id == self.layer.id for layer in sheet.layers):
            raise HollowMarbleError("That is there already.")
        return sheet.model_copy(update={"layers": (self.layer, *sheet.layers)})


def _shifted(rect: Rect, dx: int, dy: int) -> Rect:
    return rect[0] + dx, rect[1] + dy, rect[2] + dx, rect[3] + dy


def _checked(rect: Rect) -> Rect:
    if rect[2] - rect[0] < 8 or rect[3] - rect[1] < 8:
        raise HollowMarbleError("The frame is too small. Drag out a larger one.")
    return rect
