"""Rows and bands of a cage: edges end to end, edges side by side, and a row added across a band.

A row goes straight on through points where four faces meet, or along the open border; a band goes straight on through faces of four
corners. Both end where that is not so, or where they come round to their beginning.
"""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError

Edge = tuple[int, int]


def edge_row(cage: Cage, edge: int) -> list[int]:
    """Numbers of the edges that run on end to end from one, itself included."""
    half = int(cage.topology.edge_half[edge])
    ahead = _walk(cage, half, _straight_on)
    if ahead[-1] == edge and len(ahead) > 1:
        return ahead[:-1]
    behind = _walk(cage, _reversed(cage, half), _straight_on)
    return behind[:0:-1] + ahead


def edge_ring(cage: Cage, edge: int) -> list[int]:
    """Numbers of the edges side by side across a band, from one of them, itself included."""
    return [cage.topology.edge_number(a, b) for a, b in _ring(cage, edge)]


def face_band(cage: Cage, edge: int) -> list[int]:
    """Numbers of the faces that a ring of edges runs across."""
    topology = cage.topology
    found: list[int] = []
    for number in edge_ring(cage, edge):
        half = int(topology.edge_half[number])
        for side in (half, int(topology.twin[half])):
            if side >= 0:
                face = int(topology.face_of[side])
                if len(cage.face(face)) == 4 and face not in found:
                    found.append(face)
    return found


def add_row(cage: Cage, edge: Edge, share: float, mates: Mates | None = None) -> Cage:
    """Put a row of edges across the band an edge belongs to.

    Parameters
    ----------
    edge : points of one of the band's edges; the row crosses it `share` of the way from the first to the second, 0 to 1
    mates : the bands on the other sides get a row too; a band that is its own image only takes one in its middle
    """
    if not 0.02 <= share <= 0.98:
        raise HollowMarbleError("A row lies between the ends of the edges it crosses: from 2 % to 98 % of the way.")
    made = _with_row(cage, edge, share)
    if mates is None:
        return made
    crossed = set(_crossed(cage, edge))
    for row in mates.maps[1:]:
        a, b = int(row[edge[0]]), int(row[edge[1]])
        if (a, b) in crossed:
            continue
        if (b, a) not in crossed:
            made = _with_row(made, (a, b), share)
            crossed |= set(_crossed(cage, (a, b)))
        elif share != 0.5:
            # the row would have to lie on both sides of the band's middle: only the middle is its own image
            return add_row(cage, edge, 0.5, mates)
    return symmetrised(made, mates.symmetry)


def _crossed(cage: Cage, edge: Edge) -> list[Edge]:
    number = cage.topology.edge_number(*edge)
    if number < 0:
        raise HollowMarbleError("That edge is no longer there. Pick it again.")
    return _ring(cage, number)


def _with_row(cage: Cage, edge: Edge, share: float) -> Cage:
    ring = _crossed(cage, edge)
    if len({frozenset(pair) for pair in ring}) < len(ring):
        raise HollowMarbleError("That band crosses itself, so no row fits across it. Begin at another edge.")
    way = share if tuple(edge) in ring else 1 - share
    points = [cage.points]
    creases = creases_of(cage)
    on: dict[frozenset[int], int] = {}
    count = len(cage.points)
    for a, b in ring:
        points.append((cage.points[a] * (1 - way) + cage.points[b] * way)[None])
        value = creases.pop((min(a, b), max(a, b)), None)
        if value:
            creases[min(a, count), max(a, count)] = value
            creases[min(b, count), max(b, count)] = value
        on[frozenset((a, b))] = count
        count += 1
    faces: list[list[int]] = []
    halved: list[list[int]] = []
    for face in faces_of(cage):
        grown: list[int] = []
        for k, corner in enumerate(face):
            grown.append(corner)
            cut = on.get(frozenset((corner, face[(k + 1) % len(face)])))
            if cut is not None:
                grown.append(cut)
        cuts = [k for k, corner in enumerate(grown) if corner >= len(cage.points)]
        if len(face) == 4 and len(cuts) == 2:
            first, second = cuts
            faces.append(grown[: first + 1] + grown[second:])
            halved.append(grown[first : second + 1])
        else:
            faces.append(grown)
    return cage_from_faces(np.concatenate(points), faces + halved, creases)


def _ring(cage: Cage, edge: int) -> list[Edge]:
    """Points of the edges of a ring, all given the same way across the band."""
    topology = cage.topology
    start = int(topology.edge_half[edge])
    first = (int(cage.face_points[start]), int(cage.face_points[topology.next[start]]))
    ahead, closed = _onward(cage, start)
    if closed or topology.twin[start] < 0:
        return [first, *ahead]
    behind, _ = _onward(cage, int(topology.twin[start]))
    return [*((b, a) for a, b in behind[::-1]), first, *ahead]


def _onward(cage: Cage, half: int) -> tuple[list[Edge], bool]:
    """Edges met by going on across four-cornered faces from a half-edge, and whether that came round to it."""
    topology = cage.topology
    start = int(topology.edge_of[half])
    found: list[Edge] = []
    while half >= 0 and len(cage.face(int(topology.face_of[half]))) == 4 and len(found) <= len(topology.edges):
        opposite = int(topology.next[topology.next[half]])
        if int(topology.edge_of[opposite]) == start:
            return found, True
        found.append((int(cage.face_points[topology.next[opposite]]), int(cage.face_points[opposite])))
        half = int(topology.twin[opposite])
    return found, False


def _reversed(cage: Cage, half: int) -> int:
    """The same edge from the other side; itself where it is open."""
    twin = int(cage.topology.twin[half])
    return twin if twin >= 0 else half


def _straight_on(cage: Cage, half: int) -> int:
    """The half-edge that goes on straight from the end of one, -1 where none does."""
    topology = cage.topology
    if topology.twin[half] < 0:
        ahead = int(topology.next[half])
        while topology.twin[ahead] >= 0:
            ahead = int(topology.next[topology.twin[ahead]])
        return ahead
    around, step = 0, int(topology.next[half])
    first = step
    while True:
        around += 1
        twin = int(topology.twin[step])
        if twin < 0:
            return -1
        step = int(topology.next[twin])
        if step == first or around > 4:
            break
    if around != 4:
        return -1
    return int(topology.next[topology.twin[topology.next[half]]])


def _walk(cage: Cage, half: int, step: object) -> list[int]:
    """Edges met by going on from a half-edge; ends with the first one again where it comes round."""
    topology = cage.topology
    found = [int(topology.edge_of[half])]
    while True:
        half = step(cage, half)  # type: ignore[operator]
        if half < 0:
            return found
        edge = int(topology.edge_of[half])
        found.append(edge)
        if edge == found[0] or len(found) > len(topology.edges) + 1:
            return found
