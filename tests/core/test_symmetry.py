"""Symmetry across two planes and by turns: sides are images of one another to the last bit, whatever is done."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.cage import bevels, edits, insets, rows, starts
from hollow_marble.core.cage.extrusions import extrude_faces
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Symmetry, find_mates, symmetrised
from hollow_marble.core.errors import HollowMarbleError

KINDS = {
    "one plane": (Symmetry((0,)), lambda: starts.box((40, 30, 20), (2, 3, 2))),
    "two planes": (Symmetry((0, 1)), lambda: starts.box((40, 30, 20), (3, 2, 2))),
    "three planes": (Symmetry((0, 1, 2)), lambda: starts.box((40, 30, 20), (2, 2, 2))),
    "six turns": (Symmetry(axis=2, turns=6), lambda: starts.cylinder((40, 40, 20), 12, 2)),
    "four turns": (Symmetry(axis=1, turns=4), lambda: starts.box((40, 30, 40), (2, 1, 2))),
}


def images_hold(cage: Cage, symmetry: Symmetry) -> None:
    """Every point is, bit for bit, the image of the point that leads its kin."""
    mates = find_mates(cage, symmetry)
    exact = np.zeros(len(cage.points), bool)
    for leader in range(len(cage.points)):
        kin = mates.maps[:, leader]
        images = [operation.of(cage.points[leader]) for operation in symmetry.operations]
        if np.array_equal(cage.points[kin], images):
            exact[kin] = True
    assert exact.all()


@pytest.mark.parametrize("kind", KINDS)
@settings(max_examples=15, deadline=None)
@given(
    st.lists(
        st.tuples(
            st.sampled_from(["move", "soft", "push", "size", "extrude", "inset", "row", "bevel", "corner"]),
            st.integers(0, 1000),
            st.floats(-2, 2),
        ),
        min_size=1,
        max_size=4,
    )
)
def test_every_edit_keeps_every_symmetry(kind: str, work: list[tuple[str, int, float]]) -> None:
    symmetry, make = KINDS[kind]
    cage = symmetrised(make(), symmetry)
    for what, seed, amount in work:
        mates = find_mates(cage, symmetry)
        point, face = seed % len(cage.points), seed % cage.face_count
        edge = tuple(cage.topology.edges[seed % len(cage.topology.edges)].tolist())
        before = cage
        try:
            if what == "move":
                cage = edits.place_points(cage, [point], edits.moving((amount, 1.0, amount / 2)), mates)
            elif what == "soft":
                cage = edits.place_points(cage, [point], edits.moving((amount, 1.0, amount / 2)), mates, reach=15.0)
            elif what == "push":
                cage = edits.push_points(cage, [point], amount, mates)
            elif what == "size":
                cage = edits.place_points(cage, [point], edits.sizing((1.1, 0.9, 1.0), (1.0, 2.0, 0.0)), mates)
            elif what == "extrude":
                way = np.array([1.0, amount, 2.0])
                cage = extrude_faces(cage, [face], 3.0 + amount, mates, "direction", way)
            elif what == "inset":
                cage = insets.inset_faces(cage, [face], 0.7, single=True, mates=mates)
            elif what == "row":
                cage = rows.add_row(cage, edge, 0.4, mates)
            elif what == "bevel":
                cage = bevels.bevel_edges(cage, [edge], 0.6, 2, mates=mates)
            else:
                cage = edits.crease_corners(cage, [point], 2.0, mates)
        except HollowMarbleError:
            cage = before
        images_hold(cage, symmetry)
        assert len(cage.points) - len(cage.topology.edges) + cage.face_count == 2


def test_a_point_on_a_seam_or_an_axis_cannot_leave_it() -> None:
    cage = starts.box((40, 30, 20), (2, 2, 2))
    top = int(np.argmin(np.linalg.norm(cage.points - (0, 0, 10), axis=1)))
    for symmetry, rest in ((Symmetry((0,)), [0.0, 4.0, 15.0]), (Symmetry((0, 1)), [0.0, 0.0, 15.0])):
        moved = edits.place_points(cage, [top], edits.moving((3.0, 4.0, 5.0)), find_mates(cage, symmetry))
        assert moved.points[top] == pytest.approx(rest)
    square = starts.box((40, 40, 20), (2, 2, 2))
    turned = Symmetry(axis=2, turns=4)
    moved = edits.place_points(square, [top], edits.moving((3.0, 4.0, 5.0)), find_mates(square, turned))
    assert moved.points[top] == pytest.approx([0.0, 0.0, 15.0])


def test_turns_about_a_seat_aside_carry_an_edit_round() -> None:
    """A dial of twelve sides that stands aside: a lifted side face is lifted six times, 60° apart (a rotation matrix)."""
    cage = starts.cylinder((20, 20, 8), 12, 1)
    cage = cage.moved(cage.points + np.array([30.0, -5.0, 2.0]))
    symmetry = Symmetry(axis=2, turns=6, centre=(30.0, -5.0, 2.0))
    lifted = extrude_faces(cage, [0], 2.0, find_mates(cage, symmetry))
    assert lifted.face_count == cage.face_count + 6 * 4
    images_hold(lifted, symmetry)


def test_planes_and_turns_at_once_are_refused() -> None:
    with pytest.raises(HollowMarbleError, match="not both"):
        Symmetry((0,), turns=3)
