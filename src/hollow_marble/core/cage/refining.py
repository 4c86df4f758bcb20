"""A cage refined once by the rules of Catmull & Clark (1978), with creases as DeRose, Kass & Truong (1998) let them decay."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.mesh import SHARP, Cage
from hollow_marble.core.cage.neighbourhood import corner_sharpness, half_edge_sharpness


def refined(cage: Cage) -> Cage:
    """The cage with every face split into four-cornered ones about its middle; it has the same limit surface.

    Points: first the cage's own, then one an edge, then one a face.
    """
    t = cage.topology
    points, tail = cage.points, cage.face_points
    count, edge_count = len(points), len(t.edges)
    sizes = np.diff(cage.face_starts)
    middles = np.add.reduceat(points[tail], cage.face_starts[:-1]) / sizes[:, None]
    halves = (points[t.edges[:, 0]] + points[t.edges[:, 1]]) / 2

    sharp_half = half_edge_sharpness(cage)
    sharp = np.zeros(edge_count)
    sharp[t.edge_of] = sharp_half
    inner = np.ones(edge_count, bool)
    inner[t.edge_of[t.twin < 0]] = False
    beside = np.zeros((edge_count, 3))
    np.add.at(beside, t.edge_of, middles[t.face_of])
    smooth_edge = np.where(inner[:, None], (2 * halves + beside) / 4, halves)
    share = np.minimum(sharp, 1.0)[:, None]
    edge_points = share * halves + (1 - share) * smooth_edge

    moved = _points(cage, middles, halves, sharp)
    everything = np.vstack([moved, edge_points, middles])
    first, here, before = tail, t.edge_of + count, t.edge_of[t.previous] + count
    quads = np.column_stack([first, here, t.face_of + count + edge_count, before])

    creased = np.flatnonzero((sharp > 0) & inner)
    a, b, middle = t.edges[creased, 0], t.edges[creased, 1], creased + count
    left = np.where(sharp[creased] >= SHARP, SHARP, np.maximum(sharp[creased] - 1, 0))
    ends = np.concatenate([np.column_stack([a, middle]), np.column_stack([b, middle])])
    values = np.concatenate([left, left])
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    order = order[values[order] > 0]
    kept = np.where(cage.corner_sharpness >= SHARP, SHARP, np.maximum(cage.corner_sharpness - 1, 0))
    return Cage(
        everything,
        np.arange(0, 4 * len(quads) + 1, 4),
        quads.ravel(),
        ends[order],
        values[order],
        cage.corner_points[kept > 0],
        kept[kept > 0],
    )


def _points(cage: Cage, middles: np.ndarray, halves: np.ndarray, sharp: np.ndarray) -> np.ndarray:
    """(P, 3) where the cage's own points go."""
    t, points = cage.topology, cage.points
    count = len(points)
    valence = np.zeros(count)
    sum_halves, sum_faces, faces = np.zeros((count, 3)), np.zeros((count, 3)), np.zeros(count)
    ends = np.concatenate([t.edges[:, 0], t.edges[:, 1]])
    both = np.concatenate([halves, halves])
    np.add.at(valence, ends, 1)
    np.add.at(sum_halves, ends, both)
    np.add.at(sum_faces, cage.face_points, middles[t.face_of])
    np.add.at(faces, cage.face_points, 1)
    n = np.maximum(valence, 1)[:, None]
    smooth = (sum_faces / np.maximum(faces, 1)[:, None] + 2 * sum_halves / n + (n - 3) * points) / n

    twice = np.concatenate([sharp, sharp])
    hard = twice > 0
    many, total, mean = np.zeros(count), np.zeros(count), np.zeros((count, 3))
    np.add.at(many, ends[hard], 1)
    np.add.at(total, ends[hard], np.minimum(twice[hard], SHARP))
    np.add.at(mean, ends[hard], both[hard])
    crease = (mean + 2 * points) / 4
    corner = np.maximum(corner_sharpness(cage), np.where(many >= 3, total / np.maximum(many, 1), 0.0))
    along = np.where(many == 2, total / 2, 0.0)
    result = smooth.copy()
    two = many == 2
    share = np.minimum(along, 1.0)[:, None]
    result[two] = (share * crease + (1 - share) * smooth)[two]
    share = np.minimum(corner, 1.0)[:, None]
    held = corner > 0
    result[held] = (share * points + (1 - share) * result)[held]
    return np.asarray(result)
