"""Edits of a sheet's guides."""

from __future__ import annotations

from typing import Literal

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, replaced, without
from hollow_marble.documents.sheet.model import Guide, Sheet, Straightedge


class PutGuide(Frozen):
    """Lay a guide on the page, or lay one that is there anew."""

    kind: Literal["put_guide"] = "put_guide"
    guide: Guide

    def sentence(self) -> str:
        return f"Laid {'a straightedge' if self.guide.kind == 'straightedge' else 'an ellipse'} on the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        guide = self.guide
        if isinstance(guide, Straightedge):
            (x1, y1), (x2, y2) = guide.start, guide.end
            if (x2 - x1) ** 2 + (y2 - y1) ** 2 < 16:
                raise HollowMarbleError("The straightedge is too short to draw along. Drag it out longer.")
        there = any(other.id == guide.id for other in sheet.guides)
        guides = replaced(sheet.guides, guide) if there else (*sheet.guides, guide)
        return sheet.model_copy(update={"guides": guides})


class RemoveGuide(Frozen):
    """Take a guide off the page; what was drawn along it stays."""

    kind: Literal["remove_guide"] = "remove_guide"
    id: str

    def sentence(self) -> str:
        return "Took a guide off the page"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"guides": without(sheet.guides, self.id, "guide")})
