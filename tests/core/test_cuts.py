"""Cuts along drawn lines and by planes, mirrored sides, rows slid and fitted, turned profiles."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.cage import chains, cuts, profiles, starts
from hollow_marble.core.cage.mesh import SHARP, cage_from_faces, faces_of
from hollow_marble.core.cage.skin import evaluate, plan_skin
from hollow_marble.core.cage.symmetry import ACROSS_WIDTH, find_mates
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.changes import MirroredFaces
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Part
from hollow_marble.documents.form.starts import BoxStart
from tests.core.cages import closed, edges_where, euler, volume

EYE = np.array([0.0, -200.0, 0.0])


def test_a_straight_cut_over_the_front_splits_only_what_it_crosses_there() -> None:
    box = starts.box((30, 30, 30), (3, 3, 3))
    line = np.array([[-100.0, 0, 3.0], [100.0, 0, 3.0]])
    made = cuts.cut_along(box, EYE, line)
    assert made.face_count == box.face_count + 3
    assert euler(made) == 2
    assert volume(made) == pytest.approx(30**3)
    new = made.points[len(box.points) :]
    # the ray through z = 3 at y = 0 meets the front, y = -15, at z = 3 * 185 / 200
    assert new[:, 2] == pytest.approx(3 * 185 / 200)
    around = cuts.cut_along(box, EYE, line, through=True)
    assert around.face_count > made.face_count
    assert euler(around) == 2


def test_a_bent_line_and_symmetry() -> None:
    box = starts.box((30, 30, 30), (4, 2, 4))
    line = np.array([[-20.0, -20, 1.0], [-9.0, -20, 6.0], [-3.0, -20, 9.0], [-2.0, -20, 20]])
    made = cuts.cut_along(box, EYE, line, mates=find_mates(box, ACROSS_WIDTH))
    assert euler(made) == 2
    assert volume(made) == pytest.approx(30**3)
    opposite = find_mates(made, ACROSS_WIDTH).maps[1]
    assert np.array_equal(made.points[opposite], made.points * (-1, 1, 1))
    with pytest.raises(HollowMarbleError, match="crosses no face"):
        cuts.cut_along(box, EYE, np.array([[50.0, 0, 0], [60.0, 0, 5.0]]))


def test_a_line_near_a_point_goes_through_it() -> None:
    box = starts.box((30, 30, 30), (1, 1, 1))
    corner_to_corner = np.array([[-15.0, -15, -15.0], [15.0, -15, 15.0]])
    made = cuts.cut_along(box, EYE, corner_to_corner * (1.001, 1, 1.001))
    assert len(made.points) == len(box.points)
    assert sorted(len(face) for face in faces_of(made)) == [3, 3, 4, 4, 4, 4, 4]


def test_a_plane_cut_and_a_mirrored_side() -> None:
    ball = starts.sphere((40, 40, 40), 3)
    cut = cuts.cut_by_plane(ball, 0)
    assert euler(cut) == 2
    faces = faces_of(cut)
    assert all((cut.points[f, 0] >= 0).all() or (cut.points[f, 0] <= 0).all() for f in faces)
    bent = ball.points.copy()
    bent[ball.points[:, 0] > 0] *= (1.3, 1, 1)
    for side, width in (("right", 2 * bent[:, 0].max()), ("left", np.ptp(ball.points[:, 0]))):
        made = cuts.mirror_side(ball.moved(bent), 0, side)  # type: ignore[arg-type]
        assert closed(made)
        assert euler(made) == 2
        assert np.ptp(made.points[:, 0]) == pytest.approx(width, rel=0.02)
        opposite = find_mates(made, ACROSS_WIDTH).maps[1]
        assert np.array_equal(made.points[opposite], made.points * (-1, 1, 1))


def test_a_mirrored_copy_shares_its_seam() -> None:
    """Half a box, open in the middle, mirrored: a closed box. With a wall in the middle the wall goes."""
    box = starts.box((20, 20, 20), (2, 2, 2))
    right = [f for f in range(box.face_count) if box.points[box.face(f)][:, 0].mean() > 0]
    half = cage_from_faces(box.points, [faces_of(box)[f] for f in right], dict.fromkeys(edges_where(box, x=10), SHARP))
    made = cuts.mirrored_copy(half, list(range(half.face_count)), 0)
    assert closed(made)
    assert volume(made) == pytest.approx(20**3)
    assert len(made.crease_edges) == 2 * len(half.crease_edges)
    walled = starts.box((10, 20, 20), (1, 1, 1))
    walled = walled.moved(walled.points + np.array([5.0, 0, 0]))
    whole = cuts.mirrored_copy(walled, list(range(6)), 0)
    assert whole.face_count == 10
    assert volume(whole) == pytest.approx(20**3)


def test_faces_that_share_both_edges_of_a_point_make_a_sound_skin() -> None:
    """A sheet with rows, one of its points on the mirror's plane: the two faces there share both edges of the point."""
    sheet = starts.grid((20, 20), (1, 1))
    points = sheet.points.copy()
    points[:, 0] = [0.0, 0.0, 12.0, 0.0]  # three points of a face on the plane
    points[3] = (0.0, 10.0, 8.0)
    made = cuts.mirrored_copy(sheet.moved(points), [0], 0)
    assert made.face_count == 2
    for level in (1, 2, 3):
        plan = plan_skin(made, level)
        _, triangles = welded_mesh(evaluate(plan, made.points).positions, plan.triangles, weld(made, plan))
        sides = np.sort(triangles[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
        assert np.unique(sides, axis=0, return_counts=True)[1].max() == 2


def test_a_step_that_would_not_leave_a_sheet_says_so_and_nothing_of_files() -> None:
    """A face picked in the middle of a box and mirrored there meets the two that stay."""
    box = BoxStart(size=(20, 20, 20), divisions=(2, 2, 2))
    cage = starts.box((20, 20, 20), (2, 2, 2))
    beside = [
        f
        for f in range(cage.face_count)
        if np.ptp(cage.points[cage.face(f)][:, 2]) == 0 and cage.points[cage.face(f)][:, 0].mean() > 0
    ]
    part = Part(id="b", name="B", steps=(box, MirroredFaces(faces=beside, axis="W", within=0.1)))
    with pytest.raises(HollowMarbleError, match=r"would not leave a single sheet: .* meet at one edge") as refused:
        FormEvaluator(lambda sha: b"").body(part)
    assert "file" not in str(refused.value)
    assert "Remove" not in str(refused.value)


def test_a_row_slides_along_its_rungs_only() -> None:
    box = starts.box((30, 30, 30), (3, 1, 1))
    row = edges_where(box, x=5)
    made = chains.slide_row(box, row, 0.5)
    moved = made.points[(made.points != box.points).any(axis=1)]
    assert len(moved) == 4
    assert set(moved[:, 0]) in ({10.0}, {0.0})
    other = chains.slide_row(box, row, -0.5)
    assert {*other.points[:, 0]} ^ {*made.points[:, 0]} == {10.0, 0.0}
    both = chains.slide_row(box, row, 0.5, find_mates(box, ACROSS_WIDTH))
    assert np.array_equal(both.points[find_mates(both, ACROSS_WIDTH).maps[1]], both.points * (-1, 1, 1))
    with pytest.raises(HollowMarbleError, match="fork"):
        chains.slide_row(box, [*row, *edges_where(box, y=15, z=15)], 0.2)
    sheet = starts.grid((20, 20), (2, 2))
    ways = []
    for share in (0.3, -0.3):
        try:
            ways.append(np.ptp(chains.slide_row(sheet, edges_where(sheet, x=10), share).points[:, 0]))
        except HollowMarbleError as error:
            ways.append(str(error))
    assert sorted(ways, key=str)[1] == "The row lies on an open border on that side. Slide it the other way."


def test_a_row_fits_a_line_in_the_views_plane_with_order_and_spacing_kept() -> None:
    sheet = starts.grid((40, 40), (4, 4))
    row = edges_where(sheet, y=-20)
    eye = np.array([0.0, -300.0, 0.0])
    angle = np.linspace(np.pi, 0, 181)
    arc = np.column_stack([20 * np.cos(angle), np.full(181, -20.0), 20 * np.sin(angle)])
    made = chains.fit_row(sheet, row, eye, arc)
    chain, _ = chains.chain_of(sheet, row)
    fitted = made.points[chain]
    # equal shares of a half circle: every 45°
    expected = np.array([[np.cos(a) * 20, -20, np.sin(a) * 20] for a in np.radians([180, 135, 90, 45, 0])])
    if fitted[0, 0] > 0:
        expected = expected[::-1]
    assert fitted == pytest.approx(expected, abs=0.01)
    held = chains.fit_row(sheet, row, eye, arc + np.array([0, 0, 5.0]), hold_ends=True)
    assert np.array_equal(held.points[chain[0]], sheet.points[chain[0]])
    assert held.points[chain[2], 2] == pytest.approx(25, abs=0.01)
    # drawn on a plane twice as far away, the same picture: the same result
    far = eye + 2 * (arc - eye)
    assert chains.fit_row(sheet, row, eye, far).points == pytest.approx(made.points)


def test_a_row_that_comes_round_fits_a_closed_line() -> None:
    tube = starts.cylinder((20, 20, 20), 12, 2)
    row = edges_where(tube, z=0)
    eye = np.array([0.0, 0.0, 200.0])
    angle = np.linspace(0, 2 * np.pi, 200)
    ellipse = np.column_stack([16 * np.cos(angle), 8 * np.sin(angle), np.zeros(200)])
    made = chains.fit_row(tube, row, eye, ellipse)
    chain, closed_row = chains.chain_of(tube, row)
    assert closed_row
    fitted = made.points[chain]
    assert (fitted[:, 0] / 16) ** 2 + (fitted[:, 1] / 8) ** 2 == pytest.approx(1, abs=0.01)
    assert fitted[:, 2] == pytest.approx(0)


def test_the_skin_of_a_turned_profile_runs_along_the_drawn_line() -> None:
    """A vase: every profile place lies on the skin (B-spline interpolation), its circles are round."""
    t = np.linspace(0, 1, 60)
    profile = np.column_stack([20 + 6 * np.sin(5 * t), 80 * t])
    cage = profiles.turned(profile, 24, 10)
    skin = evaluate(plan_skin(cage, 3), cage.points).positions
    radius = np.hypot(skin[:, 0], skin[:, 1])
    drawn = np.interp(skin[:, 2], profile[:, 1], profile[:, 0])
    assert np.abs(radius - drawn).max() < 0.1
    assert euler(cage) == 0
    middles = np.array([cage.points[cage.face(f)].mean(axis=0) for f in range(cage.face_count)])
    areas = np.array(
        [np.cross(*(cage.points[cage.face(f)][[1, 2]] - cage.points[cage.face(f)][0])) for f in range(cage.face_count)]
    )
    assert (np.einsum("ij,ij->i", middles[:, :2], areas[:, :2]) > 0).all(), "outward"


def test_profiles_to_the_axis_close_and_rings_come_round() -> None:
    angle = np.linspace(-np.pi / 2, np.pi / 2, 60)
    ball = profiles.turned(np.column_stack([20 * np.cos(angle), 20 * np.sin(angle)]), 16, 8)
    assert closed(ball)
    assert euler(ball) == 2
    assert volume(ball) == pytest.approx(4 / 3 * np.pi * 20**3, rel=0.08)
    down = profiles.turned(np.column_stack([20 * np.cos(angle), 20 * np.sin(angle)])[::-1], 16, 8)
    assert volume(down) > 0
    turn = np.linspace(0, 2 * np.pi, 80)[:-1]
    ring = profiles.turned(np.column_stack([30 + 5 * np.cos(turn), 5 * np.sin(turn)]), 24, 8, closed=True)
    assert closed(ring)
    assert euler(ring) == 0
    assert volume(ring) > 0
    for wrong in ([[0, 0], [0, 5]], [[1, 1]], [[np.nan, 1], [2, 2]]):
        with pytest.raises(HollowMarbleError):
            profiles.turned(np.array(wrong, float), 16, 6)
