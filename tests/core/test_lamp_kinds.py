"""Kinds of lamps and what stands before them, traced and reckoned: beams, honeycombs, windows, far sources, surrounds."""

from __future__ import annotations

import json
import math
import subprocess
import sys

import numpy as np
import pytest

from hollow_marble.core.studio import emitters, screens
from hollow_marble.core.studio.emitters import LUX, Profile, pieces_of, rectangle, ring, stand

ORIGIN = np.zeros(3)


def test_a_window_lets_light_through_its_panes_only() -> None:
    screen = screens.window(200, 200, (2, 2), 20)
    start = np.array([0.0, 0.0, -100.0])
    ends = np.array([[50, 50, 100], [0, 50, 100], [50, 0, 100], [250, 0, 100.0]])
    # at the window's plane half way: (25, 25) a pane, (0, 25) and (25, 0) bars, (125, 0) the wall
    assert screen.clear(start, ends).tolist() == [True, False, False, False]


def test_blades_and_slats_cover_the_share_they_say() -> None:
    start = np.array([0.0, 0.0, -1e6])
    at = np.linspace(-99.5, 99.5, 200)
    across = np.stack([at, 0 * at, 0 * at + 1e6], axis=1) * 1.0
    across[:, :2] *= 2  # half way they lie at half of that
    assert screens.blades(200, 200, (0.25, 0.1, 0, 0)).clear(start, across).mean() == pytest.approx(0.65, abs=0.01)
    up = across[:, [1, 0, 2]]
    assert screens.slats(400, 200, 5, 0.3).clear(start, up).mean() == pytest.approx(0.7, abs=0.02)


def test_a_honeycomb_ends_where_it_says() -> None:
    """Cells as deep as their width over the tangent of half the spread (formula)."""
    screen = screens.honeycomb(280, 280, 40)
    start = np.array([0.0, 0.0, 1000.0])
    shape = rectangle(280, 280, Profile(1.0))
    middle = np.column_stack([shape.pieces, np.zeros(len(shape.pieces))])

    def through(degrees: float) -> float:
        side = np.array([1000 * math.tan(math.radians(degrees)), 0.0, 1000.0])
        far = np.array([0.0, 0.0, 0.0])
        clear = [screen.clear(side + piece - far, piece[None])[0] for piece in middle[::7]]
        return float(np.mean(clear))

    assert through(0) > 0.9
    assert through(24) == 0
    assert 0.3 < through(10) < 0.7
    assert screen.clear(start, middle).mean() > 0.6


def test_lux_is_what_a_light_meter_says() -> None:
    """EV 10 at ISO 100 is 2,560 lx on a flat receptor with C = 250 (ISO 2720)."""
    assert math.pi * LUX == pytest.approx(250 * 2**10 / 100)


SCRIPT = """
import json, math
import numpy as np
from hollow_marble.core.render import tracer
from hollow_marble.core.render.scene import Body, Glowing, Scene, Surface
from hollow_marble.core.studio import emitters, screens
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made
from hollow_marble.core.studio.surround import Area, painted, solid_angles, directions
tracer.choose_variant("scalar_rgb")
zeros = np.zeros((2, 4, 3), "f4")

def card(normal, side=60.0, shade=1.0):
    n = np.array(normal, float); up = np.array([0, 0, 1.0]) if abs(n[2]) < 0.9 else np.array([0, 1.0, 0])
    r = np.cross(up, n); r /= np.linalg.norm(r); u = np.cross(n, r)
    corners = np.array([-r - u, r - u, r + u, -r + u]) * side
    return Body(corners.astype("f4"), np.tile(n, (4, 1)).astype("f4"), np.array([[0, 1, 2], [0, 2, 3]], "u4"), Surface(Made("scatter", (shade,) * 3)))

def light_on(normal, lamps, bodies=(), surround=zeros, samples=256, wide=4.0):
    n = np.array(normal, float)
    lens = lens_at(n * 400, np.zeros(3), 18 / (wide / 400), upright=False, roll=0, shift=(0, 0), aperture=None, focus=np.zeros(3))
    image = tracer.trace(tracer.build(Scene([card(normal), *bodies], lamps, lens, surround), 16, 16), samples, 3)
    return (image.mean(axis=(0, 1)) * math.pi).tolist()

def placed(shape, stood, glow):
    return Glowing(stood.placed(shape.points), shape.triangles, (glow,) * 3, shape.texture, None if shape.profile.even else shape.picture())

def black(screen, stood, ahead):
    places = stood.placed(screen.sheets.reshape(-1, 3), ahead)
    k = 4 * np.arange(len(screen.sheets))[:, None]
    triangles = np.concatenate([k + np.array(way) for way in ((0, 1, 2), (0, 2, 3))])
    return Body(places.astype("f4"), np.tile([0, 0, 1], (len(places), 1)).astype("f4"), triangles.astype("u4"), Surface(Made("scatter", (0.0,) * 3)))

out = {}
up = (0, 0, 1)
for name, shape in (("graded", emitters.rectangle(300, 500, emitters.Profile(0.25))), ("disc", emitters.ring(300, 0, emitters.Profile(0.3))), ("ring", emitters.ring(400, 260, emitters.Profile(1.0)))):
    stood = emitters.stand(-30, 55, 600, np.zeros(3))
    out[name] = [light_on(up, [placed(shape, stood, 4.0)])[1], float(emitters.pieces_of(shape, stood, 4.0).onto(np.zeros(3), np.array(up, float)).sum())]
# a spot's beam across a card far below it
shape = emitters.ring(20, 0, emitters.Profile(1.0)); stood = emitters.stand(0, 90, 1000, np.zeros(3))
tube = black(screens.tube(20, 20, 0.5), stood, 0.0)
lens = lens_at(np.array([0, -1, 900.0]), np.zeros(3), 18 / (400 / 900), upright=False, roll=0, shift=(0, 0), aperture=None, focus=np.zeros(3))
image = tracer.trace(tracer.build(Scene([card(up, 900.0), tube], [placed(shape, stood, 3000.0)], lens, zeros), 161, 41), 96, 3)[..., 1]
row = image[16:25].mean(axis=0); x = (np.arange(161) + 0.5) / 161 * 800 - 400
out["beam"] = [[float(v) for v in x], [float(v) for v in row / row[75:86].mean()]]
# a panel of the surround at azimuth 90: on cards that face it, that face away, and on one that looks up
area = Area(90.0, 20.0, 30.0, 50.0, 0.0, 0.0, False, (2.0, 2.0, 2.0))
image = painted(np.zeros((256, 512, 3), "f4"), [area])
look, solid = directions(512, 256), solid_angles(512, 256)[:, None]
for name, normal in (("right", (1, 0, 0)), ("left", (-1, 0, 0)), ("up", up), ("front", (0, -1, 0))):
    reckoned = float((image[..., 1] * np.maximum(look @ np.array(normal, float), 0) * solid).sum())
    out["surround " + name] = [light_on(normal, [], surround=image, samples=400)[1], reckoned]
print(json.dumps(out))
"""


@pytest.fixture(scope="module")
def traced() -> dict:
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


@pytest.mark.parametrize("kind", ["graded", "disc", "ring"])
def test_a_traced_lamp_gives_the_light_it_is_told_to_give(traced: dict, kind: str) -> None:
    found, reckoned = traced[kind]
    assert found == pytest.approx(reckoned, rel=0.015)


def test_a_traced_beam_is_full_inside_its_angle_and_dark_past_its_edge(traced: dict) -> None:
    """Beam 20°, edge a half of it: full to 5° from its middle, none from 15° (similar triangles in the tube), at 1,000 mm."""
    x, row = (np.array(values) for values in traced["beam"])
    full, none = 1000 * math.tan(math.radians(5)), 1000 * math.tan(math.radians(15))
    assert row[np.abs(x) < full - 8].min() > 0.9
    assert row[np.abs(x) > none + 8].max() < 0.02
    half = np.interp(0.5, row[x > 0][::-1], x[x > 0][::-1])
    assert full < half < none


@pytest.mark.parametrize("side", ["right", "left", "up", "front"])
def test_a_panel_of_the_surround_shines_from_where_it_was_placed(traced: dict, side: str) -> None:
    found, reckoned = traced[f"surround {side}"]
    assert found == pytest.approx(reckoned, rel=0.03, abs=2e-3)


def test_a_far_lamp_and_a_disc_have_the_area_they_say() -> None:
    assert ring(300, 0, Profile(1.0)).area == pytest.approx(math.pi * 150**2)
    points = ring(300, 100, Profile(1.0)).points
    assert np.linalg.norm(points, axis=1).max() == pytest.approx(150, rel=2e-3)
    stood = stand(0, 0, emitters.FAR, ORIGIN)
    assert pieces_of(rectangle(10, 10, Profile(1.0)), stood, 1.0).places[:, 1] == pytest.approx(-emitters.FAR)
