"""Highlight lines, reflections, isophotes and sections against closed forms."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.highlight import LineLights, highlight_lines, isophotes, line_lights, reflection_lines
from hollow_marble.core.surface.sections import sections, whole_rows
from tests.core.surfaces import cylinder, patches, sphere, torus

X, Y, Z = np.eye(3)


def _places(probed, lines):
    return lines.bent(probed.points, probed.normals)


def test_on_a_sphere_a_highlight_line_lies_in_the_plane_of_light_and_middle() -> None:
    """Normals of a sphere pass through its middle, so the line is part of the great circle in that plane (Beier & Chen 1994)."""
    ball = sphere(12.0)
    light = LineLights(np.array([0.0, 3.0, 40.0]), X, Y, 1, 1.0)
    lines = highlight_lines(ball, light)
    assert len(lines.level) == 1, "one line, and only on the side of the light"
    at = _places(ball, lines)
    across = np.cross(X, light.at)
    assert at @ (across / np.linalg.norm(across)) == pytest.approx(0.0, abs=1e-4)
    assert np.linalg.norm(at, axis=1) == pytest.approx(12.0, abs=1e-4), "it lies on the surface, not on its chords"
    assert (at @ light.at > -0.1).all()


def test_on_a_cylinder_highlight_lines_are_its_rulings_and_circles() -> None:
    """A light beside the axis gives the ruling beneath it; one across gives the circle at its height."""
    tube = cylinder(10.0, 60.0)
    along = highlight_lines(tube, LineLights(np.array([30.0, 20.0, 0.0]), Z, Y, 1, 1.0))
    at = _places(tube, along)
    assert np.arctan2(at[:, 1], at[:, 0]) == pytest.approx(np.arctan2(20.0, 30.0), abs=1e-4)
    assert np.ptp(at[:, 2]) == pytest.approx(60.0), "from end to end"
    round_it = highlight_lines(tube, LineLights(np.array([40.0, 0.0, 7.3]), Y, Z, 1, 1.0))
    assert _places(tube, round_it)[:, 2] == pytest.approx(7.3, abs=2e-3)


def test_a_family_is_each_light_by_itself() -> None:
    ring = torus(30.0, 9.0)
    family = line_lights(np.zeros(3), 60.0, np.array([0.3, -1.0, 0.8]), 0.4, 5, 6.0)
    lines = highlight_lines(ring, family)
    for number, offset in enumerate(family.offsets):
        single = LineLights(family.at + offset * family.across, family.along, family.across, 1, 1.0)
        alone = highlight_lines(ring, single)
        one = _places(ring, lines.chosen(lines.level == number))
        other = _places(ring, alone)
        assert np.sort(one, axis=0) == pytest.approx(np.sort(other, axis=0), abs=1e-9)


def test_lines_turn_the_same_way_and_close() -> None:
    ball = sphere(10.0)
    circle = sections(ball, Z, np.array([2.5]))
    assert circle.closed.tolist() == [True]
    at = circle.places
    turned = np.cross(at, np.roll(at, -1, axis=0))[:, 2]
    assert (turned > 0).all() or (turned < 0).all()


def test_reflections_obey_the_mirror() -> None:
    """At each place the ray from the eye, mirrored, meets the light: equal angles to the normal, all in one plane."""
    ball = sphere(15.0, (192, 96))
    eye = np.array([10.0, -90.0, 25.0])
    light = LineLights(np.array([0.0, -30.0, 60.0]), X, Y, 1, 1.0)
    lines = reflection_lines(ball, light, eye)
    at = _places(ball, lines)
    assert len(at) > 20
    normal = at / 15.0
    sight = at - eye
    mirrored = sight - 2 * (sight * normal).sum(axis=1)[:, None] * normal
    # what the mirrored ray turns out of the plane through its place and the light
    plane = np.cross(light.at - at, X)
    out_of_plane = (mirrored * plane).sum(axis=1) / np.linalg.norm(mirrored, axis=1) / np.linalg.norm(plane, axis=1)
    assert np.degrees(np.arcsin(np.abs(out_of_plane))).max() < 0.002, "of facets two degrees wide"


def test_isophotes_of_a_sphere_are_circles_of_latitude() -> None:
    ball = sphere(10.0)
    lines = isophotes(ball, Z, np.array([20.0, 50.0, 90.0]))
    for number, degrees in enumerate((20.0, 50.0, 90.0)):
        at = _places(ball, lines.chosen(lines.level == number))
        assert at[:, 2] == pytest.approx(10 * np.cos(np.radians(degrees)), abs=1e-4)


def test_sections_of_a_sphere_are_circles() -> None:
    """Radius √(r² − d²), length 2π of it, curvature one over it."""
    ball = sphere(10.0)
    m = np.array([1.0, 2.0, 2.0]) / 3
    found = sections(ball, 5 * m, np.array([-4.0, 0.0, 6.0]))
    for k, offset in enumerate((-4.0, 0.0, 6.0)):
        radius = np.sqrt(100 - offset**2)
        (line,) = np.flatnonzero(found.level == k)
        rows_of = slice(found.starts[line], found.starts[line + 1])
        assert found.places[rows_of] @ m == pytest.approx(offset, abs=1e-6), "in the plane"
        assert found.lengths[line] == pytest.approx(2 * np.pi * radius, rel=1e-5)
        assert found.bend[rows_of] == pytest.approx(1 / radius, rel=2e-3)
    assert not len(found.inflections)


def test_a_section_square_to_a_cylinders_axis_bends_as_it_does() -> None:
    """Where the representation is exact and the section runs along it, so is its curvature."""
    found = sections(cylinder(7.0, 30.0), Z, np.array([1.234]))
    assert found.bend.max() == pytest.approx(1 / 7.0, rel=1e-6)
    assert found.bend == pytest.approx(1 / 7.0, rel=1e-4), "between two points it is mixed"
    assert found.lengths == pytest.approx(14 * np.pi, rel=1e-5)
    leaning = sections(cylinder(7.0, 30.0), np.array([0.0, 1.0, 1.0]), np.array([0.0]))
    # an ellipse of axes 7 and 7√2: curvature at the end of the long one a / b², of the short one b / a²
    assert leaning.bend.max() == pytest.approx(7 * np.sqrt(2) / 49, rel=2e-3)
    assert leaning.bend.min() == pytest.approx(7 / 98, rel=2e-3)


def test_inflections_lie_where_a_wave_goes_over() -> None:
    """z = sin(x / 5): curvature changes its side at every multiple of 5π."""
    wave = lambda u, v: np.stack([u, v, np.sin(u / 5)], axis=-1)  # noqa: E731
    sheet = patches([(wave, (2.0, 40.0), (0.0, 10.0))], (120, 8))
    found = sections(sheet, Y, np.array([5.0]))
    assert np.sort(found.inflections[:, 0]) == pytest.approx([5 * np.pi, 10 * np.pi], abs=0.05)


def test_combs_along_rims_tell_the_surfaces_own_curvature() -> None:
    tube = cylinder(7.0, 30.0)
    found = whole_rows(tube)
    ends = np.abs(found.places[:, 2]) > 14.9
    assert found.bend[ends & (np.abs(found.places[:, 1]) > 0.1)] == pytest.approx(1 / 7.0, rel=1e-5)
    assert (found.out * found.places)[:, :2].sum(axis=1) == pytest.approx(7.0, rel=1e-6), "the comb stands outward"


def test_directions_without_length_are_refused() -> None:
    ball = sphere(5.0, (12, 6))
    for ask in (
        lambda: sections(ball, np.zeros(3), np.zeros(1)),
        lambda: line_lights(np.zeros(3), 10.0, np.zeros(3), 0.0, 1, 1.0),
        lambda: isophotes(ball, np.zeros(3), np.zeros(1)),
    ):
        with pytest.raises(HollowMarbleError, match=r"no (length|direction)"):
            ask()


def test_where_a_plane_misses_there_is_no_line() -> None:
    found = sections(sphere(5.0, (12, 6)), Z, np.array([9.0]))
    assert (len(found.places), len(found.lengths)) == (0, 0)
