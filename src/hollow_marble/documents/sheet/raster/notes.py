"""Notes drawn into a layer's pixels."""

from __future__ import annotations

import numpy as np
import skia
from numpy.typing import NDArray

from hollow_marble.documents.sheet.model import Note, View, rgb
from hollow_marble.documents.sheet.notes import Solid, Stretch, marks, skia_font


def lay_notes(
    pixels: NDArray[np.uint8],
    notes: tuple[Note, ...],
    views: tuple[View, ...],
    scale: float = 1.0,
    origin: tuple[float, float] = (0.0, 0.0),
) -> None:
    """Draw notes over a layer (H, W, 4), in place; `scale` px of the layer a px of the page, `origin` of the page in its corner."""
    surface = skia.Surface(pixels, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType)
    canvas = surface.getCanvas()
    canvas.scale(scale, scale)
    canvas.translate(-origin[0], -origin[1])
    for note in notes:
        colour = skia.Color(*rgb(note.colour))
        fill = skia.Paint(AntiAlias=True, Color=colour)
        for mark in marks(note, views):
            if isinstance(mark, Stretch):
                line = skia.Paint(
                    AntiAlias=True,
                    Color=colour,
                    Style=skia.Paint.kStroke_Style,
                    StrokeWidth=mark.width,
                    StrokeCap=skia.Paint.kRound_Cap,
                    StrokeJoin=skia.Paint.kRound_Join,
                )
                canvas.drawPath(skia.Path.Polygon([skia.Point(*p) for p in mark.places], False), line)
            elif isinstance(mark, Solid):
                canvas.drawPath(skia.Path.Polygon([skia.Point(*p) for p in mark.places], True), fill)
            else:
                canvas.save()
                canvas.translate(*mark.at)
                canvas.rotate(mark.turn)
                canvas.drawString(mark.text, 0, 0, skia_font(mark.font, mark.size), fill)
                canvas.restore()
