"""Texture coordinates in mm: how a flat sheet is laid on a surface. The first coordinate runs along the grain, and so is a field of directions.

A sheet that must be cut to lie is cut between triangles: points there are doubled.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

AXES = {"width": 0, "depth": 1, "height": 2}


@dataclass(frozen=True)
class Way:
    """by : box, plane, cylinder, turned (around and outward), block (cut out of a log, without a seam) or faces (along the faces of a cage)
    axis : of the plane, the turning or the log; "longest" is the body's own; turn in degrees and move in mm of what is laid on
    """

    by: str = "box"
    axis: str = "height"
    turn: float = 0.0
    move: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, eq=False)
class Laid:
    """point : (M,) which point of the mesh each new point is; triangles : (T, 3) of the new ones; texture : (M, 2) mm."""

    point: Ints
    triangles: Ints
    texture: Floats


def laid(
    points: Floats,
    normals: Floats,
    triangles: NDArray[np.integer],
    way: Way,
    patch_starts: NDArray[np.integer] | None = None,
) -> Laid:
    """Texture coordinates for a mesh: points, normals (N, 3), triangles (T, 3); patches of n x n points each where it has any."""
    corners = np.asarray(triangles, np.int64)
    along = int(np.ptp(points, axis=0).argmax()) if way.axis == "longest" else AXES[way.axis]
    if way.by == "faces" and patch_starts is not None and _gridded(patch_starts):
        flat = _along_faces(points, np.asarray(patch_starts, np.int64), along)[corners]
        variant = np.zeros(corners.shape, np.int64)
    elif way.by in ("cylinder", "turned"):
        flat, variant = _around(points, normals, corners, along, way.by == "turned")
    elif way.by == "block":
        flat, variant = _sawn(points, along)[corners], np.zeros(corners.shape, np.int64)
    elif way.by == "plane":
        flat, variant = (
            _seen_along(points[corners], np.full(len(corners), along), np.ones(len(corners))),
            np.zeros(corners.shape, np.int64),
        )
    else:
        facing = normals[corners].sum(axis=1)
        axis = np.abs(facing).argmax(axis=1)
        sign = np.where(facing[np.arange(len(corners)), axis] < 0, -1.0, 1.0)
        flat = _seen_along(points[corners], axis, sign)
        variant = np.repeat((2 * axis + (sign > 0))[:, None], 3, axis=1)
    t = np.radians(way.turn)
    u = flat[..., 0] * np.cos(t) + flat[..., 1] * np.sin(t) - way.move[0]
    v = flat[..., 1] * np.cos(t) - flat[..., 0] * np.sin(t) - way.move[1]
    keys, first, where = np.unique((corners * 8 + variant).reshape(-1), return_index=True, return_inverse=True)
    texture = np.stack([u.reshape(-1), v.reshape(-1)], axis=1)[first]
    return Laid(keys // 8, where.reshape(-1, 3), texture)


HEART = (0.9, 0.35)
"""How far the heart of a log lies from the middle of what is cut out of it, in the body's own widths to both sides of the log's axis."""


def _sawn(points: Floats, axis: int) -> Floats:
    """(N, 2) mm along a log, and out from its heart, which runs beside the body: boards show their rings as lines, ends as arcs."""
    sides = [k for k in range(3) if k != axis]
    low, high = points.min(axis=0)[sides], points.max(axis=0)[sides]
    heart = (low + high) / 2 + np.array(HEART) * (high - low)
    return np.stack([points[:, axis], np.linalg.norm(points[:, sides] - heart, axis=1)], axis=1)


def _seen_along(places: Floats, axis: Ints, sign: Floats) -> Floats:
    """(T, 3, 2) corners seen along an axis each, so that a picture reads the right way round from outside."""
    rows = np.arange(len(places))[:, None]
    cols = np.arange(3)[None, :]
    first = np.where(axis == 0, 1, 0)[:, None]
    second = np.where(axis == 2, 1, 2)[:, None]
    # from the front (-y) x runs right; from the right (+x) y runs right; from above x runs right and y up
    flip = np.where(axis == 1, -sign, sign)[:, None]
    return np.stack([places[rows, cols, first] * flip, places[rows, cols, second]], axis=-1)


def _around(points: Floats, normals: Floats, corners: Ints, axis: int, turned: bool) -> tuple[Floats, Ints]:
    a, b = [k for k in range(3) if k != axis]
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    x, y, h = points[:, a] - middle[a], points[:, b] - middle[b], points[:, axis]
    radius = np.hypot(x, y)
    mean = max(float(radius.max()), 1e-6)
    angle = np.arctan2(y, x)[corners]
    # round the back: corners that lie more than half a turn from the triangle's first are counted on
    wrap = np.round((angle - angle[:, :1]) / (2 * np.pi))
    angle = angle - 2 * np.pi * wrap
    v = (radius - h if turned else h)[corners]
    return np.stack([angle * mean, v], axis=-1), (wrap + 1).astype(np.int64)


def _gridded(starts: NDArray[np.integer]) -> bool:
    counts = np.diff(starts)
    widths = np.sqrt(counts).round().astype(int)
    return bool(len(counts)) and bool((widths * widths == counts).all()) and bool((widths >= 2).all())


def _along_faces(points: Floats, starts: Ints, axis: int) -> Floats:
    """(N, 2) mm along the lines of each patch's grid, turned by quarters so that the first runs along the axis as nearly as it can."""
    out = np.empty((len(points), 2))
    counts = np.diff(starts)
    for count in np.unique(counts):
        width = round(float(np.sqrt(count)))
        rows = starts[:-1][counts == count][:, None] + np.arange(count)
        grid = points[rows].reshape(-1, width, width, 3)
        along_u, along_v = np.diff(grid, axis=2), np.diff(grid, axis=1)
        step_u, step_v = np.linalg.norm(along_u, axis=-1), np.linalg.norm(along_v, axis=-1)
        u = np.concatenate([np.zeros((len(grid), width, 1)), np.cumsum(step_u, axis=2)], axis=2)
        v = np.concatenate([np.zeros((len(grid), 1, width)), np.cumsum(step_v, axis=1)], axis=1)
        toward_u, toward_v = along_u.sum(axis=(1, 2))[:, axis], along_v.sum(axis=(1, 2))[:, axis]
        swap = np.abs(toward_v) > np.abs(toward_u)
        first, second = np.where(swap[:, None, None], v, u), np.where(swap[:, None, None], -u, v)
        flip = np.where(np.where(swap, toward_v, toward_u) < 0, -1.0, 1.0)[:, None, None]
        flat = np.stack([first * flip, second * flip], axis=-1).reshape(-1, 2)
        # every patch begins where it stands along the axis, so that neighbours of a band run on
        start = grid.mean(axis=(1, 2))[:, axis]
        shift = np.repeat(start - (first * flip).mean(axis=(1, 2)), count)
        flat[:, 0] += shift
        out[rows.reshape(-1)] = flat
    return out
