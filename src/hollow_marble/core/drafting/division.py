"""Divide a rectangle, square-on or in perspective, and carry it on: through its diagonals, which perspective keeps.

The corners of the rectangle fix a homography from the unit square; lines at i/n of the square, and whole squares beside it,
map to the divisions and the repeats a draughtsman finds through diagonals (projective invariance of the cross-ratio).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]


def homography(quad: Array) -> Array:
    """(3, 3) from the unit square to corners (4, 2): (0,0), (1,0), (1,1), (0,1). Heckbert 1989, closed form."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = quad
    turns = [_turn(quad[k], quad[(k + 1) % 4], quad[(k + 2) % 4]) for k in range(4)]
    if min(turns) <= 1e-9 < max(turns) or max(abs(t) for t in turns) < 1:
        raise HollowMarbleError(
            "The corners cross over or lie in a line. Keep the outline free of crossings and dents."
        )
    sx, sy = x0 - x1 + x2 - x3, y0 - y1 + y2 - y3
    dx1, dx2, dy1, dy2 = x1 - x2, x3 - x2, y1 - y2, y3 - y2
    det = dx1 * dy2 - dx2 * dy1
    g, h = (sx * dy2 - dx2 * sy) / det, (dx1 * sy - sx * dy1) / det
    return np.array([[x1 - x0 + g * x1, x3 - x0 + h * x3, x0], [y1 - y0 + g * y1, y3 - y0 + h * y3, y0], [g, h, 1.0]])


def carried(matrix: Array, places: Array) -> Array:
    """(N, 2) places through a homography. Raises where one comes to lie behind the eye."""
    mapped = np.column_stack([places, np.ones(len(places))]) @ matrix.T
    if (mapped[:, 2] <= 1e-6).any():
        raise HollowMarbleError("So many units would come up behind the eye. Carry on fewer of them.")
    return np.asarray(mapped[:, :2] / mapped[:, 2:])


def divisions(quad: Array, columns: int, rows: int, on_across: int = 0, on_down: int = 0) -> list[Array]:
    """Lines (2, 2) px: the rectangle's outline, its divisions, and equal units carried on beyond it.

    columns, rows : equal parts across and down
    on_across, on_down : whole units carried on beyond the right and lower side; negative ones beyond left and upper
    """
    matrix = homography(np.asarray(quad, float))
    left, right = min(0, on_across), 1 + max(0, on_across)
    top, bottom = min(0, on_down), 1 + max(0, on_down)
    uprights = [[(k / columns, top), (k / columns, bottom)] for k in range(left * columns, right * columns + 1)]
    levels = [[(left, k / rows), (right, k / rows)] for k in range(top * rows, bottom * rows + 1)]
    ends = [*uprights, *levels]
    return list(carried(matrix, np.array(ends, float).reshape(-1, 2)).reshape(-1, 2, 2))


def diagonals(quad: Array) -> list[Array]:
    """The two diagonals, (2, 2) px each; they cross in the middle of the rectangle as it lies in space."""
    corners = np.asarray(quad, float)
    return [corners[[0, 2]], corners[[1, 3]]]


def _turn(a: Array, b: Array, c: Array) -> float:
    return float((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))
