"""Zones: some faces of a part that wear a finish of their own."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from hollow_marble.documents.edit import Frozen

FaceKey = Annotated[str, Field(pattern="^[0-9a-f]{16}$")]
"""A face's key (`core.bodies.face_keys`) in hexadecimal: the same face for as long as its part's recipe makes it."""


class Zone(Frozen):
    """Faces of a part. Its finish stands among those of parts, by the zone's id; a face is in one zone of its part at most."""

    id: str
    part: str
    name: str = Field(min_length=1, max_length=60)
    faces: Annotated[tuple[FaceKey, ...], Field(min_length=1, max_length=20_000)]
