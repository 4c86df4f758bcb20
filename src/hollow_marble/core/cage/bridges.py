"""Two openings, or two groups of faces, joined by a tube of faces: a carry handle, say."""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.edits import check_faces, turning, without_loose_points
from hollow_marble.core.cage.insets import opening_at
from hollow_marble.core.cage.mesh import Cage, area_vector, creases_of, faces_of
from hollow_marble.core.cage.symmetry import Mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError

MOST_SEGMENTS = 64
Loop = list[int]


def bridge_faces(
    cage: Cage, first: list[int], second: list[int], segments: int = 1, arch: float = 0.0, mates: Mates | None = None
) -> Cage:
    """Take two groups of faces away and join the openings they leave; see `bridge_loops`."""
    check_faces(cage, first)
    check_faces(cage, second)
    loops = [region_border(cage, first), region_border(cage, second)]
    return _bridged(cage, loops, [first, second], segments, arch, mates)


def bridge_openings(
    cage: Cage,
    first: tuple[int, int],
    second: tuple[int, int],
    segments: int = 1,
    arch: float = 0.0,
    mates: Mates | None = None,
) -> Cage:
    """Join the two openings that two open edges belong to."""
    return _bridged(cage, [opening_at(cage, first), opening_at(cage, second)], [[], []], segments, arch, mates)


def region_border(cage: Cage, faces: list[int]) -> Loop:
    """The one border of a group of faces, the way its faces turn.

    Raises
    ------
    HollowMarbleError
        where the group has no border or more than one.
    """
    topology, region = cage.topology, set(faces)
    onward: dict[int, int] = {}
    for face in sorted(region):
        for half in range(int(cage.face_starts[face]), int(cage.face_starts[face + 1])):
            twin = int(topology.twin[half])
            if twin >= 0 and int(topology.face_of[twin]) in region:
                continue
            a, b = int(cage.face_points[half]), int(cage.face_points[topology.next[half]])
            if a in onward:
                raise HollowMarbleError("The picked faces touch in a single point. Pick faces that hang together.")
            onward[a] = b
    if not onward:
        raise HollowMarbleError("The picked faces have no border. Pick fewer faces.")
    loop = [min(onward)]
    while onward[loop[-1]] != loop[0]:
        loop.append(onward[loop[-1]])
    if len(loop) < len(onward):
        raise HollowMarbleError("The picked faces have a hole or lie apart, so they have more than one border.")
    return loop


def _bridged(
    cage: Cage, loops: list[Loop], gone: list[list[int]], segments: int, arch: float, mates: Mates | None
) -> Cage:
    if not 1 <= segments <= MOST_SEGMENTS:
        raise HollowMarbleError(f"A bridge takes 1 to {MOST_SEGMENTS} segments.")
    if not -2 <= arch <= 2:
        raise HollowMarbleError("The arch of a bridge goes from -2 to 2 times its span.")
    if set(loops[0]) & set(loops[1]):
        raise HollowMarbleError("The two ends of the bridge share points. Pick ends that lie apart.")
    if len(loops[0]) < len(loops[1]):
        loops, gone = loops[::-1], gone[::-1]
    count = len(cage.points)
    rows, faces = bridge_loops(cage.points, loops[0], loops[1], segments, arch, count)
    points = [cage.points, rows.reshape(-1, 3)]
    made = list(faces)
    removed = set(gone[0]) | set(gone[1])
    if mates is not None:
        done = {_ends(loops)}
        for operation, row in list(zip(mates.symmetry.operations, mates.maps))[1:]:
            image = [[int(row[p]) for p in loop] for loop in loops]
            if _ends(image) in done:
                continue
            if set(map(frozenset, image)) & {end for pair in done for end in pair}:
                raise HollowMarbleError("With symmetry two bridges would share an end. Pick both ends on one side.")
            done.add(_ends(image))
            begin = sum(len(block) for block in points)
            points.append(operation.of(points[1]))
            for face in faces:
                corners = [int(row[p]) if p < count else p - count + begin for p in face]
                made.append(corners[::-1] if operation.turns_over else corners)
        for group in gone:
            removed |= set(mates.faces(cage, group)) if group else set()
    kept = [face for number, face in enumerate(faces_of(cage)) if number not in removed]
    result = without_loose_points(np.concatenate(points), kept + made, creases_of(cage))
    return result if mates is None else symmetrised(result, mates.symmetry)


def _ends(loops: list[Loop]) -> frozenset[frozenset[int]]:
    return frozenset(frozenset(loop) for loop in loops)


def bridge_loops(
    points: NDArray[np.float64], first: Loop, second: Loop, segments: int, arch: float, count: int
) -> tuple[NDArray[np.float64], list[list[int]]]:
    """Rows of new points (segments - 1, n, 3) and the faces between two borders.

    `first` has as many points as `second` or more. They are paired so that the pairs lie nearest in all (least sum of
    squares), along an arched tube where it arrives. Where the counts differ, the points of the larger border are shared out evenly among those of the smaller; two
    neighbours that share one make a triangle, all others a quad.

    Parameters
    ----------
    arch : how far the middle of the tube stands out where both borders face one way, as a share of the distance between
        them; 0 goes straight across
    count : number of the first new point
    """
    n, m = len(first), len(second)
    back = second[::-1]
    share = np.array([int(i * m / n + 0.5) % m for i in range(n)])
    a, b = points[first], points[back]
    middles, ways = _course(points[first], points[second], segments, arch) if arch else (np.empty(0), np.empty(0))
    if arch:  # pairs are told at the tube's far end, where the first border arrives turned
        a = _carried(a - middles[0], ways)[-1] + middles[-1]
    best, turn_a, turn_b = np.inf, 0, 0
    for k in range(m if n == m else n):
        for j in range(1 if n == m else m):
            sum_ = float(
                ((np.roll(a, -(0 if n == m else k), axis=0) - b[(share + (k if n == m else j)) % m]) ** 2).sum()
            )
            if sum_ < best - 1e-9:
                best, turn_a, turn_b = sum_, 0 if n == m else k, k if n == m else j
    loop = [first[(i + turn_a) % n] for i in range(n)]
    partner = [back[int(share[i] + turn_b) % m] for i in range(n)]
    begin, end = points[loop], points[partner]
    t = (np.arange(segments + 1) / segments)[:, None, None]
    if arch:
        onward, back_ = _carried(begin - middles[0], ways), _carried(end - middles[-1], ways[::-1])[::-1]
        rows = (middles[:, None] + (1 - t) * onward + t * back_)[1:-1]
    else:
        rows = ((1 - t) * begin + t * end)[1:-1]
    numbers = [loop, *(list(range(count + r * n, count + (r + 1) * n)) for r in range(segments - 1)), partner]
    faces = []
    for low, high in itertools.pairwise(numbers):
        for i in range(n):
            j = (i + 1) % n
            face = [low[i], low[j], high[j], high[i]]
            faces.append(list(dict.fromkeys(face)))
    return np.asarray(rows, float).reshape(segments - 1, n, 3), faces


def _course(
    first: NDArray[np.float64], second: NDArray[np.float64], segments: int, arch: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Middles of an arched tube's rows and the directions it runs there, (segments + 1, 3) each.

    A cubic Hermite curve between the borders' middles that leaves along their normals. The sections turn with it, least
    twisted, and blend from the one border's to the other's.
    """
    a, b = first.mean(axis=0), second.mean(axis=0)
    size = 4 * arch * float(np.linalg.norm(a - b))
    leave, arrive = size * _normal(first), -size * _normal(second)
    t = (np.arange(segments + 1) / segments)[:, None]
    middles = (
        (2 * t**3 - 3 * t**2 + 1) * a
        + (t**3 - 2 * t**2 + t) * leave
        + (3 * t**2 - 2 * t**3) * b
        + (t**3 - t**2) * arrive
    )
    ways = (6 * t**2 - 6 * t) * (a - b) + (3 * t**2 - 4 * t + 1) * leave + (3 * t**2 - 2 * t) * arrive
    return middles, ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)


def _carried(section: NDArray[np.float64], ways: NDArray[np.float64]) -> NDArray[np.float64]:
    """A section about its middle at every place of a course, turned from each direction to the next by the smallest turn."""
    found = [section]
    for before, then in itertools.pairwise(ways):
        axis = np.cross(before, then)
        sine, cosine = float(np.linalg.norm(axis)), float(before @ then)
        if sine > 1e-12:
            turn = turning(tuple(axis.tolist()), float(np.arctan2(sine, cosine)), (0.0, 0.0, 0.0))
            section = section @ turn.matrix.T
        found.append(section)
    return np.array(found)


def _normal(corners: NDArray[np.float64]) -> NDArray[np.float64]:
    total = area_vector(corners)
    length = float(np.linalg.norm(total))
    if length < 1e-12:
        raise HollowMarbleError(
            "An end of the bridge has no area, so it points nowhere. Widen it, or set the arch to 0."
        )
    return np.asarray(total / length)
