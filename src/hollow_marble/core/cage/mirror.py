"""Symmetry across width: which point stands opposite which."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.errors import HollowMarbleError

_UNLIKE = "The edges on the two sides differ. Make the sides alike, or go on without symmetry."
_FLIP = np.array([-1.0, 1.0, 1.0])


def mirror_partners(cage: Cage, tolerance_mm: float = 1e-6) -> NDArray[np.int64]:
    """For each point the point opposite across x = 0; itself on the seam. (P,) int64.

    Raises
    ------
    HollowMarbleError
        where a point has no partner within the tolerance, or the faces do not match.
    """
    points = cage.points
    tree = cKDTree(points)
    distance, partner = tree.query(points * _FLIP)
    partner = np.asarray(partner, np.int64)
    if distance.max() > tolerance_mm:
        worst = int(np.argmax(distance))
        x, y, z = points[worst]
        raise HollowMarbleError(
            f"The two sides differ: the point at W {x:.1f}, D {y:.1f}, H {z:.1f} has no partner opposite. "
            "Make the sides alike first, or go on without symmetry."
        )
    if len(tree.query_pairs(tolerance_mm)):
        partner = _walked(cage, tree, partner, tolerance_mm)
    edges = cage.topology.edges
    opposite = np.sort(partner[edges], axis=1)
    width = len(points)
    alike = np.isin(opposite[:, 0] * width + opposite[:, 1], edges[:, 0] * width + edges[:, 1]).all()
    if not alike or not np.array_equal(partner[partner], np.arange(width)):
        raise HollowMarbleError(_UNLIKE)
    return np.asarray(partner, np.int64)


def mirrors(points: NDArray[np.float64], partner: NDArray[np.int64], tolerance_mm: float = 1e-6) -> bool:
    """Whether every point (P, 3) lies opposite its partner (P,)."""
    return bool(np.abs(points[partner] - points * _FLIP).max() <= tolerance_mm)


def _walked(cage: Cage, tree: cKDTree, nearest: NDArray[np.int64], tolerance_mm: float) -> NDArray[np.int64]:
    """Partners where points lie on one another (two faces extruded side by side, say), so that places do not decide.

    Half-edges whose places are unique start; from them the pairing is carried over the faces: the half-edge after one
    pairs with that before its partner, and neighbours across an edge with one another.
    """
    topology = cage.topology
    place: NDArray[np.int64] = np.array(
        [min(found) for found in tree.query_ball_point(cage.points, tolerance_mm)], np.int64
    )
    tail = cage.face_points
    head = tail[topology.next]
    width = len(cage.points)
    runs = place[tail] * width + place[head]
    mirrored = place[nearest[head]] * width + place[nearest[tail]]
    order = np.argsort(runs, kind="stable")
    ranked = runs[order]
    first, last = np.searchsorted(ranked, mirrored, "left"), np.searchsorted(ranked, mirrored, "right")
    alone = np.searchsorted(ranked, runs, "right") - np.searchsorted(ranked, runs, "left") == 1
    partner = np.full(len(tail), -1, np.int64)
    front = np.flatnonzero(alone & (last - first == 1))
    partner[front] = order[first[front]]
    while len(front):
        steps = []
        for onward, backward in ((topology.next, topology.previous), (topology.twin, topology.twin)):
            here, there = onward[front], backward[partner[front]]
            going = (here >= 0) & (there >= 0)
            here, there = here[going], there[going]
            fresh = partner[here] < 0
            partner[here[fresh]] = there[fresh]
            steps.append(np.unique(here[fresh]))
        front = np.concatenate(steps)
    if (partner < 0).any():
        raise HollowMarbleError(
            "Faces lie on one another so that it cannot be told which stands opposite which. "
            "Move them apart, or go on without symmetry."
        )
    result = np.arange(width)
    result[tail] = head[partner]
    gap = np.linalg.norm(cage.points[result] - cage.points * _FLIP, axis=1)
    if gap.max() > tolerance_mm or not np.array_equal(result[head], tail[partner]):
        raise HollowMarbleError(_UNLIKE)
    return result


def mirrored_faces(cage: Cage, partner: NDArray[np.int64], faces: list[int]) -> list[int]:
    """Faces opposite the given ones, in the same order."""
    by_corners = {frozenset(cage.face(f).tolist()): f for f in range(cage.face_count)}
    return [by_corners[frozenset(partner[cage.face(f)].tolist())] for f in faces]


def with_partners(picked: list[int], partner: NDArray[np.int64] | None) -> list[int]:
    """The picked points and those opposite, each once, sorted."""
    if partner is None:
        return sorted(set(picked))
    return sorted({*picked, *partner[picked].tolist()})


def keep_symmetric(
    before: NDArray[np.float64], after: NDArray[np.float64], picked: list[int], partner: NDArray[np.int64]
) -> NDArray[np.float64]:
    """Carry a move of the picked points over to the other side, exact to the last bit.

    The side that holds the first picked point off the seam leads; points on the seam stay on it.
    """
    result = after.copy()
    points = np.asarray(picked, np.int64)
    opposite = partner[points]
    result[points[opposite == points], 0] = 0.0
    points, opposite = points[opposite != points], opposite[opposite != points]
    if len(points):
        side = float(np.sign(before[points[0], 0]) or 1.0)
        chosen = np.zeros(len(before), bool)
        chosen[points] = True
        place = before[points, 0] * side
        leads = ~chosen[opposite] | (place > 0) | ((place == 0) & (points < opposite))
        result[opposite[leads]] = result[points[leads]] * _FLIP
    return result


def symmetrised(cage: Cage) -> Cage:
    """Make the left side the mirror image of the right to the last bit; sides may differ by rounding only."""
    partner = mirror_partners(cage)
    points = cage.points.copy()
    right = points[:, 0] > 0
    points[partner[right]] = points[right] * _FLIP
    points[partner == np.arange(len(points)), 0] = 0.0
    return cage.moved(points)
