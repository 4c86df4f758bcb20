"""The soft edge of a shadow as it is told, against traced pictures of ten lamps at random: even ones and graded ones, panels and discs."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest

SCRIPT = """
import json, math
import numpy as np
from scipy.optimize import isotonic_regression
from hollow_marble.core.render import tracer
from hollow_marble.core.render.scene import Body, Glowing, Scene, Surface
from hollow_marble.core.studio import emitters, shadows
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made
tracer.choose_variant("scalar_rgb")
dice = np.random.default_rng(7)
HIGH, WIDE, TALL = 54.0, 80, 14
middle = np.array([0.0, 0.0, HIGH])

def sheet(corners, up):
    normals = np.tile(np.array([0, 0, up], "f4"), (4, 1))
    return Body(np.array(corners, "f4"), normals, np.array([[0, 1, 2], [0, 2, 3]], "u4"), Surface(Made("scatter", (0.5,) * 3 if up > 0 else (0.0,) * 3)))

def traced(lamp, across, edge, foot, reach):
    # from under the sheet, along the floor: each pixel's place on the floor by the geometry of the lens
    place = foot - edge * reach * 0.8 + (0, 0, HIGH * 0.95)
    lens = lens_at(place, foot, 18 * np.linalg.norm(place - foot) / (1.3 * reach), upright=False, roll=0, shift=(0, 0), aperture=None, focus=foot)
    floor = sheet([[-9e3, -9e3, 0], [9e3, -9e3, 0], [9e3, 9e3, 0], [-9e3, 9e3, 0]], 1)
    far = 9e3
    quad = [middle + across * a + edge * b for a, b in ((0, -far), (far, -far), (far, far), (0, far))]
    blocked = sheet(quad, -1)
    shaded, plain = (tracer.trace(tracer.build(Scene(bodies, [lamp], lens, np.zeros((2, 4, 3), "f4")), WIDE, TALL), 256, 3)[..., 1] for bodies in ([floor, blocked], [floor]))
    x, y = np.meshgrid(np.arange(WIDE) + 0.5, np.arange(TALL) + 0.5)
    rays = lens.rays(np.stack([x.ravel(), y.ravel()], axis=1), WIDE, TALL).reshape(TALL, WIDE, 3)
    down = rays[..., 2] < -1e-3
    hit = place + rays * (-place[2] / np.where(down, rays[..., 2], -1))[..., None] - foot
    near = down & (np.abs(hit @ edge) < 0.15 * reach) & (plain > 0)
    at, share = (hit @ across)[near], shaded[near] / plain[near]
    order = np.argsort(at); at, share = at[order], share[order]
    # smoothed over a fortieth of the reach, then where it crosses 5 and 95 %
    grid = np.linspace(-reach, reach, 241)
    weights = np.exp(-0.5 * ((grid[:, None] - at) / (reach / 60)) ** 2)
    curve = (weights * share).sum(axis=1) / weights.sum(axis=1)
    rising = isotonic_regression(curve if curve[0] < curve[-1] else curve[::-1]).x
    return float(np.interp(0.95, rising, grid) - np.interp(0.05, rising, grid))

found = []
while len(found) < 10:
    stood = emitters.stand(dice.uniform(-180, 180), dice.uniform(30, 75), dice.uniform(500, 1200), middle)
    # every other one is a graded lamp, every third a disc
    profile = emitters.Profile(1.0 if len(found) % 2 else 0.25)
    sides = dice.uniform(100, 600, 2)
    shape = emitters.ring(sides[0], 0.0, profile) if len(found) % 3 == 2 else emitters.rectangle(*sides, profile)
    lamp = Glowing(stood.placed(shape.points), shape.triangles, (5.0, 5.0, 5.0), shape.texture, None if profile.even else shape.picture())
    told = shadows.shadow_edge(emitters.pieces_of(shape, stood, 5.0), middle)
    away = stood.middle - middle
    along = np.array([away[0], away[1], 0.0]) / math.hypot(away[0], away[1])
    beside = np.array([-along[1], along[0], 0.0])
    foot = middle - away * HIGH / away[2]
    found.append([told.end, traced(lamp, along, beside, foot, 1.1 * told.end), told.sides, traced(lamp, beside, along, foot, 1.1 * told.sides)])
print(json.dumps(found))
"""


@pytest.fixture(scope="module")
def edges() -> list[list[float]]:
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=300)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


def test_edges_are_told_within_a_tenth_of_what_is_traced(edges: list[list[float]]) -> None:
    """Both directions, from 5 to 95 % of the lamp's light on the floor of the picture."""
    assert len(edges) == 10
    for end, traced_end, sides, traced_sides in edges:
        assert end == pytest.approx(traced_end, rel=0.1)
        assert sides == pytest.approx(traced_sides, rel=0.1)
