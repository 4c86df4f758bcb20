"""The camera and the proportions of a box from its drawn edges.

Strokes marked as edges along width, depth or height meet in corners; which ends meet is tried in several readings
(`drafting.reading`). In each, from a spread of views the corners are fitted in closed form (they are linear in the eye's place and
the box's size once direction and focal length are given); the best few are refined by Levenberg-Marquardt over everything at once,
on how far the strokes' ends lie beside the box's edges, which forgives overshoot, and weakly on the corners. Then the likeliest view
is settled on: ends count along their edges as far as the hand stopped at the corners, and an eye that looks level is preferred where
it explains the drawing as well as one that tilts. Sizes come out up to scale; their signs absorb which end is which. How sure lens
and proportions are follows from how the misses change with them (linear error propagation).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from itertools import islice, product

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from hollow_marble.core.drafting.camera import Camera, from_rotation
from hollow_marble.core.drafting.reading import Drawn, Edge, readings
from hollow_marble.core.errors import HollowMarbleError

Array = NDArray[np.float64]
TWO_MORE = 6.0
"""Two more unknowns explain that much more by chance, in variances of a number: 95 of 100 times less (chi-squared, 2 degrees)."""

SHORTEST, LONGEST = (float(np.log(focal)) for focal in (0.2, 50.0))
"""Logs of focal lengths in units of the drawing that somebody may have meant; beyond, edges run alike for all a hand can tell."""

SURE = 1e-4
"""How sure a hand is at best, as a share of the drawing."""

LEFT_OUT = 0.004
"""What a reading that leaves an edge out has to be better by, as a share of the drawing."""

CORNER_WEIGHT = 0.3
"""How much a corner's place counts beside an edge's: crossings at a flat angle are less sure than the lines themselves."""


SHORTEST_EDGE = 2.0
"""Px below which an edge has no direction."""

FARTHEST = 1e6
"""Px from the page's corner beyond which nothing is drawn."""

SHAKY = 0.006
"""Misses beyond this share of the drawing are not a shaking hand's alone."""

BAD = 0.015
"""Misses beyond this share of the drawing are no box."""


@dataclass(frozen=True)
class Recovered:
    """The view and box found: sizes relative to W = 1, the base's middle on the page, px per unit there, and the fit.

    error : root mean square distance in px of the strokes' ends from the fitted box's edges
    corners, left_out : how many corners the edges gave, and how many edges do not hang together with the others
    lens_within, size_within : shares within which focal length and D : W, H : W lie, 19 times of 20; infinite where the drawing does not tell
    """

    camera: Camera
    size: tuple[float, float, float]
    at: tuple[float, float]
    scale: float
    error: float
    corners: int
    left_out: int
    lens_within: float
    size_within: tuple[float, float]


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
    for number, (_, line) in enumerate(edges, 1):
        if not (np.abs(line) < FARTHEST).all() or float(np.hypot(*(line[1] - line[0]))) < SHORTEST_EDGE:
            raise HollowMarbleError(
                f"Marked edge {number} is too short or too far away to say where it leads. Take its mark away, or draw it anew."
            )
    middle = np.asarray(principal, float)
    told = list(readings(edges))
    best = min(_fits(told, middle, len(edges), free), key=lambda fit: fit.cost, default=None)
    if best is None:
        raise HollowMarbleError(_why_not(told))
    kept = list(range(len(edges)))
    while best.error > SHAKY * best.unit and len(kept) > 5:
        # one line may have been drawn or marked wrongly: are the others a box?
        without = [
            (fit, [j for j in kept if j != k])
            for k in kept
            for fit in _fits(_first([edges[j] for j in kept if j != k]), middle, len(edges), free)
        ]
        better = min(without, key=lambda pair: pair[0].cost, default=None)
        if better is None or better[0].cost >= best.cost:
            break
        best, kept = better
    _check(best)
    return _told(best, middle, len(edges))


def _first(edges: list[Edge]) -> list[Drawn]:
    """The likeliest reading."""
    return list(islice(readings(edges), 1))


def _fits(told: Iterable[Drawn], middle: Array, edges: int, free: bool) -> Iterator[_Fit]:
    """What readings can mean that have corners enough: 9 unknowns with the principal point known, 11 without."""
    for reading in told:
        if len(reading.bits) >= 5 and np.linalg.matrix_rank(reading.bits - reading.bits[0]) == 3:
            found = _fitted(reading, middle, edges, free)
            if found is not None:
                yield found


@dataclass(frozen=True)
class _Fit:
    """A reading in units of its extent (px) with its likeliest view, how sure its numbers are, and what speaks against it (px)."""

    drawn: Drawn
    unit: float
    x: Array
    spread: Array
    cost: float

    @property
    def missed(self) -> Array:
        """(M, 2) px of the ends beside their edges."""
        return _off(_seen(self.x, self.drawn.bits)[0], self.drawn)[0] * self.unit

    @property
    def error(self) -> float:
        """Root mean square, px."""
        return float(np.sqrt((self.missed**2).mean()))


def _why_not(told: list[Drawn]) -> str:
    bits = max((reading.bits for reading in told), key=len)
    if len(bits) < 5:
        return "The marked edges do not meet in enough corners. Mark edges that meet end to end, at least four in one chain."
    if np.linalg.matrix_rank(bits - bits[0]) < 3:
        return "The marked edges lie in one plane. Mark one that leads out of it too."
    return "No box can look like those edges. Check which of them are marked W, D and H."


def _check(fit: _Fit) -> None:
    """Raise where the edges are not those of a box."""
    if fit.error <= BAD * fit.unit:
        return
    worst = int(np.argmax(np.abs(fit.missed).max(axis=1)))
    pair = fit.drawn.bits[fit.drawn.pairs[worst]]
    along = "WDH"[int(np.argmax(np.abs(pair[1] - pair[0])))]
    raise HollowMarbleError(
        f"Those edges do not fit one box: they lie {fit.error:.0f} px beside the best that was found, and one along {along} "
        f"{np.abs(fit.missed[worst]).max():.0f} px. Check what they are marked as, or draw that one again."
    )


def _fitted(reading: Drawn, middle: Array, edges: int, free: bool) -> _Fit | None:
    """The likeliest view of a reading; None where no box can look like it."""
    unit = float(np.ptp(reading.places, axis=0).max())
    drawn = replace(reading, places=(reading.places - middle) / unit, ends=(reading.ends - middle) / unit)
    misses = partial(_misses, drawn=drawn, free=free)
    best: tuple[float, Array] | None = None
    for start in _starts(drawn.bits, drawn.places):
        if best is not None and best[0] < 1e-7:
            break  # closer than a thousandth of the drawing: no other view is meant
        fit = least_squares(misses, start, jac=partial(_slopes_of, misses), method="lm", ftol=1e-9, max_nfev=60)
        if (_points(fit.x, drawn.bits)[:, 2] > 1e-3).all() and (best is None or fit.cost < best[0] * (1 - 1e-9)):
            best = (float(fit.cost), fit.x)
    settled = None if best is None else _likeliest(best[1], drawn, free)
    if settled is None:
        return None
    x, spread = settled
    beside = _off(_seen(x, drawn.bits)[0], drawn)[0]
    error = float(np.sqrt((beside**2).sum() / max(1, beside.size - 9)))
    return _Fit(drawn, unit, x, spread, unit * (error + LEFT_OUT * (edges - len(drawn.pairs))))


def _sureness(x: Array, drawn: Drawn, unknown: int) -> tuple[float, Array]:
    """How far ends stray beside their edges (standard deviation), and the weight (M, 2) of each end's place along its edge.

    A hand that stops at the corners is as sure along an edge as beside it; where it went on, that says little (Cauchy's weights).
    """
    beside, along = _off(_seen(x, drawn.bits)[0], drawn)
    sure = max(float(np.sqrt((beside**2).sum() / max(1, beside.size - unknown))), SURE)
    lengths = np.linalg.norm(drawn.ends[:, 1] - drawn.ends[:, 0], axis=1)[:, None]
    share = float(np.sqrt(max(0.0, 2.2 * float(np.median((along**2 - sure**2) / lengths**2)))))
    strays = np.hypot(sure, share * lengths)
    return sure, sure / strays / np.sqrt(1 + (along / (3 * strays)) ** 2)


def _rows(x: Array, drawn: Drawn, weights: Array, free: bool, level: bool) -> Array:
    """(..., R) what is to be small once it is known how sure the ends are; `level` holds the eye level, so that upright edges run alike."""
    corners, depth = _seen(x, drawn.bits)
    beside, along = _off(corners, drawn)
    ahead = x.shape[:-1]
    rows = [beside.reshape(*ahead, -1), (weights * along).reshape(*ahead, -1), _held(x, depth, free, level)]
    return np.concatenate(rows, axis=-1)


def _settled(x: Array, misses: Callable[[Array], Array], bits: Array) -> tuple[Array, float] | None:
    """The view that misses least from a view near it on, and its squared misses summed."""
    fit = least_squares(misses, x, jac=partial(_slopes_of, misses), method="lm", ftol=1e-12, max_nfev=80)
    there = np.isfinite(fit.x).all() and SHORTEST <= fit.x[0] <= LONGEST and (_points(fit.x, bits)[:, 2] > 1e-3).all()
    return (fit.x, 2 * float(fit.cost)) if there else None


def _likeliest(x: Array, drawn: Drawn, free: bool) -> tuple[Array, Array] | None:
    """The view a reading means, and the covariance (12, 12) of its parameters.

    One with the eye level is preferred where it explains the drawing as well as any other.
    """
    found = None
    for _ in range(5):
        sure, weights = _sureness(x, drawn, 9 + 2 * free)
        misses = partial(_rows, drawn=drawn, weights=weights, free=free, level=False)
        found = _settled(x, misses, drawn.bits)
        if found is None:
            return None
        x = found[0]
    assert found is not None
    held = partial(_rows, drawn=drawn, weights=weights, free=free, level=True)
    level = _settled(x, held, drawn.bits)
    if level is not None and level[1] - found[1] <= TWO_MORE * sure**2:
        x, misses = level[0], held
    _, strength, ways = np.linalg.svd(_slopes_of(misses, x), full_matrices=False)
    # a way along which nothing changes is one that the drawing does not tell, not one that is sure
    weak = ways / np.maximum(strength, 1e-7)[:, None]
    return x, sure**2 * np.asarray(weak.T @ weak)


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
    focal = np.exp(np.clip(x[..., 0], SHORTEST - 1, LONGEST + 1))  # a step of the search may lead far beyond
    return focal[..., None, None] * flat + x[..., None, 10:12], points[..., 2]


def _off(corners: Array, drawn: Drawn) -> tuple[Array, Array]:
    """(..., M, 2) how far the ends of each stroke lie beside the box's edge, and how far along it from its corners."""
    start, end = corners[..., drawn.pairs[:, 0], :], corners[..., drawn.pairs[:, 1], :]
    along = end - start
    along = along / np.maximum(np.linalg.norm(along, axis=-1, keepdims=True), 1e-9)
    off = drawn.ends - np.stack([start, end], axis=-2)
    beside = along[..., None, 0] * off[..., 1] - along[..., None, 1] * off[..., 0]
    return beside, (along[..., None, :] * off).sum(axis=-1)


def _misses(x: Array, drawn: Drawn, free: bool) -> Array:
    """(..., R) what is to be small, for parameters (..., 12)."""
    corners, depth = _seen(x, drawn.bits)
    ahead = x.shape[:-1]
    rest = _held(x, depth, free)
    beside = _off(corners, drawn)[0].reshape(*ahead, -1)
    return np.concatenate([beside, CORNER_WEIGHT * (corners - drawn.places).reshape(*ahead, -1), rest], axis=-1)


def _held(x: Array, depth: Array, free: bool, level: bool = False) -> Array:
    """(..., 3 or 5): the mean depth is 1, since the scale is free; the middle of the view strays, and the eye tilts, only where it may."""
    rows = [depth.mean(axis=-1, keepdims=True) - 1, (1e-3 if free else 1e3) * x[..., 10:12]]
    if level:
        rotation = Rotation.from_rotvec(x[..., 1:4].reshape(-1, 3)).as_matrix().reshape(*x.shape[:-1], 3, 3)
        rows.append(1e3 * rotation[..., [0, 2], 2])  # the upright direction, sideways and ahead
    return np.concatenate(rows, axis=-1)


def _slopes_of(misses: Callable[[Array], Array], x: Array) -> Array:
    """(R, 12) by central differences, all at once."""
    step = 1e-6
    nudged = misses(np.concatenate([x + step * np.eye(len(x)), x - step * np.eye(len(x))]))
    return np.asarray((nudged[: len(x)] - nudged[len(x) :]).T / (2 * step))


def _told(fit: _Fit, middle: Array, edges: int) -> Recovered:
    x, unit = fit.x, fit.unit
    focal = float(np.exp(x[0]))
    rotation = Rotation.from_rotvec(x[1:4]).as_matrix()
    size = np.abs(x[7:10])
    low = x[4:7] + rotation @ np.minimum(x[7:10], 0)  # the corner at left, front, bottom
    base = low + rotation @ (size * (0.5, 0.5, 0.0))
    principal = middle + x[10:12] * unit
    at = principal + focal * unit * base[:2] / base[2]
    whole = float(size[0])
    relative = size / whole
    return Recovered(
        from_rotation((float(principal[0]), float(principal[1])), focal * unit, rotation),
        (1.0, float(relative[1]), float(relative[2])),
        (float(at[0]), float(at[1])),
        float(focal * unit * whole / base[2]),
        fit.error,
        len(fit.drawn.bits),
        edges - len(fit.drawn.pairs),
        _within(fit.spread[0, 0]),
        (_within(_ratio_variance(fit, 1)), _within(_ratio_variance(fit, 2))),
    )


def _ratio_variance(fit: _Fit, axis: int) -> float:
    """Variance of the log of a size beside W's."""
    slope = np.zeros(12)
    slope[7 + axis], slope[7] = 1 / fit.x[7 + axis], -1 / fit.x[7]
    return float(slope @ fit.spread @ slope)


def _within(variance: float) -> float:
    """Share within which a number lies 19 times of 20, from the variance of its log; infinite beyond a factor of three."""
    share = float(np.expm1(min(2 * np.sqrt(max(variance, 0.0)), 50.0)))
    return share if share <= 2 else float("inf")
