"""Pictures of probes without a screen: what a px meets, the colours of maps, and that both sides hold the same scale."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest

from hollow_marble.core.surface.pictures import (
    GROUND,
    SCALES,
    Camera,
    camera_on,
    close_up,
    colour_at,
    look,
    mapped,
    probe_pictures,
    stripes,
)
from tests.core.surfaces import sphere

Y = np.array([0.0, 1.0, 0.0])


def test_a_px_meets_what_the_formula_for_a_sphere_says() -> None:
    """A ray from d before a sphere of radius r meets it at d cos a − √(r² − d² sin² a)."""
    ball = sphere(10.0, (192, 96))
    camera = Camera(np.array([0.0, -60.0, 0.0]), np.zeros(3), 61, 61)
    sight = look([ball], camera)
    cosine = camera.ways()[sight.px] @ Y
    wanted = 60 * cosine - np.sqrt(100 - 3600 * (1 - cosine**2))
    inner = cosine > np.cos(np.arcsin(0.9 * 10 / 60))
    assert sight.far.ravel()[sight.px][inner] == pytest.approx(wanted[inner], abs=0.02)
    seen = camera.seen(sight.place)
    assert np.floor(seen[:, 1]).astype(int) * 61 + np.floor(seen[:, 0]).astype(int) == pytest.approx(sight.px)


def test_all_of_a_form_is_in_its_picture() -> None:
    balls = [sphere(6.0, middle=(20.0, 0, 0)), sphere(4.0, middle=(-15.0, 3.0, 9.0))]
    sight = look(balls, camera_on(balls, 0.6, 0.3, 120, 160))
    rim = np.concatenate([sight.far[[0, -1]].ravel(), sight.far[:, [0, -1]].ravel()])
    assert np.isinf(rim).all()
    assert set(sight.surface.tolist()) == {0, 1}


def test_a_maps_ends_have_its_scales_ends() -> None:
    ball = sphere(10.0)
    sight = look([ball], Camera(np.array([0.0, -60.0, 0.0]), np.zeros(3), 41, 41))
    colours = mapped(sight, [ball.points[:, 2]], -10.0, 10.0, "both")
    top, low = colours[sight.place[:, 2].argmax()], colours[sight.place[:, 2].argmin()]
    assert top[0] > top[2], "ochre"
    assert low[2] > low[0], "violet"
    picture = sight.picture(colours)
    assert tuple(picture[0, 0]) == GROUND


def test_stripes_follow_the_mirror_of_the_surface() -> None:
    """Square on to the eye the mirror looks back: there the band is that of the eye's own direction."""
    ball = sphere(10.0, (192, 96))
    sight = look([ball], Camera(np.array([0.0, -60.0, 0.0]), np.zeros(3), 81, 81))
    shades = stripes(sight, np.array([0.0, 0.0, 1.0]), 12)
    row = sight.place[:, 0].round(6)
    column = np.abs(row) == np.abs(row).min()
    changes = np.abs(np.diff(shades[column][:, 0] > 0.4)).sum()
    # from rim to rim the mirror goes up to the pole, back, down to the other and back: four times a quarter of 2 · 12 borders at the most
    assert 24 <= changes <= 48


def test_the_interface_holds_the_same_scales() -> None:
    text = (Path(__file__).parents[2] / "frontend" / "src" / "view3d" / "probing" / "scales.ts").read_text()
    for name, constant in (("both", "BOTH"), ("one", "ONE")):
        block = re.search(rf"const {constant}: readonly Stop\[\] = \[(.*?)\n\];", text, re.S)
        assert block is not None
        stops = [tuple(float(v) for v in row.split(",")) for row in re.findall(r"\[([^\]]+)\]", block[1])]
        assert stops == [tuple(stop) for stop in SCALES[name]]


def test_equal_steps_of_a_scale_are_about_as_far_apart() -> None:
    """In OKLab, where distance is about what is seen (Ottosson 2020): no step is more than twice another's length."""
    for name in SCALES:
        stops = np.array(SCALES[name])
        at = np.stack([np.interp(np.linspace(0, len(stops) - 1, 33), range(len(stops)), stops[:, k]) for k in range(3)])
        steps = np.linalg.norm(np.diff(at.T, axis=0), axis=1)
        assert steps.max() < 2.2 * steps.min(), name
        assert (colour_at(name, np.linspace(0, 1, 33)) <= 1).all()


def test_a_report_has_all_its_pictures_and_a_close_up_its_place() -> None:
    ball = sphere(10.0, (48, 24))
    told: list[float] = []
    found = probe_pictures([ball], np.array([0.0, -1.0, 0.0]), 60, 80, told.append)
    assert found.end == pytest.approx(0.1, rel=1e-3), "1/r"
    assert told == sorted(told)
    for picture in (found.plaster, found.stripes, found.behind, found.curvature, found.draft):
        assert picture.shape == (80, 60, 3)
        assert picture.std() > 5
    picture, at = close_up([ball], np.array([0.0, -10.0, 0.0]), 64, 40)
    assert at == pytest.approx([32, 20])
    assert tuple(picture[20, 32]) != GROUND
