"""The camera and the proportions of a box from its drawn edges.

Strokes marked as edges along width, depth or height meet in corners. From a spread of views the corners are fitted in closed
form (they are linear in the eye's place and the box's size once direction and focal length are given); the best few are
refined by Levenberg–Marquardt over everything at once, on how far the strokes' ends lie beside the box's edges, which forgives
overshoot, and weakly on the corners. Sizes come out up to scale; their signs absorb which end is which.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from itertools import product

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from hollow_marble.core.drafting.camera import Camera, from_rotation
from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]
NEAR = 0.16
"""Share of an edge's length within which its end belongs to the corner where it crosses another edge."""

CORNER_WEIGHT = 0.3
"""How much a corner's place counts beside an edge's: crossings at a flat angle are less sure than the lines themselves."""


@dataclass(frozen=True)
class Drawn:
    """What was drawn, in units of its extent: corners' names (N, 3) of 0 and 1 and places (N, 2); edges as pairs of corners (M, 2)
    and their ends (M, 2, 2)."""

    bits: Array
    places: Array
    pairs: NDArray[np.int64]
    ends: Array


@dataclass(frozen=True)
class Recovered:
    """The view and box found: sizes relative to W = 1, the base's middle on the page, px per unit there, and the fit.

    error : root mean square distance in px of the strokes' ends from the fitted box's edges
    corners : how many corners the edges gave
    """

    camera: Camera
    size: tuple[float, float, float]
    at: tuple[float, float]
    scale: float
    error: float
    corners: int


def recover(edges: list[tuple[int, Array]], principal: tuple[float, float], free: bool = False) -> Recovered:
    """Recover the view from edges (axis 0 W, 1 D, 2 H; ends (2, 2) px).

    principal : the middle of the view, px; where `free`, only a first guess (needs all seven corners to be sure)
    Raises where there are too few edges or they do not hang together.
    """
    if len(edges) < 4:
        raise HollowMarbleError("Mark at least four edges of the box: some along W, some along D, some along H.")
    if {axis for axis, _ in edges} != {0, 1, 2}:
        missing = " and ".join("WDH"[k] for k in range(3) if k not in {axis for axis, _ in edges})
        raise HollowMarbleError(f"No edge along {missing} is marked. Each of the three directions needs one.")
    drawn = _corners(edges)
    # 9 unknowns with the principal point known, 11 without
    bits = drawn.bits
    if len(bits) < 5:
        raise HollowMarbleError(
            "The marked edges do not meet in enough corners. Mark edges that meet end to end, at least four in one chain."
        )
    if np.linalg.matrix_rank(bits - bits[0]) < 3:
        raise HollowMarbleError("The marked edges lie in one plane. Mark one that leads out of it too.")
    middle = np.asarray(principal, float)
    unit = float(np.ptp(drawn.places, axis=0).max())
    drawn = Drawn(bits, (drawn.places - middle) / unit, drawn.pairs, (drawn.ends - middle) / unit)
    best: tuple[float, Array] | None = None
    for start in _starts(bits, drawn.places):
        if best is not None and best[0] < 1e-7:
            break  # closer than a thousandth of the drawing: no other view is meant
        fit = least_squares(_misses, start, jac=_slopes, args=(drawn, free), method="lm", ftol=1e-9, max_nfev=60)
        if (_points(fit.x, bits)[:, 2] <= 1e-3).any():
            continue
        if best is None or fit.cost < best[0] * (1 - 1e-9):
            best = (float(fit.cost), fit.x)
    if best is None:
        raise HollowMarbleError("No box can look like those edges. Check which of them are marked W, D and H.")
    return _told(best[1], drawn, middle, unit)


End = tuple[int, int]
"""An edge, and which of its ends."""

Names = dict[End, tuple[int, ...]]
"""Corners of the box, 0 or 1 along each of its directions, by one of the ends that meet there."""


def _named(
    first: End, groups: dict[End, list[End]], edges: list[tuple[int, Array]], root: Callable[[End], End]
) -> Names:
    """The corners that hang together with one of them, which is called (0, 0, 0)."""
    names: Names = {first: (0, 0, 0)}
    line = [first]
    while line:
        here = line.pop()
        for k, side in groups[here]:
            there = root((k, 1 - side))
            if there not in names:
                flipped = list(names[here])
                flipped[edges[k][0]] ^= 1
                names[there] = tuple(flipped)
                line.append(there)
    return names


def _corners(edges: list[tuple[int, Array]]) -> Drawn:
    """The largest set of edges that hang together, px.

    Where ends of two edges lie near one another the corner is where their lines cross, which forgives overshoot.
    """
    ends = [(k, side) for k in range(len(edges)) for side in (0, 1)]
    parent = {end: end for end in ends}

    def root(end: tuple[int, int]) -> tuple[int, int]:
        while parent[end] != end:
            end = parent[end]
        return end

    lengths = [float(np.hypot(*(line[1] - line[0]))) for _, line in edges]
    pairs = []
    for (i, a), (j, b) in product(ends, ends):
        if i < j and edges[i][0] != edges[j][0]:
            one, other = edges[i][1][a], edges[j][1][b]
            crossing = _meeting([edges[i][1], edges[j][1]], [one, other])
            off = max(
                (float(np.hypot(*(crossing - one))) - 6) / lengths[i],
                (float(np.hypot(*(crossing - other))) - 6) / lengths[j],
            )
            if off <= NEAR:
                pairs.append((off, (i, a), (j, b)))
    for _, one, other in sorted(pairs):
        parent[root(one)] = root(other)
    groups: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for end in ends:
        groups.setdefault(root(end), []).append(end)
    place = {
        key: _meeting([edges[k][1] for k, _ in group], [edges[k][1][side] for k, side in group])
        for key, group in groups.items()
    }
    found: list[Names] = []
    left = set(groups)
    while left:
        found.append(_named(min(left), groups, edges, root))
        left -= set(found[-1])
    names = max(found, key=len)
    gathered: dict[tuple[int, ...], list[Array]] = {}
    for key, name in names.items():
        gathered.setdefault(name, []).append(place[key])
    order = sorted(gathered)
    own = [
        (k, [order.index(names[root((k, side))]) for side in (0, 1)])
        for k in range(len(edges))
        if root((k, 0)) in names
    ]
    return Drawn(
        np.array(order, float),
        np.array([np.mean(gathered[name], axis=0) for name in order]),
        np.array([pair for _, pair in own]),
        np.array([edges[k][1] for k, _ in own], float),
    )


def _meeting(lines: list[Array], ends: list[Array]) -> Array:
    """Where lines cross, least squares; the end itself where there is one line only or they run alike."""
    if len(lines) == 1:
        return np.asarray(ends[0], float)
    normals, levels = [], []
    for line in lines:
        along = (line[1] - line[0]) / np.hypot(*(line[1] - line[0]))
        normals.append([-along[1], along[0]])
        levels.append(-along[1] * line[0][0] + along[0] * line[0][1])
    matrix = np.array(normals)
    if np.linalg.cond(matrix) > 20:
        return np.asarray(np.mean(ends, axis=0))
    return np.asarray(np.linalg.lstsq(matrix, np.array(levels), rcond=None)[0])


@lru_cache(maxsize=1)
def _spread_of_views() -> tuple[Array, Array]:
    """Focal lengths (K,) in units of the drawing and rotations (K, 3, 3) to begin from."""
    turns, tilts = np.radians(np.arange(-80, 81, 10)), np.radians(np.arange(-55, 66, 10))
    rotations = np.array([Camera((0, 0), 1, turn, tilt).rotation for turn, tilt in product(turns, tilts)])
    focals = np.array([0.7, 1.2, 2.0, 3.5, 7.0])
    return np.repeat(focals, len(rotations)), np.tile(rotations, (len(focals), 1, 1))


def _starts(bits: Array, seen: Array) -> list[Array]:
    """The few best of a spread of views as parameters (12,): log focal, turn (3), eye (3), signed size (3), middle (2).

    With direction and focal length given, eye and size are the least eigenvector of a 6 × 6 matrix, up to scale.
    """
    focals, rotations = _spread_of_views()
    rows = np.zeros((len(focals), 2 * len(bits), 6))
    for k in range(2):
        row = np.zeros((len(focals), len(bits), 3))
        row[:, :, k] = focals[:, None]
        row[:, :, 2] = -seen[:, k]
        rows[:, k::2, :3] = row
        rows[:, k::2, 3:] = np.einsum("knc,kcd->knd", row, rotations) * bits
    _, vectors = np.linalg.eigh(np.einsum("kni,knj->kij", rows, rows))
    answers = vectors[:, :, 0]
    depths = answers[:, 2:3] + np.einsum("nd,kd,kd->kn", bits, answers[:, 3:], rotations[:, 2])
    scale = depths.mean(axis=1)
    answers, depths = answers / scale[:, None], depths / scale[:, None]
    # an algebraic cost weighed by depth is close to the distance on the page
    costs = np.linalg.norm(np.einsum("kni,ki->kn", rows, answers) / np.repeat(depths, 2, axis=1), axis=1)
    costs[(depths.min(axis=1) <= 1e-6) | (np.abs(answers[:, 3:]).min(axis=1) < 1e-6)] = np.inf
    chosen: list[Array] = []
    for k in np.argsort(costs):
        if not np.isfinite(costs[k]) or len(chosen) == 5:
            break
        start = np.concatenate(
            [[np.log(focals[k])], Rotation.from_matrix(rotations[k]).as_rotvec(), answers[k], [0.0, 0.0]]
        )
        if all(np.linalg.norm(start[1:4] - other[1:4]) + 0.3 * abs(start[0] - other[0]) > 0.3 for other in chosen):
            chosen.append(start)
    return chosen


def _points(x: Array, bits: Array) -> Array:
    """Corners (..., N, 3) in the camera, for parameters (..., 12)."""
    rotation = Rotation.from_rotvec(x[..., 1:4].reshape(-1, 3)).as_matrix().reshape(*x.shape[:-1], 3, 3)
    return np.asarray(x[..., None, 4:7] + (bits * x[..., None, 7:10]) @ np.swapaxes(rotation, -1, -2))


def _seen(x: Array, bits: Array) -> tuple[Array, Array]:
    """Places (..., N, 2) of the corners on the page and their depths (..., N)."""
    points = _points(x, bits)
    flat = points[..., :2] / np.maximum(points[..., 2:], 1e-4)
    return np.exp(x[..., 0])[..., None, None] * flat + x[..., None, 10:12], points[..., 2]


def _beside(corners: Array, drawn: Drawn) -> Array:
    """(..., M, 2) how far the ends of each stroke lie beside the box's edge."""
    start, end = corners[..., drawn.pairs[:, 0], :], corners[..., drawn.pairs[:, 1], :]
    along = end - start
    along = along / np.maximum(np.linalg.norm(along, axis=-1, keepdims=True), 1e-9)
    off = drawn.ends - start[..., None, :]
    return np.asarray(along[..., None, 0] * off[..., 1] - along[..., None, 1] * off[..., 0])


def _misses(x: Array, drawn: Drawn, free: bool) -> Array:
    """(..., R) what is to be small, for parameters (..., 12)."""
    corners, depth = _seen(x, drawn.bits)
    ahead = x.shape[:-1]
    # mean depth is 1 (the scale is free); the middle of the view strays only where it may
    rest = np.concatenate([depth.mean(axis=-1, keepdims=True) - 1, (1e-3 if free else 1e3) * x[..., 10:12]], axis=-1)
    beside = _beside(corners, drawn).reshape(*ahead, -1)
    return np.concatenate([beside, CORNER_WEIGHT * (corners - drawn.places).reshape(*ahead, -1), rest], axis=-1)


def _slopes(x: Array, drawn: Drawn, free: bool) -> Array:
    """(R, 12) by central differences, all at once."""
    step = 1e-6
    nudged = _misses(np.concatenate([x + step * np.eye(len(x)), x - step * np.eye(len(x))]), drawn, free)
    return np.asarray((nudged[: len(x)] - nudged[len(x) :]).T / (2 * step))


def _told(x: Array, drawn: Drawn, middle: Array, unit: float) -> Recovered:
    focal = float(np.exp(x[0]))
    off = x[10:12]
    missed = _beside(_seen(x, drawn.bits)[0], drawn)
    rotation = Rotation.from_rotvec(x[1:4]).as_matrix()
    size = np.abs(x[7:10])
    low = x[4:7] + rotation @ np.minimum(x[7:10], 0)  # the corner at left, front, bottom
    base = low + rotation @ (size * (0.5, 0.5, 0.0))
    principal = middle + off * unit
    at = principal + focal * unit * base[:2] / base[2]
    whole = float(size[0])
    camera = from_rotation((float(principal[0]), float(principal[1])), focal * unit, rotation)
    relative = size / whole
    return Recovered(
        camera,
        (1.0, float(relative[1]), float(relative[2])),
        (float(at[0]), float(at[1])),
        float(focal * unit * whole / base[2]),
        float(np.sqrt((missed**2).mean())) * unit,
        len(drawn.bits),
    )
