"""Which payloads an edit names, and of what kind each must be."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from hollow_marble.core.bodies.still_body import MEDIA as MESH
from hollow_marble.documents.form.built import BROUGHT_MEDIA
from hollow_marble.documents.sheet.drawing import MEDIA as SAMPLES
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE

HELD_BY = {
    "samples": SAMPLES,
    "tiles": TILE,
    "picture": "image/png",
    "map": "image/vnd.radiance",
    "cage": "application/json",
    "mesh": MESH,
    "shape": BROUGHT_MEDIA,
}
"""Media type by the field that names a payload, by its SHA-256; `tiles` holds names by place."""


def payloads(body: Any) -> Iterator[tuple[str, str, str]]:
    """(field, name, media type) of every payload that an edit's JSON names."""
    if isinstance(body, dict):
        for field, value in body.items():
            if field in HELD_BY:
                yield from ((field, name, HELD_BY[field]) for name in _texts(value))
            else:
                yield from payloads(value)
    elif isinstance(body, list):
        for one in body:
            yield from payloads(one)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from _texts(one)
