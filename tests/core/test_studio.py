"""Lamps, camera and colour against physics and published formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest

from hollow_marble.core.studio import camera, colour, lamps
from hollow_marble.core.studio.sweep import outline, sweep_mesh


def test_fifty_millimetres_sees_thirty_nine_point_six_degrees() -> None:
    """2 atan(18 / f) on a 36 mm wide frame."""
    assert math.degrees(camera.field_of_view(50)) == pytest.approx(39.6, abs=0.05)


def test_srgb_half_is_0_21404() -> None:
    """IEC 61966-2-1."""
    assert float(colour.to_linear(np.array(0.5))) == pytest.approx(0.21404, abs=1e-5)
    values = np.linspace(0, 1, 101)
    assert np.allclose(colour.to_srgb(colour.to_linear(values)), values, atol=1e-6)


@pytest.mark.parametrize(
    ("kelvin", "x", "y"),
    [(2856, 0.4476, 0.4074), (5000, 0.3451, 0.3516), (6500, 0.3135, 0.3237), (10000, 0.2807, 0.2884)],
)
def test_warmth_lies_on_the_planckian_locus(kelvin: float, x: float, y: float) -> None:
    """CIE 15: illuminant A (2856 K) and black bodies; locus values from Wyszecki & Stiles, Color Science, 2nd ed., from memory."""
    found = colour.warmth_to_xy(kelvin)
    assert found[0] == pytest.approx(x, abs=0.002)
    assert found[1] == pytest.approx(y, abs=0.002)


def test_a_lamp_of_the_cameras_white_is_neutral_and_a_warm_one_is_not() -> None:
    assert np.allclose(colour.warmth_to_rgb(5600), 1.0, atol=1e-6)
    warm, cool = colour.warmth_to_rgb(3000), colour.warmth_to_rgb(9000)
    assert warm[0] > warm[1] > warm[2]
    assert cool[2] > cool[1] > cool[0]
    luminance = np.array([0.2126, 0.7152, 0.0722])
    assert warm @ luminance == pytest.approx(1.0)


def test_a_chosen_grey_is_that_grey_in_the_picture_and_light_above_is_compressed() -> None:
    """Identity below the start of compression; above it, Khronos PBR Neutral's curve (2024) without its offset of 0.04."""
    below = np.array([[0.5, 0.4, 0.2], [0.7, 0.1, 0.0]])
    assert np.allclose(colour.display(below), below, atol=1e-12)
    offset = 0.04
    published = 1 - (0.24 - offset) ** 2 / (2.0 + (0.24 - offset) - 0.8)
    assert colour.display(np.array([[2.0, 2.0, 2.0]]))[0, 0] == pytest.approx(published)
    bright = colour.display(np.array([[40.0, 20.0, 10.0]]))
    assert bright.max() < 1.0
    assert bright[0, 0] > bright[0, 1] > bright[0, 2]
    ramp = colour.display(np.linspace(0, 8, 400)[:, None] * np.ones(3))[:, 0]
    assert (np.diff(ramp) >= -1e-12).all(), "never darker for more light"


def test_near_square_lamp_matches_the_closed_form() -> None:
    """Lambertian rectangle over a parallel point at its corner's foot: Howell's catalogue, C-11 (B-3 form)."""
    a = b = 400.0
    c = 600.0
    corners = np.array([[0, 0, c], [0, b, c], [a, b, c], [a, 0, c]], float)
    found = lamps.irradiance(corners, 2.0, np.zeros(3), np.array([0.0, 0.0, 1.0]))
    x, y = a / c, b / c
    factor = (
        x / math.hypot(1, x) * math.atan(y / math.hypot(1, x)) + y / math.hypot(1, y) * math.atan(x / math.hypot(1, y))
    ) / (2 * math.pi)
    assert found == pytest.approx(2.0 * math.pi * factor, rel=1e-9)


def test_far_lamp_follows_the_inverse_square() -> None:
    def light(distance: float) -> float:
        corners = lamps.lamp_corners(0, 0, distance, 50, 50, np.zeros(3))
        return lamps.irradiance(corners, 1.0, np.zeros(3), np.array([0.0, -1.0, 0.0]))

    assert light(4000) / light(8000) == pytest.approx(4.0, rel=1e-3)
    assert light(8000) == pytest.approx(2500 / 8000**2, rel=1e-3)


def test_a_lamp_behind_the_card_gives_nothing_and_one_half_seen_gives_part() -> None:
    corners = lamps.lamp_corners(180, 0, 800, 300, 300, np.zeros(3))
    assert lamps.irradiance(corners, 1.0, np.zeros(3), np.array([0.0, -1.0, 0.0])) == 0
    beside = lamps.lamp_corners(90, 0, 800, 300, 300, np.zeros(3))
    whole = lamps.irradiance(beside, 1.0, np.zeros(3), np.array([1.0, 0.0, 0.0]))
    part = lamps.irradiance(beside, 1.0, np.zeros(3), np.array([0.0, -1.0, 0.0]))
    assert 0 < part < whole / 4


def test_power_counts_in_stops_and_size_keeps_the_flux() -> None:
    assert lamps.radiance(300, 300, 1.0) == pytest.approx(2 * lamps.radiance(300, 300, 0.0))
    assert lamps.radiance(600, 300, 0.0) == pytest.approx(lamps.radiance(300, 300, 0.0) / 2)


def test_a_lamp_faces_the_product() -> None:
    for azimuth, height in ((-50, 40), (140, 60), (0, 90), (90, 0)):
        corners = lamps.lamp_corners(azimuth, height, 700, 300, 200, np.array([0.0, 0.0, 50.0]))
        normal = np.cross(corners[1] - corners[0], corners[2] - corners[1])
        towards = np.array([0.0, 0.0, 50.0]) - corners.mean(axis=0)
        assert normal @ towards / np.linalg.norm(normal) / np.linalg.norm(towards) == pytest.approx(1.0)
        assert np.linalg.norm(towards) == pytest.approx(700)


def test_a_small_far_lamp_overhead_gives_the_edge_of_similar_triangles() -> None:
    """Lamp width × height of the edge / distance, of which 5 to 95 % of an even lamp are nine tenths (formula)."""
    edge = lamps.shadow_edge(lamps.lamp_corners(0, 90, 3000, 60, 40, np.array([0, 0, 50.0])), np.array([0, 0, 50.0]))
    assert edge.sides == pytest.approx(0.9 * 60 * 50 / 3000, rel=0.01)
    assert edge.end == pytest.approx(0.9 * 40 * 50 / 3000, rel=0.01)


def test_a_lamp_that_stands_too_low_has_no_whole_edge_on_the_floor() -> None:
    middle = np.array([0, 0, 50.0])
    assert lamps.shadow_edge(lamps.lamp_corners(20, -10, 700, 100, 100, middle), middle) == lamps.ShadowEdge(None, None)
    steep, low = (lamps.shadow_edge(lamps.lamp_corners(20, h, 700, 300, 300, middle), middle) for h in (60, 30))
    assert low.end > 2 * steep.end
    assert low.sides > steep.sides


def test_key_to_fill_in_stops_and_a_word_for_the_edge() -> None:
    assert lamps.key_to_fill(3.0, 1.0) == pytest.approx(2.0)
    assert lamps.softness(2) == "crisp"
    assert lamps.softness(100) == "very soft"


def test_the_sweep_has_no_step() -> None:
    points, normals, triangles = sweep_mesh(1000, outline(600, 200, 900, 1500))
    assert np.allclose(np.linalg.norm(normals, axis=1), 1)
    a, b, c = (points[triangles[:, k]] for k in range(3))
    facing = np.cross(b - a, c - a)
    facing /= np.linalg.norm(facing, axis=1)[:, None]
    assert (np.einsum("ij,ij->i", facing, normals[triangles[:, 0]]) > 0.95).all()


def test_the_cove_is_an_arc_of_its_radius_and_no_larger_than_there_is_room() -> None:
    """A quarter circle that meets the floor and the wall without a corner (formula)."""
    y, z, ny, nz = outline(600, 200, 900, 1500)[1:-1].T
    assert np.allclose(np.hypot(y - 400, z - 200), 200)
    assert np.allclose([ny * 200, nz * 200], [400 - y, 200 - z])
    narrow = outline(150, 200, 900, 1500)
    assert np.allclose(narrow[-1, :2], (150, 1500))
    assert narrow[1:-1, 0].min() == pytest.approx(0)
    assert narrow[1:-1, 1].max() == pytest.approx(150)
