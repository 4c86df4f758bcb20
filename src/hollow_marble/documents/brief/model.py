"""A brief. Places on its board are in its own units: it is 1000 wide, y runs down from its top."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.edit import Frozen

BOARD = 1000.0
MOST_PICTURES = 200

Length = Annotated[float, Field(gt=0, le=100_000)]
Envelope = tuple[Length, Length, Length]
"""Width, depth and height in mm that the product must keep within."""

Place = Annotated[float, Field(ge=-10_000, le=10_000)]
Wide = Annotated[float, Field(ge=20, le=4000)]
Picture = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
Name = Annotated[str, Field(min_length=1, max_length=60)]


class BriefPicture(Frozen):
    """A picture on the board: its PNG by SHA-256, where its upper left corner lies, how wide it is; `tall` times that high."""

    id: str
    name: Name
    picture: Picture
    x: Place
    y: Place
    wide: Wide
    tall: Annotated[float, Field(gt=0, le=100)]


class Brief(Frozen):
    """What the product must be, in words; how large it may be; what else is to be known; pictures in the order they lie."""

    what: str = Field("", max_length=2_000)
    notes: str = Field("", max_length=20_000)
    envelope: Envelope | None = None
    pictures: tuple[BriefPicture, ...] = ()
