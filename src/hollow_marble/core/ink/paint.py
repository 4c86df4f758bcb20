"""Paint on pixels: within a selection, within what is painted already, as gradients, cut out and carried over.

Pixels are (h, w, 4) uint8 premultiplied windows of a layer; every function returns a new window of the same size.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.stamp import lay_ink, lay_inside, lift_ink

Colour = tuple[int, int, int]


def laid(
    pixels: NDArray[np.uint8], cover: NDArray[np.float32], colour: Colour, lifts: bool, lock_paint: bool
) -> NDArray[np.uint8]:
    """Paint of one colour laid on, or lifted, by a coverage (h, w) float32."""
    out = pixels.copy()
    rect = (0, 0, pixels.shape[1], pixels.shape[0])
    if lifts:
        if not lock_paint:
            lift_ink(out, cover, rect)
    elif lock_paint:
        lay_inside(out, cover, rect, colour)
    else:
        lay_ink(out, cover, rect, colour)
    return out


def ramp(
    shape: tuple[int, int], start: tuple[float, float], end: tuple[float, float], kind: Literal["linear", "radial"]
) -> NDArray[np.float32]:
    """Share of the way from start to end of each pixel's middle, 0 to 1, (h, w) float32; places in the window's px."""
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32) + np.float32(0.5)
    dx, dy = end[0] - start[0], end[1] - start[1]
    length = max(float(np.hypot(dx, dy)), 1e-6)
    if kind == "linear":
        along = ((x - start[0]) * dx + (y - start[1]) * dy) / length**2
    else:
        along = np.hypot(x - start[0], y - start[1]) / length
    result: NDArray[np.float32] = np.clip(along, 0, 1).astype(np.float32)
    return result


def graded(
    pixels: NDArray[np.uint8],
    share: NDArray[np.float32],
    cover: NDArray[np.float32],
    first: tuple[Colour, float],
    last: tuple[Colour, float],
    lock_paint: bool,
) -> NDArray[np.uint8]:
    """A gradient from one (colour, opacity) to another laid on by a coverage (h, w)."""
    base = pixels.astype(np.float32) / 255
    t = share[..., None]
    opacity = (first[1] + (last[1] - first[1]) * share) * cover
    # colours are mixed as they show: a clear end does not pull its colour in
    weight = np.maximum(first[1] * (1 - share) + last[1] * share, 1e-6)[..., None]
    one, other = (np.array(c, np.float32) / 255 for c, _ in (first, last))
    colour = (one * first[1] * (1 - t) + other * last[1] * t) / weight
    a = opacity[..., None]
    if lock_paint:
        base[..., :3] = base[..., :3] * (1 - a) + colour * base[..., 3:] * a
    else:
        base[..., :3] = base[..., :3] * (1 - a) + colour * a
        base[..., 3] = base[..., 3] * (1 - opacity) + opacity
    return np.rint(base * 255).astype(np.uint8)


def cleared(pixels: NDArray[np.uint8], cover: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Paint taken away by a coverage (h, w)."""
    left: NDArray[np.uint8] = np.rint(pixels * (1 - cover)[..., None]).astype(np.uint8)
    return left
