"""Edits of a brief."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.brief.model import MOST_PICTURES, Brief, BriefPicture, Envelope, Place, Wide
from hollow_marble.documents.edit import Frozen, find, without


class WriteBrief(Frozen):
    """Say what the product must be, or what else is to be known."""

    kind: Literal["write_brief"] = "write_brief"
    what: Annotated[str, Field(max_length=2_000)] | None = None
    notes: Annotated[str, Field(max_length=20_000)] | None = None

    def sentence(self) -> str:
        return "Wrote what it must be" if self.what is not None else "Wrote notes to the brief"

    def applied_to(self, brief: Brief) -> Brief:
        words = {"what": self.what, "notes": self.notes}
        return brief.model_copy(update={name: text for name, text in words.items() if text is not None})


class SetEnvelope(Frozen):
    """Set the size the product must keep within, or take it away."""

    kind: Literal["set_envelope"] = "set_envelope"
    envelope: Envelope | None

    def sentence(self) -> str:
        if self.envelope is None:
            return "Took the size away"
        w, d, h = self.envelope
        return f"Set the size to keep within: {w:g} × {d:g} × {h:g} mm"

    def applied_to(self, brief: Brief) -> Brief:
        return brief.model_copy(update={"envelope": self.envelope})


class PutPicture(Frozen):
    """Put a picture on the board."""

    kind: Literal["put_picture"] = "put_picture"
    laid: BriefPicture

    def sentence(self) -> str:
        return f"Put {self.laid.name} on the board"

    def applied_to(self, brief: Brief) -> Brief:
        if any(other.id == self.laid.id for other in brief.pictures):
            raise HollowMarbleError("A picture with this id is already there.")
        if len(brief.pictures) >= MOST_PICTURES:
            raise HollowMarbleError(f"The board holds {MOST_PICTURES} pictures. Take one away first.")
        return brief.model_copy(update={"pictures": (*brief.pictures, self.laid)})


class LayPicture(Frozen):
    """Move or size a picture on the board; it comes to lie on top."""

    kind: Literal["lay_picture"] = "lay_picture"
    id: str
    x: Place
    y: Place
    wide: Wide

    def sentence(self) -> str:
        return "Moved a picture on the board"

    def applied_to(self, brief: Brief) -> Brief:
        laid = find(brief.pictures, self.id, "picture").model_copy(update={"x": self.x, "y": self.y, "wide": self.wide})
        return brief.model_copy(update={"pictures": (*without(brief.pictures, self.id, "picture"), laid)})


class RemovePicture(Frozen):
    """Take a picture off the board."""

    kind: Literal["remove_brief_picture"] = "remove_brief_picture"
    id: str

    def sentence(self) -> str:
        return "Took a picture off the board"

    def applied_to(self, brief: Brief) -> Brief:
        return brief.model_copy(update={"pictures": without(brief.pictures, self.id, "picture")})


BriefEdit = Annotated[
    WriteBrief | SetEnvelope | PutPicture | LayPicture | RemovePicture,
    Field(discriminator="kind"),
]
