"""Where a lamp has to stand for its mirror image to sit at a touched place: on a sphere by its closed form, and in a traced picture."""

from __future__ import annotations

import json
import math
import subprocess
import sys

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio import highlight
from hollow_marble.core.studio.camera import Lens, lens_at
from hollow_marble.core.studio.emitters import stand

RADIUS = 50.0
SIZE = (1280, 800)
LENS = lens_at(
    np.array([0, -600, 80.0]),
    np.array([0, 0, 50.0]),
    70,
    upright=False,
    roll=0,
    shift=(0, 0),
    aperture=None,
    focus=np.zeros(3),
)
MIDDLE = np.array([0, 0, 50.0])


def on_sphere(start: np.ndarray, way: np.ndarray) -> tuple[np.ndarray, np.ndarray] | None:
    away = start - MIDDLE
    b, c = float(away @ way), float(away @ away) - RADIUS**2
    if b * b < c:
        return None
    place = start + (-b - math.sqrt(b * b - c)) * way
    return place, (place - MIDDLE) / RADIUS


def pixel_of(place: np.ndarray, lens: Lens = LENS) -> tuple[float, float]:
    x, y, _ = lens.seen(place[None], *SIZE)[0]
    return float(x), float(y)


def mirrored_at(place: np.ndarray) -> np.ndarray:
    """The place of the sphere where a lamp is mirrored, by halving the angle between camera and lamp (law of reflection)."""
    normal = (LENS.place - MIDDLE) / np.linalg.norm(LENS.place - MIDDLE)
    for _ in range(200):
        spot = MIDDLE + RADIUS * normal
        both = (LENS.place - spot) / np.linalg.norm(LENS.place - spot) + (place - spot) / np.linalg.norm(place - spot)
        normal = both / np.linalg.norm(both)
    return MIDDLE + RADIUS * normal


@pytest.mark.parametrize("pixel", [(640, 360), (560, 300), (700, 360), (610.25, 341.5)])
def test_the_lamp_is_mirrored_where_it_was_touched_and_keeps_its_distance(pixel: tuple[float, float]) -> None:
    at = highlight.touched(LENS, on_sphere, pixel, SIZE)
    place = highlight.lamp_place(at, MIDDLE, 700.0, 5.0)
    assert np.linalg.norm(place - MIDDLE) == pytest.approx(700)
    assert pixel_of(mirrored_at(place)) == pytest.approx(pixel, abs=1e-3)
    azimuth, height, distance = highlight.angles_of(place, MIDDLE)
    assert stand(azimuth, height, distance, MIDDLE).middle == pytest.approx(place, abs=1e-6)


def test_what_cannot_be_is_told() -> None:
    assert highlight.touched(LENS, on_sphere, (20, 20), SIZE) is None
    low = highlight.touched(LENS, on_sphere, pixel_of(MIDDLE + RADIUS * np.array([0, -0.75, -0.66])), SIZE)
    with pytest.raises(HollowMarbleError, match="under the floor"):
        highlight.lamp_place(low, MIDDLE, 700.0, 5.0)
    at = highlight.touched(LENS, on_sphere, (640, 360), SIZE)
    with pytest.raises(HollowMarbleError, match="too near"):
        highlight.lamp_place(highlight.Touched(at.place + 400, at.normal, at.mirrored), MIDDLE, 60.0, 5.0)


def image_of(distance: float) -> highlight.MirrorImage:
    pixel = (600.0, 330.0)
    at = highlight.touched(LENS, on_sphere, pixel, SIZE)
    place = highlight.lamp_place(at, MIDDLE, distance, 5.0)
    return highlight.MirrorImage(LENS, on_sphere, stand(*highlight.angles_of(place, MIDDLE), MIDDLE), pixel, SIZE)


def test_the_mirror_image_of_a_far_lamp_is_as_long_as_a_convex_mirror_makes_it() -> None:
    """A convex mirror has a focal length of R / 2: for a small source its highlight is seen as half the angle the source spans, R times
    that along the surface, less what the nearness of camera and lamp adds (Jenkins & White, Fundamentals of Optics)."""
    image = image_of(2_000.0)
    found = image.length(100.0, True)
    # the normal turns by half of what the mirrored ray turns; both ends of the ray are at finite distances
    ends = [mirrored_at(image.stood.middle + side * 50 * image.stood.up) for side in (-1, 1)]
    assert found == pytest.approx(float(np.linalg.norm(ends[1] - ends[0])), rel=2e-3)
    assert found == pytest.approx(RADIUS * 100 / 2_000 / 2, rel=0.15)


def test_a_wanted_length_gives_the_size_and_too_much_is_told() -> None:
    image = image_of(700.0)
    extent = image.extent_for(6.0, True, 10.0, 4_000.0)
    assert image.length(extent, True) == pytest.approx(6.0, abs=0.02)
    with pytest.raises(HollowMarbleError, match=r"turns away|as large as that"):
        image.extent_for(140.0, True, 10.0, 4_000.0)
    with pytest.raises(HollowMarbleError, match="small enough"):
        image.extent_for(0.01, True, 10.0, 4_000.0)


SCRIPT = """
import json, math
from dataclasses import replace
import numpy as np
from hollow_marble.core.render.scene import Surface
from hollow_marble.application import moves
from hollow_marble.core.render import tracer
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import SphereStart
from hollow_marble.documents.studio.model import Camera, Finish, Setting, SoftBox
from hollow_marble.documents.studio.model.sets import Black
from hollow_marble.documents.studio.staging import scene_of
tracer.choose_variant("scalar_rgb")
part = Part(id="p", name="Pebble", steps=(SphereStart(size=(62, 34, 108), divisions=3),))
form, evaluator = Form(parts=(part,)), FormEvaluator(lambda sha: b"")
finish = Finish(material="polished metal", amounts={"roughness": 0.02})
lamp = SoftBox(id="key", role="key", width=10, tall=10, distance=900, power=4)
setting = Setting(set=Black(), lamps=(lamp,), finishes={"p": finish}, camera=Camera(focal=70, distance=520, azimuth=20, height=110, aim=54))
found = []
for at in ((640.0, 330.0), (598.5, 262.25), (671.0, 371.75)):
    moved, _ = moves.lamp_moved(setting, form, evaluator, "key", moves.Highlight(kind="highlight", at=at, size=(1280, 800)))
    scene = scene_of(setting.model_copy(update={"lamps": (moved,)}), form, evaluator, 1280)
    # as polished as can be: the lobe of a rougher part is wider than the lamp's image, and leans to where the part turns more slowly
    bodies = [replace(body, surface=Surface(replace(body.surface.made, alpha=(0.002, 0.002)))) if body.product else body for body in scene.bodies]
    scene = replace(scene, bodies=bodies)
    built = tracer.build(scene, 1280, 800, (int(at[0]) - 12, int(at[1]) - 12, 24, 24))
    image = tracer.trace(built, 768, 1)[..., 1]
    lit = np.where(image > 0.05 * np.percentile(image, 99), image, 0)
    y, x = np.mgrid[0:24, 0:24] + 0.5
    found.append([float((lit * x).sum() / lit.sum()) + int(at[0]) - 12 - at[0], float((lit * y).sum() / lit.sum()) + int(at[1]) - 12 - at[1]])
print(json.dumps(found))
"""


def test_in_a_traced_picture_it_sits_within_a_tenth_of_a_pixel() -> None:
    """A small lamp mirrored in a polished part at 1,280 × 800: the middle of its image lies where the hand was."""
    done = subprocess.run([sys.executable, "-c", SCRIPT], capture_output=True, text=True, timeout=200)
    assert done.returncode == 0, done.stderr[-2000:]
    for off in json.loads(done.stdout.splitlines()[-1]):
        assert off == pytest.approx([0, 0], abs=0.1)
