"""Bevels against circles and spheres, Euler's formula, and soundness at ends, corners and open borders."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from hollow_marble.core.cage import bevels, insets, starts
from hollow_marble.core.cage.mesh import SHARP, cage_from_faces, faces_of
from hollow_marble.core.errors import HollowMarbleError
from tests.core.cages import closed, edges_where, euler, volume


def test_a_round_bevel_of_a_square_edge_lies_on_a_circle() -> None:
    """The conic tangent to two planes at equal distances is a circular arc (Farin); its turns are even."""
    cage = starts.box((40, 40, 40), (1, 1, 1))
    made = bevels.bevel_edges(cage, edges_where(cage, x=20, y=20), 8.0, 6)
    assert euler(made) == 2
    strip = made.points[np.isclose(made.points[:, 2], 20) & (made.points[:, 0] > 11.9) & (made.points[:, 1] > 11.9)]
    radius = np.hypot(strip[:, 0] - 12, strip[:, 1] - 12)
    assert len(strip) == 7
    assert radius == pytest.approx(8.0, abs=1e-12)
    angles = np.sort(np.degrees(np.arctan2(strip[:, 1] - 12, strip[:, 0] - 12)))
    assert np.diff(angles) == pytest.approx(15.0)


@pytest.mark.parametrize("segments", [1, 2, 3, 4, 6])
@pytest.mark.parametrize("sharp", [False, True])
def test_all_edges_of_a_box(segments: int, sharp: bool) -> None:
    cage = starts.box((40, 40, 40), (1, 1, 1))
    edges = [(int(a), int(b)) for a, b in cage.topology.edges]
    if sharp and segments % 2:
        with pytest.raises(HollowMarbleError, match="even number"):
            bevels.bevel_edges(cage, edges, 5.0, segments, sharp)
        return
    made = bevels.bevel_edges(cage, edges, 5.0, segments, sharp)
    assert euler(made) == 2
    assert closed(made)
    if sharp:
        assert volume(made) == pytest.approx(40**3), "holding rows leave the shape as it was"
        assert {len(face) for face in faces_of(made)} == {4}
    else:
        assert 0.9 * 40**3 < volume(made) < 40**3
    if segments == 2 and not sharp:
        # three square edges meet on a sphere of the bevel's width (solid geometry)
        corner = np.array([15.0, 15.0, 15.0])
        near = made.points[(made.points >= 15 - 1e-9).all(axis=1)]
        assert np.linalg.norm(near - corner, axis=1) == pytest.approx(5.0, abs=0.01)
        assert {len(face) for face in faces_of(made)} == {4}


@pytest.mark.parametrize("sharp", [False, True])
def test_rows_round_a_box_ends_inside_and_open_borders(sharp: bool) -> None:
    box = starts.box((40, 40, 40), (4, 4, 4))
    around = edges_where(box, x=20, y=20)
    for edges in (around, around[:1], around[1:3], edges_where(box, z=20, y=10), edges_where(box, z=20, y=10)[1:2]):
        made = bevels.bevel_edges(box, edges, 2.0, 2, sharp)
        assert euler(made) == 2
        assert closed(made)
        if sharp:
            assert volume(made) == pytest.approx(40**3)
    sheet = starts.grid((40, 40), (4, 4))
    across = edges_where(sheet, x=0)
    made = bevels.bevel_edges(sheet, across, 2.0, 4, sharp)
    assert euler(made) == 1
    assert made.face_count == 16 + 16
    both = [*across, *edges_where(sheet, y=0)]
    assert euler(bevels.bevel_edges(sheet, both, 2.0, 2, sharp)) == 1


@pytest.mark.parametrize("count", range(3, 9))
def test_any_number_of_edges_may_meet(count: int) -> None:
    """A double pyramid: points of valence `count`, every subset of up to three of the edges at its top."""
    angle = np.arange(count) * 2 * np.pi / count
    rim = np.column_stack([30 * np.cos(angle), 30 * np.sin(angle), np.zeros(count)])
    points = np.concatenate([rim, [[0, 0, 25.0], [0, 0, -25.0]]])
    faces = [[k, (k + 1) % count, count] for k in range(count)] + [
        [(k + 1) % count, k, count + 1] for k in range(count)
    ]
    cage = cage_from_faces(points, faces)
    for size in (1, 2, 3):
        for some in itertools.combinations(range(count), size):
            made = bevels.bevel_edges(cage, [(k, count) for k in some], 1.0, 2)
            assert euler(made) == 2, some
            assert closed(made)


def test_creases_beside_a_bevel_stay_and_a_sharp_one_keeps_its_own() -> None:
    box = starts.box((40, 40, 40), (1, 1, 1))
    top = edges_where(box, z=20)
    creased = cage_from_faces(box.points, faces_of(box), dict.fromkeys(top, SHARP))
    upright = edges_where(box, x=20, y=20)
    made = bevels.bevel_edges(creased, upright, 4.0, 2)
    lengths = np.linalg.norm(np.diff(made.points[made.crease_edges], axis=1)[:, 0], axis=1)
    assert sorted(lengths.round(6).tolist()) == [36, 36, 40, 40]
    held = bevels.bevel_edges(creased, [top[0]], 4.0, 2, sharp=True)
    middle = held.points[held.crease_edges]
    assert np.isclose(np.linalg.norm(middle[:, 0] - middle[:, 1], axis=1).sum(), 160)


def test_bevels_that_cannot_be_are_refused_in_words() -> None:
    box = starts.box((40, 40, 40), (1, 1, 1))
    edge = edges_where(box, x=20, y=20)
    for width, segments, words in ((0, 2, "above 0"), (50, 2, "wider than a face"), (3, 99, "1 to 12")):
        with pytest.raises(HollowMarbleError, match=words):
            bevels.bevel_edges(box, edge, width, segments)
    open_box = insets.remove_faces(box, [0])
    rim = next(
        tuple(open_box.topology.edges[e].tolist())
        for e in range(len(open_box.topology.edges))
        if open_box.topology.twin[open_box.topology.edge_half[e]] < 0
    )
    with pytest.raises(HollowMarbleError, match="open edge"):
        bevels.bevel_edges(open_box, [rim], 2.0)
