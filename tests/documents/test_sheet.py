"""Sheets: edits, and pixels that follow them from any state to any other."""

from __future__ import annotations

import io
import random
import zlib

import numpy as np
import pytest
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.drawing import made_stroke
from hollow_marble.documents.sheet.model import Axis, Border, Ground, Lettering, Rect, Repeat, Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.exchange.pictures import png


class Desk:
    """A sheet with its assets in memory."""

    def __init__(self, width: int = 600, height: int = 400) -> None:
        self.assets: dict[str, bytes] = {}
        self.sheet = Sheet(width=width, height=height)
        self._count = 0

    def stroke(
        self,
        places: list[tuple[float, float]],
        nib: str = "pencil",
        size: float = 8.0,
        mirror: Axis | None = None,
        layer: str = "rough",
        **look: object,
    ) -> e.DrawStroke:
        samples = np.array([[x, y, 0.8, 0.0] for x, y in places], np.float32)
        self._count += 1
        name = f"s{self._count}"
        self.assets[name] = samples.astype("<f4").tobytes()
        repeat = Repeat(axis=mirror) if mirror else None
        stroke = made_stroke(name, samples, name, nib, size, 0.9, repeat=repeat, **look)  # type: ignore[arg-type]
        return e.DrawStroke(layer=layer, stroke=stroke)

    def do(self, edit: object) -> Sheet:
        self.sheet = edit.applied_to(self.sheet)  # type: ignore[attr-defined]
        return self.sheet

    def raster(self) -> SheetRaster:
        raster = SheetRaster(self.assets.__getitem__)
        raster.update(self.sheet)
        return raster

    def page(self) -> np.ndarray:
        """The page drawn anew from nothing."""
        return self.raster().pixels((0, 0, self.sheet.width, self.sheet.height))


def test_drawing_darkens_the_page_where_the_stroke_is() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 100)]))
    page = desk.page()
    assert page[100, 200, :3].max() < 120
    assert page[300, 200].tolist() == [255, 254, 250, 255]


def test_mirror_draws_both_sides() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (200, 120)], mirror=Axis(x=300, y=200)))
    page = desk.page()
    assert page[110, 150, 0] < 150
    assert page[110, 450, 0] < 150


def test_the_order_of_strokes_counts_for_the_lifter() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 100)]))
    desk.do(desk.stroke([(180, 60), (180, 140)], "lifter", 30))
    desk.do(desk.stroke([(185, 60), (185, 140)], size=3))
    page = desk.page()
    assert page[100, 170, 0] > 220, "lifted, as far as this tone lifts"
    assert page[100, 185, 0] < 150, "drawn after lifting"


MEANWHILE: dict[int, list[object]] = {
    4: [e.AddLayer(id="two", name="Two")],
    7: [e.PlacePicture(id="p", name="P", picture="picture", rect=(50, 60, 350, 260))],
    10: [e.ChangeLayer(layer="two", opacity=0.4)],
    13: [e.FrameView(id="v", view="side", name="side", rect=(40, 40, 300, 300)), e.StrikeOut(id="v", struck=True)],
    16: [e.MoveLayer(layer="rough", place=2)],
    17: [
        e.AddLayer(id="g", name="Group", holds="group"),
        e.MoveLayer(layer="two", group="g", place=0),
        e.ChangeLayer(layer="g", mode="multiply", opacity=0.7),
    ],
    18: [
        e.AddLayer(id="t", name="Tone", holds="tone"),
        e.PaintTone(layer="t", tiles={"0,0": "tile", "1,1": "tile"}, said="Painted"),
        e.ChangeLayer(layer="t", mode="overlay", tint="#2F6F9F"),
    ],
    19: [
        e.ChangeLayer(layer="p", visible=False),
        e.SetPicture(layer="p", quad=((60, 60), (400, 90), (380, 300), (40, 250))),
    ],
    20: [
        e.ChangeLayer(layer="t", clipped=True),
        e.PaintTone(layer="t", tiles={"0,0": None, "2,0": "tile"}, said="Painted"),
    ],
    21: [e.RemoveLayer(layer="two")],
    22: [
        e.AddLayer(id="n", name="Notes", holds="notes"),
        e.PutNote(layer="n", note=Lettering(id="w", words="Dial", at=(60, 80), size=40)),
        e.SetPage(border=Border(width=4, inset=20)),
    ],
    23: [e.SetPage(ground=Ground(way="linear", colour="#808080", angle=90))],
}
"""What happens to the sheet after so many strokes."""


def test_pixels_follow_any_change_as_if_drawn_anew() -> None:
    """From any state of a sheet to any other the kept pixels equal a fresh drawing, bit for bit."""
    chance = random.Random(5)
    desk = Desk()
    states = [desk.sheet]
    desk.assets["picture"] = png(np.full((20, 30, 4), (200, 30, 30, 255), np.uint8))
    desk.assets["tile"] = zlib.compress(np.full((256, 256, 4), 90, np.uint8).tobytes())
    for number in range(24):
        a = (chance.randint(0, 600), chance.randint(0, 400))
        b = (chance.randint(0, 600), chance.randint(0, 400))
        layer = chance.choice([x.id for x in desk.sheet.layers if x.kind == "ink"])
        desk.do(desk.stroke([a, b], chance.choice(["pencil", "pencil", "lifter"]), chance.uniform(2, 30), layer=layer))
        for edit in MEANWHILE.get(number, []):
            desk.do(edit)
        states.append(desk.sheet)
    kept = SheetRaster(desk.assets.__getitem__)
    whole = (0, 0, 600, 400)
    shown = None
    for _ in range(30):
        state = chance.choice(states)
        changed = kept.update(state)
        fresh = SheetRaster(desk.assets.__getitem__)
        fresh.update(state)
        now = kept.pixels(whole)
        assert np.array_equal(now, fresh.pixels(whole))
        assert np.array_equal(from_tiles(kept, state), now)
        if shown is not None:  # what is said to have changed covers what did
            difference = (now != shown).any(axis=2)
            for left, top, right, bottom in changed:
                difference[top:bottom, left:right] = False
            assert not difference.any()
        shown = now


def from_tiles(raster: SheetRaster, state: Sheet) -> np.ndarray:
    """The page put together from its tiles, as the interface does."""
    page = np.empty((state.height, state.width, 4), np.uint8)
    for (left, top, right, bottom), pixels in raster.tiles([(0, 0, state.width, state.height)], state):
        page[top:bottom, left:right] = (255, 254, 250, 255) if pixels is None else pixels
    return page


def test_tiles_are_composed_once_and_again_only_where_something_changed() -> None:
    """Opening a page again costs no drawing; after a stroke only what it touches is worked out again."""
    desk = Desk()
    desk.do(desk.stroke([(20, 20), (580, 380)], "marker", 60))
    raster = desk.raster()
    whole: Rect = (0, 0, 600, 400)
    first = dict(raster.tiles([whole]))
    assert all(pixels is first[rect] for rect, pixels in raster.tiles([whole]))
    desk.do(desk.stroke([(20, 40), (200, 40)], size=6))
    again = dict(raster.tiles([whole], desk.sheet))
    assert [rect for rect in first if again[rect] is not first[rect]] == [(0, 0, 256, 256)]
    assert raster.weight > sum(pixels.nbytes for pixels in again.values() if pixels is not None)


def test_tiles_of_a_stroke_are_only_those_it_touches() -> None:
    desk = Desk(1200, 800)
    raster = desk.raster()
    desk.do(desk.stroke([(300, 300), (340, 330)]))
    tiles = raster.tiles(raster.update(desk.sheet))
    assert len(tiles) == 1
    (left, top, right, bottom), pixels = tiles[0]
    assert 256 <= left < right <= 512
    assert pixels is not None
    assert pixels.shape == (bottom - top, right - left, 4)


def test_bare_paper_is_not_sent() -> None:
    desk = Desk(1200, 800)
    raster = desk.raster()
    assert all(pixels is None for _, pixels in raster.tiles([(0, 0, 1200, 800)]))


def test_a_views_ink_is_clear_where_the_paper_is() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 100), (300, 100)], size=12))
    desk.do(e.FrameView(id="v", view="side", name="side", rect=(80, 60, 320, 140)))
    ink = desk.raster().view_ink(desk.sheet.views[0])
    assert ink.shape == (80, 240, 4)
    assert ink[5, 5, 3] == 0
    assert ink[40, 120, 3] > 150
    over = ink[40, 120, :3].astype(float) * ink[40, 120, 3] / 255 + np.array([255, 254, 250]) * (
        1 - ink[40, 120, 3] / 255
    )
    assert np.abs(over - desk.page()[100, 200, :3]).max() < 2, "laid on the paper again it is the page"


def test_pictures_are_scaled_into_their_place() -> None:
    desk = Desk()
    desk.assets["picture"] = png(np.full((50, 80, 4), (10, 120, 200, 255), np.uint8))
    desk.do(e.PlacePicture(id="p", name="P", picture="picture", rect=(100, 100, 260, 200)))
    page = desk.page()
    assert page[150, 180, :3].tolist() == [10, 120, 200]
    assert page[90, 180, :3].tolist() == [255, 254, 250]


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (e.ChangeLayer(layer="gone", name="x"), "no longer there"),
        (e.RemoveLayer(layer="rough"), "at least one layer"),
        (e.FrameView(id="v", view="side", name="s", rect=(10, 10, 12, 300)), "too small"),
        (e.StrikeOut(id="gone", struck=True), "no longer there"),
        (e.RemoveView(id="gone"), "no longer there"),
    ],
)
def test_edits_that_do_not_fit_are_refused(edit: object, words: str) -> None:
    with pytest.raises(HollowMarbleError, match=words):
        edit.applied_to(Sheet())  # type: ignore[attr-defined]


def test_a_picture_layer_takes_no_ink() -> None:
    desk = Desk()
    desk.assets["picture"] = png(np.zeros((8, 8, 4), np.uint8))
    desk.do(e.PlacePicture(id="p", name="P", picture="picture", rect=(0, 0, 50, 50)))
    with pytest.raises(HollowMarbleError, match="holds no ink"):
        desk.do(desk.stroke([(1, 1), (5, 5)], layer="p"))


def test_views_can_be_changed_and_removed() -> None:
    desk = Desk()
    desk.do(e.FrameView(id="v", view="side", name="side", rect=(10, 10, 100, 100)))
    desk.do(e.ChangeView(id="v", name="left side", view="front"))
    assert (desk.sheet.views[0].name, desk.sheet.views[0].view) == ("left side", "front")
    desk.do(e.RemoveView(id="v"))
    assert desk.sheet.views == ()


def test_every_edit_says_what_it_did() -> None:
    said = [
        e.AddLayer(id="a", name="Clean").sentence(),
        e.ChangeLayer(layer="a", opacity=0.25, visible=False).sentence(),
        e.FrameView(id="v", view="side", name="pebble", rect=(0, 0, 9, 9)).sentence(),
        e.SetSymmetry(on=True, axis=Axis(x=1, y=2)).sentence(),
        Desk().stroke([(0, 0), (1, 1)], "lifter").sentence(),
    ]
    assert said == [
        "Added the ink layer Clean",
        "Hid a layer, set a layer to 25%",
        "Framed a side view, pebble",
        "Drew with the axis of symmetry",
        "Lifted ink",
    ]


def test_a_picture_file_round_trips() -> None:
    pixels = np.random.default_rng(2).integers(0, 255, (20, 30, 3)).astype(np.uint8)
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(png(pixels)))), pixels)
