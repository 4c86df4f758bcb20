"""How far a surface is from another, or from a drawn outline."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.finding import Place, at_place
from hollow_marble.core.surface.lines import level_lines
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.probed import Probed

Values = NDArray[np.float64]

_AT_ONCE = 8192
"""Points between two words about how far it is."""


@dataclass(frozen=True, eq=False)
class Deviation:
    """away (N,) mm, positive where it lies outside the other; middle, spread: mean and root mean square, mm, weighed by area; most: where it
    is farthest, and how far, with its sign."""

    away: Values
    mean: float
    rms: float
    place: Place
    most: float

    def histogram(self, bins: int = 41) -> tuple[Values, Values]:
        """Counts (bins,) and bounds (bins + 1,) in mm, even to both sides of nought."""
        reach = max(float(np.abs(self.away).max()), 1e-9)
        counts, bounds = np.histogram(self.away, bins, (-reach, reach))
        return counts.astype(float), bounds


def deviation(probed: Probed, other: Probed, told: Callable[[float], None] = lambda _: None) -> Deviation:
    """Distance of every point to the nearest place of another surface, with the sign of the side it lies on.

    The side is told by the other's normal there; both are triangles, so it is off by what both tolerances add up to.
    """
    parts = []
    for begin in range(0, len(probed.points), _AT_ONCE):
        points = probed.points[begin : begin + _AT_ONCE]
        found = other.nearest.closest(points)
        corners = other.triangles[found.triangle]
        normals = (other.normals[corners] * found.shares[..., None]).sum(axis=1)
        sign = np.where(((points - found.place) * normals).sum(axis=1) < 0, -1.0, 1.0)
        parts.append(sign * found.distance)
        told(min((begin + _AT_ONCE) / len(probed.points), 1.0))
    away = np.concatenate(parts)
    weight = np.bincount(probed.triangles.ravel(), np.repeat(probed.areas / 3, 3), len(away))
    total = max(float(weight.sum()), 1e-300)
    at = int(np.abs(away).argmax())
    rms = float(np.sqrt((weight * away * away).sum() / total))
    return Deviation(away, float((weight * away).sum() / total), rms, at_place(probed.points[at]), float(away[at]))


def silhouette(probed: Probed, eye: Values | None, away: Values) -> Values:
    """(S, 2, 3) pieces of the lines where the surface turns from an eye: from a place (3,), or from without end along `away` (3,) where that
    is None; with the rims of what is open."""
    sight = np.broadcast_to(away, probed.points.shape) if eye is None else probed.points - eye
    value = (sight * probed.normals).sum(axis=1)
    lines = level_lines(probed.triangles, probed.joined, value, np.zeros(1))
    places = lines.bent(probed.points, probed.normals)
    one, other = lines.steps()
    pieces = np.stack([places[one], places[other]], axis=1)
    return pieces if probed.closed else np.concatenate([pieces, probed.points[probed.open_rims]])


def from_outline(drawn: Values, pieces: Values) -> tuple[Values, Values, NDArray[np.int64]]:
    """Distance (K,) of drawn places (K, 2) to the nearest of pieces (S, 2, 2) in the same plane, the places (K, 2) there, and which piece
    (K,) that is."""
    flat = np.zeros((len(pieces), 3, 3))
    flat[:, 0, :2], flat[:, 1, :2] = pieces[:, 0], pieces[:, 1]
    flat[:, 2, :2] = pieces[:, 1]
    nearest = Nearest(flat.reshape(-1, 3), np.arange(3 * len(flat)).reshape(-1, 3))
    found = nearest.closest(np.column_stack([drawn, np.zeros(len(drawn))]))
    return found.distance, found.place[:, :2], found.triangle
