"""The exact pieces of a curve. A piece runs from t = 0 to t = 1; arrays are (n, d) with d = 2 in a plane and 3 in space."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import BSpline

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Line:
    """Straight from `a` to `b`, (d,) each. `name` is what the faces that come of a piece are named by."""

    name: str
    a: Array
    b: Array

    def at(self, t: Array) -> Array:
        """(n, d) points."""
        return self.a + np.asarray(t)[:, None] * (self.b - self.a)

    def along(self, t: Array) -> Array:
        """(n, d) first derivatives."""
        return np.broadcast_to(self.b - self.a, (len(t), len(self.a))).copy()

    def bent(self, t: Array) -> Array:
        """(n, d) second derivatives."""
        return np.zeros((len(t), len(self.a)))

    def back(self) -> Line:
        """The same piece the other way."""
        return Line(self.name, self.b, self.a)

    def part(self, begin: float, end: float) -> Line:
        """The piece between two of its parameters."""
        a, b = self.at(np.array([begin, end]))
        return Line(self.name, a, b)

    def moved(self, matrix: Array, shift: Array) -> Line:
        """Under p → matrix p + shift; the matrix is (e, d)."""
        return Line(self.name, matrix @ self.a + shift, matrix @ self.b + shift)


@dataclass(frozen=True, eq=False)
class Conic:
    """An arc of a circle or an ellipse: centre + u cos θ + v sin θ, θ from `start` over `sweep` radians; u and v are square to one another."""

    name: str
    centre: Array
    u: Array
    v: Array
    start: float
    sweep: float

    @property
    def is_round(self) -> bool:
        """Whether it is an arc of a circle."""
        a, b = self.radii
        return bool(abs(a - b) <= 1e-9 * max(a, b))

    @property
    def is_whole(self) -> bool:
        """Whether it comes round to its beginning."""
        return abs(abs(self.sweep) - 2 * np.pi) < 1e-12

    @property
    def radii(self) -> tuple[float, float]:
        """Lengths of u and v, mm."""
        return float(np.linalg.norm(self.u)), float(np.linalg.norm(self.v))

    def _angles(self, t: Array) -> tuple[Array, Array]:
        angle = self.start + np.asarray(t) * self.sweep
        return np.cos(angle)[:, None], np.sin(angle)[:, None]

    def at(self, t: Array) -> Array:
        """(n, d) points."""
        c, s = self._angles(t)
        return np.asarray(self.centre + c * self.u + s * self.v)

    def along(self, t: Array) -> Array:
        """(n, d) first derivatives."""
        c, s = self._angles(t)
        return np.asarray(self.sweep * (c * self.v - s * self.u))

    def bent(self, t: Array) -> Array:
        """(n, d) second derivatives."""
        c, s = self._angles(t)
        return np.asarray(-(self.sweep**2) * (c * self.u + s * self.v))

    def back(self) -> Conic:
        """The same piece the other way."""
        return replace(self, start=self.start + self.sweep, sweep=-self.sweep)

    def part(self, begin: float, end: float) -> Conic:
        """The piece between two of its parameters."""
        return replace(self, start=self.start + begin * self.sweep, sweep=(end - begin) * self.sweep)

    def moved(self, matrix: Array, shift: Array) -> Conic:
        """Under p → matrix p + shift, where the matrix keeps angles."""
        return replace(self, centre=matrix @ self.centre + shift, u=matrix @ self.u, v=matrix @ self.v)

    def rational(self) -> tuple[Array, Array, Array]:
        """Knots, poles (m, d) and weights (m,) of the exact rational B-spline of degree 2 (Piegl & Tiller, algorithm A7.1)."""
        pieces = max(1, int(np.ceil(abs(self.sweep) / (np.pi / 2) - 1e-12)))
        step = self.sweep / pieces
        ends = self.at(np.linspace(0, 1, pieces + 1))
        angles = self.start + step * (np.arange(pieces) + 0.5)
        reach = 1 / np.cos(step / 2)
        inner = self.centre + reach * (np.cos(angles)[:, None] * self.u + np.sin(angles)[:, None] * self.v)
        poles = np.empty((2 * pieces + 1, len(self.centre)))
        poles[::2], poles[1::2] = ends, inner
        weights = np.ones(len(poles))
        weights[1::2] = np.cos(step / 2)
        breaks = np.linspace(0, 1, pieces + 1)
        return np.concatenate([[0], np.repeat(breaks, 2), [1]]), poles, weights


@dataclass(frozen=True, eq=False)
class Spline:
    """A B-spline over 0 to 1: knots (m + degree + 1,), poles (m, d)."""

    name: str
    degree: int
    knots: Array
    poles: Array

    def _spline(self) -> BSpline:
        return BSpline(self.knots, self.poles, self.degree)

    def at(self, t: Array) -> Array:
        """(n, d) points."""
        return np.asarray(self._spline()(t))

    def along(self, t: Array) -> Array:
        """(n, d) first derivatives."""
        return np.asarray(self._spline()(t, 1))

    def bent(self, t: Array) -> Array:
        """(n, d) second derivatives."""
        return np.asarray(self._spline()(t, 2))

    def back(self) -> Spline:
        """The same piece the other way."""
        return replace(self, knots=1 - self.knots[::-1], poles=self.poles[::-1].copy())

    def part(self, begin: float, end: float) -> Spline:
        """The piece between two of its parameters: knots put in till it can be cut off (Boehm 1980). Within 1e-9 of an end is the end."""
        curve = self._spline()
        begin, end = (0.0 if begin < 1e-9 else begin), (1.0 if end > 1 - 1e-9 else end)
        for at in (begin, end):
            if 0 < at < 1:
                there = int(np.isclose(curve.t, at, rtol=0, atol=1e-12).sum())
                if self.degree > there:
                    curve = curve.insert_knot(at, self.degree - there)
        knots, poles = curve.t, curve.c
        first = int(np.searchsorted(knots, begin - 1e-12, side="left")) if begin > 0 else self.degree
        last = int(np.searchsorted(knots, end + 1e-12, side="right")) - 1 if end < 1 else len(knots) - self.degree - 1
        inner = knots[first + self.degree if begin > 0 else first + 1 : last - self.degree + 1 if end < 1 else last]
        inner = inner[(inner > begin + 1e-12) & (inner < end - 1e-12)]
        cut = np.concatenate([np.full(self.degree + 1, begin), inner, np.full(self.degree + 1, end)])
        count = len(cut) - self.degree - 1
        begin_pole = 0 if begin <= 0 else first - 1
        return replace(self, knots=(cut - begin) / (end - begin), poles=poles[begin_pole : begin_pole + count].copy())

    def moved(self, matrix: Array, shift: Array) -> Spline:
        """Under p → matrix p + shift."""
        return replace(self, poles=self.poles @ matrix.T + shift)


Segment = Line | Conic | Spline


def curvature(segment: Segment, t: Array) -> Array:
    """(n,) curvature in 1/mm, unsigned: |r′ × r″| / |r′|³ (do Carmo 1976, section 1-5)."""
    first, second = segment.along(t), segment.bent(t)
    speed = (first**2).sum(axis=1)
    across = speed * (second**2).sum(axis=1) - (first * second).sum(axis=1) ** 2
    return np.asarray(np.sqrt(np.maximum(across, 0)) / np.maximum(speed, 1e-300) ** 1.5)


def length(segment: Segment) -> float:
    """Length, mm: Gauss–Legendre on each polynomial piece, to better than 1e-9 of it for pieces that do not come to a stop."""
    if isinstance(segment, Line):
        return float(np.linalg.norm(segment.b - segment.a))
    if isinstance(segment, Conic) and segment.is_round:
        return abs(segment.sweep) * segment.radii[0]
    breaks = np.unique(segment.knots) if isinstance(segment, Spline) else np.linspace(0, 1, 9)
    fine = np.concatenate([np.linspace(a, b, 5)[:-1] for a, b in itertools.pairwise(breaks)] + [[1.0]])
    at, weights = over_spans(fine, 12)
    return float((np.linalg.norm(segment.along(at), axis=1) * weights).sum())


def over_spans(breaks: Array, count: int) -> tuple[Array, Array]:
    """Places and weights for an integral over all spans between breaks, so many to a span (Gauss–Legendre)."""
    nodes, weights = _legendre(count)
    half = np.diff(breaks)[:, None] / 2
    return (breaks[:-1, None] + half * (1 + nodes)).ravel(), (half * weights).ravel()


@cache
def _legendre(count: int) -> tuple[Array, Array]:
    return np.polynomial.legendre.leggauss(count)


def flattened(segment: Segment, tolerance: float) -> Array:
    """(n, d) points of a polyline that lies within `tolerance` mm of a piece, its ends among them."""
    if isinstance(segment, Line):
        return np.array([segment.a, segment.b])
    breaks = np.unique(segment.knots) if isinstance(segment, Spline) else np.linspace(0, 1, 5)
    counts = []
    for a, b in itertools.pairwise(breaks):
        # a chord of a curve is off by at most h² max |r″| / 8 (de Boor 1978)
        bend = float(np.linalg.norm(segment.bent(np.linspace(a, b, 5)), axis=1).max())
        counts.append(min(2000, max(1, int(np.ceil((b - a) * np.sqrt(bend / (8 * tolerance)))))))
    t = np.concatenate([np.linspace(a, b, n + 1)[:-1] for a, b, n in zip(breaks[:-1], breaks[1:], counts)] + [[1.0]])
    return segment.at(t)
