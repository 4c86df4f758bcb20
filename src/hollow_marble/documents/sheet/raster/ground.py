"""The paper under everything, and the border over it."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.ink.paint import ramp
from hollow_marble.documents.sheet.model import Rect, Sheet, rgb


def paper_pixels(sheet: Sheet, rect: Rect, scale: float = 1.0) -> NDArray[np.float32]:
    """(h, w, 3) or (1, 1, 3) float32 0 to 255: the bare paper within a rectangle; `scale` px of it a px of the page."""
    first = np.array(rgb(sheet.paper), np.float32)
    if sheet.ground is None:
        return first.reshape(1, 1, 3)
    width, height = sheet.width * scale, sheet.height * scale
    middle = np.array([width / 2, height / 2])
    turn = math.radians(sheet.ground.angle)
    if sheet.ground.way == "linear":
        reach = (abs(math.cos(turn)) * width + abs(math.sin(turn)) * height) / 2
        half = np.array([math.cos(turn), math.sin(turn)]) * reach
        start, end = middle - half, middle + half
    else:
        start, end = middle, middle + np.array([math.hypot(width, height) / 2, 0.0])
    corner = np.array(rect[:2], float)
    a, b = start - corner, end - corner
    share = ramp((rect[3] - rect[1], rect[2] - rect[0]), (a[0], a[1]), (b[0], b[1]), sheet.ground.way)[..., None]
    last = np.array(rgb(sheet.ground.colour), np.float32)
    found: NDArray[np.float32] = first + (last - first) * share
    return found


def border_cover(sheet: Sheet, rect: Rect, scale: float = 1.0) -> NDArray[np.float32] | None:
    """(h, w) float32 0 to 1: how much of each pixel the border covers; None where there is none."""
    if sheet.border is None:
        return None
    inset, width = sheet.border.inset * scale, sheet.border.width * scale
    outer = _filled(sheet, rect, inset, scale)
    inner = _filled(sheet, rect, inset + width, scale)
    cover = np.clip(outer - inner, 0, 1)
    return cover if cover.any() else None


def lay_border(page: NDArray[np.uint8], sheet: Sheet, rect: Rect, scale: float = 1.0) -> None:
    """Draw the border over pixels (h, w, 3 or 4) of a rectangle, in place."""
    cover = border_cover(sheet, rect, scale)
    if cover is not None and sheet.border is not None:
        colour = np.array(rgb(sheet.border.colour), np.float32)
        share = cover[..., None]
        page[..., :3] = np.rint(page[..., :3] * (1 - share) + colour * share)


def _filled(sheet: Sheet, rect: Rect, inset: float, scale: float) -> NDArray[np.float32]:
    runs = []
    for low, high, whole in ((rect[0], rect[2], sheet.width * scale), (rect[1], rect[3], sheet.height * scale)):
        at = np.arange(low, high, dtype=np.float32)
        runs.append(np.clip(np.minimum(at + 1, whole - inset) - np.maximum(at, inset), 0, 1))
    cover: NDArray[np.float32] = runs[1][:, None] * runs[0][None, :]
    return cover
