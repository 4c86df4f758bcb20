"""What small pictures are drawn on, and what is seen in them of meshes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.bodies.body import BodyMesh

Values = NDArray[np.float64]
Size = tuple[int, int]
"""Width and height, px."""

FINER = 3
"""Lines are drawn this many times as large and made small, for smooth edges."""
SIGHTS = 2
"""Rays of sight through each px, across and down."""


def canvas_of(size: Size, ground: tuple[int, int, int], finer: int = FINER) -> Image.Image:
    """What is drawn on, larger than the picture will be."""
    return Image.new("RGB", (size[0] * finer, size[1] * finer), ground)


def made_small(canvas: Image.Image, size: Size) -> NDArray[np.uint8]:
    """(tall, wide, 3) what was drawn, in the picture's size."""
    return np.asarray(canvas.resize(size, Image.Resampling.BOX))


@dataclass(frozen=True, eq=False)
class Seen:
    """Points and normals (N, 3), triangles (T, 3)."""

    points: Values
    normals: Values
    triangles: NDArray[np.int64]


def seen(mesh: BodyMesh, matrix: Values | None = None) -> Seen:
    """A mesh as it is seen, stood elsewhere by a matrix (4, 4) that keeps angles."""
    points, normals = mesh.positions.astype(float), mesh.normal_vectors().astype(float)
    if matrix is not None:
        points, normals = points @ matrix[:3, :3].T + matrix[:3, 3], normals @ matrix[:3, :3].T
    return Seen(points, normals, mesh.triangles.astype(np.int64))
