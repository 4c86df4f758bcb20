"""Light transport against physics, in a process of its own (the library aborts where it cannot run)."""

from __future__ import annotations

import json
import os
import subprocess
import sys

import numpy as np
import pytest

from hollow_marble.core.render.develop import BLURRED, Exposure, next_pass, psnr
from hollow_marble.core.studio.colour import hex_to_linear
from hollow_marble.jobs.local import FAST, render_trade
from tests.core import colours

KINDS = ["matte plastic", "gloss plastic", "rubber", "polished metal", "clear glass"]
GREYS = [(0.05, 0.1, 0.18), (0.4, 0.6, 0.9)]
CHIPS = ["#86A48B", "#7A4B34", "#D8D3CA", "#2F5D8A", "#C2553A", "#E0C04F", "#6B4C7A", "#4A4F52"]
"""Greys of 5 to 90 % of the light, three at once, and colours of the trade's kind: muted, warm, clear, dark."""

COLOURS = [*GREYS, *(tuple(hex_to_linear(chip)) for chip in CHIPS)]
GIVEN = f"""
KINDS = {KINDS}
CHIPS = {[[float(v) for v in colour] for colour in COLOURS]}
"""

SCRIPT = """
import json, math
import numpy as np
from hollow_marble.core.render import tracer
from dataclasses import replace
from hollow_marble.core.render.scene import Body, Glowing, Scene, Surface
from hollow_marble.core.studio import emitters
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made, made_in
from hollow_marble.core.cage import starts
from hollow_marble.core.cage.skin import plan_skin, evaluate
tracer.choose_variant("scalar_rgb")

def surface(kind, colour, **amounts):
    made = Made("scatter", colour) if kind == "backdrop" else made_in(kind, colour, amounts)
    return Surface(made)

def lens_from(away, degrees):
    return lens_at(np.array([0.0, -away, 0.0]), np.zeros(3), 18 / math.tan(math.radians(degrees) / 2), upright=False, roll=0, shift=(0, 0), aperture=None, focus=np.zeros(3))

def everywhere(radiance):
    return np.full((2, 4, 3), radiance, np.float32)

def body(material, size=40.0):
    cage = starts.box((size,) * 3, (1, 1, 1)); plan = plan_skin(cage, 3); skin = evaluate(plan, cage.points)
    return Body(skin.positions, (skin.normals[:, :3] / 32767).astype("f4"), plan.triangles, material)

lens = lens_from(300, 20)
out = {}
# white furnace: a body that absorbs nothing vanishes in uniform light
for kind in ("backdrop", "clear glass", "polished metal"):
    scene = Scene([body(surface(kind, (1.0, 1.0, 1.0)))], [], lens, everywhere(1))
    image = tracer.trace(tracer.build(scene, 48, 48), 64, 1)
    out[kind] = [float(image[20:28, 20:28].mean()), float(image[:4].mean())]

# a card of each finish, lit evenly, seen at some angles from the front: closed at the back, so that light leaves glass again
def card(material, degrees):
    turn = math.radians(degrees)
    x, n = np.array([math.cos(turn), math.sin(turn), 0]), np.array([math.sin(turn), -math.cos(turn), 0])
    up = np.array([0, 0, 1.0])
    front = np.array([-x - up, x - up, x + up, -x + up]) * 30
    points = np.concatenate([front + n, front[::-1] - n]).astype("f4")
    normals = np.repeat([n, -n], 4, axis=0).astype("f4")
    return Body(points, normals, np.array([[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]], "u4"), material)

def lit_evenly(kind, colour, degrees=0, samples=1024):
    scene = Scene([card(surface(kind, tuple(colour)), degrees)], [], lens_from(3000, 0.3), everywhere(1))
    return tracer.trace(tracer.build(scene, 12, 12), samples, 1).mean(axis=(0, 1)).tolist()

COLOURS = CHIPS
out["black"] = {kind: lit_evenly(kind, (0.0, 0.0, 0.0))[1] for kind in KINDS[:3]}
out["cards"] = {kind: [lit_evenly(kind, colour) for colour in COLOURS] for kind in KINDS}
out["white"] = {kind: [lit_evenly(kind, (1.0, 1.0, 1.0), degrees)[1] for degrees in (0, 45, 70)] for kind in KINDS}

# a card under a panel: radiance = albedo * irradiance / pi
shape = emitters.rectangle(200, 200, emitters.Profile(1.0)); stood = emitters.stand(0, 0, 600, np.zeros(3))
lamp = Glowing(stood.placed(shape.points), shape.triangles, (3.0, 3.0, 3.0))
card = np.array([[-50, 0, -50], [50, 0, -50], [50, 0, 50], [-50, 0, 50]], "f4")
flat = Body(card, np.tile(np.array([[0, -1, 0]], "f4"), (4, 1)), np.array([[0, 1, 2], [0, 2, 3]], "u4"), surface("backdrop", (0.5, 0.5, 0.5)))
scene = Scene([flat], [lamp], lens, everywhere(0))
image = tracer.trace(tracer.build(scene, 32, 32), 256, 2)
out["card"] = float(image[14:18, 14:18].mean())
out["expected"] = 0.5 * float(emitters.pieces_of(shape, stood, 3.0).onto(np.zeros(3), np.array([0.0, -1.0, 0.0])).sum()) / math.pi
behind = Scene([flat], [replace(lamp, triangles=lamp.triangles[:, ::-1])], lens, everywhere(0))
out["behind"] = float(tracer.trace(tracer.build(behind, 32, 32), 16, 2).mean())
albedo, normal = tracer.trace_layers(tracer.build(scene, 32, 32))
out["albedo"], out["normal"] = albedo[16, 16].tolist(), normal[16, 16].tolist()
print(json.dumps(out))
"""


@pytest.fixture(scope="module")
def traced() -> dict:
    done = subprocess.run([sys.executable, "-c", GIVEN + SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    return json.loads(done.stdout.splitlines()[-1])


@pytest.mark.parametrize("kind", ["backdrop", "clear glass"])
def test_white_furnace(traced: dict, kind: str) -> None:
    """A non-absorbing object in uniform light vanishes (common practice); ten bounces lose a little in glass."""
    middle, around = traced[kind]
    assert around == pytest.approx(1.0, abs=1e-4)
    assert middle == pytest.approx(1.0, abs=0.02)


@pytest.mark.parametrize("kind", KINDS)
def test_a_card_lit_evenly_comes_out_at_its_chosen_value(traced: dict, kind: str) -> None:
    """A chosen colour is the colour of the thing: greys within 2 %, colours within 1.5 of CIEDE2000 (Sharma, Wu & Dalal 2005)."""
    seen = np.array(traced["cards"][kind])
    assert seen[: len(GREYS)] == pytest.approx(np.array(GREYS), rel=0.02)
    shown, meant = colours.lab(seen[len(GREYS) :]), colours.lab(np.array(COLOURS[len(GREYS) :]))
    # gloss and glass give back 4 % of white light: a colour with less than that in a channel is out of their reach, if not by much
    possible = np.array(COLOURS[len(GREYS) :]).min(axis=1) > 0.04
    assert possible.sum() == 6
    assert colours.difference(shown, meant)[possible].max() < 0.2
    assert colours.difference(shown, meant).max() < (2.0 if kind in ("gloss plastic", "clear glass") else 1.5)


def test_differences_of_colours_are_those_published() -> None:
    """Pairs 1, 10 and 25 of Sharma, Wu & Dalal's test data (2005)."""
    one = [[50, 2.6772, -79.7751], [50, 2.49, -0.001], [60.2574, -34.0099, 36.2677]]
    other = [[50, 0, -82.7485], [50, -2.49, 0.0011], [60.4626, -34.1751, 39.4387]]
    assert colours.difference(np.array(one), np.array(other)) == pytest.approx([2.0425, 7.2195, 1.2644], abs=2e-4)


def test_a_black_finish_is_its_coat(traced: dict) -> None:
    """What a coat of index n reflects at right angles, ((n - 1) / (n + 1))² (Fresnel); a rough one loses a part of it."""
    for kind, index in (("matte plastic", 1.49), ("gloss plastic", 1.49), ("rubber", 1.3)):
        fresnel = ((index - 1) / (index + 1)) ** 2
        assert 0.7 * fresnel < traced["black"][kind] < 1.01 * fresnel


@pytest.mark.parametrize("kind", KINDS)
def test_white_finishes_lose_no_light(traced: dict, kind: str) -> None:
    """A white furnace at three angles: nothing is lost or made. Polished metal loses a little where its facets shadow one another."""
    assert traced["white"][kind] == pytest.approx([1.0] * 3, abs=0.04 if kind == "polished metal" else 0.01)


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
    assert exposure.done == 200
    assert exposure.noise() == pytest.approx(0.3 / 5 / 2.0, rel=0.05)
    assert exposure.mean.mean() == pytest.approx(2.0, abs=0.01)


@pytest.mark.parametrize("wanted", [1, 3, 8, 32, 47, 192, 1000])
def test_passes_take_all_samples_in_powers_of_two_and_share_them_between_the_halves(wanted: int) -> None:
    """A sample count that is no power of two is added in the order of the renderer's threads, and so is never twice the same."""
    passes: list[int] = []
    while sum(passes) < wanted:
        passes.append(next_pass(sum(passes), wanted))
    assert sum(passes) == wanted
    assert all(count & (count - 1) == 0 for count in passes)
    if wanted in (8, 32, 192):
        assert sum(passes[::2]) == sum(passes[1::2])


def test_cleaned_noise_is_what_is_left_of_it() -> None:
    """A cleaning that averages blocks of 4 × 4 leaves a quarter of the noise (formula: 1 / sqrt(16))."""
    rng = np.random.default_rng(5)
    exposure = Exposure.blank(64, 64)
    assert exposure.cleaned_noise(lambda image: image) is None
    for _ in range(16):
        exposure.add((1.0 + rng.normal(0, 0.4, (64, 64, 1)) * np.ones(3)).astype(np.float32), 2)

    def blocks(image: np.ndarray) -> np.ndarray:
        means = image.reshape(16, 4, 16, 4, 3).mean(axis=(1, 3))
        return means.repeat(4, axis=0).repeat(4, axis=1).astype(np.float32)

    assert exposure.cleaned_noise(lambda image: image) == pytest.approx(BLURRED * 0.1, rel=0.05)
    assert exposure.cleaned_noise(blocks) == pytest.approx(BLURRED * 0.1 / 4, rel=0.1)


def test_light_that_is_not_a_number_counts_as_none() -> None:
    exposure = Exposure.blank(2, 1)
    exposure.add(np.array([[[np.nan] * 3, [1.0] * 3]], np.float32), 4)
    assert exposure.mean[0].tolist() == [[0, 0, 0], [1, 1, 1]]


def test_psnr_of_a_known_error() -> None:
    assert psnr(np.full((4, 4), 0.6), np.full((4, 4), 0.5)) == pytest.approx(20.0)


MOVED = """
import json, random
import numpy as np
from hollow_marble.core.render import tracer
tracer.choose_variant("llvm_ad_rgb")
import drjit as dr
from hollow_marble.core.studio import emitters
from hollow_marble.core.render.scene import Glowing
from hollow_marble.jobs.warm_scene import warm_scene
from dataclasses import replace
scene = warm_scene()
dr.set_flag(dr.JitFlag.KernelHistory, True)
def compiled(scene):
    dr.kernel_history_clear()
    tracer.trace(tracer.build(scene, 64, 40), 2, 0)
    return sum(not (entry.get("cache_hit") or entry.get("cache_disk")) for entry in dr.kernel_history() if "hash" in entry)
compiled(scene)
shape = emitters.rectangle(310, 420, emitters.Profile(1.0))
stood = emitters.stand(random.uniform(-80, 80), random.uniform(20, 60), 700, np.array([0, 0, 50.0]))
lens = replace(scene.lens, place=scene.lens.place + random.uniform(1, 9))
lamp = Glowing(stood.placed(shape.points), shape.triangles, (3.0, 2.0, 1.0))
print(json.dumps(compiled(replace(scene, lamps=[lamp, *scene.lamps[1:]], lens=lens))))
"""


def test_a_moved_lamp_and_another_lens_compile_nothing() -> None:
    """What a picture depends on is data of the kernels and not in them: 0.2 s to the first pass instead of 0.9."""
    trade = render_trade()
    if trade.ways[0] != FAST:
        pytest.skip("there is no fast renderer on this machine")
    environment = {**os.environ, **trade.environment}
    done = subprocess.run([sys.executable, "-c", MOVED], capture_output=True, text=True, timeout=200, env=environment)
    assert done.returncode == 0, done.stderr[-2000:]
    assert json.loads(done.stdout.splitlines()[-1]) == 0
