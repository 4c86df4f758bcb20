"""What was parted moves apart by a number: along the way it comes free, whichever side, whatever it was parted by."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form import details as d
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form import skin_lines as lay
from hollow_marble.documents.form.built_edits import PartAlong
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.recipe import FromStep
from hollow_marble.documents.form.starts import BoxStart
from tests.documents.test_built import circle
from tests.documents.test_details import many, of

BOX = BoxStart(size=(60.0, 34.0, 90.0), divisions=(2, 2, 3))


@pytest.fixture(scope="module")
def evaluator() -> FormEvaluator:
    return FormEvaluator(lambda sha: b"")


def parted(*steps: Any) -> Form:
    """A box and what its last step parts off it ("rest")."""
    form = many(Form(), "c", circle(6.0))
    form = e.StartPart(part="a", name="A", start=BOX).applied_to(form)
    for step in steps[:-1]:
        form = e.Shape(part="a", step=step).applied_to(form)
    return PartAlong(part="a", other="rest", name="Rest", step=steps[-1]).applied_to(form)


def went(evaluator: FormEvaluator, form: Form, ident: str, **stood: Any) -> np.ndarray:
    """(N, 3) mm each point of a part moved by standing elsewhere."""
    after = e.Shape(part=ident, step=StoodPart(**stood)).applied_to(form)
    meshes = [evaluator.mesh(next(p for p in one.parts if p.id == ident), one.parts) for one in (form, after)]
    return np.asarray(meshes[1].positions - meshes[0].positions)


@pytest.mark.parametrize("keep", ["left", "right"])
@pytest.mark.parametrize(("axis", "at"), [("H", 5.0), ("W", -8.0)])
def test_halves_come_apart_square_to_the_plane_that_parts_them(
    evaluator: FormEvaluator, axis: Any, at: float, keep: Any
) -> None:
    """A plane section is flat, so that its vector area is the plane's normal (Newell); each half goes its own way."""
    line = lay.SectionLine(axis=axis, at=at)
    form = parted(line, d.PartedAlong(inputs={"line": FromStep(index=1)}, keep=keep, tag="cut"))
    letter = "WDH".index(axis)
    for ident in ("a", "rest"):
        mesh = evaluator.mesh(next(p for p in form.parts if p.id == ident), form.parts)
        outward = np.sign(mesh.positions[:, letter].mean() - at)
        expected = np.where(np.arange(3) == letter, 12.5 * outward, 0.0)
        assert went(evaluator, form, ident, apart=12.5) == pytest.approx(
            np.tile(expected, (len(mesh.positions), 1)), abs=2e-3
        )


def test_what_is_cut_out_comes_out_of_the_skin_and_turns_with_its_part(evaluator: FormEvaluator) -> None:
    form = parted(d.CutWithin(at=(0.0, -17.0, 5.0), inputs=of(curve="c"), keep="outside", tag="cut"))
    assert went(evaluator, form, "rest", apart=10.0).mean(axis=0) == pytest.approx([0, -10, 0], abs=0.3)
    plain, turned = (went(evaluator, form, "rest", apart=by, turn=(0.0, 0.0, 90.0)) for by in (0.0, 10.0))
    assert (turned - plain).mean(axis=0) == pytest.approx([10, 0, 0], abs=0.3), "first apart, then turned"


def test_apart_needs_something_parted_off_and_says_so(evaluator: FormEvaluator) -> None:
    form = e.StartPart(part="a", name="A", start=BOX).applied_to(Form())
    with pytest.raises(HollowMarbleError, match="Nothing was parted off it"):
        went(evaluator, form, "a", apart=3.0)
    assert StoodPart(apart=3.0).sentence() == "Stood the part 3 mm apart from the rest, at W 0, D 0, H 0 mm"
    assert "apart" not in StoodPart().model_dump(), "recipes without it stay the bytes they were"
