"""Selections: how much of each pixel is chosen, 0 to 255, within a rectangle of the page; outside it nothing is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
import skia
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.stamp import Rect, clipped, empty, union

_SPECK = 16

How = Literal["instead", "add", "take away", "keep common"]


@dataclass(frozen=True)
class Selection:
    """Chosen pixels.

    rect : left, top, right, bottom in page px
    mask : (h, w) uint8
    """

    rect: Rect
    mask: NDArray[np.uint8]

    def within(self, rect: Rect) -> NDArray[np.uint8]:
        """The mask of another rectangle, (h, w) uint8."""
        out = np.zeros((rect[3] - rect[1], rect[2] - rect[0]), np.uint8)
        both = clipped(self.rect, rect)
        if not empty(both):
            left, top, right, bottom = both
            out[top - rect[1] : bottom - rect[1], left - rect[0] : right - rect[0]] = self.mask[
                top - self.rect[1] : bottom - self.rect[1], left - self.rect[0] : right - self.rect[0]
            ]
        return out


def outlined(points: NDArray[np.float64], page: Rect) -> Selection:
    """The inside of a closed line (N, 2), smooth at its edge (non-zero winding)."""
    if len(points) < 3:
        raise HollowMarbleError("That outline has no inside. Draw around something.")
    low, high = np.floor(points.min(axis=0)), np.ceil(points.max(axis=0))
    rect = clipped((int(low[0]), int(low[1]), int(high[0]), int(high[1])), page)
    if empty(rect):
        raise HollowMarbleError("That outline lies beside the page. Draw it on the page.")
    mask = np.zeros((rect[3] - rect[1], rect[2] - rect[0]), np.uint8)
    path = skia.Path()
    path.addPoly([skia.Point(float(x - rect[0]), float(y - rect[1])) for x, y in points], True)
    canvas = skia.Surface(mask, colorType=skia.kAlpha_8_ColorType).getCanvas()
    canvas.drawPath(path, skia.Paint(AntiAlias=True, Color=skia.ColorWHITE))
    return trimmed(Selection(rect, mask))


def boxed(rect: Rect, page: Rect) -> Selection:
    """A rectangle."""
    inside = clipped(rect, page)
    if empty(inside):
        raise HollowMarbleError("That box lies beside the page, or is empty. Drag it over the page.")
    return Selection(inside, np.full((inside[3] - inside[1], inside[2] - inside[0]), 255, np.uint8))


def painted(pixels: NDArray[np.uint8]) -> Selection:
    """Where a layer (H, W, 4) has paint, as strongly as it has."""
    height, width = pixels.shape[:2]
    found = trimmed(Selection((0, 0, width, height), np.ascontiguousarray(pixels[..., 3])))
    if empty(found.rect):
        raise HollowMarbleError("There is no paint on that layer to select.")
    return found


def combined(before: Selection | None, new: Selection, how: How) -> Selection:
    """What is chosen after one more selection."""
    if how == "instead" or (before is None and how == "add"):
        return new
    if before is None:
        raise HollowMarbleError("Nothing is selected yet. Select something first.")
    rect = union(before.rect, new.rect) if how == "add" else before.rect
    one, other = before.within(rect), new.within(rect)
    if how == "add":
        mask = np.maximum(one, other)
    elif how == "take away":
        mask = np.minimum(one, 255 - other)
    else:
        mask = np.minimum(one, other)
    found = trimmed(Selection(rect, mask))
    if empty(found.rect):
        raise HollowMarbleError("Nothing would stay selected. The selection is as it was.")
    return found


def inverted(selection: Selection, page: Rect) -> Selection:
    """Everything else on the page."""
    found = trimmed(Selection(page, np.asarray(255 - selection.within(page), np.uint8)))
    if empty(found.rect):
        raise HollowMarbleError("The whole page is selected, so nothing would stay selected.")
    return found


FINE = 6


def feathered(selection: Selection, radius: float, page: Rect) -> Selection:
    """The edge softened over about twice `radius` px (a Gaussian of that standard deviation).

    A wide one is worked out on a coarser grid of at least `FINE` points a deviation and drawn out linearly between them, so that it costs
    what a narrow one costs; it is off by less than 1 of 255 (0.242 / (8 FINE²), the curve's greatest bend over a cell).
    """
    if radius <= 0:
        return selection
    reach = int(np.ceil(3 * radius))
    left, top, right, bottom = selection.rect
    rect = clipped((left - reach, top - reach, right + reach, bottom + reach), page)
    mask = selection.within(rect)
    height, width = mask.shape
    cell = max(1, int(radius / FINE))
    mask = np.pad(
        mask, ((cell, cell + -height % cell), (cell, cell + -width % cell))
    )  # what is drawn out needs a neighbour
    coarse = cv2.resize(mask.astype(np.float32), None, fx=1 / cell, fy=1 / cell, interpolation=cv2.INTER_AREA)
    # averaging over cells and drawing out between them soften a little already: variances add up
    already = (cell**2 - 1) * (1 / 12 + 1 / 6)
    sigma = np.sqrt(radius**2 - already) / cell
    soft = cv2.GaussianBlur(coarse, (0, 0), float(sigma), borderType=cv2.BORDER_CONSTANT)
    fine = cv2.resize(soft, (mask.shape[1], mask.shape[0]), interpolation=cv2.INTER_LINEAR)[
        cell : cell + height, cell : cell + width
    ]
    return trimmed(Selection(rect, np.rint(fine).astype(np.uint8)))


def trimmed(selection: Selection) -> Selection:
    """Cut to what is chosen."""
    rows = np.flatnonzero(selection.mask.any(axis=1))
    columns = np.flatnonzero(selection.mask.any(axis=0))
    if not len(rows):
        return Selection((0, 0, 0, 0), np.zeros((0, 0), np.uint8))
    left, top = selection.rect[:2]
    rect = (left + int(columns[0]), top + int(rows[0]), left + int(columns[-1]) + 1, top + int(rows[-1]) + 1)
    return Selection(rect, selection.mask[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1].copy())


def edges(selection: Selection) -> list[NDArray[np.float64]]:
    """Closed lines (N, 2) around what is chosen by half and more, in page px; specks are not outlined."""
    framed = np.pad((selection.mask >= 128).astype(np.uint8), 1)
    found, _ = cv2.findContours(framed, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_TC89_L1)
    corner = np.array(selection.rect[:2], float) - 0.5
    return [line.reshape(-1, 2).astype(float) + corner for line in found if cv2.contourArea(line) >= _SPECK]
