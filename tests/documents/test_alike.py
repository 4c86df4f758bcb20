"""Details on all sides of a symmetric part: images where formulas put them, lines that meet become one, what differs is refused."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from hollow_marble.core.bodies.detailed_body import DetailedBody
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.documents.form import details as d
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form import skin_lines as lay
from hollow_marble.documents.form.changes import PlacedPoints
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.recipe import FromStep
from hollow_marble.documents.form.starts import BoxStart, SphereStart
from hollow_marble.documents.form.steps import ACROSS_W, FormSymmetry
from tests.core.grounds import is_watertight, volume

BOX = BoxStart(size=(60.0, 34.0, 90.0), divisions=(2, 2, 3))
BOTH = FormSymmetry(planes=("W", "D"))
QUARTERS = FormSymmetry(axis="H", turns=4)


@pytest.fixture(scope="module")
def evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


def made(evaluator: FormEvaluator, *steps: Any, start: Any = BOX) -> DetailedBody:
    form = e.StartPart(part="a", name="A", start=start).applied_to(Form())
    for step in steps:
        form = e.Shape(part="a", step=step).applied_to(form)
    body = evaluator.body(form.parts[0], form.parts)
    assert isinstance(body, DetailedBody)
    return body


def upright(right: float, low: float, high: float) -> lay.DrawnLine:
    """A line drawn over the front, so far to the right."""
    line = tuple((right, -60.0, up) for up in np.linspace(low, high, 12).tolist())
    return lay.DrawnLine(eye=(right, -1e5, 0.0), line=line)


def along(symmetry: FormSymmetry | None, **fields: Any) -> d.AlongLine:
    return d.AlongLine(inputs={"line": FromStep(index=1)}, symmetry=symmetry, **fields)


def taken(body: DetailedBody) -> float:
    """mm³ that the details took from it."""
    points, corners = body.mesh().welded()
    assert is_watertight(corners)
    ground, flat = body.base.mesh().welded()
    return volume(ground.astype(float), flat) - volume(points.astype(float), corners)


def off_its_image(body: DetailedBody, signs: Any) -> float:
    """mm a mesh is off its own image at most."""
    points, corners = body.mesh().welded()
    return float(Nearest(points.astype(float), corners.astype(np.int64)).closest(points * signs).distance.max())


@pytest.mark.parametrize(("symmetry", "times"), [(ACROSS_W, 2), (BOTH, 4)])
def test_a_groove_drawn_on_one_side_is_on_all_of_them(
    evaluator: FormEvaluator, symmetry: FormSymmetry, times: int
) -> None:
    one, all_of_them = (made(evaluator, upright(14.0, -15, 20), along(alike)) for alike in (None, symmetry))
    assert len(all_of_them.reliefs) == times
    assert taken(all_of_them) == pytest.approx(times * taken(one), rel=0.01)
    for axis in range(times // 2):
        assert off_its_image(all_of_them, np.where(np.arange(3) == axis, -1, 1)) < 0.05, (
            "meshed by itself, formed alike"
        )


def test_lines_that_meet_on_the_plane_are_one_and_what_is_its_own_image_is_there_once(evaluator: FormEvaluator) -> None:
    level = lay.DrawnLine(eye=(0.0, -1e5, 5.0), line=tuple((w, -60.0, 5.0) for w in np.linspace(0, 20, 12).tolist()))
    (strip,) = made(evaluator, level, along(ACROSS_W)).reliefs
    assert isinstance(strip, d.Strip)
    own = strip.line.spots.points[:, 0]
    assert (own.min(), own.max()) == pytest.approx((-20, 20), abs=0.2)
    assert (np.diff(own) * np.sign(own[-1] - own[0]) > 0).all(), "one way, from end to end"
    waist = made(evaluator, lay.SectionLine(at=5.0), along(BOTH))
    assert len(waist.reliefs) == 1
    assert taken(waist) == pytest.approx(taken(made(evaluator, lay.SectionLine(at=5.0), along(None))), rel=1e-9)


def test_arcs_of_turns_close_to_a_ring(evaluator: FormEvaluator) -> None:
    """A quarter of a sphere's equator, four times: a whole circle (formula), which a knurl goes round."""
    quarter = np.linspace(0, np.pi / 2, 40)
    places = tuple((50 * np.cos(t), 50 * np.sin(t), 0.0) for t in quarter.tolist())
    ways = tuple((-np.cos(t), -np.sin(t), 0.0) for t in quarter.tolist())
    arc = lay.SheetLine(reference="r", stroke="s", starts=places, ways=ways, smooth=0.0)
    knurl = d.Knurled(inputs={"line": FromStep(index=1)}, symmetry=QUARTERS, count=80)
    body = made(evaluator, arc, knurl, start=SphereStart(size=(40.0, 40.0, 40.0), divisions=4))
    (found,) = body.reliefs
    assert isinstance(found, d.Knurl)
    assert found.line.closed
    radius = np.linalg.norm(found.line.spots.points, axis=1).mean()
    assert found.line.length == pytest.approx(2 * np.pi * radius, rel=1e-3)
    assert is_watertight(body.mesh().welded()[1])


@pytest.mark.parametrize("way", ["pressed", "through"])
def test_a_grille_is_on_the_other_side_too(evaluator: FormEvaluator, way: Any) -> None:
    grille = d.GrilleStep(
        at=(30.0, 0.0, 5.0), wide=12.0, tall=10.0, depth=1.2, way=way, turn=20.0, symmetry=ACROSS_W
    )  # fmt: skip
    both, one = (made(evaluator, grille.model_copy(update={"symmetry": alike})) for alike in (ACROSS_W, None))
    assert len(both.reliefs) + len(both.cuts) == 2
    if way == "pressed":
        assert taken(both) == pytest.approx(2 * taken(one), rel=0.02)
    else:
        assert is_watertight(both.mesh().welded()[1])
    assert off_its_image(both, [-1, 1, 1]) < 0.05, "turned the other way, as in a mirror"


def test_a_drawing_amid_the_plane_is_there_once(evaluator: FormEvaluator) -> None:
    grille = d.GrilleStep(at=(0.0, -17.0, 5.0), wide=12.0, tall=10.0, depth=1.2, symmetry=ACROSS_W)
    assert len(made(evaluator, grille).reliefs) == 1


def test_where_the_sides_differ_it_is_refused_and_words_say_where_it_is(evaluator: FormEvaluator) -> None:
    right = tuple(range(8))  # some of the cage's points
    pulled = PlacedPoints(how="move", points=right, values=(0.0, -9.0, 0.0), reach=0.0)
    line = along(ACROSS_W).model_copy(update={"inputs": {"line": FromStep(index=2)}})
    with pytest.raises(HollowMarbleError, match=r"not alike there: the skin is \d+\.\d mm off"):
        made(evaluator, pulled, upright(-14.0, -15, 20), line)
    assert along(ACROSS_W).sentence().endswith("0.5 mm deep, alike across width")
    assert along(QUARTERS).sentence().endswith("alike 4 turns about H")
    assert "symmetry" not in along(None).model_dump(), "recipes without one stay the bytes they were"
