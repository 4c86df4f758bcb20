"""Sizes of a skin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Size:
    """Extent along x, y, z in mm, enclosed volume in mm3 (0 where the form is open), area in mm2."""

    width: float
    depth: float
    height: float
    volume: float
    area: float


def measure(points: NDArray[np.floating], triangles: NDArray[np.integer], closed: bool) -> Size:
    """Measure a triangle mesh: points (N, 3) mm, triangles (T, 3) turning counter-clockwise seen from outside.

    Volume by the divergence theorem: one sixth of the sum of the triangles' triple products.
    """
    corners = points.astype(np.float64)[triangles]
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    normals = np.cross(b - a, c - a)
    extent = points.max(axis=0) - points.min(axis=0)
    volume = float(np.einsum("ij,ij->", a, normals)) / 6 if closed else 0.0
    area = float(np.linalg.norm(normals, axis=1).sum()) / 2
    return Size(float(extent[0]), float(extent[1]), float(extent[2]), volume, area)
