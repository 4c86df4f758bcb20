"""The seamless sweep: a floor that turns up into a wall."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray


def outline(depth: float, cove: float, front: float, height: float) -> NDArray[np.float64]:
    """(N, 4): y and z in mm and the unit normal's y and z along a sweep seen from its side.

    The floor is z = 0 from y = -front to the cove, the wall stands at y = depth up to `height`; `cove` is the radius
    between them, smaller where there is no room.
    """
    radius = min(cove, depth, height)
    turn = np.linspace(0, math.pi / 2, 25)
    around = [depth - radius + radius * np.sin(turn), radius - radius * np.cos(turn), -np.sin(turn), np.cos(turn)]
    return np.vstack([[-front, 0.0, 0.0, 1.0], np.stack(around, axis=1), [depth, height, -1.0, 0.0]])


def sweep_mesh(
    width: float, side: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.int64]]:
    """Points (2 N, 3) mm, unit normals (2 N, 3) and triangles (T, 3) of a sweep of a width whose side is given (N, 4)."""
    count = len(side)
    across = np.repeat([[-width / 2], [width / 2]], count, axis=0)
    points = np.hstack([across, np.tile(side[:, :2], (2, 1))])
    normals = np.hstack([np.zeros_like(across), np.tile(side[:, 2:], (2, 1))])
    low = np.arange(count - 1)
    a, b, c, d = low, low + count, low + 1 + count, low + 1
    triangles = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    return points, normals, triangles
