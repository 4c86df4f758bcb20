"""Bridges, welds, detached pieces, merged cages, dissolved edges, split faces: genus, closedness, volumes."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import bridges, dissolving, edits, insets, joins, starts
from hollow_marble.core.cage.extrusions import extrude_edges, extrude_faces
from hollow_marble.core.cage.mesh import faces_of
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.core.errors import HollowMarbleError
from tests.core.cages import closed, edges_where, euler, faces_where, open_edges, volume


def test_a_bridge_through_a_box_is_a_hole() -> None:
    """Two faces opposite each other, joined: genus one, so V - E + F = 0; the volume is the box less the hole."""
    box = starts.box((30, 30, 30), (3, 3, 3))
    low, high = faces_where(box, x=0, y=0, z=-15), faces_where(box, x=0, y=0, z=15)
    made = bridges.bridge_faces(box, low, high, 3)
    assert closed(made)
    assert euler(made) == 0
    assert volume(made) == pytest.approx(30**3 - 10 * 10 * 30)


def test_a_carry_handle_arches_out_of_the_top() -> None:
    box = starts.box((60, 20, 30), (5, 1, 2))
    left, right = faces_where(box, x=-24, z=15), faces_where(box, x=24, z=15)
    made = bridges.bridge_faces(box, left, right, 8, 0.2, find_mates(box, ACROSS_WIDTH))
    assert closed(made)
    assert euler(made) == 0
    # a cubic Hermite curve whose ends leave at four times a length rises by that length in its middle
    tube = made.points[np.isclose(made.points[:, 0], 0) & (made.points[:, 2] > 16)][:, 2]
    assert (tube.min(), tube.max()) == pytest.approx((15 + 0.2 * 48 - 6, 15 + 0.2 * 48 + 6))
    assert np.array_equal(made.points[find_mates(made, ACROSS_WIDTH).maps[1]], made.points * (-1, 1, 1))


def test_a_tall_handle_keeps_its_section_all_along() -> None:
    """Two openings one above the other, taller than wide: outer meets outer, and no section is pinched."""
    box = starts.box((20, 40, 90), (1, 4, 9))
    low = [f for f in faces_where(box, x=10, y=5) if box.points[box.face(f)][:, 2].mean() < -20][:2]
    high = [f for f in faces_where(box, x=10, y=5) if box.points[box.face(f)][:, 2].mean() > 20][-2:]
    made = bridges.bridge_faces(box, low, high, 10, 0.6)
    assert closed(made)
    sections = made.points[len(box.points) :].reshape(9, 6, 3)
    area = [
        np.linalg.norm(np.cross(s, np.roll(s, -1, axis=0)).sum(axis=0)) / 2
        for s in sections - sections.mean(axis=1, keepdims=True)
    ]
    assert min(area) > 0.9 * 10 * 20
    assert np.ptp(sections[:, :, 1], axis=1) == pytest.approx(10)


@pytest.mark.parametrize(("one", "other"), [(8, 8), (12, 8), (16, 6), (7, 5), (9, 3)])
def test_openings_of_unequal_count_close_with_triangles_shared_out_evenly(one: int, other: int) -> None:
    low = insets.remove_faces(starts.cylinder((30, 30, 10), one, 1), [one + 1])
    high = insets.remove_faces(starts.cylinder((20, 20, 10), other, 1), [other])
    both = joins.merged(low, high.moved(high.points + np.array([0, 0, 40.0])))
    rims = open_edges(both)
    first = next(edge for edge in rims if edge[0] < len(low.points))
    second = next(edge for edge in rims if edge[0] >= len(low.points))
    made = bridges.bridge_openings(both, first, second, 2)
    assert closed(made)
    assert euler(made) == 2
    triangles = [face for face in faces_of(made)[one + other + 2 :] if len(face) == 3]
    assert len(triangles) == one - other


def test_bridges_that_cannot_be_are_refused_in_words() -> None:
    box = starts.box((30, 30, 30), (3, 3, 3))
    beside = faces_where(box, y=0, z=15)
    with pytest.raises(HollowMarbleError, match="share points"):
        bridges.bridge_faces(box, [beside[0]], [beside[1]])
    apart = [beside[0], faces_where(box, x=0, y=0, z=-15)[0]]
    with pytest.raises(HollowMarbleError, match="more than one border"):
        bridges.bridge_faces(box, apart, faces_where(box, x=15, y=0, z=0))
    with pytest.raises(HollowMarbleError, match="no opening"):
        bridges.bridge_openings(box, (0, 1), (2, 3))


def test_welding_the_rims_of_two_halves_closes_them() -> None:
    """The upper and lower half of a box, cut apart and welded: the box again."""
    box = starts.box((20, 20, 20), (2, 2, 2))
    upper = [f for f in range(box.face_count) if box.points[box.face(f)][:, 2].mean() > 0]
    apart = joins.detach_faces(box, upper)
    assert len(open_edges(apart)) == 16
    assert len(apart.points) == len(box.points) + 8
    again = joins.weld_points(apart, list(range(len(apart.points))), within=0.01)
    assert closed(again)
    assert euler(again) == 2
    assert sorted(again.points.tolist()) == sorted(box.points.tolist())


def test_welding_an_edge_away_turns_quads_into_triangles() -> None:
    box = starts.box((20, 20, 20), (2, 2, 2))
    edge = box.topology.edges[0]
    made = joins.weld_points(box, edge.tolist())
    assert euler(made) == 2
    assert sorted(len(face) for face in faces_of(made))[:3] == [3, 3, 4]
    assert made.points[edge.min()] == pytest.approx(box.points[edge].mean(axis=0))
    with pytest.raises(HollowMarbleError, match="No two"):
        joins.weld_points(box, [0, 1], within=0.001)
    across = [faces_of(box)[0][0], faces_of(box)[0][2]]
    with pytest.raises(HollowMarbleError, match=r"touch|meet|sheet"):
        joins.weld_points(box, across)


def test_a_whole_row_dissolved_leaves_the_box_as_it_was() -> None:
    box = starts.box((30, 30, 30), (3, 1, 1))
    made = dissolving.dissolve_edges(box, edges_where(box, x=5))
    assert sorted(map(sorted, made.points.tolist())) == sorted(
        map(sorted, starts.box((30, 30, 30), (3, 1, 1)).points[np.abs(box.points[:, 0] - 5) > 1].tolist())
    )
    assert {len(face) for face in faces_of(made)} == {4}
    assert euler(made) == 2


def test_dissolved_points_and_what_cannot_be_dissolved() -> None:
    box = starts.box((30, 30, 30), (2, 2, 2))
    top = int(np.argmin(np.linalg.norm(box.points - (0, 0, 15), axis=1)))
    made = dissolving.dissolve_points(box, [top])
    assert made.face_count == box.face_count - 3
    assert euler(made) == 2
    sheet = starts.grid((10, 10), (2, 2))
    with pytest.raises(HollowMarbleError, match="open edge"):
        dissolving.dissolve_edges(sheet, [open_edges(sheet)[0]])
    with pytest.raises(HollowMarbleError, match="open border"):
        dissolving.dissolve_points(sheet, [0])


def test_splitting_faces_keeps_the_shape_and_stays_mostly_quads() -> None:
    box = starts.box((30, 30, 30), (2, 2, 2))
    made = dissolving.split_faces(box, [0], find_mates(box, ACROSS_WIDTH))
    assert euler(made) == 2
    assert volume(made) == pytest.approx(30**3)
    sizes = [len(face) for face in faces_of(made)]
    assert sizes.count(4) >= len(sizes) - 8
    whole = dissolving.split_faces(starts.cylinder((20, 20, 10), 12, 1), [12, 13])
    assert {len(face) for face in faces_of(whole)} <= {4, 6}


def test_open_edges_grow_along_a_direction_and_a_path() -> None:
    sheet = starts.grid((20, 20), (2, 2))
    rim = open_edges(sheet)
    walls = extrude_edges(sheet, rim, np.array([0, 0, 5.0]), find_mates(sheet, ACROSS_WIDTH), segments=2)
    assert euler(walls) == 1
    assert walls.face_count == 4 + 16
    path = np.array([[0, 0, 0], [0, 0, 4.0], [0, 3.0, 8.0]])
    away = extrude_edges(sheet, edges_where(sheet, y=10), path, along="path")
    assert np.ptp(away.points, axis=0) == pytest.approx((20, 23, 8))
    with pytest.raises(HollowMarbleError, match="both sides"):
        extrude_edges(sheet, edges_where(sheet, x=0), np.array([0, 0, 5.0]))


def test_a_face_carried_along_an_arc_ends_square_to_it() -> None:
    """Rotation-minimising frames along a quarter circle in a plane turn by exactly 90° (Bishop 1975)."""
    box = starts.box((10, 10, 10), (1, 1, 1))
    top = faces_where(box, z=5)
    angle = np.linspace(0, np.pi / 2, 33)
    path = np.column_stack([30 - 30 * np.cos(angle), np.zeros(33), 30 * np.sin(angle)])
    made = extrude_faces(box, top, 0.0, along="path", way=path)
    end = made.points[made.face(top[0])]
    normal = np.cross(end[1] - end[0], end[2] - end[1])
    assert normal / np.linalg.norm(normal) == pytest.approx(
        [1, 0, 0], abs=0.06
    )  # the path is of 32 chords, 1.4° off at each end
    assert end.mean(axis=0) == pytest.approx([30, 0, 35], abs=1e-9)
    assert euler(made) == 2


def test_soft_picks_fall_off_and_pushes_follow_the_normals() -> None:
    sheet = starts.grid((40, 40), (8, 8))
    middle = int(np.argmin(np.linalg.norm(sheet.points, axis=1)))
    made = edits.place_points(sheet, [middle], edits.moving((0, 0, 9.0)), reach=15.0)
    distance = np.linalg.norm(sheet.points, axis=1)
    inside = distance < 15
    assert made.points[inside, 2] == pytest.approx(9 * (1 - (distance[inside] / 15) ** 2) ** 2)
    assert (made.points[~inside, 2] == 0).all()
    ball = starts.sphere((20, 20, 20), 4)
    pushed = edits.push_points(ball, list(range(len(ball.points))), 2.0)
    away = pushed.points - ball.points
    assert np.linalg.norm(away, axis=1) == pytest.approx(2.0)
    assert (np.einsum("ij,ij->i", away, ball.points) / 20).min() > 0.97
