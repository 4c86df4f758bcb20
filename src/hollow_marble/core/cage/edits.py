"""Changes to a cage. Each takes a cage and returns a new one; nothing is changed in place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, with_creases
from hollow_marble.core.cage.symmetry import Mates, keep_symmetric
from hollow_marble.core.errors import HollowMarbleError


@dataclass(frozen=True)
class Placement:
    """An affine map of space about a seat: q = matrix (p - seat) + seat + offset, lengths in mm."""

    matrix: NDArray[np.float64]
    seat: NDArray[np.float64]
    offset: NDArray[np.float64]

    def of(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        moved: NDArray[np.float64] = (points - self.seat) @ self.matrix.T + self.seat + self.offset
        return moved


def moving(offset: tuple[float, float, float]) -> Placement:
    """A shift by an offset in mm."""
    return Placement(np.eye(3), np.zeros(3), np.array(offset, float))


def turning(axis: tuple[float, float, float], angle: float, seat: tuple[float, float, float]) -> Placement:
    """A turn about an axis through the seat; angle in radians, right-handed (Rodrigues' formula)."""
    length = float(np.linalg.norm(axis))
    if length == 0:
        raise HollowMarbleError("A turn needs a direction to turn about. Choose W, D or H.")
    x, y, z = np.array(axis, float) / length
    cross = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    matrix = np.eye(3) + np.sin(angle) * cross + (1 - np.cos(angle)) * cross @ cross
    return Placement(matrix, np.array(seat, float), np.zeros(3))


def sizing(
    factors: tuple[float, float, float],
    seat: tuple[float, float, float],
    directions: NDArray[np.float64] | None = None,
) -> Placement:
    """A scale by factors about the seat, along x, y and z or along three unit directions (3, 3), a row each."""
    matrix = np.diag(np.array(factors, float))
    if directions is not None:
        matrix = directions.T @ matrix @ directions
    return Placement(matrix, np.array(seat, float), np.zeros(3))


def place_points(
    cage: Cage, picked: list[int], placement: Placement, mates: Mates | None = None, reach: float = 0.0
) -> Cage:
    """Move the picked points; with mates the other sides follow.

    Parameters
    ----------
    reach : mm; points nearer to a picked one than this go along in part, (1 - (d / reach)^2)^2 of the way
    """
    check_points(cage, picked)
    return _placed(cage, picked, placement.of, mates, reach)


def push_points(cage: Cage, picked: list[int], distance: float, mates: Mates | None = None, reach: float = 0.0) -> Cage:
    """Move each picked point by `distance` mm along its own normal, the mean of the faces around it by area."""
    check_points(cage, picked)
    outward = point_normals(cage)
    if (np.abs(outward[picked]).max(axis=1) == 0).any():
        raise HollowMarbleError("Around a picked point the faces point every way at once. Pick others.")
    return _placed(cage, picked, lambda points: points + distance * outward, mates, reach)


def _placed(
    cage: Cage,
    picked: list[int],
    place: Callable[[NDArray[np.float64]], NDArray[np.float64]],
    mates: Mates | None,
    reach: float,
) -> Cage:
    points, moved = cage.points.copy(), picked
    to = place(points)
    if reach > 0:
        share = soft_shares(cage, picked, reach)
        beside = np.flatnonzero(share)
        points[beside] += share[beside, None] * (to[beside] - points[beside])
        moved = [*picked, *np.setdiff1d(beside, picked).tolist()]
    points[picked] = to[picked]
    if not np.isfinite(points).all() or np.abs(points[moved]).max() > 1e6:
        raise HollowMarbleError("That would take points further than a kilometre away. Use a smaller number.")
    if mates is not None:
        points = keep_symmetric(cage.points, points, moved, mates)
    return cage.moved(points)


def soft_shares(cage: Cage, picked: list[int], reach: float) -> NDArray[np.float64]:
    """(P,) how far every point goes along: 1 for picked ones, falling smoothly to 0 at `reach` mm from the nearest."""
    share = np.zeros(len(cage.points))
    if reach > 0:
        distance, _ = cKDTree(cage.points[picked]).query(cage.points)
        share = np.clip(1 - (distance / reach) ** 2, 0, 1) ** 2
    share[picked] = 1.0
    return share


def point_normals(cage: Cage) -> NDArray[np.float64]:
    """Unit normals at the cage's points, (P, 3); zero where the faces around one cancel."""
    points, topology = cage.points, cage.topology
    here, ahead, back = (points[cage.face_points[at]] for at in (slice(None), topology.next, topology.previous))
    total = np.zeros_like(points)
    np.add.at(total, cage.face_points, np.cross(ahead - here, back - here))
    length = np.linalg.norm(total, axis=1, keepdims=True)
    return np.asarray(np.divide(total, length, out=np.zeros_like(total), where=length > 1e-12))


def crease_edges(cage: Cage, edges: list[tuple[int, int]], sharpness: float, mates: Mates | None = None) -> Cage:
    """Give edges a sharpness (0 takes the crease away; `SHARP` is fully sharp)."""
    if not edges:
        raise HollowMarbleError("No edges are picked. Pick the edges to crease first.")
    creases = creases_of(cage)
    check_edges(cage, edges)
    for a, b in edges if mates is None else mates.edges(edges):
        creases[min(a, b), max(a, b)] = sharpness
    return with_creases(cage, creases)


def crease_corners(cage: Cage, points: list[int], sharpness: float, mates: Mates | None = None) -> Cage:
    """Give points a sharpness of their own (0 takes it away; at `SHARP` the skin touches the point)."""
    check_points(cage, points)
    creases = creases_of(cage)
    for point in points if mates is None else mates.points(points):
        creases[point, point] = sharpness
    return with_creases(cage, creases)


def connected(cage: Cage, region: set[int]) -> list[set[int]]:
    """Split a region into pieces that hang together by an edge."""
    topology, left, pieces = cage.topology, set(region), []
    while left:
        piece = {min(left)}
        front = list(piece)
        while front:
            face = front.pop()
            for half in range(cage.face_starts[face], cage.face_starts[face + 1]):
                twin = int(topology.twin[half])
                other = int(topology.face_of[twin]) if twin >= 0 else -1
                if other in left and other not in piece:
                    piece.add(other)
                    front.append(other)
        left -= piece
        pieces.append(piece)
    return pieces


def without_loose_points(
    points: NDArray[np.float64],
    faces: list[list[int]],
    creases: dict[tuple[int, int], float],
) -> Cage:
    """Drop points no face uses any more (inside a lifted region)."""
    used = np.zeros(len(points), bool)
    used[[p for face in faces for p in face]] = True
    number = np.cumsum(used) - 1
    edges = {(min(f[k], f[k - 1]), max(f[k], f[k - 1])) for f in faces for k in range(len(f))}
    edges |= {(p, p) for p in np.flatnonzero(used).tolist()}
    return cage_from_faces(
        points[used],
        [[int(number[p]) for p in face] for face in faces],
        {(int(number[a]), int(number[b])): s for (a, b), s in creases.items() if (a, b) in edges},
    )


def check_points(cage: Cage, picked: list[int]) -> None:
    """Raise where picked points do not exist."""
    if not picked:
        raise HollowMarbleError("Nothing is picked. Pick points, edges or faces first.")
    if min(picked) < 0 or max(picked) >= len(cage.points):
        raise HollowMarbleError("Some picked points are no longer there. Pick again.")


def check_edges(cage: Cage, edges: list[tuple[int, int]]) -> None:
    """Raise where picked edges do not exist."""
    if not edges:
        raise HollowMarbleError("No edges are picked. Pick edges first.")
    for a, b in edges:
        if not (min(a, b) >= 0 and max(a, b) < len(cage.points)) or cage.topology.edge_number(a, b) < 0:
            raise HollowMarbleError("A picked edge is no longer there. Pick the edges again.")


def check_faces(cage: Cage, faces: list[int]) -> None:
    """Raise where picked faces do not exist."""
    if not faces:
        raise HollowMarbleError("No faces are picked. Pick faces first.")
    if min(faces) < 0 or max(faces) >= cage.face_count:
        raise HollowMarbleError("Some picked faces are no longer there. Pick again.")
