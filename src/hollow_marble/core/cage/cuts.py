"""Cages cut: along a line drawn over the view, and by a plane; a side mirrored over to the other."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import check_faces, without_loose_points
from hollow_marble.core.cage.joins import welded
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, Operation, Symmetry, symmetrised
from hollow_marble.core.errors import HollowMarbleError

NEAR_END = 0.03
"""A cut this near to the end of an edge (a share of its length) goes through the point there."""

Side = Literal["right", "left"]


def cut_along(
    cage: Cage,
    eye: NDArray[np.float64],
    line: NDArray[np.float64],
    through: bool = False,
    mates: Mates | None = None,
) -> Cage:
    """Cut faces where the curtain from the eye through a drawn line crosses them.

    Faces that the line leaves or ends in are cut only where it crosses two of their sides.

    Parameters
    ----------
    eye : (3,) mm, where the line was drawn from
    line : (n, 3) points of the line at any distance from the eye
    through : cut what faces away from the eye too
    """
    line = np.asarray(line, float).reshape(-1, 3)
    if len(line) < 2:
        raise HollowMarbleError("A cut needs a line. Draw one across the faces.")
    operations = [None] if mates is None else list(mates.symmetry.operations)
    made, did = cage, False
    for operation in operations:
        at = eye if operation is None else operation.of(np.asarray(eye, float))
        drawn = line if operation is None else operation.of(line)
        marks, order = _curtain_marks(made, at, drawn)
        seen = np.ones(made.face_count, bool) if through else _facing(made, at)
        cut = _split(made, marks, order, seen)
        did |= cut is not None
        made = cut or made
    if not did:
        raise HollowMarbleError("The line crosses no face from side to side. Draw it right across the faces to cut.")
    return made if mates is None else symmetrised(made, mates.symmetry)


def cut_by_plane(cage: Cage, axis: int, place: float = 0.0) -> Cage:
    """Edges along the plane where the coordinate of an axis is `place` mm; points within 1e-6 mm count as on it."""
    points = cage.points.copy()
    points[np.abs(points[:, axis] - place) < 1e-6, axis] = place
    side = np.sign(points[:, axis] - place)
    marks: dict[int, float] = {}
    edges = cage.topology.edges
    for edge in np.flatnonzero(side[edges[:, 0]] * side[edges[:, 1]] < 0).tolist():
        a, b = edges[edge]
        marks[edge] = float((place - points[a, axis]) / (points[b, axis] - points[a, axis]))
    order = {("edge", edge): 0.0 for edge in marks} | {("point", int(p)): 0.0 for p in np.flatnonzero(side == 0)}
    flat = cage.moved(points)
    made = _split(flat, marks, order, np.ones(cage.face_count, bool))
    return flat if made is None else made.moved(_on_plane(made.points, axis, place))


def _on_plane(points: NDArray[np.float64], axis: int, place: float) -> NDArray[np.float64]:
    result = points.copy()
    result[np.abs(points[:, axis] - place) < 1e-6, axis] = place
    return result


def mirror_side(cage: Cage, axis: int, side: Side = "right") -> Cage:
    """Keep one side of the plane through the origin across an axis, and put its mirror image in place of the other.

    Faces that cross the plane are cut there. Faces that would lie in the plane, between the two sides, go.
    """
    cut = cut_by_plane(cage, axis)
    sign = 1.0 if side == "right" else -1.0
    place = cut.points[:, axis] * sign
    faces = faces_of(cut)
    kept = [face for face in faces if place[face].max() > 0]
    if not kept:
        raise HollowMarbleError("Nothing lies on that side of the middle. Choose the other side.")
    half = without_loose_points(cut.points, kept, creases_of(cut))
    if (half.points[:, axis] * sign).min() < 0:
        raise HollowMarbleError("A face lies on both sides of the middle and cannot be cut there. Split it first.")
    return with_image(half, Symmetry((axis,)).operations[1])


def mirrored_copy(cage: Cage, faces: list[int], axis: int, within: float = 1e-6) -> Cage:
    """Add the mirror image of faces across the plane through the origin; points within `within` mm of it are shared."""
    check_faces(cage, faces)
    chosen = sorted(set(faces))
    points = cage.points.copy()
    used = sorted({int(p) for f in chosen for p in cage.face(f)})
    on_plane = [p for p in used if abs(points[p, axis]) <= within]
    points[on_plane, axis] = 0.0
    image = Symmetry((axis,)).operations[1]
    fresh = [p for p in used if p not in set(on_plane)]
    number = {p: p for p in on_plane} | {p: len(points) + k for k, p in enumerate(fresh)}
    everything = faces_of(cage)
    flat = [f for f in chosen if all(p in number and number[p] == p for p in everything[f])]
    added = [[number[p] for p in everything[f]][::-1] for f in chosen if f not in set(flat)]
    creases = creases_of(cage)
    for (a, b), value in list(creases.items()):
        if a in number and b in number:
            c, d = number[a], number[b]
            creases[min(c, d), max(c, d)] = value
    kept = [face for f, face in enumerate(everything) if f not in set(flat)]
    return without_loose_points(np.concatenate([points, image.of(points[fresh])]), kept + added, creases)


def with_image(half: Cage, operation: Operation) -> Cage:
    """A half and its image as one; points that the operation leaves in place are shared."""
    image = operation.of(half.points)
    same = np.flatnonzero((image == half.points).all(axis=1))
    count = len(half.points)
    faces = faces_of(half) + [[p + count for p in face][::-1] for face in faces_of(half)]
    creases = creases_of(half)
    creases.update({(a + count, b + count): value for (a, b), value in creases_of(half).items()})
    points = np.concatenate([half.points, image])
    if not len(same):
        return cage_from_faces(points, faces, creases)
    return welded(points, faces, creases, [(int(p), int(p) + count) for p in same])


def _facing(cage: Cage, eye: NDArray[np.float64]) -> NDArray[np.bool_]:
    """(F,) whether a face turns its outside to the eye."""
    here = cage.points[cage.face_points]
    ahead = cage.points[cage.face_points[cage.topology.next]]
    area = np.add.reduceat(np.cross(here, ahead), cage.face_starts[:-1], axis=0)
    middle = np.add.reduceat(here, cage.face_starts[:-1], axis=0) / np.diff(cage.face_starts)[:, None]
    facing: NDArray[np.bool_] = (area * (eye - middle)).sum(axis=1) > 0
    return facing


def _curtain_marks(
    cage: Cage, eye: NDArray[np.float64], line: NDArray[np.float64]
) -> tuple[dict[int, float], dict[tuple[str, int], float]]:
    """Where edges cross the curtain: share along each edge, and how far along the line each crossing lies."""
    edges = cage.topology.edges
    start, way = cage.points[edges[:, 0]], cage.points[edges[:, 1]] - cage.points[edges[:, 0]]
    marks: dict[int, float] = {}
    order: dict[tuple[str, int], float] = {}
    for piece in range(len(line) - 1):
        u, v = line[piece] - eye, line[piece + 1] - eye
        normal = np.cross(u, v)
        if float(np.linalg.norm(normal)) < 1e-12:
            continue
        across = way @ normal
        crosses = np.abs(across) > 1e-12
        share = ((eye - start) @ normal) / np.where(crosses, across, 1.0)
        hit = start + share[:, None] * way - eye
        # the hit lies between the two rays: hit = a u + b v with a, b >= 0
        size = float(normal @ normal)
        a = np.cross(hit, v) @ normal / size
        b = np.cross(u, hit) @ normal / size
        good = crosses & (share >= 0) & (share <= 1) & (a >= -1e-9) & (b >= -1e-9)
        for edge in np.flatnonzero(good).tolist():
            where = piece + float(b[edge] / max(a[edge] + b[edge], 1e-12))
            end = -1 if NEAR_END < share[edge] < 1 - NEAR_END else int(edges[edge, int(share[edge] > 0.5)])
            if end >= 0:
                order.setdefault(("point", end), where)
            elif edge not in marks:
                marks[edge] = float(share[edge])
                order[("edge", edge)] = where
    return marks, order


Crossing = tuple[str, int]


def _crossed(
    cage: Cage, faces: list[list[int]], marks: dict[int, float], order: dict[Crossing, float], seen: NDArray[np.bool_]
) -> dict[int, tuple[Crossing, Crossing]]:
    """The two outermost crossings of every seen face that the line runs through."""
    edge_of = cage.topology.edge_of
    splits: dict[int, tuple[Crossing, Crossing]] = {}
    for face in np.flatnonzero(seen).tolist():
        corners, start = faces[face], int(cage.face_starts[face])
        found: list[Crossing] = [("point", p) for p in corners if ("point", p) in order]
        found += [("edge", int(e)) for e in edge_of[start : start + len(corners)] if int(e) in marks]
        if len(found) < 2:
            continue
        found = sorted(found, key=lambda mark: order[mark])
        pair = (found[0], found[-1])
        if not _beside(corners, pair, start, edge_of):
            splits[face] = pair
    return splits


def _split(
    cage: Cage, marks: dict[int, float], order: dict[tuple[str, int], float], seen: NDArray[np.bool_]
) -> Cage | None:
    """Split every seen face with two crossings, from the one to the other; None where there is none to split."""
    topology = cage.topology
    faces = faces_of(cage)
    splits = _crossed(cage, faces, marks, order, seen)
    if not splits:
        return None
    used = sorted({mark[1] for pair in splits.values() for mark in pair if mark[0] == "edge"})
    count = len(cage.points)
    new = {edge: count + k for k, edge in enumerate(used)}
    share = np.array([marks[edge] for edge in used])[:, None]
    ends = topology.edges[used]
    added = cage.points[ends[:, 0]] * (1 - share) + cage.points[ends[:, 1]] * share
    creases = creases_of(cage)
    for edge in used:
        a, b = (int(p) for p in topology.edges[edge])
        value = creases.pop((a, b), None)
        if value:
            creases[a, new[edge]] = creases[b, new[edge]] = value
    now, more = [], []
    for face, corners in enumerate(faces):
        start = int(cage.face_starts[face])
        grown = []
        for k, p in enumerate(corners):
            grown.append(p)
            edge = int(topology.edge_of[start + k])
            if edge in new:
                grown.append(new[edge])
        if face in splits:
            a, b = sorted(grown.index(new[n] if kind == "edge" else n) for kind, n in splits[face])
            now.append(grown[: a + 1] + grown[b:])
            more.append(grown[a : b + 1])
        else:
            now.append(grown)
    return cage_from_faces(np.concatenate([cage.points, added.reshape(-1, 3)]), now + more, creases)


def _beside(
    corners: list[int], pair: tuple[tuple[str, int], tuple[str, int]], start: int, edge_of: NDArray[np.int64]
) -> bool:
    """Whether two crossings lie on one side of a face, so that nothing would be split."""
    sides = []
    for kind, number in pair:
        if kind == "point":
            at = corners.index(number)
            sides.append({at, (at - 1) % len(corners)})
        else:
            sides.append({k for k in range(len(corners)) if int(edge_of[start + k]) == number})
    return bool(sides[0] & sides[1])
