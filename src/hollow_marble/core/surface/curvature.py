"""How a surface bends: principal curvatures and what follows from them, exact from derivatives or estimated from triangles."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

Values = NDArray[np.float64]

FLATTEST = 1e-7
"""1/mm below which nothing bends: a radius of ten kilometres."""


@dataclass(frozen=True, eq=False)
class Bends:
    """high, low (N,) 1/mm, the most and the least the surface bulges outward along any direction; along (N, 2, 3) these directions, of
    length 1 and square to each other. Where both are the same, as on a sphere, any two such directions are told.

    exact (N,) bool : False where the values are a mean of the neighbours' or an estimate; where a mean, no direction is told (0, 0, 0)
    """

    high: Values
    low: Values
    along: Values
    exact: NDArray[np.bool_]

    @cached_property
    def mean(self) -> Values:
        """(N,) 1/mm, half the sum of the principal curvatures; positive where the surface bulges outward."""
        return np.asarray((self.high + self.low) / 2)

    @cached_property
    def gaussian(self) -> Values:
        """(N,) 1/mm², the product of the principal curvatures."""
        return self.high * self.low

    @cached_property
    def _lower(self) -> NDArray[np.bool_]:
        return np.abs(self.low) > np.abs(self.high)

    @cached_property
    def largest(self) -> Values:
        """(N,) 1/mm, of the two principal curvatures the one of the smaller radius."""
        return np.where(self._lower, self.low, self.high)

    @cached_property
    def largest_along(self) -> Values:
        """(N, 3) the direction of `largest`."""
        return np.where(self._lower[:, None], self.along[:, 1], self.along[:, 0])

    @cached_property
    def radius(self) -> Values:
        """(N,) mm, the smallest radius of any curve that runs straight over the surface here."""
        return np.asarray(1 / np.maximum(np.abs(self.largest), FLATTEST))

    @cached_property
    def tensor(self) -> Values:
        """(N, 6) 1/mm, the second fundamental form in space, xx yy zz yz zx xy: how much the surface bulges along a unit tangent t is
        t · tensor · t. It can be mixed between neighbours."""
        found = np.zeros((len(self.high), 6))
        for value, way in ((self.high, self.along[:, 0]), (self.low, self.along[:, 1])):
            x, y, z = way.T
            found += value[:, None] * np.stack([x * x, y * y, z * z, y * z, z * x, x * y], axis=1)
        return found


def bent_along(tensor: Values, way: Values) -> Values:
    """Normal curvature (K,) 1/mm of tensors (K, 6) along unit tangents (K, 3)."""
    x, y, z = way.T
    return np.asarray((tensor * np.stack([x * x, y * y, z * z, 2 * y * z, 2 * z * x, 2 * x * y], axis=1)).sum(axis=1))


def bends_of(derivatives: Values) -> Bends:
    """Principal curvatures from (N, 6, 3) position, u, v, uu, uv, vv: what the second form is in a frame of the tangent plane, turned so
    that it is diagonal (do Carmo 1976, section 3-2). Points where the tangents are parallel get NaN and are not exact."""
    count = len(derivatives)
    high, low, along = np.empty(count), np.empty(count), np.empty((count, 2, 3))
    _principal(np.ascontiguousarray(derivatives), high, low, along)
    return Bends(high, low, along, np.isfinite(high))


@njit(cache=True, nogil=True, error_model="numpy")
def _principal(derivatives, high, low, along):
    for i in range(len(derivatives)):
        d = derivatives[i]
        ux, uy, uz = d[1, 0], d[1, 1], d[1, 2]
        vx, vy, vz = d[2, 0], d[2, 1], d[2, 2]
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = np.sqrt(nx * nx + ny * ny + nz * nz)
        a = np.sqrt(ux * ux + uy * uy + uz * uz)
        if size <= 1e-12 * a * np.sqrt(vx * vx + vy * vy + vz * vz):
            high[i] = low[i] = np.nan
            along[i] = 0.0
            continue
        nx, ny, nz = nx / size, ny / size, nz / size
        ox, oy, oz = ux / a, uy / a, uz / a
        px, py, pz = ny * oz - nz * oy, nz * ox - nx * oz, nx * oy - ny * ox
        b, c = vx * ox + vy * oy + vz * oz, vx * px + vy * py + vz * pz
        l = -(nx * d[3, 0] + ny * d[3, 1] + nz * d[3, 2])
        m = -(nx * d[4, 0] + ny * d[4, 1] + nz * d[4, 2])
        n = -(nx * d[5, 0] + ny * d[5, 1] + nz * d[5, 2])
        # of steps along the frame instead of along u and v
        xx = l / (a * a)
        xy = (m - l * b / a) / (a * c)
        yy = (n - 2 * m * b / a + l * (b / a) * (b / a)) / (c * c)
        middle, half = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
        turn = np.arctan2(2 * xy, xx - yy) / 2
        x, y = np.cos(turn), np.sin(turn)
        high[i], low[i] = middle + half, middle - half
        along[i, 0, 0], along[i, 0, 1], along[i, 0, 2] = x * ox + y * px, x * oy + y * py, x * oz + y * pz
        along[i, 1, 0], along[i, 1, 1], along[i, 1, 2] = x * px - y * ox, x * py - y * oy, x * pz - y * oz


def averaged(bends: Bends, curved: NDArray[np.bool_], triangles: NDArray[np.integer]) -> Bends:
    """With the mean of the neighbours' values where curvature is unbounded or undefined ((N,) `curved` False): odd points and corners."""
    exact = bends.exact & curved
    if exact.all():
        return bends
    high, low, along = bends.high.copy(), bends.low.copy(), bends.along.copy()
    touched = triangles[(~exact)[triangles].any(axis=1)].astype(np.int64)
    pairs = np.concatenate([touched[:, [a, b]] for a in range(3) for b in range(3) if a != b])
    pairs = np.unique(pairs[~exact[pairs[:, 0]] & exact[pairs[:, 1]]], axis=0)
    here, there = pairs.T
    counts = np.maximum(np.bincount(here, minlength=len(high)), 1)
    for values in (high, low):
        values[~exact] = (np.bincount(here, values[there], len(high)) / counts)[~exact]
    along[~exact] = 0.0
    return Bends(high, low, along, exact)


def estimated(points: Values, normals: Values, triangles: NDArray[np.int64]) -> Bends:
    """Principal curvatures of a mesh of flat triangles: of each triangle from how the normals change along its sides, of each point the
    mean of its triangles' by area (Rusinkiewicz 2004, Estimating Curvatures and Their Derivatives on Triangle Meshes). An estimate: its
    error is of the order of the sides' length."""
    corners, ns = points[triangles], normals[triangles]
    sides = corners[:, [2, 0, 1]] - corners[:, [1, 2, 0]]
    cross = np.cross(sides[:, 0], sides[:, 1])
    area = np.maximum(np.linalg.norm(cross, axis=1), 1e-300)
    u = sides[:, 0] / np.maximum(np.linalg.norm(sides[:, 0], axis=1), 1e-300)[:, None]
    v = np.cross(cross / area[:, None], u)
    turns = ns[:, [2, 0, 1]] - ns[:, [1, 2, 0]]
    a, b = np.einsum("tkj,tj->tk", sides, u), np.einsum("tkj,tj->tk", sides, v)
    left, right = np.einsum("tkj,tj->tk", turns, u), np.einsum("tkj,tj->tk", turns, v)
    # least squares of  [a b 0; 0 a b] (e f g) = (left right)  over three sides
    aa, bb, ab = (a * a).sum(axis=1), (b * b).sum(axis=1), (a * b).sum(axis=1)
    system = np.zeros((len(triangles), 3, 3))
    system[:, 0, 0], system[:, 1, 1], system[:, 2, 2] = aa, aa + bb, bb
    system[:, 0, 1] = system[:, 1, 0] = system[:, 1, 2] = system[:, 2, 1] = ab
    wanted = np.stack([(a * left).sum(axis=1), (b * left + a * right).sum(axis=1), (b * right).sum(axis=1)], axis=1)
    system += (1e-12 * (aa + bb) + 1e-300)[:, None, None] * np.eye(3)
    e, f, g = np.linalg.solve(system, wanted[..., None])[..., 0].T
    form = np.einsum("t,ti,tj->tij", e, u, u) + np.einsum("t,ti,tj->tij", g, v, v)
    form += np.einsum("t,tij->tij", f, np.einsum("ti,tj->tij", u, v) + np.einsum("ti,tj->tij", v, u))
    total, weight = np.zeros((len(points), 9)), np.bincount(triangles.ravel(), np.repeat(area, 3), len(points))
    flat = (form * area[:, None, None]).reshape(-1, 9)
    for column in range(9):
        total[:, column] = np.bincount(triangles.ravel(), np.repeat(flat[:, column], 3), len(points))
    mean = (total / np.maximum(weight, 1e-300)[:, None]).reshape(-1, 3, 3)
    flat_to = np.eye(3) - normals[:, :, None] * normals[:, None, :]
    values, ways = np.linalg.eigh(flat_to @ mean @ flat_to)
    # of the three directions the normal is none of the surface's
    across = np.abs(np.einsum("nij,ni->nj", ways, normals)).argmax(axis=1)
    rest = np.array([[2, 1], [2, 0], [1, 0]])[across]
    rows = np.arange(len(points))
    along = np.stack([ways[rows, :, rest[:, 0]], ways[rows, :, rest[:, 1]]], axis=1)
    high, low = values[rows, rest[:, 0]], values[rows, rest[:, 1]]
    return Bends(high, low, along, np.zeros(len(points), bool))
