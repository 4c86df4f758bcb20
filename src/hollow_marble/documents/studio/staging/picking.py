"""What of the product lies under a place of the picture, on the very meshes that are photographed."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.camera import Lens
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.studio.model import Setting
from hollow_marble.documents.studio.staging.placing import Staging
from hollow_marble.documents.studio.staging.scenes import PIXEL_SHARE, pixel_size, shown

Floats = NDArray[np.float64]

Label = tuple[str, int]
"""A part, and which copy of the product it belongs to."""

_ROW = 8
"""Px of the picture that are looked up together."""


class Picker:
    """Finds what a line of sight meets first. Triangles are kept by the rows of the picture they reach into, with the box they take in it, so
    that few are tried for each line."""

    def __init__(
        self,
        lens: Lens,
        size: tuple[int, int],
        parts: Sequence[tuple[Label, Floats, Floats, NDArray[np.integer], NDArray[np.uint64]]],
    ) -> None:
        self._lens, self._size = lens, size
        self._corners = (
            np.concatenate([points[triangles] for _, points, _, triangles, _ in parts])
            if parts
            else np.empty((0, 3, 3))
        )
        self._normals = (
            np.concatenate([normals[triangles] for _, _, normals, triangles, _ in parts])
            if parts
            else np.empty((0, 3, 3))
        )
        self._part = (
            np.repeat(np.arange(len(parts)), [len(faces) for *_, faces in parts]) if parts else np.empty(0, int)
        )
        self._names = [name for name, *_ in parts]
        self._face = np.concatenate([faces for *_, faces in parts]) if parts else np.empty(0, np.uint64)
        seen = lens.seen(self._corners.reshape(-1, 3), *size).reshape(-1, 3, 3)
        ahead = np.asarray((seen[..., 2] > 1e-3).all(axis=1))[:, None]
        self._low = np.where(ahead, seen[..., :2].min(axis=1) - 1e-6, np.inf)
        self._high = np.where(ahead, seen[..., :2].max(axis=1) + 1e-6, -np.inf)
        rows = math.ceil(size[1] / _ROW)
        kept = np.flatnonzero(ahead[:, 0])
        first = np.clip(self._low[kept, 1] // _ROW, -1, rows).astype(int)
        count = np.clip(self._high[kept, 1] // _ROW, -1, rows).astype(int) - first + 1
        row = np.repeat(first, count) + np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
        order = np.argsort(row, kind="stable")
        self._rows = np.repeat(kept, count)[order]
        self._begins = np.searchsorted(row[order], np.arange(-1, rows + 2))
        self._last = rows

    @property
    def nbytes(self) -> int:
        """Bytes it holds."""
        return sum(
            array.nbytes
            for array in (self._corners, self._normals, self._low, self._high, self._rows, self._part, self._face)
        )

    def look(self, start: Floats, way: Floats) -> tuple[Floats, Floats] | None:
        """Place and unit normal (3,) that is met first from the lens along a direction."""
        found = self._first(start, way)
        if found is None:
            return None
        triangle, away, u, v = found
        a, b, c = self._normals[triangle]
        normal = a * (1 - u - v) + b * u + c * v
        return start + way * away, normal / np.linalg.norm(normal)

    def touched(self, pixel: tuple[float, float]) -> tuple[Label, Floats, int] | None:
        """The part and the copy of the product under a pixel, the place (3,) there in the set, and the key of the face."""
        way = self._lens.rays(np.array([pixel], float), *self._size)[0]
        found = self._first(self._lens.place, way)
        if found is None:
            return None
        triangle, away, *_ = found
        return self._names[self._part[triangle]], self._lens.place + way * away, int(self._face[triangle])

    def _first(self, start: Floats, way: Floats) -> tuple[int, float, float, float] | None:
        x, y, _ = self._lens.seen((start + way)[None], *self._size)[0]
        row = int(min(max(y // _ROW, -1), self._last)) + 1
        there = self._rows[self._begins[row] : self._begins[row + 1]]
        low, high = self._low[there], self._high[there]
        near = there[(low[:, 0] <= x) & (x <= high[:, 0]) & (low[:, 1] <= y) & (y <= high[:, 1])]
        if not len(near):
            return None
        corners = self._corners[near]
        a, b = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
        # Möller & Trumbore 1997
        p = np.cross(way, b)
        det = (p * a).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            t0 = start - corners[:, 0]
            u = (p * t0).sum(axis=1) / det
            q = np.cross(t0, a)
            v = (q @ way) / det
            t = (q * b).sum(axis=1) / det
        # a hair more than the triangle, so that no line slips between two
        slack = 1e-9
        hit = (np.abs(det) > 1e-15) & (u >= -slack) & (v >= -slack) & (u + v <= 1 + slack) & (t > 1e-6)
        if not hit.any():
            return None
        first = int(np.where(hit, t, np.inf).argmin())
        return int(near[first]), float(t[first]), float(u[first]), float(v[first])


def picker_of(
    setting: Setting, staging: Staging, form: Form, evaluator: FormEvaluator, size: tuple[int, int]
) -> Picker:
    """The products of a setting as a picture of a size shows them; kept while only lamps, finishes and the set change."""
    camera = setting.camera.model_dump_json(exclude={"exposure", "white", "aperture", "focus"})
    units = "".join(unit.model_dump_json() for unit in setting.units)
    parts = "".join(f"{part.id}{evaluator.key(part, form.parts)}{part.take_level}" for part in shown(form, setting))
    return evaluator.shelf.get(
        "picker", (camera, units, parts, size), lambda: _picker(setting, staging, form, evaluator, size)
    )


def _picker(setting: Setting, staging: Staging, form: Form, evaluator: FormEvaluator, size: tuple[int, int]) -> Picker:
    tolerance = PIXEL_SHARE * pixel_size(staging, size[0])
    parts = []
    for part in shown(form, setting):
        mesh = evaluator.taken(part, tolerance, form.parts)
        for number, unit in enumerate(staging.units):
            way = unit.matrix[:3, :3]
            points = mesh.positions.astype(np.float64) @ way.T + unit.matrix[:3, 3]
            normals = mesh.normal_vectors().astype(np.float64) @ way.T
            parts.append(((part.id, number), points, normals, mesh.triangles, mesh.face_keys[mesh.triangle_faces()]))
    return Picker(staging.lens, size, parts)
