"""Recipes that are changed afterwards, linked parts, named picks, still bodies, dimensions."""

from __future__ import annotations

import hashlib
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hollow_marble.core.bodies.still_body import still_to_bytes
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import find
from hollow_marble.documents.form import changes as c
from hollow_marble.documents.form import edits as e
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.following import followed, tracked
from hollow_marble.documents.form.model import Anchor, Form, Measure, Part
from hollow_marble.documents.form.starts import BoxStart, CylinderStart, StillStart, TurnedStart
from hollow_marble.documents.form.steps import ACROSS_W, FormSymmetry
from tests.core.cages import edges_where, faces_where

ASSETS: dict[str, bytes] = {}


@pytest.fixture
def evaluator() -> FormEvaluator:
    return FormEvaluator(ASSETS.__getitem__)


def started(*steps: Any, start: Any = None) -> Form:
    start = start or BoxStart(size=(60, 30, 90), divisions=(2, 2, 3))
    form = e.StartPart(part="b", name="Body", start=start).applied_to(Form())
    for step in steps:
        form = e.Shape(part="b", step=step).applied_to(form)
    return form


def changed(form: Form, evaluator: FormEvaluator, index: int, step: Any) -> Form:
    """A step exchanged as the server does it."""
    part = form.parts[0]
    following = followed(part, index, step, evaluator.after)
    if step is None:
        return e.DropStep(part="b", index=index, following=following).applied_to(form)
    return e.ChangeStep(part="b", index=index, step=step, following=following).applied_to(form)


def test_an_inset_made_wider_later_carries_what_was_made_on_it(evaluator: FormEvaluator) -> None:
    cage = evaluator.cage(started().parts[0])
    top = tuple(faces_where(cage, z=45))
    inset = c.InsetFaces(faces=top, width=4)
    lifted = c.ExtrudedFaces(faces=top, distance=6)
    form = started(inset, lifted)
    wider = changed(form, evaluator, 1, inset.model_copy(update={"width": 8.0}))
    assert wider.parts[0].steps[2] == lifted
    after = evaluator.cage(wider.parts[0])
    high = after.points[np.isclose(after.points[:, 2], 51)]
    assert np.ptp(high, axis=0)[:2] == pytest.approx((60 - 16, 30 - 16))


def test_steps_follow_a_bevel_of_more_segments_where_they_work_on_older_points(evaluator: FormEvaluator) -> None:
    cage = evaluator.cage(started().parts[0])
    bevel = c.BevelledEdges(edges=tuple(edges_where(cage, x=30, y=15)), width=3, segments=2)
    bottom = c.ExtrudedFaces(faces=tuple(faces_where(cage, z=-45, x=-15)), distance=5)
    form = started(bevel, bottom)
    more = changed(form, evaluator, 1, bevel.model_copy(update={"segments": 4}))
    found = evaluator.cage(more.parts[0])
    assert found.points[:, 2].min() == pytest.approx(-50)
    low = found.points[np.isclose(found.points[:, 2], -50)]
    assert set(low[:, 0].round(6)) == {-30.0, 0.0}


def test_a_step_that_cannot_follow_is_named_and_nothing_is_lost(evaluator: FormEvaluator) -> None:
    cage = evaluator.cage(started().parts[0])
    top = tuple(faces_where(cage, z=45))
    bevel = c.BevelledEdges(edges=tuple(edges_where(cage, x=30, y=15)), width=3, segments=2)
    made = evaluator.cage(started(bevel).parts[0])
    on_strip = c.InsetFaces(faces=(made.face_count - 1,), width=0.5)
    form = started(bevel, c.ExtrudedFaces(faces=top[:1], distance=2), on_strip)
    with pytest.raises(
        HollowMarbleError, match=r"Step 4 \(Inset 1 face by 0.5 mm\) could not follow: It works on faces"
    ):
        changed(form, evaluator, 1, bevel.model_copy(update={"segments": 5}))
    with pytest.raises(HollowMarbleError, match=r"Step 3 \(Extruded 1 face out 2.0 mm\) could not follow"):
        changed(form, evaluator, 0, BoxStart(size=(60, 30, 90), divisions=(5, 2, 3)))
    wide = c.InsetFaces(faces=top, width=4)
    form = started(c.PlacedPoints(how="size", points=tuple(range(len(cage.points))), values=(1, 1, 1)), wide)
    narrow = c.PlacedPoints(how="size", points=tuple(range(len(cage.points))), values=(0.1, 1, 1))
    with pytest.raises(HollowMarbleError, match=r"Step 3 .* could not follow: The inset is wider than the face"):
        changed(form, evaluator, 1, narrow)


def test_a_step_taken_out_leaves_the_others_in_place(evaluator: FormEvaluator) -> None:
    cage = evaluator.cage(started().parts[0])
    row = c.AddedRow(edge=edges_where(cage, y=15, z=45)[0])
    moved = c.PlacedPoints(how="move", points=(0,), values=(0, 0, -7))
    form = changed(started(row, moved), evaluator, 1, None)
    assert form.parts[0].steps[1] == moved
    assert evaluator.cage(form.parts[0]).face_count == cage.face_count
    with pytest.raises(HollowMarbleError, match="first step"):
        changed(form, evaluator, 0, None)


STEPS = st.sampled_from(["move", "inset", "extrude", "bevel", "row", "dissolve", "crease", "split", "weld"])


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(STEPS, st.integers(0, 10_000)), min_size=1, max_size=5))
def test_any_recipe_undone_is_the_same_bytes_and_stays_a_closed_sheet(work: list[tuple[str, int]]) -> None:
    evaluator = FormEvaluator(ASSETS.__getitem__)
    form = started()
    past = [(form, evaluator.cage(form.parts[0]))]
    for what, seed in work:
        cage = evaluator.cage(form.parts[0])
        face, point = seed % cage.face_count, seed % len(cage.points)
        edge = tuple(cage.topology.edges[seed % len(cage.topology.edges)].tolist())
        step: Any = {
            "move": c.PlacedPoints(how="move", points=(point,), values=(0.5, -0.3, 0.2), reach=10.0),
            "inset": c.InsetFaces(faces=(face,), width=0.4),
            "extrude": c.ExtrudedFaces(faces=(face,), distance=1.5, segments=2),
            "bevel": c.BevelledEdges(edges=(edge,), width=0.3),
            "row": c.AddedRow(edge=edge),
            "dissolve": c.DissolvedEdges(edges=(edge,)),
            "crease": c.CreasedEdges(edges=(edge,), crease=0.5),
            "split": c.SplitFaces(faces=(face,)),
            "weld": c.WeldedPoints(points=edge),
        }[what]
        further = e.Shape(part="b", step=step).applied_to(form)
        try:
            made = evaluator.cage(further.parts[0])
        except HollowMarbleError as error:
            assert str(error)[-1] == "."  # noqa: PT017  the sentence a user reads
            continue
        assert len(made.points) - len(made.topology.edges) + made.face_count == 2
        assert (made.topology.twin >= 0).all()
        form = further
        past.append((form, made))
    fresh = FormEvaluator(ASSETS.__getitem__)
    for earlier, cage in reversed(past):
        again = fresh.cage(earlier.parts[0])
        assert again.points.tobytes() == cage.points.tobytes()
        assert again.connectivity() == cage.connectivity()


def test_linked_parts_follow_their_original_and_stand_elsewhere(evaluator: FormEvaluator) -> None:
    form = started(start=CylinderStart(size=(10, 10, 4), sides=12, rows=1))
    aside = c.StoodPart(move=(30, 0, 0), mirror="W")
    form = e.DuplicatePart(part="b", copy_id="k", name="Knob two", linked=True, stood=aside).applied_to(form)
    form = e.DuplicatePart(part="k", copy_id="k3", name="Knob three", linked=True).applied_to(form)
    top = evaluator.cage(form.parts[0]).face_count - 1
    form = e.Shape(part="b", step=c.ExtrudedFaces(faces=(top,), distance=5)).applied_to(form)
    first, copy, third = (evaluator.cage(part) for part in form.parts)
    assert copy.points == pytest.approx(first.points * (-1, 1, 1) + np.array([30, 0, 0]))
    assert np.array_equal(third.points, first.points)
    assert find(form.parts, "k3", "part").link == "b"
    with pytest.raises(HollowMarbleError, match="Knob two follows Body"):
        e.Shape(part="k", step=c.ExtrudedFaces(faces=(0,), distance=1)).applied_to(form)
    moved = e.ChangeStep(part="k", index=2, step=c.StoodPart(move=(0, 50, 0))).applied_to(form)
    assert evaluator.cage(moved.parts[1]).points == pytest.approx(first.points + np.array([0, 50, 0]))
    free = e.BreakLink(part="k").applied_to(moved)
    free = e.Shape(part="b", step=c.ExtrudedFaces(faces=(top,), distance=5)).applied_to(free)
    assert len(evaluator.cage(free.parts[1]).points) == len(first.points)
    gone = e.RemovePart(part="b").applied_to(moved)
    assert [part.link for part in gone.parts] == [None, None]
    assert np.array_equal(evaluator.cage(gone.parts[1]).points, third.points)


def test_parts_are_locked_grouped_copied_and_merged(evaluator: FormEvaluator) -> None:
    form = started()
    form = e.DuplicatePart(part="b", copy_id="d", name="Second", stood=c.StoodPart(move=(100, 0, 0))).applied_to(form)
    form = e.ChangePart(part="b", locked=True, group="Shell").applied_to(form)
    with pytest.raises(HollowMarbleError, match="Body is locked"):
        e.Shape(part="b", step=c.ExtrudedFaces(faces=(0,), distance=1)).applied_to(form)
    with pytest.raises(HollowMarbleError, match="Body is locked"):
        e.RemovePart(part="b").applied_to(form)
    with pytest.raises(HollowMarbleError, match="Body is locked"):
        e.MergeParts(part="d", other="b").applied_to(form)
    form = e.ChangePart(part="b", locked=False, group="").applied_to(form)
    assert form.parts[0].group is None
    both = e.MergeParts(part="b", other="d").applied_to(form)
    cage = evaluator.cage(both.parts[0])
    assert len(both.parts) == 1
    assert cage.face_count == 2 * evaluator.cage(form.parts[0]).face_count
    assert np.ptp(cage.points[:, 0]) == pytest.approx(160)
    assert both.parts[0].steps[-1].sentence() == "Merged in Second"
    again = Form.model_validate_json(both.model_dump_json())
    assert again == both


def test_named_picks_are_carried_through_later_steps(evaluator: FormEvaluator) -> None:
    form = started()
    cage = evaluator.cage(form.parts[0])
    top = faces_where(cage, z=45)
    form = e.KeepPick(part="b", name="top", of="faces", items=tuple(top)).applied_to(form)
    form = e.KeepPick(part="b", name="foot rim", of="points", items=(0, 1)).applied_to(form)
    form = e.Shape(part="b", step=c.RemovedFaces(faces=(0,))).applied_to(form)
    form = e.Shape(part="b", step=c.PlacedPoints(how="move", points=(3,), values=(0, 0, 1))).applied_to(form)
    form = e.Shape(part="b", step=c.ExtrudedFaces(faces=(1,), distance=2)).applied_to(form)
    cages = evaluator.cages(form.parts[0])
    assert form.parts[0].picks[0].steps == 1
    now = tracked(cages, "faces", top)
    after = evaluator.cage(form.parts[0])
    assert len(now) >= 3
    assert all(np.isclose(after.points[after.face(f)][:, 2], 45).all() for f in now)
    edges = [cage.topology.edge_number(*edge) for edge in edges_where(cage, z=45)]
    assert all(
        np.isclose(after.points[after.topology.edges[n]][:, 2], 45).all() for n in tracked(cages, "edges", edges)
    )
    form = e.ForgetPick(part="b", name="top").applied_to(form)
    assert [pick.name for pick in form.parts[0].picks] == ["foot rim"]


def test_a_kept_pick_outlives_a_start_of_fewer_divisions(evaluator: FormEvaluator) -> None:
    """Its numbers may then lie beyond the cage: what is not there is gone, and nothing fails."""
    form = started()
    last = evaluator.cage(form.parts[0]).face_count - 1
    form = e.KeepPick(part="b", name="last", of="faces", items=(0, last)).applied_to(form)
    form = e.ChangeStep(part="b", index=0, step=BoxStart(size=(60, 30, 90), divisions=(1, 1, 1))).applied_to(form)
    cages = evaluator.cages(form.parts[0])
    for kind in ("points", "edges", "faces"):
        assert tracked(cages, kind, [0, 500]) == [0]


def still_form() -> Form:
    points = np.array([[0, 0, 0], [40.0, 0, 0], [0, 40, 0], [0, 0, 40], [0, 0, 0]])
    data = still_to_bytes(points, np.array([[0, 2, 1], [4, 1, 3], [1, 2, 3], [0, 3, 2]]))
    sha = hashlib.sha256(data).hexdigest()
    ASSETS[sha] = data
    start = StillStart(mesh=sha, name="Grip", triangles=4)
    return e.StartPart(part="s", name="Grip", start=start).applied_to(Form())


def test_a_still_body_is_measured_and_placed_but_not_shaped(evaluator: FormEvaluator) -> None:
    form = still_form()
    body = evaluator.body(form.parts[0])
    assert body.control is None
    assert not body.probed().bends.exact.any(), "of flat triangles curvature is an estimate"
    with pytest.raises(HollowMarbleError, match="nothing finer"):
        body.finer(4, np.zeros(1, int))
    assert body.closed
    assert evaluator.size(form).volume == pytest.approx(40**3 / 6)
    with pytest.raises(HollowMarbleError, match="no cage"):
        e.Shape(part="s", step=c.ExtrudedFaces(faces=(0,), distance=1)).applied_to(form)
    with pytest.raises(HollowMarbleError, match="still body"):
        evaluator.cage(form.parts[0])
    stood = e.Shape(part="s", step=c.StoodPart(move=(5, 0, 0), turn=(0, 0, 90), mirror="D")).applied_to(form)
    moved = evaluator.body(stood.parts[0])
    assert moved.closed
    assert evaluator.size(stood).volume == pytest.approx(40**3 / 6)
    assert moved.mesh().positions.min(axis=0) == pytest.approx((5, 0, 0), abs=1e-5)


@pytest.mark.parametrize(
    ("points", "triangles", "words"),
    [
        (np.zeros((0, 3)), np.zeros((0, 3), int), "no faces"),
        (np.array([[0, 0, 0], [1, 0, np.nan], [0, 1, 0.0]]), np.array([[0, 1, 2]]), "not a number"),
        (np.array([[0, 0, 0], [1e9, 0, 0], [0, 1, 0.0]]), np.array([[0, 1, 2]]), "kilometre"),
        (np.zeros((3, 3)), np.array([[0, 1, 2]]), "no area"),
        (np.zeros((3, 3)), np.broadcast_to(np.arange(3), (5_000_000, 3)), "5,000,000 triangles"),
    ],
)
def test_meshes_that_cannot_be_shown_are_refused_in_words(points: Any, triangles: Any, words: str) -> None:
    with pytest.raises(HollowMarbleError, match=words):
        still_to_bytes(points, triangles)


def test_dimensions_belong_to_their_parts() -> None:
    form = started()
    measure = Measure(id="m", first=Anchor(part="b", point=0), second=Anchor(part="b", point=5), along="H")
    form = e.PutMeasure(measure=measure).applied_to(form)
    assert e.RemoveMeasure(id="m").applied_to(form).measures == ()
    assert e.RemovePart(part="b").applied_to(form).measures == ()
    with pytest.raises(HollowMarbleError, match="two points"):
        e.PutMeasure(measure=measure.model_copy(update={"second": measure.first})).applied_to(form)


def test_recipes_of_earlier_versions_still_open(evaluator: FormEvaluator) -> None:
    old = {
        "id": "b", "name": "Body", "symmetric": True, "steps": [
            {"kind": "box", "size": [60, 30, 90], "divisions": [2, 2, 3]},
            {"kind": "placed", "how": "move", "points": [0], "values": [1, 0, 0], "symmetric": True},
        ],
    }  # fmt: skip
    part = Part.model_validate(old)
    assert part.symmetry == ACROSS_W
    assert part.steps[1].symmetry == ACROSS_W  # type: ignore[union-attr]
    assert evaluator.cage(part).points[:, 0].min() == pytest.approx(-30)


def test_a_turned_start_stands_on_its_axis_and_turns_hold(evaluator: FormEvaluator) -> None:
    profile = ((8.0, 0.0), (10.0, 5.0), (6.0, 12.0))
    start = TurnedStart(profile=profile, sides=12, rows=4, axis="D", at=(3, -20, 10))
    form = started(start=start)
    cage = evaluator.cage(form.parts[0])
    assert cage.points[:, 1].min() == pytest.approx(-20)
    assert cage.points[:, [0, 2]].mean(axis=0) == pytest.approx((3, 10))
    turns = FormSymmetry(axis="D", turns=6, centre=(3, 0, 10))
    step = c.PlacedPoints(how="push", points=(0,), values=(1.5, 0, 0), symmetry=turns)
    pushed = evaluator.cage(e.Shape(part="b", step=step).applied_to(form).parts[0])
    assert (np.linalg.norm(pushed.points - cage.points, axis=1) > 1).sum() == 6
