"""Edits of a sheet's views."""

from __future__ import annotations

from typing import Literal

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.sheet.edits.strokes import drawn_on
from hollow_marble.documents.sheet.model import Name, Rect, Sheet, Stroke, View, ViewKind


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


def _checked(rect: Rect) -> Rect:
    if rect[2] - rect[0] < 8 or rect[3] - rect[1] < 8:
        raise HollowMarbleError("The frame is too small. Drag out a larger one.")
    return rect
