"""Mean and Gaussian curvature from exact derivatives."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.skin import SkinPlan


@dataclass(frozen=True)
class Curvature:
    """mean (N,) 1/mm, positive where the surface bulges outward; gaussian (N,) 1/mm2;
    exact (N,) bool, False where the value is an average of its neighbours."""

    mean: NDArray[np.float64]
    gaussian: NDArray[np.float64]
    exact: NDArray[np.bool_]


def curvature(derivatives: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Mean and Gaussian curvature from (N, 6, 3) position, u, v, uu, uv, vv (do Carmo 1976, section 3-3).

    Points where the tangents are parallel get NaN.
    """
    _, u, v, uu, uv, vv = derivatives.transpose(1, 0, 2)
    normal = np.cross(u, v)
    length = np.linalg.norm(normal, axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        normal = normal / length[:, None]
        e, f, g = (np.einsum("ij,ij->i", a, b) for a, b in ((u, u), (u, v), (v, v)))
        l, m, n = (np.einsum("ij,ij->i", normal, d) for d in (uu, uv, vv))
        area = e * g - f * f
        gaussian = (l * n - m * m) / area
        mean = -(e * n - 2 * f * m + g * l) / (2 * area)
    return mean, gaussian


def skin_curvature(plan: SkinPlan, derivatives: NDArray[np.float64]) -> Curvature:
    """Curvature over a whole skin.

    At odd points and corners it is unbounded or undefined; there the mean of the neighbouring grid points is given
    and `exact` is False.
    """
    mean, gaussian = curvature(derivatives)
    exact = plan.curved & np.isfinite(mean) & np.isfinite(gaussian)
    for start, width in zip(plan.point_starts.tolist(), plan.widths.tolist()):
        block = slice(start, start + width * width)
        if exact[block].all():
            continue
        known = exact[block].reshape(width, width)
        for values in (mean, gaussian):
            grid = values[block].reshape(width, width)
            for row, column in zip(*np.nonzero(~known)):
                near = (slice(max(row - 1, 0), row + 2), slice(max(column - 1, 0), column + 2))
                good = known[near]
                grid[row, column] = grid[near][good].mean() if good.any() else 0.0
    return Curvature(mean, gaussian, exact)
