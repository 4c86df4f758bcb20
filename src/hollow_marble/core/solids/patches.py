"""A cage's limit surface as exact B-spline faces.

Three kinds, by what lies around a face of the cage:

* all corners regular: a piece of a uniform bicubic B-spline (Catmull & Clark 1978). Such faces are merged into rectangles, one surface each
* one corner at which other than four faces meet: the limit is piecewise bicubic on ever smaller rings about it (Stam 1998). A spline
  whose knots are graded towards the corner (0, 2⁻ᴿ, …, ½, 1) holds all rings down to 2⁻ᴿ exactly: its poles are the blossoms of the rings'
  polynomials (Ramshaw 1987). The last cell is the spline's own; its edges leave the corner in the limit's tangent plane
* the rest (creases, borders, faces of other than four corners): bicubic cells from exact positions, tangents and twists of the limit
  at dyadic places; exact wherever the limit is bicubic on them

Surfaces share their edges: each edge is one curve, with its places on both.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.neighbourhood import (
    Neighbourhoods,
    corner_sharpness,
    half_edge_sharpness,
    read_neighbourhoods,
)
from hollow_marble.core.cage.refining import refined
from hollow_marble.core.cage.skin import SkinPlan, derivatives, plan_skin
from hollow_marble.core.cage.stencils import grid_width, limit_stencils
from hollow_marble.core.solids.edges import Edge, Side, loop_of, merged
from hollow_marble.core.solids.rings import blossom, ring_weights

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

_LEVEL = 5
"""Refinements of what is sampled: cells of 1/8, finer towards odd corners."""
_UNIFORM = 3
MOST_SIDE = 64


@dataclass(frozen=True, eq=False)
class Surface:
    """A bicubic B-spline surface: knots of both directions, poles (nu, nv, 3). `faces` are the cage's that lie on it."""

    knots_u: Array
    knots_v: Array
    poles: Array
    faces: tuple[int, ...]

    def at(self, uv: Array, du: int = 0, dv: int = 0) -> Array:
        """(n, 3) points, or derivatives, at (n, 2) places."""
        rows_u = BSpline.design_matrix(uv[:, 0], self.knots_u, 3) if not du else _slopes(self.knots_u, uv[:, 0], du)
        rows_v = BSpline.design_matrix(uv[:, 1], self.knots_v, 3) if not dv else _slopes(self.knots_v, uv[:, 1], dv)
        a, b = (np.asarray(rows.todense()) if hasattr(rows, "todense") else rows for rows in (rows_u, rows_v))
        return np.asarray(np.einsum("ni,nj,ijk->nk", a, b, self.poles, optimize=True))

    def swept_volume(self) -> float:
        """∫ S · (S_u × S_v) / 3 over it, mm³: what it encloses with the origin."""
        nodes, weights = np.polynomial.legendre.leggauss(5)  # exact for the integrand's degree of 8 in each direction
        lines = []
        for knots in (self.knots_u, self.knots_v):
            breaks = np.unique(knots)
            half = np.diff(breaks) / 2
            at = (breaks[:-1, None] + half[:, None] * (1 + nodes)).ravel()
            lines.append((_slopes(knots, at, 0), _slopes(knots, at, 1), (half[:, None] * weights).ravel()))
        (u, du, wu), (v, dv, wv) = lines
        place, along_u, along_v = (
            np.tensordot(np.tensordot(a, self.poles, axes=(1, 0)), b, axes=(1, 1))
            for a, b in ((u, v), (du, v), (u, dv))
        )
        inside = (place * np.cross(along_u, along_v, axis=1)).sum(axis=1)
        return float(wu @ inside @ wv) / 3


@dataclass(frozen=True, eq=False)
class Patches:
    """Surfaces that share edges, and how well they keep to the limit.

    corners : (C, 3); loops : edges of each surface in order, with +1 or -1 for the way they run
    cage_faces : faces of the cage that lie on each surface
    """

    surfaces: tuple[Surface, ...]
    edges: tuple[Edge, ...]
    loops: tuple[tuple[tuple[int, int], ...], ...]
    corners: Array
    cage_faces: tuple[tuple[int, ...], ...]

    @property
    def volume(self) -> float:
        """What they enclose where they close, mm³: Gauss's theorem, by quadrature that is exact for bicubic surfaces."""
        return sum(surface.swept_volume() for surface in self.surfaces)


@dataclass(frozen=True)
class Fidelity:
    """How well patches keep to the limit of their cage.

    off : greatest distance from it, mm; jumps : greatest angle in degrees between neighbours' normals by how many faces meet at the nearer
    end (4 where it is regular)
    """

    off: float
    jumps: dict[int, float]


def patches_of(cage: Cage) -> Patches:
    """The faces of a cage's limit surface. Where a face has other than four corners, or two odd ones, the cage is refined first."""
    maker = _Maker(cage)
    if maker.apart:
        return maker.made()
    found = _Maker(refined(cage)).made()
    face_of = cage.topology.face_of  # a refined cage has a face for each corner of a face, in their order
    faces = tuple(tuple(sorted({int(face_of[corner]) for corner in piece})) for piece in found.cage_faces)
    return replace(found, cage_faces=faces)


def fidelity_of(cage: Cage) -> Fidelity:
    """How well the faces of a cage's limit surface keep to it."""
    maker = _Maker(cage)
    return (maker if maker.apart else _Maker(refined(cage))).fidelity()


@dataclass
class _Cell:
    """A face of the cage, or a grid of one with other than four corners, on a surface: `origin` + x `across` + y `up` in its parameters,
    where x, y are the skin's own."""

    surface: int
    origin: Array
    across: Array
    up: Array


class _Maker:
    def __init__(self, cage: Cage) -> None:
        self.cage, self.topology = cage, cage.topology
        t = self.topology
        self.tail, self.head = cage.face_points, cage.face_points[t.next]
        self.sizes = np.diff(cage.face_starts)
        sharp = half_edge_sharpness(cage)
        creased = np.zeros(len(cage.points), bool)
        creased[self.tail[sharp > 0]] = True
        creased[self.head[sharp > 0]] = True
        creased[corner_sharpness(cage) > 0] = True
        self.valence = np.bincount(cage.face_points, minlength=len(cage.points))
        quad = np.ones(len(cage.points), bool)
        odd_face = self.sizes[t.face_of] != 4
        quad[self.tail[odd_face]] = False
        self.clean = ~creased & quad
        regular = self.clean & (self.valence == 4)
        count_regular = np.add.reduceat(regular[self.tail].astype(int), cage.face_starts[:-1])
        count_clean = np.add.reduceat(self.clean[self.tail].astype(int), cage.face_starts[:-1])
        self.regular = (self.sizes == 4) & (count_regular == 4)
        self.one_odd = (self.sizes == 4) & (count_clean == 4) & (count_regular == 3)
        self.apart = bool((self.sizes == 4).all() and (count_regular[count_clean == 4] >= 3).all())
        self.odd_point = ~regular
        self.surfaces: list[Surface] = []
        self.cells: dict[tuple[int, int], _Cell] = {}

    def made(self) -> Patches:
        self._rectangles()
        self._rings()
        self._sampled()
        edges, loops, corners = self._edges()
        faces = tuple(surface.faces for surface in self.surfaces)
        return Patches(tuple(self.surfaces), edges, loops, corners, faces)

    def fidelity(self) -> Fidelity:
        """How well what is made keeps to the limit."""
        made = self.made()
        return Fidelity(self._off(), self._jumps(made.edges))

    # regular faces

    def _blocks(self, halves: Ints) -> Ints:
        """(n, 4, 4) control points around regular faces, by the half-edge at their lower side: [across, up]."""
        t = self.topology
        block = np.empty((len(halves), 4, 4), np.int64)
        h = halves
        places = (
            ((1, 1), (1, 0), (0, 0), (0, 1)),
            ((2, 1), (3, 1), (3, 0), (2, 0)),
            ((2, 2), (2, 3), (3, 3), (3, 2)),
            ((1, 2), (0, 2), (0, 3), (1, 3)),
        )
        for own, down, diagonal, left in places:
            d = t.next[t.twin[h]]
            g = t.next[t.twin[d]]
            block[:, own[0], own[1]] = self.tail[h]
            block[:, down[0], down[1]] = self.head[d]
            block[:, diagonal[0], diagonal[1]] = self.head[t.next[g]]
            block[:, left[0], left[1]] = self.head[g]
            h = t.next[h]
        return block

    def _rectangles(self) -> None:
        """Merge regular faces into rectangles as large as they go without meeting themselves."""
        t, left = self.topology, self.regular.copy()
        for face in range(self.cage.face_count):
            if not left[face]:
                continue
            best: list[list[int]] = []
            for turn in range(2):
                first = int(self.cage.face_starts[face]) + turn
                found = self._grown(first, left)
                if len(found) * len(found[0]) > len(best) * (len(best[0]) if best else 0):
                    best = found
            rows, columns = len(best), len(best[0])
            halves = np.array(best)
            blocks = self._blocks(halves.ravel()).reshape(rows, columns, 4, 4)
            net = np.empty((columns + 3, rows + 3), np.int64)
            for j in range(rows):
                for i in range(columns):
                    net[i : i + 4, j : j + 4] = blocks[j, i]
            number = len(self.surfaces)
            faces = t.face_of[halves]
            poles, knots_u, knots_v = _clamped_net(self.cage.points[net])
            self.surfaces.append(Surface(knots_u, knots_v, poles, tuple(int(f) for f in faces.ravel())))
            for j in range(rows):
                for i in range(columns):
                    self._seat(int(halves[j, i]), number, np.array([float(i), float(j)]), 1.0)
            left[faces] = False

    def _seat(self, half: int, surface: int, corner: Array, size: float) -> None:
        """A four-cornered face whose half-edge runs along the bottom of a square of a surface's parameters."""
        face = int(self.topology.face_of[half])
        turned = (half - int(self.cage.face_starts[face])) % 4
        square = corner + size * np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
        at = [square[(k - turned) % 4] for k in range(4)]
        self.cells[face, 0] = _Cell(surface, at[0], at[1] - at[0], at[3] - at[0])

    def _grown(self, first: int, left: NDArray[np.bool_]) -> list[list[int]]:
        """Half-edges at the bottoms of a rectangle of faces, row by row, that begins at a face."""
        t = self.topology
        row, seen = [first], {int(t.face_of[first])}
        while len(row) < MOST_SIDE:
            onward = int(t.next[t.twin[t.next[row[-1]]]])
            face = int(t.face_of[onward])
            if not left[face] or face in seen:
                break
            row.append(onward)
            seen.add(face)
        back = int(t.next[t.twin[t.next[row[-1]]]])
        if len(row) > 1 and back == row[0]:  # it has come round: half of it, so that no surface meets itself
            row = row[: (len(row) + 1) // 2]
        rows, seen = [row], {int(t.face_of[h]) for h in row}
        while len(rows) < MOST_SIDE:
            above = [int(t.twin[t.next[t.next[h]]]) for h in rows[-1]]
            faces = [int(t.face_of[h]) for h in above]
            if not all(left[f] for f in faces) or seen & set(faces):
                break
            rows.append(above)
            seen |= set(faces)
        ends = [int(t.twin[t.next[t.next[h]]]) for h in rows[-1]]
        if len(rows) > 1 and set(ends) & set(rows[0]):
            rows = rows[: (len(rows) + 1) // 2]
        return rows

    # faces with one odd corner

    def _rings(self) -> None:
        for face in np.flatnonzero(self.one_odd).tolist():
            halves = np.arange(self.cage.face_starts[face], self.cage.face_starts[face + 1])
            half = int(halves[self.odd_point[self.tail[halves]]][0])
            valence = int(self.valence[self.tail[half]])
            around = self.cage.points[self._around(half, valence)]
            weights, knots = ring_weights(valence)
            poles = (weights @ around).reshape(len(knots) - 4, len(knots) - 4, 3)
            number = len(self.surfaces)
            self.surfaces.append(Surface(knots, knots, _in_tangent_plane(poles, around, valence), (face,)))
            self._seat(half, number, np.zeros(2), 1.0)

    def _around(self, half: int, valence: int) -> Ints:
        """(2n + 8,) control points: the odd one, edge and face points about it, and seven beyond the face's other corners."""
        t = self.topology
        found, spoke = [int(self.tail[half])], half
        for _ in range(valence):
            found += [int(self.head[spoke]), int(self.head[t.next[spoke]])]
            spoke = int(t.twin[t.previous[spoke]])
        h = half
        for _ in range(3):
            h = int(t.next[h])
            d = int(t.next[t.twin[h]])
            g = int(t.next[t.twin[d]])
            found += [int(self.head[d]), int(self.head[t.next[g]]), int(self.head[g])]
        # the first corner's last and the third corner's first lie about the odd point: they are there already
        ring = 1 + 2 * valence
        return np.array([*found[:ring], *(found[ring + k] for k in (0, 1, 3, 4, 5, 7, 8))])

    # everything else

    def _sampled(self) -> None:
        rest = np.flatnonzero(~(self.regular | self.one_odd))
        if not len(rest):
            return
        readings = read_neighbourhoods(self.cage)
        known: dict[bytes, Array] = {}
        for face in rest.tolist():
            samples, curved = self._limit(readings, face, known)
            corners = int(self.sizes[face])
            for grid in range(len(samples)):
                width = grid_width(corners, _LEVEL)
                odd = self._odd_corners(face, grid)
                number = len(self.surfaces)
                surface = _from_samples(
                    samples[grid].reshape(width, width, 4, 3), curved[grid].reshape(width, width), odd
                )
                self.surfaces.append(Surface(*surface, (face,)))
                self.cells[face, grid] = _Cell(number, np.zeros(2), np.array([1.0, 0.0]), np.array([0.0, 1.0]))

    def _limit(self, readings: Neighbourhoods, face: int, known: dict[bytes, Array]) -> tuple[Array, NDArray[np.bool_]]:
        """Position, u, v, uv of the limit on a face's grids, (grids, points, 4, 3), and where the last is exact."""
        begin, end = readings.starts[face : face + 2]
        text = readings.text[begin:end]
        key = text.tobytes()
        if key not in known:
            known[key] = limit_stencils(text, _LEVEL)  # type: ignore[assignment]
        weights, curved = known[key]
        supports = readings.supports[readings.support_starts[face] : readings.support_starts[face + 1]]
        found = np.einsum("gprk,kd->gprd", weights[:, :, [0, 1, 2, 4]], self.cage.points[supports])
        across = grid_width(int(self.sizes[face]), _LEVEL) - 1
        return found * np.array([1.0, across, across, across**2])[:, None], curved

    def _odd_corners(self, face: int, grid: int) -> tuple[bool, bool, bool, bool]:
        """Which corners of a grid the limit is not bicubic about."""
        at = self.cage.face_starts[face]
        if self.sizes[face] == 4:
            a, b, c, d = (bool(self._odd(int(p))) for p in self.cage.face_points[at : at + 4])
            return a, b, c, d
        return bool(self._odd(int(self.cage.face_points[at + grid]))), False, True, False

    def _odd(self, point: int) -> bool:
        return bool(self.clean[point] and self.valence[point] != 4) or not self.clean[point]

    # edges

    def _sides(self) -> dict[tuple[str, int, int], list[tuple[tuple[str, int], tuple[str, int], Side]]]:
        """The sides of all cells by what they are a side of: an edge of the cage, half of one, a spoke of a face with other than four
        corners; with the corners they run from and to."""
        t = self.topology
        found: dict[tuple[str, int, int], list[tuple[tuple[str, int], tuple[str, int], Side]]] = {}
        halved = np.zeros(len(t.edges), bool)
        halved[t.edge_of[self.sizes[t.face_of] != 4]] = True

        def add(
            key: tuple[str, int, int], first: tuple[str, int], last: tuple[str, int], cell: _Cell, a: Array, b: Array
        ) -> None:
            begin, end = (cell.origin + xy[0] * cell.across + xy[1] * cell.up for xy in (a, b))
            found.setdefault(key, []).append((first, last, Side(cell.surface, begin, end)))

        unit = np.array([[0.0, 0], [1, 0], [1, 1], [0, 1]])
        for (face, grid), cell in self.cells.items():
            start = int(self.cage.face_starts[face])
            if self.sizes[face] == 4:
                for k in range(4):
                    half, a, b = start + k, unit[k], unit[(k + 1) % 4]
                    edge, tail, head = int(t.edge_of[half]), int(self.tail[half]), int(self.head[half])
                    if not halved[edge]:
                        add(("edge", edge, 0), ("point", tail), ("point", head), cell, a, b)
                    else:
                        middle = (a + b) / 2
                        add(("half", edge, tail), ("point", tail), ("middle", edge), cell, a, middle)
                        add(("half", edge, head), ("middle", edge), ("point", head), cell, middle, b)
                continue
            count = int(self.sizes[face])
            here, before = start + grid, start + (grid - 1) % count
            edge, other, point = int(t.edge_of[here]), int(t.edge_of[before]), int(self.tail[here])
            add(("half", edge, point), ("point", point), ("middle", edge), cell, unit[0], unit[1])
            add(("spoke", face, edge), ("middle", edge), ("centre", face), cell, unit[1], unit[2])
            add(("spoke", face, other), ("centre", face), ("middle", other), cell, unit[2], unit[3])
            add(("half", other, point), ("middle", other), ("point", point), cell, unit[3], unit[0])
        return found

    def _edges(self) -> tuple[tuple[Edge, ...], tuple[tuple[tuple[int, int], ...], ...], Array]:
        """Edges between surfaces, the loop of each surface, and the corners."""
        names: dict[tuple[str, int], int] = {}
        places: list[Array] = []
        pieces: list[tuple[int, int, tuple[Side, ...]]] = []
        self.sharp: list[bool] = []
        rough = half_edge_sharpness(self.cage)
        rough_edge = np.zeros(len(self.topology.edges), bool)
        rough_edge[self.topology.edge_of[rough > 0]] = True
        for key, sides in self._sides().items():
            if len(sides) == 2 and sides[0][2].surface == sides[1][2].surface:
                continue  # within a surface
            first, last, side = sides[0]
            for name, at in ((first, side.begin), (last, side.end)):
                if name not in names:
                    names[name] = len(places)
                    places.append(self.surfaces[side.surface].at(at[None])[0])
            both = [side]
            for other_first, _other_last, other in sides[1:]:
                both.append(other if other_first == first else Side(other.surface, other.end, other.begin))
            pieces.append((names[first], names[last], tuple(both)))
            self.sharp.append(key[0] != "spoke" and bool(rough_edge[key[1]]))
        edges, self.sharp = merged(pieces, self.sharp)
        self.valence_of = np.full(len(places), 4)
        for (kind, number), corner in names.items():
            if kind == "point":
                self.valence_of[corner] = self.valence[number] if self.clean[number] else 0
            elif kind == "centre":
                self.valence_of[corner] = self.sizes[number]
        loops = [loop_of(number, edges) for number in range(len(self.surfaces))]
        return edges, tuple(loops), np.array(places)

    # how well it keeps to the limit

    def _off(self) -> float:
        level = 3
        plan: SkinPlan = plan_skin(self.cage, level)
        exact = derivatives(plan, self.cage.points)[:, 0]
        worst = 0.0
        grid_of = np.arange(len(plan.patch_face)) - np.searchsorted(plan.patch_face, plan.patch_face)
        by_surface: dict[int, list[tuple[Array, Array]]] = {}
        for patch, (face, grid) in enumerate(zip(plan.patch_face.tolist(), grid_of.tolist())):
            width = int(plan.widths[patch])
            line = np.linspace(0, 1, width)
            y, x = (v.ravel() for v in np.meshgrid(line, line, indexing="ij"))
            cell = self.cells[face, grid]
            uv = cell.origin + x[:, None] * cell.across + y[:, None] * cell.up
            rows = slice(int(plan.point_starts[patch]), int(plan.point_starts[patch + 1]))
            by_surface.setdefault(cell.surface, []).append((uv, exact[rows]))
        for number, samples in by_surface.items():
            uv, due = (np.vstack(v) for v in zip(*samples))
            worst = max(worst, float(np.linalg.norm(self.surfaces[number].at(uv) - due, axis=1).max()))
        return worst

    def _jumps(self, edges: tuple[Edge, ...]) -> dict[int, float]:
        """Greatest angle between normals across edges that are not creased, by the valence at the nearer end."""
        steps = np.array([2.0**-k for k in range(1, 13)])
        t = np.unique(np.concatenate([steps, 1 - steps, 0.7 * steps, 1 - 0.7 * steps]))
        found: dict[int, float] = {}
        wanted: dict[int, list[Array]] = {}
        spots: list[tuple[int, int, int]] = []
        smooth = [edge for edge, sharp in zip(edges, self.sharp) if len(edge.sides) == 2 and not sharp]
        for edge in smooth:
            for side in edge.sides:
                mine = wanted.setdefault(side.surface, [])
                spots.append((side.surface, sum(map(len, mine)), len(t)))
                mine.append(side.begin + t[:, None] * (side.end - side.begin))
        normals = {}
        for surface, places in wanted.items():
            uv = np.vstack(places)
            normal = np.cross(self.surfaces[surface].at(uv, du=1), self.surfaces[surface].at(uv, dv=1))
            normals[surface] = normal / np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-300)
        for number, edge in enumerate(smooth):
            (sa, a, many), (sb, b, _) = spots[2 * number], spots[2 * number + 1]
            one, other = normals[sa][a : a + many], normals[sb][b : b + many]
            angle = np.degrees(2 * np.arcsin(np.clip(np.linalg.norm(one - other, axis=1) / 2, 0, 1)))
            for end, near in ((edge.first, t < 0.5), (edge.last, t >= 0.5)):
                valence = int(self.valence_of[end])
                found[valence] = max(found.get(valence, 0.0), float(angle[near].max()))
        return found


def _slopes(knots: Array, at: Array, order: int) -> Array:
    """(n, m) derivatives of all B-splines at places."""
    count = len(knots) - 4
    spline = BSpline(knots, np.eye(count), 3)
    return np.asarray(spline(at, order))


def _clamped_net(net: Array) -> tuple[Array, Array, Array]:
    """A uniform net (m + 3, n + 3, 3) as poles of a surface that begins and ends at its border, with its knots."""
    a, b = (_clamping(size - 3) for size in net.shape[:2])
    poles = np.einsum("ai,bj,ijk->abk", a, b, net, optimize=True)
    knots = [
        np.concatenate([np.zeros(3), np.arange(size - 2), np.full(3, size - 3)]).astype(float) for size in net.shape[:2]
    ]
    return poles, knots[0], knots[1]


@lru_cache(maxsize=200)
def _clamping(count: int) -> Array:
    """(count + 3, count + 3) from uniform control points over `count` intervals to those of knots that are fourfold at the ends."""
    knots = np.concatenate([np.zeros(3), np.arange(count + 1), np.full(3, count)])
    found = np.zeros((count + 3, count + 3))
    for pole in range(count + 3):
        arguments = knots[pole + 1 : pole + 4]
        interval = int(min(max(arguments[0], 0), count - 1))
        found[pole, interval : interval + 4] = blossom(arguments - interval)
    return found


def _in_tangent_plane(poles: Array, around: Array, valence: int) -> Array:
    """Poles beside the odd corner brought into the limit's tangent plane there."""
    angle = 2 * np.pi * np.arange(valence) / valence
    n = valence
    wide = 1 + np.cos(2 * np.pi / n) + np.cos(np.pi / n) * np.sqrt(2 * (9 + np.cos(2 * np.pi / n)))
    tangents = []
    for phase in (0.0, 2 * np.pi / n):  # Halstead, Kass & DeRose 1993, appendix
        spokes = wide * np.cos(angle - phase)
        faces = np.cos(angle - phase) + np.cos(angle + 2 * np.pi / n - phase)
        tangents.append(spokes @ around[1 : 1 + 2 * n : 2] + faces @ around[2 : 2 + 2 * n : 2])
    normal = np.cross(*tangents)
    normal /= max(float(np.linalg.norm(normal)), 1e-300)
    result = poles.copy()
    for a, b in ((1, 0), (0, 1)):
        result[a, b] -= ((poles[a, b] - poles[0, 0]) @ normal) * normal
    return result


def _from_samples(
    samples: Array, curved: NDArray[np.bool_], odd: tuple[bool, bool, bool, bool]
) -> tuple[Array, Array, Array]:
    """A surface of bicubic cells from position, u, v, uv (w, w, 4, 3), [up, across]; knots finer towards odd corners."""
    width = len(samples)
    level = round(np.log2(width - 1))
    step = 1 << max(level - _UNIFORM, 0)
    at = set(range(0, width, step))
    at |= {1 << k for k in range(level) if 1 << k < step}
    at |= {width - 1 - (1 << k) for k in range(level) if 1 << k < step}
    nodes = np.array(sorted(at))
    x = nodes / (width - 1)
    gap = np.diff(x) / 3
    back, on = np.concatenate([[0.0], gap]), np.concatenate([gap, [0.0]])
    shift = np.stack([-back, on], axis=1).ravel()
    twice = np.repeat(nodes, 2)
    cells = samples[np.ix_(twice, twice)]  # [up, across]
    twist = np.where(curved[np.ix_(twice, twice)][..., None], cells[:, :, 3], 0.0)
    poles = (
        cells[:, :, 0]
        + shift[None, :, None] * cells[:, :, 1]
        + shift[:, None, None] * cells[:, :, 2]
        + (shift[:, None] * shift[None, :])[..., None] * twist
    )
    poles = poles.transpose(1, 0, 2).copy()  # [across, up]
    for is_odd, (i, j) in zip(odd, ((0, 0), (1, 0), (1, 1), (0, 1))):
        if is_odd:
            _corner_eased(poles, samples, i, j)
    knots = np.concatenate([np.repeat(x[:1], 4), np.repeat(x[1:-1], 2), np.repeat(x[-1:], 4)])
    return knots, knots, poles


def _corner_eased(poles: Array, samples: Array, i: int, j: int) -> None:
    """About a corner where the limit has no derivatives of its own: poles halfway to the next known ones, in the tangent plane."""
    a0, b0 = (-1 if i else 0), (-1 if j else 0)
    a1, b1 = (-2 if i else 1), (-2 if j else 1)
    a2, b2 = (-3 if i else 2), (-3 if j else 2)
    corner = samples[-1 if j else 0, -1 if i else 0]
    normal = np.cross(corner[1], corner[2])
    size = float(np.linalg.norm(normal))
    poles[a1, b0] = (poles[a0, b0] + poles[a2, b0]) / 2
    poles[a0, b1] = (poles[a0, b0] + poles[a0, b2]) / 2
    if size > 1e-12:
        normal = normal / size
        for a, b in ((a1, b0), (a0, b1)):
            poles[a, b] -= ((poles[a, b] - poles[a0, b0]) @ normal) * normal
    poles[a1, b1] = poles[a1, b0] + poles[a0, b1] - poles[a0, b0]
