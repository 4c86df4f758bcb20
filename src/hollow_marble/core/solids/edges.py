"""Edges that surfaces share: joined where they run straight on, and in loops round each surface."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Side:
    """Where an edge runs on a surface: from `begin` to `end` (2,), straight and evenly in its parameters."""

    surface: int
    begin: Array
    end: Array


@dataclass(frozen=True, eq=False)
class Edge:
    """An edge between corners `first` and `last`; one side on a border, else two, which run the same way."""

    first: int
    last: int
    sides: tuple[Side, ...]


def merged(pieces: list[tuple[int, int, tuple[Side, ...]]], sharp: list[bool]) -> tuple[tuple[Edge, ...], list[bool]]:
    """Edges end to end between the same two surfaces made one, where they run straight on in both."""
    at: dict[int, list[int]] = {}
    for number, (first, last, _) in enumerate(pieces):
        at.setdefault(first, []).append(number)
        at.setdefault(last, []).append(number)
    left = dict(enumerate(pieces))
    for corner, there in at.items():
        if len(there) != 2 or there[0] == there[1]:
            continue
        one, other = (left.get(number) for number in there)
        if one is None or other is None or sharp[there[0]] != sharp[there[1]]:
            continue
        joined = _joined(one, other, corner)
        if joined is None:
            continue
        left[there[0]] = joined
        del left[there[1]]
        for end in joined[:2]:
            at[end] = [there[0] if number == there[1] else number for number in at[end]]
    edges = tuple(Edge(*piece) for piece in left.values())
    return edges, [sharp[number] for number in left]


def _joined(
    one: tuple[int, int, tuple[Side, ...]], other: tuple[int, int, tuple[Side, ...]], corner: int
) -> tuple[int, int, tuple[Side, ...]] | None:
    """Two edges that meet at a corner as one that runs through it; None where they do not run straight on."""
    if one[1] != corner:
        one = one[1], one[0], tuple(Side(s.surface, s.end, s.begin) for s in one[2])
    if other[0] != corner:
        other = other[1], other[0], tuple(Side(s.surface, s.end, s.begin) for s in other[2])
    if one[0] == other[1] or len(one[2]) != len(other[2]):
        return None
    by = {side.surface: side for side in other[2]}
    sides = []
    for side in one[2]:
        onward = by.get(side.surface)
        if onward is None or not np.allclose(side.end, onward.begin):
            return None
        a, b = side.end - side.begin, onward.end - onward.begin
        if not np.allclose(a / np.linalg.norm(a), b / np.linalg.norm(b)):
            return None
        sides.append(Side(side.surface, side.begin, onward.end))
    lengths = [
        np.linalg.norm(s.end - s.begin) / np.linalg.norm(t.end - t.begin)
        for s, t in zip(one[2], (by[s.surface] for s in one[2]))
    ]
    if not np.allclose(lengths, lengths[0]):
        return None
    return one[0], other[1], tuple(sides)


def loop_of(surface: int, edges: tuple[Edge, ...]) -> tuple[tuple[int, int], ...]:
    """The edges round a surface in order, each with the way it runs."""
    mine = [
        (number, 1, side.begin, side.end)
        for number, edge in enumerate(edges)
        for side in edge.sides
        if side.surface == surface
    ]
    middle = np.mean([(begin + end) / 2 for _, _, begin, end in mine], axis=0)
    turned = []
    for number, way, begin, end in mine:
        a, b = begin - middle, end - middle
        left = a[0] * b[1] - a[1] * b[0] > 0
        turned.append((number, way, begin, end) if left else (number, -way, end, begin))
    turned.sort(key=lambda one: float(np.arctan2(*((one[2] + one[3]) / 2 - middle)[::-1])))
    return tuple((number, way) for number, way, _, _ in turned)
