"""Lamps, camera and colour against physics and published formulas."""

from __future__ import annotations

import math

import numpy as np
import pytest

from hollow_marble.core.studio import camera, colour, emitters, shadows
from hollow_marble.core.studio.emitters import Profile, far_diameter, pieces_of, rectangle, ring, stand
from hollow_marble.core.studio.meaning import key_to_fill
from hollow_marble.core.studio.sets import outline, sweep


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


UP = np.array([0.0, 0.0, 1.0])


def light(
    shape: emitters.Shape, stood: emitters.Stand, place: np.ndarray, normal: np.ndarray, glow: float = 1.0
) -> float:
    return float(pieces_of(shape, stood, glow).onto(place, normal).sum())


def test_a_square_lamp_gives_what_the_closed_form_says() -> None:
    """Lambertian rectangle over a parallel point under its middle: four times Howell's catalogue C-11 (B-3 form)."""
    found = light(rectangle(800, 800, Profile(1.0)), stand(0, 90, 600, np.zeros(3)), np.zeros(3), UP, 2.0)
    x = y = 400 / 600
    corner = (
        x / math.hypot(1, x) * math.atan(y / math.hypot(1, x)) + y / math.hypot(1, y) * math.atan(x / math.hypot(1, y))
    ) / (2 * math.pi)
    assert found == pytest.approx(2.0 * math.pi * 4 * corner, rel=1e-3)


@pytest.mark.parametrize("hole", [0.0, 200.0])
def test_a_disc_and_a_ring_give_what_the_closed_form_says(hole: float) -> None:
    """A disc seen from its axis: E = pi L r² / (r² + d²) (Howell's catalogue, B-12); a ring is one disc less another."""
    found = light(ring(400, hole, Profile(1.0)), stand(0, 90, 500, np.zeros(3)), np.zeros(3), UP)

    def disc(radius: float) -> float:
        return math.pi * radius**2 / (radius**2 + 500**2)

    assert found == pytest.approx(disc(200) - disc(hole / 2), rel=2e-3)


def test_a_far_lamp_follows_the_inverse_square() -> None:
    def given(distance: float) -> float:
        return light(
            rectangle(50, 50, Profile(1.0)), stand(0, 0, distance, np.zeros(3)), np.zeros(3), np.array([0.0, -1.0, 0.0])
        )

    assert given(4000) / given(8000) == pytest.approx(4.0, rel=1e-3)
    assert given(8000) == pytest.approx(2500 / 8000**2, rel=1e-3)


def test_a_lamp_behind_the_card_gives_nothing_and_one_half_seen_gives_part() -> None:
    shape, behind, beside = (
        rectangle(300, 300, Profile(1.0)),
        stand(180, 0, 800, np.zeros(3)),
        stand(90, 0, 800, np.zeros(3)),
    )
    front = np.array([0.0, -1.0, 0.0])
    assert light(shape, behind, np.zeros(3), front) == 0
    whole = light(shape, beside, np.zeros(3), np.array([1.0, 0.0, 0.0]))
    assert 0 < light(shape, beside, np.zeros(3), front) < whole / 4


def test_power_counts_in_stops_and_size_keeps_the_flux() -> None:
    small, large = rectangle(300, 300, Profile(1.0)), rectangle(600, 300, Profile(1.0))
    assert emitters.radiance(small, 1.0, 700) == pytest.approx(2 * emitters.radiance(small, 0.0, 700))
    assert emitters.radiance(large, 0.0, 700) == pytest.approx(emitters.radiance(small, 0.0, 700) / 2)


def test_a_far_source_lights_as_a_near_lamp_of_its_power_and_looks_as_large_as_it_says() -> None:
    """0.53°, the sun (common knowledge): its edge is as wide as its distance says by the tangent."""
    sun = ring(far_diameter(0.53), 0.0, Profile(1.0))
    stood = stand(-40, 50, emitters.FAR, np.zeros(3))
    near = rectangle(40, 40, Profile(1.0))
    near_stood = stand(-40, 50, 600, np.zeros(3))
    far = pieces_of(sun, stood, emitters.radiance(sun, 0.0, emitters.FAR)).onto(np.zeros(3)).sum()
    close = pieces_of(near, near_stood, emitters.radiance(near, 0.0, 600)).onto(np.zeros(3)).sum()
    assert far == pytest.approx(close, rel=5e-3)
    assert math.degrees(2 * math.atan(sun.extent[0] / 2 / emitters.FAR)) == pytest.approx(0.53)


def test_a_graded_box_keeps_its_flux_and_is_darker_at_its_rim() -> None:
    """Common practice: a soft box falls to about a quarter at its rim."""
    shape = rectangle(400, 300, Profile(0.25))
    assert float((shape.glow * shape.areas).sum()) == pytest.approx(shape.area)
    picture = shape.picture(65)
    assert picture[32, 0] / picture[32, 32] == pytest.approx(0.25, abs=0.01)
    assert picture.mean() == pytest.approx(1.0, abs=0.03)


def test_a_lamp_faces_the_product() -> None:
    middle = np.array([0.0, 0.0, 50.0])
    shape = rectangle(300, 200, Profile(1.0))
    for azimuth, height in ((-50, 40), (140, 60), (0, 90), (90, 0)):
        stood = stand(azimuth, height, 700, middle)
        a, b, c = stood.placed(shape.points)[shape.triangles[0]]
        normal = np.cross(b - a, c - a)
        towards = middle - stood.middle
        assert normal @ towards / np.linalg.norm(normal) / np.linalg.norm(towards) == pytest.approx(1.0)
        assert np.linalg.norm(towards) == pytest.approx(700)


def edge_of(width: float, tall: float, height: float, distance: float, azimuth: float = 0.0) -> shadows.ShadowEdge:
    middle = np.array([0, 0, 50.0])
    return shadows.shadow_edge(
        pieces_of(rectangle(width, tall, Profile(1.0)), stand(azimuth, height, distance, middle), 1.0), middle
    )


def test_a_small_far_lamp_overhead_gives_the_edge_of_similar_triangles() -> None:
    """Lamp width × height of the edge / distance, of which 5 to 95 % of an even lamp are nine tenths (formula)."""
    edge = edge_of(60, 40, 90, 3000)
    assert edge.sides == pytest.approx(0.9 * 60 * 50 / 3000, rel=0.02)
    assert edge.end == pytest.approx(0.9 * 40 * 50 / 3000, rel=0.02)


def test_a_lamp_that_stands_too_low_has_no_whole_edge_on_the_floor() -> None:
    assert edge_of(100, 100, -10, 700, 20) == shadows.ShadowEdge(None, None)
    steep, low = (edge_of(300, 300, height, 700, 20) for height in (60, 30))
    assert low.end > 2 * steep.end
    assert low.sides > steep.sides


def test_key_to_fill_in_stops_and_a_word_for_the_edge() -> None:
    assert key_to_fill(3.0, 1.0) == pytest.approx(2.0)
    assert shadows.softness(2) == "crisp"
    assert shadows.softness(100) == "very soft"


def test_the_sweep_has_no_step() -> None:
    piece = sweep((1000, 1500), 600, 200, 900, "#FFFFFF")
    points, normals, triangles = piece.points, piece.normals, piece.triangles
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
