"""Corners with a sharpness of their own, faces of many corners, points of many faces."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import cKDTree

from hollow_marble.core.cage import edits, starts
from hollow_marble.core.cage.mesh import SHARP, Cage, cage_from_faces, faces_of
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.core.errors import HollowMarbleError


def refined(cage: Cage, sharp: dict[int, float]) -> Cage:
    """One Catmull-Clark refinement of a closed cage (Catmull & Clark 1978), written out plainly; points in `sharp` follow the
    corner rule blended with the smooth one (DeRose, Kass & Truong 1998)."""
    faces, edges = faces_of(cage), cage.topology.edges
    centres = np.array([cage.points[face].mean(axis=0) for face in faces])
    beside: dict[frozenset[int], list[int]] = {}
    for number, face in enumerate(faces):
        for k in range(len(face)):
            beside.setdefault(frozenset((face[k], face[k - 1])), []).append(number)
    middles = {
        frozenset(edge): (cage.points[edge].sum(axis=0) + centres[beside[frozenset(edge)]].sum(axis=0)) / 4
        for edge in edges.tolist()
    }
    points = []
    for point, place in enumerate(cage.points):
        around = [n for n, face in enumerate(faces) if point in face]
        spokes = [(a, b) for a, b in edges.tolist() if point in (a, b)]
        n = len(spokes)
        mids = np.mean([cage.points[list(edge)].mean(axis=0) for edge in spokes], axis=0)
        smooth = (centres[around].mean(axis=0) + 2 * mids + (n - 3) * place) / n
        share = min(max(sharp.get(point, 0.0), 0.0), 1.0)
        points.append(share * place + (1 - share) * smooth)
    number = {edge: len(points) + k for k, edge in enumerate(middles)}
    first_centre = len(points) + len(middles)
    everything = np.concatenate([points, list(middles.values()), centres])
    quads = [
        [
            face[k],
            number[frozenset((face[k], face[(k + 1) % len(face)]))],
            first_centre + f,
            number[frozenset((face[k], face[k - 1]))],
        ]
        for f, face in enumerate(faces)
        for k in range(len(face))
    ]
    return cage_from_faces(everything, quads)


@pytest.mark.parametrize("sharpness", [0.0, 0.3, 1.0, 1.6, 2.0])
def test_semi_sharp_corners_follow_the_published_rule(sharpness: float) -> None:
    cage = starts.box((20.0, 30.0, 40.0), (2, 1, 1))
    creased = edits.crease_corners(cage, [0, 3], sharpness) if sharpness else cage
    skin = evaluate(plan_skin(creased, 3), cage.points).positions
    by_hand = refined(refined(cage, {0: sharpness, 3: sharpness}), {0: sharpness - 1, 3: sharpness - 1})
    expected = evaluate(plan_skin(by_hand, 1), by_hand.points).positions
    for one, other in ((skin, expected), (expected, skin)):
        assert cKDTree(one).query(other)[0].max() < 1e-4


def test_a_sharp_corner_touches_its_point_and_symmetry_carries_it() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (2, 2, 2))
    sharp = edits.crease_corners(cage, [0], SHARP, find_mates(cage, ACROSS_WIDTH))
    assert len(sharp.corner_points) == 2
    skin = evaluate(plan_skin(sharp, 3), sharp.points).positions
    for point in sharp.corner_points:
        assert np.linalg.norm(skin - cage.points[point], axis=1).min() < 1e-5
    again = edits.crease_corners(sharp, [0], 0.0, find_mates(cage, ACROSS_WIDTH))
    assert again.connectivity() == cage.connectivity()


def test_faces_of_up_to_128_corners_and_no_more() -> None:
    """The middle of such a face is a point where as many faces meet; the skin is sound and lies within the cage."""
    cage = starts.cylinder((50.0, 50.0, 20.0), 128, 1)
    skin = evaluate(plan_skin(cage, 3), cage.points).positions
    assert np.isfinite(skin).all()
    assert np.abs(skin).max() <= 25.0
    # the middle of a flat face of many corners stays in its plane's middle
    assert np.linalg.norm(skin[:, :2], axis=1).min() == pytest.approx(0.0, abs=1e-4)
    rim = np.column_stack([np.cos(np.arange(200) * np.pi / 100), np.sin(np.arange(200) * np.pi / 100), np.zeros(200)])
    with pytest.raises(HollowMarbleError, match="more than 128 corners"):
        plan_skin(cage_from_faces(rim, [list(range(200))]), 2)
