"""A surface cut along a line or an outline: one side of it stays, and its edge is finished. Lengths mm.

A part with a wall is made of the same triangles at several depths below the ground: the skin itself, the inside of the wall, and between them
the shoulder of a lip or its groove; upright strips join them along the lines they end at. So everything fits, whatever the line does.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from hollow_marble.core.detail.beside import Beside, SkinLine
from hollow_marble.core.detail.facets import Facets
from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.detail.relief import Moved, Raised, along_line, coarse_along
from hollow_marble.core.detail.stamps import Stamp
from hollow_marble.core.errors import HollowMarbleError

Edge = Literal["open", "closed", "wall", "lip", "rolled"]
PLAY = 0.1
"""mm between a lip and its groove, and between their flanks."""
_ROLL = 8
"""Pieces of a rolled edge."""
_EPS = 1e-4


class Divider(Protocol):
    """What tells on which side of something spots are: negative on the side that may stay."""

    def refined(self, facets: Facets, reach: float) -> Facets:
        """Facets fine enough to be cut within a reach of it."""

    def across(self, spots: Spots) -> Floats:
        """(K,) mm from it along the skin, as far as that is near; beyond, its sign still tells the side."""

    def way(self, spots: Spots) -> Floats:
        """(K, 3) unit directions in which that grows."""

    @property
    def leads(self) -> Floats:
        """(3,) the one direction in which what may stay comes free of the rest."""

    def stood(self, moved: Moved) -> Divider:
        """It after its body was stood elsewhere."""


@dataclass(frozen=True, eq=False)
class LineDivider:
    """A line that comes round, or runs from rim to rim; `turned` : what lies to its left is the side that may stay."""

    line: SkinLine
    reach: float
    turned: bool = False

    def refined(self, facets: Facets, reach: float) -> Facets:
        coarse = coarse_along(self.line, reach)
        wanted = along_line(self._beside, self.line, coarse, reach)
        return facets.refined(wanted, self.line.spots.points, reach + 2 * float(coarse.min()))

    @property
    def _beside(self) -> Beside:
        return self.line.beside(self.reach + 6.0)

    def across(self, spots: Spots) -> Floats:
        off = self._beside.asked(spots).off
        return np.where(np.isfinite(off), -off if self.turned else off, np.inf)

    def way(self, spots: Spots) -> Floats:
        found = self._beside.asked(spots).way
        return -found if self.turned else found

    @property
    def leads(self) -> Floats:
        """Square to the line as a whole, where it comes round (its vector area); else to its left or right."""
        spots, points = self.line.spots, self.line.spots.points
        left = np.cross(spots.normals, self.line.tangents).sum(axis=0)
        way = left
        if self.line.closed:
            way = np.cross(points, np.roll(points, -1, axis=0)).sum(axis=0)
            way = way if way @ left >= 0 else -way
        return np.asarray((way if self.turned else -way) / max(float(np.linalg.norm(way)), 1e-12))

    def stood(self, moved: Moved) -> LineDivider:
        return LineDivider(moved.line(self.line), self.reach * moved.scale, self.turned)


@dataclass(frozen=True, eq=False)
class OutlineDivider:
    """Flat outlines on a chart; `turned` : what lies within them is the side that may stay."""

    stamp: Stamp
    turned: bool = False

    def refined(self, facets: Facets, reach: float) -> Facets:
        return self.stamp.refined(facets)

    def across(self, spots: Spots) -> Floats:
        found = self.stamp.told(spots).across
        return found if self.turned else -found

    def way(self, spots: Spots) -> Floats:
        found = self.stamp.told(spots).way
        return found if self.turned else -found

    @property
    def leads(self) -> Floats:
        """Out of the skin amid the outlines, for what lies within them."""
        piece = self.stamp.chart.piece
        out = piece.normals[int((piece.flat**2).sum(axis=1).argmin())]
        return np.asarray(out if self.turned else -out)

    def stood(self, moved: Moved) -> OutlineDivider:
        return OutlineDivider(self.stamp.stood(moved), self.turned)


@dataclass(frozen=True, eq=False)
class Cut:
    """What stays of a surface beside a divider, half a gap away from it.

    edge : how it is finished: left open, closed across, with a wall, with a lip or (`female`) its groove, or with its wall's edge rolled
    wall : thickness; lip : how far a lip reaches over
    """

    key: str
    names: str
    divider: Divider
    gap: float = 0.0
    edge: Edge = "wall"
    wall: float = 1.6
    lip: float = 1.0
    female: bool = False

    @property
    def ends(self) -> tuple[float, float, float]:
        """Where skin and inside end, across, and the depth of the shoulder between them."""
        skin = -self.gap / 2 - (self.wall / 2 if self.edge == "rolled" else 0.0)  # a roll comes up to the gap
        if self.edge != "lip":
            return skin, skin, self.wall
        if self.female:
            return skin, skin - self.lip - PLAY, (self.wall - PLAY) / 2
        return skin, skin + self.gap + self.lip - PLAY, (self.wall + PLAY) / 2

    @property
    def hollow(self) -> bool:
        """Whether it gives its body a wall."""
        return self.edge in ("wall", "lip", "rolled")

    @property
    def fine(self) -> str:
        """Names how fine it needs the surface."""
        return self.key

    def refined(self, facets: Facets) -> Facets:
        """Facets as fine as it needs them."""
        skin, inside, _ = self.ends
        return self.divider.refined(facets, max(abs(skin), abs(inside)))

    def sliced(self, facets: Facets) -> Facets:
        """Such facets with edges along all lines it needs."""
        skin, inside, _ = self.ends
        levels = np.unique([skin, inside])
        return facets.sliced(self.divider.across(facets.spots), levels, self.divider.across, 10 * _EPS)[0]

    def stood(self, moved: Moved) -> Cut:
        """It after its body was stood elsewhere."""
        by = moved.scale
        divider = self.divider.stood(moved)
        return replace(self, divider=divider, gap=self.gap * by, wall=self.wall * by, lip=self.lip * by)

    def other_side(self) -> Cut:
        """The cut that leaves what this one takes away."""
        divider: Any = self.divider
        return replace(
            self, key=f"{self.key}/other", names=f"{self.names}/other", female=not self.female,
            divider=replace(divider, turned=not divider.turned),
        )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Surfaced:
    """A surface as it is shown: V points, T triangles.

    corners : (T, 3); normals : (T, 3, 3) at each corner; region : (T,) differs where it has an edge
    below : (T,) face of the ground; made : (T,) number of what a triangle was made by: a relief, or after them a cut; -1 the ground
    closed : whether it has an inside
    """

    points: Floats
    corners: Ints
    normals: Floats
    region: Ints
    below: Ints
    made: Ints
    closed: bool


def wall_of(cuts: tuple[Cut, ...]) -> float | None:
    """How thick a wall cuts give a body, None where they give it none: the first one says it for all."""
    return next((cut.wall for cut in cuts if cut.hollow), None)


def surfaced(found: Raised, cuts: tuple[Cut, ...], closed: bool) -> Surfaced:
    """A raised ground without what cuts take away, and their edges.

    Raises
    ------
    HollowMarbleError
        where nothing stays.
    """
    facets = found.facets
    below = facets.ground.probed.faces[facets.source]
    if not cuts:
        return Surfaced(found.points, facets.corners, found.normals, found.region, below, found.owner, closed)
    return _Shell(found, cuts, below).made(closed)


class _Shell:
    def __init__(self, found: Raised, cuts: tuple[Cut, ...], below: Ints) -> None:
        self.found, self.cuts, self.mitres, self.below = found, cuts, found.mitres, below
        self.corners = found.facets.corners
        self.across = [_sided(cut.divider.across(found.facets.spots), found.facets) for cut in cuts]
        self.points: list[Floats] = [found.points]
        self.sheets: dict[float, int] = {}
        self.parts: list[tuple[Ints, Floats, Ints, Ints, Ints]] = []
        self.count = len(found.points)
        self.first = int(found.owner.max(initial=-1)) + 1

    def made(self, closed: bool) -> Surfaced:
        found, cuts = self.found, self.cuts
        ends = [cut.ends for cut in cuts]
        skin = self._within([end[0] for end in ends])
        if not skin.any():
            raise HollowMarbleError("Nothing of the part is left on that side of the line. Keep the other side.")
        self._put(self.corners[skin], found.normals[skin], found.region[skin], self.below[skin], found.owner[skin])
        wall = wall_of(cuts)
        if wall is not None:
            self._wall(skin, wall, ends)
        else:
            for cut, own, number in zip(cuts, self._rims(skin, [end[0] for end in ends]), range(len(cuts))):
                if cut.edge == "closed":
                    self._lid(own, number)
        whole = wall is not None or all(cut.edge == "closed" for cut in cuts)
        return self._all(closed and whole)

    def _wall(self, skin: NDArray[np.bool_], wall: float, ends: list[tuple[float, float, float]]) -> None:
        inside = self._within([end[1] for end in ends])
        self._copy(inside, wall, True, self.first + len(self.cuts))
        outer, inner = self._rims(skin, [end[0] for end in ends]), self._rims(inside, [end[1] for end in ends])
        for number, (cut, own, (_, _, shoulder)) in enumerate(zip(self.cuts, outer, ends)):
            if cut.edge == "rolled":
                self._roll(own, wall, number)
                continue
            deep = shoulder if cut.edge == "lip" else wall
            self._strip(own, 0.0, deep, number)
            if cut.edge != "lip":
                continue
            between = inside & ~skin if ends[number][1] > ends[number][0] else skin & ~inside
            self._copy(between, shoulder, ends[number][1] < ends[number][0], self.first + number)
            self._strip(inner[number], shoulder, wall, number)

    def _within(self, levels: list[float]) -> NDArray[np.bool_]:
        """(T,) triangles on the side that stays, of all cuts: each where the corner is that is furthest from the cut, for the others may lie
        on it, and a hair on either side."""
        kept = np.ones(len(self.corners), bool)
        for across, level in zip(self.across, levels):
            off = across[self.corners] - level
            furthest = np.abs(off).argmax(axis=1)
            kept &= off[np.arange(len(off)), furthest] < 0
        return kept

    def _rims(self, kept: NDArray[np.bool_], levels: list[float]) -> list[Ints]:
        """The rim of each cut, every edge with one of them.

        Raises
        ------
        HollowMarbleError
            where two cuts run along one line.
        """
        rims: list[Ints] = []
        taken: set[tuple[int, int]] = set()
        for number, level in enumerate(levels):
            rim = self._rim(kept, number, level)
            own = np.array([tuple(edge) not in taken for edge in rim.tolist()], bool)
            if len(rim) and own.mean() < 0.5:
                raise HollowMarbleError(
                    "The part is cut along this line already. Lay the cut elsewhere, or take the first one out."
                )
            taken |= {(a, b) for a, b in rim.tolist()}
            rims.append(rim[own])
        return rims

    def _rim(self, kept: NDArray[np.bool_], number: int, level: float) -> Ints:
        """(E, 2) directed edges of kept triangles along a cut's line, that no other kept triangle shares."""
        corners = self.corners[kept]
        sides = np.stack([corners, np.roll(corners, -1, axis=1)], axis=2).reshape(-1, 2)
        on = np.abs(self.across[number] - level) < 20 * _EPS
        sides = sides[on[sides[:, 0]] & on[sides[:, 1]]]
        names, back = sides @ np.array([self.count, 1]), sides @ np.array([1, self.count])
        return np.asarray(sides[~np.isin(names, back)])

    def _sheet(self, depth: float) -> int:
        """The first point of the ground's copy at a depth."""
        if depth == 0.0:
            return 0
        if depth not in self.sheets:
            self.sheets[depth] = sum(map(len, self.points))
            self.points.append(self.found.facets.spots.points - depth * self.mitres)
        return self.sheets[depth]

    def _copy(self, chosen: NDArray[np.bool_], depth: float, inward: bool, made: int) -> None:
        corners = self.corners[chosen] + self._sheet(depth)
        normals = self.found.ground_normals[chosen]
        if inward:
            corners, normals = corners[:, ::-1], -normals[:, ::-1]
        region = np.full(len(corners), -2 if inward else -3)
        self._put(corners, normals, region, self.below[chosen], np.full(len(corners), made))

    def _strip(self, edges: Ints, top: float, bottom: float, number: int) -> None:
        """An upright strip below edges, from one depth to another."""
        if not len(edges):
            return
        a, b = edges.T
        high, low = self._sheet(top), self._sheet(bottom)
        corners = np.concatenate(
            [np.stack([b + high, a + high, a + low], 1), np.stack([b + high, a + low, b + low], 1)]
        )
        way = self._ways(number)
        normals = np.concatenate([np.stack([way[b], way[a], way[a]], 1), np.stack([way[b], way[a], way[b]], 1)])
        self._put_edge(corners, normals, number, 1 + round(1000 * top))

    def _roll(self, edges: Ints, wall: float, number: int) -> None:
        """A half round from the skin to the inside."""
        if not len(edges):
            return
        used, where = np.unique(edges, return_inverse=True)
        a, b = where.reshape(-1, 2).T
        way, up = self._ways(number)[used], self.mitres[used]
        spots = self.found.facets.spots.points[used]
        radius = wall / 2
        rings = [used, *(sum(map(len, self.points)) + k * len(used) + np.arange(len(used)) for k in range(_ROLL - 1))]
        facing = [up]
        for k in range(1, _ROLL):
            t = np.pi * k / _ROLL
            facing.append(np.cos(t) * up + np.sin(t) * way)
            self.points.append(spots + radius * (np.sin(t) * way + (np.cos(t) - 1) * up))
        rings.append(used + self._sheet(wall))
        facing.append(-up)
        for k in range(_ROLL):
            p, q, n, m = rings[k], rings[k + 1], facing[k], facing[k + 1]
            corners = np.concatenate([np.stack([p[b], p[a], q[a]], 1), np.stack([p[b], q[a], q[b]], 1)])
            normals = np.concatenate([np.stack([n[b], n[a], m[a]], 1), np.stack([n[b], m[a], m[b]], 1)])
            self._put_edge(corners, normals, number, 0)

    def _lid(self, edges: Ints, number: int) -> None:
        """Closed across, loop by loop; a loop within another of the same cut is an opening of it."""
        import manifold3d

        loops = _loops(edges)
        if not loops:
            return
        points = self.found.points
        every = np.concatenate(loops)
        middle = points[every].mean(axis=0)
        area = sum(
            (np.cross(points[loop] - middle, np.roll(points[loop], -1, axis=0) - middle).sum(axis=0) for loop in loops),
            np.zeros(3),
        )
        out = area / max(float(np.linalg.norm(area)), 1e-12)
        right = np.cross(out, np.eye(3)[int(np.abs(out).argmin())])
        right /= np.linalg.norm(right)
        frame = np.stack([right, np.cross(out, right)], axis=1)
        flat = [(points[loop] - middle) @ frame for loop in loops]
        corners = every[np.asarray(manifold3d.triangulate(flat, 1e-9, True))]
        normals = np.broadcast_to(-out, (len(corners), 3, 3))
        self._put_edge(corners[:, ::-1].astype(np.int64), normals, number, 7)

    def _ways(self, number: int) -> Floats:
        return self.cuts[number].divider.way(self.found.facets.spots)

    def _put(self, corners: Ints, normals: Floats, region: Ints, below: Ints, made: Ints) -> None:
        self.parts.append((corners, normals, region, below, made))

    def _put_edge(self, corners: Ints, normals: Floats, number: int, region: int) -> None:
        count = len(corners)
        zero = np.zeros(count, np.int64)
        self._put(corners, normals, zero - 10 - region, zero, zero + self.first + number)

    def _all(self, closed: bool) -> Surfaced:
        corners, normals, region, below, made = (np.concatenate(arrays) for arrays in zip(*self.parts))
        points = np.concatenate(self.points)
        used, where = np.unique(corners, return_inverse=True)
        _, region = np.unique(region, return_inverse=True)
        return Surfaced(points[used], where.reshape(-1, 3), normals, region.reshape(-1), below, made, closed)


def _sided(across: Floats, facets: Facets) -> Floats:
    """A distance that is told near its line only, made finite everywhere: whatever hangs together beyond has the sign of its border."""
    far = ~np.isfinite(across)
    if not far.any():
        return across
    edges = facets.edges()
    one, other = far[edges.T]
    inner = edges[one & other]
    count = len(across)
    graph = coo_matrix((np.ones(len(inner)), (inner[:, 0], inner[:, 1])), shape=(count, count))
    _, group = connected_components(graph, directed=False)
    rim = edges[one != other]
    out, near = np.where(far[rim[:, 0]], rim[:, 0], rim[:, 1]), np.where(far[rim[:, 0]], rim[:, 1], rim[:, 0])
    sign = np.zeros(count)
    np.add.at(sign, group[out], np.sign(across[near]))
    return np.where(far, 1e6 * np.sign(sign[group]), across)


def _loops(edges: Ints) -> list[Ints]:
    """Directed edges (E, 2) as closed loops of vertices; what does not close is left out."""
    following = dict(edges.tolist())
    loops = []
    while following:
        first, here = following.popitem()
        run = [first]
        while here != first and here in following:
            run.append(here)
            here = following.pop(here)
        if here == first and len(run) > 2:
            loops.append(np.array(run))
    return loops
