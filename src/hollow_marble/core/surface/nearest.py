"""The place of a mesh nearest to a point, and what a ray meets: a tree of boxes over triangles sorted along a space-filling curve
(Morton 1966; Karras 2012 for building it so)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

_LEAF = 4
_DEEPEST = 64
_SLACK = 1e-6
"""Share by which triangles reach over one another, so that no ray slips through between them."""


@dataclass(frozen=True, eq=False)
class Found:
    """What was found for each of K: distance (K,) mm, inf where nothing was; triangle (K,) its number, -1 where nothing was; place (K, 3);
    shares (K, 3) of the triangle's corners."""

    distance: Values
    triangle: Numbers
    place: Values
    shares: Values


class Nearest:
    """Asks a mesh: points (N, 3), triangles (T, 3)."""

    def __init__(self, points: Values, triangles: Numbers) -> None:
        corners = points[triangles]
        middle = corners.mean(axis=1)
        low = middle.min(axis=0)
        span = max(float((middle.max(axis=0) - low).max()), 1e-12)
        cells = np.minimum((middle - low) / span * 1023, 1023).astype(np.int64)
        self._order = np.argsort(
            _spread(cells[:, 0]) << 2 | _spread(cells[:, 1]) << 1 | _spread(cells[:, 2]), kind="stable"
        )
        self._corners = np.ascontiguousarray(corners[self._order])
        self._boxes = _boxes(self._corners, 1e-9 * span)

    @property
    def nbytes(self) -> int:
        """Bytes it holds."""
        return int(self._corners.nbytes + self._boxes.nbytes + self._order.nbytes)

    def closest(self, places: Values, reach: float = np.inf, apart: tuple[Numbers, Numbers] | None = None) -> Found:
        """The nearest place of the mesh within `reach` mm of each of (K, 3) points; where `apart` is given, (T,) labels of triangles and (K,)
        of points, only of triangles that have another label."""
        labels, own = apart or (np.zeros(len(self._order), np.int64), np.full(len(places), -1))
        args = (np.ascontiguousarray(places), self._corners, self._boxes, reach, labels[self._order], own)
        distance, slot, place, shares = _closest(*args)
        return Found(distance, self._named(slot), place, shares)

    def met(self, starts: Values, ways: Values, after: float = 0.0) -> Found:
        """What rays from (K, 3) along unit (K, 3) meet first, further than `after` mm on."""
        args = (np.ascontiguousarray(starts), np.ascontiguousarray(ways), self._corners, self._boxes, after)
        distance, slot, shares = _met(*args)
        with np.errstate(invalid="ignore"):
            place = starts + ways * distance[:, None]
        return Found(distance, self._named(slot), place, shares)

    def _named(self, slot: Numbers) -> Numbers:
        return np.where(slot >= 0, self._order[slot], -1)


def _spread(number: Numbers) -> Numbers:
    """The ten lowest bits, two apart from one another."""
    for shift, mask in ((16, 0x030000FF), (8, 0x0300F00F), (4, 0x030C30C3), (2, 0x09249249)):
        number = (number | number << shift) & mask
    return number


@njit(cache=True, nogil=True)
def _boxes(corners, wider):
    leaves = (len(corners) + _LEAF - 1) // _LEAF
    size = 1
    while size < leaves:
        size *= 2
    boxes = np.empty((2 * size, 6))
    boxes[:, :3] = np.inf
    boxes[:, 3:] = -np.inf
    for t in range(len(corners)):
        node = size + t // _LEAF
        for k in range(3):
            for axis in range(3):
                boxes[node, axis] = min(boxes[node, axis], corners[t, k, axis] - wider)
                boxes[node, 3 + axis] = max(boxes[node, 3 + axis], corners[t, k, axis] + wider)
    for node in range(size - 1, 0, -1):
        for axis in range(3):
            boxes[node, axis] = min(boxes[2 * node, axis], boxes[2 * node + 1, axis])
            boxes[node, 3 + axis] = max(boxes[2 * node, 3 + axis], boxes[2 * node + 1, 3 + axis])
    return boxes


@njit(cache=True, nogil=True)
def _to_box(x, y, z, box):
    dx = max(box[0] - x, 0.0, x - box[3])
    dy = max(box[1] - y, 0.0, y - box[4])
    dz = max(box[2] - z, 0.0, z - box[5])
    return dx * dx + dy * dy + dz * dz


@njit(cache=True, nogil=True)
def _on_triangle(px, py, pz, c):
    """Shares of b and c at the place of a triangle nearest to a point (Ericson 2005, Real-Time Collision Detection, 5.1.5)."""
    abx, aby, abz = c[1, 0] - c[0, 0], c[1, 1] - c[0, 1], c[1, 2] - c[0, 2]
    acx, acy, acz = c[2, 0] - c[0, 0], c[2, 1] - c[0, 1], c[2, 2] - c[0, 2]
    apx, apy, apz = px - c[0, 0], py - c[0, 1], pz - c[0, 2]
    d1, d2 = abx * apx + aby * apy + abz * apz, acx * apx + acy * apy + acz * apz
    if d1 <= 0 and d2 <= 0:
        return 0.0, 0.0
    bpx, bpy, bpz = px - c[1, 0], py - c[1, 1], pz - c[1, 2]
    d3, d4 = abx * bpx + aby * bpy + abz * bpz, acx * bpx + acy * bpy + acz * bpz
    if d3 >= 0 and d4 <= d3:
        return 1.0, 0.0
    vc = d1 * d4 - d3 * d2
    if vc <= 0 and d1 >= 0 and d3 <= 0 and d1 > d3:  # of a triangle whose first side is a point the others are asked
        return d1 / (d1 - d3), 0.0
    cpx, cpy, cpz = px - c[2, 0], py - c[2, 1], pz - c[2, 2]
    d5, d6 = abx * cpx + aby * cpy + abz * cpz, acx * cpx + acy * cpy + acz * cpz
    if d6 >= 0 and d5 <= d6:
        return 0.0, 1.0
    vb = d5 * d2 - d1 * d6
    if vb <= 0 and d2 >= 0 and d6 <= 0:
        return 0.0, d2 / (d2 - d6)
    va = d3 * d6 - d5 * d4
    if va <= 0 and (d4 - d3) >= 0 and (d5 - d6) >= 0:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        return 1.0 - w, w
    total = va + vb + vc
    if total <= 0.0:
        return 0.0, 0.0
    return vb / total, vc / total


@njit(cache=True, nogil=True)
def _closest(places, corners, boxes, reach, labels, own):  # noqa: C901 — one compiled loop
    count, size = len(places), len(boxes) // 2
    distance, slot = np.empty(count), np.empty(count, np.int64)
    found, shares = np.zeros((count, 3)), np.zeros((count, 3))
    nodes, gaps = np.empty(_DEEPEST, np.int64), np.empty(_DEEPEST)
    last = -1
    for i in range(count):
        x, y, z = places[i, 0], places[i, 1], places[i, 2]
        best, at, v, w = reach * reach, -1, 0.0, 0.0
        if last >= 0 and labels[last] != own[i]:  # neighbours in the list are mostly neighbours in space
            v, w = _on_triangle(x, y, z, corners[last])
            away = _away(x, y, z, corners[last], v, w)
            if away <= best:
                best, at = away, last
        top = 1
        nodes[0], gaps[0] = 1, 0.0
        while top:
            top -= 1
            node = nodes[top]
            if gaps[top] >= best:
                continue
            if node >= size:
                first = (node - size) * _LEAF
                for t in range(first, min(first + _LEAF, len(corners))):
                    if labels[t] == own[i]:
                        continue
                    tv, tw = _on_triangle(x, y, z, corners[t])
                    away = _away(x, y, z, corners[t], tv, tw)
                    if away < best:
                        best, at, v, w = away, t, tv, tw
                continue
            one, other = 2 * node, 2 * node + 1
            near, far = _to_box(x, y, z, boxes[one]), _to_box(x, y, z, boxes[other])
            if near > far:
                one, other, near, far = other, one, far, near
            if far < best:
                nodes[top], gaps[top] = other, far
                top += 1
            if near < best:
                nodes[top], gaps[top] = one, near
                top += 1
        last = at
        slot[i] = at
        distance[i] = np.sqrt(best) if at >= 0 else np.inf
        if at >= 0:
            shares[i, 0], shares[i, 1], shares[i, 2] = 1 - v - w, v, w
            for axis in range(3):
                found[i, axis] = (
                    (1 - v - w) * corners[at, 0, axis] + v * corners[at, 1, axis] + w * corners[at, 2, axis]
                )
    return distance, slot, found, shares


@njit(cache=True, nogil=True)
def _away(x, y, z, c, v, w):
    u = 1 - v - w
    dx = x - (u * c[0, 0] + v * c[1, 0] + w * c[2, 0])
    dy = y - (u * c[0, 1] + v * c[1, 1] + w * c[2, 1])
    dz = z - (u * c[0, 2] + v * c[1, 2] + w * c[2, 2])
    return dx * dx + dy * dy + dz * dz


@njit(cache=True, nogil=True)
def pierced(px, py, pz, dx, dy, dz, c):
    """How many d on from p a line meets a triangle's plane, and the shares of its second and third corner there; a distance of NaN where it
    runs beside it (Möller & Trumbore 1997)."""
    e0, e1, e2 = c[1, 0] - c[0, 0], c[1, 1] - c[0, 1], c[1, 2] - c[0, 2]
    f0, f1, f2 = c[2, 0] - c[0, 0], c[2, 1] - c[0, 1], c[2, 2] - c[0, 2]
    h0, h1, h2 = dy * f2 - dz * f1, dz * f0 - dx * f2, dx * f1 - dy * f0
    det = e0 * h0 + e1 * h1 + e2 * h2
    if abs(det) < 1e-14:
        return np.nan, 0.0, 0.0
    s0, s1, s2 = px - c[0, 0], py - c[0, 1], pz - c[0, 2]
    u = (s0 * h0 + s1 * h1 + s2 * h2) / det
    g0, g1, g2 = s1 * e2 - s2 * e1, s2 * e0 - s0 * e2, s0 * e1 - s1 * e0
    v = (dx * g0 + dy * g1 + dz * g2) / det
    return (f0 * g0 + f1 * g1 + f2 * g2) / det, u, v


@njit(cache=True, nogil=True)
def _into_box(px, py, pz, ix, iy, iz, box, most):
    """How far along a ray (its inverse direction given) it enters a box, inf where it does not before `most`."""
    if box[0] > box[3]:  # holds nothing
        return np.inf
    a, b = (box[0] - px) * ix, (box[3] - px) * ix
    near, far = min(a, b), max(a, b)
    a, b = (box[1] - py) * iy, (box[4] - py) * iy
    near, far = max(near, min(a, b)), min(far, max(a, b))
    a, b = (box[2] - pz) * iz, (box[5] - pz) * iz
    near, far = max(near, min(a, b)), min(far, max(a, b))
    return near if near <= far and far >= 0.0 and near < most else np.inf


@njit(cache=True, nogil=True)
def _met(starts, ways, corners, boxes, after):
    count, size = len(starts), len(boxes) // 2
    distance, slot, shares = np.full(count, np.inf), np.full(count, -1, np.int64), np.zeros((count, 3))
    nodes, gaps = np.empty(_DEEPEST, np.int64), np.empty(_DEEPEST)
    for i in range(count):
        px, py, pz = starts[i, 0], starts[i, 1], starts[i, 2]
        dx, dy, dz = ways[i, 0], ways[i, 1], ways[i, 2]
        ix = 1 / dx if abs(dx) > 1e-300 else 1e300
        iy = 1 / dy if abs(dy) > 1e-300 else 1e300
        iz = 1 / dz if abs(dz) > 1e-300 else 1e300
        best = np.inf
        top = 1
        nodes[0], gaps[0] = 1, 0.0
        while top:
            top -= 1
            node = nodes[top]
            if gaps[top] > best:
                continue
            if node >= size:
                first = (node - size) * _LEAF
                for t in range(first, min(first + _LEAF, len(corners))):
                    on, u, v = pierced(px, py, pz, dx, dy, dz, corners[t])
                    if after < on < best and u >= -_SLACK and v >= -_SLACK and u + v <= 1 + _SLACK:
                        best = on
                        slot[i] = t
                        shares[i, 0], shares[i, 1], shares[i, 2] = 1 - u - v, u, v
                continue
            one, other = 2 * node, 2 * node + 1
            near = _into_box(px, py, pz, ix, iy, iz, boxes[one], best)
            far = _into_box(px, py, pz, ix, iy, iz, boxes[other], best)
            if near > far:
                one, other, near, far = other, one, far, near
            if far < np.inf:
                nodes[top], gaps[top] = other, far
                top += 1
            if near < np.inf:
                nodes[top], gaps[top] = one, near
                top += 1
        distance[i] = best
    return distance, slot, shares
