"""Symmetry of a cage: across planes through the origin, or by turns about an axis.

The side a change was made on leads; the other sides are worked out from it point by point, so that they are its images to
the last bit and a seam cannot drift.
"""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.cage.mesh import Cage, faces_by_corners
from hollow_marble.core.errors import HollowMarbleError

_UNLIKE = "The edges on the two sides differ. Make the sides alike, or go on without symmetry."
_LETTERS = "WDH"


@dataclass(frozen=True)
class Operation:
    """q = matrix (p - centre) + centre; `turns_over` where it makes a right hand a left one."""

    matrix: NDArray[np.float64]
    centre: NDArray[np.float64]
    turns_over: bool

    def of(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Images of points (..., 3)."""
        if self.turns_over or not np.count_nonzero(self.matrix - np.diag(np.diagonal(self.matrix))):
            signs = np.diagonal(self.matrix)
            return np.asarray(np.where(signs < 0, 2 * self.centre - points, points))
        # written out, so that a point gets the same bits alone and among others
        away, rows = points - self.centre, self.matrix.T
        turned = away[..., :1] * rows[0] + away[..., 1:2] * rows[1] + away[..., 2:3] * rows[2]
        return np.asarray(turned + self.centre)

    def of_vector(self, vector: NDArray[np.float64]) -> NDArray[np.float64]:
        """Image of a direction (3,)."""
        return np.asarray(self.matrix @ vector)


@dataclass(frozen=True)
class Symmetry:
    """What a cage is symmetric under: mirrored across planes, or turned, not both.

    planes : axes (0 width, 1 depth, 2 height) across whose planes through the origin the sides mirror
    turns : how often it comes to lie on itself in a whole turn about `axis` through `centre` (mm)
    """

    planes: tuple[int, ...] = ()
    axis: int = 2
    turns: int = 1
    centre: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        if self.planes and self.turns > 1:
            raise HollowMarbleError("Symmetry is across planes or by turns, not both. Switch one of them off.")

    @cached_property
    def operations(self) -> tuple[Operation, ...]:
        """The whole group, the identity first."""
        if self.turns > 1:
            centre = np.array(self.centre, float)
            return tuple(Operation(_turn(self.axis, k, self.turns), centre, False) for k in range(self.turns))
        found = []
        for flips in itertools.product((1.0, -1.0), repeat=len(self.planes)):
            signs = np.ones(3)
            signs[list(self.planes)] = flips
            found.append(Operation(np.diag(signs), np.zeros(3), bool(np.prod(signs) < 0)))
        return tuple(found)

    def held(self, points: NDArray[np.float64], fixed: NDArray[np.bool_], offsets: bool = False) -> NDArray[np.float64]:
        """Points (n, 3), or `offsets` of such, brought on to what the operations that leave them in place ((G, n) bool) leave."""
        result = points.copy()
        if self.turns > 1:
            centre = np.zeros(3) if offsets else np.array(self.centre, float)
            for axis in range(3):
                if axis != self.axis:
                    result[fixed[1:].any(axis=0), axis] = centre[axis]
            return result
        for number, operation in enumerate(self.operations):
            for axis in np.flatnonzero(np.diagonal(operation.matrix) < 0).tolist():
                result[fixed[number], axis] = 0.0
        return result


ACROSS_WIDTH = Symmetry((0,))


def _turn(axis: int, step: int, turns: int) -> NDArray[np.float64]:
    angle = 2 * np.pi * step / turns
    cosine, sine = np.cos(angle), np.sin(angle)
    if (4 * step) % turns == 0:  # quarter turns are exact
        cosine, sine = np.round(cosine), np.round(sine)
    u, v = (axis + 1) % 3, (axis + 2) % 3
    matrix = np.eye(3)
    matrix[u, u] = matrix[v, v] = cosine
    matrix[u, v], matrix[v, u] = -sine, sine
    return matrix


@dataclass(frozen=True)
class Mates:
    """Which points are one another's images: `maps` (G, P) int64, a row an operation, the first is every point itself."""

    symmetry: Symmetry
    maps: NDArray[np.int64]

    def points(self, picked: list[int]) -> list[int]:
        """The picked points and their images, each once, sorted."""
        return sorted({int(p) for p in self.maps[:, picked].ravel()})

    def edges(self, edges: list[tuple[int, int]]) -> list[tuple[int, int]]:
        """Edges and their images, each once, in the order of the operations."""
        found: dict[tuple[int, int], tuple[int, int]] = {}
        for row in self.maps:
            for a, b in edges:
                p, q = int(row[a]), int(row[b])
                found.setdefault((min(p, q), max(p, q)), (p, q))
        return list(found.values())

    def faces(self, cage: Cage, faces: list[int]) -> list[int]:
        """Faces and their images, each once, in the order of the operations."""
        return list(dict.fromkeys(face for row in range(len(self.maps)) for face in self.image(cage, faces, row)))

    def image(self, cage: Cage, faces: list[int], operation: int) -> list[int]:
        """Images of faces under one operation, in the same order."""
        by_corners = self.__dict__.get("_corners")
        if by_corners is None:
            by_corners = faces_by_corners(cage)
            self.__dict__["_corners"] = by_corners
        return [by_corners[frozenset(self.maps[operation][cage.face(f)].tolist())] for f in faces]


def find_mates(cage: Cage, symmetry: Symmetry, tolerance_mm: float = 1e-6) -> Mates:
    """Pair every point with its images.

    Raises
    ------
    HollowMarbleError
        where a point has no image within the tolerance, or the faces do not match.
    """
    count = len(cage.points)
    maps = np.empty((len(symmetry.operations), count), np.int64)
    maps[0] = np.arange(count)
    tree = cKDTree(cage.points)
    crowded = len(tree.query_pairs(tolerance_mm)) > 0
    for number, operation in enumerate(symmetry.operations[1:], 1):
        earlier = _composed(symmetry, maps, number)
        maps[number] = _matched(cage, tree, operation, crowded, tolerance_mm) if earlier is None else earlier
    return Mates(symmetry, maps)


def _composed(symmetry: Symmetry, maps: NDArray[np.int64], number: int) -> NDArray[np.int64] | None:
    """The pairing of an operation that earlier ones make up."""
    if symmetry.turns > 1:
        return maps[1][maps[number - 1]] if number > 1 else None
    highest = 1 << (number.bit_length() - 1)
    return maps[highest][maps[number - highest]] if number != highest else None


def still_mates(points: NDArray[np.float64], mates: Mates, tolerance_mm: float = 1e-6) -> bool:
    """Whether every point (P, 3) lies where its images say."""
    return all(
        float(np.abs(points[row] - operation.of(points)).max()) <= tolerance_mm
        for operation, row in zip(mates.symmetry.operations[1:], mates.maps[1:])
    )


def _matched(cage: Cage, tree: cKDTree, operation: Operation, crowded: bool, tolerance_mm: float) -> NDArray[np.int64]:
    points = cage.points
    distance, nearest = tree.query(operation.of(points))
    image = np.asarray(nearest, np.int64)
    if distance.max() > tolerance_mm:
        x, y, z = points[int(np.argmax(distance))]
        raise HollowMarbleError(
            f"The sides differ: the point at W {x:.1f}, D {y:.1f}, H {z:.1f} has no partner opposite. "
            "Make the sides alike first, or go on without symmetry."
        )
    if crowded:
        image = _walked(cage, tree, image, operation, tolerance_mm)
    edges = cage.topology.edges
    opposite = np.sort(image[edges], axis=1)
    width = len(points)
    alike = np.isin(opposite[:, 0] * width + opposite[:, 1], edges[:, 0] * width + edges[:, 1]).all()
    if not alike or len(np.unique(image)) != width:
        raise HollowMarbleError(_UNLIKE)
    return image


def _walked(
    cage: Cage, tree: cKDTree, nearest: NDArray[np.int64], operation: Operation, tolerance_mm: float
) -> NDArray[np.int64]:
    """Images where points lie on one another (two faces extruded side by side, say), so that places do not decide.

    Half-edges whose places are unique start; from them the pairing is carried over the faces: the half-edge after one
    pairs with that after its image (before it, where the operation turns over), and neighbours across an edge likewise.
    """
    topology = cage.topology
    place: NDArray[np.int64] = np.array(
        [min(found) for found in tree.query_ball_point(cage.points, tolerance_mm)], np.int64
    )
    tail = cage.face_points
    head = tail[topology.next]
    width = len(cage.points)
    runs = place[tail] * width + place[head]
    over = operation.turns_over
    first_end, second_end = (head, tail) if over else (tail, head)
    imaged = place[nearest[first_end]] * width + place[nearest[second_end]]
    order = np.argsort(runs, kind="stable")
    ranked = runs[order]
    first, last = np.searchsorted(ranked, imaged, "left"), np.searchsorted(ranked, imaged, "right")
    alone = np.searchsorted(ranked, runs, "right") - np.searchsorted(ranked, runs, "left") == 1
    partner = np.full(len(tail), -1, np.int64)
    front = np.flatnonzero(alone & (last - first == 1))
    partner[front] = order[first[front]]
    onward_there = topology.previous if over else topology.next
    while len(front):
        steps = []
        for onward, beyond in ((topology.next, onward_there), (topology.twin, topology.twin)):
            here, there = onward[front], beyond[partner[front]]
            going = (here >= 0) & (there >= 0)
            here, there = here[going], there[going]
            fresh = partner[here] < 0
            partner[here[fresh]] = there[fresh]
            steps.append(np.unique(here[fresh]))
        front = np.concatenate(steps)
    if (partner < 0).any():
        raise HollowMarbleError(
            "Faces lie on one another so that it cannot be told which stands opposite which. "
            "Move them apart, or go on without symmetry."
        )
    result = np.arange(width)
    result[tail] = (head if over else tail)[partner]
    gap = np.linalg.norm(cage.points[result] - operation.of(cage.points), axis=1)
    if gap.max() > tolerance_mm or not np.array_equal(result[head], (tail if over else head)[partner]):
        raise HollowMarbleError(_UNLIKE)
    return result


def keep_symmetric(
    before: NDArray[np.float64], after: NDArray[np.float64], picked: list[int], mates: Mates
) -> NDArray[np.float64]:
    """Carry a move of the picked points over to the other sides, exact to the last bit.

    Of points that are one another's images the one nearest to the first picked point leads, so the side that point lies on
    does; points that an operation leaves in place stay where it leaves them.
    """
    points = np.asarray(picked, np.int64)
    moving = np.flatnonzero((mates.maps[1:, points] != points).any(axis=0))
    guide = before[points[moving[0]] if len(moving) else points[0]]
    chosen = np.zeros(len(before), bool)
    chosen[points] = True
    images = mates.maps[:, points]
    distance = np.linalg.norm(before[images] - guide, axis=2)
    distance[~chosen[images]] = np.inf
    near = distance <= distance.min(axis=0) + 1e-9
    leaders = np.unique(np.where(near, images, len(before)).min(axis=0))
    return _from_leaders(after, leaders, mates)


def symmetrised(cage: Cage, symmetry: Symmetry) -> Cage:
    """Make the sides images of one another to the last bit; they may differ by rounding only."""
    mates = find_mates(cage, symmetry)
    if symmetry.turns > 1:
        leaders = np.unique(mates.maps.min(axis=0))
    else:
        rank = cage.points[:, list(symmetry.planes)].sum(axis=1)
        images = mates.maps
        best = rank[images] >= rank[images].max(axis=0) - 1e-9
        leaders = np.unique(np.where(best, images, len(rank)).min(axis=0))
    return cage.moved(_from_leaders(cage.points, leaders, mates))


def _from_leaders(points: NDArray[np.float64], leaders: NDArray[np.int64], mates: Mates) -> NDArray[np.float64]:
    result = points.copy()
    led = mates.symmetry.held(points[leaders], mates.maps[:, leaders] == leaders)
    for operation, row in zip(mates.symmetry.operations[1:], mates.maps[1:]):
        result[row[leaders]] = operation.of(led)
    result[leaders] = led
    return result
