"""A board. Places on a picture are shares of its width and height, 0 to 1 from the top left; times are ISO 8601."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen

Share = Annotated[float, Field(ge=0, le=1)]
Decision = Literal["keep", "change", "drop"]


class Pin(Frozen):
    """A comment at a point of a take."""

    id: str
    take: str
    x: Share
    y: Share
    text: str
    who: str
    at: str
    resolved: bool = False


class Verdict(Frozen):
    """Keep, change or drop, with the reason."""

    take: str
    decision: Decision
    reason: str
    who: str
    at: str


class Board(Frozen):
    """Takes in the order they hang; the pair that is compared; pins; every verdict ever given, the last one counts."""

    takes: tuple[str, ...] = ()
    pair: tuple[str, ...] = Field((), max_length=2)
    pins: tuple[Pin, ...] = ()
    verdicts: tuple[Verdict, ...] = ()
