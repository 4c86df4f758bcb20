"""Join the patches of a skin into one mesh: which skin points are the same point of the surface."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import SkinPlan


def weld(cage: Cage, plan: SkinPlan) -> NDArray[np.int64]:
    """Number of the welded point behind each skin point, (N,) int64, from connectivity alone (no distances).

    Numbers run from 0 without gaps; a shared cage point, edge or centre gives one number to all patches there.
    """
    topology = cage.topology
    steps = 2**plan.level
    half = steps // 2
    edge_base = len(cage.points)
    spoke_base = edge_base + len(topology.edges) * (steps - 1)
    centre_base = spoke_base + len(cage.face_points) * (half - 1)
    inner_base = centre_base + cage.face_count
    result = np.empty(plan.point_count, np.int64)
    along = np.arange(steps + 1)

    def edge_run(half_edge: int) -> NDArray[np.int64]:
        """Numbers of the points along a half-edge, from its tail to its head."""
        a = int(cage.face_points[half_edge])
        b = int(cage.face_points[topology.next[half_edge]])
        start = edge_base + int(topology.edge_of[half_edge]) * (steps - 1)
        inner = start + along[1:-1] - 1 if a < b else start + steps - 1 - along[1:-1]
        return np.concatenate([[a], inner, [b]])

    def spoke_run(half_edge: int) -> NDArray[np.int64]:
        """From the middle of a half-edge to the centre of its face."""
        inner = spoke_base + half_edge * (half - 1) + along[: half - 1]
        return np.concatenate([[edge_run(half_edge)[half]], inner, [centre_base + topology.face_of[half_edge]]])

    patch = 0
    for face in range(cage.face_count):
        first, last = int(cage.face_starts[face]), int(cage.face_starts[face + 1])
        corners = last - first
        for grid in range(1 if corners == 4 else corners):
            if corners == 4:
                sides = [edge_run(first + k) for k in range(4)]
            else:
                here = first + grid
                before = int(topology.previous[here])
                sides = [
                    edge_run(here)[: half + 1],
                    spoke_run(here),
                    spoke_run(before)[::-1],
                    edge_run(before)[half:],
                ]
            width = int(plan.widths[patch])
            start = int(plan.point_starts[patch])
            block = inner_base + start + np.arange(width * width).reshape(width, width)
            block[0, :] = sides[0]
            block[:, -1] = sides[1]
            block[-1, ::-1] = sides[2]
            block[::-1, 0] = sides[3]
            result[start : start + width * width] = block.reshape(-1)
            patch += 1
    unique: NDArray[np.int64] = np.unique(result, return_inverse=True)[1].astype(np.int64)
    return unique


def joined_corners(
    points: NDArray[np.float64], triangles: NDArray[np.int64]
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Points at the same place made one; triangles that closed up are left out."""
    unique, number = np.unique(points, axis=0, return_inverse=True)
    joined = number.reshape(-1)[triangles]
    return unique, joined[_open(joined)]


def _open(triangles: NDArray[np.int64]) -> NDArray[np.bool_]:
    a, b, c = triangles.T
    return np.asarray((a != b) & (b != c) & (c != a))


def welded_mesh(
    positions: NDArray[np.floating], triangles: NDArray[np.integer], numbers: NDArray[np.int64]
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Points (M, 3) and triangles (T, 3) after welding; triangles that closed up are left out."""
    points = np.empty((int(numbers.max()) + 1, 3))
    points[numbers] = positions
    joined = numbers[triangles.astype(np.int64)]
    return points, joined[_open(joined)]
