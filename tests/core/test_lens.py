"""The camera against similar triangles, the thin lens and the light meter; measured on traced pictures where light is traced."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest

from hollow_marble.core.studio import camera
from hollow_marble.core.studio.camera import Lens, depth_of_field, lens_at, shutter

ORIGIN = np.zeros(3)


def lens(place: tuple[float, float, float], focal: float = 50.0, target: np.ndarray = ORIGIN, **how: object) -> Lens:
    given = {"upright": False, "roll": 0.0, "shift": (0.0, 0.0), "aperture": None, "focus": ORIGIN, **how}
    return lens_at(np.array(place), target, focal, **given)  # type: ignore[arg-type]


def test_a_cubes_width_in_the_frame_by_similar_triangles() -> None:
    """A front 60 mm wide, 600 mm away, through 50 mm on a frame of 36 mm: 60 / 600 × 50 / 36 of the frame (formula)."""
    ends = lens((0, -600, 0)).seen(np.array([[-30, 0, 0], [30, 0, 0.0]]), 1200, 800)
    assert ends[1, 0] - ends[0, 0] == pytest.approx(1200 * 60 / 600 * 50 / 36)
    assert ends[:, 1] == pytest.approx([400, 400])


def test_a_line_of_sight_goes_back_to_its_pixel() -> None:
    view = lens((200, -500, 260), 85, upright=True, roll=12, shift=(3.0, -4.5))
    pixels = np.array([[0, 0], [640, 400], [1279.5, 13.25]])
    ways = view.rays(pixels, 1280, 800)
    assert view.seen(view.place + 700 * ways, 1280, 800)[:, :2] == pytest.approx(pixels)


def test_upright_edges_stay_upright_and_the_target_stays_in_the_middle() -> None:
    """What a shift lens is for: a level camera sees plumb lines parallel (common practice)."""
    tall = np.array([[-40, 0, 0], [-40, 0, 300], [40, 0, 0], [40, 0, 300.0]])
    target = np.array([0, 0, 150.0])
    leaning = lens((0, -700, 600), target=target).seen(tall, 1200, 800)
    upright = lens((0, -700, 600), target=target, upright=True)
    shown = upright.seen(tall, 1200, 800)
    assert abs(leaning[0, 0] - leaning[1, 0]) > 10
    assert shown[0, 0] == pytest.approx(shown[1, 0], abs=1e-9)
    assert shown[2, 0] == pytest.approx(shown[3, 0], abs=1e-9)
    assert upright.seen(target[None], 1200, 800)[0, :2] == pytest.approx([600, 400])


def test_a_roll_turns_the_picture_and_a_shift_moves_it_by_its_share_of_the_frame() -> None:
    plain, rolled, moved = (lens((0, -500, 0), **how) for how in ({}, {"roll": 90.0}, {"shift": (3.6, 0.0)}))
    place = np.array([[20, 0, 0.0]])
    x, y, _ = plain.seen(place, 1000, 1000)[0]
    assert rolled.seen(place, 1000, 1000)[0, :2] == pytest.approx([500, 500 - (x - 500)], abs=1e-6)
    assert moved.seen(place, 1000, 1000)[0, 0] == pytest.approx(x - 100)
    assert y == pytest.approx(500)


def test_depth_of_field_is_that_of_the_published_formulas() -> None:
    """Ray, Applied Photographic Optics, 3rd ed.: 50 mm at f/8 and c = 0.03 mm: H = 10.47 m; focused there, half of it to infinity is sharp."""
    far = depth_of_field(50, 8, 10_466.67)
    assert far.hyperfocal == pytest.approx(10_466.67, abs=0.01)
    assert far.far is None or far.far > 1e6
    assert far.near == pytest.approx(10_466.67 / 2, rel=0.01)
    near = depth_of_field(85, 11, 520)
    # close up it is nearly even on both sides: 2 N c (u - f) u / f² in all
    assert near.far - near.near == pytest.approx(2 * 11 * 0.03 * 520 * (520 - 85) / 85**2, rel=0.01)


def test_the_shutter_of_a_bright_day() -> None:
    """EV 15 at ISO 100, the sun: f/16 at 1/128 s (common practice, “sunny sixteen”)."""
    assert 1 / shutter(16, 15) == pytest.approx(128)


def test_a_lens_that_looks_straight_down_has_a_frame() -> None:
    view = lens((0, 0, 500))
    assert np.linalg.det(np.stack([view.right, view.up, -view.forward])) == pytest.approx(1.0)


SCRIPT = """
import json, math
import numpy as np
from hollow_marble.core.render import tracer
from hollow_marble.core.render.scene import Body, Glowing, Scene, Surface
from hollow_marble.core.studio import emitters
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made
tracer.choose_variant("scalar_rgb")

def sheet(x0, x1, z0, z1, y, shade):
    corners = np.array([[x0, y, z0], [x1, y, z0], [x1, y, z1], [x0, y, z1]], "f4")
    return Body(corners, np.tile([0, -1, 0], (4, 1)).astype("f4"), np.array([[0, 1, 2], [0, 2, 3]], "u4"), Surface(Made("scatter", (shade,) * 3)))

ones = np.ones((2, 4, 3), "f4")
out = {}
# a bright point 400 mm behind what is sharp: how wide its blur disc is
place = np.array([0, -500, 0.0])
lens = lens_at(place, np.zeros(3), 50, upright=False, roll=0, shift=(0, 0), aperture=2.0, focus=np.zeros(3))
point = emitters.rectangle(1.0, 1.0, emitters.Profile(1.0))
stood = emitters.stand(180, 0, 400, np.zeros(3))
star = Glowing(stood.placed(point.points), point.triangles, (1.0,) * 3)
image = tracer.trace(tracer.build(Scene([], [star], lens, 0 * ones), 300, 300), 320, 1)[..., 1]
# an even disc of radius r has a mean square distance of r² / 2 from its middle, each way r² / 4
y, x = np.mgrid[0:300, 0:300] + 0.5
weight = image / image.sum()
out["blur"] = float(4 * math.sqrt((weight * (x - (weight * x).sum()) ** 2).sum()))
# a tall dark block under a shifted frame: its edges, row by row
lens = lens_at(np.array([0, -700, 600.0]), np.array([0, 0, 150.0]), 50, upright=True, roll=0, shift=(0, 0), aperture=None, focus=np.zeros(3))
image = tracer.trace(tracer.build(Scene([sheet(-40, 40, 20, 280, 0, 0.0)], [], lens, ones), 240, 200), 64, 1)[..., 1]
rows = np.flatnonzero(image.min(axis=1) < 0.02)[4:-4]
out["left"] = [float((image[row, :120]).sum()) for row in (rows[0], rows[len(rows) // 2], rows[-1])]
out["middle"] = float(rows.mean())
out["told"] = [float(v) for v in lens.seen(np.array([[-40, 0, 150.0]]), 240, 200)[0, :2]]
print(json.dumps(out))
"""


@pytest.fixture(scope="module")
def traced() -> dict:
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


def test_a_traced_blur_disc_is_as_wide_as_the_thin_lens_says(traced: dict) -> None:
    """A / s × (s' - s) / s' of the sharp plane, seen as so many px: A = 50 / 2 mm, s = 500, s' = 900 (similar triangles)."""
    at_sharp_plane = 25 * (900 - 500) / 900
    px_a_mm = 300 / (36 / 50 * 500)
    assert traced["blur"] == pytest.approx(at_sharp_plane * px_a_mm, rel=0.04)


def test_traced_upright_edges_stay_upright_and_lie_where_they_are_told(traced: dict) -> None:
    left = traced["left"]
    assert max(left) - min(left) < 0.15, "px over the height of the block"
    assert np.mean(left) == pytest.approx(traced["told"][0], abs=0.6), "the shift is kept to whole px"
    assert traced["middle"] == pytest.approx(traced["told"][1], abs=1.2)


def test_an_exposure_more_is_half_the_light_and_white_is_what_the_camera_is_set_to() -> None:
    from hollow_marble.core.studio.colour import warmth_to_rgb
    from hollow_marble.documents.studio.model import Camera, Setting
    from hollow_marble.documents.studio.staging import gain_of

    plain, darker = (np.array(gain_of(Setting(camera=Camera(exposure=ev)))) for ev in (10, 11))
    assert plain / darker == pytest.approx(2.0)
    warm = np.array(gain_of(Setting(camera=Camera(white=3200)))) * warmth_to_rgb(3200)
    assert warm == pytest.approx(np.full(3, warm[0])), "a lamp of the camera's white is neutral"
    assert camera.NORMAL_EXPOSURE == 10
