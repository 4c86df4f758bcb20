"""Layers of a sheet: order, groups, locks; strokes exchanged; pages."""

from __future__ import annotations

import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.sheet import edits as e
from hollow_marble.documents.sheet.model import Axis, EllipseGuide, Sheet, Straightedge
from tests.documents.test_sheet import Desk


def stacked() -> Desk:
    desk = Desk()
    for ident, holds in (("a", "ink"), ("g", "group"), ("b", "tone"), ("c", "ink")):
        desk.do(e.AddLayer(id=ident, name=ident.upper(), holds=holds))
    return desk


def order(sheet: Sheet, group: str | None = None) -> list[str]:
    return [layer.id for layer in sheet.within(group)]


def test_layers_move_among_their_fellows_and_into_groups() -> None:
    desk = stacked()
    assert order(desk.sheet) == ["rough", "a", "g", "b", "c"]
    desk.do(e.MoveLayer(layer="c", place=0))
    assert order(desk.sheet) == ["c", "rough", "a", "g", "b"]
    desk.do(e.MoveLayer(layer="a", group="g", place=0))
    desk.do(e.MoveLayer(layer="b", group="g", place=0))
    assert order(desk.sheet) == ["c", "rough", "g"]
    assert order(desk.sheet, "g") == ["b", "a"]
    desk.do(e.MoveLayer(layer="b", place=9))
    assert order(desk.sheet) == ["c", "rough", "g", "b"]


def test_a_group_goes_with_all_that_is_in_it() -> None:
    desk = stacked()
    desk.do(e.AddLayer(id="inner", name="Inner", holds="group"))
    desk.do(e.MoveLayer(layer="inner", group="g", place=0))
    desk.do(e.MoveLayer(layer="b", group="inner", place=0))
    assert desk.sheet.under("g") == {"inner", "b"}
    with pytest.raises(HollowMarbleError, match="inside itself"):
        desk.do(e.MoveLayer(layer="g", group="inner", place=0))
    desk.do(e.RemoveLayer(layer="g"))
    assert order(desk.sheet) == ["rough", "a", "c"]


def test_a_new_layer_lies_above_the_one_worked_on_and_in_its_group() -> None:
    desk = stacked()
    desk.do(e.MoveLayer(layer="a", group="g", place=0))
    desk.do(e.AddLayer(id="n", name="New", above="a"))
    assert order(desk.sheet, "g") == ["a", "n"]


def test_what_is_locked_cannot_be_drawn_on_nor_what_lies_in_a_locked_group() -> None:
    desk = stacked()
    desk.do(e.MoveLayer(layer="a", group="g", place=0))
    desk.do(e.ChangeLayer(layer="g", locked=True))
    with pytest.raises(HollowMarbleError, match="“G” is locked"):
        desk.do(desk.stroke([(0, 0), (5, 5)], layer="a"))
    with pytest.raises(HollowMarbleError, match="is locked"):
        desk.do(e.RemoveLayer(layer="a"))
    desk.do(e.ChangeLayer(layer="g", locked=False))
    desk.do(desk.stroke([(0, 0), (5, 5)], layer="a"))


def test_only_groups_left_is_no_sheet() -> None:
    desk = Desk()
    desk.do(e.AddLayer(id="g", name="G", holds="group"))
    with pytest.raises(HollowMarbleError, match="at least one layer"):
        desk.do(e.RemoveLayer(layer="rough"))


def test_a_tint_is_for_tone_layers() -> None:
    desk = stacked()
    desk.do(e.ChangeLayer(layer="b", tint="#336655"))
    assert desk.sheet.layers[3].tint == "#336655"  # type: ignore[union-attr]
    desk.do(e.ChangeLayer(layer="b", tint="none"))
    assert desk.sheet.layers[3].tint is None  # type: ignore[union-attr]
    with pytest.raises(HollowMarbleError, match="not a tone layer"):
        desk.do(e.ChangeLayer(layer="a", tint="#336655"))


def test_strokes_are_exchanged_taken_away_and_added_in_one_edit() -> None:
    desk = Desk()
    for y in (50, 100, 150):
        desk.do(desk.stroke([(50, y), (300, y)]))
    first, second, third = desk.sheet.layers[0].strokes  # type: ignore[union-attr]
    red = first.model_copy(update={"colour": "#AA2222"})
    extra = third.model_copy(update={"id": "extra"})
    edit = e.ChangeStrokes(
        layer="rough", changed=(red,), removed=(second.id,), added=(extra,), said="Recoloured a line"
    )
    desk.do(edit)
    assert [s.id for s in desk.sheet.layers[0].strokes] == [first.id, third.id, "extra"]  # type: ignore[union-attr]
    page = desk.page()
    assert page[50, 150, 0] > page[50, 150, 1] + 60
    assert (page[100, 150, :3] == page[5, 5, :3]).all()
    assert edit.sentence() == "Recoloured a line"
    with pytest.raises(HollowMarbleError, match="no longer there"):
        desk.do(e.ChangeStrokes(layer="rough", removed=(second.id,), said="x"))


def test_undoing_a_stroke_gives_back_what_lay_under_it() -> None:
    desk = Desk()
    desk.do(desk.stroke([(50, 50), (300, 200)], size=20))
    raster = desk.raster()
    before = desk.sheet
    under = raster.pixels((0, 0, 600, 400))
    states = [before]
    for turn in range(5):
        nib = "lifter" if turn % 2 else "marker"
        states.append(
            desk.do(desk.stroke([(60, 40 + 30 * turn), (280, 190)], nib=nib, size=18, mirror=Axis(x=200, y=100)))
        )
        raster.update(desk.sheet)
    for state in reversed(states):
        raster.update(state)
    assert (raster.pixels((0, 0, 600, 400)) == under).all()


def test_lines_drawn_with_transparency_locked_stay_on_the_ink() -> None:
    desk = Desk()
    desk.do(desk.stroke([(100, 50), (100, 350)], size=40))
    desk.do(desk.stroke([(20, 200), (500, 200)], nib="marker", size=30, colour="#C03030", inside=True))
    page = desk.page().astype(int)
    assert page[200, 100, 0] > page[200, 100, 1] + 20, "red on the ink"
    assert (page[200, 300, :3] == page[5, 5, :3]).all(), "nothing beside it"


def test_a_picture_is_turned_scaled_and_warped_by_its_corners() -> None:
    desk = Desk()
    import numpy as np

    from hollow_marble.exchange.pictures import png

    desk.assets["p"] = png(np.full((20, 40, 4), (10, 200, 10, 255), np.uint8))
    desk.do(e.PlacePicture(id="p", name="P", picture="p", rect=(100, 100, 300, 200)))
    desk.do(e.SetPicture(layer="p", quad=((200, 50), (260, 200), (200, 350), (140, 200))))
    page = desk.page().astype(int)
    assert page[200, 200, 1] > page[200, 200, 0] + 100
    assert (page[120, 120, :3] == page[5, 5, :3]).all()
    green = (page[..., 1] > page[..., 0] + 100).sum()
    assert green == pytest.approx(120 * 300 / 2, rel=0.02), "a rhombus of these diagonals"
    with pytest.raises(HollowMarbleError, match="cross over"):
        desk.do(e.SetPicture(layer="p", quad=((0, 0), (100, 100), (100, 0), (0, 100))))


def test_the_page_changes_its_size_and_paper_and_keeps_what_is_drawn() -> None:
    desk = Desk()
    desk.do(desk.stroke([(50, 50), (300, 50)]))
    desk.do(e.SetPage(width=800, height=500, paper="#202830"))
    page = desk.page()
    assert page.shape == (500, 800, 4)
    assert page[450, 700, :3].tolist() == [0x20, 0x28, 0x30]
    assert len(desk.sheet.layers[0].strokes) == 1  # type: ignore[union-attr]


def test_every_layer_edit_says_what_it_did() -> None:
    said = [
        e.AddLayer(id="t", name="Body", holds="tone").sentence(),
        e.AddLayer(id="t", name="Lines", holds="group").sentence(),
        e.ChangeLayer(layer="a", mode="multiply", clipped=True).sentence(),
        e.ChangeLayer(layer="a", tint="#336655").sentence(),
        e.MoveLayer(layer="a", place=1).sentence(),
        e.SetPage(width=800, height=600, paper="#FFFFFF").sentence(),
        e.Choose(chosen=True).sentence(),
        e.SetSymmetry(on=True, axis=Axis(x=1, y=1), turns=6).sentence(),
    ]
    assert said == [
        "Added the tone layer Body",
        "Added the group Lines",
        "Laid a layer on in multiply, clipped a layer to the one below",
        "Tinted a layer #336655",
        "Moved a layer in the order",
        "Set the page to 800 × 600 px, paper #FFFFFF",
        "Chose this direction",
        "Set symmetry to 6 around",
    ]


def test_guides_are_laid_laid_anew_and_taken_away() -> None:
    desk = Desk()
    edge = Straightedge(id="g", start=(10, 10), end=(300, 40))
    assert e.PutGuide(guide=edge).sentence() == "Laid a straightedge on the page"
    desk.do(e.PutGuide(guide=edge))
    desk.do(e.PutGuide(guide=EllipseGuide(id="o", centre=(100, 100), across=50, down=20)))
    desk.do(e.PutGuide(guide=edge.model_copy(update={"end": (300, 90)})))
    assert [guide.id for guide in desk.sheet.guides] == ["g", "o"]
    assert desk.sheet.guides[0].end == (300, 90)  # type: ignore[union-attr]
    assert (desk.page() == Desk().page()).all(), "guides are not part of the picture"
    with pytest.raises(HollowMarbleError, match="too short"):
        desk.do(e.PutGuide(guide=edge.model_copy(update={"end": (11, 11)})))
    desk.do(e.RemoveGuide(id="g"))
    assert [guide.id for guide in desk.sheet.guides] == ["o"]
    with pytest.raises(HollowMarbleError, match="no longer there"):
        desk.do(e.RemoveGuide(id="g"))
