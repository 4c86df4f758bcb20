"""Faces set into faces, openings closed, faces taken away."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import check_faces, connected, without_loose_points
from hollow_marble.core.cage.mesh import Cage, area_vector, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError


def inset_faces(cage: Cage, faces: list[int], width: float, single: bool = False, mates: Mates | None = None) -> Cage:
    """Set smaller faces into faces, `width` mm from their border, with a band of faces around them.

    The inner faces keep their numbers. A region that hangs together is set in as one, each face by itself where `single`.
    """
    check_faces(cage, faces)
    if width <= 0:
        raise HollowMarbleError("An inset needs a width above 0 mm.")
    region = set(faces if mates is None else mates.faces(cage, faces))
    pieces = [{face} for face in sorted(region)] if single else connected(cage, region)
    points = [cage.points]
    count = len(cage.points)
    now = faces_of(cage)
    sides: list[list[int]] = []
    creases = creases_of(cage)
    for piece in pieces:
        border = _border(cage, piece)
        if not border:
            raise HollowMarbleError("The picked faces have no border to set in from. Pick fewer faces.")
        copies: dict[int, int] = {}
        for point, place in _set_in(cage, border, width).items():
            copies[point] = count
            points.append(place[None])
            count += 1
        for face in piece:
            now[face] = [copies.get(point, point) for point in now[face]]
        for _, a, b in border:
            sides.append([a, b, copies[b], copies[a]])
    made = without_loose_points(np.concatenate(points), now + sides, creases)
    _check_sound(cage, made, sorted(region))
    return made if mates is None else symmetrised(made, mates.symmetry)


def fill_opening(cage: Cage, edge: tuple[int, int], mates: Mates | None = None) -> Cage:
    """Close the opening that an open edge belongs to with one face; with mates its images too."""
    made = _filled(cage, edge)
    for a, b in [] if mates is None else mates.edges([edge])[1:]:
        number = made.topology.edge_number(a, b)
        if made.topology.twin[made.topology.edge_half[number]] < 0:
            made = _filled(made, (a, b))
    return made


def _filled(cage: Cage, edge: tuple[int, int]) -> Cage:
    return cage_from_faces(cage.points, [*faces_of(cage), opening_at(cage, edge)], creases_of(cage))


def opening_at(cage: Cage, edge: tuple[int, int]) -> list[int]:
    """Points around the opening an open edge belongs to, in the order a face that closes it would have them."""
    topology = cage.topology
    number = topology.edge_number(*edge)
    half = int(topology.edge_half[number]) if number >= 0 else -1
    if half < 0 or topology.twin[half] >= 0:
        raise HollowMarbleError("There is no opening at that edge. Pick an edge of the opening's border.")
    around = []
    start = half
    while True:
        around.append(int(cage.face_points[topology.next[half]]))
        step = int(topology.previous[half])
        while topology.twin[step] >= 0:
            step = int(topology.previous[topology.twin[step]])
        half = step
        if half == start:
            return around


def remove_faces(cage: Cage, faces: list[int], mates: Mates | None = None) -> Cage:
    """Take faces away, and points that no face uses any more."""
    check_faces(cage, faces)
    gone = set(faces if mates is None else mates.faces(cage, faces))
    left = [face for number, face in enumerate(faces_of(cage)) if number not in gone]
    if not left:
        raise HollowMarbleError("That would take away every face. Remove the part instead.")
    return without_loose_points(cage.points, left, creases_of(cage))


def _border(cage: Cage, piece: set[int]) -> list[tuple[int, int, int]]:
    """Face and two points of every edge of the piece with nothing of it on the other side, the way the face turns."""
    topology = cage.topology
    found = []
    for face in sorted(piece):
        for half in range(int(cage.face_starts[face]), int(cage.face_starts[face + 1])):
            twin = int(topology.twin[half])
            if twin < 0 or int(topology.face_of[twin]) not in piece:
                found.append((face, int(cage.face_points[half]), int(cage.face_points[topology.next[half]])))
    return found


def _set_in(cage: Cage, border: list[tuple[int, int, int]], width: float) -> dict[int, NDArray[np.float64]]:
    """Where border points come to lie: `width` mm from both border edges that meet there."""
    inward: dict[int, list[NDArray[np.float64]]] = {}
    for face, a, b in border:
        corners = cage.points[cage.face(face)]
        normal = area_vector(corners)
        along = cage.points[b] - cage.points[a]
        way = np.cross(normal, along)
        length = float(np.linalg.norm(way))
        if length < 1e-12:
            raise HollowMarbleError("A picked face has no area, so nothing can be set into it.")
        for point in (a, b):
            inward.setdefault(point, []).append(way / length)
    placed = {}
    for point, ways in inward.items():
        if len(ways) > 2:
            raise HollowMarbleError("The picked faces touch in a single point. Set them in one after the other.")
        mean = np.sum(ways, axis=0)
        meeting = 1 + float(ways[0] @ ways[-1]) if len(ways) == 2 else 1.0
        placed[point] = cage.points[point] + width * mean / max(meeting, 0.2)
    return placed


def _check_sound(before: Cage, after: Cage, faces: list[int]) -> None:
    """Refuse an inset so wide that a face turned over."""
    for face in faces:
        old, new = (area_vector(cage.points[cage.face(face)]) for cage in (before, after))
        if old @ new <= 0:
            raise HollowMarbleError("The inset is wider than the face. Make it narrower.")
