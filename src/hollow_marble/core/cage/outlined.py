"""A body whose silhouette is a drawn outline: a box whose rows are as wide as the outline is where they lie."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage import starts
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.weld import weld
from hollow_marble.core.errors import HollowMarbleError

CLOSE = 1e-6
ROUNDS = 80
THINNEST = 0.02
"""Half the width of a row at least, as a share of the widest."""

SOFTENED = 0.5
"""Depths follow widths by this power: a waist is drawn in from the front too, but less."""

Values = NDArray[np.float64]


def outlined(spans: Values, deep: float, columns: int, layers: int, rows: int) -> Cage:
    """A closed cage whose skin, seen from the front, has the outline's silhouette at each row, and is `deep` mm deep.

    The rows lie evenly over the height of the outline. Each is moved and widened until the skin over its two sides lies on the
    outline; the first and the last until the skin is as high as the outline is.

    Parameters
    ----------
    spans : (k, 3) left, right and height of the outline, mm, by rising height
    deep : mm from front to back
    columns, layers, rows : faces across, from front to back, and up
    """
    starts.check_count("A body", columns, 1, starts.MOST_DIVISIONS)
    starts.check_count("A body", layers, 1, starts.MOST_DIVISIONS)
    starts.check_count("A body", rows, 2, starts.MOST_DIVISIONS)
    spans = np.asarray(spans, float).reshape(-1, 3)
    if len(spans) < 2 or not np.isfinite(spans).all() or (np.diff(spans[:, 2]) <= 0).any():
        raise HollowMarbleError("A body needs an outline. Draw one that comes round.")
    left, right, up = spans.T
    high, wide = up[-1] - up[0], float((right - left).max())
    if high < 1e-3 or wide < 1e-3 or deep <= 0 or not np.isfinite(deep):
        raise HollowMarbleError("The outline has no area. Draw one that comes round.")
    plain = starts.box((1.0, 1.0, 1.0), (columns, layers, rows))
    plan = plan_skin(plain, 1)
    own = _over(plain, plan)
    row = np.rint((plain.points[:, 2] + 0.5) * rows).astype(int)
    sides = [_side(plain.points, row, rows, end) for end in (-0.5, 0.5)]

    heights = up[0] + high * np.arange(rows + 1) / rows
    middle, half = _spans_at(spans, heights)
    half = np.maximum(half, THINNEST * wide)
    # symmetric to the last bit, where the outline is: the skin is told to single precision only
    even = bool((left == -right).all())
    depth = 1.0

    def points() -> Values:
        thick = deep * depth * (half / half.max()) ** SOFTENED
        made: Values = np.column_stack(
            [
                middle[row] + 2 * half[row] * plain.points[:, 0],
                thick[row] * plain.points[:, 1],
                heights[row],
            ]
        )
        return made

    for _ in range(ROUNDS):
        skin = evaluate(plan, points()).positions.astype(float)
        over = skin[own]
        seen = np.array([[over[side[k]].mean(axis=0) for side in sides] for k in range(rows + 1)])
        wished_middle, wished_half = _spans_at(spans, np.clip(seen[:, :, 2].mean(axis=1), up[0], up[-1]))
        off_middle = wished_middle - seen[:, :, 0].mean(axis=1)
        off_half = wished_half - (seen[:, 1, 0] - seen[:, 0, 0]) / 2
        off_low, off_high = up[0] - skin[:, 2].min(), up[-1] - skin[:, 2].max()
        off_deep = deep / np.ptp(skin[:, 1])
        middle = middle if even else middle + off_middle
        half = np.maximum(half + off_half, THINNEST * wide)
        heights[0] += off_low
        heights[-1] += off_high
        depth *= off_deep
        if max(np.abs(off_middle).max(), np.abs(off_half).max(), abs(off_low), abs(off_high)) < CLOSE * high:
            break
    return plain.moved(points())


def spans_of(lines: list[Values], count: int = 96) -> Values:
    """Left, right and height (count, 3) of what lines (each (n, 2) across and up, mm) enclose: the outermost of all at each height.

    Raises
    ------
    HollowMarbleError
        where the lines have no height.
    """
    joined = np.concatenate(lines) if lines else np.empty((0, 2))
    if len(joined) < 3 or not np.isfinite(joined).all() or np.ptp(joined[:, 1]) < 1e-3:
        raise HollowMarbleError("The outline has no area. Draw one that comes round.")
    low, high = joined[:, 1].min(), joined[:, 1].max()
    # a cosine's spacing: ends, where an outline turns quickest, are told finest
    heights = low + (high - low) * (1 - np.cos(np.pi * np.arange(count) / (count - 1))) / 2
    left, right = np.full(count, np.inf), np.full(count, -np.inf)
    for line in lines:
        for (ax, az), (bx, bz) in itertools.pairwise(line):
            first, last = np.searchsorted(heights, (min(az, bz) - 1e-9, max(az, bz) + 1e-9))
            share = (heights[first:last] - az) / (bz - az) if bz != az else np.zeros(last - first)
            across = ax + np.clip(share, 0, 1) * (bx - ax)
            if bz == az:  # a level piece counts from end to end
                left[first:last] = np.minimum(left[first:last], min(ax, bx))
                right[first:last] = np.maximum(right[first:last], max(ax, bx))
            left[first:last] = np.minimum(left[first:last], across)
            right[first:last] = np.maximum(right[first:last], across)
    known = np.isfinite(left)
    return np.column_stack(
        [np.interp(heights, heights[known], left[known]), np.interp(heights, heights[known], right[known]), heights]
    )


def _spans_at(spans: Values, heights: Values) -> tuple[Values, Values]:
    """Middle and half of the width at heights."""
    left = np.interp(heights, spans[:, 2], spans[:, 0])
    right = np.interp(heights, spans[:, 2], spans[:, 1])
    return (left + right) / 2, (right - left) / 2


def _over(cage: Cage, plan: object) -> NDArray[np.int64]:
    """Of each point of a cage, the skin's point over it."""
    numbers = weld(cage, plan)  # type: ignore[arg-type]
    over = np.empty(len(cage.points), np.int64)
    own = np.flatnonzero(numbers < len(cage.points))
    over[numbers[own]] = own
    return over


def _side(points: Values, row: NDArray[np.int64], rows: int, end: float) -> list[NDArray[np.int64]]:
    """Of each row, the points on one side that lie nearest to halfway back."""
    found = []
    for k in range(rows + 1):
        here = np.flatnonzero((row == k) & (np.abs(points[:, 0] - end) < 1e-9))
        back = np.abs(points[here, 1])
        found.append(here[back < back.min() + 1e-9])
    return found
