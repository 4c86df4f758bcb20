"""Words as outlines. Lengths mm."""

from __future__ import annotations

import numpy as np
import skia

from hollow_marble.core.detail.ground import Floats
from hollow_marble.core.detail.outlines import Outlines
from hollow_marble.core.errors import HollowMarbleError

_EM = 1000.0
_CHORD = 0.6
"""Thousandths of the em that an arc may be off the chords it is made of."""


def words_as_outlines(text: str, typeface: bytes, tall: float, spacing: float = 0.0) -> Outlines:
    """A line of words, its capitals `tall` mm, about its middle; `spacing` mm more between letters.

    Raises
    ------
    HollowMarbleError
        where the typeface has none of it.
    """
    face = skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(typeface))
    font = skia.Font(face, _EM)
    font.setHinting(skia.FontHinting.kNone)
    capital = font.getMetrics().fCapHeight or 0.7 * _EM
    glyphs = font.textToGlyphs(text)
    widths = font.getWidths(glyphs)
    loops: list[Floats] = []
    x = 0.0
    for glyph, width in zip(glyphs, widths):
        path = font.getPath(glyph) if glyph else None
        if path is not None:
            loops += [loop + np.array([x, 0.0]) for loop in _loops(path)]
        x += width + spacing * capital / tall
    if not loops:
        raise HollowMarbleError(f"There is nothing to see of “{text}” in this typeface. Write something else.")
    scale = tall / capital
    return Outlines(tuple(loop * np.array([scale, -scale]) for loop in loops)).centred()


def _loops(path: skia.Path) -> list[Floats]:
    """The closed outlines of a path as chords (n, 2); overlapping ones of a letter made one."""
    whole = skia.Simplify(path)
    found: list[Floats] = []
    current: list[tuple[float, float]] = []
    for verb, points in whole:
        places = np.array([(p.x(), p.y()) for p in points])
        if verb == skia.Path.kMove_Verb:
            current = [tuple(places[0])]
        elif verb == skia.Path.kLine_Verb:
            current.append(tuple(places[1]))
        elif verb == skia.Path.kQuad_Verb or verb == skia.Path.kCubic_Verb:
            current += _curve(places)
        elif verb == skia.Path.kClose_Verb and len(current) > 2:
            loop = np.array(current)
            apart = np.linalg.norm(loop - np.roll(loop, 1, axis=0), axis=1) > 1e-3
            if apart.sum() > 2:
                found.append(loop[apart])
    return found


def _curve(places: Floats) -> list[tuple[float, float]]:
    """Places along a Bézier curve (3 or 4 poles), without its first."""
    bend = np.abs(np.diff(places, 2, axis=0)).max()
    count = max(2, int(np.ceil(np.sqrt(bend / (4 * _CHORD)) * (2 if len(places) == 4 else 1.4))))
    t = np.linspace(0, 1, count + 1)[1:, None]
    rows = places[None].repeat(count, axis=0)
    while rows.shape[1] > 1:
        rows = rows[:, :-1] * (1 - t[:, None]) + rows[:, 1:] * t[:, None]
    return [(float(x), float(y)) for x, y in rows[:, 0]]
