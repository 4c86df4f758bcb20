"""Which ends of drawn edges meet in which corner of a box.

A drawing says so only more or less: ends overshoot, fall short, and lie near others they have nothing to do with. So several
readings are made, and whoever fits them decides. In each, ends are joined pair by pair, the likeliest first, as long as what
hangs together can still be a box: the two ends of an edge lie one step along its direction apart, and a corner has one edge of
each direction.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
LIMITS = (0.16, 0.3, 0.06)
"""Shares of an edge's length within which its end may belong to the corner where it crosses another edge."""

BLUNT = 6.0
"""Px within which ends lie together however short their edges are."""

Edge = tuple[int, Array]
"""An edge: its direction (0 W, 1 D, 2 H) and its ends (2, 2) px."""

End = tuple[int, int]
"""An edge, and which of its ends."""

Names = dict[End, int]
"""Corners of ends that hang together; bit k of a corner tells which end of the box along direction k it lies at."""


@dataclass(frozen=True)
class Drawn:
    """One reading: corners' names (N, 3) of 0 and 1 and places (N, 2); edges as pairs of corners (M, 2) and their ends (M, 2, 2)."""

    bits: Array
    places: Array
    pairs: NDArray[np.int64]
    ends: Array


def readings(edges: list[Edge]) -> Iterator[Drawn]:
    """Readings of the largest piece that hangs together, each once, likeliest first."""
    gaps = _gaps(edges)
    told: set[frozenset[tuple[End, int]]] = set()
    for limit in LIMITS:
        for likeliest in ORDERS:
            names = _joined(edges, [gap for gap in gaps if gap.share <= limit], likeliest)
            first = names[min(names)]
            reading = frozenset((end, name ^ first) for end, name in names.items())
            if reading not in told:
                told.add(reading)
                yield _drawn(edges, names)


@dataclass(frozen=True)
class _Gap:
    """Two ends of edges in different directions: how far they are from where their lines cross, in px and as a share of their edges, and
    how far apart, as a share of both together."""

    one: End
    other: End
    px: float
    share: float
    apart: float


ORDERS: tuple[Callable[[_Gap], tuple[float, float]], ...] = (
    lambda gap: (gap.share, gap.px),
    lambda gap: (gap.px, gap.share),
    lambda gap: (gap.apart, gap.px),
)
"""What makes two ends likely to meet: overshoot goes with an edge's length, shaking does not, and where lines cross at a flat angle only
how near the ends are is sure."""


def _gaps(edges: list[Edge]) -> list[_Gap]:
    lengths = [float(np.hypot(*(line[1] - line[0]))) for _, line in edges]
    found = []
    for i, j in combinations(range(len(edges)), 2):
        if edges[i][0] == edges[j][0]:
            continue
        for a in (0, 1):
            for b in (0, 1):
                one, other = edges[i][1][a], edges[j][1][b]
                crossing = meeting([edges[i][1], edges[j][1]], [one, other])
                off = float(np.hypot(*(crossing - one))), float(np.hypot(*(crossing - other)))
                share = max(max(0.0, off[0] - BLUNT) / lengths[i], max(0.0, off[1] - BLUNT) / lengths[j])
                apart = float(np.hypot(*(one - other))) / (lengths[i] + lengths[j])
                found.append(_Gap((i, a), (j, b), max(off), share, apart))
    return found


def _joined(edges: list[Edge], gaps: list[_Gap], likeliest: Callable[[_Gap], tuple[float, float]]) -> Names:
    """The largest piece after joining all ends that can be joined, the likeliest first."""
    piece: dict[End, Names] = {}
    for k, (axis, _) in enumerate(edges):
        piece[k, 0] = piece[k, 1] = {(k, 0): 0, (k, 1): 1 << axis}
    for gap in sorted(gaps, key=likeliest):
        one, other = piece[gap.one], piece[gap.other]
        if one is other:
            continue  # they are one corner already, or none
        turn = one[gap.one] ^ other[gap.other]
        both = one | {end: name ^ turn for end, name in other.items()}
        if _can_be_a_box(both, edges):
            for end in both:
                piece[end] = both
    return max(piece.values(), key=len)


def _can_be_a_box(names: Names, edges: list[Edge]) -> bool:
    """Whether no edge of the box is drawn twice in different places."""
    drawn: dict[tuple[int, int], int] = {}
    for (k, side), name in names.items():
        if side:
            continue
        axis = edges[k][0]
        edge = axis, name & ~(1 << axis)
        if edge in drawn and not _alike(edges[k][1], edges[drawn[edge]][1]):
            return False
        drawn.setdefault(edge, k)
    return True


def _alike(one: Array, other: Array) -> bool:
    """Whether two strokes were drawn along the same edge."""
    length = float(np.hypot(*(one[1] - one[0])))
    return min(float(np.linalg.norm(one - way, axis=1).max()) for way in (other, other[::-1])) <= 0.1 * length + BLUNT


def _drawn(edges: list[Edge], names: Names) -> Drawn:
    corners: dict[int, list[End]] = {}
    for end, name in names.items():
        corners.setdefault(name, []).append(end)
    order = sorted(corners)
    own = sorted({k for k, _ in names})
    places = [
        meeting([edges[k][1] for k, _ in corners[name]], [edges[k][1][side] for k, side in corners[name]])
        for name in order
    ]
    return Drawn(
        np.array([[name >> axis & 1 for axis in range(3)] for name in order], float),
        np.array(places),
        np.array([[order.index(names[k, 0]), order.index(names[k, 1])] for k in own]),
        np.array([edges[k][1] for k in own], float),
    )


def meeting(lines: list[Array], ends: list[Array]) -> Array:
    """Where lines cross, least squares; the middle of their ends where there is one line only or they run alike."""
    normals, levels = [], []
    for line in lines:
        along = (line[1] - line[0]) / np.hypot(*(line[1] - line[0]))
        normals.append([-along[1], along[0]])
        levels.append(-along[1] * line[0][0] + along[0] * line[0][1])
    matrix = np.array(normals)
    if len(lines) == 1 or np.linalg.cond(matrix) > 20:
        return np.asarray(np.mean(ends, axis=0))
    return np.asarray(np.linalg.lstsq(matrix, np.array(levels), rcond=None)[0])
