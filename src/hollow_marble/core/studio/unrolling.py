"""A curved surface unrolled around a place: where a flat label lies on it, without shear. Lengths mm.

The exponential map along a mesh, after Schmidt, Grimm & Wyvill (Interactive decal compositing with discrete exponential maps, 2006):
from point to point every edge is laid flat in the tangent plane of the place, turned by the way the normals turn on the way there. On a
cylinder or a cone, which can be unrolled, lengths and angles stay; elsewhere as nearly as they can.
"""

from __future__ import annotations

import heapq
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Unrolled:
    """A piece of a surface: points, normals (N, 3), triangles (T, 3), and where each point lies on the flat sheet (N, 2) mm, its middle at the
    place it was unrolled around."""

    points: Floats
    normals: Floats
    triangles: Ints
    flat: Floats


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
    flat = _laid_flat(points, normals, triangles, (at, normal, frame, seed), reach)
    known = np.isfinite(flat[:, 0])
    kept = triangles[known[triangles].all(axis=1)]
    corners = flat[kept]
    low, high = corners.min(axis=1), corners.max(axis=1)
    edge = np.array(half)
    kept = kept[((low < edge) & (high > -edge)).all(axis=1)]
    used, where = np.unique(kept, return_inverse=True)
    return Unrolled(points[used], normals[used], where.reshape(-1, 3), flat[used])


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


def _laid_flat(points: Floats, normals: Floats, triangles: Ints, seed: Seed, reach: float) -> Floats:
    """(N, 2) where points lie on the sheet; not a number where they are further than the reach."""
    at, normal, frame, corners = seed
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    edges = np.unique(np.sort(np.concatenate([edges, edges[:, ::-1]]), axis=1), axis=0)
    both = np.concatenate([edges, edges[:, ::-1]])
    order = np.argsort(both[:, 0], kind="stable")
    both = both[order]
    begins = np.searchsorted(both[:, 0], np.arange(len(points) + 1))
    flat = np.full((len(points), 2), np.nan)
    turns = np.zeros((len(points), 2, 3))
    done = np.zeros(len(points), bool)
    queue = [(float(np.linalg.norm(points[corner] - at)), corner) for corner in corners.tolist()]
    for _, corner in queue:
        flat[corner] = _step((points[corner] - at)[None], normal[None], frame[None])[0]
        turns[corner] = frame @ _turn(normals[corner], normal)
    heapq.heapify(queue)
    while queue:
        distance, here = heapq.heappop(queue)
        if done[here] or distance > 1.3 * reach:  # the way along edges is longer than the straight one
            continue
        around = both[begins[here] : begins[here + 1], 1]
        known = around[done[around]]
        if len(known) and np.isnan(flat[here, 0]):
            # all neighbours that are laid already say where it lies; nearer ones say more
            steps = points[here] - points[known]
            weights = 1 / np.maximum(np.sqrt((steps * steps).sum(axis=1)), 1e-12)
            flat[here] = weights @ (flat[known] + _step(steps, normals[known], turns[known])) / weights.sum()
            nearest = known[int(weights.argmax())]
            turns[here] = turns[nearest] @ _turn(normals[here], normals[nearest])
        done[here] = True
        fresh = around[~done[around]]
        lengths = np.sqrt(((points[fresh] - points[here]) ** 2).sum(axis=1))
        for there, length in zip(fresh.tolist(), lengths.tolist()):
            heapq.heappush(queue, (distance + length, there))
    flat[~done] = np.nan
    return flat


def _step(steps: Floats, normals: Floats, frames: Floats) -> Floats:
    """Edges (K, 3) laid flat: their directions in the tangent planes, their whole lengths; frames (K, 2, 3)."""
    level = steps - (steps * normals).sum(axis=1, keepdims=True) * normals
    long = np.sqrt((level * level).sum(axis=1))
    grown = np.sqrt((steps * steps).sum(axis=1)) / np.maximum(long, 1e-12)
    found: Floats = np.einsum("kij,kj->ki", frames, level * grown[:, None])
    return found


def _turn(start: Floats, end: Floats) -> Floats:
    """The rotation (3, 3) that takes one unit vector to another the shortest way (Rodrigues)."""
    axis = np.cross(start, end)
    cosine = float(start @ end)
    if cosine < -0.999999:
        return np.eye(3)
    cross = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    found: Floats = np.eye(3) + cross + cross @ cross / (1 + cosine)
    return found
