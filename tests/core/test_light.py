"""Greys and cast shadows of a box and a cylinder, against Lambert's law and similar triangles."""

import numpy as np
import pytest

from hollow_marble.core.drafting import light
from hollow_marble.core.drafting.box import Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.core.errors import HollowMarbleError

BOX = Placed(Camera((1200, 800), 2600, 0.6, 0.35), (60, 40, 100), (1180, 1100), 6.0)


def test_a_side_square_to_the_light_has_the_base_grey_and_one_turned_away_the_ambient():
    toward = np.array([0.0, -1.0, 0.0])
    front, back, side = light.shades(np.array([[0, -1.0, 0], [0, 1.0, 0], [1.0, 0, 0]]), toward, 200)
    assert front == pytest.approx(200, abs=1e-6)
    assert back == side
    assert light.to_linear(back) == pytest.approx(light.AMBIENT * light.to_linear(200))


def test_brightness_follows_the_cosine():
    """Lambert's cosine law, in linear light."""
    toward = np.array([0.0, 0.0, 1.0])
    angles = np.radians([0, 30, 60])
    normals = np.column_stack([np.sin(angles), 0 * angles, np.cos(angles)])
    linear = light.to_linear(light.shades(normals, toward, 220))
    caught = (linear / linear[0] - light.AMBIENT) / (1 - light.AMBIENT)
    assert caught == pytest.approx(np.cos(angles), abs=1e-9)


def test_greys_go_to_linear_light_and_back():
    """IEC 61966-2-1: sRGB 188 is about half the light."""
    levels = np.arange(256.0)
    assert light.to_grey(light.to_linear(levels)) == pytest.approx(levels, abs=1e-9)
    assert light.to_linear(188) == pytest.approx(0.503, abs=0.002)


def test_three_tones_are_lit_middle_and_shaded():
    toward = light.in_view(light.direction(-0.4, 0.7), 0.6)
    lit, middle, shaded = light.three_tones(toward, 210, 0.6)
    assert lit > middle > shaded
    sides = sorted((grey for _, grey in light.box_sides(BOX, toward, 210)), reverse=True)
    assert sides == pytest.approx([lit, middle, shaded])


def test_the_light_s_direction_is_a_unit_vector_towards_the_viewer():
    for across, up in ((0, 0), (0.5, 0.5), (-0.9, 0.1), (2.0, 2.0)):
        toward = light.direction(across, up)
        assert np.linalg.norm(toward) == pytest.approx(1)
        assert toward[1] <= 0


def test_a_shadow_is_as_long_as_similar_triangles_say():
    """A light at 45° throws a shadow as long as the thing is tall."""
    toward = np.array([0.0, -1.0, 1.0]) / np.sqrt(2)
    outline = light.cast_shadow(BOX, toward, "box")
    places = np.array([BOX.on_face("bottom", tuple(place)) for place in outline])
    assert places[:, 1].max() == pytest.approx(40 + 100)
    assert np.ptp(places[:, 0]) == pytest.approx(60)
    assert places[:, 1].min() == pytest.approx(0, abs=1e-6)


def test_a_cylinder_s_shadow_ends_in_the_image_of_its_top():
    toward = np.array([0.5, -0.6, 0.8]) / np.linalg.norm([0.5, -0.6, 0.8])
    places = np.array([BOX.on_face("bottom", tuple(p)) for p in light.cast_shadow(BOX, toward, "cylinder")])
    throw = -toward[:2] * 100 / toward[2]
    local = (places - (30, 20) - throw) / (30, 20)
    far = local[local @ throw > 0]
    assert len(far) > 20
    assert np.linalg.norm(far, axis=1) == pytest.approx(1, abs=1e-6)


def test_a_light_at_the_ground_throws_no_shadow():
    with pytest.raises(HollowMarbleError, match="Raise it"):
        light.cast_shadow(BOX, np.array([1.0, 0, 0.01]), "box")


def test_the_round_wall_is_lit_on_the_side_of_the_light():
    toward = light.in_view(light.direction(-0.9, 0.2), 0.6)
    strips = light.round_sides(BOX, toward, 220)
    middles = np.array([corners.mean(axis=0)[0] for corners, _ in strips[:-1]])
    greys = np.array([grey for _, grey in strips[:-1]])
    assert greys[middles < np.median(middles)].mean() > greys[middles > np.median(middles)].mean() + 20
    assert strips[-1][0].shape[1] == 2
