"""The skin of a cage: what maps control points to the limit surface is prepared once, a drag is only weights."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.neighbourhood import read_neighbourhoods
from hollow_marble.core.cage.stencils import grid_width, limit_stencils

_KEPT_STENCILS = 4000
_stencils: OrderedDict[tuple[bytes, int], tuple[NDArray[np.float64], NDArray[np.bool_]]] = OrderedDict()


@dataclass(frozen=True)
class SkinPlan:
    """Weights that take a cage's points to its skin, for one connectivity and level.

    The skin is a row of square grids ("patches"): one a four-cornered face, n a face of n corners. Patches of cage
    faces follow one another in face order; wide patches have 2^level + 1 points a side, those of other faces
    2^(level-1) + 1.

    weights : flat float64; a patch's block is (K, 3 * points) for position and tangents
    second : flat float64; the same for the three second derivatives
    block : (N,) where a patch's block begins; support_at, support_count : (N,) its control points in `supports`
    point_starts : (N + 1,) where a patch's points begin in the skin's arrays
    widths : (N,) points along a side
    patch_face : (N,) cage face of each patch
    curved : (points,) bool, where second derivatives are exact
    """

    level: int
    weights: NDArray[np.float64]
    second: NDArray[np.float64]
    block: NDArray[np.int64]
    supports: NDArray[np.int64]
    support_at: NDArray[np.int64]
    support_count: NDArray[np.int64]
    point_starts: NDArray[np.int64]
    widths: NDArray[np.int64]
    patch_face: NDArray[np.int64]
    curved: NDArray[np.bool_]

    @property
    def point_count(self) -> int:
        return int(self.point_starts[-1])

    @cached_property
    def light_weights(self) -> NDArray[np.float32]:
        """The weights in single precision, for what is drawn."""
        return self.weights.astype(np.float32)

    @cached_property
    def triangles(self) -> NDArray[np.uint32]:
        """(T, 3) point numbers into the skin, counter-clockwise from outside."""
        by_width: dict[int, NDArray[np.int64]] = {}
        parts = []
        for width in np.unique(self.widths).tolist():
            by_width[width] = grid_triangles(width)
        for start, width in zip(self.point_starts.tolist(), self.widths.tolist()):
            parts.append(by_width[width] + start)
        return np.concatenate(parts).astype(np.uint32)

    @cached_property
    def triangle_patch(self) -> NDArray[np.int64]:
        """(T,) the patch each triangle lies in."""
        return np.repeat(np.arange(len(self.widths)), 2 * (self.widths - 1) ** 2)

    @cached_property
    def layout(self) -> tuple[NDArray[np.int32], NDArray[np.int32], NDArray[np.int32], NDArray[np.int32]]:
        """(N + 1,) where patches begin, (T,) patch of each triangle, (N,) face of each patch, and (E, 2) point numbers along
        the borders of all patches: the cage's edges on the skin. All as they are sent."""
        small = (
            self.point_starts.astype(np.int32),
            self.triangle_patch.astype(np.int32),
            self.patch_face.astype(np.int32),
        )
        return *small, _rims(self.point_starts, self.widths)

    def patches_moved_by(self, moved: NDArray[np.bool_]) -> NDArray[np.int64]:
        """Patches that depend on any of the moved control points ((P,) bool)."""
        touched = np.add.reduceat(moved[self.supports].astype(np.int64), self.support_at)
        return np.flatnonzero(touched > 0)


@dataclass
class Skin:
    """Points of a limit surface: positions (N, 3) float32 mm, unit normals (N, 4) int16 / 32767 (last column 0)."""

    positions: NDArray[np.float32]
    normals: NDArray[np.int16]


def plan_skin(cage: Cage, level: int) -> SkinPlan:
    """Prepare the weights of a cage at a level (1 to 6). Neighbourhoods met before cost only a look-up."""
    readings = read_neighbourhoods(cage)
    blocks: list[NDArray[np.float64]] = []
    seconds: list[NDArray[np.float64]] = []
    curved_of: list[NDArray[np.bool_]] = []
    size_of: list[int] = []
    starts = readings.starts.tolist()
    corner_counts = np.diff(cage.face_starts).tolist()
    text = readings.text.tobytes()
    known: dict[bytes, int] = {}
    first_block: list[int] = []
    total = 0
    index = np.empty(cage.face_count, np.int64)
    for face in range(cage.face_count):
        key = text[8 * starts[face] : 8 * starts[face + 1]]
        number = known.get(key)
        if number is None:
            number = known[key] = len(size_of)
            weights, curved = _stencil(key, level)
            grids, points, _, count = weights.shape
            for source, target in ((weights[:, :, :3], blocks), (weights[:, :, 3:], seconds)):
                target.append(np.ascontiguousarray(source.transpose(0, 3, 2, 1)).reshape(-1))
            curved_of.append(curved)
            size_of.append(3 * points * count)
            first_block.append(total)
            total += grids * 3 * points * count
        index[face] = number
    grids_of_face = np.array([1 if c == 4 else c for c in corner_counts])
    patch_face = np.repeat(np.arange(cage.face_count), grids_of_face)
    grid_in_face = np.arange(len(patch_face)) - np.repeat(np.cumsum(grids_of_face) - grids_of_face, grids_of_face)
    widths = np.array([grid_width(c, level) for c in corner_counts])[patch_face]
    block = np.array(first_block)[index][patch_face] + grid_in_face * np.array(size_of)[index][patch_face]
    curved = np.concatenate([curved_of[n].reshape(-1) for n in index.tolist()])
    return SkinPlan(
        level,
        np.concatenate(blocks),
        np.concatenate(seconds),
        block.astype(np.int64),
        readings.supports,
        readings.support_starts[:-1][patch_face],
        np.diff(readings.support_starts)[patch_face],
        np.concatenate([[0], np.cumsum(widths * widths)]).astype(np.int64),
        widths,
        patch_face,
        curved,
    )


def _stencil(key: bytes, level: int) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    found = _stencils.get((key, level))
    if found is None:
        found = limit_stencils(np.frombuffer(key, np.int64), level)
        _stencils[key, level] = found
        if len(_stencils) > _KEPT_STENCILS:
            _stencils.popitem(last=False)
    return found


def empty_skin(plan: SkinPlan) -> Skin:
    """Room for a whole skin."""
    return Skin(np.empty((plan.point_count, 3), np.float32), np.zeros((plan.point_count, 4), np.int16))


def evaluate(plan: SkinPlan, points: NDArray[np.float64]) -> Skin:
    """The whole skin of control points (P, 3)."""
    skin = empty_skin(plan)
    evaluate_patches(plan, points, np.arange(len(plan.widths)), skin)
    return skin


def evaluate_patches(plan: SkinPlan, points: NDArray[np.float64], patches: NDArray[np.int64], skin: Skin) -> None:
    """Write the given patches into a skin, in place."""
    _evaluate(
        points, patches, plan.light_weights, plan.block, plan.supports, plan.support_at, plan.support_count,
        plan.point_starts, skin.positions, skin.normals,
    )  # fmt: skip


def derivatives(
    plan: SkinPlan, points: NDArray[np.float64], patches: NDArray[np.integer] | None = None
) -> NDArray[np.float64]:
    """Position, u, v, uu, uv, vv at every skin point, (N, 6, 3) float64, by parameter steps of one skin cell; or at those of some patches,
    in their order."""
    chosen = np.arange(len(plan.widths)) if patches is None else patches.astype(np.int64)
    firsts = np.concatenate([[0], np.cumsum(plan.widths[chosen] ** 2)])
    out = np.empty((int(firsts[-1]), 6, 3))
    args = (points, chosen, firsts, plan.block, plan.supports, plan.support_at, plan.support_count)
    _derive(*args, plan.weights, 0, out)
    _derive(*args, plan.second, 3, out)
    return out


def grid_triangles(width: int) -> NDArray[np.int64]:
    """(T, 3) point numbers of a square grid with so many points a side."""
    corner = (np.arange(width - 1)[:, None] * width + np.arange(width - 1)).reshape(-1)
    a, b, c, d = corner, corner + 1, corner + 1 + width, corner + width
    pairs = np.stack([np.stack([a, b, c], 1), np.stack([a, c, d], 1)], 1)
    # the diagonal runs into the patch's corner at all four of them: where two faces share both edges of a point, the other one would
    # join two points of the rim, in both faces the same
    if width > 2:
        for k in (width - 2, (width - 2) * (width - 1)):
            pairs[k] = [[a[k], b[k], d[k]], [b[k], c[k], d[k]]]
    return pairs.reshape(-1, 3)


def _rims(point_starts: NDArray[np.int64], widths: NDArray[np.int64]) -> NDArray[np.int32]:
    parts = []
    for width in np.unique(widths).tolist():
        starts = point_starts[:-1][widths == width]
        along, last = np.arange(width - 1), width * (width - 1)
        runs = ((along, 1), (last + along, 1), (along * width, width), (along * width + width - 1, width))
        sides = np.concatenate([np.stack([first, first + step], 1) for first, step in runs])
        parts.append((starts[:, None, None] + sides).reshape(-1, 2))
    return np.concatenate(parts).astype(np.int32)


@njit(cache=True, nogil=True, fastmath=True)
def _evaluate(points, patches, weights, block, supports, support_at, support_count, point_starts, positions, normals):
    widest = 0
    for i in range(len(patches)):
        widest = max(widest, point_starts[patches[i] + 1] - point_starts[patches[i]])
    x = np.empty(3 * widest, np.float32)
    y = np.empty(3 * widest, np.float32)
    z = np.empty(3 * widest, np.float32)
    for i in range(len(patches)):
        patch = patches[i]
        start = point_starts[patch]
        count = point_starts[patch + 1] - start
        length = 3 * count
        x[:length] = 0.0
        y[:length] = 0.0
        z[:length] = 0.0
        at = block[patch]
        # seen from one of its own points a patch is small, so that single precision loses nothing that is sent
        near = supports[support_at[patch]]
        ox, oy, oz = points[near, 0], points[near, 1], points[near, 2]
        for k in range(support_count[patch]):
            p = supports[support_at[patch] + k]
            px = np.float32(points[p, 0] - ox)
            py = np.float32(points[p, 1] - oy)
            pz = np.float32(points[p, 2] - oz)
            row = weights[at : at + length]
            for j in range(length):
                w = row[j]
                x[j] += w * px
                y[j] += w * py
                z[j] += w * pz
            at += length
        for j in range(count):
            positions[start + j, 0] = x[j] + ox
            positions[start + j, 1] = y[j] + oy
            positions[start + j, 2] = z[j] + oz
            ux, uy, uz = x[count + j], y[count + j], z[count + j]
            vx, vy, vz = x[2 * count + j], y[2 * count + j], z[2 * count + j]
            nx = uy * vz - uz * vy
            ny = uz * vx - ux * vz
            nz = ux * vy - uy * vx
            size = np.sqrt(nx * nx + ny * ny + nz * nz)
            lengths = np.sqrt((ux * ux + uy * uy + uz * uz) * (vx * vx + vy * vy + vz * vz))
            # below this it is rounding that keeps parallel tangents apart
            scale = np.float32(32767.0) / size if size > np.float32(3e-6) * lengths else np.float32(0.0)
            normals[start + j, 0] = np.int16(np.rint(nx * scale))
            normals[start + j, 1] = np.int16(np.rint(ny * scale))
            normals[start + j, 2] = np.int16(np.rint(nz * scale))
        # where the tangents are parallel, as at a straight corner of a single face, the mean of the normals around
        for j in range(count):
            if normals[start + j, 0] == 0 and normals[start + j, 1] == 0 and normals[start + j, 2] == 0:
                _lend_normal(normals, start, count, j)


@njit(cache=True, nogil=True)
def _lend_normal(normals, start, count, j):
    width = int(np.sqrt(count) + 0.5)
    row, column = j // width, j % width
    nx, ny, nz = 0.0, 0.0, 0.0
    for r in range(max(row - 1, 0), min(row + 2, width)):
        for c in range(max(column - 1, 0), min(column + 2, width)):
            near = start + r * width + c
            nx += normals[near, 0]
            ny += normals[near, 1]
            nz += normals[near, 2]
    size = np.sqrt(nx * nx + ny * ny + nz * nz)
    if size > 0.5:
        normals[start + j, 0] = np.int16(np.rint(nx * 32767.0 / size))
        normals[start + j, 1] = np.int16(np.rint(ny * 32767.0 / size))
        normals[start + j, 2] = np.int16(np.rint(nz * 32767.0 / size))


@njit(cache=True, nogil=True)
def _derive(points, patches, firsts, block, supports, support_at, support_count, weights, first, out):
    for i in range(len(patches)):
        patch = patches[i]
        start = firsts[i]
        count = firsts[i + 1] - start
        at = block[patch]
        out[start : start + count, first : first + 3] = 0.0
        for k in range(support_count[patch]):
            p = supports[support_at[patch] + k]
            for row in range(3):
                for j in range(count):
                    w = weights[at + row * count + j]
                    for axis in range(3):
                        out[start + j, first + row, axis] += w * points[p, axis]
            at += 3 * count
