"""Edits of a sheet's guides, its perspective and its construction box."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, put, without
from hollow_marble.documents.sheet.drafting import box_in, guide_shape
from hollow_marble.documents.sheet.model import ConstructionBox, Guide, InkLayer, Perspective, Sheet, Straightedge

GUIDE_WORDS = {
    "straightedge": "a straightedge",
    "ellipse": "an ellipse",
    "circle": "a circle on a face",
    "division": "a division",
    "sweep": "a sweep curve",
}


class PutGuide(Frozen):
    """Lay a guide on the page, or lay one that is there anew."""

    kind: Literal["put_guide"] = "put_guide"
    guide: Guide

    def sentence(self) -> str:
        return f"Laid {GUIDE_WORDS[self.guide.kind]} on the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        guide = self.guide
        if isinstance(guide, Straightedge):
            (x1, y1), (x2, y2) = guide.start, guide.end
            if (x2 - x1) ** 2 + (y2 - y1) ** 2 < 16:
                raise HollowMarbleError("The straightedge is too short to draw along. Drag it out longer.")
        guide_shape(guide, sheet)  # says what does not fit
        return sheet.model_copy(update={"guides": put(sheet.guides, guide)})


class RemoveGuide(Frozen):
    """Take a guide off the page; what was drawn along it stays."""

    kind: Literal["remove_guide"] = "remove_guide"
    id: str

    def sentence(self) -> str:
        return "Took a guide off the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"guides": without(sheet.guides, self.id, "guide")})


class SetPerspective(Frozen):
    """Set the perspective and the construction box in it, or take them away.

    what : which of them was changed, and how, for the ledger
    """

    kind: Literal["set_perspective"] = "set_perspective"
    perspective: Perspective | None
    box: ConstructionBox | None
    what: Literal["perspective", "box", "camera", "away"] = "perspective"

    def sentence(self) -> str:
        if self.what == "camera" and self.box:
            w, d, h = self.box.size
            return f"Found the view of the drawn box, {w:.0f} × {d:.0f} × {h:.0f} mm"
        if self.what == "box":
            if self.box is None:
                return "Took the construction box away"
            w, d, h = self.box.size
            return f"Set a construction box of {w:g} × {d:g} × {h:g} mm"
        if self.perspective is None:
            return "Took the perspective away"
        return f"Set a {('one', 'two', 'three')[self.perspective.points - 1]}-point perspective"

    def applied_to(self, sheet: Sheet) -> Sheet:
        if self.box is not None:
            if self.perspective is None:
                raise HollowMarbleError("A construction box stands in a perspective. Set the perspective first.")
            if min(self.box.size) <= 0 or max(self.box.size) > 10_000:
                raise HollowMarbleError("Width, depth and height of the box must lie between 0 and 10,000 mm.")
            _ = box_in(self.perspective, self.box).corners  # says where it stands behind the eye
        changed = sheet.model_copy(update={"perspective": self.perspective, "box": self.box})
        for guide in changed.guides:
            if guide.kind in ("circle", "division") and self.box is not None:
                guide_shape(guide, changed)
        if self.box is None:
            kept = tuple(g for g in sheet.guides if not getattr(g, "face", None))
            changed = changed.model_copy(update={"guides": kept})
        return changed


class MarkEdges(Frozen):
    """Mark strokes as edges of the drawn box along W, D or H, or take the mark from them."""

    kind: Literal["mark_edges"] = "mark_edges"
    strokes: Annotated[tuple[str, ...], Field(min_length=1, max_length=200)]
    along: Literal["W", "D", "H"] | None

    def sentence(self) -> str:
        count = "a line" if len(self.strokes) == 1 else f"{len(self.strokes)} lines"
        return f"Marked {count} as running along {self.along}" if self.along else f"Took the mark from {count}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        there = {stroke.id for layer in sheet.layers if isinstance(layer, InkLayer) for stroke in layer.strokes}
        if not there >= set(self.strokes):
            raise HollowMarbleError("Some of those lines are no longer there. Pick them again.")
        edges = {ident: along for ident, along in sheet.edges.items() if ident in there and ident not in self.strokes}
        if self.along:
            edges |= dict.fromkeys(self.strokes, self.along)
        return sheet.model_copy(update={"edges": edges})
