"""Maps of surroundings: energy by solid angle, files read back by independent readers, the CIE's skies."""

from __future__ import annotations

import math
import os
import subprocess
import sys
from pathlib import Path

import cv2
import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio import rgbe, sky
from hollow_marble.core.studio.surround import (
    Area,
    area_solid_angle,
    directions,
    mirror_ball,
    needed_width,
    painted,
    solid_angles,
    turned,
)
from hollow_marble.exchange.surrounds import exr, read_exr, read_surround

BLACK = np.zeros((512, 1024, 3), np.float32)
DICE = np.random.default_rng(5)
LIGHT = (DICE.lognormal(0, 2.5, (24, 48, 3))).astype(np.float32)


def energy(image: np.ndarray) -> float:
    return float((image[..., 1] * solid_angles(image.shape[1], image.shape[0])[:, None]).sum())


def test_all_pixels_together_are_the_whole_sphere() -> None:
    assert float(solid_angles(256, 128).sum() * 256) == pytest.approx(4 * math.pi)
    assert np.linalg.norm(directions(64, 32), axis=-1) == pytest.approx(1.0)


@pytest.mark.parametrize("height", [0, 20, 45, 63, 80, 89, -70])
@pytest.mark.parametrize("size", [(30, 50), (12, 8)])
def test_a_panel_gives_the_light_of_its_solid_angle_however_high_it_sits(
    height: float, size: tuple[float, float]
) -> None:
    """Omega = 4 asin(a b / sqrt((1 + a²)(1 + b²))) of a rectangle on the tangent plane (formula), to 1e-3."""
    area = Area(37.0, height, *size, 15.0, 0.0, False, (1.0, 1.0, 1.0))
    assert energy(painted(BLACK, [area])) == pytest.approx(area_solid_angle(area), rel=1e-3)


def test_a_panel_over_the_pole_keeps_its_shape() -> None:
    """Seen from the middle it spans as many degrees along both of its sides as one at the horizon."""
    for height in (0.0, 85.0):
        image = painted(BLACK, [Area(0.0, height, 30.0, 30.0, 0.0, 0.0, False, (1.0, 1.0, 1.0))])
        look = directions(1024, 512)[image[..., 1] > 0.5]
        middle = np.array([0, -math.cos(math.radians(height)), math.sin(math.radians(height))])
        away = np.degrees(np.arccos(np.clip(look @ middle, -1, 1)))
        assert away.max() == pytest.approx(math.degrees(math.atan(math.sqrt(2) * math.tan(math.radians(15)))), abs=0.7)


def test_a_flag_takes_away_and_a_soft_edge_fades() -> None:
    white = np.ones_like(BLACK)
    flagged = painted(white, [Area(0.0, 0.0, 60.0, 60.0, 0.0, 0.0, True, (0.0, 0.0, 0.0))])
    cone = 2 * math.pi * (1 - math.cos(math.radians(30)))
    assert energy(white) - energy(flagged) == pytest.approx(cone, rel=5e-3)
    soft = painted(BLACK, [Area(180.0, 0.0, 60.0, 60.0, 0.0, 0.5, False, (1.0, 1.0, 1.0))])
    row = soft[256, 512:700, 1]
    assert row[0] == pytest.approx(1.0)
    assert (np.diff(row) <= 1e-6).all()
    assert ((row > 0.1) & (row < 0.9)).sum() > 15


def test_turning_moves_what_is_in_front_and_lifting_tips_it() -> None:
    image = painted(BLACK, [Area(90.0, 0.0, 10.0, 10.0, 0.0, 0.0, False, (1.0, 1.0, 1.0))])
    aside = turned(image, 30.0, 0.0)
    assert directions(1024, 512)[np.unravel_index(aside[..., 1].argmax(), (512, 1024))] @ np.array(
        [math.sin(math.radians(120)), -math.cos(math.radians(120)), 0]
    ) > math.cos(math.radians(9))
    front = painted(BLACK, [Area(0.0, 0.0, 10.0, 10.0, 0.0, 0.0, False, (1.0, 1.0, 1.0))])
    lifted = turned(front, 0.0, 30.0)
    assert directions(1024, 512)[np.unravel_index(lifted[..., 1].argmax(), (512, 1024))][2] == pytest.approx(
        0.5, abs=0.1
    )
    assert energy(lifted) == pytest.approx(energy(front), rel=0.02)


def test_a_mirror_ball_shows_the_front_in_its_middle_and_the_right_on_its_right() -> None:
    """The middle of a ball mirrors the one who looks (law of reflection); half way out to the right it mirrors the right."""
    for azimuth, column in ((0.0, 100), (90.0, 171)):
        ball = mirror_ball(painted(BLACK, [Area(azimuth, 0.0, 20.0, 20.0, 0.0, 0.0, True, (1.0, 1.0, 1.0))]), 200)
        assert ball[100, :, 1].argmax() == pytest.approx(column, abs=12)


def test_what_is_rough_needs_few_pixels() -> None:
    """Common practice: 1024 × 512 is enough for satin, 512 × 256 for rough, chrome needs more."""
    assert [needed_width(roughness) for roughness in (0.5, 0.3, 0.15, 0.06, 0.0)] == [256, 512, 1024, 2048, 4096]


def test_a_radiance_file_is_read_back_by_an_independent_reader(tmp_path: Path) -> None:
    """OpenCV's reader; one part in 256 of the brightest channel is what the format holds (Ward 1991)."""
    path = tmp_path / "map.hdr"
    path.write_bytes(rgbe.encoded(LIGHT))
    seen = cv2.imread(str(path), cv2.IMREAD_ANYDEPTH | cv2.IMREAD_COLOR)[..., ::-1]
    assert np.abs(seen - LIGHT).max(axis=-1) == pytest.approx(np.zeros((24, 48)), abs=float(LIGHT.max()) / 250)
    assert (np.abs(seen - LIGHT).max(axis=-1) <= LIGHT.max(axis=-1) / 127).all()
    assert float(seen.mean()) == pytest.approx(float(LIGHT.mean()), rel=2e-3), "no energy is lost"
    assert rgbe.decoded(path.read_bytes()) == pytest.approx(seen)


def test_a_radiance_file_of_an_independent_writer_is_read(tmp_path: Path) -> None:
    path = tmp_path / "theirs.hdr"
    cv2.imwrite(str(path), np.ascontiguousarray(LIGHT[..., ::-1]))
    assert rgbe.decoded(path.read_bytes()) == pytest.approx(LIGHT, rel=0.02, abs=float(LIGHT.max()) / 120)


def test_an_openexr_file_is_read_back_bit_by_bit_by_an_independent_reader(tmp_path: Path) -> None:
    """The reader of the light transport library, in a process of its own."""
    path = tmp_path / "map.exr"
    path.write_bytes(exr(LIGHT))
    script = "import sys, numpy as np, mitsuba as mi; mi.set_variant('scalar_rgb'); np.save(sys.argv[2], np.array(mi.Bitmap(sys.argv[1])))"
    subprocess.run(
        [sys.executable, "-c", script, str(path), str(tmp_path / "seen.npy")],
        check=True,
        timeout=60,
        env={**os.environ},
    )
    seen = np.load(tmp_path / "seen.npy")[..., :3]
    assert np.array_equal(seen.astype(np.float32), LIGHT)
    assert np.array_equal(read_exr(path.read_bytes(), "map.exr"), LIGHT)


@pytest.mark.parametrize("cut", [40, 200, 1500])
def test_a_file_that_breaks_off_is_told(cut: int) -> None:
    for data in (rgbe.encoded(LIGHT), exr(LIGHT)):
        with pytest.raises(HollowMarbleError, match=r"breaks off|damaged or cut short|not a Radiance"):
            read_surround(data[:cut], "map", "display")


def test_what_is_no_light_is_told() -> None:
    nan = LIGHT.copy()
    nan[3, 4] = np.nan
    with pytest.raises(HollowMarbleError, match="1 px that are not numbers"):
        read_surround(exr(nan), "map.exr", "display")
    with pytest.raises(HollowMarbleError, match="below nothing"):
        read_surround(exr(-LIGHT), "map.exr", "display")
    with pytest.raises(HollowMarbleError, match="not a PNG"):
        read_surround(b"hello", "map.txt", "display")
    with pytest.raises(HollowMarbleError, match=r"says it is 60000 × 40000 px"):
        rgbe.decoded(b"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 40000 +X 60000\n" + bytes(100))
    with pytest.raises(HollowMarbleError, match="breaks off"):
        rgbe.decoded(b"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 4000 +X 8000\n\x02\x02\x1f\x40" + bytes(90))


def test_an_ordinary_picture_is_display_values_or_light() -> None:
    """sRGB 188 is half the light (IEC 61966-2-1)."""
    png = cv2.imencode(".png", np.full((16, 32, 3), 188, np.uint8))[1].tobytes()
    display, linear = (
        float(rgbe.decoded(read_surround(png, "p.png", values)).mean()) for values in ("display", "linear")
    )  # type: ignore[arg-type]
    assert display == pytest.approx(0.503, abs=0.004)
    assert linear == pytest.approx(188 / 255, abs=0.004)


def test_skies_are_those_of_the_cie() -> None:
    """ISO 15469: an overcast zenith is about three times as bright as its horizon; a clear sky is brightest round its sun."""
    angles = np.array([0.0, math.pi / 2 - 1e-3])
    away = np.array([0.5, 1.2])
    top, low = sky.relative(angles, away, 0.7, sky.OVERCAST)
    assert top == pytest.approx(1.0)
    assert top / low == pytest.approx(3.0, rel=0.12)
    near, far = sky.relative(np.array([0.7, 0.7]), np.array([0.02, 1.5]), 0.7, sky.CLEAR)
    assert near > 5 * far


def test_a_sky_gives_a_level_card_the_light_it_is_told_to_and_its_sun_the_rest() -> None:
    for height, haze in ((60.0, 0.0), (25.0, 0.4), (50.0, 1.0)):
        image = sky.sky_map(-40.0, height, haze, 2.0, 256)
        above = np.maximum(directions(256, 128)[..., 2], 0) * solid_angles(256, 128)[:, None]
        luminance = image @ np.array([0.2126, 0.7152, 0.0722])
        assert float((luminance * above * (directions(256, 128)[..., 2] > 0)).sum()) == pytest.approx(
            2 * math.pi, rel=0.02
        )
    assert sky.sun_share(60, 0.0) > 0.7 > sky.sun_share(10, 0.0)
    assert sky.sun_share(60, 1.0) == 0
    assert sky.sun_warmth(2) < 3000 < 5000 < sky.sun_warmth(70)
