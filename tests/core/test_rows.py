"""Rows, bands, insets, fillings and picks of a cage: Euler's formula, soundness, symmetry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.cage import edits, insets, rows, starts
from hollow_marble.core.cage.extrusions import extrude_faces
from hollow_marble.core.cage.mesh import SHARP, Cage
from hollow_marble.core.cage.picks import picked_more
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates, still_mates
from hollow_marble.core.errors import HollowMarbleError
from tests.core.cages import euler

STARTS = {
    "box": lambda: starts.box((60, 40, 100), (4, 2, 3)),
    "sphere": lambda: starts.sphere((60, 50, 40), 3),
    "cylinder": lambda: starts.cylinder((50, 40, 80), 16, 3),
    "tube": lambda: starts.tube((50, 50, 40), 5, 12, 2),
    "ring": lambda: starts.ring(20, 5, 12, 8),
    "disc": lambda: starts.disc((50, 50), 16, 3),
    "grid": lambda: starts.grid((60, 60), (4, 5)),
}
EULER = {"box": 2, "sphere": 2, "cylinder": 2, "tube": 0, "ring": 0, "disc": 1, "grid": 1}


def edge_at(cage: Cage, *places: tuple[float, float, float]) -> tuple[int, int]:
    a, b = (int(np.argmin(np.linalg.norm(cage.points - p, axis=1))) for p in places)
    return a, b


@pytest.mark.parametrize("name", STARTS)
def test_starts_are_sound_their_own_size_and_face_outward(name: str) -> None:
    cage = STARTS[name]()
    assert euler(cage) == EULER[name]
    if EULER[name] != 1:
        corners = [cage.points[cage.face(f)] for f in range(cage.face_count)]
        volume = sum(
            np.cross(c[0], c[k]) @ c[k + 1] for c in corners for k in range(1, len(c) - 1)
        )  # six times the volume, by the divergence theorem
        assert volume > 0
    else:
        normals = [
            np.cross(*(cage.points[cage.face(f)][[1, 2]] - cage.points[cage.face(f)][0]))
            for f in range(cage.face_count)
        ]
        assert all(normal[2] > 0 for normal in normals)
    assert still_mates(cage.points, find_mates(cage, ACROSS_WIDTH))


def test_starts_have_the_size_that_was_asked_for() -> None:
    """A circle's points lie on it: the sides stand half a step beside the axes, so the extent is cos(π/n) of it."""
    for name, size in (("sphere", (60, 50, 40)), ("box", (60, 40, 100))):
        low, high = STARTS[name]().points.min(axis=0), STARTS[name]().points.max(axis=0)
        assert (high - low)[:3] == pytest.approx(size, rel=0.13)
    cylinder = STARTS["cylinder"]().points
    radii = np.hypot(cylinder[:, 0] / 25, cylinder[:, 1] / 20)
    assert radii == pytest.approx(1)
    sphere = STARTS["sphere"]().points / (30, 25, 20)
    assert np.linalg.norm(sphere, axis=1) == pytest.approx(1)


@pytest.mark.parametrize(
    "make",
    [
        lambda: starts.sphere((0, 5, 5), 2),
        lambda: starts.cylinder((5, 5, 5), 2, 1),
        lambda: starts.tube((10, 10, 10), 5, 8, 1),
        lambda: starts.ring(5, 6, 8, 8),
        lambda: starts.disc((5, 5), 400, 1),
        lambda: starts.grid((5, 5), (0, 3)),
    ],
)
def test_impossible_starts_are_refused_in_words(make: object) -> None:
    with pytest.raises(HollowMarbleError, match=r"\."):
        make()  # type: ignore[operator]


def test_a_row_goes_round_a_cylinder_and_a_band_up_it() -> None:
    cage = STARTS["cylinder"]()
    around = cage.topology.edge_number(16, 17)
    up = cage.topology.edge_number(16, 32)
    assert len(rows.edge_row(cage, around)) == 16
    assert len(rows.edge_ring(cage, up)) == 16
    assert len(rows.face_band(cage, up)) == 16
    # up the wall the row ends at the rims, where no four faces meet; the ring ends at the caps
    assert len(rows.edge_row(cage, up)) == 3
    assert len(rows.edge_ring(cage, around)) == 4


def test_a_row_runs_along_an_open_border() -> None:
    cage = STARTS["grid"]()
    border = cage.topology.edge_number(0, 1)
    assert len(rows.edge_row(cage, border)) == 2 * (4 + 5)


@pytest.mark.parametrize("name", ["box", "sphere", "ring", "grid", "tube"])
@pytest.mark.parametrize("share", [0.5, 0.2])
def test_an_added_row_keeps_the_sort_of_surface_and_its_shape(name: str, share: float) -> None:
    cage = STARTS[name]()
    for number in (0, 5, len(cage.topology.edges) - 1):
        edge = tuple(cage.topology.edges[number])
        crossed = rows.edge_ring(cage, number)
        made = rows.add_row(cage, edge, share)
        assert euler(made) == euler(cage)
        assert len(made.points) == len(cage.points) + len(crossed)
        a, b = cage.points[list(edge)]
        wanted = a * (1 - share) + b * share
        assert np.linalg.norm(made.points - wanted, axis=1).min() < 1e-9
        assert (np.diff(made.face_starts) == 4).all()


def test_a_row_across_a_crease_keeps_both_halves_sharp() -> None:
    cage = STARTS["box"]()
    edge = edge_at(cage, (-30, -20, 50), (-15, -20, 50))
    creased = edits.crease_edges(cage, [edge], SHARP)
    made = rows.add_row(creased, edge, 0.5)
    assert len(made.crease_edges) == 2
    assert (made.crease_sharpness == SHARP).all()


def test_rows_come_in_pairs_under_symmetry_and_stay_symmetric_to_the_last_bit() -> None:
    cage = STARTS["box"]()
    mates = find_mates(cage, ACROSS_WIDTH)
    aside = edge_at(cage, (-30, -20, 50), (-15, -20, 50))
    made = rows.add_row(cage, aside, 0.3, mates)
    assert len(made.points) == len(
        rows.add_row(rows.add_row(cage, aside, 0.3), edge_at(cage, (15, -20, 50), (30, -20, 50)), 0.7).points
    )
    again = find_mates(made, ACROSS_WIDTH).maps[1]
    assert np.array_equal(made.points[again] * (-1, 1, 1), made.points)
    with pytest.raises(HollowMarbleError, match="no longer there"):
        rows.add_row(cage, (0, len(cage.points) - 1), 0.5)
    with pytest.raises(HollowMarbleError, match="between the ends"):
        rows.add_row(cage, aside, 0.0)


def test_an_inset_lies_as_far_in_as_it_says() -> None:
    cage = starts.box((60, 40, 100), (1, 1, 1))
    top = next(f for f in range(6) if (cage.points[cage.face(f)][:, 2] == 50).all())
    made = insets.inset_faces(cage, [top], 5.0)
    assert euler(made) == 2
    inner = made.points[made.face(top)]
    assert np.abs(inner[:, 0]).max() == pytest.approx(25)
    assert np.abs(inner[:, 1]).max() == pytest.approx(15)
    assert made.face_count == 10
    with pytest.raises(HollowMarbleError, match="wider than the face"):
        insets.inset_faces(cage, [top], 25.0)
    with pytest.raises(HollowMarbleError, match="above 0"):
        insets.inset_faces(cage, [top], 0.0)


def test_a_region_is_set_in_as_one_or_each_face_by_itself() -> None:
    cage = starts.grid((40, 40), (4, 4))
    region = [5, 6, 9, 10]
    as_one = insets.inset_faces(cage, region, 2.0)
    alone = insets.inset_faces(cage, region, 2.0, single=True)
    assert as_one.face_count == 16 + 8
    assert alone.face_count == 16 + 16
    for made in (as_one, alone):
        assert euler(made) == 1
    assert np.abs(as_one.points[as_one.face(5)][:, :2]).max() == pytest.approx(8)


def test_what_is_taken_away_can_be_filled_again() -> None:
    for name in ("box", "sphere", "ring"):
        cage = STARTS[name]()
        made = insets.remove_faces(cage, [3])
        assert euler(made) == euler(cage) - 1
        half = int(np.flatnonzero(made.topology.twin < 0)[0])
        edge = (int(made.face_points[half]), int(made.face_points[made.topology.next[half]]))
        back = insets.fill_opening(made, edge)
        assert euler(back) == euler(cage)
        assert (back.topology.twin >= 0).all()
        assert set(back.face(back.face_count - 1)) == set(cage.face(3))
        with pytest.raises(HollowMarbleError, match="no opening"):
            insets.fill_opening(back, edge)


def test_picks_grow_shrink_and_take_all_that_hangs_together() -> None:
    cage = STARTS["ring"]()
    grown = picked_more(cage, "faces", [20], "grow")
    assert len(grown) == 9
    assert picked_more(cage, "faces", grown, "shrink") == [20]
    cage = STARTS["grid"]()
    assert len(picked_more(cage, "points", [0], "grow")) == 3
    assert picked_more(cage, "points", [0], "linked") == list(range(30))
    assert len(picked_more(cage, "edges", [0], "rest")) == len(cage.topology.edges) - 1
    assert picked_more(cage, "faces", [0, 1], "row") == [0, 1, 2, 3]
    with pytest.raises(HollowMarbleError, match="Choose Edges"):
        picked_more(cage, "points", [0], "row")


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_any_sequence_of_edits_keeps_the_surface_a_closed_sheet(data: st.DataObject) -> None:
    """Euler's formula and two faces at every edge, after every edit."""
    cage = STARTS[data.draw(st.sampled_from(["box", "sphere", "cylinder", "tube", "ring"]))]()
    wanted = euler(cage)
    for _ in range(data.draw(st.integers(1, 4))):
        what = data.draw(st.sampled_from(["row", "inset", "single", "extrude", "crease"]))
        edge = tuple(int(p) for p in cage.topology.edges[data.draw(st.integers(0, len(cage.topology.edges) - 1))])
        faces = [data.draw(st.integers(0, cage.face_count - 1))]
        try:
            if what == "row":
                cage = rows.add_row(cage, edge, data.draw(st.floats(0.1, 0.9)))
            elif what == "extrude":
                cage = extrude_faces(cage, faces, 3.0)
            elif what == "crease":
                cage = edits.crease_edges(cage, [edge], 2.0)
            else:
                cage = insets.inset_faces(cage, faces, 0.3, what == "single")
        except HollowMarbleError:
            continue
        assert euler(cage) == wanted
        assert (cage.topology.twin >= 0).all()


def test_alike_is_as_long_as_large_or_as_many() -> None:
    box = starts.box((40, 20, 30), (2, 2, 2))
    lengths = np.linalg.norm(np.diff(box.points[box.topology.edges], axis=1)[:, 0], axis=1)
    long = int(np.argmax(lengths))
    assert picked_more(box, "edges", [long], "alike") == np.flatnonzero(np.isclose(lengths, 20)).tolist()
    drum = starts.cylinder((30, 30, 20), 12, 2)
    assert picked_more(drum, "faces", [drum.face_count - 1], "alike") == [drum.face_count - 2, drum.face_count - 1]
    corner = next(p for p in range(len(box.points)) if (np.abs(box.points[p]) == (20, 10, 15)).all())
    assert len(picked_more(box, "points", [corner], "alike")) == 8, "the corners of a box, where three edges meet"
