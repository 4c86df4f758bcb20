"""Cages: what they refuse, what edits keep."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.cage import edits, starts
from hollow_marble.core.cage.extrusions import extrude_faces
from hollow_marble.core.cage.mesh import Cage, cage_from_faces, creases_of, faces_of
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.core.errors import HollowMarbleError


def _euler(cage: Cage) -> int:
    return len(cage.points) - len(cage.topology.edges) + cage.face_count


def test_a_box_is_closed_and_of_genus_nought() -> None:
    """Euler-Poincaré V - E + F = 2 - 2g; every edge has two faces."""
    cage = starts.box((62.0, 34.0, 108.0), (4, 3, 6))
    assert _euler(cage) == 2
    assert (cage.topology.twin >= 0).all()
    assert cage.face_count == 2 * (4 * 3 + 3 * 6 + 4 * 6)
    assert np.allclose(np.ptp(cage.points, axis=0), (62, 34, 108))


def test_a_ring_has_genus_one() -> None:
    assert _euler(starts.ring(20.0, 5.0, 12, 6)) == 0


def test_faces_look_outward() -> None:
    """The divergence theorem gives a positive volume when every face turns counter-clockwise from outside."""
    cage = starts.box((2.0, 3.0, 5.0), (2, 1, 3))
    volume = 0.0
    for face in range(cage.face_count):
        corners = cage.points[cage.face(face)]
        for k in range(1, len(corners) - 1):
            volume += np.dot(corners[0], np.cross(corners[k], corners[k + 1])) / 6
    assert volume == pytest.approx(30.0)


@pytest.mark.parametrize(
    ("points", "faces", "words"),
    [
        ([[0, 0, 0]] * 3, [], "no faces"),
        ([[0, 0, 0], [1, 0, 0], [0, np.nan, 0]], [[0, 1, 2]], "not a number"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1]], "fewer than three"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0]], [[0, 1, 7]], "does not exist"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0]], [[0, 1, 1, 2]], "same point twice"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1], [0, -1, 0]], [[0, 1, 2], [0, 1, 3], [1, 0, 4]], "faces meet at one edge"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, -1, 0]], [[0, 1, 2], [0, 1, 3]], "opposite ways"),
        ([[0, 0, 0], [1, 0, 0], [0, 1, 0], [-1, 0, 0], [0, -1, 0]], [[0, 1, 2], [0, 3, 4]], "touch in a single point"),
    ],
)  # fmt: skip
def test_what_is_not_a_sheet_is_refused_in_a_sentence(points: list, faces: list, words: str) -> None:
    with pytest.raises(HollowMarbleError, match=words):
        cage_from_faces(np.array(points, float), faces)


def test_two_closed_sheets_that_share_a_point_are_refused() -> None:
    one = [[0, 2, 1], [0, 1, 3], [1, 2, 3], [2, 0, 3]]
    other = [[0, 5, 4], [0, 4, 6], [4, 5, 6], [5, 0, 6]]
    points = np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1], [-1, 0, 0], [0, -1, 0], [0, 0, -1]], float)
    with pytest.raises(HollowMarbleError, match="touch only in point 1"):
        cage_from_faces(points, one + other)


def test_turning_keeps_distances_and_follows_the_right_hand() -> None:
    """Rodrigues' rotation formula."""
    turn = edits.turning((0.0, 0.0, 1.0), np.pi / 2, (1.0, 0.0, 0.0))
    assert np.allclose(turn.of(np.array([[2.0, 0.0, 3.0]])), [[1.0, 1.0, 3.0]])


def test_extruding_a_face_adds_a_band_and_keeps_its_number() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (2, 2, 2))
    top = next(f for f in range(cage.face_count) if np.allclose(cage.points[cage.face(f)][:, 2], 10))
    lifted = extrude_faces(cage, [top], 6.0)
    assert lifted.face_count == cage.face_count + 4
    assert len(lifted.points) == len(cage.points) + 4
    assert np.allclose(lifted.points[lifted.face(top)][:, 2], 16.0)
    assert _euler(lifted) == 2
    assert (lifted.topology.twin >= 0).all()


def test_a_crease_around_a_face_rises_with_it() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (1, 1, 1))
    corners = cage.face(0).tolist()
    rim = [(corners[k], corners[k - 1]) for k in range(4)]
    creased = edits.crease_edges(cage, rim, 1.5)
    lifted = extrude_faces(creased, [0], 4.0)
    top = lifted.face(0).tolist()
    assert {tuple(sorted((top[k], top[k - 1]))) for k in range(4)} <= set(creases_of(lifted))


def test_picks_an_edit_cannot_take_are_refused_and_nothing_changes() -> None:
    cage = starts.box((10.0, 10.0, 10.0), (1, 1, 1))
    before = cage.points.tobytes()
    for work in (
        lambda: edits.place_points(cage, [], edits.moving((1.0, 0.0, 0.0))),
        lambda: edits.place_points(cage, [99], edits.moving((1.0, 0.0, 0.0))),
        lambda: edits.place_points(cage, [0], edits.moving((1e9, 0.0, 0.0))),
        lambda: extrude_faces(cage, list(range(6)), 3.0),
        lambda: extrude_faces(cage, [77], 3.0),
        lambda: edits.crease_edges(cage, [(0, 6)], 1.0),
        lambda: edits.turning((0.0, 0.0, 0.0), 1.0, (0.0, 0.0, 0.0)),
    ):
        with pytest.raises(HollowMarbleError) as caught:
            work()
        assert str(caught.value).endswith("."), "a plain sentence"
    assert cage.points.tobytes() == before


@settings(max_examples=30, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from(["move", "size", "extrude", "crease"]), st.integers(0, 1000), st.floats(-4, 4)),
        max_size=6,
    )
)
def test_symmetric_stays_symmetric_to_the_last_bit(work: list[tuple[str, int, float]]) -> None:
    cage = starts.box((20.0, 14.0, 30.0), (2, 2, 3))
    for kind, seed, amount in work:
        mates = find_mates(cage, ACROSS_WIDTH)
        points = [seed % len(cage.points), (seed * 7) % len(cage.points)]
        if kind == "move":
            cage = edits.place_points(cage, sorted(set(points)), edits.moving((amount, 1.0, amount / 2)), mates)
        elif kind == "size":
            cage = edits.place_points(cage, sorted(set(points)), edits.sizing((1.1, 0.9, 1.0), (0.0, 0.0, 0.0)), mates)
        elif kind == "extrude" and amount:
            cage = extrude_faces(cage, [seed % cage.face_count], abs(amount) + 0.5, mates)
        elif kind == "crease":
            edge = tuple(cage.topology.edges[seed % len(cage.topology.edges)].tolist())
            cage = edits.crease_edges(cage, [edge], 1.0, mates)
        again = find_mates(cage, ACROSS_WIDTH).maps[1]
        assert np.array_equal(cage.points[again], cage.points * np.array([-1.0, 1.0, 1.0]))
        assert _euler(cage) == 2


def test_unlike_sides_are_named() -> None:
    cage = starts.box((20.0, 20.0, 20.0), (2, 1, 1))
    bent = edits.place_points(cage, [0], edits.moving((1.0, 0.0, 0.0)))
    with pytest.raises(HollowMarbleError, match="has no partner opposite"):
        find_mates(bent, ACROSS_WIDTH)


@pytest.mark.parametrize("pair", [(0, 1), (1, 2), (0, 4)])
def test_faces_extruded_side_by_side_keep_their_partners(pair: tuple[int, int]) -> None:
    """Their walls lie on one another, so places alone do not say which stands opposite which."""
    cage = starts.box((62.0, 34.0, 108.0), (4, 3, 6))
    for face in pair:
        cage = extrude_faces(cage, [face], 3.0, find_mates(cage, ACROSS_WIDTH))
    partner = find_mates(cage, ACROSS_WIDTH).maps[1]
    assert np.array_equal(partner[partner], np.arange(len(cage.points)))
    assert np.array_equal(cage.points[partner], cage.points * (-1, 1, 1))
    faces = {frozenset(face) for face in faces_of(cage)}
    assert {frozenset(partner[list(face)].tolist()) for face in faces} == faces
