"""What every probe reads of a surface, however it is represented. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.curvature import Bends, averaged, bends_of, estimated
from hollow_marble.core.surface.nearest import Nearest

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

_ALIKE = 1.0 - 1e-10
"""Cosine above which two normals are one: less than a thousandth of a degree apart."""


@dataclass(frozen=True, eq=False)
class Probed:
    """N points in patches, T triangles, F faces.

    points, normals : (N, 3) float64, as exact as the representation gives them; a point that patches share stands in each of them
    triangles : (T, 3) int64, counter-clockwise from outside; faces : (T,) the face each belongs to; face_keys : (F,) uint64
    rims : (E, 2) int64 point numbers, the border of every patch in pieces
    joined : (N,) int64, number of the point of the surface behind each point
    derivatives : (N, 6, 3) position, u, v, uu, uv, vv, or None where the representation has none: curvature is then an estimate
    curved : (N,) bool, where the second derivatives hold
    tolerance : mm the triangles are off the surface, as far as that is known
    closed : whether it has an inside
    edged : whether a sharp edge of it was built so; a skin that was sculpted or scanned has none by itself
    """

    points: Values
    normals: Values
    triangles: Numbers
    faces: Numbers
    face_keys: NDArray[np.uint64]
    rims: Numbers
    joined: Numbers
    derivatives: Values | None
    curved: NDArray[np.bool_]
    tolerance: float
    closed: bool
    edged: bool = False

    @cached_property
    def bends(self) -> Bends:
        """Curvature at every point."""
        if self.derivatives is None:
            return estimated(self.points, self.normals, self.triangles)
        return averaged(bends_of(self.derivatives), self.curved, self.triangles)

    @cached_property
    def smooth(self) -> Numbers:
        """(N,) like `joined`, but points whose normals differ are apart: lines that follow the normals break where the surface does."""
        order = np.argsort(self.joined, kind="stable")
        number = self.joined[order]
        found = np.full(len(order), -1)
        left, offset = np.arange(len(order)), 0
        while len(left):
            first = left[np.concatenate([[True], np.diff(number[left]) > 0])]
            lead = first[np.searchsorted(number[first], number[left])]
            alike = (self.normals[order[left]] * self.normals[order[lead]]).sum(axis=1) > _ALIKE
            alike |= left == lead
            found[order[left[alike]]] = number[left[alike]] + offset
            left, offset = left[~alike], offset + int(number[-1]) + 1
        return found

    @cached_property
    def nearest(self) -> Nearest:
        """What finds the place nearest to a point, and what a ray meets."""
        return Nearest(self.points, self.triangles)

    @cached_property
    def point_keys(self) -> NDArray[np.uint64]:
        """(N,) key of a face each point lies on."""
        face = np.zeros(len(self.points), np.int64)
        face[self.triangles.ravel()] = np.repeat(self.faces, 3)
        return np.asarray(self.face_keys[face])

    @cached_property
    def open_rims(self) -> Numbers:
        """(B, 2) pieces of rims that no other patch shares: where the surface is open."""
        named = np.sort(self.joined[self.rims], axis=1)
        _, first, uses = np.unique(named @ [int(self.joined.max()) + 1, 1], return_index=True, return_counts=True)
        alone = first[uses == 1]
        return np.asarray(self.rims[alone[named[alone, 0] != named[alone, 1]]])

    @cached_property
    def areas(self) -> Values:
        """(T,) mm²."""
        a, b, c = self.points[self.triangles].transpose(1, 0, 2)
        return np.asarray(np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2)

    @cached_property
    def size(self) -> float:
        """Diagonal of the box around it, mm."""
        return float(np.linalg.norm(self.points.max(axis=0) - self.points.min(axis=0)))

    def welded(self) -> tuple[Values, Numbers]:
        """Points (M, 3) and triangles (T', 3) with the points that patches share made one."""
        points = np.empty((int(self.joined.max()) + 1, 3))
        points[self.joined] = self.points
        triangles = self.joined[self.triangles]
        a, b, c = triangles.T
        return points, triangles[(a != b) & (b != c) & (c != a)]


def probed_mesh(points: Values, triangles: Numbers, closed: bool) -> Probed:
    """A mesh of flat triangles whose points are joined, as a probe reads it: one face, normals by area."""
    corners = points[triangles]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = np.stack(
        [np.bincount(triangles.ravel(), np.repeat(area[:, k], 3), len(points)) for k in range(3)], axis=1
    )
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    normals = np.divide(normals, length, out=np.zeros_like(normals), where=length > 0)
    sides = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    _, first, uses = np.unique(np.sort(sides, axis=1) @ [len(points), 1], return_index=True, return_counts=True)
    return Probed(
        points,
        normals,
        triangles,
        np.zeros(len(triangles), np.int64),
        np.array([1], np.uint64),
        sides[first[uses == 1]],
        np.arange(len(points)),
        None,
        np.zeros(len(points), bool),
        0.0,
        closed,
    )


def normals_of(derivatives: Values, instead: NDArray[np.floating]) -> Values:
    """(N, 3) unit normals of (N, 6, 3) derivatives; where the tangents are parallel, those of a mesh (N, 3)."""
    u, v = derivatives[:, 1], derivatives[:, 2]
    normal = np.cross(u, v)
    size = np.linalg.norm(normal, axis=1)
    told = size > 1e-9 * np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1)
    return np.where(told[:, None], normal / np.where(told, size, 1.0)[:, None], instead)
