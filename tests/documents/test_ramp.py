"""A colour that runs into another along the product."""

from __future__ import annotations

import json
import subprocess
import sys

import numpy as np
import pytest
from pydantic import ValidationError

from hollow_marble.core.studio.finishes import Ramp
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio.model import Finish, Setting
from hollow_marble.documents.studio.model.finish import Fade
from hollow_marble.documents.studio.model.sets import GroundLook, Plinth
from hollow_marble.documents.studio.staging.scenes import look_in, scene_of

BODY = Part(id="p", name="Body", steps=(BoxStart(size=(60, 30, 100), divisions=(2, 2, 2)),))
FORM = Form(parts=(BODY,))
EVALUATOR = FormEvaluator(lambda sha: b"")
FADED = Finish(colour="#AA2222", ramp=Fade(to="#2222AA", begin=20, end=70))


def test_the_colour_runs_from_one_height_to_the_other() -> None:
    """By the formula: half of each half-way, all of one before and all of the other after."""
    points = np.array([[0, 0, -5], [0, 0, 10], [0, 0, 35], [9, 9, 60], [0, 0, 90]], float)
    assert Ramp(2, 20.0, 70.0).shares(points, -10.0) == pytest.approx([0, 0, 0.5, 1, 1])
    assert Ramp(2, 70.0, 20.0).shares(points, -10.0) == pytest.approx([1, 1, 0.5, 0, 0]), "begun above, it runs down"


def test_a_body_in_it_brings_its_colours_from_the_low_end_of_the_part() -> None:
    (body,) = [one for one in scene_of(Setting(finishes={"p": FADED}), FORM, EVALUATOR, 200).bodies if one.product]
    assert body.shares is not None
    assert body.surface.into is not None
    low = body.points[:, 2].min()
    assert (body.shares[body.points[:, 2] < low + 19.9] == 0).all()
    assert (body.shares[body.points[:, 2] > low + 70.1] == 1).all()
    look = look_in(FADED, EVALUATOR)
    assert look.last is not None
    assert look.colour[0] > look.colour[2]
    assert look.last[2] > look.last[0]
    assert look.mean == pytest.approx((np.array(look.colour) + look.last) / 2)


def test_what_a_product_stands_on_brings_its_shares_and_mirrors_in_both_colours() -> None:
    """A plinth in such a finish had stopped the take: its points brought none."""
    ground = GroundLook(reflection=0.5)
    scene = scene_of(Setting(set=Plinth(finish=FADED, ground=ground)), FORM, EVALUATOR, 200)
    (plinth,) = [body for body in scene.bodies if body.surface.into is not None]
    assert plinth.shares is not None
    assert len(plinth.shares) == len(plinth.points)
    assert plinth.surface.into is not None
    assert plinth.surface.made.coat == plinth.surface.into.made.coat
    assert plinth.surface.made.coat is not None


@pytest.mark.parametrize(
    ("fields", "why"),
    [
        ({"ramp": {"begin": 30, "end": 30}}, "two places"),
        ({"material": "clear glass", "ramp": {}}, "takes no colour ramp"),
        ({"pictures": [{"picture": "a" * 64}], "ramp": {}}, "gives the colour here already"),
    ],
)
def test_a_ramp_that_cannot_be_says_why(fields: dict[str, object], why: str) -> None:
    with pytest.raises(ValidationError, match=why):
        Finish.model_validate(fields)


TRACED = """
import json
import numpy as np
from hollow_marble.core.render import tracer
from hollow_marble.core.render.scene import Body, Into, Scene, Surface
from hollow_marble.core.studio.camera import lens_at
from hollow_marble.core.studio.finishes import Made, Ramp, made_in
tracer.choose_variant("scalar_rgb")
points = np.array([[-50, 0, -50], [50, 0, -50], [50, 0, 50], [-50, 0, 50]], np.float32)
normals = np.tile(np.array([0, -1, 0], np.float32), (4, 1))
triangles = np.array([[0, 1, 2], [0, 2, 3]], np.uint32)
lens = lens_at(
    np.array([0.0, -1000, 0]), np.zeros(3), 360.0, upright=False, roll=0.0, shift=(0.0, 0.0), aperture=0.0, focus=np.zeros(3)
)
RAMP = Ramp(2, 0.0, 100.0)
found = {}
for kind in ("backdrop", "matte plastic", "painted", "polished metal"):
    one, other = ((1.0, 0.2, 0.05), (0.05, 0.2, 1.0))
    if kind == "backdrop":
        made, last = Made("scatter", one), Made("scatter", other)
    else:
        made, last = made_in(kind, one), made_in(kind, other)
    found[kind] = {}
    for name, surface, shares in (
        ("one", Surface(made), None),
        ("other", Surface(last), None),
        ("ramp", Surface(made, into=Into(RAMP, last)), RAMP.shares(points, -50.0)),
    ):
        body = Body(points, normals, triangles, surface, shares=shares)
        scene = Scene([body], [], lens, np.ones((2, 4, 3), np.float32))
        picture = tracer.trace(tracer.build(scene, 20, 20), 256, 1)
        found[kind][name] = picture[:, 8:12].mean(axis=1).tolist()
print(json.dumps(found))
"""


def test_a_traced_card_shows_the_ramp_as_it_is_told() -> None:
    """Every row of it is what the cards of either colour are there, mixed by the share at its middle (light adds up)."""
    told = json.loads(subprocess.run([sys.executable, "-c", TRACED], capture_output=True, text=True, check=True).stdout)
    shares = 1 - (np.arange(20) + 0.5) / 20
    for kind, found in told.items():
        one, other, ramp = (np.array(found[name]) for name in ("one", "other", "ramp"))
        mixed = one * (1 - shares[:, None]) + other * shares[:, None]
        assert ramp == pytest.approx(mixed, abs=0.035), kind
        assert abs(one - other).max() > 0.4, kind
