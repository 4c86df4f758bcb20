"""The sheet in the browser: wet ink against dry, pressure, mirror, undo, views, pictures, many strokes."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from hollow_marble.demo.drawing import Hand
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.sheet.drawing import made_stroke
from hollow_marble.documents.sheet.edits import ChangeStrokes
from hollow_marble.exchange.pictures import png
from hollow_marble.store.library import Library
from tests.browser.bench import Bench
from tests.conftest import start_server

pytestmark = pytest.mark.browser


def _shot(bench: Bench) -> np.ndarray:
    """What the canvas shows, (h, w, 3) float."""
    data = bench.page.get_by_test_id("paper").locator("canvas").screenshot()
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(float)


def _page(bench: Bench, project: str) -> np.ndarray:
    sheet = bench.document(project, "sheet")
    return np.asarray(Image.open(io.BytesIO(bench.bytes(f"/api/projects/{project}/sheets/{sheet}/page.png")))).astype(
        float
    )


@pytest.mark.timeout(280)
def test_the_servers_ink_takes_the_place_of_wet_ink_without_a_jump(bench: Bench) -> None:
    """Mean difference along the lines of a golden page of at most 3 of 255."""
    project = bench.begin("Golden")
    x, y = bench.middle("paper")
    bench.pen([(x - 250, y + 220, 0.5), (x - 200, y + 220, 0.5)])
    bench.sentence("Drew with the pencil")
    expect(bench.page.get_by_text("A blank sheet")).to_be_hidden()
    held: list[Any] = []
    holding = [True]
    bench.page.route("**/strokes?**", lambda route: held.append(route) if holding[0] else route.continue_())
    hand = Hand(3)
    lines = [
        hand.line([(x - 250, y - 150 + 60 * k), (x, y - 170 + 62 * k), (x + 250, y - 140 + 55 * k)], 0.25 + 0.14 * k)
        for k in range(6)
    ]
    for line in lines:  # every third place of the hand: software drawing takes its time with each
        bench.pen([(float(px), float(py), float(p)) for px, py, p, _ in [*line[:-1:3], line[-1]]])
    bench.page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    wet = _shot(bench)
    assert (wet < 200).any(axis=2).sum() > 1000, "ink shows while the server has not answered"
    holding[0] = False
    for route in held:
        route.continue_()
    sheet = bench.document(project, "sheet")
    bench.page.wait_for_function(
        f"async () => (await (await fetch('/api/projects/{project}/sheets/{sheet}')).json()).standing.edits === {len(lines) + 1}"
    )
    bench.sentence("Drew with the pencil")
    bench.page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    dry = _shot(bench)
    along = ((wet < 235) | (dry < 235)).any(axis=2)
    assert along.sum() > 1000
    assert np.abs(wet - dry)[along].mean() <= 3.0
    jumps = (np.abs(wet - dry).max(axis=2) > 60).sum()
    assert jumps <= along.sum() * 0.003, "no piece of a line is missing on either side"


def test_pen_pressure_gives_tone_and_width(bench: Bench) -> None:
    project = bench.begin("Pressure")
    x, y = bench.middle("paper")
    for row, force in ((-60, 0.15), (60, 1.0)):
        bench.pen([(x - 150 + 10 * k, y + row, force) for k in range(31)])
        bench.sentence("Drew with the pencil")
    sheet = bench.document(project, "sheet")
    bench.page.wait_for_function(
        f"async () => (await (await fetch('/api/projects/{project}/sheets/{sheet}')).json()).standing.edits === 2"
    )
    page = 255 - _page(bench, project)[..., 0]
    column = page[:, 1150:1250].mean(axis=1)
    light, heavy = column[:800], column[800:]
    assert heavy.max() > 2 * light.max()
    assert (heavy > 30).sum() > (light > 15).sum()


def test_a_fast_mouse_draws_thinner_than_a_slow_one(bench: Bench) -> None:
    from hollow_marble.core.ink.path import samples_from

    project = bench.begin("Mouse")
    x, y = bench.middle("paper")
    bench.drag((x - 200, y - 80), (x + 200, y - 80), steps=120)
    bench.sentence("Drew with the pencil")
    bench.drag((x - 200, y + 80), (x + 200, y + 80), steps=3)
    sheet = bench.document(project, "sheet")
    bench.page.wait_for_function(
        f"async () => (await (await fetch('/api/projects/{project}/sheets/{sheet}')).json()).standing.edits === 2"
    )
    library = Library(bench.server.data)
    opened = library.get(project)
    state = opened.ledger.state(sheet)
    pressures = [
        float(
            samples_from(opened.database.rows("select bytes from asset where sha = ?", (s.samples,))[0][0])[:, 2].mean()
        )
        for s in state.layers[0].strokes  # type: ignore[union-attr]
    ]
    library.close()
    assert pressures[0] > pressures[1]


def test_mirror_lifter_undo_and_keys(bench: Bench) -> None:
    project = bench.begin("Mirror")
    page = bench.page
    x, y = bench.middle("paper")
    page.keyboard.press("j")
    bench.sentence("Drew with the axis of symmetry")
    bench.pen([(x + 60 + 3 * k, y - 40 + 4 * k, 0.8) for k in range(20)])
    bench.sentence("Drew with the pencil on both sides")
    drawn = _page(bench, project)
    ink = drawn[..., 0] < 200
    assert np.array_equal(ink[:, :1200].any(axis=1), ink[:, 1200:].any(axis=1))
    assert abs(int(ink[:, :1200].sum()) - int(ink[:, 1200:].sum())) < 60
    page.keyboard.press("e")
    expect(page.get_by_role("button", name="Lifter")).to_have_attribute("aria-pressed", "true")
    for _ in range(3):
        page.keyboard.press("]")
    bench.pen([(x + 40 + 8 * k, y, 1.0) for k in range(20)])
    bench.sentence("Lifted ink on both sides")
    assert (_page(bench, project)[..., 0] < 200).sum() < ink.sum()
    page.keyboard.press("Control+z")
    bench.sentence("Drew with the pencil on both sides")
    page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    assert np.array_equal(_page(bench, project), drawn)
    axis = page.get_by_label("Move the axis").bounding_box()
    assert axis is not None
    bench.drag((axis["x"] + 7, axis["y"] + 7), (axis["x"] + 80, axis["y"] + 7))
    bench.sentence("Drew with the axis")
    expect(page.get_by_label("Axis across")).not_to_have_value("1200")


def test_zoom_turn_and_shift_move_the_paper_not_the_drawing(bench: Bench) -> None:
    project = bench.begin("Viewport")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen([(x - 50 + 5 * k, y, 0.9) for k in range(21)])
    bench.sentence("Drew with the pencil")
    before = _shot(bench)
    page.mouse.move(x, y)
    page.mouse.wheel(0, -600)
    expect(page.get_by_text("33 %")).to_be_hidden()
    page.keyboard.press("r")
    page.keyboard.down("Space")
    bench.drag((x, y), (x + 60, y + 30))
    page.keyboard.up("Space")
    assert np.abs(_shot(bench) - before).max() > 50
    page.keyboard.press("w")
    page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    assert np.abs(_shot(bench) - before).mean() < 0.5
    assert bench.get(f"/api/projects/{project}/sheets/{bench.document(project, 'sheet')}")["standing"]["edits"] == 1


def test_views_are_framed_struck_out_and_layers_ordered(bench: Bench) -> None:
    bench.begin("Views")
    page = bench.page
    x, y = bench.middle("paper")
    bench.pen([(x - 50 + 5 * k, y, 0.9) for k in range(21)])
    bench.sentence("Drew with the pencil")
    page.keyboard.press("f")
    bench.drag((x - 100, y - 80), (x + 100, y + 80))
    bench.sentence("Framed a side view")
    page.get_by_role("button", name="Strike out side").click()
    bench.sentence("Struck out a view")
    page.get_by_role("button", name="Take up again side").click()
    bench.sentence("Took a struck-out view up again")
    page.keyboard.press("n")
    bench.sentence("Added the ink layer Layer 2")
    page.get_by_role("button", name="Hide Rough").click()
    bench.sentence("Hid a layer")
    page.get_by_label("Opacity").fill("40")
    page.get_by_label("Opacity").press("Enter")
    bench.sentence("Set a layer to 40%")


def test_pictures_come_in_and_bad_ones_are_refused_where_the_hand_is(bench: Bench, tmp_path: Path) -> None:
    project = bench.begin("Pictures")
    good = tmp_path / "seat.png"
    good.write_bytes(png(np.full((300, 500, 3), (120, 150, 200), np.uint8)))
    bench.page.get_by_label("Picture file").set_input_files(good)
    bench.sentence("Placed the picture seat.png")
    assert _page(bench, project)[800, 1200].tolist() == [120, 150, 200]
    bad = tmp_path / "torn.png"
    bad.write_bytes(good.read_bytes()[:200])
    bench.page.get_by_label("Picture file").set_input_files(bad)
    expect(bench.page.get_by_role("alert")).to_contain_text("torn.png is damaged or cut short")
    bench.sentence("Placed the picture seat.png")


@pytest.mark.timeout(180)
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
    running = start_server(tmp_path)
    try:
        bench = Bench(browser, running)
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
    finally:
        running.process.terminate()
        running.process.wait()
