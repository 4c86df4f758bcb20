"""Marks: lettering and artwork laid on a part. Lengths mm, angles degrees."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour, Font
from hollow_marble.documents.studio.model.finish import Finish

FOIL = Finish(material="polished metal", colour="#E4E0DA")


class Words(Frozen):
    """A line of words."""

    kind: Literal["words"] = "words"
    text: str = Field("Linnet", min_length=1, max_length=80)
    font: Font = "sans strong"


class Artwork(Frozen):
    """A picture with what is clear in it; px wide and tall."""

    kind: Literal["artwork"] = "artwork"
    picture: str = Field(pattern="^[0-9a-f]{64}$")
    size: tuple[int, int]


class Mark(Frozen):
    """Lettering or artwork on a part.

    at : where its middle lies, mm in the form; width : of it on the surface
    way : printed in a colour (artwork in its own colours), as a stencil for another finish, as a relief of the part itself, or in foil
    depth : how far it stands out, mm; sunk where that is less than nothing
    """

    id: str
    part: str
    what: Annotated[Words | Artwork, Field(discriminator="kind")]
    name: str = Field("", max_length=60)
    on: bool = True
    at: tuple[float, float, float]
    width: float = Field(20.0, ge=0.5, le=2_000)
    turn: float = Field(0.0, ge=-180, le=180)
    way: Literal["print", "stencil", "relief", "foil"] = "print"
    colour: Colour = "#F2EEE6"
    finish: Finish = Finish(material="gloss plastic", colour="#20282B")
    depth: float = Field(0.0, ge=-3, le=3)

    @property
    def called(self) -> str:
        """Its name, or its words."""
        return self.name or (self.what.text if isinstance(self.what, Words) else "Artwork")

    @property
    def worn(self) -> Finish:
        """The finish it has where it is not the part itself."""
        if self.way == "stencil":
            return self.finish
        return (
            FOIL.model_copy(update={"colour": self.colour})
            if self.way == "foil"
            else Finish(material="painted", colour=self.colour)
        )
