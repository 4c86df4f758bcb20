"""Nibs, tone, selections, layers and symmetry by hand."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.browser.test_sketch import _page, _shot

pytestmark = [pytest.mark.browser, pytest.mark.timeout(150)]


def ring(x: float, y: float, r: float, steps: int = 50) -> list[tuple[float, float, float]]:
    turn = np.linspace(0, 2 * np.pi, steps)
    return [(x + r * float(np.cos(a)), y + r * float(np.sin(a)), 0.9) for a in turn]


def settled(bench: Bench) -> None:
    bench.page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")


@pytest.mark.parametrize(
    ("key", "nib"), [("y", "fineliner"), ("m", "marker"), ("s", "mist"), ("x", "grain"), ("e", "lifter")]
)
def test_wet_ink_of_every_nib_dries_without_a_jump(bench: Bench, key: str, nib: str) -> None:
    """Mean difference along the line of at most 3 of 255, as for the pencil."""
    bench.begin(f"Wet {nib}")
    x, y = bench.middle("paper")
    bench.page.keyboard.press("m")
    bench.pen([(x - 200 + 10 * k, y + 20, 0.9) for k in range(41)])
    bench.sentence("Drew with the marker")
    settled(bench)
    before = _shot(bench)
    bench.page.keyboard.press(key)
    held: list[Any] = []
    holding = [True]
    bench.page.route("**/strokes?**", lambda route: held.append(route) if holding[0] else route.continue_())
    bench.pen([(x - 180 + 9 * k, y - 30 + 2 * k, 0.3 + 0.015 * k) for k in range(40)])
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    settled(bench)
    wet = _shot(bench)
    holding[0] = False
    held[0].continue_()
    bench.sentence("Lifted ink" if nib == "lifter" else f"Drew with the {nib}")
    settled(bench)
    dry = _shot(bench)
    along = (np.abs(dry - before).max(axis=2) > 6) | (np.abs(wet - before).max(axis=2) > 6)
    assert along.sum() > 400
    assert np.abs(wet - dry)[along].mean() <= 3.0


def test_leaning_the_pencil_shades_broadly(bench: Bench) -> None:
    project = bench.begin("Lean")
    x, y = bench.middle("paper")
    for row, tilt in ((-60, 0), (60, 65)):
        bench.pen([(x - 150 + 10 * k, y + row, 0.6) for k in range(31)], tilt)
        bench.sentence("Drew with the pencil")
    sheet = bench.document(project, "sheet")
    bench.until(lambda: bench.get(f"/api/projects/{project}/sheets/{sheet}")["standing"]["edits"] == 2, "both are kept")
    column = (255 - _page(bench, project)[..., 0])[:, 1150:1250].mean(axis=1)
    upright, leant = column[:800], column[800:]
    assert (leant > 8).sum() > 2.2 * (upright > 8).sum()
    assert leant.max() < upright.max()


def test_a_steadied_line_is_smoother_and_still_arrives(bench: Bench) -> None:
    project = bench.begin("Steady")
    x, y = bench.middle("paper")
    zigzag = [(x - 200 + 10 * k, y + (8 if k % 2 else -8), 0.8) for k in range(41)]
    bench.pen(zigzag)
    bench.sentence("Drew with the pencil")
    bench.page.get_by_role("textbox", name="Steady").fill("60")
    bench.page.get_by_role("textbox", name="Steady").press("Enter")
    bench.pen([(px, py + 120, p) for px, py, p in zigzag])
    sheet = bench.document(project, "sheet")
    bench.until(lambda: bench.get(f"/api/projects/{project}/sheets/{sheet}")["standing"]["edits"] == 2, "both are kept")
    ink = _page(bench, project)[..., 0] < 200
    rows = [np.flatnonzero(half[:, 900:1500].any(axis=1)) for half in (ink[:1000], ink[1000:])]
    assert np.ptp(rows[1]) < 0.6 * np.ptp(rows[0])
    ends = [np.flatnonzero(half.any(axis=0)).max() for half in (ink[:1000], ink[1000:])]
    assert abs(ends[0] - ends[1]) < 12


def test_tone_is_painted_inside_a_lasso_and_tinted_later(bench: Bench) -> None:
    project = bench.begin("Lasso")
    page = bench.page
    x, y = bench.middle("paper")
    page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    page.keyboard.press("a")
    bench.pen(ring(x, y, 100))
    expect(page.get_by_test_id("selection-edge")).to_have_count(1)
    page.keyboard.press("s")
    bench.pen([(x - 220 + 11 * k, y, 1.0) for k in range(41)])
    bench.sentence("Painted with the mist on Tone 1")
    shown = _page(bench, project)
    paper = shown[5, 5]
    painted = np.abs(shown - paper).max(axis=2) > 3
    where = np.argwhere(painted)
    middle = where.mean(axis=0)
    assert np.hypot(*(where - middle).T).max() < 100 / 0.33 * 1.08, "nothing outside the lasso"
    assert painted.sum() > 20_000
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("selection-edge")).to_have_count(0)
    page.get_by_label("Tint", exact=True).fill("#2f7f4f")
    page.get_by_label("Tint", exact=True).blur()
    bench.sentence("Tinted a layer #2f7f4f")
    tinted = _page(bench, project)
    spot = tuple(middle.astype(int))
    assert tinted[spot][1] > tinted[spot][0] + 5
    weights = np.array([0.3, 0.59, 0.11])
    assert abs(tinted[spot] @ weights - shown[spot] @ weights) < 3, "its value is as it was"
    page.keyboard.press("Control+z")
    bench.sentence("Painted with the mist")
    assert np.array_equal(_page(bench, project), shown)


def test_a_region_is_filled_by_a_touch_and_selected_and_cleared(bench: Bench) -> None:
    project = bench.begin("Fill")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen(ring(x, y, 90))
    bench.sentence("Drew with the pencil")
    page.keyboard.press("k")
    page.mouse.click(x, y)
    expect(page.get_by_role("alert")).to_contain_text("not a tone layer")
    page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    page.get_by_role("button", name="Grey 3").click()
    page.mouse.click(x, y)
    bench.sentence("Filled a region on Tone 1")
    filled = _page(bench, project)
    height, width = filled.shape[:2]
    assert filled[height // 2, width // 2].tolist() == [159, 159, 159]
    page.keyboard.press("u")
    page.mouse.click(x, y)
    expect(page.get_by_test_id("selection-edge")).to_have_count(1)
    page.keyboard.press("Shift+I")
    expect(page.get_by_test_id("selection-edge")).to_have_count(2)
    page.keyboard.press("Shift+K")
    bench.until(lambda: bool((_page(bench, project)[20, 20] == 159).all()), "the rest of the page is filled")
    page.keyboard.press("Delete")
    bench.sentence("Cleared Tone 1 inside the selection")
    again = _page(bench, project)
    assert np.abs(again - filled).mean() < 0.3


def test_a_colour_is_taken_from_the_page_and_a_gradient_laid(bench: Bench) -> None:
    project = bench.begin("Gradient")
    page = bench.page
    x, y = bench.middle("paper")
    page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    page.keyboard.press("b")
    bench.drag((x - 150, y - 80), (x + 150, y + 80))
    expect(page.get_by_test_id("selection-edge")).to_have_count(1)
    page.get_by_role("button", name="Grey 6").click()
    page.keyboard.press("t")
    bench.drag((x - 150, y), (x + 150, y))
    bench.sentence("Laid a gradient on Tone 1")
    row = _page(bench, project)[800, :, 0]
    inner = row[760:1640]
    assert inner[0] < 90
    assert inner[-1] > 235
    assert (np.diff(inner) >= -1).all()
    page.keyboard.press("c")
    page.mouse.click(x - 148, y)
    expect(page.get_by_role("button", name="Pencil")).to_have_attribute("aria-pressed", "true")
    chosen = page.get_by_label("Other", exact=True).input_value()
    assert abs(int(chosen[1:3], 16) - 0x40) < 12


def test_layers_are_dragged_blended_grouped_and_merged(bench: Bench) -> None:
    project = bench.begin("Stack")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen([(x - 100 + 10 * k, y, 0.9) for k in range(21)])
    bench.sentence("Drew with the pencil")
    page.keyboard.press("n")
    bench.sentence("Added the ink layer Layer 2")
    rows = page.get_by_role("list", name="Layers").get_by_role("listitem")
    expect(rows.first).to_contain_text("Layer 2")
    rows.nth(1).drag_to(rows.first)
    bench.sentence("Moved a layer in the order")
    expect(rows.first).to_contain_text("Rough")
    page.get_by_label("Blend mode").select_option("multiply")
    bench.sentence("Laid a layer on in multiply")
    page.get_by_role("button", name="Duplicate").click()
    bench.sentence("Duplicated a layer")
    expect(rows).to_have_count(3)
    bench.command("New group")
    bench.sentence("Added the group Group 1")
    rows.filter(has_text="Rough").first.drag_to(rows.filter(has_text="Group 1").first)
    bench.until(
        lambda: any(
            layer["group"]
            for layer in bench.get(f"/api/projects/{project}/sheets/{bench.document(project, 'sheet')}")["body"][
                "layers"
            ]
        ),
        "a layer lies in the group",
    )
    before = _page(bench, project)
    page.get_by_role("button", name="Lock layer").click()
    bench.sentence("Locked a layer")
    bench.pen([(x, y - 50, 0.9), (x, y + 50, 0.9)])
    expect(page.get_by_role("alert")).to_contain_text("is locked")
    assert np.array_equal(_page(bench, project), before)


def test_symmetry_turns_around_a_centre(bench: Bench) -> None:
    project = bench.begin("Knob")
    page = bench.page
    x, y = bench.middle("paper")
    page.keyboard.press("j")
    bench.sentence("Drew with the axis of symmetry")
    page.get_by_label("Times around").fill("6")
    page.get_by_label("Times around").press("Enter")
    bench.sentence("Set symmetry to 6 around")
    page.get_by_role("button", name="Mirror: yes").click()
    bench.pen([(x + 40 + 4 * k, y - 6 + k, 0.9) for k in range(16)])
    bench.sentence("Drew with the pencil, 6 times around")
    ink = _page(bench, project)[..., 0] < 170
    where = np.argwhere(ink) - (800, 1200)
    away, angle = np.hypot(*where.T), np.arctan2(*where.T)
    ring_ = (away > 150) & (away < 280)
    counts, _ = np.histogram(np.mod(angle[ring_] + 0.3, 2 * np.pi), bins=6, range=(0, 2 * np.pi))
    assert counts.min() > 0.8 * counts.max() > 0


def test_a_sprint_leaves_only_the_page_and_ends_by_itself(bench: Bench) -> None:
    bench.begin("Sprint")
    page = bench.page
    page.clock.install()
    page.keyboard.press("Shift+S")
    page.get_by_label("Minutes").fill("1")
    page.get_by_label("Minutes").press("Enter")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("navigation", name="Tools")).to_be_hidden()
    expect(page.get_by_role("complementary", name="Inspector")).to_be_hidden()
    expect(page.get_by_test_id("sprint")).to_have_text(re.compile(r"^(1:0|0:5)\d$"))
    x, y = bench.middle("paper")
    bench.pen([(x - 100 + 10 * k, y, 0.9) for k in range(21)])
    page.clock.run_for(61_000)
    expect(page.get_by_role("navigation", name="Tools")).to_be_visible()
    bench.sentence("Drew with the pencil")


def test_a_view_is_copied_where_the_hand_points(bench: Bench) -> None:
    project = bench.begin("Copies")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen(ring(x - 200, y, 50))
    bench.sentence("Drew with the pencil")
    page.keyboard.press("f")
    bench.drag((x - 270, y - 70), (x - 130, y + 70))
    bench.sentence("Framed a side view")
    page.get_by_role("button", name="Copy side to another place").click()
    page.mouse.click(x + 200, y)
    bench.sentence("Put a copy of side copy on the page")
    ink = _page(bench, project)[..., 0] < 200
    assert ink[:, 1200:].sum() == pytest.approx(ink[:, :1200].sum(), rel=0.03)


def test_layers_leave_and_enter_as_openraster(bench: Bench, tmp_path: Path) -> None:
    project = bench.begin("Archive")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen(ring(x, y, 90))
    bench.sentence("Drew with the pencil")
    before = _page(bench, project)
    with page.expect_download() as download:
        bench.tool("Layers as OpenRaster")
    file = tmp_path / "page.ora"
    download.value.save_as(file)
    with zipfile.ZipFile(file) as archive:
        first = archive.infolist()[0]
        assert (first.filename, first.compress_type) == ("mimetype", zipfile.ZIP_STORED)
        merged = np.asarray(Image.open(io.BytesIO(archive.read("mergedimage.png"))).convert("RGB")).astype(float)
    assert np.array_equal(merged, before)
    page.get_by_label("Picture file").set_input_files(file)
    bench.sentence("Brought in 2 layers of page.ora")
    torn = tmp_path / "torn.ora"
    torn.write_bytes(file.read_bytes()[:400])
    page.get_by_label("Picture file").set_input_files(torn)
    expect(page.get_by_role("alert")).to_contain_text("torn.ora is not an OpenRaster file, or it is damaged")


def test_lines_are_picked_moved_pulled_recoloured_and_cut(bench: Bench) -> None:
    project = bench.begin("Picked lines")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen([(x - 150 + 10 * k, y, 0.9) for k in range(31)])
    bench.sentence("Drew with the pencil")
    page.keyboard.press("p")
    page.mouse.click(x, y)
    expect(page.get_by_test_id("picked-line")).to_have_count(1)
    bench.drag((x, y), (x, y + 60))
    bench.sentence("Moved a line")
    rows = np.argwhere(_page(bench, project)[..., 0] < 200)
    assert abs(rows[:, 0].mean() - (800 + 60 / 0.328)) < 6
    page.get_by_role("radio", name="pulls").click()
    bench.drag((x, y + 60), (x, y - 10))
    bench.sentence("Pulled on a line")
    rows = np.argwhere(_page(bench, project)[..., 0] < 200)
    assert np.ptp(rows[:, 0]) > 150
    page.mouse.click(x - 149, y + 60)
    expect(page.get_by_test_id("picked-line")).to_have_count(1)
    page.get_by_role("button", name="Grey 4").click()
    page.get_by_role("button", name="Recolour").click()
    bench.sentence("Recoloured a line")
    page.get_by_label("Width to").fill("300")
    page.get_by_label("Width to").press("Enter")
    bench.sentence("Made a line wider")
    page.keyboard.press("Shift+X")
    bench.pen(ring(x - 100, y + 60, 20))
    bench.sentence("Cut a piece out of a line")
    ink = _page(bench, project)[..., 0] < 200
    assert not ink[:, int(1200 - 108 / 0.328) : int(1200 - 92 / 0.328)].any()
    page.keyboard.press("p")
    bench.pen(ring(x, y + 20, 180))
    expect(page.get_by_test_id("picked-line")).to_have_count(2)
    page.keyboard.press("Delete")
    bench.sentence("Removed 2 lines")
    assert not (_page(bench, project)[..., 0] < 200).any()


def test_ink_holds_to_a_straightedge_and_an_ellipse(bench: Bench) -> None:
    project = bench.begin("Guides")
    page = bench.page
    x, y = bench.middle("paper")
    page.keyboard.press("g")
    bench.drag((x - 250, y - 150), (x + 150, y - 150))
    bench.sentence("Laid a straightedge on the page")
    page.keyboard.press("o")
    bench.drag((x, y + 60), (x + 140, y + 130))
    bench.sentence("Laid an ellipse on the page")
    expect(page.get_by_test_id("guide")).to_have_count(2)
    page.keyboard.press("y")
    bench.pen([(x - 240 + 10 * k, y - 150 + (6 if k % 2 else -6), 0.8) for k in range(38)])
    bench.sentence("Drew with the fineliner")
    rows = np.flatnonzero((_page(bench, project)[..., 0] < 215).any(axis=1))
    assert np.ptp(rows) <= 5, "as straight as the edge"
    turn = np.linspace(0.6, 2 * np.pi + 0.6, 60)  # begins beside the knobs
    rough = [(x + 146 * float(np.cos(a)), y + 60 + 64 * float(np.sin(a)), 0.8) for a in turn]
    bench.pen(rough)
    sheet = bench.document(project, "sheet")
    bench.until(lambda: bench.get(f"/api/projects/{project}/sheets/{sheet}")["standing"]["edits"] == 4, "it is kept")
    guide = bench.get(f"/api/projects/{project}/sheets/{sheet}")["body"]["guides"][1]
    ink = np.argwhere(_page(bench, project)[600:, :, 0] < 215) + np.array([600.5, 0.5])
    away = np.hypot(
        (ink[:, 1] - guide["centre"][0]) / guide["across"], (ink[:, 0] - guide["centre"][1]) / guide["down"]
    )
    assert np.abs(away - 1).max() < 0.03
    page.keyboard.press("h")
    bench.pen([(x - 200, y - 150, 0.8), (x - 150, y - 100, 0.8), (x - 100, y - 90, 0.8)])
    bench.until(lambda: bench.get(f"/api/projects/{project}/sheets/{sheet}")["standing"]["edits"] == 5, "it is kept")
    rows = np.flatnonzero((_page(bench, project)[:700, :, 0] < 128).any(axis=1))
    assert np.ptp(rows) > 100, "nothing holds the line now"
    knob = page.get_by_label("Move the straightedge’s end").bounding_box()
    assert knob is not None
    bench.drag((knob["x"] + 6, knob["y"] + 6), (knob["x"] + 6, knob["y"] + 80))
    bench.sentence("Laid a straightedge on the page")
    page.get_by_role("button", name="Take away guide 2").click()
    bench.sentence("Took a guide off the page")
    expect(page.get_by_test_id("guide")).to_have_count(1)


def test_a_picture_is_moved_turned_and_warped_by_its_knobs(bench: Bench, tmp_path: Path) -> None:
    project = bench.begin("Picture knobs")
    page = bench.page
    file = tmp_path / "seat.png"
    Image.new("RGB", (600, 400), (200, 40, 40)).save(file)
    page.get_by_label("Picture file").set_input_files(file)
    bench.sentence("Placed the picture seat.png")
    page.get_by_role("list", name="Layers").get_by_role("button", name="seat.png", exact=True).click()
    expect(page.get_by_test_id("picture-marks")).to_be_visible()

    def red() -> np.ndarray:
        shown = _page(bench, project)
        return np.argwhere((shown[..., 0] > 150) & (shown[..., 1] < 90))

    def grab(label: str, dx: float, dy: float) -> None:
        knob = page.get_by_label(label, exact=True).bounding_box()
        assert knob is not None
        start = (knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2)
        bench.drag(start, (start[0] + dx, start[1] + dy))

    before = red()
    grab("Move the picture", 60, 0)
    bench.sentence("Placed a picture anew")
    bench.until(lambda: abs(red()[:, 1].mean() - before[:, 1].mean() - 60 / 0.328) < 4, "it has moved to the right")
    grab("Turn and scale the picture", 106, 106)
    bench.until(lambda: float(np.ptp(red()[:, 0])) > 550, "it stands on its side")
    count = len(red())
    grab("Move the picture’s upper left corner", 30, 40)
    bench.until(lambda: len(red()) != count, "it is warped")
    page.keyboard.press("Control+z")
    bench.until(lambda: len(red()) == count, "it is as it was before the warp")


def test_the_page_takes_a_paper_size_and_a_colour_and_is_marked(bench: Bench) -> None:
    project = bench.begin("Paper")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen(ring(x - 100, y - 60, 40))
    bench.sentence("Drew with the pencil")
    page.get_by_label("Page size").select_option("A3")
    bench.sentence("Set the page to 2480 × 1754 px")
    assert _page(bench, project).shape[:2] == (1754, 2480)
    page.get_by_label("Paper", exact=True).fill("#e4dccb")
    page.get_by_label("Paper", exact=True).blur()
    bench.sentence("Set the page to paper #e4dccb")
    shown = _page(bench, project)
    assert shown[3, 3].tolist() == [0xE4, 0xDC, 0xCB]
    assert (shown[..., 0] < 140).sum() > 300, "what was drawn is still there"
    page.get_by_role("button", name="Chosen direction: no").click()
    bench.sentence("Chose this direction")
    expect(page.get_by_role("button", name="Chosen direction: yes")).to_be_visible()
