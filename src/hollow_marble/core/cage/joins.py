"""Points welded, faces detached, cages merged."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from hollow_marble.core.cage.edits import check_faces, check_points, without_loose_points
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError


def weld_points(cage: Cage, picked: list[int], within: float | None = None, mates: Mates | None = None) -> Cage:
    """Make one point of several, in their middle.

    Parameters
    ----------
    within : mm; only picked points that lie this near to one another become one. All become one where it is left out.
    """
    check_points(cage, picked)
    everyone = sorted(set(picked)) if mates is None else mates.points(picked)
    if within is None:
        pairs = [(picked[0], other) for other in picked[1:]]
        if mates is not None:
            pairs = [(int(row[a]), int(row[b])) for row in mates.maps for a, b in pairs]
    else:
        found = cKDTree(cage.points[everyone]).query_pairs(within)
        pairs = [(everyone[a], everyone[b]) for a, b in sorted(found)]
    if not pairs:
        raise HollowMarbleError("No two of the picked points lie that near to one another. Widen the distance.")
    made = welded(cage.points, faces_of(cage), creases_of(cage), pairs)
    return made if mates is None else symmetrised(made, mates.symmetry)


def welded(
    points: NDArray[np.float64],
    faces: list[list[int]],
    creases: dict[tuple[int, int], float],
    pairs: list[tuple[int, int]],
) -> Cage:
    """Points of pairs become one; faces that close up go.

    Raises
    ------
    HollowMarbleError
        where a face would touch itself, or the surface would no longer be a sheet.
    """
    count = len(points)
    one, other = np.array(pairs, np.int64).T
    group = connected_components(coo_array((np.ones(len(pairs)), (one, other)), (count, count)), directed=False)[1]
    sums = np.zeros((int(group.max()) + 1, 3))
    np.add.at(sums, group, points)
    middles = sums / np.bincount(group)[:, None]
    first = np.full(len(sums), count)
    np.minimum.at(first, group, np.arange(count))
    place = points.copy()
    grouped = np.bincount(group)[group] > 1
    place[grouped] = middles[group[grouped]]
    number = first[group]
    kept = []
    for face in faces:
        corners = [int(number[p]) for p in face]
        corners = [p for k, p in enumerate(corners) if p != corners[k - 1]]
        if len(corners) < 3:
            continue
        if len(set(corners)) < len(corners):
            raise HollowMarbleError("A face would touch itself there. Pick points that lie side by side.")
        kept.append(corners)
    if not kept:
        raise HollowMarbleError("Nothing would be left. Pick fewer points.")
    joined: dict[tuple[int, int], float] = {}
    for (a, b), value in creases.items():
        p, q = int(number[a]), int(number[b])
        if p != q or a == b:
            key = (min(p, q), max(p, q))
            joined[key] = max(value, joined.get(key, 0.0))
    return without_loose_points(place, kept, joined)


def detach_faces(cage: Cage, faces: list[int], mates: Mates | None = None) -> Cage:
    """Give a group of faces points of its own along its border, so that it hangs together with nothing else."""
    check_faces(cage, faces)
    region = set(faces if mates is None else mates.faces(cage, faces))
    if len(region) == cage.face_count:
        raise HollowMarbleError("All faces are picked, so there is nothing to detach them from. Pick fewer.")
    outside = {int(p) for f in range(cage.face_count) if f not in region for p in cage.face(f)}
    shared = sorted(outside & {int(p) for f in region for p in cage.face(f)})
    if not shared:
        raise HollowMarbleError("The picked faces are a piece of their own already.")
    copy = {p: len(cage.points) + k for k, p in enumerate(shared)}
    now = [[copy.get(p, p) if f in region else p for p in face] for f, face in enumerate(faces_of(cage))]
    creases = creases_of(cage)
    inside = {frozenset((face[k], face[k - 1])) for f in region for face in [now[f]] for k in range(len(face))}
    for (a, b), value in list(creases.items()):
        c, d = copy.get(a, a), copy.get(b, b)
        if (c, d) != (a, b) and (a == b or frozenset((c, d)) in inside):
            creases[min(c, d), max(c, d)] = value
    made = without_loose_points(np.concatenate([cage.points, cage.points[shared]]), now, creases)
    return made if mates is None else symmetrised(made, mates.symmetry)


def merged(cage: Cage, other: Cage) -> Cage:
    """Two cages as one; what belonged to the other comes last."""
    count = len(cage.points)
    creases = creases_of(cage)
    creases.update({(a + count, b + count): value for (a, b), value in creases_of(other).items()})
    faces = faces_of(cage) + [[p + count for p in face] for face in faces_of(other)]
    return cage_from_faces(np.concatenate([cage.points, other.points]), faces, creases)
