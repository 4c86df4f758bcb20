"""The faces around a face, read in an order that depends on connectivity alone.

Two cage faces whose neighbourhoods read the same have the same weights from control points to limit surface, so
weights are worked out once for each reading and kept.

A reading is a row of int64: corners of the face, number of points, number of faces, then for each face its corner
count and its points in local numbers; then one code for every half-edge of these faces in the same order
(sharpness in 1e-9 steps), then one for each local point (its own sharpness in the same steps).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import SHARP, Cage
from hollow_marble.core.errors import HollowMarbleError

CODE = 1e9
MOST_AROUND = 128
"""Most corners of a face, and most faces about a point."""


@dataclass(frozen=True)
class Neighbourhoods:
    """Readings of every face of a cage.

    text : (sum of lengths,) int64, `starts` (F + 1,) says where each begins
    supports : (sum of counts,) int64 control points in local order, `support_starts` (F + 1,)
    """

    text: NDArray[np.int64]
    starts: NDArray[np.int64]
    supports: NDArray[np.int64]
    support_starts: NDArray[np.int64]


def half_edge_sharpness(cage: Cage) -> NDArray[np.float64]:
    """Sharpness of every half-edge, (H,); open edges count as fully sharp."""
    topology = cage.topology
    by_edge = np.zeros(len(topology.edges))
    if len(cage.crease_edges):
        width = len(cage.points)
        keys = topology.edges[:, 0] * width + topology.edges[:, 1]
        by_edge[np.searchsorted(keys, cage.crease_edges[:, 0] * width + cage.crease_edges[:, 1])] = (
            cage.crease_sharpness
        )
    sharpness: NDArray[np.float64] = np.where(topology.twin < 0, SHARP, np.minimum(by_edge[topology.edge_of], SHARP))
    return sharpness


def corner_sharpness(cage: Cage) -> NDArray[np.float64]:
    """Sharpness of every point itself, (P,). Points of an open edge that belong to a single face are fully sharp."""
    topology = cage.topology
    uses = np.bincount(cage.face_points, minlength=len(cage.points))
    on_open_edge = np.zeros(len(cage.points), bool)
    on_open_edge[cage.face_points[topology.twin < 0]] = True
    sharpness = np.zeros(len(cage.points))
    sharpness[cage.corner_points] = np.minimum(cage.corner_sharpness, SHARP)
    sharpness[on_open_edge & (uses == 1)] = SHARP
    return sharpness


def read_neighbourhoods(cage: Cage) -> Neighbourhoods:
    """Read the neighbourhood of every face.

    Raises
    ------
    HollowMarbleError
        where a face has more corners, or more faces meet in a point, than `MOST_AROUND`.
    """
    topology = cage.topology
    if np.diff(cage.face_starts).max() > MOST_AROUND or np.bincount(cage.face_points).max() > MOST_AROUND:
        raise HollowMarbleError(
            f"A face has more than {MOST_AROUND} corners, or more than {MOST_AROUND} faces meet in a point. "
            "Split the face, or use fewer sides."
        )
    text, starts, supports, support_starts = _read_all(
        cage.face_starts,
        cage.face_points,
        topology.next,
        topology.previous,
        topology.twin,
        topology.face_of,
        topology.point_half,
        np.rint(half_edge_sharpness(cage) * CODE).astype(np.int64),
        np.rint(corner_sharpness(cage) * CODE).astype(np.int64),
        len(cage.points),
    )
    return Neighbourhoods(text, starts, supports, support_starts)


@njit(cache=True, nogil=True)
def _read_all(face_starts, face_points, following, previous, twin, face_of, point_half, codes, corners, point_count):  # noqa: C901 — one compiled loop
    faces = len(face_starts) - 1
    text = np.empty(faces * 160 + 400, np.int64)
    supports = np.empty(faces * 24 + 400, np.int64)
    starts = np.zeros(faces + 1, np.int64)
    support_starts = np.zeros(faces + 1, np.int64)
    local = np.full(point_count, -1, np.int64)
    seen = np.full(faces, -1, np.int64)
    first_half = np.empty(faces, np.int64)
    at = 0
    point_at = 0
    for face in range(faces):
        ring = 0
        a, b = face_starts[face], face_starts[face + 1]
        seen[face] = face
        first_half[0] = a
        ring = 1
        for half in range(a, b):
            walker = half
            while True:  # counter-clockwise around the corner
                walker = twin[previous[walker]]
                if walker < 0 or walker == half:
                    break
                if seen[face_of[walker]] != face:
                    seen[face_of[walker]] = face
                    first_half[ring] = walker
                    ring += 1
            if walker < 0:  # an opening: fetch the rest the other way round
                walker = half
                while twin[walker] >= 0:
                    walker = following[twin[walker]]
                    if seen[face_of[walker]] != face:
                        seen[face_of[walker]] = face
                        first_half[ring] = walker
                        ring += 1
        most = 0
        for k in range(ring):
            f = face_of[first_half[k]]
            most += face_starts[f + 1] - face_starts[f]
        length = 3 + ring + 3 * most
        if at + length > len(text):
            bigger = np.empty(2 * len(text) + length, np.int64)
            bigger[:at] = text[:at]
            text = bigger
        if point_at + most > len(supports):
            wider = np.empty(2 * len(supports) + most, np.int64)
            wider[:point_at] = supports[:point_at]
            supports = wider
        text[at] = b - a
        text[at + 2] = ring
        place = at + 3
        points = 0
        for k in range(ring):
            half = first_half[k]
            f = face_of[half]
            size = face_starts[f + 1] - face_starts[f]
            text[place] = size
            place += 1
            for _ in range(size):
                p = face_points[half]
                if local[p] < 0:
                    local[p] = points
                    supports[point_at + points] = p
                    points += 1
                text[place] = local[p]
                place += 1
                half = following[half]
        for k in range(ring):
            half = first_half[k]
            f = face_of[half]
            for _ in range(face_starts[f + 1] - face_starts[f]):
                text[place] = codes[half]
                place += 1
                half = following[half]
        for k in range(points):
            text[place] = corners[supports[point_at + k]]
            place += 1
            local[supports[point_at + k]] = -1
        text[at + 1] = points
        at = place
        point_at += points
        starts[face + 1] = at
        support_starts[face + 1] = point_at
    return text[:at].copy(), starts, supports[:point_at].copy(), support_starts
