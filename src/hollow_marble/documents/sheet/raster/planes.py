"""How layers become planes to compose, and strokes become paint on them: alike for the page and for a larger picture of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.compose import Plane
from hollow_marble.core.ink.path import Nib
from hollow_marble.core.ink.stamp import coverage, lay_ink, lay_inside, lift_ink
from hollow_marble.documents.sheet.model import Layer, Rect, Stroke, ToneLayer, rgb


def plane_of(layer: Layer, pixels: NDArray[np.uint8] | None, parts: tuple[Plane, ...] | None) -> Plane:
    """A layer as a plane: its pixels, or a group's parts, with its mode, opacity, clipping and tint."""
    tint = None
    if isinstance(layer, ToneLayer) and layer.tint:
        red, green, blue = rgb(layer.tint)
        tint = (red / 255, green / 255, blue / 255)
    return Plane(pixels, parts, mode=layer.mode, opacity=layer.opacity, clipped=layer.clipped, tint=tint)


def lay_stroke(pixels: NDArray[np.uint8], stroke: Stroke, samples: NDArray[np.float32], nib: Nib, inside: Rect) -> None:
    """Draw one run of a stroke's samples (N, 4) into pixels (H, W, 4), within a rectangle of them, in place."""
    mask = coverage(samples, nib, inside, stroke.line)
    if nib.lifts:
        lift_ink(pixels, mask, inside)
    elif stroke.inside:
        lay_inside(pixels, mask, inside, rgb(stroke.colour))
    else:
        lay_ink(pixels, mask, inside, rgb(stroke.colour))
