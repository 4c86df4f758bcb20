"""Splines through points and by points (de Boor 1978; Piegl & Tiller 1997, chapters 2 and 9)."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline, make_lsq_spline

from hollow_marble.core.curves.segments import Array, Segment, Spline
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import lengths


def through(
    name: str, points: Array, closed: bool = False, ends: tuple[Array | None, Array | None] = (None, None)
) -> Spline:
    """The cubic spline through points (n, d), parameterised by chord length; closed ones are smooth all round.

    `ends` are directions (d,) it leaves and arrives in; where one is left out the curvature is nought there.

    Raises
    ------
    HollowMarbleError
        where two neighbours are the same point, or there are too few.
    """
    if closed and not np.array_equal(points[0], points[-1]):
        points = np.vstack([points, points[:1]])
    apart = np.linalg.norm(np.diff(points, axis=0), axis=1)
    if len(points) < (4 if closed else 2):
        raise HollowMarbleError("A spline needs at least two points, a closed one three. Draw another point.")
    if apart.min() < 1e-9:
        raise HollowMarbleError("Two points of a spline lie on one another. Move one of them, or take it out.")
    t = np.concatenate([[0], np.cumsum(apart)]) / apart.sum()
    t[-1] = 1.0
    if closed:
        periodic = make_interp_spline(t, points, 3, bc_type="periodic")
        knots, poles = clamped(periodic.t, periodic.c)
        return Spline(name, 3, knots, poles)
    if len(points) == 2 and ends == (None, None):
        poles = points[0] + np.linspace(0, 1, 4)[:, None] * (points[1] - points[0])
        return Spline(name, 3, np.repeat([0.0, 1.0], 4), poles)
    length = apart.sum()
    conditions = [
        [(2, np.zeros(points.shape[1]))] if way is None else [(1, length * way / np.linalg.norm(way))] for way in ends
    ]
    found = make_interp_spline(t, points, 3, bc_type=(conditions[0], conditions[1]))
    return Spline(name, 3, found.t, found.c)


def by_points(name: str, poles: Array, closed: bool = False, knots: tuple[float, ...] = ()) -> Spline:
    """The uniform cubic B-spline that points (n, d) draw to themselves; it begins and ends at them, or comes smoothly round.

    With `knots` (n + degree + 1) it is the B-spline of these, as a spline is that was cut.
    """
    count = len(poles)
    if knots:
        degree = len(knots) - count - 1
        whole = degree >= 1 and knots[degree] == knots[0] == 0 and knots[-1] == knots[-degree - 1] == 1
        if not whole or any(a > b for a, b in pairwise(knots)):
            raise HollowMarbleError("The knots of a spline do not go with its points. Draw it anew.")
        return Spline(name, degree, np.array(knots), poles)
    if count < (3 if closed else 2):
        raise HollowMarbleError("A spline needs at least two points, a closed one three. Draw another point.")
    if closed:
        around = np.vstack([poles[-1:], poles, poles[:2]])
        unwound, ends = clamped((np.arange(len(around) + 4) - 3) / count, around)
        return Spline(name, 3, unwound, ends)
    degree = min(3, count - 1)
    inner = np.linspace(0, 1, count - degree + 1)[1:-1]
    return Spline(name, degree, np.concatenate([np.zeros(degree + 1), inner, np.ones(degree + 1)]), poles)


@dataclass(frozen=True, eq=False)
class End:
    """How a piece arrives at its end: the place, its direction, and the curvature vector there in 1/mm, (d,) each."""

    place: Array
    way: Array
    bend: Array


def end_of(segment: Segment) -> End:
    """How a piece arrives at its end (curvature vector: do Carmo 1976, section 1-5)."""
    last = np.ones(1)
    way, second = segment.along(last)[0], segment.bent(last)[0]
    speed = float(way @ way)
    return End(segment.at(last)[0], way, (second - way * (second @ way) / speed) / speed)


def blend(name: str, one: End, other: End, order: int) -> Spline:
    """From one end to another: with the same direction in both (`order` 1, a cubic), with the same curvature too (2, of degree 5).

    Hermite data as Bézier points (Farin, Curves and Surfaces for CAGD, 5th ed. 2002, chapters 5 and 7). Derivatives at its ends
    are as long as its ends are apart.
    """
    apart = float(np.linalg.norm(other.place - one.place))
    if apart < 1e-9:
        raise HollowMarbleError("The two ends to be joined lie on one another already. Join them to a corner.")
    degree = 5 if order == 2 else 3
    sides = []
    for end, sign in ((one, 1.0), (other, -1.0)):
        first = apart * end.way / np.linalg.norm(end.way)
        poles = [end.place, end.place + first / degree]
        if order == 2:
            poles.append(end.place + 2 * first / 5 + apart**2 * end.bend / 20)
        sides.append(poles[:: int(sign)])
    return Spline(name, degree, np.repeat([0.0, 1.0], degree + 1), np.array([*sides[0], *sides[1]]))


def fitted(name: str, points: Array, tolerance: float) -> tuple[Spline, float]:
    """A spline of few poles that lies within `tolerance` mm of samples (n, d) of a line; and how far it is off at most, mm."""
    points = points[np.concatenate([[True], np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-9])]
    if len(points) < 2:
        raise HollowMarbleError("The line is a single point. Touch a longer one.")
    t = lengths(points)
    t /= t[-1]
    dense = np.linspace(0, 1, max(4 * len(points), 64))
    samples = np.column_stack([np.interp(dense, t, points[:, axis]) for axis in range(points.shape[1])])
    best: tuple[Spline, float] | None = None
    for count in (4, 5, 6, 8, 10, 13, 16, 20, 25, 32, 40):
        if count > len(dense) // 3:
            break
        inner = np.linspace(0, 1, count - 2)[1:-1]
        knots = np.concatenate([np.zeros(4), inner, np.ones(4)])
        found = make_lsq_spline(dense, samples, knots, 3)
        off = float(np.linalg.norm(found(dense) - samples, axis=1).max())
        if best is None or off < best[1]:
            best = Spline(name, 3, knots, found.c), off
        if off <= tolerance:
            break
    assert best is not None
    return best


def clamped(knots: Array, poles: Array) -> tuple[Array, Array]:
    """A spline that comes round over 0 to 1, as one that begins and ends at its poles (Boehm 1980)."""
    curve = BSpline(knots, poles, 3)
    for end in (0.0, 1.0):
        there = int(np.isclose(curve.t, end, rtol=0, atol=1e-12).sum())
        if there < 3:
            curve = curve.insert_knot(end, 3 - there)
    inner = curve.t[(curve.t > 1e-12) & (curve.t < 1 - 1e-12)]
    found = np.concatenate([np.zeros(4), inner, np.ones(4)])
    begin = int(np.searchsorted(curve.t, -1e-12, side="right")) - 1
    return found, curve.c[begin : begin + len(found) - 4].copy()
