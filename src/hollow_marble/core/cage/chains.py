"""Rows of points moved as rows: slid along the edges beside them, or brought on to a line drawn over the view."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import check_edges
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates, keep_symmetric
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import at_shares
from hollow_marble.core.paths import lengths as path_lengths


def chain_of(cage: Cage, edges: list[tuple[int, int]]) -> tuple[list[int], bool]:
    """Points of edges that hang together in one row, in order, and whether the row comes round.

    Raises
    ------
    HollowMarbleError
        where the edges fork or lie apart.
    """
    check_edges(cage, edges)
    beside: dict[int, list[int]] = {}
    for a, b in {(min(e), max(e)) for e in edges}:
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    if max(len(others) for others in beside.values()) > 2:
        raise HollowMarbleError("The picked edges fork. Pick a single row of edges.")
    ends = sorted(p for p, others in beside.items() if len(others) == 1)
    chain = [ends[0] if ends else min(beside)]
    came = -1
    while True:
        onward = [p for p in sorted(beside[chain[-1]]) if p != came]
        if not onward or (onward[0] == chain[0] and len(chain) > 2):
            break
        came = chain[-1]
        chain.append(onward[0])
    if len(chain) < len(beside):
        raise HollowMarbleError("The picked edges lie apart. Pick a single row of edges.")
    return chain, not ends


def slide_row(cage: Cage, edges: list[tuple[int, int]], share: float, mates: Mates | None = None) -> Cage:
    """Slide a row along the edges that lead away from it.

    Parameters
    ----------
    share : -1 to 1; how far towards the row's left neighbour (above 0) or its right one, seen along the row from its end with
        the lower point number
    """
    if not -1 < share < 1:
        raise HollowMarbleError("A row slides up to the next row: from -99 % to 99 %.")
    chain, closed = chain_of(cage, edges)
    points = cage.points.copy()
    for k, point in enumerate(chain):
        ahead = chain[(k + 1) % len(chain)] if closed or k + 1 < len(chain) else None
        behind = chain[k - 1] if closed or k else None
        towards = _rung(cage, point, ahead, behind, share > 0)
        points[point] += abs(share) * (cage.points[towards] - cage.points[point])
    if mates is not None:
        points = keep_symmetric(cage.points, points, chain, mates)
    return cage.moved(points)


def _rung(cage: Cage, point: int, ahead: int | None, behind: int | None, left: bool) -> int:
    """The other end of the edge that leads away from a row at a point, to its left or its right."""
    topology = cage.topology
    half = int(topology.point_half[point])
    around: list[int] = []  # neighbours counter-clockwise
    while True:
        around.append(int(cage.face_points[topology.next[half]]))
        before = int(topology.previous[half])
        half = int(topology.twin[before])
        if half < 0:
            around.append(int(cage.face_points[before]))
            break
        if half == topology.point_half[point]:
            break
    opened = half < 0
    if ahead is None or behind is None:
        at = around.index(behind if ahead is None else ahead)  # type: ignore[arg-type]
        step = 1 if left == (ahead is not None) else -1
        if opened and not 0 <= at + step < len(around):
            raise HollowMarbleError("The row lies on an open border on that side. Slide it the other way.")
        return around[(at + step) % len(around)]
    first, last = around.index(ahead), around.index(behind)
    if not left:
        first, last = last, first
    between = []
    k = first
    while True:
        k += 1
        if opened and k >= len(around):
            raise HollowMarbleError("The row lies on an open border on that side. Slide it the other way.")
        k %= len(around)
        if k == last:
            break
        between.append(around[k])
    if not between:
        raise HollowMarbleError(
            "No edge leads away from the row on that side. Slide it the other way, or add a row first."
        )
    return between[len(between) // 2]


def fit_row(
    cage: Cage,
    edges: list[tuple[int, int]],
    eye: NDArray[np.float64],
    line: NDArray[np.float64],
    hold_ends: bool = False,
    mates: Mates | None = None,
) -> Cage:
    """Bring a row on to a line drawn over the view, each point in the view's plane through itself.

    Order and spacing are kept: every point lies as far along the line, as a share of its length on the picture, as it lay
    along the row.

    Parameters
    ----------
    eye : (3,) mm, where the line was drawn from
    line : (n, 3) points of the line at any distance from the eye
    hold_ends : leave the two ends of an open row where they are
    """
    chain, closed = chain_of(cage, edges)
    eye = np.asarray(eye, float)
    line = np.asarray(line, float).reshape(-1, 3)
    if len(line) < 2 or float(np.linalg.norm(np.diff(line, axis=0), axis=1).sum()) < 1e-6:
        raise HollowMarbleError("The line is too short to fit a row to. Draw it longer.")
    here = cage.points[chain]
    forward = here.mean(axis=0) - eye
    forward /= max(float(np.linalg.norm(forward)), 1e-12)
    right = np.cross(forward, (0.0, 0.0, 1.0) if abs(forward[2]) < 0.9 else (0.0, 1.0, 0.0))
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    row, depth = _on_picture(here, eye, forward, right, up)
    drawn, before = _on_picture(line, eye, forward, right, up)
    if depth.min() <= 1e-9 or before.min() <= 1e-9:
        raise HollowMarbleError("Part of the row or of the line lies behind you. Stand further back and draw again.")
    placed = _round(row, drawn) if closed else _along(row, drawn)
    points = cage.points.copy()
    moved = eye + depth[:, None] * (forward + placed[:, :1] * right + placed[:, 1:] * up)
    keep = slice(1, -1) if hold_ends and not closed else slice(None)
    points[chain[keep]] = moved[keep]
    if mates is not None:
        points = keep_symmetric(cage.points, points, chain, mates)
    return cage.moved(points)


def _on_picture(
    points: NDArray[np.float64],
    eye: NDArray[np.float64],
    forward: NDArray[np.float64],
    right: NDArray[np.float64],
    up: NDArray[np.float64],
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Places on the picture at depth 1, (n, 2), and depths (n,) mm."""
    away = points - eye
    depth = away @ forward
    safe = np.where(np.abs(depth) < 1e-12, 1e-12, depth)
    return np.column_stack([away @ right, away @ up]) / safe[:, None], depth


def _along(row: NDArray[np.float64], drawn: NDArray[np.float64]) -> NDArray[np.float64]:
    lengths = path_lengths(row)
    shares = lengths / lengths[-1] if lengths[-1] > 1e-12 else np.linspace(0, 1, len(row))
    ways = [at_shares(path, shares) for path in (drawn, drawn[::-1])]
    return min(ways, key=lambda placed: float(((placed[[0, -1]] - row[[0, -1]]) ** 2).sum()))


def _round(row: NDArray[np.float64], drawn: NDArray[np.float64]) -> NDArray[np.float64]:
    """A row that comes round, on a line that is closed: begun where that moves the points least."""
    lengths = path_lengths(np.concatenate([row, row[:1]]))
    shares = lengths[:-1] / max(lengths[-1], 1e-12)
    best, least = row, np.inf
    for path in (drawn, drawn[::-1]):
        ring = np.concatenate([path, path[:1]])
        middle, width = 0.5, 0.5
        while width > 1e-7:  # coarse first, then ever finer about the best beginning
            starts = np.linspace(middle - width, middle + width, 65)
            placed = at_shares(ring, ((shares + starts[:, None]) % 1.0).ravel()).reshape(len(starts), -1, 2)
            sums = ((placed - row) ** 2).sum(axis=(1, 2))
            k = int(sums.argmin())
            if sums[k] < least:
                best, least, middle = placed[k], float(sums[k]), float(starts[k])
            width /= 16
    return best
