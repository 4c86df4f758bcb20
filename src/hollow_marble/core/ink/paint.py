"""Paint on pixels: within a selection, within what is painted already, as gradients, cut out and carried over.

Pixels are (h, w, 4) uint8 premultiplied windows of a layer; every function returns a new window of the same size.
"""

from __future__ import annotations

from typing import Literal

import numpy as np
import skia
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.select import Selection, trimmed
from hollow_marble.core.ink.stamp import Rect, clipped, empty, lay_ink, lay_inside, lift_ink, union

Colour = tuple[int, int, int]


def over(under: NDArray[np.uint8], piece: NDArray[np.float32]) -> NDArray[np.uint8]:
    """Pixels (h, w, 4) of 0 to 255 laid over others (Porter and Duff 1984, "over")."""
    return np.rint(under * (1 - piece[..., 3:] / 255) + piece).astype(np.uint8)


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


def shifted(
    layer: NDArray[np.uint8], chosen: Selection, matrix: NDArray[np.float64], copies: bool, page: Rect
) -> tuple[Rect, NDArray[np.uint8], Selection]:
    """Selected paint of a layer (H, W, 4) carried by an affine matrix (2, 3).

    Returns the rectangle that changed, its new pixels, and the selection carried along. Raises where nothing is selected
    to carry, or where it would leave the page altogether.
    """
    left, top, right, bottom = chosen.rect
    share = chosen.mask.astype(np.float32)[..., None] / 255
    window = layer[top:bottom, left:right]
    lifted = np.rint(window * share).astype(np.uint8)
    if not lifted[..., 3].any():
        raise HollowMarbleError("There is no paint of this layer in the selection to move.")
    corners = (
        np.array([[left, top], [right, top], [right, bottom], [left, bottom]], float) @ matrix[:, :2].T + matrix[:, 2]
    )
    low, high = np.floor(corners.min(axis=0)) - 1, np.ceil(corners.max(axis=0)) + 1
    goal = clipped((int(low[0]), int(low[1]), int(high[0]), int(high[1])), page)
    if empty(goal):
        raise HollowMarbleError("The paint would leave the page. Move it less far.")
    rect = goal if copies else union(chosen.rect, goal)
    out = layer[rect[1] : rect[3], rect[0] : rect[2]].astype(np.float32)
    if not copies:
        out[top - rect[1] : bottom - rect[1], left - rect[0] : right - rect[0]] *= 1 - share
    carried = _carried(lifted, (left, top), matrix, goal)
    mask = _carried(np.repeat(chosen.mask[..., None], 4, axis=2), (left, top), matrix, goal)[..., 3]
    piece = out[goal[1] - rect[1] : goal[3] - rect[1], goal[0] - rect[0] : goal[2] - rect[0]]
    piece[:] = piece * (1 - carried[..., 3:].astype(np.float32) / 255) + carried
    moved = trimmed(Selection(goal, np.ascontiguousarray(mask)))
    return rect, np.rint(np.clip(out, 0, 255)).astype(np.uint8), moved


def _carried(
    pixels: NDArray[np.uint8], corner: tuple[int, int], matrix: NDArray[np.float64], goal: Rect
) -> NDArray[np.uint8]:
    """Premultiplied pixels (h, w, 4) whose corner lies at a place, drawn through a matrix into a rectangle; whole pixels stay exact."""
    out = np.zeros((goal[3] - goal[1], goal[2] - goal[0], 4), np.uint8)
    surface = skia.Surface(out, colorType=skia.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType)
    canvas = surface.getCanvas()
    (a, b, c), (d, e, f) = matrix.tolist()
    canvas.concat(skia.Matrix.MakeAll(a, b, c - goal[0], d, e, f - goal[1], 0, 0, 1))
    straight = bool(np.allclose(matrix[:, :2], np.eye(2)) and np.allclose(matrix[:, 2], np.rint(matrix[:, 2])))
    how = (
        skia.SamplingOptions(skia.FilterMode.kNearest)
        if straight
        else skia.SamplingOptions(skia.CubicResampler.Mitchell())
    )
    image = skia.Image.fromarray(
        np.ascontiguousarray(pixels), colorType=skia.kRGBA_8888_ColorType, alphaType=skia.AlphaType.kPremul_AlphaType
    )
    canvas.drawImage(image, corner[0], corner[1], how, skia.Paint(AntiAlias=not straight))
    np.minimum(out[..., :3], out[..., 3:], out=out[..., :3])
    return out
