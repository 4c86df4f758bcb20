"""Painting on tone layers: tiles that change, and only those."""

from __future__ import annotations

import hashlib

import numpy as np
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint, select
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.model import Axis, Repeat, Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.documents.sheet.raster.tiles import TILE, TileShelf, tile_rect, tiles_under


class Easel:
    """A sheet of 700 × 600 with one tone layer, its assets in memory."""

    def __init__(self) -> None:
        self.assets: dict[str, bytes] = {}
        self.sheet = e.AddLayer(id="t", name="Tone", holds="tone").applied_to(Sheet(width=700, height=600))
        self.raster = SheetRaster(self.assets.__getitem__)
        self.raster.update(self.sheet)

    def fill(self, rect: tuple[int, int, int, int], colour: tuple[int, int, int] = (90, 90, 90)) -> painting.Tiles:
        cover = np.ones((rect[3] - rect[1], rect[2] - rect[0]), np.float32)
        tiles = painting.exchanged(
            self.raster, self.sheet, "t", rect, lambda old: paint.laid(old, cover, colour, False, False)
        )
        return self.keep(tiles)

    def keep(self, tiles: painting.Tiles) -> painting.Tiles:
        self.assets |= tiles.data
        self.sheet = e.PaintTone(layer="t", tiles=tiles.names, said="Painted").applied_to(self.sheet)
        self.raster.update(self.sheet)
        return tiles

    def page(self) -> np.ndarray:
        return self.raster.pixels((0, 0, 700, 600))


def test_only_tiles_that_were_touched_are_exchanged() -> None:
    easel = Easel()
    tiles = easel.fill((200, 100, 300, 200))
    assert sorted(tiles.names) == ["0,0", "1,0"]
    assert (easel.page()[150, 250, :3] == 90).all()
    again = easel.fill((210, 110, 220, 120))
    assert again.names == {}, "the same paint over itself changes nothing"


def test_a_tile_that_becomes_bare_is_dropped() -> None:
    easel = Easel()
    easel.fill((0, 0, 100, 100))
    cover = np.ones((100, 100), np.float32)
    tiles = painting.exchanged(easel.raster, easel.sheet, "t", (0, 0, 100, 100), lambda old: paint.cleared(old, cover))
    easel.keep(tiles)
    assert tiles.names == {"0,0": None}
    assert easel.sheet.layers[1].tiles == {}  # type: ignore[union-attr]


def test_tiles_are_named_by_their_own_bytes_and_come_back_the_same() -> None:
    easel = Easel()
    tiles = easel.fill((0, 0, 64, 64))
    ((name, sha),) = tiles.names.items()
    assert sha is not None
    assert hashlib.sha256(tiles.data[sha]).hexdigest() == sha
    fresh = TileShelf(easel.assets.__getitem__).pixels(sha)
    assert fresh.shape == (TILE, TILE, 4)
    assert (fresh[10, 10] == (90, 90, 90, 255)).all()
    assert not fresh[100, 100].any()
    assert tile_rect(name) == (0, 0, 256, 256)


def test_a_damaged_tile_says_so() -> None:
    shelf = TileShelf({"x": b"torn"}.__getitem__)
    with pytest.raises(HollowMarbleError, match="damaged"):
        shelf.pixels("x")


def test_pages_that_are_no_multiple_of_a_tile_have_whole_edges() -> None:
    easel = Easel()
    easel.fill((680, 580, 700, 600), (10, 20, 30))
    assert (easel.page()[599, 699, :3] == (10, 20, 30)).all()
    assert (easel.page()[570, 670, :3] == easel.page()[0, 0, :3]).all()
    assert [name for name, _ in tiles_under((680, 580, 900, 900), (0, 0, 700, 600))] == ["2,2"]
    assert tiles_under((800, 0, 900, 100), (0, 0, 700, 600)) == []


def test_painting_beside_the_page_is_refused() -> None:
    with pytest.raises(HollowMarbleError, match="beside the page"):
        Easel().fill((800, 0, 900, 50))


def stroke() -> np.ndarray:
    x = np.linspace(100, 300, 20)
    return np.stack([x, 0 * x + 200, 0 * x + 0.9, 0 * x], axis=1).astype(np.float32)


def test_a_stroke_is_cut_to_the_selection_and_soft_where_that_is_soft() -> None:
    page = (0, 0, 700, 600)
    hard = select.boxed((150, 150, 250, 250), page)
    rect, cover = painting.stroke_cover(stroke(), "marker", 30, 0.8, None, hard, page)
    assert rect[0] >= 150
    assert rect[2] <= 250
    soft = select.feathered(hard, 12, page)
    rect, faded = painting.stroke_cover(stroke(), "marker", 30, 0.8, None, soft, page)
    row = faded[200 - rect[1]]
    assert 0 < row[150 - rect[0]] < row[200 - rect[0]] <= cover.max() + 1e-6
    with pytest.raises(HollowMarbleError, match="outside the selection"):
        painting.stroke_cover(stroke(), "marker", 30, 0.8, None, select.boxed((500, 500, 600, 600), page), page)


def test_copies_of_a_stroke_build_up_where_they_cross() -> None:
    page = (0, 0, 700, 600)
    turned = Repeat(axis=Axis(x=200, y=200), mirror=False, turns=3)
    rect, cover = painting.stroke_cover(stroke(), "marker", 30, 0.5, turned, None, page)
    crossing, alone = cover[200 - rect[1], 200 - rect[0]], cover[200 - rect[1], 280 - rect[0]]
    assert crossing > alone + 0.2
    x, y = 200 + 80 * np.cos(2 * np.pi / 3), 200 + 80 * np.sin(2 * np.pi / 3)
    assert cover[int(y) - rect[1], int(x) - rect[0]] == pytest.approx(alone, abs=0.08)


def test_a_selection_is_kept_whole() -> None:
    page = (0, 0, 700, 600)
    chosen = select.feathered(select.boxed((40, 60, 200, 130), page), 9, page)
    back = painting.selection_from(painting.selection_to_bytes(chosen))
    assert back.rect == chosen.rect
    assert np.array_equal(back.mask, chosen.mask)


def test_differences_are_told_from_the_documents_and_cover_what_changed() -> None:
    easel = Easel()
    before, bare = easel.sheet, easel.page()
    easel.fill((300, 300, 330, 330))
    rects = differences(before, easel.sheet)
    assert rects == [(256, 256, 512, 512)]
    assert differences(easel.sheet, easel.sheet) == []
    changed = np.argwhere((easel.page() != bare).any(axis=2))
    assert changed.min() >= 256
    tinted = e.ChangeLayer(layer="t", tint="#225588").applied_to(easel.sheet)
    assert differences(easel.sheet, tinted) == [(256, 256, 512, 512)]
    renamed = e.ChangeLayer(layer="t", name="Shade").applied_to(easel.sheet)
    assert differences(easel.sheet, renamed) == []
    darker = e.SetPage(paper="#101010").applied_to(easel.sheet)
    assert differences(easel.sheet, darker) == [(0, 0, 700, 600)]


def test_a_fresh_raster_shows_what_the_followed_one_shows() -> None:
    easel = Easel()
    for k in range(6):
        easel.fill((40 * k, 60 * k, 40 * k + 200, 60 * k + 150), (30 * k, 90, 200 - 20 * k))
    fresh = SheetRaster(easel.assets.__getitem__)
    fresh.update(easel.sheet)
    assert np.array_equal(fresh.pixels((0, 0, 700, 600)), easel.page())
    assert fresh.memory() == 700 * 600 * 4


def test_only_tone_layers_that_are_open_can_be_painted_on() -> None:
    easel = Easel()
    with pytest.raises(HollowMarbleError, match="not a tone layer"):
        painting.tone_layer(easel.sheet, "rough")
    locked = e.ChangeLayer(layer="t", locked=True).applied_to(easel.sheet)
    with pytest.raises(HollowMarbleError, match="is locked"):
        painting.tone_layer(locked, "t")
    with pytest.raises(HollowMarbleError, match="no longer there"):
        painting.tone_layer(easel.sheet, "gone")
