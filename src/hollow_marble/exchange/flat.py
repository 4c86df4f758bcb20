"""Lines in a plane as SVG and DXF, 1 unit a millimetre."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Values = NDArray[np.float64]

MARGIN = 5.0
"""mm around what is drawn."""


@dataclass(frozen=True, eq=False)
class FlatLine:
    """places (K, 2) mm, x to the right and y up; whether it closes; the layer it lies on."""

    places: Values
    closed: bool
    layer: str


def flat_svg(lines: Sequence[FlatLine], width: float = 0.25) -> str:
    """SVG 1.1 text, in true size: a group a layer, a path a line."""
    every = np.concatenate([line.places for line in lines]) if lines else np.zeros((1, 2))
    left, low = every.min(axis=0) - MARGIN
    right, high = every.max(axis=0) + MARGIN
    body = ""
    for layer in dict.fromkeys(line.layer for line in lines):
        paths = ""
        for line in lines:
            if line.layer == layer:
                run = " ".join(f"{x - left:.4f},{high - y:.4f}" for x, y in line.places)
                paths += f'<path d="M{run}{"Z" if line.closed else ""}"/>'
        body += f'<g data-name="{layer}">{paths}</g>'
    wide, tall = right - left, high - low
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.3f}mm" height="{tall:.3f}mm" viewBox="0 0 {wide:.4f} {tall:.4f}">'
        f'<g fill="none" stroke="#20282b" stroke-width="{width:g}" stroke-linejoin="round">{body}</g></svg>'
    )


def flat_dxf(lines: Sequence[FlatLine]) -> bytes:
    """DXF (release AC1015, ASCII, millimetres): a light polyline a line, on its layer."""
    from ezdxf import document, units

    drawing = document.Drawing.new("AC1015")
    drawing.units = units.MM
    model = drawing.modelspace()
    for layer in dict.fromkeys(line.layer for line in lines):
        drawing.layers.add(layer)
    for line in lines:
        model.add_lwpolyline(line.places.tolist(), close=line.closed, dxfattribs={"layer": line.layer})
    text = io.StringIO()
    drawing.write(text)
    return text.getvalue().encode(drawing.encoding)
