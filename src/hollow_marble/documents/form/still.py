"""Still bodies: meshes that are shown, measured and photographed, but not shaped."""

from __future__ import annotations

import io
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.skin import Skin
from hollow_marble.core.cage.weld import joined_corners
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.model import Part

MOST_TRIANGLES = 2_000_000


@dataclass(frozen=True)
class StillBody:
    """A mesh where it stands; `triangles` (T, 3) point numbers."""

    key: str
    skin: Skin
    triangles: NDArray[np.uint32]

    @cached_property
    def closed(self) -> bool:
        """Whether every edge has two triangles, one each way."""
        ends = self.triangles.astype(np.int64)
        tail, head = ends.ravel(), np.roll(ends, -1, axis=1).ravel()
        count = int(ends.max()) + 1
        one, other = np.sort(tail * count + head), np.sort(head * count + tail)
        return bool((np.diff(one) > 0).all() and np.array_equal(one, other))


def still_to_bytes(points: NDArray[np.float64], triangles: NDArray[np.int64]) -> bytes:
    """The arrays of a mesh for keeping as an asset. Points at the same place become one.

    Raises
    ------
    HollowMarbleError
        where there is nothing to see, a coordinate is not a number, or there are more than `MOST_TRIANGLES`.
    """
    if len(triangles) > MOST_TRIANGLES:
        raise HollowMarbleError(
            f"The mesh has {len(triangles):,} triangles; up to {MOST_TRIANGLES:,} can be shown beside the form. "
            "Reduce it and try again."
        )
    if not len(triangles):
        raise HollowMarbleError("The file holds no faces, so there is nothing to show. Choose another file.")
    if not np.isfinite(points).all():
        raise HollowMarbleError("A coordinate in the mesh is not a number. Repair the file and try again.")
    if float(np.abs(points).max()) > 1e6:
        raise HollowMarbleError("The mesh reaches further than a kilometre. Export it in millimetres and try again.")
    unique, joined = joined_corners(points, triangles)
    if not len(joined):
        raise HollowMarbleError("All faces of the mesh have no area, so there is nothing to show. Choose another file.")
    packed = io.BytesIO()
    np.savez_compressed(packed, points=unique, triangles=joined.astype(np.uint32))
    return packed.getvalue()


def still_body(key: str, part: Part, load: LoadAsset) -> StillBody:
    """The mesh of a part, stood where its steps say, with normals by area."""
    start = part.steps[0]
    arrays = np.load(io.BytesIO(load(start.mesh)))  # type: ignore[union-attr]
    points, triangles = arrays["points"], arrays["triangles"]
    for step in part.steps[1:]:
        if not isinstance(step, StoodPart):
            raise HollowMarbleError(f"{part.name} is a still body: it can be placed as a whole, not shaped.")
        points = step.of(points)
        if step.mirror is not None:
            triangles = np.ascontiguousarray(triangles[:, ::-1])
    corners = points[triangles]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals = np.zeros_like(points)
    for k in range(3):
        np.add.at(normals, triangles[:, k], area)
    length = np.linalg.norm(normals, axis=1, keepdims=True)
    unit = np.divide(normals, length, out=np.zeros_like(normals), where=length > 0)
    packed = np.zeros((len(points), 4), np.int16)
    packed[:, :3] = np.rint(unit * 32767)
    return StillBody(key, Skin(points.astype(np.float32), packed), triangles.astype(np.uint32))
