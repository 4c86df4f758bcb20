"""Weights from the control points about a face with one odd corner to the poles of a spline with graded knots (see `patches`)."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_LAST_RING = 0.004
"""How small the last ring about an odd corner is beside its face: what is within it is the spline's own."""


def rings_of(valence: int) -> int:
    """Rings about a point where so many faces meet that are held exactly."""
    n = valence
    shrinks = (
        5 + np.cos(2 * np.pi / n) + np.cos(np.pi / n) * np.sqrt(2 * (9 + np.cos(2 * np.pi / n)))
    ) / 16  # Stam 1998
    return int(np.clip(np.ceil(np.log(_LAST_RING) / np.log(shrinks)), 8, 24))


def blossom(arguments: Array) -> Array:
    """(4,) weights of the control points of a uniform cubic over 0 to 1 in its blossom (Ramshaw 1987)."""
    knots = np.arange(-2.0, 4.0)
    rows = np.eye(4)
    for stage, x in enumerate(arguments):
        width = 3 - stage
        share = (x - knots[stage : stage + width]) / (knots[3 : 3 + width] - knots[stage : stage + width])
        rows = (1 - share)[:, None] * rows[:-1] + share[:, None] * rows[1:]
    return np.asarray(rows[0])


@lru_cache(maxsize=64)
def ring_weights(valence: int) -> tuple[Array, Array]:
    """Weights ((R + 4)², 2n + 8) from the control points about a face with one odd corner to the poles of its surface, and its knots."""
    rings = rings_of(valence)
    refine, local = _refining(valence)
    chosen = _chosen(valence, local)
    powers = [np.eye(len(refine))[:, chosen]]
    for _ in range(rings + 1):
        powers.append(refine @ powers[-1])
    knots = np.concatenate([np.zeros(4), 2.0 ** -np.arange(rings, 0, -1), np.ones(4)])
    count = rings + 4
    breaks = np.concatenate([[0.0], 2.0 ** -np.arange(rings, -1, -1)])
    found = np.zeros((count, count, len(chosen)))
    limit = np.zeros(len(chosen))
    limit[0] = valence / (valence + 5)
    limit[1 : 1 + 2 * valence : 2] = 4 / (valence * (valence + 5))
    limit[2 : 2 + 2 * valence : 2] = 1 / (valence * (valence + 5))
    for a in range(count):
        for b in range(count):
            if a == b == 0:
                found[0, 0] = limit  # Halstead, Kass & DeRose 1993
                continue
            cells = [_interval(knots, breaks, k) for k in (a, b)]
            if (
                cells[0][0] == cells[1][0] == 0
            ):  # the corner's own cell: take the next one on, in a direction that has one
                cells[0 if a else 1] = (breaks[1], breaks[2])
            level = round(-np.log2(max(cells[0][0], cells[1][0])))
            size = 2.0**-level
            i, j = (int(low >= size * (1 - 1e-9)) for low, _ in cells)
            wa = blossom(knots[a + 1 : a + 4] / size - i)
            wb = blossom(knots[b + 1 : b + 4] / size - j)
            block = [[local(i + p - 1, j + q - 1) for q in range(4)] for p in range(4)]
            found[a, b] = sum(wa[p] * wb[q] * powers[level][block[p][q]] for p in range(4) for q in range(4))
    return found.reshape(count * count, -1), knots


def _interval(knots: Array, breaks: Array, pole: int) -> tuple[float, float]:
    """An interval between knots in a B-spline's support: the one its middle argument begins, or the last before the end."""
    low = min(float(knots[pole + 2]), float(breaks[-2]))
    return low, float(breaks[int(np.searchsorted(breaks, low + 1e-15, side="right"))])


def _refining(valence: int) -> tuple[Array, Callable[[int, int], int]]:
    """The matrix that refines three rings of faces about a point, and the number of a place beside sector 0.

    Places of sector k are (i, j), i steps along its first spoke and j along its second; those on the second are the next sector's.
    """
    n = valence

    def number(k: int, i: int, j: int) -> int:
        if i == 0 and j == 0:
            return 0
        if i == 0:
            return number(k + 1, j, 0)
        return 1 + 12 * (k % n) + 4 * (i - 1) + j

    def local(i: int, j: int) -> int:
        if i < 0:
            return number(1, j, -i)
        if j < 0:
            return number(-1, -j, i)
        return number(0, i, j)

    faces = [
        [number(k, i, j), number(k, i + 1, j), number(k, i + 1, j + 1), number(k, i, j + 1)]
        for k in range(n)
        for i in range(3)
        for j in range(3)
    ]
    rules = _Rules(1 + 12 * n, faces)
    refine = np.zeros((1 + 12 * n, 1 + 12 * n))
    refine[0] = rules.point(0)
    for k in range(n):
        for i in range(1, 4):
            for j in range(4):
                a, b = i // 2, j // 2
                far = number(k, a + i % 2, b + j % 2)
                refine[number(k, i, j)] = rules.between(number(k, a, b), far, 9 * k + 3 * a + b, i % 2 + j % 2)
    return refine, local


class _Rules:
    """Catmull & Clark's rules (1978) as rows of weights, for points within a sheet of four-cornered faces."""

    def __init__(self, count: int, faces: list[list[int]]) -> None:
        self._eye = np.eye(count)
        self._centre = [self._eye[face].mean(axis=0) for face in faces]
        self._beside: dict[tuple[int, int], list[int]] = {}
        self._about: dict[int, list[int]] = {}
        for f, face in enumerate(faces):
            for a, b in zip(face, [*face[1:], face[0]]):
                self._beside.setdefault((min(a, b), max(a, b)), []).append(f)
                self._about.setdefault(a, []).append(f)

    def between(self, near: int, far: int, face: int, odd: int) -> Array:
        """The row of a point (`odd` 0), of the edge to another one (1), or of a face (2)."""
        if odd == 2:
            return np.asarray(self._centre[face])
        return self.edge(near, far) if odd else self.point(near)

    def edge(self, a: int, b: int) -> Array:
        one, other = self._beside[min(a, b), max(a, b)]
        return np.asarray((self._eye[a] + self._eye[b] + self._centre[one] + self._centre[other]) / 4)

    def point(self, p: int) -> Array:
        ends = [a if b == p else b for a, b in self._beside if p in (a, b)]
        many = len(ends)
        mean_faces = np.mean([self._centre[f] for f in self._about[p]], axis=0)
        mean_middles = np.mean([(self._eye[p] + self._eye[q]) / 2 for q in ends], axis=0)
        return np.asarray((mean_faces + 2 * mean_middles + (many - 3) * self._eye[p]) / many)


def _chosen(valence: int, local: Callable[[int, int], int]) -> list[int]:
    """The places of `patches`, about such a face, in its order."""
    ring = [0]
    for k in range(valence):
        ring += [1 + 12 * k, 1 + 12 * k + 1]
    beyond = [(2, 0), (2, -1), (1, 2), (2, 2), (2, 1), (-1, 2), (0, 2)]
    return ring + [local(i, j) for i, j in beyond]
