"""A family of sweep curves to draw along: clothoid pieces, whose curvature grows evenly with length, and conic arcs.

Every curve is 1 long before it is scaled, begins in the origin and leaves along x. Its comb shows curvature.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Family = Literal["easing", "swelling", "returning", "parabola", "ellipse arc", "hyperbola"]

FAMILIES: dict[Family, str] = {
    "easing": "from straight to round",
    "swelling": "from round to rounder",
    "returning": "bends one way, then the other",
    "parabola": "flat at both ends, quick in the middle",
    "ellipse arc": "full shoulders",
    "hyperbola": "nearly straight, a tight nose",
}
_CURVATURES: dict[str, tuple[float, float]] = {"easing": (0.0, 2.2), "swelling": (0.7, 3.0), "returning": (2.0, -2.0)}
"""Curvature at the beginning and the end of a clothoid piece of length 1."""

_WEIGHTS: dict[str, float] = {"parabola": 1.0, "ellipse arc": 0.45, "hyperbola": 2.6}
"""Weight of a rational quadratic's middle point: 1 is a parabola, less an ellipse, more a hyperbola."""

COUNT = 241


@dataclass(frozen=True)
class Curve:
    """places (N, 2), unit normals (N, 2), curvature (N,) of one over the curve's unit."""

    places: Array
    normals: Array
    curvature: Array


def sweep(family: Family, bend: float) -> Curve:
    """A curve of a family; `bend` 0.1 to 2 says how much of its bending it has, 1 as drawn above."""
    if family in _CURVATURES:
        first, last = (k * bend for k in _CURVATURES[family])
        return _clothoid(first, last)
    return _conic(_WEIGHTS[family], bend)


def _clothoid(first: float, last: float) -> Curve:
    """Curvature goes evenly from `first` to `last` over a length of 1: the angle is a parabola of the length."""
    s = np.linspace(0, 1, COUNT)
    angle = first * s + (last - first) * s * s / 2
    # Gauss–Legendre within each step: exact to rounding for such short pieces
    nodes, weights = np.polynomial.legendre.leggauss(6)
    step = s[1] - s[0]
    inner = s[:-1, None] + step * (nodes + 1) / 2
    angles = first * inner + (last - first) * inner * inner / 2
    pieces = np.stack([np.cos(angles) @ weights, np.sin(angles) @ weights], axis=1) * step / 2
    places = np.concatenate([np.zeros((1, 2)), np.cumsum(pieces, axis=0)])
    normals = np.column_stack([-np.sin(angle), np.cos(angle)])
    return Curve(places, normals, first + (last - first) * s)


def _conic(weight: float, bend: float) -> Curve:
    """A rational quadratic from (0, 0) to (1, 0) over (½, height), scaled to length 1 and laid along x at its start."""
    height = 0.55 * bend
    t = np.linspace(0, 1, COUNT)
    b = np.stack([(1 - t) ** 2, 2 * t * (1 - t) * weight, t**2])
    points = np.array([[0.0, 0.0], [0.5, height], [1.0, 0.0]])
    db = np.stack([-2 * (1 - t), 2 * weight * (1 - 2 * t), 2 * t])
    ddb = np.stack([np.full_like(t, 2.0), np.full_like(t, -4 * weight), np.full_like(t, 2.0)])
    w, dw, ddw = b.sum(0), db.sum(0), ddb.sum(0)
    n, dn, ddn = (x.T @ points for x in (b, db, ddb))
    places = n / w[:, None]
    first = (dn - places * dw[:, None]) / w[:, None]
    second = (ddn - 2 * first * dw[:, None] - places * ddw[:, None]) / w[:, None]
    speed = np.hypot(*first.T)
    curvature = (first[:, 0] * second[:, 1] - first[:, 1] * second[:, 0]) / speed**3
    normals = np.column_stack([-first[:, 1], first[:, 0]]) / speed[:, None]
    length = float(np.hypot(*np.diff(places, axis=0).T).sum())
    c, s = first[0] / speed[0]
    # turned so that it leaves along x, and mirrored so that it bends to the positive side
    frame = np.array([[c, -s], [s, c]]) @ np.diag([1.0, -1.0])
    return Curve(places @ frame / length, -normals @ frame, -curvature * length)


def comb(curve: Curve, teeth: int = 48, height: float = 0.09) -> Array:
    """(teeth, 2, 2): from the curve outward, as long as the curvature there."""
    at = np.linspace(0, len(curve.places) - 1, teeth).round().astype(int)
    feet = curve.places[at]
    return np.stack([feet, feet - curve.normals[at] * (curve.curvature[at] * height)[:, None]], axis=1)
