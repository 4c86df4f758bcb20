"""One truth: two windows at one sheet, a server that goes away and comes back, reload and Back, nothing kept that is not needed."""

from __future__ import annotations

import os
import signal
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench, Desk
from tests.browser.test_form import _begin, _part
from tests.conftest import Server, running, start_server

pytestmark = [pytest.mark.browser, pytest.mark.timeout(240)]

ROUNDS = 5


def test_two_windows_and_a_fresh_one_show_the_same_to_the_pixel(bench: Bench, browser: Any, server: Server) -> None:
    """They draw, paint, drag and undo at once, each its own things."""
    desk = Desk(bench, "Two windows")
    one, two = bench, Bench(browser, server)
    bench.page.keyboard.press("Shift+N")
    bench.sentence("Moved a layer in the order")
    two.page.goto(one.page.url)
    two.sentence("Moved a layer in the order")
    two.page.get_by_role("list", name="Layers").get_by_role("button", name="Tone 1", exact=True).click()
    one.page.get_by_role("list", name="Layers").get_by_role("button", name="Rough", exact=True).click()
    two.page.keyboard.press("s")
    rng = np.random.default_rng(5)
    for _ in range(ROUNDS):
        for hand in (one, two):
            start, end = rng.uniform((200, 200), (2200, 1400), (2, 2))
            way = [desk.at(*(start + t * (end - start))) for t in np.linspace(0, 1, 16)]
            hand.pen([(*place, 0.8) for place in way])
        if rng.random() < 0.4:
            two.page.keyboard.press("Control+z")
        one.page.keyboard.press("f")
        one.drag(
            desk.at(*rng.uniform((200, 200), (900, 700))), desk.at(*rng.uniform((1000, 800), (2200, 1400))), steps=3
        )
        one.page.keyboard.press("d")
    three = Bench(browser, server)

    def same_edits() -> bool:
        told = [hand.page.locator("footer").inner_text().split("\n") for hand in (one, two)]
        kept = bench.get(f"/api/projects/{desk.project}/sheets/{desk.sheet}")["standing"]
        return all(f"{kept['edits']} edits" in line and kept["sentence"] in line for line in told)

    bench.until(same_edits, "both windows stand where the ledger does")
    three.page.goto(one.page.url)
    three.page.get_by_test_id("paper").wait_for()
    bench.until(lambda: _alike(one, two, three), "all three windows show the same")
    for other in (two, three):
        other.close()


def _alike(*windows: Bench) -> bool:
    pages = []
    for window in windows:
        window.page.mouse.move(5, 5)
        window.page.keyboard.press("w")
        window.settled()
        pages.append(window.shot("paper"))
    return all(np.array_equal(pages[0], page) for page in pages[1:]) and bool((pages[0] < 128).any())


def test_what_was_drawn_while_the_server_was_away_is_kept_and_sent(browser: Any, tmp_path: Path) -> None:
    server = start_server(tmp_path)
    bench = Bench(browser, server, sharp=True)
    desk = Desk(bench, "Away")
    desk.line((400, 400), (1200, 400))
    bench.sentence("Drew with the pencil")
    port = int(server.url.rsplit(":", 1)[1])
    server.kill()
    for y in (700, 900):
        desk.line((400, y), (1200, y))
    bench.page.keyboard.press("f")
    bench.drag(desk.at(300, 300), desk.at(1300, 1000))
    expect(bench.page.get_by_role("status", name="Not yet safe")).to_contain_text("3 changes are not yet safe")
    wet = bench.shot("paper")
    server = start_server(tmp_path, port)
    try:
        bench.sentence("Framed a side view")
        expect(bench.page.get_by_role("status", name="Not yet safe")).to_be_hidden()
        desk.edits(4)
        ink = np.flatnonzero((desk.page[..., 0] < 160).any(axis=1))
        assert [bool(((ink > y - 15) & (ink < y + 15)).any()) for y in (400, 700, 900)] == [True] * 3
        bench.settled()
        # beside the frame that was drawn over it, and the words that the server is away
        box = bench.page.get_by_test_id("paper").bounding_box()
        assert box is not None
        (left, top), (right, bottom) = desk.at(500, 650), desk.at(1100, 950)
        rows, columns = (
            slice(int(top - box["y"]), int(bottom - box["y"])),
            slice(int(left - box["x"]), int(right - box["x"])),
        )
        dry = bench.shot("paper")[rows, columns]
        assert np.abs(dry - wet[rows, columns]).max() < 60, "what was on the screen stayed there"
        assert (dry < 160).sum() > 500
        bench.page.reload()
        bench.sentence("Framed a side view")
        bench.close()
    finally:
        server.process.terminate()
        server.process.wait()


def test_a_drag_let_go_while_the_server_sleeps_arrives_when_it_wakes(browser: Any, tmp_path: Path) -> None:
    with running(tmp_path) as server:
        bench = Bench(browser, server)
        project = _begin(bench, "Sleeps")
        bench.page.keyboard.press("Control+a")
        knob = bench.page.get_by_role("button", name="Move along H", exact=True).locator("circle").first.bounding_box()
        assert knob is not None
        x, y = knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2
        bench.page.mouse.move(x, y)
        bench.page.mouse.down()
        bench.page.mouse.move(x, y - 20, steps=4)
        os.kill(server.process.pid, signal.SIGSTOP)
        try:
            bench.page.mouse.move(x, y - 40, steps=4)
            bench.page.mouse.up()
            bench.page.get_by_label("Start box W").fill("80")
            bench.page.get_by_label("Start box W").press("Enter")
            expect(bench.page.get_by_label("Start box W")).to_have_value("80.0")
        finally:
            os.kill(server.process.pid, signal.SIGCONT)
        bench.sentence("Changed step 1: started from a box 80")
        steps = _part(bench, project)["steps"]
        assert (steps[0]["size"][0], steps[1]["how"], steps[1]["values"][2] > 1) == (80, "move", True)
        bench.close()


def test_reload_and_back_lead_exactly_there_in_every_stage(bench: Bench) -> None:
    _begin(bench, "Places")
    page = bench.page
    seen = {}
    for stage in ("Form", "Surface", "Sketch", "Studio", "Review"):
        bench.stage(stage)
        if stage in ("Form", "Surface"):
            expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
            at = bench.middle("view3d")
            page.mouse.move(at[0] - 300, at[1] - 250)
            page.mouse.wheel(0, -200)
            bench.drag((at[0] - 300, at[1] - 250), (at[0] - 240, at[1] - 220))
        if stage == "Sketch":
            page.mouse.move(*bench.middle("paper"))
            page.mouse.wheel(0, -400)
        if stage in ("Form", "Surface", "Sketch"):
            page.wait_for_function("() => location.search.includes('view=')")
            bench.until(lambda: _rests(bench), "the address rests")
        seen[stage] = page.url
        page.reload()
        expect(page.get_by_role("navigation", name="Stages").get_by_role("button", name=stage)).to_have_attribute(
            "aria-current", "page"
        )
        expect(page).to_have_url(seen[stage])
    for stage in ("Studio", "Sketch", "Surface", "Form"):
        page.go_back()
        expect(page).to_have_url(seen[stage])
        expect(page.get_by_role("navigation", name="Stages").get_by_role("button", name=stage)).to_have_attribute(
            "aria-current", "page"
        )


def _rests(bench: Bench) -> bool:
    before = bench.page.url
    bench.page.wait_for_timeout(300)
    return bench.page.url == before


def test_edits_and_drags_leave_nothing_behind_on_the_card(browser: Any, server: Server) -> None:
    """The bench counts 500; here enough to see one buffer an edit stay."""
    from benchmarks.hand import _COUNT_CARD, Page, held

    bench = Bench(browser, server)
    bench.page.add_init_script(_COUNT_CARD)
    _begin(bench, "Card")
    page = Page(bench)
    bench.page.keyboard.press("Control+a")

    def round_() -> None:
        for key, count in (("ArrowUp", 5), ("Control+z", 5)):
            for number in range(count):
                bench.page.keyboard.press(key)
                left = number + 2 if key == "ArrowUp" else count - number
                expect(bench.page.locator("footer")).to_contain_text(f"{left} edit")

    round_()
    before = held(page)
    round_()
    round_()
    bench.until(lambda: held(page)["buffers"] <= 1.2 * before["buffers"], "the card has let go of what was shown")
    after = held(page)
    assert after["textures"] <= before["textures"]
    assert after["heap"] <= 1.2 * before["heap"]
    bench.close()


def test_many_tabs_of_a_browser_share_one_stream_and_all_follow(bench: Bench, browser: Any) -> None:
    """A browser opens six connections to a server: with a stream each, the seventh tab would wait for ever."""
    Desk(bench, "Many tabs")
    address = bench.page.url
    context = browser.new_context()
    tabs = [context.new_page() for _ in range(8)]
    for tab in tabs:
        tab.goto(address)
        tab.get_by_test_id("paper").wait_for(timeout=60_000)
    bench.command("New layer")
    bench.sentence("Added the ink layer")
    for tab in tabs:
        expect(tab.locator("footer")).to_contain_text("Added the ink layer")
    context.close()
