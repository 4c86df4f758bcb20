"""A piece of a surface with flat coordinates: where flat drawings lie on it, without shear. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from hollow_marble.core.detail.facets import Facets, facets_of
from hollow_marble.core.detail.ground import Floats, Ground, Ints, Spots
from hollow_marble.core.detail.relief import corner_normals
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.unrolling import Unrolled, unrolled

_NEIGHBOURS = 3
_NEAR = 5.0
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
        return float(_stretched(self.piece).max(initial=0.0))


def _stretched(piece: Unrolled) -> Floats:
    """(T, 3) by what share the length of each side of each triangle differs on the flat sheet."""
    one, other = piece.triangles, np.roll(piece.triangles, -1, axis=1)
    turn = np.linalg.norm(np.cross(piece.normals[one], piece.normals[other]), axis=2)
    real = np.linalg.norm(piece.points[other] - piece.points[one], axis=2) * (1 + turn**2 / 24)
    flat = np.linalg.norm(piece.flat[other] - piece.flat[one], axis=2)
    return np.asarray(np.abs(flat / np.maximum(real, 1e-12) - 1))


def chart_around(ground: Ground, at: Floats, up: Floats, half: tuple[float, float], whole: bool = True) -> Chart:
    """The piece of a surface that a flat sheet of half a width and half a height covers around a place near it, its upper edge towards `up`.
    It ends at sharp edges. Unless it is to be `whole`, the sheet may reach beyond where the surface ends.

    Raises
    ------
    HollowMarbleError
        where the surface ends before, or comes round to itself, with how large it may be.
    """
    spots, _ = ground.nearest(at[None])
    away = float(np.linalg.norm(spots.points[0] - at))
    if away > _NEAR + 0.5 * ground.probed.size:
        raise HollowMarbleError(f"The place is {away:,.0f} mm from the skin. Touch the part where it is to lie.")
    reach = float(np.hypot(*half))
    fine = float(np.clip(reach / 16, 0.25, 1.5))

    def wanted(places: Spots) -> Floats:
        far = np.linalg.norm(places.points - spots.points[0], axis=1)
        return np.where(far < 1.25 * reach + fine, fine, np.inf)

    facets = _around(facets_of(ground), spots.points[0], 1.6 * reach + fine)
    facets = facets.refined(wanted, spots.points, 1.25 * reach)
    points, normals, corners = _smooth_piece(facets, spots.points[0])
    piece = unrolled(points, normals, corners, spots.points[0], up, half)
    if not whole:  # what lies round a rim that it cannot follow is left out
        piece = replace(piece, triangles=piece.triangles[_stretched(piece).max(axis=1) <= MOST_STRETCH])
    found = Chart(piece)
    if not len(piece.triangles):
        raise HollowMarbleError("There is no skin there to lay it on. Choose a place on the part.")
    low, high = piece.flat.min(axis=0), piece.flat.max(axis=0)
    room = np.minimum(high, -low)
    short = room < np.array(half) - 1e-6
    if whole and short.any():
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


def _around(facets: Facets, at: Floats, reach: float) -> Facets:
    """Those that may lie within a reach of a place: no way along a surface is shorter than the straight one."""
    corners = facets.spots.points[facets.corners]
    long = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1)
    return facets.without(np.linalg.norm(corners - at, axis=2).min(axis=1) > reach + long)


def _smooth_piece(facets: Facets, at: Floats) -> tuple[Floats, Floats, Ints]:
    """What hangs together with the triangle at a place without crossing a sharp edge: points, normals and triangles."""
    corners, normals = facets.corners, corner_normals(facets)
    count = len(facets.spots)
    following = np.roll(corners, -1, axis=1)
    named = (np.minimum(corners, following) * count + np.maximum(corners, following)).ravel()
    order = np.argsort(named, kind="stable")
    same = np.flatnonzero(named[order][1:] == named[order][:-1])
    one, other = order[same], order[same + 1]
    # the side of one triangle runs against that of the other: its beginning is the other's end
    begins, ends = normals.reshape(-1, 3), np.roll(normals, -1, axis=1).reshape(-1, 3)
    level = np.minimum((begins[one] * ends[other]).sum(axis=1), (ends[one] * begins[other]).sum(axis=1)) > _SHARP
    pairs = np.stack([one[level] // 3, other[level] // 3])
    total = len(corners)
    graph = coo_matrix((np.ones(pairs.shape[1]), (pairs[0], pairs[1])), shape=(total, total))
    _, group = connected_components(graph, directed=False)
    seed = int(Nearest(facets.spots.points, corners).closest(at[None]).triangle[0])
    chosen = corners[group == group[seed]]
    used, where = np.unique(chosen, return_inverse=True)
    own = np.empty((len(used), 3))
    own[where.ravel()] = normals[group == group[seed]].reshape(-1, 3)
    return facets.spots.points[used], own, where.reshape(-1, 3)


_SHARP = 0.82
"""Cosine of the angle between the normals on both sides of an edge below which it is sharp: about 35 degrees."""
