"""Changes to a cage. Each takes a cage and returns a new one; nothing is changed in place."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.mirror import keep_symmetric, mirrored_faces, symmetrised
from hollow_marble.core.errors import HollowMarbleError

Partners = NDArray[np.int64] | None


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


def sizing(factors: tuple[float, float, float], seat: tuple[float, float, float]) -> Placement:
    """A scale by factors along x, y and z about the seat."""
    return Placement(np.diag(np.array(factors, float)), np.array(seat, float), np.zeros(3))


def place_points(cage: Cage, picked: list[int], placement: Placement, partner: Partners = None) -> Cage:
    """Move the picked points; with partners the other side follows."""
    check_points(cage, picked)
    points = cage.points.copy()
    points[picked] = placement.of(points[picked])
    if not np.isfinite(points).all() or np.abs(points[picked]).max() > 1e6:
        raise HollowMarbleError("That would take points further than a kilometre away. Use a smaller number.")
    if partner is not None:
        points = keep_symmetric(cage.points, points, picked, partner)
    return cage.moved(points)


def crease_edges(cage: Cage, edges: list[tuple[int, int]], sharpness: float, partner: Partners = None) -> Cage:
    """Give edges a sharpness (0 takes the crease away; `SHARP` is fully sharp)."""
    if not edges:
        raise HollowMarbleError("No edges are picked. Pick the edges to crease first.")
    creases = creases_of(cage)
    everything = list(edges)
    if partner is not None:
        everything += [(int(partner[a]), int(partner[b])) for a, b in edges]
    for a, b in everything:
        if not (min(a, b) >= 0 and max(a, b) < len(cage.points)) or cage.topology.edge_number(a, b) < 0:
            raise HollowMarbleError("A picked edge is no longer there. Pick the edges again.")
        key = (min(a, b), max(a, b))
        creases.pop(key, None)
        if sharpness > 0:
            creases[key] = sharpness
    items = sorted(creases.items())
    changed = Cage(
        cage.points,
        cage.face_starts,
        cage.face_points,
        np.array([edge for edge, _ in items], np.int64).reshape(-1, 2),
        np.array([value for _, value in items], np.float64),
    )
    changed.__dict__["topology"] = cage.topology
    return changed


def extrude_faces(cage: Cage, faces: list[int], distance: float, partner: Partners = None) -> Cage:
    """Lift a region of faces along its mean normal and close the gap with a band of faces.

    The lifted faces keep their numbers. Each connected piece of the region moves along its own mean normal;
    a piece that crosses the seam moves within the seam's plane.

    Parameters
    ----------
    distance : mm, outward; negative goes inward
    """
    check_faces(cage, faces)
    region = set(faces)
    if partner is not None:
        region |= set(mirrored_faces(cage, partner, faces))
    if len(region) == cage.face_count:
        raise HollowMarbleError("All faces are picked, so there is nothing to extrude from. Pick fewer faces.")
    topology = cage.topology
    pieces = connected(cage, region)
    copies: dict[tuple[int, int], int] = {}
    points = [cage.points]
    count = len(cage.points)
    faces_now = faces_of(cage)
    lifted: dict[int, list[int]] = {}
    sides: list[list[int]] = []
    for number, piece in enumerate(pieces):
        used = sorted({int(p) for f in piece for p in cage.face(f)})
        offset = distance * _mean_normal(cage, piece)
        moved = cage.points[used] + offset
        if partner is not None:
            on_seam = partner[used] == np.array(used)
            moved[on_seam, 0] = 0.0
        for point in used:
            copies[number, point] = count
            count += 1
        points.append(moved)
        for face in piece:
            lifted[face] = [copies[number, p] for p in faces_now[face]]
            for half in range(cage.face_starts[face], cage.face_starts[face + 1]):
                twin = int(topology.twin[half])
                if twin < 0 or int(topology.face_of[twin]) not in piece:
                    a, b = int(cage.face_points[half]), int(cage.face_points[topology.next[half]])
                    sides.append([a, b, copies[number, b], copies[number, a]])
    creases = creases_of(cage)
    for face, corners in lifted.items():
        before = faces_now[face]
        for k in range(len(before)):
            a, b = before[k], before[(k + 1) % len(before)]
            value = creases.get((min(a, b), max(a, b)))
            if value:
                c, d = corners[k], corners[(k + 1) % len(before)]
                creases[min(c, d), max(c, d)] = value
        faces_now[face] = corners
    result = without_loose_points(np.concatenate(points), faces_now + sides, creases)
    return result if partner is None else symmetrised(result)


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


def _mean_normal(cage: Cage, faces: set[int]) -> NDArray[np.float64]:
    total = np.zeros(3)
    for face in sorted(faces):
        corners = cage.points[cage.face(face)]
        total += np.cross(corners, np.roll(corners, -1, axis=0)).sum(axis=0)
    length = float(np.linalg.norm(total))
    if length < 1e-12:
        raise HollowMarbleError(
            "The picked faces point every way at once, so there is no direction to extrude. Pick fewer."
        )
    normal: NDArray[np.float64] = total / length
    return normal


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


def check_faces(cage: Cage, faces: list[int]) -> None:
    """Raise where picked faces do not exist."""
    if not faces:
        raise HollowMarbleError("No faces are picked. Pick the faces to extrude first.")
    if min(faces) < 0 or max(faces) >= cage.face_count:
        raise HollowMarbleError("Some picked faces are no longer there. Pick again.")
