"""How surfaces meet: gap, angle and curvature along every seam between patches, every meeting of rims, and around odd points."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from hollow_marble.core.surface.curvature import bent_along
from hollow_marble.core.surface.finding import Place, at_place
from hollow_marble.core.surface.probed import Probed
from hollow_marble.core.surface.sections import chained

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

FLAT_SHARE = 0.2
"""Over the size of a part, 1/mm: a curvature below it is flat, and a jump is told against no less."""

NOTED_ANGLE = 0.005
"""Degrees below which a seam is smooth: what rounding and a skin's facets leave."""

SHARP_ANGLE = 10.0
"""Degrees in the mean from which a seam of a built form is an edge that is meant; below it, it is a kink where the skin should go on."""

NOTED_JUMP = 0.005
"""Share of curvature below which it goes on."""


@dataclass(frozen=True)
class Worst:
    """The greatest and the mean along a seam, and where the greatest is."""

    most: float
    mean: float
    place: Place


@dataclass(frozen=True, eq=False)
class Seam:
    """A line along which surfaces meet.

    kind : "crease" within a part, "meeting" of two rims, "around" an odd point
    places (K, 3) mm; keys : the face keys it lies between, lowest first; other : number of the other surface of a meeting, else None
    length mm; gap mm; angle degrees; jump: share of the larger curvature across the seam
    edge : whether it is a sharp edge of a form that is built with edges: not a flaw of it
    """

    kind: str
    places: Values
    keys: tuple[int, ...]
    other: int | None
    length: float
    gap: Worst
    angle: Worst
    jump: Worst
    edge: bool = False


def seams(probed: Probed) -> list[Seam]:
    """Seams between the patches of one surface along which it is not smooth, longest first. Patches that share points have no gap."""
    pairs = _paired(probed)
    if not len(pairs):
        return []
    ends = probed.points[pairs[:, 0]]
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    angle = _between(probed.normals[pairs[:, 0]], probed.normals[pairs[:, 1]])
    jump = _jumps(probed, pairs)
    noted = (angle.max(axis=1) > NOTED_ANGLE) | (jump.max(axis=1) > NOTED_JUMP)
    pairs, length, angle, jump = pairs[noted], length[noted], angle[noted], jump[noted]
    if not len(pairs):
        return []
    found = []
    for members in _runs(probed.joined[pairs[:, 0]]):
        chain, _, _ = chained(probed.joined[pairs[members, 0]], pairs[members, 0])
        keys = np.unique(probed.point_keys[pairs[members].reshape(-1)])
        places = probed.points[pairs[members, 0]]
        nothing = Worst(0.0, 0.0, at_place(places[0, 0]))
        turns = _worst(angle[members], length[members], places)
        found.append(
            Seam(
                "crease",
                probed.points[chain],
                tuple(int(key) for key in keys),
                None,
                float(length[members].sum()),
                nothing,
                turns,
                _worst(jump[members], length[members], places),
                edge=probed.edged and turns.mean > SHARP_ANGLE,
            )
        )
    return sorted(found, key=lambda seam: -seam.length)


def _paired(probed: Probed) -> Numbers:
    """(S, 2, 2) pieces of rims that two patches share: the points of the one and of the other, in the same order."""
    rims = probed.rims
    named = probed.joined[rims]
    turned = named[:, 0] > named[:, 1]
    rims = np.where(turned[:, None], rims[:, ::-1], rims)
    named = np.where(turned[:, None], named[:, ::-1], named)
    key = named[:, 0] * (int(probed.joined.max()) + 1) + named[:, 1]
    order = np.argsort(key, kind="stable")
    alike = np.flatnonzero((np.diff(key[order]) == 0) & (named[order[1:], 0] != named[order[1:], 1]))
    pairs = np.stack([rims[order[alike]], rims[order[alike + 1]]], axis=1)
    # a piece told twice by one patch is no seam
    return np.asarray(pairs[(pairs[:, 0] != pairs[:, 1]).any(axis=1)])


def _between(one: Values, other: Values) -> Values:
    """Degrees between unit vectors (…, 3)."""
    sine = np.linalg.norm(np.cross(one, other), axis=-1)
    return np.asarray(np.degrees(np.arctan2(sine, (one * other).sum(axis=-1))))


def _jumps(probed: Probed, pairs: Numbers) -> Values:
    """(S, 2) how much curvature across a seam changes at both ends of its pieces, as a share of the larger one; nought where curvature is
    not exact."""
    way = probed.points[pairs[:, 0, 1]] - probed.points[pairs[:, 0, 0]]
    tensor, exact = probed.bends.tensor, probed.bends.exact
    one, other = pairs[:, 0], pairs[:, 1]
    jump = _jump(probed, one, way, tensor[one], tensor[other])
    return np.where(exact[one] & exact[other], jump, 0.0)


def _jump(probed: Probed, at: Numbers, way: Values, one: Values, other: Values) -> Values:
    """(S, 2) share by which tensors (S, 2, 6) on both sides differ across pieces (S, 2) of a seam that run along `way` (S, 3)."""
    across = np.cross(probed.normals[at], way[:, None])
    across /= np.maximum(np.linalg.norm(across, axis=2, keepdims=True), 1e-300)
    a, b = (bent_along(side.reshape(-1, 6), across.reshape(-1, 3)).reshape(at.shape) for side in (one, other))
    return np.asarray(np.abs(a - b) / np.maximum(np.maximum(np.abs(a), np.abs(b)), _flat(probed)))


def _flat(probed: Probed) -> float:
    """1/mm below which a part is flat."""
    return FLAT_SHARE / max(probed.size, 1e-9)


def _runs(named: Numbers) -> list[Numbers]:
    """Pieces (S, 2) that go on into one another: those that meet, two and no more at a point."""
    count = int(named.max()) + 1
    meeting = np.bincount(named.ravel(), minlength=count)
    owner = np.repeat(np.arange(len(named)), 2)
    through = meeting[named.ravel()] == 2
    rows, columns = owner[through], len(named) + named.ravel()[through]
    graph = coo_matrix((np.ones(len(rows)), (rows, columns)), shape=(len(named) + count,) * 2)
    label = connected_components(graph, directed=False)[1][: len(named)]
    order = np.argsort(label, kind="stable")
    bounds = np.flatnonzero(np.concatenate([[True], np.diff(label[order]) > 0, [True]]))
    return [order[a:b] for a, b in pairwise(bounds.tolist())]


def _worst(values: Values, length: Values, places: Values) -> Worst:
    """Of values at both ends (S, 2) of pieces."""
    piece, end = np.unravel_index(values.argmax(), values.shape)
    mean = float((values.mean(axis=1) * length).sum() / max(float(length.sum()), 1e-300))
    return Worst(float(values[piece, end]), mean, at_place(places[piece, end]))


def meetings(
    surfaces: Sequence[Probed], reach: float, told: Callable[[float], None] = lambda _: None
) -> list[tuple[int, Seam]]:
    """Where the rims of surfaces come within `reach` mm of another surface, or of another piece of the same: the number of the surface
    whose rim it is, and the seam."""
    found = []
    for number, probed in enumerate(surfaces):
        if len(probed.open_rims):
            for other_number, other in enumerate(surfaces):
                same = other_number == number
                found += [(number, seam) for seam in _meeting(probed, other, reach, None if same else other_number)]
        told((number + 1) / len(surfaces))
    return found


def _islands(probed: Probed) -> Numbers:
    """(N,) which connected piece of the surface a point belongs to."""
    corners = probed.joined[probed.triangles]
    count = int(probed.joined.max()) + 1
    pairs = np.concatenate([corners[:, :2], corners[:, 1:]])
    graph = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1][probed.joined], np.int64)


def _meeting(probed: Probed, other: Probed, reach: float, number: int | None) -> list[Seam]:
    """Along the open rims of a surface; `number` is the other's, None where it is the same, of which only other pieces count."""
    at, places_of = np.unique(probed.open_rims, return_inverse=True)
    apart = None
    if number is None:
        island = _islands(probed)
        apart = (island[probed.triangles[:, 0]], island[at])
    met = other.nearest.closest(probed.points[at], reach, apart)
    rows = places_of.reshape(-1, 2)
    rows = rows[(met.triangle >= 0)[rows].all(axis=1)]
    if not len(rows):
        return []
    three = other.triangles[np.maximum(met.triangle, 0)]
    normals = (other.normals[three] * met.shares[..., None]).sum(axis=1)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-300)
    gap, angle = met.distance, _between(probed.normals[at], normals)
    angle = np.minimum(angle, 180.0 - angle)
    points = at[rows]
    ends = probed.points[points]
    way = ends[:, 1] - ends[:, 0]
    length = np.linalg.norm(way, axis=1)
    tensor = (other.bends.tensor[three] * met.shares[..., None]).sum(axis=1)
    jump = _jump(probed, points, way, probed.bends.tensor[points], tensor[rows])
    found = []
    for members in _runs(rows):
        chain, _, _ = chained(rows[members], points[members])
        keys = np.unique(probed.point_keys[points[members].reshape(-1)])
        gaps, turns, jumps = (
            _worst(values, length[members], ends[members])
            for values in (gap[rows[members]], angle[rows[members]], jump[members])
        )
        found.append(
            Seam(
                "meeting",
                probed.points[chain],
                tuple(int(key) for key in keys),
                number,
                float(length[members].sum()),
                gaps,
                turns,
                jumps,
            )
        )
    return found


def around_odd_points(probed: Probed) -> list[Seam]:
    """How much mean curvature differs from side to side around points where it is not defined, on the ring of mesh points about each."""
    if probed.derivatives is None:
        return []
    odd = np.flatnonzero(~probed.bends.exact)
    number = probed.joined
    wanted = np.zeros(int(number.max()) + 1, bool)
    wanted[number[odd]] = True
    kinked = _kinked(probed)
    wanted &= ~kinked
    touching = wanted[number[probed.triangles]]
    rows = np.flatnonzero(touching.any(axis=1))
    if not len(rows):
        return []
    mean, exact = probed.bends.mean, probed.bends.exact
    pairs = np.concatenate(
        [
            np.stack([number[probed.triangles[rows, a]], probed.triangles[rows, b]], axis=1)[touching[rows, a]]
            for a in range(3)
            for b in range(3)
            if a != b
        ]
    )
    pairs = np.unique(pairs[exact[pairs[:, 1]]], axis=0)
    found = []
    where = np.empty((len(wanted), 3))
    where[number] = probed.points
    bounds = (
        np.flatnonzero(np.concatenate([[True], np.diff(pairs[:, 0]) > 0, [True]])) if len(pairs) else np.zeros(1, int)
    )
    for a, b in pairwise(bounds.tolist()):
        ring = pairs[a:b, 1]
        values, place = mean[ring], where[pairs[a, 0]]
        spread = float(np.ptp(values)) / max(float(np.abs(values).max()), _flat(probed))
        away = float(np.linalg.norm(probed.points[ring] - place, axis=1).mean())
        keys = np.unique(probed.point_keys[ring])
        told, nothing = at_place(place), Worst(0.0, 0.0, at_place(place))
        jump = Worst(spread, spread, told)
        found.append(
            Seam(
                "around",
                probed.points[ring],
                tuple(int(key) for key in keys),
                None,
                2 * np.pi * away,
                nothing,
                nothing,
                jump,
            )
        )
    return sorted(found, key=lambda seam: -seam.jump.most)


def _kinked(probed: Probed) -> NDArray[np.bool_]:
    """(points of the surface,) whether its normals differ there: creases and corners are told as seams."""
    count = int(probed.joined.max()) + 1
    low, high = np.full(count, np.iinfo(np.int64).max), np.full(count, -1)
    np.minimum.at(low, probed.joined, probed.smooth)
    np.maximum.at(high, probed.joined, probed.smooth)
    return np.asarray(low != high)
