"""Faces and edges lifted out of a cage: along a normal, a direction, each point's own normal, or a path."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import (
    check_edges,
    check_faces,
    connected,
    moving,
    point_normals,
    turning,
    without_loose_points,
)
from hollow_marble.core.cage.mesh import Cage, area_vector, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError

Along = Literal["normal", "normals", "direction", "path"]
Layers = list[NDArray[np.float64]]
MOST_SEGMENTS = 64


def extrude_faces(
    cage: Cage,
    faces: list[int],
    distance: float,
    mates: Mates | None = None,
    along: Along = "normal",
    way: NDArray[np.float64] | None = None,
    segments: int = 1,
) -> Cage:
    """Lift a region of faces and close the gap with bands of faces.

    The lifted faces keep their numbers. Each piece of the region that hangs together moves by itself; a piece that is its own
    image under a symmetry moves within what the symmetry leaves in place.

    Parameters
    ----------
    distance : mm, outward; negative goes inward (not used along a path)
    along : the piece's mean normal, each point's own normal, one direction, or a path
    way : (3,) a direction, or (n, 3) points of a path in mm; the piece turns with the path, least twisted
    segments : bands of faces; along a path one for each of its pieces
    """
    check_faces(cage, faces)
    check_way(along, way, segments)
    if along != "path" and distance == 0:
        raise HollowMarbleError("Lifting faces by 0 mm would fold them on to themselves. Use another distance.")
    region = set(faces if mates is None else mates.faces(cage, faces))
    if len(region) == cage.face_count:
        raise HollowMarbleError("All faces are picked, so there is nothing to extrude from. Pick fewer faces.")
    topology = cage.topology
    points = [cage.points]
    count = len(cage.points)
    now = faces_of(cage)
    sides: list[list[int]] = []
    creases = creases_of(cage)
    normals = point_normals(cage) if along == "normals" else None
    for piece in connected(cage, region):
        used = sorted({int(p) for f in piece for p in cage.face(f)})
        if normals is not None:
            layers: Layers = [
                cage.points[used] + distance * (k + 1) / segments * normals[used] for k in range(segments)
            ]
        else:
            normal = _mean_normal(cage, piece)
            turn = _operation_of(cage, piece, faces, mates)
            layers = _layers(cage.points[used], normal, distance, along, way, segments, turn)
        place = {point: k for k, point in enumerate(used)}
        first = count
        points += layers
        count += len(used) * len(layers)

        def copy(point: int, layer: int, place: dict[int, int] = place, first: int = first) -> int:
            """Number of a point's copy in a layer; layer -1 is the point itself."""
            return point if layer < 0 else first + layer * len(place) + place[point]

        top = len(layers) - 1
        for face in sorted(piece):
            before = now[face]
            for k, a in enumerate(before):
                b = before[(k + 1) % len(before)]
                value = creases.get((min(a, b), max(a, b)))
                if value:
                    c, d = copy(a, top), copy(b, top)
                    creases[min(c, d), max(c, d)] = value
            now[face] = [copy(p, top) for p in before]
            for half in range(int(cage.face_starts[face]), int(cage.face_starts[face + 1])):
                twin = int(topology.twin[half])
                if twin < 0 or int(topology.face_of[twin]) not in piece:
                    a, b = int(cage.face_points[half]), int(cage.face_points[topology.next[half]])
                    for layer in range(len(layers)):
                        low = layer - 1
                        sides.append([copy(a, low), copy(b, low), copy(b, layer), copy(a, layer)])
    made = without_loose_points(np.concatenate(points), now + sides, creases)
    return made if mates is None else symmetrised(made, mates.symmetry)


def extrude_edges(
    cage: Cage,
    edges: list[tuple[int, int]],
    way: NDArray[np.float64],
    mates: Mates | None = None,
    along: Along = "direction",
    segments: int = 1,
) -> Cage:
    """Grow bands of faces from open edges, by an offset (3,) mm or along a path (n, 3)."""
    check_edges(cage, edges)
    check_way(along, way, segments)
    topology = cage.topology
    halves = []
    for a, b in edges if mates is None else mates.edges(edges):
        half = int(topology.edge_half[topology.edge_number(a, b)])
        if topology.twin[half] >= 0:
            raise HollowMarbleError("A picked edge has faces on both sides. Only open edges grow; pick those.")
        halves.append(half)
    ends = [(int(cage.face_points[h]), int(cage.face_points[topology.next[h]])) for h in halves]
    used = sorted({p for pair in ends for p in pair})
    matrices = np.broadcast_to(np.eye(3), (len(used), 3, 3)).copy()
    place = {point: k for k, point in enumerate(used)}
    if mates is not None:
        for operation, row in list(zip(mates.symmetry.operations, mates.maps))[::-1]:
            for point in {int(row[p]) for edge in edges for p in edge}:
                matrices[place[point]] = operation.matrix
    points, grown, count = [cage.points], faces_of(cage), len(cage.points)
    course = [p - way[0] for p in way[1:]] if along == "path" else [way * (k + 1) / segments for k in range(segments)]
    for layer, step in enumerate(course):
        offset = matrices @ step
        points.append(cage.points[used] + (offset if mates is None else _held(offset, used, mates)))
        for a, b in ends:
            low = [p if layer == 0 else count + (layer - 1) * len(used) + place[p] for p in (a, b)]
            high = [count + layer * len(used) + place[p] for p in (a, b)]
            grown.append([low[1], low[0], high[0], high[1]])
    made = cage_from_faces(np.concatenate(points), grown, creases_of(cage))
    return made if mates is None else symmetrised(made, mates.symmetry)


def check_way(along: Along, way: NDArray[np.float64] | None, segments: int) -> None:
    """Raise where a direction or a path does not say where to go."""
    if not 1 <= segments <= MOST_SEGMENTS:
        raise HollowMarbleError(f"An extrusion takes 1 to {MOST_SEGMENTS} segments.")
    if along == "direction" and (way is None or way.shape != (3,) or float(np.linalg.norm(way)) < 1e-9):
        raise HollowMarbleError("An extrusion along a direction needs one. Choose W, D or H, or draw a path.")
    if along == "path":
        if (
            way is None
            or way.ndim != 2
            or len(way) < 2
            or float(np.linalg.norm(np.diff(way, axis=0), axis=1).min()) < 1e-6
        ):
            raise HollowMarbleError("The path is too short to go along. Draw it longer.")
        if len(way) > MOST_SEGMENTS + 1:
            raise HollowMarbleError(f"A path takes up to {MOST_SEGMENTS} pieces. Use fewer segments.")


def _held(offsets: NDArray[np.float64], used: list[int], mates: Mates) -> NDArray[np.float64]:
    """Offsets (n, 3) of the used points, kept within what leaves each point in place."""
    return mates.symmetry.held(offsets, mates.maps[:, used] == np.array(used), offsets=True)


def _operation_of(
    cage: Cage, piece: set[int], faces: list[int], mates: Mates | None
) -> tuple[NDArray[np.float64], bool]:
    """Matrix that takes what is meant for the picked faces to a piece; and whether the piece is its own image."""
    if mates is None:
        return np.eye(3), False
    for number, operation in enumerate(mates.symmetry.operations):
        source = [face for face in faces if mates.image(cage, [face], number)[0] in piece]
        if source:
            stays = [
                other.matrix
                for k, other in enumerate(mates.symmetry.operations)
                if set(mates.image(cage, sorted(piece), k)) == piece
            ]
            return np.mean(stays, axis=0) @ operation.matrix, len(stays) > 1
    return np.eye(3), False


def _layers(
    points: NDArray[np.float64],
    normal: NDArray[np.float64],
    distance: float,
    along: Along,
    way: NDArray[np.float64] | None,
    segments: int,
    turn: tuple[NDArray[np.float64], bool],
) -> Layers:
    matrix, own_image = turn
    if along == "normal":
        return [points + distance * (k + 1) / segments * normal for k in range(segments)]
    assert way is not None
    if along == "direction":
        to = matrix @ way
        length = float(np.linalg.norm(to))
        if length < 1e-9:
            raise HollowMarbleError("Symmetry leaves no way to go in that direction. Choose another, or pick one side.")
        return [points + distance * (k + 1) / segments * to / length for k in range(segments)]
    path = (way - way[0]) @ matrix.T
    if own_image and float(np.linalg.norm(np.diff(path, axis=0), axis=1).min()) < 1e-9:
        raise HollowMarbleError(
            "Symmetry leaves no way to go along that path. Pick one side, or draw it in the middle."
        )
    return along_path(points, path)


def along_path(points: NDArray[np.float64], path: NDArray[np.float64]) -> Layers:
    """Copies of a section carried along a path (n, 3) from its beginning, turned with it and twisted least.

    Every copy stands across the mean of the two pieces that meet there; the turn from one to the next is the smallest one
    (rotation-minimising frames; Bishop 1975).
    """
    pieces = np.diff(path, axis=0)
    ways = pieces / np.linalg.norm(pieces, axis=1, keepdims=True)
    mean = ways[:-1] + ways[1:]
    flat = np.linalg.norm(mean, axis=1) < 1e-9
    mean[flat] = ways[1:][flat]
    tangents = np.concatenate([ways[:1], mean / np.linalg.norm(mean, axis=1, keepdims=True), ways[-1:]])
    centre = points.mean(axis=0)
    matrix = np.eye(3)
    found = []
    for k in range(1, len(path)):
        axis = np.cross(tangents[k - 1], tangents[k])
        sine, cosine = float(np.linalg.norm(axis)), float(tangents[k - 1] @ tangents[k])
        if sine > 1e-12:
            matrix = turning(tuple(axis.tolist()), float(np.arctan2(sine, cosine)), (0, 0, 0)).matrix @ matrix
        found.append(moving(tuple((path[k] - path[0]).tolist())).of((points - centre) @ matrix.T + centre))
    return found


def _mean_normal(cage: Cage, faces: set[int]) -> NDArray[np.float64]:
    total = np.zeros(3)
    for face in sorted(faces):
        corners = cage.points[cage.face(face)]
        total += area_vector(corners)
    length = float(np.linalg.norm(total))
    if length < 1e-12:
        raise HollowMarbleError(
            "The picked faces point every way at once, so there is no direction to extrude. Pick fewer."
        )
    normal: NDArray[np.float64] = total / length
    return normal
