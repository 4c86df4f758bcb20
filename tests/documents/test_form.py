"""Forms: recipes worked out, changed, previewed."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.cage import starts
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form.changes import CreasedEdges, ExtrudedFaces, PlacedPoints
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart, ImportedStart, cage_from_json, cage_to_json
from hollow_marble.documents.form.steps import ACROSS_W


def _nothing(sha: str) -> bytes:
    raise KeyError(sha)


def _form(*steps: object, symmetric: bool = True) -> Form:
    form = e.StartPart(
        part="b",
        name="Body",
        start=BoxStart(size=(60, 30, 100), divisions=(2, 2, 3)),
        symmetry=ACROSS_W if symmetric else None,
    ).applied_to(Form())
    for step in steps:
        form = e.Shape(part="b", step=step).applied_to(form)
    return form


def test_a_recipe_is_worked_out_step_by_step() -> None:
    evaluator = FormEvaluator(_nothing)
    form = _form(PlacedPoints(how="move", points=(0,), values=(0, 0, -5)), ExtrudedFaces(faces=(0,), distance=4))
    cage = evaluator.cage(form.parts[0])
    box = starts.box((60, 30, 100), (2, 2, 3))
    assert np.allclose(cage.points[0] - box.points[0], (0, 0, -5))
    assert cage.face_count == box.face_count + 4


def test_only_what_changed_is_worked_out_again(monkeypatch: pytest.MonkeyPatch) -> None:
    evaluator = FormEvaluator(_nothing)
    form = _form(*(PlacedPoints(how="move", points=(k,), values=(0, 0, 1)) for k in range(6)))
    evaluator.mesh(form.parts[0])
    seen = []
    original = PlacedPoints.made
    monkeypatch.setattr(PlacedPoints, "made", lambda step, *given: seen.append(step.kind) or original(step, *given))
    further = e.Shape(part="b", step=PlacedPoints(how="move", points=(7,), values=(0, 1, 0))).applied_to(form)
    evaluator.mesh(further.parts[0])
    assert seen == ["placed"], "one added step costs one step"
    evaluator.mesh(form.parts[0])
    assert seen == ["placed"], "going back costs none"


def test_the_start_stays_editable_and_later_steps_follow() -> None:
    evaluator = FormEvaluator(_nothing)
    form = _form(PlacedPoints(how="move", points=(0,), values=(0, 0, -5)))
    wider = e.ChangeStep(part="b", index=0, step=BoxStart(size=(80, 30, 100), divisions=(2, 2, 3))).applied_to(form)
    cage = evaluator.cage(wider.parts[0])
    assert np.ptp(cage.points[:, 0]) == pytest.approx(80)
    assert cage.points[0, 2] == pytest.approx(-55)


def test_a_change_that_later_steps_cannot_follow_says_which() -> None:
    evaluator = FormEvaluator(_nothing)
    form = _form(PlacedPoints(how="move", points=(30,), values=(0, 0, 1)), CreasedEdges(edges=((0, 1),), crease=0.5))
    fewer = e.ChangeStep(part="b", index=0, step=BoxStart(size=(60, 30, 100), divisions=(1, 1, 1))).applied_to(form)
    with pytest.raises(HollowMarbleError, match=r"Step 2 of Body no longer fits: Some picked points"):
        evaluator.mesh(fewer.parts[0])


def test_a_preview_equals_the_edit_it_becomes() -> None:
    evaluator = FormEvaluator(_nothing)
    form = _form()
    step = PlacedPoints(how="size", points=(0, 1, 2, 3), values=(0.8, 1.2, 1.0), seat=(0, 0, -50), symmetry=ACROSS_W)
    base = evaluator.mesh(form.parts[0])
    kept = base.positions.copy()
    cage, shown, patches = evaluator.preview(form.parts[0], step)
    after = e.Shape(part="b", step=step).applied_to(form).parts[0]
    done = evaluator.mesh(after)
    assert np.array_equal(cage.points, evaluator.cage(after).points)
    for patch in range(len(base.patch_face)):
        rows = slice(base.patch_starts[patch], base.patch_starts[patch + 1])
        if patch in patches:
            assert np.array_equal(shown.positions[rows], done.positions[rows])
        else:
            assert np.array_equal(base.positions[rows], done.positions[rows])
    assert np.array_equal(evaluator.mesh(form.parts[0]).positions, kept), "a preview writes into nothing that is kept"


def test_a_move_keeps_the_plan_of_the_skin() -> None:
    evaluator = FormEvaluator(_nothing)
    before = evaluator.mesh(_form().parts[0])
    after = evaluator.mesh(_form(PlacedPoints(how="move", points=(0,), values=(1, 0, 0))).parts[0])
    assert after.triangles is before.triangles
    assert after.connectivity == before.connectivity
    unlike = after.patches_unlike(before)
    assert unlike is not None
    assert 0 < len(unlike) < len(before.patch_face)


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 40), st.floats(-8, 8), st.booleans()), min_size=1, max_size=6))
def test_undo_all_gives_the_same_bytes(work: list[tuple[int, float, bool]]) -> None:
    evaluator = FormEvaluator(_nothing)
    states = [_form()]
    for number, amount, extrude in work:
        if extrude:
            step: object = ExtrudedFaces(faces=(number % 20,), distance=abs(amount) + 1, symmetry=ACROSS_W)
        else:
            step = PlacedPoints(how="move", points=(number % 30,), values=(amount, 1.0, -amount), symmetry=ACROSS_W)
        states.append(e.Shape(part="b", step=step).applied_to(states[-1]))
    first = evaluator.mesh(states[0].parts[0]).positions.tobytes()
    for state in states:
        evaluator.mesh(state.parts[0])
    fresh = FormEvaluator(_nothing)
    for state in reversed(states):
        assert evaluator.cage(state.parts[0]).points.tobytes() == fresh.cage(state.parts[0]).points.tobytes()
    assert evaluator.mesh(states[0].parts[0]).positions.tobytes() == first


def test_symmetry_needs_alike_sides() -> None:
    evaluator = FormEvaluator(_nothing)
    bent = _form(PlacedPoints(how="move", points=(0,), values=(3, 0, 0)), symmetric=False)
    wrong = e.Shape(
        part="b", step=PlacedPoints(how="move", points=(1,), values=(0, 1, 0), symmetry=ACROSS_W)
    ).applied_to(bent)
    with pytest.raises(HollowMarbleError, match="no partner opposite"):
        evaluator.mesh(wrong.parts[0])


def test_the_size_counts_shown_parts_only() -> None:
    evaluator = FormEvaluator(_nothing)
    form = e.StartPart(part="c", name="Cap", start=BoxStart(size=(10, 10, 300), divisions=(1, 1, 1))).applied_to(
        _form()
    )
    hidden = e.ChangePart(part="c", visible=False).applied_to(form)
    assert evaluator.size(hidden).height < evaluator.size(form).height
    assert evaluator.size(Form()).height == 0


def test_an_imported_cage_round_trips_through_its_asset() -> None:
    ring = starts.ring(20.0, 4.0, 12, 6)
    kept = cage_to_json(ring)
    again = cage_from_json(kept)
    assert again.points.tobytes() == ring.points.tobytes()
    evaluator = FormEvaluator({"r": kept}.__getitem__)
    part = Part(id="r", name="Ring", steps=(ImportedStart(cage="r", name="ring"),))
    assert evaluator.cage(part).face_count == 72


@pytest.mark.parametrize(
    ("values", "how", "sentence"),
    [
        ((0, 0, 6), "move", "Moved 2 points up 6.0 mm"),
        ((-3, 0, 0), "move", "Moved 2 points left 3.0 mm"),
        ((1, 2, 3), "move", "Moved 2 points by W +1.0, D +2.0, H +3.0 mm"),
        ((0, 30, 0), "turn", "Turned 2 points by 30.0°"),
        ((0.5, 1, 1), "size", "Sized 2 points to 50% × 100% × 100%"),
    ],
)
def test_steps_read_as_sentences(values: tuple[float, float, float], how: str, sentence: str) -> None:
    assert PlacedPoints(how=how, points=(1, 2), values=values).sentence() == sentence


def test_references_need_a_line_and_can_be_scaled() -> None:
    pin = e.PinReference(id="r", sheet="s", view="v", plane="side", line=((10, 10), (10, 210)), length=100)
    form = pin.applied_to(Form())
    form = e.ChangeReference(id="r", length=108.0, opacity=0.2).applied_to(form)
    assert (form.references[0].length, form.references[0].opacity) == (108.0, 0.2)
    with pytest.raises(HollowMarbleError, match="needs a line"):
        e.ChangeReference(id="r", line=((1, 1), (1, 2))).applied_to(form)
    assert e.UnpinReference(id="r").applied_to(form).references == ()


def test_parts_that_are_gone_are_named() -> None:
    for edit in (
        e.RemovePart(part="x"),
        e.ChangePart(part="x", name="y"),
        e.Shape(part="x", step=ExtrudedFaces(faces=(0,), distance=1)),
    ):
        with pytest.raises(HollowMarbleError, match="no longer there"):
            edit.applied_to(Form())
    with pytest.raises(HollowMarbleError, match="already there"):
        e.StartPart(part="b", name="Again", start=BoxStart(size=(1, 1, 1), divisions=(1, 1, 1))).applied_to(_form())
    with pytest.raises(HollowMarbleError, match="no longer in the recipe"):
        e.ChangeStep(part="b", index=0, step=ExtrudedFaces(faces=(0,), distance=1)).applied_to(_form())


def test_symmetry_outlives_points_that_come_to_lie_on_one_another() -> None:
    """Turned about depth, half of a symmetric box folds on to the seam; the pairing was told before and holds."""
    evaluator = FormEvaluator(_nothing)
    cage = evaluator.cage(_form().parts[0])
    everything = tuple(range(len(cage.points)))
    turned = PlacedPoints(how="turn", points=everything, values=(0, 90, 0), symmetry=ACROSS_W)
    sized = PlacedPoints(how="size", points=everything, values=(1, 0.5, 1), symmetry=ACROSS_W)
    after = evaluator.cage(_form(turned, sized).parts[0])
    assert np.ptp(after.points[:, 1]) == pytest.approx(np.ptp(cage.points[:, 1]) / 2)
    across = ACROSS_W.core()
    assert np.array_equal(evaluator.mates(after, across).maps, evaluator.mates(cage, across).maps)
