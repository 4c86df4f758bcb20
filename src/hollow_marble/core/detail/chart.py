"""A piece of a surface with flat coordinates: where flat drawings lie on it, without shear. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.detail.facets import facets_of
from hollow_marble.core.detail.ground import Floats, Ground, Spots
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.unrolling import Unrolled, unrolled

_NEIGHBOURS = 3
MOST_STRETCH = 0.35


@dataclass(frozen=True, eq=False)
class Chart:
    """A piece of a surface unrolled around a place, as finely as places between its points may be told from them."""

    piece: Unrolled

    @cached_property
    def _tree(self) -> cKDTree:
        return cKDTree(self.piece.points)

    @cached_property
    def spacing(self) -> float:
        """How far apart its points are at most, mm."""
        corners = self.piece.points[self.piece.triangles]
        return float(np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(initial=0.0))

    def asked(self, spots: Spots) -> tuple[Floats, Floats, NDArray[np.bool_]]:
        """(K, 2) flat coordinates of spots, (K, 2, 3) the ways along the surface they grow in, and whether spots lie on the piece.

        From each of the nearest points the way to a spot is laid flat, with its whole length (see `core.surface.unrolling`).
        """
        piece = self.piece
        far, near = self._tree.query(spots.points, k=_NEIGHBOURS, distance_upper_bound=1.2 * self.spacing)
        there = np.isfinite(far[:, 0])
        there &= (piece.normals[np.where(there, near[:, 0], 0)] * spots.normals).sum(axis=1) > 0.2
        flat, ways = np.zeros((len(spots), 2)), np.zeros((len(spots), 2, 3))
        rows = np.flatnonzero(there)
        chosen = np.where(np.isfinite(far[rows]), near[rows], near[rows][:, :1])
        normals = piece.normals[chosen]
        step = spots.points[rows][:, None] - piece.points[chosen]
        level = step - (step * normals).sum(axis=2, keepdims=True) * normals
        # an arc that turns as the normals do is longer than its chord
        turn = np.linalg.norm(np.cross(normals, spots.normals[rows][:, None]), axis=2)
        whole = np.linalg.norm(step, axis=2) * (1 + turn**2 / 24)
        grown = whole / np.maximum(np.linalg.norm(level, axis=2), 1e-12)
        grown = np.where(grown < 2, grown, 1.0)
        each = piece.flat[chosen] + np.einsum("knij,knj->kni", piece.ways[chosen], level * grown[:, :, None])
        weights = 1 / np.maximum(np.linalg.norm(step, axis=2), 1e-9) ** 2
        weights /= weights.sum(axis=1, keepdims=True)
        flat[rows] = (weights[:, :, None] * each).sum(axis=1)
        up = spots.normals[rows][:, None]
        own = piece.ways[chosen[:, 0]]
        own = own - (own * up).sum(axis=2, keepdims=True) * up
        ways[rows] = own / np.maximum(np.linalg.norm(own, axis=2, keepdims=True), 1e-12)
        return flat, ways, there

    @cached_property
    def stretch(self) -> float:
        """By what share lengths differ at most between the surface and the flat sheet; 0 where it can be unrolled."""
        ends = self.piece.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
        step = self.piece.points[ends[:, 1]] - self.piece.points[ends[:, 0]]
        turn = np.linalg.norm(np.cross(self.piece.normals[ends[:, 0]], self.piece.normals[ends[:, 1]]), axis=1)
        real = np.linalg.norm(step, axis=1) * (1 + turn**2 / 24)
        flat = np.linalg.norm(self.piece.flat[ends[:, 1]] - self.piece.flat[ends[:, 0]], axis=1)
        return float(np.abs(flat / np.maximum(real, 1e-12) - 1).max(initial=0.0))


def chart_around(ground: Ground, at: Floats, up: Floats, half: tuple[float, float]) -> Chart:
    """The piece of a surface that a flat sheet of half a width and half a height covers around a place near it, its upper edge towards `up`.

    Raises
    ------
    HollowMarbleError
        where the surface ends before, or comes round to itself, with how large it may be.
    """
    spots, _ = ground.nearest(at[None])
    reach = float(np.hypot(*half))
    fine = float(np.clip(reach / 16, 0.25, 1.5))

    def wanted(places: Spots) -> Floats:
        far = np.linalg.norm(places.points - spots.points[0], axis=1)
        return np.where(far < 1.25 * reach + fine, fine, np.inf)

    facets = facets_of(ground).refined(wanted, spots.points, 1.25 * reach)
    piece = unrolled(facets.spots.points, facets.spots.normals, facets.corners, spots.points[0], up, half)
    found = Chart(piece)
    if not len(piece.triangles):
        raise HollowMarbleError("There is no skin there to lay it on. Choose a place on the part.")
    low, high = piece.flat.min(axis=0), piece.flat.max(axis=0)
    room = np.minimum(high, -low)
    short = room < np.array(half) - 1e-6
    if short.any():
        axis = int(np.argmax(np.array(half) / np.maximum(room, 1e-9)))
        raise HollowMarbleError(
            f"It is {2 * half[axis]:.1f} mm {('wide', 'tall')[axis]}, and the skin ends {room[axis]:.1f} mm from its middle. "
            f"Up to {2 * room[axis]:.1f} mm fit there."
        )
    if found.stretch > MOST_STRETCH:
        raise HollowMarbleError(
            f"The skin bends so much there that it would be stretched by {100 * found.stretch:.0f} %. Make it smaller, or choose a flatter place."
        )
    return found
