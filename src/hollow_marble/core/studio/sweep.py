"""The seamless sweep: a floor that turns up into a wall."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray


def sweep_mesh(
    width: float, depth: float, cove: float, front: float, height: float
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.int64]]:
    """Points (N, 3) mm, unit normals (N, 3) and triangles (T, 3) of a sweep.

    The floor is z = 0 from y = -front to the cove, the wall stands at y = depth up to `height`; `cove` is the radius
    between them, smaller where there is no room.
    """
    radius = min(cove, depth, height)
    turn = np.linspace(0, math.pi / 2, 25)
    ys = np.concatenate([[-front], depth - radius + radius * np.sin(turn), [depth]])
    zs = np.concatenate([[0.0], radius - radius * np.cos(turn), [height]])
    ny = np.concatenate([[0.0], -np.sin(turn), [-1.0]])
    nz = np.concatenate([[1.0], np.cos(turn), [0.0]])
    count = len(ys)
    points = np.zeros((2 * count, 3))
    normals = np.zeros((2 * count, 3))
    for side, x in enumerate((-width / 2, width / 2)):
        rows = slice(side * count, (side + 1) * count)
        points[rows] = np.stack([np.full(count, x), ys, zs], axis=1)
        normals[rows] = np.stack([np.zeros(count), ny, nz], axis=1)
    low = np.arange(count - 1)
    a, b, c, d = low, low + count, low + 1 + count, low + 1
    triangles = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    return points, normals, triangles
