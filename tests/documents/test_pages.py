"""The page itself: gradients, borders, broken lines, moved views, larger pictures of it."""

from __future__ import annotations

import numpy as np
import pytest

from hollow_marble.core.ink.path import NIBS, pieces
from hollow_marble.core.ink.stamp import coverage
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.model import Border, Ground, InkLayer, Lettering
from hollow_marble.documents.sheet.moving import moved_note
from hollow_marble.documents.sheet.raster.enlarged import enlarged
from tests.documents.test_painting import Easel
from tests.documents.test_sheet import Desk


def test_paper_goes_over_from_one_side_to_the_other() -> None:
    desk = Desk()
    desk.do(e.SetPage(ground=Ground(way="linear", colour="#808080", angle=90)))
    page = desk.page()[..., 0].astype(int)
    assert page[0].tolist() == [255] * 600
    assert page[399, 300] == pytest.approx(128, abs=1)
    assert page[199, 10] == pytest.approx((255 + 128) / 2, abs=2)
    assert (np.diff(page[:, 5]) <= 0).all()
    desk.do(e.SetPage(ground=Ground(way="radial", colour="#000000")))
    round_ = desk.page()[..., 0].astype(int)
    assert round_[200, 300] > 250
    assert round_[0, 0] < 6
    desk.do(e.SetPage(ground="plain"))
    assert desk.page()[399, 300].tolist() == [255, 254, 250, 255]


def test_a_border_is_as_wide_as_it_says_and_is_drawn_over_everything() -> None:
    desk = Desk()
    desk.do(desk.stroke([(0, 42), (600, 42)], nib="marker", size=30))
    raster = desk.raster()
    desk.do(e.SetPage(border=Border(width=4, inset=40, colour="#FF0000")))
    assert raster.update(desk.sheet) == [(0, 0, 600, 400)]
    page = raster.pixels((0, 0, 600, 400))
    red = (page[..., 0] == 255) & (page[..., 1] == 0)
    assert np.flatnonzero(red[200]).tolist() == [40, 41, 42, 43, 556, 557, 558, 559]
    assert red[42, 100:500].all()
    assert red.sum() == 2 * 4 * 520 + 2 * 4 * (320 - 8)
    tiles = raster.tiles([(0, 0, 600, 400)])
    assert all(pixels is not None for _, pixels in tiles[:2])
    assert e.SetPage(border="none").applied_to(desk.sheet).border is None


@pytest.mark.parametrize("line", ["split", "hidden"])
def test_broken_lines_have_gaps_in_proportion(line: str) -> None:
    """ISO 128: long-dash dotted and dashed lines; the lengths are ours."""
    samples = np.array([[20, 50, 1, 0], [580, 50, 1, 0]], np.float32)
    nib = NIBS["fineliner"](5, 1.0)
    along = coverage(samples, nib, (0, 0, 600, 100), line)[50] > 0.5
    whole = coverage(samples, nib, (0, 0, 600, 100))[50] > 0.5
    assert along.sum() < 0.85 * whole.sum()
    runs = np.diff(np.flatnonzero(np.diff(along.astype(int)) != 0))
    inked = runs[::2] if along[20] else runs[1::2]
    assert len(set(np.round(inked[:-1] / 5).astype(int))) == (2 if line == "split" else 1)
    assert len(pieces(samples, nib, line)) == pytest.approx((np.diff(along.astype(int)) == 1).sum(), abs=1)


def test_a_page_twice_as_fine_shows_the_same_page() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 220), (500, 120)], nib="fineliner", size=9))
    desk.do(desk.stroke([(100, 300), (500, 300)], nib="marker", size=40))
    desk.do(desk.stroke([(200, 300), (400, 300)], nib="lifter", size=20))
    desk.do(e.AddLayer(id="n", name="Notes", holds="notes"))
    desk.do(e.PutNote(layer="n", note=Lettering(id="t", words="Linnet", at=(60, 80), size=40)))
    desk.do(e.FrameView(id="v", view="side", name="side", rect=(350, 50, 550, 250)))
    desk.do(e.StrikeOut(id="v", struck=True))
    desk.do(e.SetPage(border=Border(width=4, inset=20)))
    small = desk.page()[..., :3].astype(float)
    large = enlarged(desk.sheet, desk.raster(), desk.assets.__getitem__, 2).astype(float)
    assert large.shape == (800, 1200, 3)
    halved = large.reshape(400, 2, 600, 2, 3).mean(axis=(1, 3))
    assert np.abs(halved - small).mean() < 1.5
    assert np.abs(halved - small)[180:260, 60:140].max() < 12  # beside lines nothing differs
    # twice as fine means twice as sharp: the line's flank takes as many pixels as before
    assert np.abs(np.diff(large[:, 600], axis=0)).max() >= 0.8 * np.abs(np.diff(small[:, 300], axis=0)).max()


def test_painted_pixels_are_enlarged_across_bands_without_a_seam() -> None:
    easel = Easel()
    easel.fill((100, 100, 500, 500), (90, 120, 60))
    large = enlarged(easel.sheet, easel.raster, easel.assets.__getitem__, 3)
    assert large.shape == (1800, 2100, 3)
    inside = large[330:1470, 330:1470].reshape(-1, 3)
    assert (inside == (90, 120, 60)).all()
    assert (large[:270] == (255, 254, 250)).all()


def test_notes_move_with_the_view_they_lie_in() -> None:
    note = Lettering(id="t", words="Dial", at=(60, 80), size=40)
    assert moved_note(note, (0, 0, 100, 100), (30, -10)).at == (90, 70)  # type: ignore[union-attr]
    assert moved_note(note, (100, 0, 200, 100), (30, -10)) == note


def test_faint_repeats_lie_behind_everything() -> None:
    desk = Desk()
    desk.do(e.RepeatFaintly(layer=InkLayer(id="f", name="Faint", opacity=0.14)))
    assert desk.sheet.layers[0].id == "f"
    with pytest.raises(Exception, match="there already"):
        desk.do(e.RepeatFaintly(layer=InkLayer(id="f", name="Faint")))


def test_tiles_are_of_the_state_that_is_asked_for_whatever_the_pixels_were_brought_to() -> None:
    """Two hands at one sheet: the pixels may stand at another state when the tiles of one are fetched."""
    desk = Desk()
    blank = desk.sheet
    raster = desk.raster()
    desk.do(desk.stroke([(20, 42), (500, 42)], nib="marker", size=30))
    changed = raster.update(desk.sheet)
    raster.update(blank)
    assert all(pixels is None for _, pixels in raster.tiles(changed))
    assert any(pixels is not None for _, pixels in raster.tiles(changed, desk.sheet))
