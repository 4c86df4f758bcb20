"""Views moved with what lies in them, and what a ledger says of it."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.drawing import lines_in, moved_repeat, moved_stroke
from hollow_marble.documents.sheet.model import Axis, Callout, Dimension, Repeat
from hollow_marble.documents.sheet.moving import inside, moved_note
from tests.documents.test_sheet import Desk


def framed() -> Desk:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (200, 140)]))
    desk.do(desk.stroke([(400, 300), (500, 300)]))
    desk.do(e.FrameView(id="a", view="side", name="a", rect=(50, 50, 250, 200)))
    return desk


def moved(desk: Desk, dx: int, dy: int) -> e.MoveViews:
    (layer,) = desk.sheet.layers
    strokes = []
    for stroke in lines_in(layer, desk.sheet.views[0].rect):  # type: ignore[arg-type]
        samples = np.frombuffer(desk.assets[stroke.samples], "<f4").reshape(-1, 4).copy()
        samples[:, :2] += (dx, dy)
        desk.assets[f"{stroke.id}-moved"] = samples.tobytes()
        strokes.append(moved_stroke(stroke, stroke.id, samples, f"{stroke.id}-moved", (dx, dy)))
    return e.MoveViews(moves={"a": (dx, dy)}, strokes={"rough": tuple(strokes)}, said="Moved a view")


def test_a_moved_view_takes_its_lines_along_in_their_order() -> None:
    desk = framed()
    before = desk.page()
    order = [stroke.id for stroke in desk.sheet.layers[0].strokes]  # type: ignore[union-attr]
    raster = desk.raster()
    edit = moved(desk, 120, 40)
    desk.do(edit)
    raster.update(desk.sheet)
    after = raster.pixels((0, 0, 600, 400))
    assert np.array_equal(after, desk.page())
    # the pencil's grain is the paper's and does not move; the line's place does
    gone, come = before[90:150, 90:210, 0] < 200, after[130:190, 210:330, 0] < 200
    assert (gone == come).mean() > 0.97
    assert np.array_equal(after[290:310], before[290:310])
    assert desk.sheet.views[0].rect == (170, 90, 370, 240)
    assert [stroke.id for stroke in desk.sheet.layers[0].strokes] == order  # type: ignore[union-attr]
    assert edit.sentence() == "Moved a view"


def test_a_view_that_is_gone_cannot_be_moved() -> None:
    desk = framed()
    edit = moved(desk, 10, 10)
    desk.do(e.RemoveView(id="a"))
    with pytest.raises(HollowMarbleError, match="no longer there"):
        desk.do(edit)


def test_pictures_go_along_where_their_middle_lies_in_the_view() -> None:
    desk = framed()
    for ident, rect in (("in", (60, 60, 240, 190)), ("out", (300, 200, 400, 300))):
        desk.do(e.PlacePicture(id=ident, name=ident, picture="p", rect=rect))
    desk.do(e.MoveViews(moves={"a": (30, -20)}, said="Moved a view"))
    quads = {layer.id: layer.quad for layer in desk.sheet.layers if layer.kind == "picture"}
    assert quads["in"][0] == (90, 40)
    assert quads["out"][0] == (300, 200)


def test_tone_tiles_that_became_bare_are_let_go() -> None:
    desk = framed()
    desk.do(e.AddLayer(id="t", name="Tone", holds="tone"))
    desk.do(e.PaintTone(layer="t", tiles={"0,0": "x", "1,0": "y"}, said="Painted"))
    tiles = {"t": {"0,0": None, "1,1": "z"}}
    desk.do(e.MoveViews(moves={"a": (300, 200)}, tiles=tiles, said="Moved a view"))
    assert desk.sheet.layers[-1].tiles == {"1,0": "y", "1,1": "z"}  # type: ignore[union-attr]


def test_notes_go_along_with_all_their_ends() -> None:
    callout = Callout(id="c", words="Dial", to=(60, 60), at=(120, 90), size=20)
    went = moved_note(callout, (0, 0, 200, 200), (10, 5))
    assert (went.to, went.at) == ((70, 65), (130, 95))  # type: ignore[union-attr]
    across = Dimension(id="d", start=(150, 100), end=(450, 100))
    assert moved_note(across, (0, 0, 200, 200), (10, 5)) is across
    assert inside((0, 0, 10, 10), (9.9, 0))
    assert not inside((0, 0, 10, 10), (10, 5))


def test_a_repeat_goes_along_with_its_stroke() -> None:
    repeat = Repeat(axis=Axis(x=100, y=50, angle=30), mirror=False, turns=6)
    went = moved_repeat(repeat, 20, -10)
    assert went is not None
    assert (went.axis.x, went.axis.y, went.axis.angle, went.turns) == (120, 40, 30, 6)
    assert moved_repeat(None, 1, 1) is None
