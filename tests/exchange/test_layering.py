"""A sheet's layers out to rasters and in again; its lines as SVG with groups and modes."""

from __future__ import annotations

from xml.etree import ElementTree

import numpy as np
import pytest

from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.model import Axis, Border, Dimension, Ground, Lettering, Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.exchange.layering import layers_from, rasters_of
from hollow_marble.exchange.openraster import Raster, read_openraster, write_openraster
from hollow_marble.exchange.svg import sheet_svg
from tests.documents.test_sheet import Desk

SVG = "{http://www.w3.org/2000/svg}"


def grouped() -> Desk:
    desk = Desk()
    desk.do(desk.stroke([(50, 50), (300, 200)], size=14))
    desk.do(e.AddLayer(id="g", name="Group & co", holds="group"))
    desk.do(e.AddLayer(id="two", name="Two"))
    desk.do(e.MoveLayer(layer="two", group="g", place=0))
    desk.do(desk.stroke([(400, 60), (420, 300)], nib="marker", size=40, layer="two", colour="#3060A0"))
    desk.do(e.ChangeLayer(layer="g", opacity=0.6, mode="multiply"))
    desk.do(e.ChangeLayer(layer="two", mode="screen"))
    return desk


def test_layers_come_out_named_and_ordered_with_the_paper_lowest() -> None:
    desk = grouped()
    rasters = rasters_of(desk.sheet, desk.raster())
    assert [raster.name for raster in rasters] == ["Paper", "Rough", "Group & co"]
    assert (rasters[2].mode, rasters[2].opacity, rasters[2].pixels) == ("multiply", 0.6, None)
    (inner,) = rasters[2].inner
    assert (inner.name, inner.mode) == ("Two", "screen")
    assert inner.pixels is not None
    assert inner.pixels[200, 410, :3] == pytest.approx((0x30, 0x60, 0xA0), abs=3)
    assert rasters[0].pixels is not None
    assert (rasters[0].pixels[..., 3] == 255).all()


def test_layers_that_went_out_come_in_and_show_the_same_page() -> None:
    desk = grouped()
    rasters = rasters_of(desk.sheet, desk.raster())
    bare = Sheet(width=600, height=400)
    raster = SheetRaster(desk.assets.__getitem__)
    raster.update(bare)
    layers, data = layers_from(rasters, bare, raster)
    desk.assets |= data
    back = e.BringIn(name="back", layers=tuple(layers)).applied_to(bare)
    raster.update(back)
    shown = raster.pixels((0, 0, 600, 400)).astype(int)
    assert np.abs(shown - desk.page()).max() <= 1
    assert [layer.kind for layer in layers] == ["tone", "tone", "group", "tone"]
    assert layers[3].group == layers[2].id


def test_rasters_that_hang_over_the_page_are_cut_to_it() -> None:
    sheet = Sheet(width=300, height=200)
    raster = SheetRaster({}.__getitem__)
    raster.update(sheet)
    red = np.full((100, 100, 4), (200, 0, 0, 255), np.uint8)
    (over, beside), data = layers_from(
        [Raster("Over", red, (-50, 150)), Raster("Beside", red, (900, 0))], sheet, raster
    )
    assert sorted(over.tiles) == ["0,0"]  # type: ignore[union-attr]
    assert beside.tiles == {}  # type: ignore[union-attr]
    assert len(data) == 1


def test_svg_keeps_groups_modes_and_opacity() -> None:
    desk = grouped()
    root = ElementTree.fromstring(sheet_svg(desk.sheet, desk.assets.__getitem__))
    top = [g for g in root if g.tag == f"{SVG}g"]
    assert [g.get("data-name") for g in top] == ["Rough", "Group & co"]
    assert top[1].get("opacity") == "0.6"
    assert top[1].get("style") == "mix-blend-mode:multiply"
    (inner,) = top[1]
    assert (inner.get("data-name"), inner.get("style")) == ("Two", "mix-blend-mode:screen")
    assert len(list(inner.iter(f"{SVG}path"))) == 1


def test_svg_draws_every_copy_of_a_symmetry() -> None:
    desk = Desk()
    desk.do(desk.stroke([(320, 200), (380, 180)], mirror=Axis(x=300, y=200)))
    root = ElementTree.fromstring(sheet_svg(desk.sheet, desk.assets.__getitem__))
    assert len(list(root.iter(f"{SVG}path"))) == 2


def test_a_soft_lifter_lifts_in_svg_as_a_hard_one_does() -> None:
    desk = Desk()
    desk.do(desk.stroke([(50, 50), (300, 50)]))
    desk.do(desk.stroke([(100, 40), (100, 60)], nib="soft lifter", size=30))
    root = ElementTree.fromstring(sheet_svg(desk.sheet, desk.assets.__getitem__))
    assert len(list(root.iter(f"{SVG}mask"))) == 1
    assert "script" not in sheet_svg(desk.sheet, desk.assets.__getitem__)


def test_gradient_border_and_notes_come_back_as_they_looked() -> None:
    """The page read back looks as it did, within 1 of 255, whatever lies under and over the layers."""
    desk = grouped()
    desk.do(e.AddLayer(id="n", name="Notes", holds="notes"))
    desk.do(e.PutNote(layer="n", note=Lettering(id="t", words="Linnet", at=(60, 300), size=50)))
    desk.do(e.SetPage(ground=Ground(way="radial", colour="#A0B0C0"), border=Border(width=5, inset=12.5)))
    rasters = rasters_of(desk.sheet, desk.raster())
    assert [raster.name for raster in rasters] == ["Paper", "Rough", "Group & co", "Notes", "Border"]
    page = desk.page()
    written = write_openraster(rasters, page[..., :3])
    read, width, height = read_openraster(written, "page.ora")
    bare = Sheet(width=width, height=height)
    raster = SheetRaster(desk.assets.__getitem__)
    raster.update(bare)
    layers, data = layers_from(read, bare, raster)
    desk.assets |= data
    back = e.BringIn(name="back", layers=tuple(layers)).applied_to(bare)
    raster.update(back)
    shown = raster.pixels((0, 0, width, height)).astype(int)
    assert np.abs(shown - page).max() <= 1


def test_notes_and_broken_lines_are_read_from_the_svg_as_such() -> None:
    desk = Desk()
    desk.do(desk.stroke([(50, 50), (550, 50)], nib="fineliner", size=4, line="split"))
    desk.do(e.AddLayer(id="n", name="Notes", holds="notes"))
    desk.do(e.PutNote(layer="n", note=Lettering(id="t", words="R & D <1>", at=(60, 300), size=50, turn=30)))
    desk.do(e.PutNote(layer="n", note=Dimension(id="d", start=(100, 200), end=(410, 200))))
    root = ElementTree.fromstring(sheet_svg(desk.sheet, desk.assets.__getitem__))
    words = root.findall(f".//{SVG}text")
    assert [one.text for one in words] == ["R & D <1>", "310 px"]
    assert words[0].get("font-family") == '"Instrument Sans"'
    assert words[0].get("transform") == "rotate(30.00 60.00 300.00)"
    stroke = next(group for group in root.iter(f"{SVG}g") if group.get("id") == "rough-0")
    assert len(list(stroke)) > 10, "each piece of the broken line by itself"
