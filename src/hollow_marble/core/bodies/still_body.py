"""Still bodies: meshes that are shown, measured and photographed, but not shaped."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import Body, BodyMesh, Points
from hollow_marble.core.cage.weld import joined_corners
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.surface.mending import Did, mended
from hollow_marble.core.surface.probed import Probed, probed_mesh

MOST_TRIANGLES = 2_000_000
MEDIA = "application/x-npz"


@dataclass(frozen=True, eq=False)
class StillBody(Body):
    """A mesh where it stands: points (N, 3), triangles (T, 3) point numbers."""

    key: str
    points: Points
    triangles: NDArray[np.uint32]
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    @property
    def closed(self) -> bool:  # type: ignore[override]
        """Whether every edge has two triangles, one each way."""
        ends = self.triangles.astype(np.int64)
        tail, head = ends.ravel(), np.roll(ends, -1, axis=1).ravel()
        count = int(ends.max()) + 1
        one, other = np.sort(tail * count + head), np.sort(head * count + tail)
        return bool((np.diff(one) > 0).all() and np.array_equal(one, other))

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        return self.shelf.get("mesh", (self.key, 0), self._mesh)

    def mended(self, key: str, within: float, fill: float) -> tuple[StillBody, Did]:
        points, triangles, did = mended(self.points, self.triangles.astype(np.int64), within, fill)
        return StillBody(key, points, triangles.astype(np.uint32), self.shelf), did

    def probed(self) -> Probed:
        return self.shelf.get("probed", (self.key, 0), self._probed)

    def _probed(self) -> Probed:
        return probed_mesh(self.points, self.triangles.astype(np.int64), self.closed)

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> StillBody:
        triangles = np.ascontiguousarray(self.triangles[:, ::-1]) if turned_over else self.triangles
        return StillBody(key, place(self.points), triangles, self.shelf)

    def _mesh(self) -> BodyMesh:
        corners = self.points[self.triangles]
        area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
        normals = np.zeros_like(self.points)
        for k in range(3):
            np.add.at(normals, self.triangles[:, k], area)
        length = np.linalg.norm(normals, axis=1, keepdims=True)
        unit = np.divide(normals, length, out=np.zeros_like(normals), where=length > 0)
        packed = np.zeros((len(self.points), 4), np.int16)
        packed[:, :3] = np.rint(unit * 32767)
        count = len(self.points)
        return BodyMesh(
            self.key,
            self.key,
            self.points.astype(np.float32),
            packed,
            self.triangles,
            np.array([0, count], np.int32),
            np.zeros(len(self.triangles), np.int32),
            np.zeros(1, np.int32),
            np.array([1], np.uint64),
            np.empty((0, 2), np.int32),
            lambda: np.arange(count),
            self.closed,
        )


def still_body(key: str, data: bytes, shelf: Shelf) -> StillBody:
    """The body of a mesh kept by `still_to_bytes`."""
    arrays = np.load(io.BytesIO(data))
    return StillBody(key, arrays["points"], arrays["triangles"].astype(np.uint32), shelf)


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
