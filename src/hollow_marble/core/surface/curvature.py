"""Mean, Gaussian and principal curvature from exact derivatives."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.skin import SkinPlan


@dataclass(frozen=True)
class Curvature:
    """mean (N,) 1/mm, positive where the surface bulges outward; gaussian (N,) 1/mm2; largest (N,) 1/mm, of the two principal ones that of
    the smaller radius, and along (N, 3) its direction, of length 1; exact (N,) bool, False where the value is an average of its neighbours
    and no direction is told (0, 0, 0)."""

    mean: NDArray[np.float64]
    gaussian: NDArray[np.float64]
    largest: NDArray[np.float64]
    along: NDArray[np.float64]
    exact: NDArray[np.bool_]


@dataclass(frozen=True)
class Principal:
    """high, low (N,) 1/mm, the most and the least the surface bulges along any direction; along (N, 2, 3) these directions, of length 1 and
    square to each other. Where both are the same, as on a sphere, any two such directions are told."""

    high: NDArray[np.float64]
    low: NDArray[np.float64]
    along: NDArray[np.float64]


def principal(derivatives: NDArray[np.float64]) -> Principal:
    """Principal curvatures from (N, 6, 3) position, u, v, uu, uv, vv: what the second form is in a frame of the tangent plane, turned so that
    it is diagonal (do Carmo 1976, section 3-2). Points where the tangents are parallel get NaN."""
    _, u, v, uu, uv, vv = derivatives.transpose(1, 0, 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        normal = np.cross(u, v)
        normal = normal / np.linalg.norm(normal, axis=1)[:, None]
        a = np.linalg.norm(u, axis=1)
        one = u / a[:, None]
        other = np.cross(normal, one)
        b, c = np.einsum("ij,ij->i", v, one), np.einsum("ij,ij->i", v, other)
        l, m, n = (-np.einsum("ij,ij->i", normal, d) for d in (uu, uv, vv))
        # of steps along the frame instead of along u and v
        xx = l / a**2
        xy = (m - l * b / a) / (a * c)
        yy = (n - 2 * m * b / a + l * (b / a) ** 2) / c**2
        middle, half = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
        turn = np.arctan2(2 * xy, xx - yy) / 2
    x, y = np.cos(turn)[:, None], np.sin(turn)[:, None]
    return Principal(middle + half, middle - half, np.stack([x * one + y * other, -y * one + x * other], axis=1))


def curvature(bends: Principal) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Mean and Gaussian curvature: half the sum and the product of the principal ones."""
    return (bends.high + bends.low) / 2, bends.high * bends.low


def skin_curvature(plan: SkinPlan, derivatives: NDArray[np.float64]) -> Curvature:
    """Curvature over a whole skin.

    At odd points and corners it is unbounded or undefined; there the mean of the neighbouring grid points is given
    and `exact` is False.
    """
    bends = principal(derivatives)
    mean, gaussian = curvature(bends)
    lower = np.abs(bends.low) > np.abs(bends.high)
    largest = np.where(lower, bends.low, bends.high)
    along = np.where(lower[:, None], bends.along[:, 1], bends.along[:, 0])
    exact = plan.curved & np.isfinite(mean) & np.isfinite(gaussian)
    for start, width in zip(plan.point_starts.tolist(), plan.widths.tolist()):
        block = slice(start, start + width * width)
        if exact[block].all():
            continue
        known = exact[block].reshape(width, width)
        for values in (mean, gaussian, largest):
            grid = values[block].reshape(width, width)
            for row, column in zip(*np.nonzero(~known)):
                near = (slice(max(row - 1, 0), row + 2), slice(max(column - 1, 0), column + 2))
                good = known[near]
                grid[row, column] = grid[near][good].mean() if good.any() else 0.0
    along[~exact] = 0.0
    return Curvature(mean, gaussian, largest, along, exact)
