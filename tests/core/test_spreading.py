"""Elements spread over a skin, and stitches along a line: how far apart, how dense, how many, which way up."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import cKDTree

from hollow_marble.core.bodies.scattered_body import ScatteredBody
from hollow_marble.core.cage import sizing
from hollow_marble.core.detail import skin_lines, spreading
from hollow_marble.core.detail.chart import chart_around
from hollow_marble.core.detail.stitching import stitch, stitches
from hollow_marble.core.errors import HollowMarbleError
from tests.core.grounds import cylinder, is_watertight, sculpted, sphere, volume

UP = np.array([0.0, 0.0, 1.0])


@pytest.mark.parametrize("ground", [cylinder(), sphere()])
def test_thrown_at_random_none_is_nearer_than_said_and_they_fill_what_there_is(ground) -> None:  # type: ignore[no-untyped-def]
    """Never under the spacing; discs of half of it cover nearly what random throwing gets to (0.547: Feder 1980)."""
    apart = 2.0
    spots = spreading.evenly_at_random(ground, apart, 7)
    near = cKDTree(spots.points).query(spots.points, k=2)[0][:, 1]
    assert near.min() >= apart
    filled = len(spots) * np.pi * (apart / 2) ** 2 / float(ground.probed.areas.sum())
    assert 0.46 < filled < spreading.JAMMED
    again = spreading.evenly_at_random(ground, apart, 7)
    assert np.array_equal(spots.points, again.points), "the same throw is the same"
    assert not np.array_equal(spots.points[:9], spreading.evenly_at_random(ground, apart, 8).points[:9])


def test_a_lattice_on_a_cylinder_keeps_its_step_along_the_skin() -> None:
    """Unrolled, by the arc and the height (formula)."""
    radius = 20.0
    ground = cylinder(radius)
    chart = chart_around(ground, np.array([radius, 0, 0]), UP, (9.0, 6.0))
    spots, right = spreading.on_lattice(ground, chart, (9.0, 6.0), 3.0, False)
    assert len(spots) == 7 * 5
    flat = np.stack([radius * np.arctan2(spots.points[:, 1], spots.points[:, 0]), spots.points[:, 2]], axis=1)
    near = cKDTree(flat).query(flat, k=2)[0][:, 1]
    assert near == pytest.approx(3.0, abs=0.01)
    assert np.abs(right[:, 2]).max() < 1e-3, "its right runs round"


def test_elements_stand_on_the_skin_with_their_upright_along_the_normal() -> None:
    ground = sphere()
    spots = spreading.evenly_at_random(ground, 6.0, 1)
    ones = np.ones(len(spots))
    matrices = spreading.standing(spots, spreading.level_ways(spots), 2 * ones, 3 * ones, 0.4 * ones, 0.5)
    assert matrices[:, :, 2] == pytest.approx(3 * spots.normals)
    assert np.linalg.norm(matrices[:, :, :2], axis=1) == pytest.approx(2.0)
    assert np.linalg.det(matrices[:, :, :3]) == pytest.approx(12.0), "no one is turned over"
    assert np.linalg.norm(matrices[:, :, 3], axis=1) == pytest.approx(29.5, abs=1e-6)


def test_a_picture_is_read_where_it_lies() -> None:
    """A ramp from left to right: the grey at a place is its share of the way (formula); beside it there is none."""
    ground = cylinder()
    chart = chart_around(ground, np.array([20.0, 0, 0]), UP, (10.0, 5.0))
    grey = spreading.Grey(np.tile(np.linspace(0, 1, 101), (50, 1)), chart, 20.0)
    places = np.array([[20 * np.cos(x / 20), 20 * np.sin(x / 20), 1.0] for x in (-7.0, 0.0, 5.0, 14.0)])
    spots, _ = ground.nearest(places)
    found = grey.at(spots)
    assert found[:3] == pytest.approx([0.15, 0.5, 0.75], abs=0.02)
    assert np.isnan(found[3])


def test_more_than_can_be_spread_is_refused_with_what_fits() -> None:
    with pytest.raises(HollowMarbleError, match=r"about [\d,]{9,} elements.*0\.\d+ mm apart"):
        spreading.evenly_at_random(cylinder(), 0.02, 1)
    ground = cylinder()
    chart = chart_around(ground, np.array([20.0, 0, 0]), UP, (9.0, 6.0))
    with pytest.raises(HollowMarbleError, match="up to 100,000"):
        spreading.on_lattice(ground, chart, (9.0, 6.0), 0.01, True)


def test_a_stitch_is_a_closed_thread_that_dives_in_at_both_ends() -> None:
    points, triangles = stitch(3.0, 0.7)
    assert is_watertight(triangles)
    middle = points[:-2].reshape(-1, 12, 3).mean(axis=1)
    long = float(np.linalg.norm(np.diff(middle, axis=0), axis=1).sum())
    assert volume(points, triangles) == pytest.approx(np.pi * 0.35**2 * long, rel=0.06), "a round thread (Pappus)"
    assert points[:, 2].max() == pytest.approx(0.35 * 1.55, abs=0.01)
    assert points[np.abs(points[:, 0]) > 1.45, 2].max() < -0.2, "its ends are below the skin"


def test_stitches_are_as_many_and_as_long_as_they_are_to_be() -> None:
    """Counts by the line's length (formula); lengths about their mean with a spread of 12 % times how irregular they are."""
    ground = cylinder()
    line = skin_lines.section_line(ground, UP, 0.0)
    matrices = stitches(line, ground, 2.0, 3.0, 10.0, 0.5, 3)
    assert len(matrices) == round(2 * np.pi * 20.0 / 3.0)
    longer = np.linalg.norm(matrices[:, :, 0], axis=1)
    assert longer.mean() == pytest.approx(1.0, abs=0.03)
    assert longer.std() == pytest.approx(0.06, abs=0.02)
    along = np.cross(UP, matrices[:, :, 2])
    leaning = np.degrees(np.arccos(np.clip(np.abs((along * matrices[:, :, 0]).sum(axis=1)) / longer, 0, 1)))
    assert leaning.mean() == pytest.approx(10.0, abs=1.0)
    even = stitches(line, ground, 2.0, 3.0, 0.0, 0.0, 3)
    far = np.linalg.norm(np.diff(even[:, :, 3], axis=0), axis=1)
    assert far == pytest.approx(far.mean(), abs=1e-3)
    for wrong in ((200.0, 300.0), (3.0, 2.0)):
        with pytest.raises(HollowMarbleError):
            stitches(line, ground, *wrong, 0.0, 0.0, 1)


def test_many_of_one_are_as_much_as_all_of_them() -> None:
    element = sculpted(sizing.sphere((2.0, 2.0, 1.0), 2))
    own = np.column_stack([np.eye(3), np.zeros(3)])
    flipped = np.column_stack([np.diag([-2.0, 1.0, 1.0]), [10.0, 0, 0]])
    body = ScatteredBody("s", element, np.stack([own, flipped]))
    mesh = body.mesh()
    one = element.mesh()
    assert mesh.size.volume == pytest.approx(3 * one.size.volume, rel=1e-5), "one twice as wide, in a mirror"
    assert is_watertight(mesh.welded()[1])
    points, triangles = mesh.positions.astype(float), mesh.triangles
    square = np.cross(
        points[triangles[:, 1]] - points[triangles[:, 0]], points[triangles[:, 2]] - points[triangles[:, 0]]
    )
    assert ((square * mesh.normal_vectors()[triangles].mean(axis=1)).sum(axis=1) > 0).all()
    moved = body.stood("m", lambda p: p + np.array([0.0, 0.0, 5.0]), False)
    assert moved.mesh().positions == pytest.approx(mesh.positions + np.array([0.0, 0.0, 5.0]), abs=1e-5)
    with pytest.raises(HollowMarbleError, match="Make the element simpler"):
        ScatteredBody("t", element, np.tile(own, (100_000, 1, 1))).mesh()
