"""Artwork for Linnet's body: a scale of eleven ticks. Drawn large, on clear ground."""

from __future__ import annotations

import io
import math

from PIL import Image, ImageDraw

from hollow_marble.documents.edit import Asset, asset_of
from hollow_marble.documents.studio.model import Artwork

CREAM = (239, 235, 226, 255)
FINE = 4
"""Times larger it is drawn than it is kept, so that edges are smooth."""


def scale() -> tuple[Artwork, Asset]:
    """Ticks round three quarters of a circle, every fifth a longer one."""
    picture, pen = _sheet(936, 936)
    for k in range(11):
        turn = math.radians(-120 + 24 * k)
        outer, inner = 450.0, 396.0 if k % 5 == 0 else 414.0
        ends = [(468 + math.sin(turn) * r, 468 - math.cos(turn) * r) for r in (inner, outer)]
        pen.line([(x * FINE, y * FINE) for x, y in ends], fill=CREAM, width=12 * FINE)
    return _kept(picture)


def _sheet(width: int, tall: int) -> tuple[Image.Image, ImageDraw.ImageDraw]:
    picture = Image.new("RGBA", (width * FINE, tall * FINE), (0, 0, 0, 0))
    return picture, ImageDraw.Draw(picture)


def _kept(picture: Image.Image) -> tuple[Artwork, Asset]:
    small = picture.resize((picture.width // FINE, picture.height // FINE), Image.Resampling.BOX)
    file = io.BytesIO()
    small.save(file, "PNG")
    kept = asset_of(file.getvalue(), "image/png")
    return Artwork(picture=kept.sha, size=small.size), kept
