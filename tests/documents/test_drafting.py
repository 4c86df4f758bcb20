"""Perspective, box, guides and marked edges on a sheet."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.drafting import camera_of, drafted, guide_shape, perspective_of
from hollow_marble.documents.sheet.model import (
    CircleGuide,
    ConstructionBox,
    DivisionGuide,
    Perspective,
    Sheet,
    SweepGuide,
)
from tests.documents.test_sheet import Desk

VIEW = Perspective(points=3, principal=(1200, 800), focal=2600, turn=35, tilt=20)
BOX = ConstructionBox(size=(62, 34, 108), at=(1180, 1150), scale=6)


def boxed() -> Sheet:
    return e.SetPerspective(perspective=VIEW, box=BOX, what="box").applied_to(Sheet())


def test_a_perspective_comes_back_from_its_camera() -> None:
    back = perspective_of(camera_of(VIEW), 3)
    assert back.turn == pytest.approx(35)
    assert back.tilt == pytest.approx(20)
    assert back.principal == VIEW.principal


def test_a_one_or_two_point_view_keeps_its_parallels_whatever_the_numbers_say() -> None:
    two = camera_of(VIEW.model_copy(update={"points": 2}))
    assert two.vanishing()[2, 2] == 0
    one = camera_of(VIEW.model_copy(update={"points": 1}))
    assert one.vanishing()[[0, 2], 2].tolist() == [0, 0]


def test_what_is_drafted_shows_grid_box_and_eye() -> None:
    found = drafted(boxed())
    assert [len(lines) for lines in found.grid] == [9, 9, 9]
    assert [point[2] for point in found.vanishing] == [1, 1, 1]
    assert found.box is not None
    assert {face.face for face in found.box.faces} == {"front", "right", "top"}
    assert sum(edge.hidden for edge in found.box.edges) == 3
    # the eye stands in front, to the right and above
    assert found.box.eye[0] > 0 > found.box.eye[1]
    assert found.box.eye[2] > 0
    hidden = drafted(
        e.SetPerspective(perspective=VIEW.model_copy(update={"shown": False}), box=None).applied_to(Sheet())
    )
    assert hidden.grid == []


def test_a_box_needs_a_perspective_sound_sides_and_room_before_the_eye() -> None:
    with pytest.raises(HollowMarbleError, match="Set the perspective first"):
        e.SetPerspective(perspective=None, box=BOX).applied_to(Sheet())
    with pytest.raises(HollowMarbleError, match="between 0 and"):
        e.SetPerspective(perspective=VIEW, box=BOX.model_copy(update={"size": (0, 1, 1)})).applied_to(Sheet())
    near = BOX.model_copy(update={"scale": 60.0, "size": (62, 340, 108)})
    with pytest.raises(HollowMarbleError, match="behind the eye"):
        e.SetPerspective(perspective=VIEW, box=near).applied_to(Sheet())


def test_sentences_say_what_was_set() -> None:
    assert e.SetPerspective(perspective=VIEW, box=None).sentence() == "Set a three-point perspective"
    assert (
        e.SetPerspective(perspective=VIEW, box=BOX, what="box").sentence()
        == "Set a construction box of 62 × 34 × 108 mm"
    )
    assert "Found the view" in e.SetPerspective(perspective=VIEW, box=BOX, what="camera").sentence()
    assert e.SetPerspective(perspective=None, box=None, what="away").sentence() == "Took the perspective away"
    assert e.SetPerspective(perspective=VIEW, box=None, what="box").sentence() == "Took the construction box away"


def test_circles_and_divisions_on_a_face_follow_the_box_and_go_with_it() -> None:
    sheet = boxed()
    circle = CircleGuide(id="c", face="front", centre=(31, 70), radius=20)
    division = DivisionGuide(id="d", face="top", columns=3, rows=2)
    for guide in (circle, division):
        sheet = e.PutGuide(guide=guide).applied_to(sheet)
    before = guide_shape(circle, sheet).ellipse
    moved = e.SetPerspective(perspective=VIEW, box=BOX.model_copy(update={"at": (900, 1150)}), what="box").applied_to(
        sheet
    )
    after = guide_shape(circle, moved).ellipse
    assert before is not None
    assert after is not None
    assert after.centre[0] < before.centre[0] - 200
    assert len(guide_shape(division, moved).lines) == 4 + 3
    bare = e.SetPerspective(perspective=VIEW, box=None, what="box").applied_to(moved)
    assert bare.guides == ()


def test_guides_that_do_not_fit_are_refused() -> None:
    with pytest.raises(HollowMarbleError, match="no construction box"):
        e.PutGuide(guide=CircleGuide(id="c", face="front", centre=(1, 1), radius=5)).applied_to(Sheet())
    with pytest.raises(HollowMarbleError, match="four corners"):
        e.PutGuide(guide=DivisionGuide(id="d")).applied_to(Sheet())
    quad = ((0, 0), (100, 0), (0, 100), (100, 100))
    with pytest.raises(HollowMarbleError, match="cross over"):
        e.PutGuide(guide=DivisionGuide(id="d", quad=quad)).applied_to(Sheet())


def test_a_sweep_curve_begins_where_it_is_put_and_flips() -> None:
    guide = SweepGuide(id="s", family="easing", at=(300, 400), turn=90, length=500, comb=True)
    shape = guide_shape(guide, Sheet())
    line = np.array(shape.lines[0])
    assert line[0] == pytest.approx([300, 400])
    assert np.hypot(*np.diff(line, axis=0).T).sum() == pytest.approx(500, rel=1e-3)
    assert line[5, 0] == pytest.approx(300, abs=1)
    assert len(shape.fine) == 48
    flipped = np.array(guide_shape(guide.model_copy(update={"flipped": True}), Sheet()).lines[0])
    assert flipped[:, 0] - 300 == pytest.approx(300 - line[:, 0], abs=1e-9)
    assert flipped[:, 1] == pytest.approx(line[:, 1], abs=1e-9)


def test_edges_are_marked_and_unmarked() -> None:
    desk = Desk()
    for height in (100, 200):
        desk.do(desk.stroke([(100, height), (300, height)]))
    one, other = "s1", "s2"
    desk.do(e.MarkEdges(strokes=(one, other), along="W"))
    desk.do(e.MarkEdges(strokes=(other,), along="H"))
    assert desk.sheet.edges == {one: "W", other: "H"}
    desk.do(e.MarkEdges(strokes=(one,), along=None))
    assert desk.sheet.edges == {other: "H"}
    with pytest.raises(HollowMarbleError, match="no longer there"):
        e.MarkEdges(strokes=("gone",), along="D").applied_to(desk.sheet)
    assert e.MarkEdges(strokes=("x", "y"), along="D").sentence() == "Marked 2 lines as running along D"
