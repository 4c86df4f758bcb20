"""A curved surface unrolled around a place: where a flat label lies on it, without shear. Lengths mm.

The exponential map along a mesh, after Schmidt, Grimm & Wyvill (Interactive decal compositing with discrete exponential maps, 2006):
from point to point every edge is laid flat in the tangent plane of the place, turned by the way the normals turn on the way there. On a
cylinder or a cone, which can be unrolled, lengths and angles stay; elsewhere as nearly as they can.
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Unrolled:
    """A piece of a surface: points, normals (N, 3), triangles (T, 3), where each point lies on the flat sheet (N, 2) mm, its middle at the
    place it was unrolled around, and which ways along the surface the sheet's right and up are there (N, 2, 3)."""

    points: Floats
    normals: Floats
    triangles: Ints
    flat: Floats
    ways: Floats


def unrolled(
    points: Floats, normals: Floats, triangles: Ints, at: Floats, up: Floats, half: tuple[float, float]
) -> Unrolled:
    """The piece of a welded mesh that a sheet of half a width and half a height covers, around a place (3,) on it.

    `up` (3,) is the direction that the sheet's upper edge shows to; it is laid into the surface there.
    """
    reach = 1.15 * float(np.hypot(*half)) + _edge_length(points, triangles, at)
    near = np.linalg.norm(points - at, axis=1) < 1.6 * reach
    triangles = triangles[near[triangles].any(axis=1)]
    seed, normal = _seed(points, normals, triangles, at)
    right = np.cross(up, normal)
    if np.linalg.norm(right) < 1e-6:
        right = np.cross([0.0, 1.0, 0.0], normal)
    right /= np.linalg.norm(right)
    frame = np.stack([right, np.cross(normal, right)])
    flat, ways = _laid_flat(points, normals, triangles, (at, normal, frame, seed), reach)
    known = np.isfinite(flat[:, 0])
    kept = triangles[known[triangles].all(axis=1)]
    corners = flat[kept]
    low, high = corners.min(axis=1), corners.max(axis=1)
    edge = np.array(half)
    kept = kept[((low < edge) & (high > -edge)).all(axis=1)]
    used, where = np.unique(kept, return_inverse=True)
    return Unrolled(points[used], normals[used], where.reshape(-1, 3), flat[used], ways[used])


def _edge_length(points: Floats, triangles: Ints, at: Floats) -> float:
    """About how long the edges near a place are."""
    middle = points[triangles].mean(axis=1)
    there = triangles[int(np.linalg.norm(middle - at, axis=1).argmin())]
    return float(np.linalg.norm(points[there] - np.roll(points[there], 1, axis=0), axis=1).max())


def _seed(points: Floats, normals: Floats, triangles: Ints, at: Floats) -> tuple[Ints, Floats]:
    """The corners (3,) of the triangle at a place, and the surface's normal there."""
    corners = points[triangles]
    a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    away = at - corners[:, 0]
    aa, bb, ab = (a * a).sum(1), (b * b).sum(1), (a * b).sum(1)
    ta, tb = (away * a).sum(1), (away * b).sum(1)
    det = np.maximum(aa * bb - ab * ab, 1e-30)
    s, t = np.clip((ta * bb - tb * ab) / det, 0, 1), np.clip((tb * aa - ta * ab) / det, 0, 1)
    over = np.maximum(s + t, 1)
    s, t = s / over, t / over
    nearest = int(np.linalg.norm(corners[:, 0] + s[:, None] * a + t[:, None] * b - at, axis=1).argmin())
    corner = triangles[nearest]
    normal = (
        normals[corner[0]] * (1 - s[nearest] - t[nearest])
        + normals[corner[1]] * s[nearest]
        + normals[corner[2]] * t[nearest]
    )
    return corner, normal / np.linalg.norm(normal)


Seed = tuple[Floats, Floats, Floats, Ints]


def _laid_flat(points: Floats, normals: Floats, triangles: Ints, seed: Seed, reach: float) -> tuple[Floats, Floats]:
    """(N, 2) where points lie on the sheet, not a number where they are further than the reach; (N, 2, 3) its directions there."""
    at, normal, frame, corners = seed
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    edges = np.unique(np.sort(np.concatenate([edges, edges[:, ::-1]]), axis=1), axis=0)
    both = np.concatenate([edges, edges[:, ::-1]])
    both = both[np.argsort(both[:, 0], kind="stable")]
    begins = np.searchsorted(both[:, 0], np.arange(len(points) + 1))
    around = np.ascontiguousarray(both[:, 1])
    # the way along edges is longer than the straight one
    return _spread(points, normals, around, begins, at, normal, frame, corners, 1.3 * reach)  # type: ignore[no-any-return]


@njit(cache=True, nogil=True)
def _spread(points, normals, around, begins, at, normal, frame, corners, reach):  # noqa: C901 — one compiled loop
    """Outwards from a seed: every point from those of its neighbours that are laid already, nearer ones counting more."""
    count = len(points)
    flat = np.full((count, 2), np.nan)
    turns = np.zeros((count, 2, 3))
    done = np.zeros(count, np.bool_)
    laid = np.zeros(2)
    queue = [(0.0, np.int64(0))]
    queue.pop()
    for corner in corners:
        far = 0.0
        for x in range(3):
            far += (points[corner, x] - at[x]) ** 2
        _stepped(points[corner], at, normal, frame, laid)
        flat[corner] = laid
        _turned(normals[corner], normal, frame, turns[corner])
        heapq.heappush(queue, (np.sqrt(far), np.int64(corner)))
    while len(queue):
        distance, here = heapq.heappop(queue)
        if done[here] or distance > reach:
            continue
        if np.isnan(flat[here, 0]):
            total, most, nearest = 0.0, -1.0, -1
            x_sum, y_sum = 0.0, 0.0
            for k in range(begins[here], begins[here + 1]):
                other = around[k]
                if not done[other]:
                    continue
                far = 0.0
                for x in range(3):
                    far += (points[here, x] - points[other, x]) ** 2
                weight = 1 / max(np.sqrt(far), 1e-12)
                _stepped(points[here], points[other], normals[other], turns[other], laid)
                x_sum += weight * (flat[other, 0] + laid[0])
                y_sum += weight * (flat[other, 1] + laid[1])
                total += weight
                if weight > most:
                    most, nearest = weight, other
            if nearest >= 0:
                flat[here, 0], flat[here, 1] = x_sum / total, y_sum / total
                _turned(normals[here], normals[nearest], turns[nearest], turns[here])
        done[here] = True
        for k in range(begins[here], begins[here + 1]):
            other = around[k]
            if not done[other]:
                far = 0.0
                for x in range(3):
                    far += (points[here, x] - points[other, x]) ** 2
                heapq.heappush(queue, (distance + np.sqrt(far), np.int64(other)))
    for k in range(count):
        if not done[k]:
            flat[k] = np.nan
    return flat, turns


@njit(cache=True, nogil=True)
def _stepped(there, here, normal, frame, out):
    """An edge laid flat: its direction in the tangent plane, its whole length."""
    rise, whole = 0.0, 0.0
    for x in range(3):
        step = there[x] - here[x]
        rise += step * normal[x]
        whole += step * step
    long = np.sqrt(max(whole - rise * rise, 0.0))
    grown = np.sqrt(whole) / max(long, 1e-12)
    for axis in range(2):
        out[axis] = 0.0
        for x in range(3):
            out[axis] += frame[axis, x] * (there[x] - here[x] - rise * normal[x]) * grown


@njit(cache=True, nogil=True)
def _turned(start, end, frame, out):
    """A frame (2, 3) before the rotation that takes one unit vector to another the shortest way (Rodrigues)."""
    cosine, ax, ay, az = 0.0, 0.0, 0.0, 0.0
    for x in range(3):
        cosine += start[x] * end[x]
    ax = start[1] * end[2] - start[2] * end[1]
    ay = start[2] * end[0] - start[0] * end[2]
    az = start[0] * end[1] - start[1] * end[0]
    if cosine < -0.999999:
        out[:] = frame
        return
    share = 1 / (1 + cosine)
    for axis in range(2):
        u, v, w = frame[axis, 0], frame[axis, 1], frame[axis, 2]
        # from the left: the transposed rotation, about the opposite axis
        cu, cv, cw = v * az - w * ay, w * ax - u * az, u * ay - v * ax
        du, dv, dw = cv * az - cw * ay, cw * ax - cu * az, cu * ay - cv * ax
        out[axis, 0], out[axis, 1], out[axis, 2] = u + cu + share * du, v + cv + share * dv, w + cw + share * dw
