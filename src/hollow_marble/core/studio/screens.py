"""What stands before a lamp: flags, windows, slats, a honeycomb, a tube. All of it is black and as thin as paper. Lengths mm.

A screen is told as parallelograms in the lamp's own directions: across, up, and forward from its own plane.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

BEYOND = 12.0
"""How far a flag reaches past the light that it cuts off, as a multiple of that light's width."""
_CELLS = 14
"""Cells of a honeycomb along the longer side of a lamp."""
_TUBE_SIDES = 48


@dataclass(frozen=True, eq=False)
class Screen:
    """sheets : (K, 4, 3) corners of parallelograms, mm."""

    sheets: Floats

    def clear(self, start: Floats, ends: Floats) -> NDArray[np.bool_]:
        """Which of the straight ways from a place (3,) to places (S, 3), both told in the screen's own directions, nothing stands in."""
        open_ = np.ones(len(ends), bool)
        ways = ends - start
        corner, a, b = self.sheets[:, 0], self.sheets[:, 1] - self.sheets[:, 0], self.sheets[:, 3] - self.sheets[:, 0]
        normal = np.cross(a, b)
        # each way meets the plane of each sheet at a share of its length, and lies within or beside the sheet there
        along = ways @ normal.T
        with np.errstate(divide="ignore", invalid="ignore"):
            share = ((corner - start) * normal).sum(axis=1) / along
        held = (share > 1e-9) & (share < 1 - 1e-9) & (np.abs(along) > 1e-12)
        way, sheet = np.nonzero(held)
        if not len(way):
            return open_
        there = start + ways[way] * share[way, sheet][:, None] - corner[sheet]
        aa, bb, ab = (a * a).sum(1)[sheet], (b * b).sum(1)[sheet], (a * b).sum(1)[sheet]
        ta, tb = (there * a[sheet]).sum(1), (there * b[sheet]).sum(1)
        det = aa * bb - ab * ab
        s, t = (ta * bb - tb * ab) / det, (tb * aa - ta * ab) / det
        within = (s >= 0) & (s <= 1) & (t >= 0) & (t <= 1)
        open_[way[within]] = False
        return open_


def _upright(left: float, right: float, bottom: float, top: float) -> list[list[float]]:
    return [[left, bottom, 0], [right, bottom, 0], [right, top, 0], [left, top, 0]]


def _screen(sheets: list[list[list[float]]]) -> Screen:
    return Screen(np.array(sheets, float).reshape(-1, 4, 3))


def blades(width: float, tall: float, closed: tuple[float, float, float, float]) -> Screen:
    """Flags that cover shares of a light's width and height from the left, right, top and bottom."""
    w, h = width / 2, tall / 2
    far_w, far_h = BEYOND * width + 400.0, BEYOND * tall + 400.0
    left, right, top, bottom = closed
    sheets = []
    if left > 0:
        sheets.append(_upright(-far_w, -w + left * width, -far_h, far_h))
    if right > 0:
        sheets.append(_upright(w - right * width, far_w, -far_h, far_h))
    if top > 0:
        sheets.append(_upright(-far_w, far_w, h - top * tall, far_h))
    if bottom > 0:
        sheets.append(_upright(-far_w, far_w, -far_h, -h + bottom * tall))
    return _screen(sheets)


def window(width: float, tall: float, panes: tuple[int, int], bar: float) -> Screen:
    """An opening in a wall, divided by bars into so many panes across and up."""
    w, h = width / 2, tall / 2
    far = BEYOND * max(width, tall)
    sheets = [
        _upright(-far, -w, -far, far),
        _upright(w, far, -far, far),
        _upright(-w, w, h, far),
        _upright(-w, w, -far, -h),
    ]
    for k in range(1, panes[0]):
        x = -w + k * width / panes[0]
        sheets.append(_upright(x - bar / 2, x + bar / 2, -h, h))
    for k in range(1, panes[1]):
        y = -h + k * tall / panes[1]
        sheets.append(_upright(-w, w, y - bar / 2, y + bar / 2))
    return _screen(sheets)


def slats(width: float, tall: float, count: int, covered: float) -> Screen:
    """Slats across an opening, that cover a share of it, with a wall around it."""
    w, h = width / 2, tall / 2
    far = BEYOND * max(width, tall)
    step = tall / count
    sheets = [
        _upright(-far, -w, -far, far),
        _upright(w, far, -far, far),
        _upright(-w, w, h, far),
        _upright(-w, w, -far, -h),
    ]
    sheets += [_upright(-w, w, -h + k * step, -h + (k + covered) * step) for k in range(count)]
    return _screen(sheets)


def honeycomb(width: float, tall: float, spread: float) -> Screen:
    """Cells before a lamp, as deep as it takes for no light to leave further than half the spread (degrees) from straight ahead."""
    cell = max(width, tall) / _CELLS
    across, up = max(1, round(width / cell)), max(1, round(tall / cell))
    deep = min(width / across, tall / up) / math.tan(math.radians(spread) / 2)
    gap = 0.5  # a hand's breadth would let light past; the cells stand on the diffuser
    x0, y0 = -width / 2, -tall / 2
    walls = []
    for k in range(across + 1):
        x = x0 + k * width / across
        walls.append([[x, y0, gap], [x, -y0, gap], [x, -y0, gap + deep], [x, y0, gap + deep]])
    for k in range(up + 1):
        y = y0 + k * tall / up
        walls.append([[x0, y, gap], [-x0, y, gap], [-x0, y, gap + deep], [x0, y, gap + deep]])
    return _screen(walls)


def tube(diameter: float, beam: float, edge: float) -> Screen:
    """A tube before a disc: all of the disc is seen within the beam, less and less over its edge (a share of the beam's angle), none beyond.

    With the disc's radius r, the tube's R and its depth d the edge begins at atan((R - r) / d) and ends at atan((R + r) / d).
    """
    ends = math.tan(math.radians(min(beam * (1 + edge), 170.0)) / 2)
    begins = math.tan(math.radians(beam * (1 - edge)) / 2)
    r = diameter / 2
    deep = 2 * r / (ends - begins)
    radius = r + begins * deep
    turn = 2 * np.pi * np.arange(_TUBE_SIDES + 1) / _TUBE_SIDES
    rim = np.stack([np.cos(turn), np.sin(turn)], axis=1) * radius
    walls = [[[*rim[k], -0.5], [*rim[k + 1], -0.5], [*rim[k + 1], deep], [*rim[k], deep]] for k in range(_TUBE_SIDES)]
    return _screen(walls)
