"""A ground raised and pressed: along lines and within outlines, with an edge of the mesh wherever a cross-section has one. Lengths mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, Protocol

import numpy as np

from hollow_marble.core.detail.beside import Aside, Beside, SkinLine
from hollow_marble.core.detail.facets import Facets, settled_on
from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.detail.profiles import Profile

CLOSE = 0.01
"""mm a chord may be off the line it follows."""


@dataclass(frozen=True, eq=False)
class Told:
    """Where K spots are in a cross-section: across it (inf where it does nothing), the share of its height, the way across grows (K, 3)."""

    across: Floats
    share: Floats
    way: Floats


class Relief(Protocol):
    """Something that raises or presses a surface by a cross-section; `key` is the only name it is kept by, `names` that of its faces."""

    @property
    def key(self) -> str: ...
    @property
    def names(self) -> str: ...
    @property
    def profile(self) -> Profile: ...
    @property
    def flat(self) -> bool:
        """Whether its faces are flat, with the normals of their triangles; then `facet` tells them apart."""

    def facet(self, spots: Spots) -> Ints:
        """(K,) numbers that differ from face to face; nought where its cross-section tells them apart."""

    @property
    def fine(self) -> str:
        """Names how fine it needs the surface, whatever its heights are."""

    def refined(self, facets: Facets) -> Facets:
        """Facets as fine as it needs them."""

    def sliced(self, facets: Facets) -> Facets:
        """Such facets with edges along every edge of its cross-section."""

    def told(self, spots: Spots) -> Told:
        """Where spots are in it."""

    def stood(self, moved: Moved) -> Relief:
        """It after its body was stood elsewhere."""


@dataclass(frozen=True, eq=False)
class Moved:
    """How a body was stood elsewhere: a similarity by its matrix (3, 4), and its scale; `mirrored` where it makes a right hand a left one."""

    matrix: Floats
    scale: float
    mirrored: bool

    def places(self, points: Floats) -> Floats:
        """Points (K, 3) after it."""
        return np.asarray(points @ self.matrix[:, :3].T + self.matrix[:, 3])

    def ways(self, directions: Floats) -> Floats:
        """Unit directions (..., 3) after it."""
        return np.asarray(directions @ self.matrix[:, :3].T / self.scale)

    def line(self, line: SkinLine) -> SkinLine:
        """A line after it; seen in a mirror what lay to the left lies to the right, so that it runs the other way."""
        spots = line.spots
        found = Spots(spots.triangle, spots.shares, self.places(spots.points), self.ways(spots.normals))
        return SkinLine(found[::-1] if self.mirrored else found, line.closed)


@dataclass(frozen=True, eq=False)
class Strip:
    """What is made along a line: its cross-section, and how it ends.

    ends : "round" keeps its depth and ends in a half circle; "out" runs out over `run_out` mm
    """

    key: str
    names: str
    line: SkinLine
    profile: Profile
    ends: Literal["round", "out"] = "round"
    run_out: float = 0.0

    flat = False

    def facet(self, spots: Spots) -> Ints:
        """Its cross-section tells its faces apart."""
        return np.zeros(len(spots), np.int64)

    @property
    def beside(self) -> Beside:
        """What tells how far places are from its line."""
        return self.line.beside(self.profile.reach + 2 * float(self._coarse.max()))

    @cached_property
    def _coarse(self) -> Floats:
        return coarse_along(self.line, self.profile.reach)

    def across(self, spots: Spots) -> Floats:
        """(K,) where spots are in its cross-section; inf where it does nothing."""
        return self._across(self.beside.asked(spots))

    def _across(self, aside: Aside) -> Floats:
        return np.where(aside.past == 0, aside.off, np.inf) if self.profile.sided else aside.away

    def told(self, spots: Spots) -> Told:
        """Where spots are in it."""
        aside = self.beside.asked(spots)
        way = aside.way
        if not self.profile.sided:
            # away from the line on either side, and round its ends
            away = np.maximum(aside.away, 1e-12)
            ahead = np.cross(aside.way, spots.normals)
            off = np.where(np.isfinite(aside.off), aside.off, 0.0)
            way = (off / away)[:, None] * way + (aside.past / away)[:, None] * ahead
        return Told(self._across(aside), self.faded(aside.along), way)

    def stood(self, moved: Moved) -> Strip:
        """It after its body was stood elsewhere."""
        by = moved.scale
        return replace(self, line=moved.line(self.line), profile=self.profile.scaled(by), run_out=self.run_out * by)

    def wanted(self, spots: Spots) -> Floats:
        """(K,) how long edges may be, mm; inf where it asks for nothing."""
        return along_line(self.beside, self.line, self._coarse, self.profile.reach)(spots)

    def faded(self, along: Floats) -> Floats:
        """(K,) share of its depth at places along it."""
        if self.line.closed or self.ends != "out" or self.run_out <= 0:
            return np.ones(len(along))
        near = np.minimum(along, self.line.length - along)
        t = np.clip(near / self.run_out, 0, 1)
        return np.asarray(t * t * (3 - 2 * t))

    @property
    def fine(self) -> str:
        """Names how fine it needs the surface: its line, and how far it reaches."""
        return f"{self.line.key} {self.profile.reach:.9f}"

    def refined(self, facets: Facets) -> Facets:
        """Facets as fine as it needs them."""
        seen = self.profile.reach + 2 * float(self._coarse.min())
        return facets.refined(self.wanted, self.line.spots.points, seen)

    def sliced(self, facets: Facets) -> Facets:
        """Such facets with edges along every edge of its cross-section."""
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
    normals : (T, 3, 3) at each corner; ground_normals : (T, 3, 3) of the ground below; mitres : (V, 3) see `mitres`
    region : (T,) numbers that differ where the surface has an edge; owner : (T,) the relief a triangle belongs to, -1 where none
    height : (V,) mm over the ground
    """

    facets: Facets
    points: Floats
    normals: Floats
    ground_normals: Floats
    mitres: Floats
    region: Ints
    owner: Ints
    height: Floats


def raised(facets: Facets, reliefs: tuple[Relief, ...]) -> Raised:
    """Facets cut for reliefs (see `Relief.sliced`), raised by them. What goes the same way meets in a blend, what goes opposite ways adds."""
    facets = replace(facets, spots=facets.ground.exactly(facets.spots))
    corners = facets.corners
    normals = corner_normals(facets)
    height = np.zeros(len(facets.spots))
    lean = np.zeros((len(corners), 3, 3))
    at_corner = np.zeros((len(corners), 3))
    region = np.zeros(len(corners), np.int64)
    owner = np.full(len(corners), -1)
    flat = np.zeros(len(corners), bool)
    for number, relief in enumerate(reliefs):
        profile, told = relief.profile, relief.told(facets.spots)
        across = settled_on(told.across, profile.at, 1.5 * min(0.02 * profile.finest, 0.002))
        near = np.isfinite(across)
        rows = np.flatnonzero(near[corners].any(axis=1))  # all others stay as they are
        own_corners = corners[rows]
        piece = profile.piece(across[own_corners].mean(axis=1))
        inner = (piece < len(profile.slope)) & (profile.inner | (piece >= 0))
        own = np.where(near, profile.over(across) * told.share, 0.0)
        steep = (
            profile.slopes(across[own_corners].ravel(), np.repeat(piece, 3)).reshape(-1, 3) * told.share[own_corners]
        )
        height[near], _, _ = _together(height[near], own[near])
        at_corner[rows], one, other = _together(at_corner[rows], np.where(inner[:, None], own[own_corners], 0.0))
        lean[rows] = lean[rows] * one[:, :, None] + (steep * other)[:, :, None] * told.way[own_corners]
        pieces = len(profile.at) + 1
        region *= pieces
        region += pieces - 1
        region[rows] += piece + 2 - pieces
        if relief.flat:
            flat[rows[inner]] = True
            region *= 8
            region[rows[inner]] += relief.facet(_middles(facets, rows[inner]))
        owner[rows[inner]] = number
    _, region = np.unique(region, return_inverse=True)
    turned = normals - lean
    turned /= np.maximum(np.linalg.norm(turned, axis=2, keepdims=True), 1e-12)
    ways = mitres(facets, normals)
    points = facets.spots.points + height[:, None] * ways
    if flat.any():
        a, b, c = (points[corners[flat, k]] for k in range(3))
        square = np.cross(b - a, c - a)
        square /= np.maximum(np.linalg.norm(square, axis=1, keepdims=True), 1e-30)
        turned[flat] = square[:, None]
    return Raised(facets, points, turned, normals, ways, region.reshape(-1), owner, height)


def _middles(facets: Facets, rows: Ints) -> Spots:
    """A spot amid each of some triangles, on its chords."""
    spots, corners = facets.spots, facets.corners[rows]
    normals = spots.normals[corners].mean(axis=1)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    return Spots(facets.source[rows], facets.shares[rows].mean(axis=1), spots.points[corners].mean(axis=1), normals)


def corner_normals(facets: Facets) -> Floats:
    """(T, 3, 3) the ground's normals at each corner: on an edge of the ground each triangle has its own side's."""
    found = facets.spots.normals[facets.corners].copy()
    if not facets.ground.edged:
        return found
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


def _together(one: Floats, other: Floats) -> tuple[Floats, Floats, Floats]:
    """Two heights made one, and how much each counts in its slope."""
    alike = (one * other > 0) | (one == 0) | (other == 0)
    a, b = np.abs(one), np.abs(other)
    soft = np.maximum(0.5 * np.minimum(a, b), 1e-12)
    share = np.clip(0.5 + 0.5 * (b - a) / soft, 0.0, 1.0)
    both = a * (1 - share) + b * share + soft * share * (1 - share)
    sign = np.where(one != 0, np.sign(one), np.sign(other))
    height = np.where(alike, sign * both, one + other)
    blended = alike & (a + b > 0)  # where both begin, each has its own slope
    return height, np.where(blended, 1 - share, 1.0), np.where(blended, share, 1.0)


def coarse_along(line: SkinLine, reach: float) -> Floats:
    """(K,) length of edges that keep to a line and to what runs beside it within a reach, at each of its spots, mm."""
    radii = line.radii
    pieces = np.stack([np.roll(radii, k) for k in range(-2, 4)]) if line.closed else _around(radii)
    bend = pieces.min(axis=0)
    return np.asarray(np.clip(np.sqrt(8 * CLOSE * np.maximum(bend - reach, 0.3 * bend)), 0.25, 2.0))


def along_line(beside: Beside, line: SkinLine, coarse: Floats, reach: float) -> Callable[[Spots], Floats]:
    """What tells how long edges may be near a line: `coarse` at its spots, growing beyond the reach; inf further off."""

    def wanted(spots: Spots) -> Floats:
        aside = beside.asked(spots)
        beyond = np.maximum(aside.away - reach, 0.0)
        own = np.interp(aside.along, line.along[: len(coarse)], coarse)
        return np.where(beyond < 2 * own, own + beyond, np.inf)

    return wanted


def _around(radii: Floats) -> Floats:
    """(6, K + 1) the pieces on both sides of each spot of an open line, up to three away."""
    padded = np.concatenate([np.full(3, radii[0]), radii, np.full(3, radii[-1])])
    return np.stack([padded[k : k + len(radii) + 1] for k in range(6)])
