"""Light transport against physics, in a process of its own (the library aborts where it cannot run)."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest

from hollow_marble.core.render.develop import Exposure, psnr

SCRIPT = """
import json, math
import numpy as np
from hollow_marble.core.render import tracer
from hollow_marble.core.render.scene import Body, Lens, Material, Panel, Scene
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.skin import plan_skin, evaluate
tracer.choose_variant("scalar_rgb")

def body(material, size=40.0):
    cage = starts.box((size,) * 3, (1, 1, 1)); plan = plan_skin(cage, 3); skin = evaluate(plan, cage.points)
    return Body(skin.positions, (skin.normals[:, :3] / 32767).astype("f4"), plan.triangles, material)

lens = Lens(np.array([0.0, -300.0, 0.0]), np.zeros(3), math.radians(20))
out = {}
# white furnace: a body that absorbs nothing vanishes in uniform light
for kind in ("backdrop", "clear glass", "polished metal"):
    scene = Scene([body(Material(kind, (1.0, 1.0, 1.0)))], [], lens, (1.0, 1.0, 1.0))
    image = tracer.trace(tracer.build(scene, 48, 48), 64, 1)
    out[kind] = [float(image[20:28, 20:28].mean()), float(image[:4].mean())]

# a card under a panel: radiance = albedo * irradiance / pi
from hollow_marble.core.studio import lamps
corners = lamps.lamp_corners(0, 0, 600, 200, 200, np.zeros(3))
card = np.array([[-50, 0, -50], [50, 0, -50], [50, 0, 50], [-50, 0, 50]], "f4")
flat = Body(card, np.tile(np.array([[0, -1, 0]], "f4"), (4, 1)), np.array([[0, 1, 2], [0, 2, 3]], "u4"), Material("backdrop", (0.5, 0.5, 0.5)))
scene = Scene([flat], [Panel(corners, (3.0, 3.0, 3.0))], lens, (0.0, 0.0, 0.0))
image = tracer.trace(tracer.build(scene, 32, 32), 256, 2)
out["card"] = float(image[14:18, 14:18].mean())
out["expected"] = 0.5 * lamps.irradiance(corners, 3.0, np.zeros(3), np.array([0.0, -1.0, 0.0])) / math.pi
behind = Scene([flat], [Panel(corners[::-1], (3.0, 3.0, 3.0))], lens, (0.0, 0.0, 0.0))
out["behind"] = float(tracer.trace(tracer.build(behind, 32, 32), 16, 2).mean())
albedo, normal = tracer.trace_layers(tracer.build(scene, 32, 32))
out["albedo"], out["normal"] = albedo[16, 16].tolist(), normal[16, 16].tolist()
print(json.dumps(out))
"""


@pytest.fixture(scope="module")
def traced() -> dict:
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


@pytest.mark.parametrize("kind", ["backdrop", "clear glass"])
def test_white_furnace(traced: dict, kind: str) -> None:
    """A non-absorbing object in uniform light vanishes (common practice); ten bounces lose a little in glass."""
    middle, around = traced[kind]
    assert around == pytest.approx(1.0, abs=1e-4)
    assert middle == pytest.approx(1.0, abs=0.02)


def test_metal_gives_no_light_of_its_own(traced: dict) -> None:
    """Single-scattering microfacets lose light where they shadow one another, never gain."""
    assert 0.9 < traced["polished metal"][0] <= 1.001


def test_a_card_has_the_radiance_the_closed_form_says(traced: dict) -> None:
    """E from Lambert's formula (Howell's catalogue), L = albedo E / pi."""
    assert traced["card"] == pytest.approx(traced["expected"], rel=0.02)


def test_a_panel_lights_on_one_side_only(traced: dict) -> None:
    assert traced["behind"] == 0


def test_the_layers_for_cleaning_are_albedo_and_normal(traced: dict) -> None:
    assert traced["albedo"] == pytest.approx([0.5] * 3, abs=1e-3)
    assert traced["normal"] == pytest.approx([0, -1, 0], abs=1e-3)


def test_noise_is_the_standard_error_of_the_mean() -> None:
    """Passes of known variance: relative error = sigma / sqrt(passes) / mean."""
    rng = np.random.default_rng(3)
    exposure = Exposure.blank(60, 40)
    assert exposure.noise() is None
    for _ in range(25):
        exposure.add((2.0 + rng.normal(0, 0.3, (40, 60, 1)) * np.ones(3)).astype(np.float32), 8)
    assert exposure.samples == 200
    assert exposure.noise() == pytest.approx(0.3 / 5 / 2.0, rel=0.05)
    assert exposure.mean.mean() == pytest.approx(2.0, abs=0.01)


def test_light_that_is_not_a_number_counts_as_none() -> None:
    exposure = Exposure.blank(2, 1)
    exposure.add(np.array([[[np.nan] * 3, [1.0] * 3]], np.float32), 4)
    assert exposure.mean[0].tolist() == [[0, 0, 0], [1, 1, 1]]


def test_psnr_of_a_known_error() -> None:
    assert psnr(np.full((4, 4), 0.6), np.full((4, 4), 0.5)) == pytest.approx(20.0)
