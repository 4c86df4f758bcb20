"""Ink in the browser: wet against dry, the hand in the line, locked paint, many strokes."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from hollow_marble.demo.drawing import Hand
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.sheet.drawing import made_stroke
from hollow_marble.documents.sheet.edits import ChangeStrokes
from hollow_marble.store.library import Library
from tests.browser.bench import Bench, Desk
from tests.conftest import running

pytestmark = [pytest.mark.browser, pytest.mark.sharp, pytest.mark.timeout(280)]


def test_the_servers_ink_takes_the_place_of_wet_ink_without_a_jump(bench: Bench) -> None:
    """Mean difference along the lines of a golden page of at most 3 of 255."""
    project = bench.begin("Golden")
    x, y = bench.middle("paper")
    bench.pen([(x - 250, y + 220, 0.5), (x - 200, y + 220, 0.5)])
    bench.sentence("Drew with the pencil")
    expect(bench.page.get_by_text("A blank sheet")).to_be_hidden()
    held: list[Any] = []
    holding = [True]
    bench.between("**/strokes?**", lambda route: held.append(route) if holding[0] else route.continue_())
    hand = Hand(3)
    lines = [
        hand.line([(x - 250, y - 150 + 60 * k), (x, y - 170 + 62 * k), (x + 250, y - 140 + 55 * k)], 0.25 + 0.14 * k)
        for k in range(6)
    ]
    for line in lines:  # every third place of the hand: software drawing takes its time with each
        bench.pen([(float(px), float(py), float(p)) for px, py, p, _ in [*line[:-1:3], line[-1]]])
    bench.settled()
    wet = bench.shot("paper")
    assert (wet < 200).any(axis=2).sum() > 1000, "ink shows while the server has not answered"
    holding[0] = False
    for route in held:
        route.continue_()
    sheet = bench.document(project, "sheet")
    bench.page.wait_for_function(
        f"async () => (await (await fetch('/api/projects/{project}/sheets/{sheet}')).json()).standing.edits === {len(lines) + 1}"
    )
    bench.sentence("Drew with the pencil")
    bench.settled()
    dry = bench.shot("paper")
    along = ((wet < 235) | (dry < 235)).any(axis=2)
    assert along.sum() > 1000
    assert np.abs(wet - dry)[along].mean() <= 3.0
    jumps = (np.abs(wet - dry).max(axis=2) > 60).sum()
    assert jumps <= along.sum() * 0.003, "no piece of a line is missing on either side"


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
    bench.settled()
    before = bench.shot("paper")
    bench.page.keyboard.press(key)
    held: list[Any] = []
    holding = [True]
    bench.between("**/strokes?**", lambda route: held.append(route) if holding[0] else route.continue_())
    bench.pen([(x - 180 + 9 * k, y - 30 + 2 * k, 0.3 + 0.015 * k) for k in range(40)])
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    bench.settled()
    wet = bench.shot("paper")
    holding[0] = False
    held[0].continue_()
    bench.sentence("Lifted ink" if nib == "lifter" else f"Drew with the {nib}")
    bench.settled()
    dry = bench.shot("paper")
    along = (np.abs(dry - before).max(axis=2) > 6) | (np.abs(wet - before).max(axis=2) > 6)
    assert along.sum() > 400
    assert np.abs(wet - dry)[along].mean() <= 3.0


def test_a_split_line_is_drawn_wet_and_dry_alike(bench: Bench) -> None:
    desk = Desk(bench, "Split")
    page = bench.page
    page.keyboard.press("y")
    page.get_by_role("radiogroup", name="Line", exact=True).get_by_role("radio", name="split").click()
    bench.settled()
    before = bench.shot("paper")
    held: list[Any] = []
    bench.between("**/strokes?**", lambda route: held.append(route))
    desk.line((500, 700), (1900, 900))
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    bench.settled()
    wet = bench.shot("paper")
    held[0].continue_()
    bench.sentence("Drew with the fineliner")
    bench.settled()
    dry = bench.shot("paper")
    along = (np.abs(dry - before).max(axis=2) > 6) | (np.abs(wet - before).max(axis=2) > 6)
    assert along.sum() > 200
    assert np.abs(wet - dry)[along].mean() <= 3.0
    page.unroute("**/strokes?**")
    ink = desk.page[..., 0] < 128
    assert 0.2 < 1 - ink[690:910, 520:1880].any(axis=0).mean() < 0.6, "it has gaps"


def test_pressure_lean_speed_and_steadiness_show_in_the_ink(bench: Bench) -> None:
    desk = Desk(bench, "Hand")
    across = np.linspace(500, 1500, 41)
    rows = {"light": 200, "heavy": 360, "leant": 560, "shaky": 800, "steadied": 960, "slow": 1200, "fast": 1360}

    def pen(row: str, force: float, tilt: int = 0, shake: float = 0) -> None:
        places = [desk.at(x, rows[row] + (shake if k % 2 else -shake)) for k, x in enumerate(across)]
        bench.pen([(*place, force) for place in places], tilt)

    pen("light", 0.15)
    pen("heavy", 0.9)
    pen("leant", 0.9, tilt=65)
    pen("shaky", 0.8, shake=24)
    bench.page.get_by_role("textbox", name="Steady").fill("60")
    bench.page.get_by_role("textbox", name="Steady").press("Enter")
    pen("steadied", 0.8, shake=24)
    bench.page.get_by_role("textbox", name="Steady").fill("0")
    bench.page.get_by_role("textbox", name="Steady").press("Enter")
    bench.drag(desk.at(500, rows["slow"]), desk.at(1500, rows["slow"]), steps=120)
    bench.drag(desk.at(500, rows["fast"]), desk.at(1500, rows["fast"]), steps=3)
    desk.edits(7)
    shown = 255 - desk.page[..., 0]
    ink = {row: shown[y - 75 : y + 75] for row, y in rows.items()}
    profile = {row: band[:, 700:1300].mean(axis=1) for row, band in ink.items()}
    assert profile["heavy"].max() > 2 * profile["light"].max()
    assert (profile["heavy"] > 30).sum() > (profile["light"] > 15).sum()
    assert (profile["leant"] > 8).sum() > 2.2 * (profile["heavy"] > 8).sum()
    assert profile["leant"].max() < profile["heavy"].max()
    high = {row: np.ptp(np.flatnonzero((ink[row][:, 560:1440] > 55).any(axis=1))) for row in ("shaky", "steadied")}
    assert high["steadied"] < 0.6 * high["shaky"]
    ends = [np.flatnonzero((ink[row] > 55).any(axis=0)).max() for row in ("shaky", "steadied")]
    assert abs(ends[0] - ends[1]) < 12, "a steadied line still arrives"
    assert ink["slow"].sum() > 1.2 * ink["fast"].sum(), "a slow mouse presses harder"


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
    dark = np.argwhere(desk.page[..., 0] < 128)
    assert dark.min(axis=0) == pytest.approx([800, 1200], abs=5)
    page.get_by_role("textbox", name="Turn the paint by").fill("90")
    page.get_by_role("textbox", name="Turn the paint by").press("Enter")
    bench.until(lambda: np.ptp(np.argwhere(desk.page[..., 0] < 128), axis=0)[0] > 280, "it stands upright")
    page.keyboard.press("Escape")
    with page.expect_response("**/selection"):  # the outline that wet ink stays inside of
        page.get_by_role("switch", name="Lock transparency").click()
    bench.sentence("Locked a layer’s transparency")
    page.keyboard.press("m")
    page.get_by_role("button", name="Grey 3").click()
    bench.settled()
    before = bench.shot("paper")
    held: list[Any] = []
    bench.between("**/paint?**", lambda route: held.append(route))
    desk.line((1000, 900), (1700, 900))
    bench.until(lambda: len(held) == 1, "the stroke is sent")
    bench.settled()
    wet = np.argwhere(np.abs(bench.shot("paper") - before).max(axis=2) > 12)
    held[0].continue_()
    bench.sentence("Painted with the marker")
    box = page.get_by_test_id("paper").bounding_box()
    assert box is not None
    paint = np.argwhere(desk.page[..., 0] < 200)
    edges = [desk.at(x, 0)[0] - box["x"] for x in (paint[:, 1].min(), paint[:, 1].max())]
    assert len(wet) > 100
    assert wet[:, 1].min() >= edges[0] - 2
    assert wet[:, 1].max() <= edges[1] + 2


def test_a_page_of_three_thousand_strokes_pans_without_redrawing_them(browser: Any, tmp_path: Path) -> None:
    """Panning asks the server for nothing and draws one picture a frame, however many strokes there are."""
    library = Library(tmp_path)
    project = library.create("Dense")
    sheet = project.ledger.rows("sheet")[0].id
    hand, rng = Hand(1), np.random.default_rng(1)
    strokes, assets = [], []
    for number in range(3000):
        a = rng.uniform((40, 40), (2340, 1540))
        samples = hand.line([tuple(a), tuple(a + rng.uniform(-90, 90, 2)), tuple(a + rng.uniform(-140, 140, 2))])
        assets.append(asset_of(samples.astype("<f4").tobytes(), "x"))
        strokes.append(made_stroke(f"s{number}", samples, assets[-1].sha, size=5))
    project.ledger.append(sheet, ChangeStrokes(layer="rough", added=tuple(strokes), said="Filled the page"), assets)
    library.close()
    with running(tmp_path) as server:
        bench = Bench(browser, server, sharp=True)
        bench.open()
        bench.sentence("Filled the page")
        expect(bench.page.get_by_text("1 edit", exact=True)).to_be_visible()
        asked: list[str] = []
        bench.page.on("request", lambda request: asked.append(request.url))
        drawn = bench.page.evaluate(
            """() => { window.drawn = 0; const draw = CanvasRenderingContext2D.prototype.drawImage;
               CanvasRenderingContext2D.prototype.drawImage = function (...a) { window.drawn++; return draw.apply(this, a); }; return 0; }"""
        )
        x, y = bench.middle("paper")
        bench.page.keyboard.down("Space")
        bench.drag((x, y), (x + 200, y + 100), steps=30)
        bench.page.keyboard.up("Space")
        drawn = bench.page.evaluate("window.drawn")
        assert 0 < drawn <= 40, "one picture a frame"
        assert [url for url in asked if "/sheets/" in url] == []
        bench.pen([(x + 5 * k, y, 0.8) for k in range(20)])
        expect(bench.page.get_by_text("2 edits")).to_be_visible()
        bench.close()
