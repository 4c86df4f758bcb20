"""Many of one body, each standing elsewhere: kept, shown and sent as one of them and where each stands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from hollow_marble.core.bodies.body import Body, BodyMesh, Points
from hollow_marble.core.bodies.solid_body import matrix_of
from hollow_marble.core.bodies.still_body import StillBody
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.surface.probed import Probed, probed_mesh

MOST_TRIANGLES = 6_000_000
"""Of all of them together, where they are wanted one by one."""


@dataclass(frozen=True, eq=False)
class ScatteredBody(Body):
    """`element` : one of them; `matrices` : (K, 3, 4) where each stands."""

    key: str
    element: Body
    matrices: Points
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    because = "It is many of another part: shape that one, and all of them follow."

    @property
    def closed(self) -> bool:  # type: ignore[override]
        return self.element.closed

    def copies(self) -> tuple[BodyMesh, Points]:
        return self.element.mesh(), self.matrices

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        # within a tolerance small ones need few triangles, however fine the one they follow is worked on
        one = self.element.mesh() if tolerance is None else self.element.worked_at(1).mesh(tolerance)
        return self.shelf.get("scattered", (self.key, one.key), lambda: self._mesh(one))

    def check(self) -> None:
        self._check_room(self.element.mesh())

    def worked_at(self, level: int) -> ScatteredBody:
        return replace(self, element=self.element.worked_at(level))

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> ScatteredBody:
        matrix = matrix_of(place)
        moved = np.einsum("ij,kjl->kil", matrix[:, :3], self.matrices)
        moved[:, :, 3] += matrix[:, 3]
        return replace(self, key=key, matrices=moved)

    def probed(self) -> Probed:
        mesh = self.mesh()
        return self.shelf.get(
            "probed",
            mesh.key,
            lambda: probed_mesh(mesh.positions.astype(np.float64), mesh.triangles.astype(np.int64), self.closed),
        )

    def real(self, key: str) -> StillBody:
        """All of them as one still body."""
        points, triangles = self.mesh().welded()
        return StillBody(key, points, triangles.astype(np.uint32), self.shelf)

    def _mesh(self, one: BodyMesh) -> BodyMesh:
        count, points = len(self.matrices), len(one.positions)
        self._check_room(one)
        turn = self.matrices[:, :, :3]
        positions = np.einsum("kij,nj->kni", turn, one.positions) + self.matrices[:, None, :, 3]
        # normals go along with the inverse, turned over
        inverse = np.linalg.inv(turn).transpose(0, 2, 1)
        over = np.linalg.det(turn) < 0
        normals = np.einsum("kij,nj->kni", inverse, one.normal_vectors())
        normals /= np.maximum(np.linalg.norm(normals, axis=2, keepdims=True), 1e-12)
        packed = np.zeros((count * points, 4), np.int16)
        packed[:, :3] = np.rint(normals.reshape(-1, 3) * 32767)
        triangles = one.triangles[None] + (points * np.arange(count, dtype=np.uint32))[:, None, None]
        triangles[over] = triangles[over][:, :, ::-1]
        joined, patches = one.joined(), len(one.patch_face)
        whole = int(joined.max(initial=-1)) + 1
        edges = (one.edges[None] + (points * np.arange(count))[:, None, None]).reshape(-1, 2)
        return BodyMesh(
            f"{self.key}-{one.key}",
            f"{count}-{one.connectivity}",
            positions.reshape(-1, 3).astype(np.float32),
            packed,
            triangles.reshape(-1, 3).astype(np.uint32),
            np.append(
                (one.patch_starts[None, :-1] + points * np.arange(count)[:, None]).ravel(), count * points
            ).astype(np.int32),
            (one.triangle_patch[None] + patches * np.arange(count)[:, None]).ravel().astype(np.int32),
            np.tile(one.patch_face, count),
            one.face_keys,
            edges.astype(np.int32) if one.lined else np.empty((0, 2), np.int32),
            lambda: (joined[None] + whole * np.arange(count)[:, None]).ravel(),
            self.closed,
            one.lined,
        )

    def _check_room(self, one: BodyMesh) -> None:
        count, triangles = len(self.matrices), len(one.triangles)
        if count * triangles > MOST_TRIANGLES:
            raise HollowMarbleError(
                f"{count:,} of {triangles:,} triangles each are more than can be worked with one by one. "
                "Make the element simpler, or spread fewer."
            )
