"""A solid of the B-rep kernel as a body, and a curve that others are built of."""

from __future__ import annotations

import hashlib
import itertools
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import Body, BodyMesh, Points, rows_of
from hollow_marble.core.curves.chains import outline
from hollow_marble.core.curves.planes import Drawn, Plane
from hollow_marble.core.detail.ground import Ground, curved
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import Bent, Kernel, Solid, SolidMesh
from hollow_marble.core.surface.probed import Probed

_FINE = {1: 4e-3, 2: 2e-3, 3: 1e-3, 4: 4e-4, 5: 1.5e-4, 6: 6e-5}
"""How far its triangles may be off, in shares of its size, by the smoothness it is worked on at."""


@dataclass(frozen=True, eq=False)
class SolidBody(Body):
    """`level` : the smoothness it is worked on at."""

    key: str
    solid: Solid
    kernel: Kernel
    level: int = 3
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    because = "It is a built form: change its profiles, its steps or its edges; a cage's tools do not reach it."

    @property
    def closed(self) -> bool:  # type: ignore[override]
        return self.solid.closed

    @property
    def told(self) -> tuple[str, ...]:
        return self.solid.told

    def exact(self, kernel: Kernel) -> Solid:
        return self.solid

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        name = (self.key, self.level if tolerance is None else f"{tolerance:.4g}")
        return self.shelf.get("mesh", name, lambda: self._mesh(tolerance, str(name[1])))

    def worked_at(self, level: int) -> SolidBody:
        return self if level == self.level else SolidBody(self.key, self.solid, self.kernel, level, self.shelf)

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> SolidBody:
        moved: Solid = self.kernel("placed", self.solid, matrix_of(place))
        return SolidBody(key, moved, self.kernel, self.level, self.shelf)

    def probed(self) -> Probed:
        return self.shelf.get("probed", (self.key, self.level), self._probed)

    def ground(self, tolerance: float | None = None) -> Ground:
        name = (self.key, self.level if tolerance is None else f"{tolerance:.4g}")
        return self.shelf.get("ground", name, lambda: self._ground(tolerance))

    def _ground(self, tolerance: float | None) -> Ground:
        found, solid, kernel = self._raw(tolerance), self.solid, self.kernel
        probed = Probed(
            found.points,
            found.normals,
            found.triangles,
            found.triangle_face,
            face_keys(solid.names),
            np.concatenate([_pairs(found), _pairs(found, beyond=True)]),
            found.joined,
            None,
            np.zeros(len(found.points), bool),
            0.0,
            self.closed,
            edged=True,
        )

        def settled(triangle: NDArray[np.int64], shares: Points, near: Points) -> tuple[Points, Points]:
            corners = found.triangles[triangle]
            at = np.einsum("kc,kcj->kj", shares, found.places[corners])
            points, normals = kernel("placed_on", solid, found.triangle_face[triangle], at, near)
            instead = np.einsum("kc,kcj->kj", shares, found.normals[corners])
            bare = ~normals.any(axis=1, keepdims=True)
            return points, np.where(bare, instead, normals)

        return Ground(probed, curved(probed), settled)

    def finer(
        self, level: int, patches: NDArray[np.int64]
    ) -> tuple[NDArray[np.float32], NDArray[np.int16], NDArray[np.uint32]]:
        if len(patches) and patches.max() >= len(self.solid.names):
            raise HollowMarbleError("The part has other faces by now. Look again.")
        mesh = self.worked_at(min(max(level, self.level), max(_FINE))).mesh()
        rows = rows_of(mesh.patch_starts, patches)
        number = np.full(len(mesh.positions), -1)
        number[rows] = np.arange(len(rows))
        order = np.argsort(mesh.triangle_patch, kind="stable")
        starts = np.searchsorted(mesh.triangle_patch[order], np.arange(len(mesh.patch_starts)))
        triangles = number[mesh.triangles[order[rows_of(starts, patches)]]]
        return mesh.positions[rows], mesh.normals[rows], triangles.astype(np.uint32)

    def edge_names(self) -> tuple[tuple[str, Points], ...]:
        """Every edge that can be picked: its name, and its points (n, 3)."""
        found = self._raw(None)
        bounds = zip(found.line_starts[:-1], found.line_starts[1:])
        return tuple((name, found.points[found.lines[a:b]]) for name, (a, b) in zip(found.line_names, bounds))

    def _raw(self, tolerance: float | None) -> SolidMesh:
        def made() -> SolidMesh:
            found: SolidMesh = self.kernel("mesh", self.solid, tolerance, _FINE[self.level])
            return found

        return self.shelf.get("solid mesh", (self.key, self.level, tolerance), made)

    def _mesh(self, tolerance: float | None, fine: str) -> BodyMesh:
        found = self._raw(tolerance)
        count = len(self.solid.names)
        normals = np.zeros((len(found.points), 4), np.int16)
        normals[:, :3] = np.rint(found.normals * 32767)
        connectivity = hashlib.sha256(found.triangles.tobytes() + "|".join(self.solid.names).encode()).hexdigest()
        return BodyMesh(
            f"{self.key}-{fine}",
            connectivity,
            found.points.astype(np.float32),
            normals,
            found.triangles.astype(np.uint32),
            found.face_starts.astype(np.int32),
            found.triangle_face.astype(np.int32),
            np.arange(count, dtype=np.int32),
            face_keys(self.solid.names),
            _pairs(found).astype(np.int32),
            lambda: found.joined,
            self.closed,
            True,
        )

    def _probed(self) -> Probed:
        pair: tuple[SolidMesh, Bent] = self.kernel("bent", self.solid, None, _FINE[self.level])
        found, bent = pair
        size = float(np.linalg.norm(np.ptp(found.points, axis=0)))
        return Probed(
            found.points,
            found.normals,
            found.triangles,
            found.triangle_face,
            face_keys(self.solid.names),
            np.concatenate([_pairs(found), _pairs(found, beyond=True)]),
            found.joined,
            np.concatenate([found.points[:, None], bent.derivatives], axis=1),
            bent.known,
            _FINE[self.level] * size,
            self.closed,
            edged=True,
        )


@dataclass(frozen=True, eq=False)
class CurveBody(Body):
    """A curve: drawn as a line, not shown in takes, for others to be built of."""

    key: str
    drawn: Drawn
    free: int = 0
    """Ways to move that its dimensions leave."""
    shelf: Shelf = field(default_factory=lambda: Shelf(10_000_000), repr=False)

    closed = False
    because = "It is a curve: change its points and dimensions; forms that are built of it follow."

    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        return self.shelf.get("mesh", (self.key, 0), lambda: self._mesh(tolerance or 0.02))

    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> CurveBody:
        matrix = matrix_of(place)
        plane = self.drawn.plane
        if plane is None:
            chains = tuple(chain.moved(matrix[:, :3], matrix[:, 3]) for chain in self.drawn.chains)
            return CurveBody(key, Drawn(self.drawn.name, chains, None), self.free, self.shelf)
        moved = Plane(place(plane.origin[None])[0], matrix[:, :3] @ plane.across, matrix[:, :3] @ plane.up)
        return CurveBody(key, Drawn(self.drawn.name, self.drawn.chains, moved), self.free, self.shelf)

    def probed(self) -> Probed:
        raise NotImplementedError("a curve has no surface to probe")

    def exact(self, kernel: Kernel) -> Solid:
        raise HollowMarbleError("It is a curve and has no faces. Choose a form that is built of it.")

    def _mesh(self, tolerance: float) -> BodyMesh:
        lines = [outline(chain, tolerance) for chain in self.drawn.placed()]
        starts = np.cumsum([0, *map(len, lines)])
        points = np.vstack(lines) if lines else np.zeros((1, 3))
        pairs = [
            np.stack([np.arange(a, b - 1), np.arange(a + 1, b)], 1) for a, b in itertools.pairwise(starts.tolist())
        ]
        return BodyMesh(
            self.key,
            self.key,
            points.astype(np.float32),
            np.zeros((len(points), 4), np.int16),
            np.empty((0, 3), np.uint32),
            np.array([0, len(points)], np.int32),
            np.empty(0, np.int32),
            np.zeros(1, np.int32),
            np.array([1], np.uint64),
            np.concatenate([*pairs, np.empty((0, 2), np.int64)]).astype(np.int32),
            lambda: np.arange(len(points)),
            False,
            True,
        )


def face_keys(names: tuple[str, ...]) -> NDArray[np.uint64]:
    """(F,) keys of faces by their names."""
    hashes = (hashlib.sha256(name.encode()).digest()[:8] for name in names)
    return np.array([int.from_bytes(value, "little") for value in hashes], np.uint64)


def matrix_of(place: Callable[[Points], Points]) -> Points:
    """(3, 4) matrix of a similarity, from where it takes the origin and three directions."""
    corners = place(np.vstack([np.zeros(3), np.eye(3)]))
    return np.column_stack([(corners[1:] - corners[0]).T, corners[0]])


def _pairs(found: SolidMesh, beyond: bool = False) -> NDArray[np.int64]:
    """(E, 2) point numbers along all edges, on their first faces or on those beyond."""
    lines = found.beyond if beyond else found.lines
    inner = np.ones(len(lines), bool)
    inner[found.line_starts[1:] - 1] = False
    at = np.flatnonzero(inner & (lines >= 0))
    return np.stack([lines[at], lines[at + 1]], axis=1) if len(at) else np.empty((0, 2), np.int64)
