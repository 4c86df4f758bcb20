"""Words, callouts and dimensions, light, moved paint, arranged views, pages to present, all sheets: by hand."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect
from pypdf import PdfReader

from tests.browser.bench import Bench
from tests.browser.test_drafting import Desk
from tests.browser.test_sketch import _page, _shot
from tests.browser.test_tone import settled

pytestmark = [pytest.mark.browser, pytest.mark.timeout(150)]


def notes(desk: Desk) -> list[Any]:
    return [note for layer in desk.body["layers"] for note in layer["notes"]]


def test_words_callouts_and_dimensions_are_written_on_the_page(bench: Bench) -> None:
    desk = Desk(bench, "Notes")
    page = bench.page
    page.keyboard.press("l")
    page.get_by_role("textbox", name="Height").fill("90")
    page.get_by_role("textbox", name="Height").press("Enter")
    bench.pen([(*desk.at(300, 300), 0.5)])
    page.get_by_label("Words", exact=True).fill("Linnet")
    page.get_by_label("Words", exact=True).press("Enter")
    bench.sentence("Wrote “Linnet”")
    # the first note adds its layer just before: both show at once
    bench.until(lambda: (_shot(bench).max(axis=2) < 110).sum() > 20, "the words show on the canvas")
    page.keyboard.press("Shift+L")
    bench.drag(desk.at(1000, 800), desk.at(1500, 500))
    page.get_by_label("Words", exact=True).fill("Level dial")
    page.get_by_label("Words", exact=True).press("Enter")
    bench.sentence("Wrote “Level dial”")
    assert [note["kind"] for note in notes(desk)] == ["lettering", "callout"]
    assert notes(desk)[1]["to"] == pytest.approx([1000, 800], abs=4)
    page.get_by_role("textbox", name="The note’s words").fill("Level dial, knurled")
    page.get_by_role("textbox", name="The note’s words").blur()
    bench.sentence("Wrote “Level dial, knurled”")
    # a view with a scale: the dimension in it says mm
    page.keyboard.press("f")
    bench.drag(desk.at(200, 900), desk.at(1200, 1500))
    bench.sentence("Framed a side view")
    page.keyboard.press("Shift+M")
    bench.drag(desk.at(400, 1300), desk.at(1000, 1300))
    bench.sentence("Put a dimension on the page")
    page.get_by_role("textbox", name="Length in side").fill("60")
    page.get_by_role("textbox", name="Length in side").press("Enter")
    bench.sentence("Set the scale of a view to 10 px a mm")
    desk.grab("Carry the dimension aside", 0, -30)
    bench.until(lambda: notes(desk)[2]["off"] < -120, "it lies farther aside")
    page.keyboard.press("Shift+R")
    bench.drag(desk.at(1500, 1000), desk.at(1900, 1100))
    bench.sentence("Put an arrow on the page")
    page.get_by_role("button", name="Take the note away").click()
    bench.sentence("Took a note off the page")
    assert [note["kind"] for note in notes(desk)] == ["lettering", "callout", "dimension"]
    with page.expect_download() as caught:
        bench.command("Page as PDF")
    text = PdfReader(caught.value.path()).pages[0].extract_text()
    assert "Level dial, knurled" in text
    assert "60 mm" in text


def test_a_split_line_is_drawn_wet_and_dry_alike(bench: Bench) -> None:
    desk = Desk(bench, "Split")
    page = bench.page
    page.keyboard.press("y")
    page.get_by_role("radiogroup", name="Line", exact=True).get_by_role("radio", name="split").click()
    settled(bench)
    before = _shot(bench)
    held: list[Any] = []
    page.route("**/strokes?**", lambda route: held.append(route))
    desk.line((500, 700), (1900, 900))
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    settled(bench)
    wet = _shot(bench)
    held[0].continue_()
    bench.sentence("Drew with the fineliner")
    settled(bench)
    dry = _shot(bench)
    along = (np.abs(dry - before).max(axis=2) > 6) | (np.abs(wet - before).max(axis=2) > 6)
    assert along.sum() > 200
    assert np.abs(wet - dry)[along].mean() <= 3.0
    page.unroute("**/strokes?**")
    ink = _page(bench, desk.project)[..., 0] < 128
    assert 0.2 < 1 - ink[690:910, 520:1880].any(axis=0).mean() < 0.6, "it has gaps"


def test_the_light_is_put_on_the_sphere_and_shades_the_box(bench: Bench) -> None:
    desk = Desk(bench, "Light")
    page = bench.page
    page.keyboard.press("Shift+B")
    page.get_by_role("button", name="Set three points").click()
    page.get_by_role("button", name="Set a box in").click()
    bench.sentence("Set a construction box")
    page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    page.keyboard.press("Shift+T")
    ball = page.get_by_role("slider", name="Where the light stands")
    box = ball.bounding_box()
    assert box is not None
    ball.click(position={"x": 0.32 * box["width"], "y": 0.14 * box["height"]})
    ball.press("ArrowUp")
    page.get_by_role("button", name="Shade it").click()
    bench.sentence("Shaded a box on Tone 1")
    shown = _page(bench, desk.project)
    greys = {}
    for face in desk.body["drafted"]["box"]["faces"]:
        x, y = np.mean(face["quad"], axis=0).round().astype(int)
        greys[face["face"]] = shown[y, x, 0]
    assert greys["top"] > greys["front"] > greys["right"]
    page.get_by_role("button", name="Draw with shaded").click()
    well = page.get_by_label("Other", exact=True).input_value()
    assert abs(int(well[1:3], 16) - greys["right"]) <= 2


def test_selected_paint_is_carried_and_locked_paint_holds_wet_ink_in(bench: Bench) -> None:
    desk = Desk(bench, "Paint")
    page = bench.page
    page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    page.keyboard.press("b")
    bench.drag(desk.at(600, 600), desk.at(900, 800))
    expect(page.get_by_test_id("selection-edge")).to_have_count(1)
    page.keyboard.press("Shift+K")
    bench.sentence("Filled a region")
    page.keyboard.press("Shift+P")
    bench.drag(desk.at(700, 700), desk.at(1300, 900))
    bench.sentence("Moved selected paint on Tone 1")
    dark = np.argwhere(_page(bench, desk.project)[..., 0] < 128)
    assert dark.min(axis=0) == pytest.approx([800, 1200], abs=5)
    page.get_by_role("textbox", name="Turn the paint by").fill("90")
    page.get_by_role("textbox", name="Turn the paint by").press("Enter")
    bench.until(
        lambda: np.ptp(np.argwhere(_page(bench, desk.project)[..., 0] < 128), axis=0)[0] > 280, "it stands upright"
    )
    page.keyboard.press("Escape")
    with page.expect_response("**/selection"):  # the outline that wet ink stays inside of
        page.get_by_role("button", name="Lock transparency: no").click()
    bench.sentence("Locked a layer’s transparency")
    page.keyboard.press("m")
    page.get_by_role("button", name="Grey 3").click()
    settled(bench)
    before = _shot(bench)
    held: list[Any] = []
    page.route("**/paint?**", lambda route: held.append(route))
    desk.line((1000, 900), (1700, 900))
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    settled(bench)
    wet = np.argwhere(np.abs(_shot(bench) - before).max(axis=2) > 12)
    held[0].continue_()
    bench.sentence("Painted with the marker")
    box = page.get_by_test_id("paper").bounding_box()
    assert box is not None
    paint = np.argwhere(_page(bench, desk.project)[..., 0] < 200)
    edges = [desk.at(x, 0)[0] - box["x"] for x in (paint[:, 1].min(), paint[:, 1].max())]
    assert len(wet) > 100
    assert wet[:, 1].min() >= edges[0] - 2
    assert wet[:, 1].max() <= edges[1] + 2


def test_views_are_moved_set_in_line_repeated_faintly_and_the_page_is_dressed(bench: Bench) -> None:
    desk = Desk(bench, "Arrange")
    page = bench.page
    page.keyboard.press("y")
    for number, (x, y) in enumerate(((400, 400), (1100, 560)), 1):
        desk.line((x - 80, y), (x + 80, y))
        desk.edits(number)
    for x, y in ((400, 400), (1100, 560)):
        page.keyboard.press("f")
        bench.drag(desk.at(x - 150, y - 150), desk.at(x + 150, y + 150))
        bench.sentence("Framed a side view")
    page.get_by_role("button", name="Tops").click()
    bench.sentence("Set 2 views in line")
    tops = [view["rect"][1] for view in desk.body["views"]]
    assert tops[0] == tops[1]
    page.keyboard.press("Shift+F")
    bench.drag(desk.at(1100, 400), desk.at(1700, 800))
    bench.sentence("Moved a view")
    ink = np.argwhere(_page(bench, desk.project)[..., 0] < 128)
    assert ink[:, 1].max() == pytest.approx(1780, abs=12)
    page.get_by_role("button", name="Repeat side faintly behind").click()
    bench.pen([(*desk.at(1200, 1200), 0.5)])
    bench.sentence("Repeated a sketch faintly")
    page.get_by_role("radiogroup", name="Paper goes over").get_by_role("radio", name="linear").click()
    bench.sentence("paper going over to")
    page.get_by_role("button", name="Border: no").click()
    bench.sentence("a border")
    shown = _page(bench, desk.project)
    assert shown[1590, 1200, 0] < shown[10, 1200, 0] - 10
    assert shown[800, 49].max() < 60
    with page.expect_download() as caught:
        bench.command("PNG, twice as fine")
    assert Image.open(caught.value.path()).size == (4800, 3200)


def test_all_sheets_are_put_in_order_duplicated_compared_and_one_is_chosen(bench: Bench) -> None:
    desk = Desk(bench, "Sheets")
    page = bench.page
    desk.line((500, 500), (900, 500))
    bench.sentence("Drew with the pencil")
    page.get_by_role("button", name="Chosen direction: no").click()
    bench.sentence("Chose this direction")
    expect(page.get_by_role("navigation", name="Thread").get_by_role("button").first).to_have_accessible_name(
        "Sheet: Sheet 1, the chosen direction"
    )
    page.keyboard.press("Shift+W")
    overview = page.get_by_role("region", name="All sheets")
    expect(overview.get_by_text("Chosen direction")).to_be_visible()
    overview.get_by_role("button", name="Duplicate Sheet 1").click()
    expect(overview.get_by_role("article")).to_have_count(2)
    overview.get_by_role("button", name="Earlier: Sheet 1 copy").click()
    expect(overview.get_by_role("article").first).to_have_accessible_name("Sheet 1 copy")
    cards = overview.get_by_role("listitem")
    bench.until(
        lambda: page.evaluate("() => [...document.querySelectorAll('li img')].every(i => i.naturalWidth > 0)"),
        "both small pictures are there",
    )
    (last, first) = (cards.nth(number).bounding_box() for number in (1, 0))
    assert last is not None
    assert first is not None
    bench.drag((last["x"] + 60, last["y"] + 60), (first["x"] + 60, first["y"] + 60))
    expect(overview.get_by_role("article").first).to_have_accessible_name("Sheet 1")
    overview.get_by_label("Pick Sheet 1", exact=True).check()
    overview.get_by_label("Pick Sheet 1 copy").check()
    overview.get_by_role("button", name="Compare").click()
    expect(overview.locator("figure img")).to_have_count(2)
    bench.until(
        lambda: page.evaluate(
            "() => [...document.querySelectorAll('figure img')].every(i => i.complete && i.naturalWidth > 1000)"
        ),
        "both pages are there",
    )
    overview.get_by_role("button", name="Back to all").click()
    overview.get_by_role("button", name="Open Sheet 1 copy").click()
    expect(overview).to_be_hidden()
    expect(page.get_by_role("textbox", name="Name of this sheet")).to_have_value("Sheet 1 copy")
    expect(page.get_by_text("A blank sheet")).to_be_hidden()
    data = bench.bytes(f"/api/projects/{desk.project}/sheets/{desk.sheet}/page.png?wide=300")
    assert Image.open(io.BytesIO(data)).size == (300, 200)


def test_a_group_of_tools_is_folded_away_and_stays_so(bench: Bench, tmp_path: Path) -> None:
    bench.begin("Folded")
    tools = bench.page.get_by_role("navigation", name="Tools")
    tools.get_by_role("button", name="Guides tools").click()
    expect(tools.get_by_role("button", name="Straightedge")).to_be_hidden()
    bench.page.reload()
    expect(tools.get_by_role("button", name="Pencil")).to_be_visible()
    expect(tools.get_by_role("button", name="Straightedge")).to_be_hidden()
    bench.page.keyboard.press("g")
    expect(tools.get_by_role("button", name="Straightedge")).to_be_visible()
    tools.get_by_role("button", name="Guides … tools").click()
    expect(tools.get_by_role("button", name="Perspective")).to_be_visible()
