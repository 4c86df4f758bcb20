"""Recipes as graphs: nodes with named inputs, each another step, another part or a line of a sheet; one key for each."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np
import pytest

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.cage.joins import merged
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.changes import PlacedPoints
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Part
from hollow_marble.documents.form.recipe import FromPart, FromSheet, FromStep, Inputs, Making
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.form.steps import CageStep, body_in

SAMPLES = np.array([[0, 0, 1, 0], [10, 0, 1, 0], [20, 5, 1, 0]], "<f4")


class Beside(CageStep):
    """A node for tests: puts another body beside the one before it, as far off as a line of a sheet is long."""

    kind: Literal["beside"] = "beside"
    by: float = 100.0

    def made(self, inputs: Inputs, making: Making) -> Body:
        other = body_in(inputs, "other").control
        line = inputs.get("line")
        far = float(np.ptp(line[:, 0])) if isinstance(line, np.ndarray) else self.by
        assert other is not None
        beside = other.moved(other.points + np.array([far, 0, 0]))
        return body_in(inputs).reshaped(making.key, making.origin, lambda cage: merged(cage, beside))

    def sentence(self) -> str:
        return "Put another part beside it"


def box(ident: str, *steps: Any, size: float = 10.0) -> Part:
    part = Part(id=ident, name=ident.upper(), steps=(BoxStart(size=(size, size, size), divisions=(1, 1, 1)),))
    return part.model_copy(update={"steps": (*part.steps, *steps)})


@pytest.fixture
def evaluator() -> FormEvaluator:
    return FormEvaluator({"line": SAMPLES.tobytes()}.__getitem__)


def width(evaluator: FormEvaluator, part: Part, parts: list[Part]) -> float:
    low, high = evaluator.mesh(part, parts).extent
    return float((high - low)[0])


def test_a_node_takes_in_another_part_and_follows_it(evaluator: FormEvaluator) -> None:
    taking = box("a", Beside(inputs={"other": FromPart(part="b")}))
    parts = [taking, box("b")]
    first, key = width(evaluator, taking, parts), evaluator.key(taking, parts)
    larger = [taking, box("b", size=40.0)]
    assert width(evaluator, taking, larger) > first
    assert evaluator.key(taking, larger) != key, "its key is the hash of its inputs' keys too"
    assert evaluator.key(taking, parts) == key
    assert (
        evaluator.mesh(taking, parts).positions.tobytes()
        == FormEvaluator(evaluator.load).mesh(taking, parts).positions.tobytes()
    )


def test_a_node_takes_in_an_earlier_step_of_its_own_recipe(evaluator: FormEvaluator) -> None:
    moved = PlacedPoints(how="size", points=tuple(range(8)), values=(3.0, 1.0, 1.0))
    part = box("a", moved, Beside(inputs={"other": FromStep(index=0)}, by=50.0))
    cage = evaluator.body(part, [part]).control
    assert cage is not None
    left, right = cage.points[:8], cage.points[8:]
    assert np.ptp(left[:, 0]) == pytest.approx(3 * np.ptp(right[:, 0])), (
        "the first box as it began, beside the wide one"
    )


def test_a_node_takes_in_a_line_of_a_sheet(evaluator: FormEvaluator) -> None:
    part = box("a", Beside(inputs={"other": FromPart(part="b"), "line": FromSheet(samples="line")}))
    parts = [part, box("b")]
    plain = box("a", Beside(inputs={"other": FromPart(part="b")}, by=20.0))
    assert width(evaluator, part, parts) == pytest.approx(width(evaluator, plain, [plain, parts[1]]))
    assert evaluator.key(part, parts) != evaluator.key(plain, [plain, parts[1]])


def test_parts_made_from_each_other_are_refused_by_name(evaluator: FormEvaluator) -> None:
    a, b = (
        box("a", Beside(inputs={"other": FromPart(part="b")})),
        box("b", Beside(inputs={"other": FromPart(part="a")})),
    )
    for part in (a, b):
        problem = evaluator.problem(part, [a, b])
        assert problem is not None
        assert "are made from each other" in problem
    alone = box("c", Beside(inputs={"other": FromPart(part="gone")}))
    with pytest.raises(HollowMarbleError, match="no longer there"):
        evaluator.mesh(alone, [alone])


def test_a_straight_chain_says_nothing_of_inputs_and_its_key_grows_by_one_step() -> None:
    step = PlacedPoints(how="move", points=(0,), values=(1, 0, 0))
    assert "inputs" not in step.model_dump_json()
    assert "said" not in step.model_dump_json()
    part = box("a")
    known = part.keys
    longer = part.with_step(step)
    assert longer.keys[: len(known)] == known
    assert longer.keys == Part.model_validate_json(longer.model_dump_json()).keys, (
        "the same from the file as from the hand"
    )
    assert longer.with_step(step).keys[-1] != longer.keys[-1], "the same step once more is another state"
