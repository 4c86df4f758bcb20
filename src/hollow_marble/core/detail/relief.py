"""A ground raised and pressed: strips along lines, with an edge of the mesh wherever their cross-section has one. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from hollow_marble.core.detail.beside import Beside, SkinLine
from hollow_marble.core.detail.facets import Facets
from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.detail.profiles import Profile

CLOSE = 0.01
"""mm a chord may be off the line it follows."""


@dataclass(frozen=True, eq=False)
class Strip:
    """What is made along a line: its cross-section, and how it ends.

    ends : "round" keeps its depth and ends in a half circle; "out" runs out over `run_out` mm
    key : the only name it is kept by; names : what its faces are named by
    """

    key: str
    names: str
    line: SkinLine
    profile: Profile
    ends: Literal["round", "out"] = "round"
    run_out: float = 0.0

    @cached_property
    def beside(self) -> Beside:
        """What tells how far places are from its line."""
        return Beside(self.line, self.profile.reach + 2 * float(self._coarse.max()))

    @cached_property
    def _coarse(self) -> Floats:
        """(K,) length of edges that keep to the line and to what runs beside it, at each of its spots, mm."""
        radii = self.line.radii
        pieces = np.stack([np.roll(radii, k) for k in range(-2, 4)]) if self.line.closed else _around(radii)
        bend = pieces.min(axis=0)
        return np.asarray(np.clip(np.sqrt(8 * CLOSE * np.maximum(bend - self.profile.reach, 0.3 * bend)), 0.25, 2.0))

    def across(self, spots: Spots) -> Floats:
        """(K,) where spots are in its cross-section; inf where it does nothing."""
        aside = self.beside.asked(spots)
        if not self.profile.sided:
            return aside.away
        return np.where(aside.past == 0, aside.off, np.inf)

    def wanted(self, spots: Spots) -> Floats:
        """(K,) how long edges may be, mm; inf where it asks for nothing."""
        aside = self.beside.asked(spots)
        beyond = np.maximum(aside.away - self.profile.reach, 0.0)
        ends = self.line.along[: len(self._coarse)]
        coarse = np.interp(aside.along, ends, self._coarse)
        return np.where(beyond < 2 * coarse, coarse + beyond, np.inf)

    def faded(self, along: Floats) -> Floats:
        """(K,) share of its depth at places along it."""
        if self.line.closed or self.ends != "out" or self.run_out <= 0:
            return np.ones(len(along))
        near = np.minimum(along, self.line.length - along)
        t = np.clip(near / self.run_out, 0, 1)
        return np.asarray(t * t * (3 - 2 * t))

    def cut(self, facets: Facets) -> Facets:
        """Facets with edges along every edge of its cross-section."""
        facets = facets.refined(self.wanted)
        eps = min(0.02 * self.profile.finest, 0.002)
        at = self.profile.at
        if not self.profile.sided:

            def side(spots: Spots) -> Floats:
                aside = self.beside.asked(spots)
                return np.where(aside.past == 0, aside.off, np.inf)

            if self.line.closed:
                every = np.concatenate([-at[:0:-1], at])
                return facets.sliced(side(facets.spots), every, side, eps)[0]
            # beyond the ends there is no left and no right: what lies amid it is an edge first
            facets, _ = facets.sliced(side(facets.spots), np.zeros(1), side, eps)
            at = at[1:]
        return facets.sliced(self.across(facets.spots), at, self.across, eps)[0]


@dataclass(frozen=True, eq=False)
class Raised:
    """Facets with their vertices raised or pressed.

    corners : T triangles (T, 3) of V vertices; points : (V, 3)
    normals : (T, 3, 3) at each corner; ground_normals : (T, 3, 3) of the ground below
    region : (T,) numbers that differ where the surface has an edge; strip : (T,) the strip a triangle belongs to, -1 where none
    height : (V,) mm over the ground
    """

    facets: Facets
    points: Floats
    normals: Floats
    region: Ints
    strip: Ints
    height: Floats


def raised(facets: Facets, strips: tuple[Strip, ...]) -> Raised:
    """Facets cut for strips (see `Strip.cut`), raised by them. What goes in the same way meets in a blend, what goes opposite ways adds."""
    corners = facets.corners
    normals = corner_normals(facets)
    vertices = len(facets.spots)
    height = np.zeros(vertices)
    lean = np.zeros((len(corners), 3, 3))
    at_corner = np.zeros((len(corners), 3))
    region = np.zeros(len(corners), np.int64)
    owner = np.full(len(corners), -1)
    for number, strip in enumerate(strips):
        aside = strip.beside.asked(facets.spots)
        across = np.where(aside.past == 0, aside.off, np.inf) if strip.profile.sided else aside.away
        across = _held(across, strip.profile)
        fade = strip.faded(aside.along)
        piece = strip.profile.piece(_mean(across[corners]))
        inner = (piece >= 0) & (piece < len(strip.profile.slope))
        own = strip.profile.over(across) * fade
        way = aside.way
        if not strip.profile.sided:
            # away from the line on either side, and round its ends
            away = np.maximum(aside.away, 1e-12)
            ahead = np.cross(aside.way, facets.spots.normals)
            way = (np.where(np.isfinite(aside.off), aside.off, 0.0) / away)[:, None] * way + (aside.past / away)[
                :, None
            ] * ahead
        steep = strip.profile.slopes(across[corners].ravel(), np.repeat(piece, 3)).reshape(-1, 3) * fade[corners]
        own_lean = steep[:, :, None] * way[corners]
        own_corner = np.where(inner[:, None], own[corners], 0.0)
        height, _, _ = _together(height, own)
        at_corner, one, other = _together(at_corner, own_corner)
        lean = lean * one[:, :, None] + own_lean * other[:, :, None]
        region = region * (len(strip.profile.at) + 1) + piece + 1
        owner = np.where(inner, number, owner)
    _, region = np.unique(region, return_inverse=True)
    turned = normals - lean
    turned /= np.maximum(np.linalg.norm(turned, axis=2, keepdims=True), 1e-12)
    points = facets.spots.points + height[:, None] * mitres(facets, normals)
    return Raised(facets, points, turned, region.reshape(-1), owner, height)


def corner_normals(facets: Facets) -> Floats:
    """(T, 3, 3) the ground's normals at each corner: on an edge of the ground each triangle has its own side's."""
    found = facets.spots.normals[facets.corners].copy()
    faces = facets.ground.probed.faces[facets.source]
    first = np.full(len(facets.spots), -1)
    first[facets.corners.ravel()] = np.repeat(faces, 3)
    border = np.zeros(len(facets.spots), bool)
    border[facets.corners[faces[:, None] != first[facets.corners]]] = True
    rows, columns = np.nonzero(border[facets.corners])
    if len(rows):
        found[rows, columns] = facets.ground.spots(facets.source[rows], facets.shares[rows, columns]).normals
    return found


def mitres(facets: Facets, normals: Floats) -> Floats:
    """(V, 3) the way a vertex goes when the surface goes 1 mm along its normal: where faces meet in an edge, as far as leaves both moved."""
    corners = facets.corners.ravel()
    found = facets.spots.normals.copy()
    flat = normals.reshape(-1, 3)
    apart = (flat * found[corners]).sum(axis=1) < 1 - 1e-9
    several = np.zeros(len(found), bool)
    several[corners[apart]] = True
    rows = np.flatnonzero(several[corners])
    if not len(rows):
        return found
    numbers, where = np.unique(corners[rows], return_inverse=True)
    square = np.zeros((len(numbers), 3, 3))
    total = np.zeros((len(numbers), 3))
    np.add.at(square, where, flat[rows][:, :, None] * flat[rows][:, None, :])
    np.add.at(total, where, flat[rows])
    # the least way that goes 1 mm along each of them (Moore & Penrose)
    found[numbers] = np.einsum("kij,kj->ki", np.linalg.pinv(square, rcond=1e-6, hermitian=True), total)
    return found


def _held(across: Floats, profile: Profile) -> Floats:
    """Places that are on an edge of the cross-section but for rounding, on it."""
    eps = min(0.02 * profile.finest, 0.002)
    finite = np.isfinite(across)
    at = np.clip(np.searchsorted(profile.at, np.where(finite, across, 0.0)), 1, len(profile.at) - 1)
    for edge in (profile.at[at - 1], profile.at[at]):
        across = np.where(finite & (np.abs(across - edge) <= 1.5 * eps), edge, across)
    return across


def _mean(values: Floats) -> Floats:
    return np.asarray(values.mean(axis=1))


def _together(one: Floats, other: Floats) -> tuple[Floats, Floats, Floats]:
    """Two heights made one, and how much each counts in its slope."""
    alike = (one * other > 0) | (one == 0) | (other == 0)
    a, b = np.abs(one), np.abs(other)
    soft = np.maximum(0.5 * np.minimum(a, b), 1e-12)
    share = np.clip(0.5 + 0.5 * (b - a) / soft, 0.0, 1.0)
    both = a * (1 - share) + b * share + soft * share * (1 - share)
    sign = np.where(one != 0, np.sign(one), np.sign(other))
    height = np.where(alike, sign * both, one + other)
    return height, np.where(alike, 1 - share, 1.0), np.where(alike, share, 1.0)


def _around(radii: Floats) -> Floats:
    """(6, K + 1) the pieces on both sides of each spot of an open line, up to three away."""
    padded = np.concatenate([np.full(3, radii[0]), radii, np.full(3, radii[-1])])
    return np.stack([padded[k : k + len(radii) + 1] for k in range(6)])
