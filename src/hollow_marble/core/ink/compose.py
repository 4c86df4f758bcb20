"""Lay layers on paper: groups, opacity, blend modes, clipping to the layer below, tints."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from hollow_marble.core.ink.blend import Mode, blend_onto, tint
from hollow_marble.core.ink.stamp import Rect


@dataclass(frozen=True)
class Plane:
    """One layer of a stack, or a group of them.

    pixels : (H, W, 4) uint8 of the whole page, premultiplied; None for a group or an empty layer
    parts : a group's planes, lowest first
    clipped : shown only where the nearest plane below that is not clipped itself has paint
    tint : colour 0 to 1 laid over the pixels' own values
    """

    pixels: NDArray[np.uint8] | None = None
    parts: tuple[Plane, ...] | None = None
    mode: Mode = "normal"
    opacity: float = 1.0
    clipped: bool = False
    tint: tuple[float, float, float] | None = None


def on_paper(planes: list[Plane], paper: ArrayLike, rect: Rect) -> NDArray[np.uint8]:
    """Lay planes, lowest first, on paper, (h, w, 3) or one colour of sRGB 0 to 255; returns (h, w, 4) uint8, opaque."""
    page = np.ones((rect[3] - rect[1], rect[2] - rect[0], 4), np.float32)
    page[..., :3] = np.asarray(paper, np.float32) / 255
    _lay(page, planes, rect)
    return np.rint(page * 255).astype(np.uint8)


def on_nothing(planes: list[Plane], rect: Rect) -> NDArray[np.uint8]:
    """Lay planes on a clear ground; returns (h, w, 4) uint8, premultiplied."""
    page = np.zeros((rect[3] - rect[1], rect[2] - rect[0], 4), np.float32)
    _lay(page, planes, rect)
    return np.rint(page * 255).astype(np.uint8)


def fade(page: NDArray[np.uint8], paper: ArrayLike, rect: Rect, within: Rect, share: float) -> None:
    """Fade `rect` of the page towards its paper, in place; `within` says which part of the page the pixels are."""
    window = page[rect[1] - within[1] : rect[3] - within[1], rect[0] - within[0] : rect[2] - within[0], :3]
    window[:] = np.rint(window + (np.asarray(paper, np.float32) - window) * share)


def _lay(page: NDArray[np.float32], planes: list[Plane] | tuple[Plane, ...], rect: Rect) -> None:
    at = 0
    while at < len(planes):
        base = planes[at]
        end = at + 1
        while end < len(planes) and planes[end].clipped:
            end += 1
        own = _own(base, rect)
        if own is not None:
            for plane in planes[at + 1 : end]:
                above = _own(plane, rect)
                if above is not None:
                    blend_onto(own, above, plane.mode, plane.opacity, atop=True)
            blend_onto(page, own, base.mode, base.opacity)
        at = end


def _own(plane: Plane, rect: Rect) -> NDArray[np.float32] | None:
    """A plane's pixels within the rectangle before its mode and opacity, None where there is no paint."""
    left, top, right, bottom = rect
    if plane.parts is not None:
        own = np.zeros((bottom - top, right - left, 4), np.float32)
        _lay(own, plane.parts, rect)
    elif plane.pixels is not None and plane.pixels[top:bottom, left:right, 3].any():
        own = plane.pixels[top:bottom, left:right].astype(np.float32)
        own /= 255
    else:
        return None
    if plane.tint is not None:
        tint(own, plane.tint)
    return own
