"""Edits of painted pixels and of the page itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, given, replaced
from hollow_marble.documents.sheet.edits.strokes import open_layer
from hollow_marble.documents.sheet.model import Border, Colour, Ground, Sheet, ToneLayer


def with_tiles(layer: ToneLayer, tiles: dict[str, str | None]) -> ToneLayer:
    """The layer with tiles exchanged; None where one is bare now."""
    kept = {name: sha for name, sha in {**layer.tiles, **tiles}.items() if sha is not None}
    return layer.model_copy(update={"tiles": kept})


class PaintTone(Frozen):
    """Exchange tiles of a tone layer for what was painted.

    tiles : SHA-256 of the new pixels by "column,row"; None where the tile is bare now
    said : what was done, in words
    """

    kind: Literal["paint_tone"] = "paint_tone"
    layer: str
    tiles: dict[str, str | None]
    said: Annotated[str, Field(min_length=1, max_length=120)]

    def sentence(self) -> str:
        return self.said

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = open_layer(sheet, self.layer)
        if not isinstance(layer, ToneLayer):
            raise HollowMarbleError(f"“{layer.name}” is not a tone layer. Choose a tone layer to paint on.")
        return sheet.model_copy(update={"layers": replaced(sheet.layers, with_tiles(layer, self.tiles))})


class SetPage(Frozen):
    """Change the page's size or paper; what is drawn stays where it is."""

    kind: Literal["set_page"] = "set_page"
    width: int | None = Field(None, ge=64, le=12000)
    height: int | None = Field(None, ge=64, le=12000)
    paper: Colour | None = None
    ground: Ground | Literal["plain"] | None = Field(None, description="what the paper goes over to; plain for nothing")
    border: Border | Literal["none"] | None = None

    def sentence(self) -> str:
        parts = [f"{self.width} × {self.height} px"] if self.width and self.height else []
        parts += [f"paper {self.paper}"] if self.paper else []
        if self.ground is not None:
            parts.append("plain paper" if self.ground == "plain" else f"paper going over to {self.ground.colour}")
        if self.border is not None:
            parts.append("no border" if self.border == "none" else "a border")
        return "Set the page to " + (", ".join(parts) or "what it was")

    def applied_to(self, sheet: Sheet) -> Sheet:
        fields: dict[str, object] = given(width=self.width, height=self.height, paper=self.paper)
        if self.ground is not None:
            fields["ground"] = None if self.ground == "plain" else self.ground
        if self.border is not None:
            fields["border"] = None if self.border == "none" else self.border
        return sheet.model_copy(update=fields)


class Choose(Frozen):
    """Mark the sheet as the direction that is gone on with, or take the mark away."""

    kind: Literal["choose"] = "choose"
    chosen: bool

    def sentence(self) -> str:
        return "Chose this direction" if self.chosen else "Took the choice of this direction back"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"chosen": self.chosen})
