"""The limit surface of a cage at any place, not only at those of a grid.

On a cell of the skin's grid about which everything is regular the limit is one bicubic (Catmull & Clark 1978), which its exact places,
tangents and twists at four corners say whole (Hermite form). About an odd point, the end of a crease or a crease itself the cage is refined
on towards the place until the cell it lies in is regular (Stam 1998: such cells close in on the odd point, ring by ring).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import SHARP, Cage
from hollow_marble.core.cage.neighbourhood import CODE, Neighbourhoods, read_neighbourhoods
from hollow_marble.core.cage.skin import SkinPlan, derivatives
from hollow_marble.core.cage.stencils import limit_places, refine_once, unread

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]

_DEEPEST = 26
"""Refinements after which a cell that is still not regular is smaller than what float64 tells apart: it is taken for its Hermite form."""


@dataclass(frozen=True, eq=False)
class Limit:
    """The limit surface of a cage, parametrised as its skin's plan is: patch by patch, in steps of one cell of its grid."""

    cage: Cage
    plan: SkinPlan

    @cached_property
    def exact(self) -> Floats:
        """(N, 6, 3) place and derivatives at every point of the skin."""
        return derivatives(self.plan, self.cage.points)

    def at(self, patch: Ints, places: Floats) -> Floats:
        """(K, 3, 3): place, tangent along u and along v at (K, 2) places of patches (K,)."""
        plan = self.plan
        last = plan.widths[patch] - 1
        cell = np.clip(np.floor(places), 0, (last - 1)[:, None]).astype(np.int64)
        within = places - cell
        corner = plan.point_starts[patch] + cell[:, 1] * (last + 1) + cell[:, 0]
        four = np.stack([corner, corner + 1, corner + last + 1, corner + last + 2], axis=1)
        known = self._smooth[plan.patch_face[patch]] & plan.curved[four].all(axis=1)
        out = np.empty((len(patch), 3, 3))
        out[known] = _hermite(self._told[four[known]], within[known])
        rest = np.flatnonzero(~known)
        if len(rest):
            out[rest] = self._descended(patch[rest], places[rest], cell[rest], within[rest])
        return out

    @cached_property
    def _told(self) -> Floats:
        """(N, 4, 3) place, tangents and twist at every point of the skin."""
        return np.ascontiguousarray(self.exact[:, [0, 1, 2, 4]])

    @cached_property
    def _smooth(self) -> NDArray[np.bool_]:
        """(F,) whether nothing about a face is creased or open."""
        readings, out = self._readings, np.empty(self.cage.face_count, bool)
        for face, (a, b) in enumerate(zip(readings.starts[:-1].tolist(), readings.starts[1:].tolist())):
            text = readings.text[a:b]
            faces, place = int(text[2]), 3
            for _ in range(faces):
                place += int(text[place]) + 1
            out[face] = not text[place:].any()
        return out

    @cached_property
    def _readings(self) -> Neighbourhoods:
        return read_neighbourhoods(self.cage)

    def _descended(self, patch: Ints, places: Floats, cell: Ints, within: Floats) -> Floats:
        plan = self.plan
        readings = self._readings
        first = np.flatnonzero(np.diff(plan.patch_face, prepend=-1))  # the first patch of every face
        face = plan.patch_face[patch]
        grid = patch - first[face]
        # all that lie in one cell go down to it together; those in a cell that is not regular go on alone
        width = int(plan.widths.max())
        names, which = np.unique((patch * width + cell[:, 1]) * width + cell[:, 0], return_inverse=True)
        one = np.empty(len(names), np.int64)
        one[which] = np.arange(len(patch))
        out = np.empty((len(patch), 3, 3))
        args = (readings.text, readings.starts, readings.supports, readings.support_starts, self.cage.points)
        middles = (cell[one] + 0.5) / (plan.widths[patch[one]] - 1)[:, None]
        corners, regular, _at, _size = _cells(face[one], grid[one], middles, *args, plan.level, plan.level, SHARP, CODE)
        together = regular[which]
        out[together] = _hermite(corners[which[together]], within[together])
        alone = np.flatnonzero(~together)
        if len(alone):
            cells = (plan.widths[patch[alone]] - 1).astype(np.float64)
            shares = np.clip(places[alone] / cells[:, None], 0, 1)
            corners, _regular, at, size = _cells(
                face[alone], grid[alone], shares, *args, plan.level, _DEEPEST, SHARP, CODE
            )
            found = _hermite(corners, (shares - at) / size[:, None])
            found[:, 1:] /= (size * cells)[:, None, None]
            out[alone] = found
        return out


@njit(cache=True, nogil=True)
def _hermite(corners, within):
    """(K, 3, 3) place and tangents at (K, 2) of unit cells; corners (K, 4, 4, 3): place, u, v, uv at (0, 0), (1, 0), (0, 1), (1, 1)."""
    out = np.zeros((len(within), 3, 3))
    weights = np.empty((2, 2, 4))
    for k in range(len(within)):
        for axis in range(2):
            t = within[k, axis]
            s = 1 - t
            at, slope = weights[axis, 0], weights[axis, 1]
            at[0], at[1], at[2], at[3] = s * s * (1 + 2 * t), t * t * (3 - 2 * t), t * s * s, -t * t * s
            slope[0], slope[1], slope[2], slope[3] = -6 * t * s, 6 * t * s, s * (1 - 3 * t), t * (3 * t - 2)
        for row in range(3):
            a, b = weights[0, 1 if row == 1 else 0], weights[1, 1 if row == 2 else 0]
            for corner in range(4):
                i, j = corner & 1, corner >> 1
                for value in range(4):
                    w = a[i + 2 * (value & 1)] * b[j + 2 * (value >> 1)]
                    for x in range(3):
                        out[k, row, x] += w * corners[k, corner, value, x]
    return out


@njit(cache=True, nogil=True)
def _cells(faces, grids, shares, text, starts, supports, support_starts, points, level, deepest, sharp, code):  # noqa: C901 — one compiled loop
    """Corners (K, 4, 4, 3) of the cells that hold places (K, 2) of grids (0 to 1), in steps of the cell; whether they are regular; where
    they begin (K, 2) and their size (K,), both in shares of the grid. Goes down to `level`, and on to `deepest` where a cell is not."""
    count = len(faces)
    corners = np.empty((count, 4, 4, 3))
    regular = np.zeros(count, np.bool_)
    begin, size = np.zeros((count, 2)), np.ones(count)
    for k in range(count):
        reading = text[starts[faces[k]] : starts[faces[k] + 1]]
        own = supports[support_starts[faces[k]] : support_starts[faces[k] + 1]]
        at_face, points_of, sharpness, corner = unread(reading, code)
        rows = np.empty((len(own), 3))
        for p in range(len(own)):
            for axis in range(3):
                rows[p, axis] = points[own[p], axis]
        n = np.int64(1) << 30
        patch = np.zeros(1, np.int64)
        gx = np.zeros((1, 4), np.int64)
        gy = np.zeros((1, 4), np.int64)
        gx[0, 1], gx[0, 2], gy[0, 2], gy[0, 3] = n, n, n, n
        x, y = np.int64(shares[k, 0] * n), np.int64(shares[k, 1] * n)
        for depth in range(deepest + 1):
            if depth >= level:
                # what is left of a crease at the level worked on counts as sharp, as it does in the skin
                for h in range(len(sharpness)):
                    sharpness[h] = sharp if sharpness[h] > 0 else 0.0
                for p in range(len(corner)):
                    corner[p] = sharp if corner[p] > 0 else 0.0
                out = np.zeros((1, 4, 6, 3))
                curved = np.zeros((1, 4), np.bool_)
                low_x, low_y = gx[0].min(), gy[0].min()
                wide = gx[0].max() - low_x
                unit_x, unit_y = (gx - low_x) // wide, (gy - low_y) // wide
                limit_places(
                    at_face,
                    points_of,
                    sharpness,
                    corner,
                    rows,
                    1,
                    np.zeros(1, np.int64),
                    unit_x,
                    unit_y,
                    2,
                    out,
                    curved,
                )
                plain = True
                for c in range(4):
                    plain = plain and curved[0, c] and _told(points_of, points_of[c], sharpness, len(at_face) - 1)
                if plain or depth == deepest:
                    for c in range(4):
                        for axis in range(3):
                            corners[k, c, 0, axis] = out[0, c, 0, axis]
                            corners[k, c, 1, axis] = out[0, c, 1, axis]
                            corners[k, c, 2, axis] = out[0, c, 2, axis]
                            corners[k, c, 3, axis] = out[0, c, 4, axis] if plain else 0.0
                    regular[k] = plain
                    begin[k, 0], begin[k, 1] = low_x / n, low_y / n
                    size[k] = wide / n
                    break
            split = depth == 0 and reading[0] != 4
            at_face, points_of, sharpness, corner, rows, inner, patch, gx, gy = refine_once(
                at_face, points_of, sharpness, corner, rows, 1, patch, gx, gy, split, n, sharp
            )
            chosen = 0
            if split:
                chosen = grids[k]
            else:
                for child in range(inner):
                    if gx[child].min() <= x and x <= gx[child].max() and gy[child].min() <= y and y <= gy[child].max():
                        chosen = child
                        break
            for c in range(4):
                a, b = c, 4 * chosen + c
                points_of[a], points_of[b] = points_of[b], points_of[a]
                sharpness[a], sharpness[b] = sharpness[b], sharpness[a]
            gx, gy = gx[chosen : chosen + 1].copy(), gy[chosen : chosen + 1].copy()
            patch = np.zeros(1, np.int64)
    return corners, regular, begin, size


@njit(cache=True, nogil=True)
def _told(points_of, point, sharpness, faces):
    """Whether no crease ends at a point of four-cornered faces."""
    sharp = 0.0
    for f in range(faces):
        for c in range(4):
            if points_of[4 * f + c] == point:
                # an edge with two faces is met twice, from either side; one with a single face once
                before = 4 * f + (c + 3) % 4
                for half, other in ((4 * f + c, 4 * f + (c + 1) % 4), (before, before)):
                    if sharpness[half] > 0:
                        sharp += 0.5 if _shared(points_of, point, points_of[other], faces) else 1.0
    return sharp == 0.0 or sharp > 1.5


@njit(cache=True, nogil=True)
def _shared(points_of, one, other, faces):
    uses = 0
    for f in range(faces):
        for c in range(4):
            a, b = points_of[4 * f + c], points_of[4 * f + (c + 1) % 4]
            if (a == one and b == other) or (a == other and b == one):
                uses += 1
    return uses > 1
