"""Edges and points taken out so that the faces beside them become one; faces split into four-cornered ones."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.cage.bridges import region_border
from hollow_marble.core.cage.edits import check_edges, check_faces, check_points, connected, without_loose_points
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError


def dissolve_edges(cage: Cage, edges: list[tuple[int, int]], mates: Mates | None = None) -> Cage:
    """Make one face of those beside each edge; points left in the middle of a single line go too."""
    check_edges(cage, edges)
    everything = edges if mates is None else mates.edges(edges)
    made = _without(cage, {cage.topology.edge_number(a, b) for a, b in everything})
    return made if mates is None else symmetrised(made, mates.symmetry)


def dissolve_points(cage: Cage, points: list[int], mates: Mates | None = None) -> Cage:
    """Make one face of those around each point."""
    check_points(cage, points)
    chosen = np.zeros(len(cage.points), bool)
    chosen[points if mates is None else mates.points(points)] = True
    topology = cage.topology
    if chosen[cage.face_points[topology.twin < 0]].any():
        raise HollowMarbleError(
            "A picked point lies on an open border. Remove a face there instead, or weld the point."
        )
    made = _without(cage, set(np.flatnonzero(chosen[topology.edges].any(axis=1)).tolist()))
    return made if mates is None else symmetrised(made, mates.symmetry)


def _without(cage: Cage, gone: set[int]) -> Cage:
    topology = cage.topology
    group = np.arange(cage.face_count)
    for edge in sorted(gone):
        half = int(topology.edge_half[edge])
        twin = int(topology.twin[half])
        if twin < 0:
            raise HollowMarbleError(
                "An open edge has a face on one side only, so there is nothing to join. Pick others."
            )
        a, b = int(group[topology.face_of[half]]), int(group[topology.face_of[twin]])
        group[group == max(a, b)] = min(a, b)
    faces, creases = faces_of(cage), creases_of(cage)
    merged: dict[int, list[int]] = {}
    for number in np.unique(group):
        members = np.flatnonzero(group == number).tolist()
        if len(members) > 1:
            if len(connected(cage, set(members))) != 1:
                raise HollowMarbleError("The faces beside the picked edges lie apart. Pick fewer edges.")
            merged[int(number)] = region_border(cage, members)
    now = [merged.get(f, face) for f, face in enumerate(faces) if group[f] == f]
    ends = {int(p) for edge in gone for p in topology.edges[edge]}
    uses = np.bincount([p for face in now for p in face], minlength=len(cage.points))
    on_border = np.zeros(len(cage.points), bool)
    on_border[cage.face_points[topology.twin < 0]] = True
    loose = {p for p in ends if uses[p] == 2 and not on_border[p]}
    for point in sorted(loose):
        beside = sorted({q for face in now if point in face for q in _beside(face, point)})
        sharpness = [creases.get((min(point, q), max(point, q)), 0.0) for q in beside]
        if len(beside) == 2 and min(sharpness) > 0:
            creases[beside[0], beside[1]] = min(sharpness)
    now = [[p for p in face if p not in loose] for face in now]
    if any(len(face) < 3 for face in now):
        raise HollowMarbleError("A face would be left with fewer than three corners. Pick fewer edges.")
    return without_loose_points(cage.points, now, creases)


def _beside(face: list[int], point: int) -> tuple[int, int]:
    at = face.index(point)
    return face[at - 1], face[(at + 1) % len(face)]


def split_faces(cage: Cage, faces: list[int], mates: Mates | None = None) -> Cage:
    """Split faces into four-cornered ones about their middles; neighbours take the new points on their edges as corners."""
    check_faces(cage, faces)
    region = sorted(set(faces if mates is None else mates.faces(cage, faces)))
    topology = cage.topology
    points, count = [cage.points], len(cage.points)
    now, creases = faces_of(cage), creases_of(cage)
    middle: dict[int, int] = {}
    for face in region:
        for half in range(int(cage.face_starts[face]), int(cage.face_starts[face + 1])):
            edge = int(topology.edge_of[half])
            if edge in middle:
                continue
            a, b = (int(p) for p in topology.edges[edge])
            middle[edge] = count
            points.append(0.5 * (cage.points[a] + cage.points[b])[None])
            value = creases.pop((a, b), None)
            if value:
                creases[a, count] = creases[b, count] = value
            count += 1
    quads: list[list[int]] = []
    for face in region:
        start, corners = int(cage.face_starts[face]), now[face]
        mids = [middle[int(topology.edge_of[start + k])] for k in range(len(corners))]
        points.append(cage.points[corners].mean(axis=0)[None])
        parts = [[p, mids[k], count, mids[k - 1]] for k, p in enumerate(corners)]
        count += 1
        now[face] = parts[0]
        quads += parts[1:]
    chosen = set(region)
    for face in range(cage.face_count):
        if face in chosen:
            continue
        start = int(cage.face_starts[face])
        grown = []
        for k, p in enumerate(now[face]):
            grown.append(p)
            new = middle.get(int(topology.edge_of[start + k]))
            if new is not None:
                grown.append(new)
        now[face] = grown
    made = cage_from_faces(np.concatenate(points), now + quads, creases)
    return made if mates is None else symmetrised(made, mates.symmetry)
