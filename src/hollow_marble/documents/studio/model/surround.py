"""The reflected surroundings: panels and flags placed by direction, or a map from a file. Angles degrees."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.studio import surround
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour

Sized = Literal["256 × 128", "512 × 256", "1024 × 512", "2048 × 1024", "4096 × 2048"]


class _Area(Frozen):
    """azimuth and height say where its middle is, as of a lamp; width and tall are angles; `soft` is how far its edge fades inwards, a share;
    `copies` stand around, evenly."""

    id: str
    name: str = Field("", max_length=60)
    on: bool = True
    azimuth: float = Field(0.0, ge=-180, le=180)
    height: float = Field(0.0, ge=-90, le=90)
    width: float = Field(40.0, ge=0.5, le=170)
    tall: float = Field(40.0, ge=0.5, le=170)
    turn: float = Field(0.0, ge=-180, le=180)
    soft: float = Field(0.1, ge=0, le=1)
    round: bool = False
    copies: int = Field(1, ge=1, le=36)


class BrightPanel(_Area):
    """A panel that glows; `power` in stops over or under white paper."""

    kind: Literal["panel"] = "panel"
    power: float = Field(0.0, ge=-8, le=10)
    warmth: float = Field(5600.0, ge=1_700, le=12_000)
    colour: Colour = "#FFFFFF"


class Flag(_Area):
    """A black flag: it takes away what is behind it."""

    kind: Literal["flag"] = "flag"


Area = Annotated[BrightPanel | Flag, Field(discriminator="kind")]


class Surround(Frozen):
    """What is all around, and how it is used.

    map : a picture of the surroundings that was brought in, under the panels
    sky, ground : colours of what is above and below where nothing else is
    strength : stops; turn, lift : how it is turned and tipped
    seen : whether it is seen behind the set, or only reflected
    """

    areas: Annotated[tuple[Area, ...], Field(max_length=200)] = ()
    map: str | None = Field(None, pattern="^[0-9a-f]{64}$")
    map_name: str = Field("", max_length=60)
    size: Sized = "1024 × 512"
    room: float = Field(-5.6, ge=-20, le=6, description="brightness of the bare room, stops against white paper")
    strength: float = Field(0.0, ge=-10, le=10)
    turn: float = Field(0.0, ge=-180, le=180)
    lift: float = Field(0.0, ge=-90, le=90)
    seen: bool = False

    @property
    def pixels(self) -> tuple[int, int]:
        width, tall = self.size.split(" × ")
        return int(width), int(tall)

    def painted(self) -> tuple[surround.Area, ...]:
        """Its panels and flags as the painter takes them, one by one with their copies."""
        return tuple(one for area in self.areas if area.on for one in _copies(area))


def _copies(area: BrightPanel | Flag) -> list[surround.Area]:
    glow = (0.0, 0.0, 0.0) if isinstance(area, Flag) else surround.glow(area.power, area.warmth, area.colour)
    return [
        surround.Area(
            area.azimuth + 360.0 * k / area.copies,
            area.height,
            area.width,
            area.tall,
            area.turn,
            area.soft,
            area.round,
            glow,
        )
        for k in range(area.copies)
    ]
