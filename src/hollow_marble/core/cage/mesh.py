"""A cage: points, faces of three or more corners, creases."""

from __future__ import annotations

import hashlib
import itertools
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.topology import SheetError, Topology, build_topology
from hollow_marble.core.errors import HollowMarbleError

SHARP = 10.0
"""Sharpness from which an edge counts as fully sharp: it never decays."""

CREASE_SCALE = 3.0
"""Sharpness of a crease of 1 on the screen; used up after three refinements, so level 3 shows it exactly."""


def _no_edges() -> NDArray[np.int64]:
    return np.empty((0, 2), np.int64)


def _no_points() -> NDArray[np.int64]:
    return np.empty(0, np.int64)


@dataclass(frozen=True)
class Cage:
    """Control mesh of a subdivision surface.

    points : (P, 3) float64, mm
    face_starts : (F + 1,) int64, where each face begins in `face_points`
    face_points : (sum of corners,) int64, counter-clockwise seen from outside
    crease_edges : (C, 2) int64, lower point number first
    crease_sharpness : (C,) float64 > 0; `SHARP` and above never decays
    corner_points : (K,) int64, points with a sharpness of their own, lowest first
    corner_sharpness : (K,) float64 > 0
    """

    points: NDArray[np.float64]
    face_starts: NDArray[np.int64]
    face_points: NDArray[np.int64]
    crease_edges: NDArray[np.int64] = field(default_factory=_no_edges)
    crease_sharpness: NDArray[np.float64] = field(default_factory=lambda: np.empty(0))
    corner_points: NDArray[np.int64] = field(default_factory=_no_points)
    corner_sharpness: NDArray[np.float64] = field(default_factory=lambda: np.empty(0))

    @property
    def face_count(self) -> int:
        return len(self.face_starts) - 1

    def face(self, index: int) -> NDArray[np.int64]:
        """Point numbers of one face, (corners,) int64."""
        return self.face_points[self.face_starts[index] : self.face_starts[index + 1]]

    @cached_property
    def topology(self) -> Topology:
        return build_topology(self.face_starts, self.face_points, len(self.points))

    def moved(self, points: NDArray[np.float64]) -> Cage:
        """The same cage with other point positions (P, 3); what follows from connectivity is kept."""
        cage = replace(self, points=points)
        for name in ("topology", "connectivity_key"):
            if name in self.__dict__:
                cage.__dict__[name] = self.__dict__[name]
        return cage

    @cached_property
    def connectivity_key(self) -> str:
        """Names everything of the cage but where its points are: `connectivity`, hashed."""
        return hashlib.sha256(self.connectivity()).hexdigest()

    def connectivity(self) -> bytes:
        """Bytes that are equal for two cages exactly when a skin plan made for one serves the other."""
        parts = (
            self.face_starts,
            self.face_points,
            self.crease_edges,
            self.crease_sharpness,
            self.corner_points,
            self.corner_sharpness,
        )
        return b"|".join([len(self.points).to_bytes(8, "little"), *(part.tobytes() for part in parts)])


def cage_from_faces(
    points: NDArray[np.float64],
    faces: list[list[int]],
    creases: dict[tuple[int, int], float] | None = None,
) -> Cage:
    """Build a cage and check that it can be subdivided.

    Parameters
    ----------
    points : (P, 3) array, mm
    faces : point numbers of each face, counter-clockwise
    creases : sharpness by edge; that of a corner stands under the edge from its point to itself

    Raises
    ------
    HollowMarbleError
        where a face is not a polygon of existing points, a value is not a number, or faces meet so that the
        surface would not be a sheet (see `build_topology`).
    """
    points = np.ascontiguousarray(points, dtype=np.float64).reshape(-1, 3)
    if not faces:
        raise HollowMarbleError("There are no faces here, so there is no form. Choose a mesh with at least one face.")
    if not np.isfinite(points).all():
        bad = int(np.flatnonzero(~np.isfinite(points).all(axis=1))[0])
        raise HollowMarbleError(
            f"Point {bad + 1} has a coordinate that is not a number. Repair the file and try again."
        )
    sizes = np.array([len(face) for face in faces], np.int64)
    starts = np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64)
    corners = np.array([corner for face in faces for corner in face], np.int64)
    if sizes.min() < 3:
        raise HollowMarbleError("A face has fewer than three corners. Remove it and try again.")
    if corners.min() < 0 or corners.max() >= len(points):
        raise HollowMarbleError("A face uses a point that does not exist. The file is damaged; export it again.")
    for number, face in enumerate(faces):
        if len(set(face)) != len(face):
            raise SheetError(f"face {number + 1} uses the same point twice", "Remove the double point and try again.")
    cage = with_creases(Cage(points, starts, corners), creases or {})
    cage.topology  # noqa: B018  raises where the faces do not form a sheet
    return cage


def area_vector(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    """Twice the area of a polygon (n, 3), along its normal (Newell's formula)."""
    return np.asarray(np.cross(corners, np.roll(corners, -1, axis=0)).sum(axis=0))


def faces_by_corners(cage: Cage) -> dict[frozenset[int], int]:
    """Number of each face by its points."""
    return {frozenset(cage.face(f).tolist()): f for f in range(cage.face_count)}


def faces_of(cage: Cage) -> list[list[int]]:
    """Point numbers of every face as plain lists."""
    corners = cage.face_points.tolist()
    starts = cage.face_starts.tolist()
    return [corners[a:b] for a, b in itertools.pairwise(starts)]


def creases_of(cage: Cage) -> dict[tuple[int, int], float]:
    """Sharpness by edge; that of a corner stands under the edge from its point to itself."""
    found = {(a, b): s for (a, b), s in zip(cage.crease_edges.tolist(), cage.crease_sharpness.tolist())}
    found.update({(p, p): s for p, s in zip(cage.corner_points.tolist(), cage.corner_sharpness.tolist())})
    return found


def with_creases(cage: Cage, creases: dict[tuple[int, int], float]) -> Cage:
    """The same points and faces with other creases, as `creases_of` gives them."""
    items = sorted((min(edge), max(edge), value) for edge, value in creases.items() if value > 0)
    edges = [item for item in items if item[0] != item[1]]
    corners = [item for item in items if item[0] == item[1]]
    changed = Cage(
        cage.points,
        cage.face_starts,
        cage.face_points,
        np.array([item[:2] for item in edges], np.int64).reshape(-1, 2),
        np.array([item[2] for item in edges], np.float64),
        np.array([item[0] for item in corners], np.int64),
        np.array([item[2] for item in corners], np.float64),
    )
    if "topology" in cage.__dict__:
        changed.__dict__["topology"] = cage.topology
    return changed
