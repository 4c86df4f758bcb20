"""Notes on a sheet: words, callouts, dimensions, arrows, and their pixels."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.model import Arrow, Callout, Dimension, Lettering
from hollow_marble.documents.sheet.notes import Solid, Stretch, Words, length_words, marks, notes_extent, width_of
from tests.documents.test_sheet import Desk

TITLE = Lettering(id="t", words="Linnet\npocket recorder", at=(60, 80), size=40, font="serif")
WIDE = Dimension(id="d", start=(100, 300), end=(410, 300), off=-40, size=22)


def noted() -> Desk:
    desk = Desk()
    desk.do(e.AddLayer(id="n", name="Notes", holds="notes"))
    return desk


def dark(page: np.ndarray) -> np.ndarray:
    return np.argwhere(page[..., :3].max(axis=2) < 110)


def test_words_are_drawn_where_they_stand_and_within_their_extent() -> None:
    desk = noted()
    desk.do(e.PutNote(layer="n", note=TITLE))
    found = dark(desk.page())
    assert len(found) > 300
    left, top, right, bottom = notes_extent((TITLE,), desk.sheet)
    assert left <= found[:, 1].min()
    assert found[:, 1].max() < right
    assert top <= found[:, 0].min()
    assert found[:, 0].max() < bottom
    assert abs(found[:, 1].min() - 60) < 6


def test_a_note_is_changed_in_place_and_taken_away() -> None:
    desk = noted()
    desk.do(e.PutNote(layer="n", note=TITLE))
    raster = desk.raster()
    desk.do(e.PutNote(layer="n", note=TITLE.model_copy(update={"words": "Brindle", "at": (300, 200)})))
    changed = raster.update(desk.sheet)
    page = raster.pixels((0, 0, 600, 400))
    assert np.array_equal(page, desk.page())
    outside = np.ones((400, 600), bool)
    for left, top, right, bottom in changed:
        outside[top:bottom, left:right] = False
    assert outside.any()
    assert len(desk.sheet.layers[-1].notes) == 1  # type: ignore[union-attr]
    desk.do(e.RemoveNotes(layer="n", ids=("t",)))
    raster.update(desk.sheet)
    assert len(dark(raster.pixels((0, 0, 600, 400)))) == 0
    with pytest.raises(HollowMarbleError, match="no longer there"):
        desk.do(e.RemoveNotes(layer="n", ids=("t",)))


def test_a_dimension_is_in_mm_once_its_view_has_a_scale() -> None:
    desk = noted()
    desk.do(e.PutNote(layer="n", note=WIDE))
    assert length_words(WIDE, desk.sheet.views) == "310 px"
    desk.do(e.FrameView(id="v", view="front", name="front", rect=(50, 50, 550, 390)))
    raster = desk.raster()
    desk.do(e.SetScale(view="v", scale=5.0))
    assert length_words(WIDE, desk.sheet.views) == "62 mm"
    raster.update(desk.sheet)
    assert np.array_equal(raster.pixels((0, 0, 600, 400)), desk.page())
    assert length_words(WIDE.model_copy(update={"end": (272.5, 300)}), desk.sheet.views) == "34.5 mm"
    assert e.SetScale(view="v", scale=5.0).sentence() == "Set the scale of a view to 5 px a mm"


def test_a_dimension_s_arrows_touch_its_extension_lines_and_its_words_stand_upright() -> None:
    for end in ((410, 300), (-200, 300), (100, 30), (100, 380)):
        found = marks(WIDE.model_copy(update={"end": end}), ())
        tips = [mark.places[0] for mark in found if isinstance(mark, Solid)]
        line = next(mark for mark in found if isinstance(mark, Stretch) and set(mark.places) == set(tips))
        assert np.hypot(*np.subtract(*line.places)) == pytest.approx(np.hypot(*np.subtract(end, (100, 300))))
        (words,) = [mark for mark in found if isinstance(mark, Words)]
        assert -90 <= words.turn < 90


def test_a_callout_s_leader_goes_from_the_thing_to_the_words() -> None:
    callout = Callout(id="c", words="Level dial,\nknurled", to=(400, 300), at=(80, 90), size=24)
    leader, dot, first, second = marks(callout, ())
    assert isinstance(leader, Stretch)
    assert leader.places[0] == (400, 300)
    assert leader.places[1][0] == pytest.approx(80 + width_of("Level dial,", "sans", 24))
    assert leader.places[2][0] == 80
    assert isinstance(dot, Solid)
    assert [mark.text for mark in (first, second) if isinstance(mark, Words)] == ["Level dial,", "knurled"]


def test_a_bent_arrow_passes_beside_its_middle_and_ends_in_its_tip() -> None:
    shaft, head = marks(Arrow(id="a", start=(100, 200), end=(500, 200), bend=0.25, size=30), ())
    assert isinstance(shaft, Stretch)
    assert isinstance(head, Solid)
    assert max(y for _, y in shaft.places) == pytest.approx(300, abs=2)
    assert head.places[0] == (500, 200)


def test_notes_without_length_and_on_other_layers_are_refused() -> None:
    desk = noted()
    with pytest.raises(HollowMarbleError, match="lie on one another"):
        desk.do(e.PutNote(layer="n", note=Arrow(id="a", start=(5, 5), end=(6, 6))))
    with pytest.raises(HollowMarbleError, match="holds no notes"):
        desk.do(e.PutNote(layer="rough", note=TITLE))
    desk.do(e.ChangeLayer(layer="n", locked=True))
    with pytest.raises(HollowMarbleError, match="locked"):
        desk.do(e.PutNote(layer="n", note=TITLE))


def test_sentences_name_the_words() -> None:
    assert e.PutNote(layer="n", note=TITLE).sentence() == "Wrote “Linnet”"
    assert e.PutNote(layer="n", note=WIDE).sentence() == "Put a dimension on the page"
    assert e.RemoveNotes(layer="n", ids=("a", "b")).sentence() == "Took 2 notes off the page"


def test_letters_outside_the_plain_alphabet_have_shapes() -> None:
    from hollow_marble.documents.sheet.notes import FONTS, skia_font

    for font in FONTS:
        glyphs = skia_font(font, 20).textToGlyphs("Maß 62 × 34 mm, 45°, Łódź – “é…”")
        assert 0 not in list(glyphs), font
