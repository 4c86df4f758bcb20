"""What follows from a cage's connectivity alone: edges, neighbours across them, faces around a point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError


class SheetError(HollowMarbleError):
    """Faces that do not make a single sheet. `because` says what is the matter; the message adds what to do about it in a file."""

    def __init__(self, because: str, remedy: str) -> None:
        super().__init__(f"{because[0].upper()}{because[1:]}, so the form is not a single sheet. {remedy}")
        self.because = because


@dataclass(frozen=True)
class Topology:
    """Connectivity of a cage. A half-edge is a place in `face_points`: the edge from that corner to the next.

    next, previous : (H,) half-edge along the same face
    twin : (H,) the same edge seen from the other face, -1 on an open edge
    face_of : (H,) face of each half-edge
    edge_of : (H,) edge of each half-edge
    edges : (E, 2) point numbers, lower first, sorted
    edge_half : (E,) one half-edge of each edge
    point_half : (P,) a half-edge that leaves the point (the open one where there is one), -1 for a loose point
    """

    next: NDArray[np.int64]
    previous: NDArray[np.int64]
    twin: NDArray[np.int64]
    face_of: NDArray[np.int64]
    edge_of: NDArray[np.int64]
    edges: NDArray[np.int64]
    edge_half: NDArray[np.int64]
    point_half: NDArray[np.int64]

    def edge_number(self, a: int, b: int) -> int:
        """Number of the edge between two points, -1 where there is none."""
        low, high = min(a, b), max(a, b)
        first = int(np.searchsorted(self.edges[:, 0], low, "left"))
        last = int(np.searchsorted(self.edges[:, 0], low, "right"))
        found = np.flatnonzero(self.edges[first:last, 1] == high)
        return first + int(found[0]) if len(found) else -1


def build_topology(face_starts: NDArray[np.int64], face_points: NDArray[np.int64], point_count: int) -> Topology:
    """Find edges and neighbours.

    Raises
    ------
    SheetError
        where more than two faces share an edge, two faces run along an edge in the same direction, or a point
        joins two sheets that share nothing else.
    """
    count = len(face_points)
    sizes = np.diff(face_starts)
    face_of = np.repeat(np.arange(len(sizes)), sizes)
    half = np.arange(count)
    following = half + 1
    following[face_starts[1:] - 1] = face_starts[:-1]
    previous = np.empty(count, np.int64)
    previous[following] = half
    tail, head = face_points, face_points[following]
    low, high = np.minimum(tail, head), np.maximum(tail, head)
    key = low * point_count + high
    order = np.argsort(key, kind="stable")
    ordered = key[order]
    first = np.concatenate([[True], ordered[1:] != ordered[:-1]])
    group = np.cumsum(first) - 1
    uses = np.bincount(group)
    if uses.max() > 2:
        a, b = divmod(int(ordered[first][np.argmax(uses)]), point_count)
        raise SheetError(
            f"{int(uses.max())} faces meet at one edge (points {a + 1} and {b + 1})",
            "Remove the extra face and try again.",
        )
    edge_of = np.empty(count, np.int64)
    edge_of[order] = group
    edge_half = order[first]
    twin = np.full(count, -1, np.int64)
    pairs = np.flatnonzero(~first)
    one, other = order[pairs - 1], order[pairs]
    twin[one], twin[other] = other, one
    same = np.flatnonzero(tail[one] == tail[other])
    if len(same):
        here = one[same[0]]
        raise SheetError(
            f"faces {int(face_of[here]) + 1} and {int(face_of[twin[here]]) + 1} face opposite ways along a shared edge",
            "Make all faces turn the same way round and try again.",
        )
    point_half = np.full(point_count, -1, np.int64)
    point_half[tail[::-1]] = half[::-1]
    open_half = np.flatnonzero(twin < 0)
    point_half[tail[open_half]] = open_half
    if len(np.unique(tail[open_half])) != len(open_half):
        raise SheetError("two openings touch in a single point", "Move them apart and try again.")
    _check_fans(following, previous, twin, tail, point_half)
    edges = np.stack([low[edge_half], high[edge_half]], axis=1)
    return Topology(following, previous, twin, face_of, edge_of, edges, edge_half, point_half)


def _check_fans(
    following: NDArray[np.int64],
    previous: NDArray[np.int64],
    twin: NDArray[np.int64],
    tail: NDArray[np.int64],
    point_half: NDArray[np.int64],
) -> None:
    """Walk all points' fans at once; every half-edge must be met from its own point."""
    met = np.zeros(len(tail), bool)
    walking = point_half[point_half >= 0]
    start = walking.copy()
    while len(walking):
        met[walking] = True
        step = twin[previous[walking]]
        going = (step >= 0) & (step != start)
        walking, start = step[going], start[going]
    if not met.all():
        point = int(tail[np.flatnonzero(~met)[0]])
        raise SheetError(f"two sheets touch only in point {point + 1}", "Give each its own point and try again.")
