"""Perspective, boxes, circles, divisions and sweep curves against exact projective and differential geometry."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.special import fresnel

from hollow_marble.core.drafting import division, sweeps
from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed, ellipse_of
from hollow_marble.core.drafting.camera import Camera, cut, dragged, from_rotation, grid, preset
from hollow_marble.core.errors import HollowMarbleError

THREE = Camera((1200, 800), 2600, 0.6, 0.35, 0.04)
BOX = Placed(THREE, (62, 34, 108), (1180, 1100), 6.0)

angles = st.floats(0.15, 1.2)


@given(turn=angles, tilt=angles, roll=st.floats(-0.5, 0.5), focal=st.floats(500, 9000))
@settings(max_examples=60, deadline=None)
def test_the_orthocentre_of_the_vanishing_points_is_the_principal_point(turn, tilt, roll, focal):
    """Caprile & Torre 1990."""
    points = Camera((700, 300), focal, turn, tilt, roll).vanishing()
    a, b, c = (p[:2] / p[2] - (700, 300) for p in points)
    assert abs(a @ (b - c)) < 1e-6 * np.linalg.norm(a) * np.linalg.norm(b - c)
    assert abs(b @ (c - a)) < 1e-6 * np.linalg.norm(b) * np.linalg.norm(c - a)
    assert -(a @ b) == pytest.approx(focal**2, rel=1e-6)


def test_parallel_edges_run_to_their_vanishing_points():
    """Any projective geometry text: images of parallels meet in one point."""
    points = THREE.vanishing()
    for a, b in EDGES:
        axis = int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0])
        line = np.cross([*BOX.corners[a], 1], [*BOX.corners[b], 1])
        assert abs(line @ points[axis]) / (np.linalg.norm(line[:2]) * abs(points[axis, 2])) < 1e-6


def test_the_horizon_holds_the_level_vanishing_points():
    line = THREE.horizon()
    for point in THREE.vanishing()[:2]:
        assert abs(line @ point) < 1e-6 * abs(point).max()


@given(turn=angles, tilt=angles, roll=st.floats(-0.5, 0.5))
@settings(max_examples=40, deadline=None)
def test_angles_come_back_from_a_rotation(turn, tilt, roll):
    camera = Camera((10, 20), 900, turn, tilt, roll)
    back = from_rotation((10, 20), 900, camera.rotation)
    assert (back.turn, back.tilt, back.roll) == pytest.approx((turn, tilt, roll), abs=1e-9)


@pytest.mark.parametrize("which", [0, 1, 2])
def test_a_dragged_vanishing_point_goes_where_it_is_put_and_the_others_stay(which):
    before = THREE.vanishing()
    goal = before[which, :2] / before[which, 2] * 1.08
    after = dragged(THREE, 3, which, tuple(goal)).vanishing()
    for k in range(3):
        expected = goal if k == which else before[k, :2] / before[k, 2]
        assert after[k, :2] / after[k, 2] == pytest.approx(expected, rel=1e-6)


def test_a_pair_keeps_its_middle_between_and_uprights_square_to_the_horizon():
    camera = dragged(preset(2, 2400, 1600), 2, 0, (-2600.0, 700.0))
    points = camera.vanishing()
    first, second = (p[:2] / p[2] for p in points[:2])
    assert first == pytest.approx([-2600, 700], abs=1e-4)
    middle = np.array(camera.principal)
    assert -(first - middle) @ (second - middle) == pytest.approx(camera.focal**2, rel=1e-9)
    assert points[2, 2] == 0
    assert abs(points[2, :2] @ (second - first)) < 1e-6 * np.linalg.norm(points[2, :2]) * np.linalg.norm(second - first)


def test_one_point_moves_with_the_middle():
    moved = dragged(preset(1, 2400, 1600), 1, 1, (900.0, 500.0))
    point = moved.vanishing()[1]
    assert point[:2] / point[2] == pytest.approx([900, 500])
    assert moved.vanishing()[0, 2] == moved.vanishing()[2, 2] == 0


def test_impossible_triangles_are_refused():
    with pytest.raises(HollowMarbleError, match="acute"):
        dragged(THREE, 3, 2, (1200.0, 900.0))
    with pytest.raises(HollowMarbleError, match="both sides"):
        dragged(preset(2, 2400, 1600), 2, 0, (1500.0, 800.0))


def test_grid_lines_run_through_the_vanishing_points_and_stay_on_the_page():
    rect = (0, 0, 2400, 1600)
    for camera in (THREE, preset(1, 2400, 1600), preset(2, 2400, 1600)):
        for lines, point in zip(grid(camera, rect), camera.vanishing()):
            assert len(lines) >= 7
            for a, b in lines:
                assert all(-1e-6 <= x <= 2400 + 1e-6 and -1e-6 <= y <= 1600 + 1e-6 for x, y in (a, b))
                line = np.cross([*a, 1], [*b, 1])
                line /= np.linalg.norm(line[:2])
                scale = abs(point[2]) or np.linalg.norm(point[:2])
                assert abs(line @ point) / scale < 1e-3


def test_lines_beside_a_rectangle_are_not_cut_to_it():
    assert cut(np.array([0.0, -5]), np.array([1.0, 0]), (0, 0, 10, 10)) is None
    assert cut(np.array([3.0, -5]), np.array([0.0, 1]), (0, 0, 10, 10)) == [(3, 0), (3, 10)]


def test_the_box_has_its_scale_and_place():
    assert BOX.camera.project(BOX.points(np.array([[0.5, 0.5, 0.0]])))[0] == pytest.approx([1180, 1100])
    near = Placed(Camera((0, 0), 1000, 0, 0), (40, 20, 10), (0, 0), 5.0)
    front, back = near.points(np.array([[0, 0.5, 0], [1, 0.5, 0]]))
    assert np.ptp(near.camera.project(np.array([front, back]))[:, 0]) == pytest.approx(200)


def test_faces_in_sight_are_those_whose_outline_runs_clockwise():
    """A plane side seen from in front keeps its sense on the page, from behind it is turned round (common practice)."""
    senses = {"front": -1, "right": -1, "top": -1, "back": 1, "left": 1, "bottom": 1}
    for face, sense in senses.items():
        quad = BOX.quad(face)
        area = sum(quad[k][0] * quad[(k + 1) % 4][1] - quad[(k + 1) % 4][0] * quad[k][1] for k in range(4))
        assert BOX.seen[face] == (np.sign(area) == sense), face
    assert {face for face, on in BOX.seen.items() if on} == {"front", "right", "top"}
    assert sum(BOX.hidden_edges()) == 3


@pytest.mark.parametrize("face", ["front", "right", "top"])
def test_circles_are_the_exact_conic_of_their_points(face):
    """Every projected point of the circle lies on the ellipse (Hartley & Zisserman, image of a circle)."""
    ellipse = BOX.circle(face, (16, 14), 11)
    t = np.linspace(0, 2 * np.pi, 200)
    points = BOX.from_face(face, np.column_stack([16 + 11 * np.cos(t), 14 + 11 * np.sin(t)]))
    c, s = np.cos(ellipse.turn), np.sin(ellipse.turn)
    local = (points - ellipse.centre) @ np.array([[c, -s], [s, c]])
    assert (local[:, 0] / ellipse.across) ** 2 + (local[:, 1] / ellipse.down) ** 2 == pytest.approx(1, abs=1e-9)
    assert ellipse.across >= ellipse.down


def test_a_place_on_a_face_comes_back_in_mm():
    for face in ("front", "right", "top"):
        place = BOX.from_face(face, np.array([[12.5, 7.25]]))[0]
        assert BOX.on_face(face, tuple(place)) == pytest.approx((12.5, 7.25))


def test_a_hyperbola_is_no_ellipse():
    with pytest.raises(HollowMarbleError, match="behind the eye"):
        ellipse_of(np.diag([1.0, -1.0, -1.0]))


QUAD = np.array([[300.0, 200], [900, 260], [860, 700], [260, 620]])


def test_halves_cross_in_the_diagonals():
    """The middle of a rectangle is where its diagonals cross, square-on and in perspective."""
    (a, b), (c, d) = division.diagonals(QUAD)
    crossing = np.cross(np.cross([*a, 1], [*b, 1]), np.cross([*c, 1], [*d, 1]))
    crossing = crossing[:2] / crossing[2]
    lines = division.divisions(QUAD, 2, 2)
    halves = lines[1], lines[4]
    for one, other in halves:
        assert abs(np.linalg.det([other - one, crossing - one])) / np.linalg.norm(other - one) < 1e-9


def test_divisions_keep_the_cross_ratio():
    """Four lines at 0, 1/3, 2/3, 1: cross-ratio (0, 2/3; 1/3, 1) = 4, whatever the perspective."""
    lines = division.divisions(QUAD, 3, 1)
    tops = np.array([line[0] for line in lines[:4]])
    along = np.linalg.norm(tops - tops[0], axis=1)
    ratio = (along[1] - along[0]) / (along[1] - along[2]) * (along[3] - along[2]) / (along[3] - along[0])
    assert ratio == pytest.approx((1 / 3) / (-1 / 3) * (1 / 3), rel=1e-9)


def test_the_next_unit_is_found_by_the_draughtsman_too():
    """A line from a corner through the middle of the far side meets the long edge where the next unit ends."""
    lines = division.divisions(QUAD, 1, 1, on_across=1)
    upper_left, _upper_right, lower_right, lower_left = QUAD
    far = division.homography(QUAD) @ [1, 0.5, 1]
    ray = np.cross([*upper_left, 1], far)
    edge = np.cross([*lower_left, 1], [*lower_right, 1])
    meets = np.cross(ray, edge)
    assert lines[2][1] == pytest.approx(meets[:2] / meets[2], abs=1e-6)


def test_square_on_divisions_are_even():
    lines = division.divisions(np.array([[0, 0], [90, 0], [90, 40], [0, 40.0]]), 3, 2, on_across=-1, on_down=1)
    assert [line[0][0] for line in lines[:7]] == pytest.approx([-90, -60, -30, 0, 30, 60, 90])
    assert [line[0][1] for line in lines[7:]] == pytest.approx([0, 20, 40, 60, 80])


def test_too_many_units_and_crossed_corners_are_refused():
    with pytest.raises(HollowMarbleError, match="behind the eye"):
        division.divisions(np.array([[0, 0], [100, 20], [100, 60], [0, 80.0]]), 1, 1, on_across=-5)
    with pytest.raises(HollowMarbleError, match="cross over"):
        division.homography(np.array([[0, 0], [100, 0], [0, 100], [100, 100.0]]))


def test_the_clothoid_is_euler_s_spiral():
    """x + iy = ∫ exp(i π u²/2) du: the Fresnel integrals of Abramowitz & Stegun 7.3, by SciPy."""
    curve = sweeps.sweep("easing", 1.0)
    rate = 2.2
    scale = np.sqrt(np.pi / rate)
    s = np.linspace(0, 1, sweeps.COUNT)
    y, x = fresnel(s / scale)
    assert curve.places == pytest.approx(np.column_stack([x, y]) * scale, abs=1e-12)
    assert curve.curvature == pytest.approx(rate * s)


@pytest.mark.parametrize("family", list(sweeps.FAMILIES))
def test_curvature_and_normals_agree_with_the_places(family):
    curve = sweeps.sweep(family, 0.8)
    steps = np.diff(curve.places, axis=0)
    length = np.hypot(*steps.T)
    assert length.sum() == pytest.approx(1, abs=2e-4)
    assert steps[0] / length[0] == pytest.approx([1, 0], abs=0.02)
    heading = np.unwrap(np.arctan2(steps[:, 1], steps[:, 0]))
    bend = np.diff(heading) / ((length[1:] + length[:-1]) / 2)
    assert bend == pytest.approx(curve.curvature[1:-1], abs=0.02 + 0.01 * np.abs(curve.curvature).max())
    tangents = (steps[1:] + steps[:-1]) / (length[1:] + length[:-1])[:, None]
    assert np.abs((tangents * curve.normals[1:-1]).sum(axis=1)).max() < 2e-3


@pytest.mark.parametrize(("family", "kind"), [("parabola", 0), ("ellipse arc", 1), ("hyperbola", -1)])
def test_conics_are_the_conics_they_are_called(family, kind):
    """The discriminant of the conic through five of its places (Farin, Curves and Surfaces for CAGD)."""
    places = sweeps.sweep(family, 1.0).places[:: (sweeps.COUNT - 1) // 4]
    x, y = places.T
    _, _, right = np.linalg.svd(np.column_stack([x * x, x * y, y * y, x, y, np.ones(5)]))
    a, b, c = right[-1][:3]
    share = (4 * a * c - b * b) / (a + c) ** 2
    assert (abs(share) < 1e-9) if kind == 0 else np.sign(share) == kind


def test_the_comb_stands_across_the_curve_and_shows_its_curvature():
    curve = sweeps.sweep("easing", 1.0)
    teeth = sweeps.comb(curve, teeth=5)
    lengths = np.linalg.norm(teeth[:, 1] - teeth[:, 0], axis=1)
    assert lengths == pytest.approx(0.09 * np.abs(curve.curvature[[0, 60, 120, 180, 240]]))
