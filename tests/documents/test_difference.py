"""Differences lead from what was told of one state to what is told of the next, and are as small as what changed."""

from __future__ import annotations

import json
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.documents.difference import difference, told
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form.changes import ExtrudedFaces, PlacedPoints
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.form.starts import BoxStart, RingStart
from hollow_marble.documents.sheet.outline import outline
from tests.documents.test_sheet import Desk


def carried_out(value: Any, change: Any) -> Any:
    """A change carried out as the browser does it (`frontend/src/api/change.ts`)."""
    if change is None:
        return value
    if "is" in change:
        return change["is"]
    if "fields" in change:
        return {**value, **{name: carried_out(value.get(name), inner) for name, inner in change["fields"].items()}}
    if "keys" in change:
        return {k: v for k, v in {**value, **change["keys"]}.items() if k not in change["gone"]}
    at = change["at"]
    if "change" in change:
        return [*value[:at], carried_out(value[at], change["change"]), *value[at + 1 :]]
    return [*value[:at], *change["put"], *value[at + change["drop"] :]]


def works() -> st.SearchStrategy[list[tuple[str, int]]]:
    return st.lists(
        st.tuples(st.sampled_from(["start", "move", "name", "drop", "step", "copy"]), st.integers(0, 5)), max_size=12
    )


@settings(max_examples=60, deadline=None)
@given(works(), st.data())
def test_a_difference_leads_from_any_state_to_any_other(work: list[tuple[str, int]], data: st.DataObject) -> None:
    states = [Form()]
    for count, (what, number) in enumerate(work):
        form = states[-1]
        part = form.parts[number % len(form.parts)].id if form.parts else None
        edit: Any
        if what == "start" or part is None:
            edit = e.StartPart(part=f"p{count}", name="P", start=BoxStart(size=(9, 9, 9), divisions=(1, 1, 1)))
        elif what == "move":
            edit = e.Shape(part=part, step=PlacedPoints(how="move", points=(number,), values=(1, 2, count)))
        elif what == "name":
            edit = e.ChangePart(part=part, name=f"Name {count}")
        elif what == "drop":
            edit = e.RemovePart(part=part)
        elif what == "copy":
            edit = e.DuplicatePart(part=part, copy_id=f"c{count}", name="Copy")
        else:
            edit = e.ChangeStep(part=part, index=0, step=BoxStart(size=(9, 9, 9 + count), divisions=(1, 1, 1)))
        states.append(edit.applied_to(form))
    before, after = (states[data.draw(st.integers(0, len(states) - 1))] for _ in range(2))
    change = json.loads(json.dumps(difference(before, after)))
    assert carried_out(told(before), change) == told(after)


def test_one_more_step_costs_the_same_however_many_there_are() -> None:
    def answer(steps: int) -> int:
        form = e.StartPart(part="b", name="B", start=BoxStart(size=(9, 9, 9), divisions=(1, 1, 1))).applied_to(Form())
        for number in range(steps):
            step = PlacedPoints(how="move", points=(0,), values=(1, 2, number % 7))
            before, form = form, e.Shape(part="b", step=step).applied_to(form)
        return len(json.dumps(difference(before, form)))

    assert abs(answer(400) - answer(10)) <= 4, "but for the digits of its place"


def test_what_a_step_says_changes_with_its_numbers() -> None:
    form = e.StartPart(part="r", name="R", start=RingStart(radius=20, tube=5, around=16, section=8)).applied_to(Form())
    form = e.Shape(part="r", step=ExtrudedFaces(faces=(0,), distance=3)).applied_to(form)
    wider = e.ChangeStep(part="r", index=0, step=RingStart(radius=26, tube=5, around=16, section=8)).applied_to(form)
    change = difference(form, wider)
    assert "ring of 26 mm radius" in json.dumps(change)
    assert "extruded" not in json.dumps(change), "the step that did not change is not told"
    assert difference(form, form) is None


def test_a_stroke_is_told_as_a_count_not_as_a_page() -> None:
    desk = Desk()
    desk.do(desk.stroke([(10, 10), (90, 10)]))
    before = outline(desk.sheet)
    desk.do(desk.stroke([(10, 40), (90, 40)]))
    change = difference(before, outline(desk.sheet))
    assert change == {"fields": {"layers": {"at": 0, "change": {"fields": {"strokes": {"is": 2}}}}}}
    assert carried_out(told(before), json.loads(json.dumps(change))) == json.loads(
        json.dumps(told(outline(desk.sheet)))
    )
