"""The surface that details lie on, however it is represented. Lengths mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.nearest import Found
from hollow_marble.core.surface.probed import Probed

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

Placed = Callable[[Ints, Floats], tuple[Floats, Floats]]
"""placed(triangles (K,), shares (K, 3)) -> places (K, 3) and unit normals (K, 3): the surface's own, over places of its triangles."""

Settled = Callable[[Ints, Floats, Floats], tuple[Floats, Floats]]
"""settled(triangles, shares, places (K, 3)) -> the exact places nearest to those, and the normals there."""


@dataclass(frozen=True, eq=False)
class Spots:
    """K places of a surface: the triangle each lies in, shares (K, 3) of its corners, where it is and which way is out, (K, 3) each."""

    triangle: Ints
    shares: Floats
    points: Floats
    normals: Floats

    def __getitem__(self, chosen: Ints | NDArray[np.bool_] | slice) -> Spots:
        return Spots(self.triangle[chosen], self.shares[chosen], self.points[chosen], self.normals[chosen])

    def __len__(self) -> int:
        return len(self.triangle)

    def __add__(self, other: Spots) -> Spots:
        """These, and after them those."""
        pairs = zip(
            (self.triangle, self.shares, self.points, self.normals),
            (other.triangle, other.shares, other.points, other.normals),
        )
        return Spots(*(np.concatenate(pair) for pair in pairs))


@dataclass(frozen=True, eq=False)
class Ground:
    """A surface by its triangles (`probed`), and by what says where it really is over each of them; where that is only nearly so, and exact
    places cost much, `settled` gives these."""

    probed: Probed
    placed: Placed
    settled: Settled | None = None

    @cached_property
    def edged(self) -> bool:
        """Whether its normals differ anywhere at a place that several of its points share."""
        probed = self.probed
        lead = np.zeros(int(probed.joined.max(initial=0)) + 1, np.int64)
        lead[probed.joined] = np.arange(len(probed.joined))
        return bool(((probed.normals * probed.normals[lead[probed.joined]]).sum(axis=1) < 1 - 1e-7).any())

    def spots(self, triangle: Ints, shares: Floats) -> Spots:
        """The surface's own places over places of its triangles."""
        points, normals = self.placed(triangle, shares)
        return Spots(triangle, shares, points, normals)

    def exactly(self, spots: Spots) -> Spots:
        """Spots on the surface itself, which they lay near."""
        if self.settled is None or not len(spots):
            return spots
        points, normals = self.settled(spots.triangle, spots.shares, spots.points)
        return Spots(spots.triangle, spots.shares, points, normals)

    def nearest(self, places: Floats, reach: float = np.inf) -> tuple[Spots, NDArray[np.bool_]]:
        """The places of the surface nearest to (K, 3) points, and whether there was one within reach.

        The nearest place of the triangles is moved along them until what is left of the way stands on the surface (the foot of the
        perpendicular); a place it would leave its triangle for is one of the neighbour's.
        """
        found = self.probed.nearest.closest(places, reach)
        there = found.triangle >= 0
        return self._feet(found, places, there), there

    def _feet(self, found: Found, places: Floats, there: NDArray[np.bool_]) -> Spots:
        spots = self.spots(np.maximum(found.triangle, 0), found.shares)
        for _ in range(_STEPS):
            away = places - spots.points
            level = away - (away * spots.normals).sum(axis=1, keepdims=True) * spots.normals
            if not there.any() or float(np.abs(level[there]).max(initial=0)) < _STILL:
                break
            # the triangle's place that lies over where the foot ought to be
            beside = self.probed.nearest.closest(self._flat(spots) + level)
            spots = self.spots(np.maximum(beside.triangle, 0), beside.shares)
        return spots

    def _flat(self, spots: Spots) -> Floats:
        """Where spots lie on the flat triangles."""
        corners = self.probed.points[self.probed.triangles[spots.triangle]]
        return np.asarray(np.einsum("kc,kcj->kj", spots.shares, corners))

    def met(self, starts: Floats, ways: Floats) -> tuple[Spots, NDArray[np.bool_]]:
        """Where rays from (K, 3) along unit (K, 3) meet the surface first, and whether they do."""
        found = self.probed.nearest.met(starts, ways)
        there = found.triangle >= 0
        triangle, shares = np.maximum(found.triangle, 0), found.shares.copy()
        spots = self.spots(triangle, shares)
        for _ in range(_STEPS):
            beside = spots.points - starts
            beside -= (beside * ways).sum(axis=1, keepdims=True) * ways
            if not there.any() or float(np.abs(beside[there]).max(initial=0)) < _STILL:
                break
            # along the plane that touches the surface there, back to the ray
            facing = (ways * spots.normals).sum(axis=1, keepdims=True)
            facing = np.where(np.abs(facing) < 0.05, np.where(facing < 0, -0.05, 0.05), facing)
            back = -beside + (beside * spots.normals).sum(axis=1, keepdims=True) / facing * ways
            there_now = self.probed.nearest.closest(self._flat(spots) + back)
            spots = self.spots(np.maximum(there_now.triangle, 0), there_now.shares)
        return spots, there


_STEPS = 8
_STILL = 1e-9
"""mm a foot may be from where it belongs, along the surface; on the surface itself it lies exactly."""


def curved(probed: Probed) -> Placed:
    """What tells places over triangles by their corners' exact normals: cubic in place, quadratic in normal (Vlachos and others 2001, Curved PN
    Triangles)."""

    def placed(triangle: Ints, shares: Floats) -> tuple[Floats, Floats]:
        corners = probed.triangles[triangle]
        p, n = probed.points[corners], probed.normals[corners]
        w = shares
        total = (w**3)[:, :, None] * p
        found = total.sum(axis=1)
        middle = np.zeros((len(triangle), 3))
        normals = np.einsum("kc,kcj->kj", w**2, n)
        for i, j in ((0, 1), (1, 0), (1, 2), (2, 1), (2, 0), (0, 2)):
            lean = ((p[:, j] - p[:, i]) * n[:, i]).sum(axis=1, keepdims=True)
            pole = (2 * p[:, i] + p[:, j] - lean * n[:, i]) / 3
            middle += pole / 6
            found += (3 * w[:, i] ** 2 * w[:, j])[:, None] * pole
            if i < j or (i, j) == (2, 0):
                way = p[:, j] - p[:, i]
                turn = 2 * (way * (n[:, i] + n[:, j])).sum(axis=1) / np.maximum((way * way).sum(axis=1), 1e-300)
                between = n[:, i] + n[:, j] - turn[:, None] * way
                between /= np.maximum(np.linalg.norm(between, axis=1, keepdims=True), 1e-12)
                normals += (2 * w[:, i] * w[:, j])[:, None] * between
        inner = middle + (middle - p.mean(axis=1)) / 2
        found += (6 * w[:, 0] * w[:, 1] * w[:, 2])[:, None] * inner
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        return np.asarray(found), np.asarray(normals)

    return placed


def flat_ground(probed: Probed) -> Ground:
    """A ground that is its triangles: flat, their normals between those of their corners."""

    def placed(triangle: Ints, shares: Floats) -> tuple[Floats, Floats]:
        corners = probed.triangles[triangle]
        normals = np.einsum("kc,kcj->kj", shares, probed.normals[corners])
        normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
        return np.einsum("kc,kcj->kj", shares, probed.points[corners]), normals

    return Ground(probed, placed)
