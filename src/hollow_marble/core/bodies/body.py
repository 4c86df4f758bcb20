"""What every body answers, and the mesh all of them are drawn, measured and photographed by. Lengths mm."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.divisions import Strained
from hollow_marble.core.cage.measure import Size, measure
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.weld import welded_mesh
from hollow_marble.core.detail.ground import Ground, flat_ground
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.solid import Kernel, Solid
from hollow_marble.core.surface.curvature import Bends
from hollow_marble.core.surface.mending import Did
from hollow_marble.core.surface.probed import Probed

Points = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class BodyMesh:
    """N points in P patches, T triangles, F faces.

    key : names the whole mesh
    connectivity : two meshes with the same one differ in places and normals only
    positions : (N, 3) float32; normals : (N, 4) int16 / 32767 (last column 0); exact where the representation is
    triangles : (T, 3) uint32, counter-clockwise from outside; those of a patch follow one another
    patch_starts : (P + 1,) int32, where a patch's points begin; triangle_patch : (T,) int32
    patch_face : (P,) int32, the face a patch belongs to
    face_keys : (F,) uint64, the same for the same face as long as its recipe makes it
    edges : (E, 2) int32 point numbers, the lines to draw along edges of the body
    joined : (N,) int64, number of the point of the surface behind each mesh point, from connectivity alone
    closed : whether it has an inside
    lined : whether its edges are what one sees and picks it by: those of a curve, or of a built form
    beneath : the mesh of what the details on its skin lie on, where it has any
    """

    key: str
    connectivity: str
    positions: NDArray[np.float32]
    normals: NDArray[np.int16]
    triangles: NDArray[np.uint32]
    patch_starts: NDArray[np.int32]
    triangle_patch: NDArray[np.int32]
    patch_face: NDArray[np.int32]
    face_keys: NDArray[np.uint64]
    edges: NDArray[np.int32]
    joined: Callable[[], NDArray[np.int64]]
    closed: bool
    lined: bool = False
    beneath: Callable[[], BodyMesh] | None = None

    @cached_property
    def size(self) -> Size:
        """Extent, volume where it is closed, area."""
        return measure(self.positions, self.triangles, self.closed)

    @cached_property
    def extent(self) -> tuple[Points, Points]:
        """Lowest and highest corner of the box around it, (3,) each."""
        return self.positions.min(axis=0).astype(np.float64), self.positions.max(axis=0).astype(np.float64)

    def welded(self) -> tuple[Points, NDArray[np.int64]]:
        """Points (M, 3) and triangles (T', 3) with the points that patches share made one."""
        return welded_mesh(self.positions, self.triangles, self.joined())

    def triangle_faces(self) -> NDArray[np.int32]:
        """(T,) the face each triangle belongs to."""
        return self.patch_face[self.triangle_patch]

    def normal_vectors(self) -> NDArray[np.float32]:
        """(N, 3) unit normals."""
        return (self.normals[:, :3] / np.float32(32767.0)).astype(np.float32)

    def texture(self) -> NDArray[np.float32]:
        """(N, 2) texture coordinates in mm: each point seen along the axis its patch faces most (box mapping).

        A patch is mapped by one axis as a whole, so that no triangle is torn.
        """
        owner = np.repeat(np.arange(len(self.patch_starts) - 1), np.diff(self.patch_starts))
        facing = np.zeros((len(self.patch_starts) - 1, 3))
        np.add.at(facing, owner, np.abs(self.normals[:, :3].astype(np.float64)))
        axis = facing.argmax(axis=1)[owner]
        across = np.where(axis == 0, 1, 0)
        up = np.where(axis == 2, 1, 2)
        rows = np.arange(len(owner))
        return np.stack([self.positions[rows, across], self.positions[rows, up]], axis=1)

    def patches_unlike(self, other: BodyMesh) -> NDArray[np.int64] | None:
        """Patches that differ from another mesh; None where its connectivity is another."""
        if self.connectivity != other.connectivity:
            return None
        moved = (self.positions != other.positions).any(axis=1) | (self.normals != other.normals).any(axis=1)
        if not len(moved):
            return np.empty(0, np.int64)
        return np.flatnonzero(np.logical_or.reduceat(moved, self.patch_starts[:-1]))


class Body(ABC):
    """A part worked out. `key` is the hash of what made it, the only name it is kept by."""

    key: str
    closed: bool

    because: ClassVar[str] = "It is a still body: it can be placed as a whole, not shaped."
    """Why it has no cage to be shaped by, where it has none."""

    @property
    def told(self) -> tuple[str, ...]:
        """What a designer ought to know of how it was made."""
        return ()

    def exact(self, kernel: Kernel) -> Solid:
        """It as a solid of the B-rep kernel.

        Raises
        ------
        HollowMarbleError
            where it cannot be one.
        """
        raise HollowMarbleError("It is a mesh of flat triangles, so it has no exact faces to build on.")

    @abstractmethod
    def mesh(self, tolerance: float | None = None) -> BodyMesh:
        """Its mesh, nowhere further than `tolerance` mm from the surface as far as that can be told; as fine as the body is
        worked on where that is left out."""

    def check(self) -> None:  # noqa: B027 — most are shown wherever they are worked out
        """Raise HollowMarbleError where it is worked out, and cannot be shown all the same."""

    @abstractmethod
    def stood(self, key: str, place: Callable[[Points], Points], turned_over: bool) -> Body:
        """The body with its points elsewhere by a similarity; `turned_over` where it makes a right hand a left one."""

    def worked_at(self, level: int) -> Body:
        """The same body, as fine as so many refinements where it is refined by halves; itself where it is not."""
        return self

    @property
    def control(self) -> Cage | None:
        """The cage it is shaped by, None where it has none."""
        return None

    def copies(self) -> tuple[BodyMesh, Points] | None:
        """Where it is many of one: the mesh of one, and (K, 3, 4) where each stands."""
        return None

    @property
    def leads(self) -> Points | None:
        """(3,) the direction in which it comes free of what was parted off it last; None where nothing was."""
        return None

    @property
    def bare(self) -> Body:
        """It without the details on its skin."""
        return self

    def other_side(self, key: str) -> Body:
        """What its last step took away from it.

        Raises
        ------
        HollowMarbleError
            where that parted nothing off.
        """
        raise HollowMarbleError(
            "Nothing is parted off there any more. Take this part out, or part the other one again."
        )

    def reshaped(self, key: str, origin: str, change: Callable[[Cage], Cage]) -> Body:
        """The body after its cage was changed; `origin` names the step, for the keys of faces it makes.

        Raises
        ------
        HollowMarbleError
            where the body has no cage.
        """
        raise HollowMarbleError(self.because)

    def mended(self, key: str, within: float, fill: float) -> tuple[Body, Did]:
        """The body after its mesh was mended, and what that did; see `core.surface.mending`.

        Raises
        ------
        HollowMarbleError
            where it is shaped by a cage, or nothing would be left.
        """
        raise HollowMarbleError("It is shaped by a cage: weld its points and fill its openings in Form.")

    def preview(self, change: Callable[[Cage], Cage]) -> tuple[Cage, BodyMesh, NDArray[np.int64]]:
        """The cage after a change that only moves points, and a mesh that is filled in only in the patches told.

        Nothing that is kept is written to.
        """
        raise HollowMarbleError(self.because)

    def preview_bends(self, cage: Cage, patches: NDArray[np.integer]) -> Bends:
        """Curvature at the points of some patches, in their order, with its cage's points as in a preview."""
        raise HollowMarbleError(self.because)

    def anchors(self) -> NDArray[np.int32]:
        """(P,) number of the mesh point that lies over each point of its cage, -1 where none does."""
        return np.empty(0, np.int32)

    def finer(
        self, level: int, patches: NDArray[np.int64]
    ) -> tuple[NDArray[np.float32], NDArray[np.int16], NDArray[np.uint32]]:
        """Positions, normals and triangles (numbered from 0) of some patches of its mesh after so many refinements."""
        raise HollowMarbleError("It is a still body of flat triangles: there is nothing finer to show.")

    def row(self, edges: NDArray[np.int64]) -> NDArray[np.int64]:
        """(S, 2) points of its ground along edges (E, 2) of its cage, by the points at their ends.

        Raises
        ------
        HollowMarbleError
            where it has no cage, or no such edge.
        """
        raise HollowMarbleError(
            "It has no cage, so there is no row for a line to follow. Cut it by a plane, or draw the line."
        )

    @abstractmethod
    def probed(self) -> Probed:
        """Its surface as probes read it, as fine as the body is worked on."""

    def ground(self, tolerance: float | None = None) -> Ground:
        """Its surface for details to lie on, as fine as it is worked on or as `mesh` is within a tolerance in mm."""
        return flat_ground(self.probed())

    def strained(self) -> list[Strained]:
        """Faces with too few divisions, worst first."""
        return []


def rows_of(starts: NDArray[np.integer], patches: NDArray[np.integer]) -> NDArray[np.integer]:
    """Rows of a mesh's arrays that the given patches hold, in order."""
    counts = starts[patches + 1] - starts[patches]
    ends = np.cumsum(counts)
    rows: NDArray[np.integer] = np.arange(ends[-1] if len(ends) else 0) + np.repeat(
        starts[patches] - ends + counts, counts
    )
    return rows
