"""Surface, Studio and Review by hand, on the demo project without its takes."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from hollow_marble.demo.build import build_linnet
from hollow_marble.store.library import Library
from tests.browser.bench import Bench
from tests.conftest import Server, running

pytestmark = [pytest.mark.browser, pytest.mark.timeout(180)]


@pytest.fixture(scope="module")
def demo_server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    data = tmp_path_factory.mktemp("demo")
    library = Library(data)
    build_linnet(library, lambda what, share: None, None)
    library.close()
    with running(data) as server:
        yield server


@pytest.fixture
def bench(browser: Any, demo_server: Server) -> Iterator[Bench]:
    made = Bench(browser, demo_server)
    made.open()
    expect(made.page.locator("h1")).to_have_text("Linnet")
    yield made
    made.close()


def test_stripes_change_with_count_and_direction(bench: Bench) -> None:
    bench.stage("Surface")
    page = bench.page
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    bench.until(lambda: bench.shot("view3d")[300:500, 380:480].std() > 60, "there are light and dark bands")
    few = bench.shot("view3d")
    field = page.get_by_role("textbox", name="Count").last
    field.fill("40")
    field.press("Enter")

    def changes(picture: np.ndarray) -> int:
        rows = picture[200:620, 260:560].mean(axis=2) > 110
        return int((rows[:, 1:] != rows[:, :-1]).sum() + (rows[1:] != rows[:-1]).sum())

    bench.until(lambda: changes(bench.shot("view3d")) > changes(few), "there are more stripes")
    bar = page.get_by_role("button", name="How many").bounding_box()
    assert bar is not None
    bench.drag((bar["x"] + 3, bar["y"] + 7), (bar["x"] - 40, bar["y"] + 7))
    expect(field).not_to_have_value("40")


def test_the_view_stands_back_for_the_whole_product_whichever_part_comes_first(bench: Bench) -> None:
    held: list[Any] = []
    came: list[str] = []
    page = bench.page
    bench.between(
        re.compile(r"/parts/[^/]+/mesh$"), lambda route: held.append(route) if not held else route.continue_()
    )
    page.on("response", lambda answer: came.append(answer.url) if answer.url.endswith("/mesh") else None)
    page.reload()
    bench.stage("Surface")
    bench.until(lambda: len(held) == 1 and len(came) >= 2, "the smaller parts have come and the body has not")
    held[0].continue_()
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    bench.until(lambda: _shown(bench) < 0.35, "the product has room around it")
    bench.until(lambda: _shown(bench) > 0.05, "the product is there")


def _shown(bench: Bench) -> float:
    """Share of the view's rim that differs from the paper: 0 where the whole product stands inside the view."""
    picture = bench.shot("view3d").mean(axis=2)
    paper = np.median(picture[:40, 200:400])
    return float((abs(picture[60:-60, 220:-20] - paper) > 25).mean())


def test_curvature_has_a_legend_and_a_value_under_the_pointer(bench: Bench) -> None:
    bench.stage("Surface")
    page = bench.page
    page.keyboard.press("m")
    expect(page.get_by_role("img", name=re.compile("Legend from"))).to_be_visible()
    expect(page.get_by_text("1/mm, bulging")).to_be_visible()
    x, y = bench.middle("view3d")
    found: list[re.Match[str]] = []

    def read(pattern: str) -> bool:
        """Whether such a value stands beside the pointer; parts that come meanwhile take it away till the pointer moves again."""
        page.mouse.move(x, y + 30)
        page.mouse.move(x + 6, y + 34)
        found[:] = [m for text in page.locator("svg text").all_text_contents() if (m := re.match(pattern, text))]
        return bool(found)

    bench.until(lambda: read(r"−?\d+\.\d+ 1/mm"), "the value stands beside the pointer")
    page.keyboard.press("g")
    expect(page.get_by_text("1/mm², dome")).to_be_visible()
    page.keyboard.press("l")
    bench.until(
        lambda: read(r"(−?)(\d+\.\d+) 1/mm, radius (\d+\.\d+) mm"), "the largest curvature is told with its radius"
    )
    told = found[0]
    assert float(told[3]) == pytest.approx(1 / float(told[2]), rel=0.02)
    bench.until(
        lambda: read(r"−?\d") and page.get_by_test_id("bends along").count() == 1, "its direction is drawn beside it"
    )


def test_a_lamp_alone_a_finish_and_the_camera_change_the_preview(bench: Bench) -> None:
    bench.stage("Studio")
    page = bench.page
    expect(page.get_by_test_id("picture").locator("canvas")).to_be_visible()
    bench.settled()
    whole = bench.shot("picture")
    page.keyboard.press("o")
    bench.settled()
    assert bench.shot("picture").mean() < whole.mean()
    page.keyboard.press("o")
    page.keyboard.press("m")
    page.get_by_role("radiogroup", name="Material").get_by_role("radio", name="gloss plastic").click()
    bench.sentence("Finished Body in gloss plastic")
    page.keyboard.press("c")
    lens = page.get_by_role("textbox", name="Lens mm").first
    lens.fill("40")
    lens.press("Enter")
    bench.sentence("Placed the camera: 40 mm")
    expect(page.get_by_text("Since this shot was kept, this has changed")).to_be_visible()
    page.get_by_role("switch", name="Take in the finishes").click()
    page.get_by_role("button", name="Update shot").last.click()
    bench.sentence("Brought a shot up to date")
    expect(page.get_by_role("switch", name="Take in the camera")).to_be_hidden()
    expect(page.get_by_role("switch", name="Take in the finishes")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("switch", name="Take in the camera")).to_be_visible()
    page.get_by_role("button", name="Back to its setting").click()
    bench.sentence("Went back to a shot’s setting")
    expect(page.get_by_text("Since this shot was kept, this has changed")).to_be_hidden()


def test_a_take_can_be_cancelled_from_the_header(bench: Bench) -> None:
    bench.stage("Studio")
    page = bench.page
    expect(page.get_by_test_id("caption")).to_contain_text("preview")
    page.keyboard.press("f")
    expect(page.get_by_role("status", name="Darkroom")).to_be_visible()
    expect(page.get_by_test_id("caption")).to_contain_text("final")
    page.get_by_role("status", name="Darkroom").get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("Darkroom idle")).to_be_visible(timeout=60_000)
    expect(page.get_by_test_id("caption")).to_contain_text("cancelled")


def test_two_takes_hang_side_by_side_with_a_wipe(bench: Bench) -> None:
    project = _id(bench)
    bench.stage("Studio")
    page = bench.page
    for name in ("Hero", "Front"):
        page.get_by_role("button", name=re.compile(f"^{name}")).first.click()
        page.get_by_label("Wide").fill("150")
        page.get_by_label("Wide").press("Enter")
        page.get_by_label("Tall").last.fill("100")
        page.get_by_label("Tall").last.press("Enter")
        bench.sentence("Changed a shot")
        page.keyboard.press("d")
        expect(page.get_by_test_id("caption")).to_contain_text(f"{name}, draft, 8 of 8", timeout=90_000)
    bench.stage("Review")
    for name in ("Hero", "Front"):
        page.get_by_role("button", name=f"Hang {name}, draft").click()
        bench.sentence(f"Hung {name}, draft")
    wipe = page.get_by_role("slider", name="Wipe")
    expect(wipe).to_have_attribute("aria-valuenow", "50")
    x, y = bench.middle("wipe")
    bench.drag((x, y), (x - 150, y))
    assert int(wipe.get_attribute("aria-valuenow") or 50) < 40
    wipe.focus()
    page.keyboard.press("ArrowRight")
    page.get_by_role("radiogroup", name="Verdict").get_by_role("radio", name="keep").click()
    page.get_by_label("Reason").fill("The pebble reads.")
    page.get_by_role("button", name="Decide").click()
    bench.sentence("Designer keeps it: The pebble reads.")
    page.get_by_role("button", name=re.compile("Form Linnet")).click()
    expect(page.locator("[data-testid=view3d]")).to_be_visible()
    board = bench.get(f"/api/projects/{project}/boards/{bench.document(project, 'board')}")["body"]
    assert [v["decision"] for v in board["verdicts"]] == ["keep"]


def _id(bench: Bench) -> str:
    return str(bench.get("/api/projects")["projects"][0]["id"])


@pytest.mark.parametrize("stage", ["Sketch", "Form", "Surface", "Studio", "Review"])
def test_every_stage_meets_wcag_by_axe(bench: Bench, stage: str) -> None:
    """As it opens, and with a group of tools folded out under the pointer, after something was refused."""
    bench.stage(stage)
    assert bench.violations() == []
    tools = bench.page.get_by_role("navigation", name="Tools")
    group = tools.get_by_role("group", name="Groups of tools").get_by_role("button").last
    group.click()
    fold = tools.get_by_role("button", name=re.compile(r"^\d+ more"))
    if fold.count():
        fold.click()
    bench.command("Redo")
    expect(bench.page.get_by_role("alert")).to_be_visible()
    group.hover()
    assert bench.violations() == []


@pytest.mark.parametrize("name", ["All commands", "Keys", "Settings", "Projects", "The brief"])
def test_every_panel_meets_wcag_by_axe_and_gives_the_focus_back(bench: Bench, name: str) -> None:
    bench.stage("Form")
    bench.stage("Studio" if name == "Settings" else "Sketch")  # by day and while judging
    if name == "All commands":
        bench.page.keyboard.press("Control+k")
    else:
        bench.command(name)
    dialog = bench.page.get_by_role("dialog")
    expect(dialog).to_be_visible()
    assert bench.violations() == []
    bench.page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    # the focus is given back once the panel is gone
    bench.page.wait_for_function("() => document.activeElement !== document.body")


def test_menus_history_and_narrow_windows_meet_wcag_by_axe(bench: Bench) -> None:
    page = bench.page
    bench.stage("Form")
    expect(page.get_by_test_id("view3d")).to_have_attribute("aria-busy", "false")
    page.mouse.click(*bench.middle("view3d"), button="right")
    expect(page.get_by_role("menu")).to_be_visible()
    assert bench.violations() == []
    page.keyboard.press("Escape")
    page.get_by_test_id("sentence").click()
    expect(page.get_by_role("region", name="History").get_by_role("img")).to_be_visible()
    assert bench.violations() == []
    page.get_by_test_id("sentence").click()
    page.get_by_role("button", name=re.compile("^(Next|All six)")).click()
    assert bench.violations() == []
    page.keyboard.press("Escape")
    page.set_viewport_size({"width": 820, "height": 1180})
    for edge in ("Tools", "Numbers"):
        page.get_by_role("button", name=edge, exact=True).click()
        assert bench.violations() == []
        page.keyboard.press("Escape")
    page.keyboard.press("0")
    expect(page.get_by_role("navigation", name="Stages")).to_be_hidden()
    assert bench.violations() == []


def test_a_history_is_slid_through_and_stood_in(bench: Bench) -> None:
    page = bench.page
    bench.stage("Form")
    expect(page.get_by_test_id("view3d")).to_have_attribute("aria-busy", "false")
    page.get_by_test_id("sentence").click()
    strip = page.get_by_role("region", name="History")
    slider = strip.get_by_role("slider", name="Go through the history")
    picture = strip.locator("img")
    expect(picture).to_be_visible()
    before = picture.get_attribute("src")
    slider.focus()
    page.keyboard.press("Home")
    expect(page.get_by_test_id("sentence")).to_contain_text("Nothing done yet")
    expect(picture).not_to_have_attribute("src", before or "")
    page.keyboard.press("End")
    expect(picture).to_have_attribute("src", before or "")


def test_tokens_have_contrast_enough_for_text() -> None:
    """WCAG 2.2, 1.4.3: at least 4.5 : 1 for every text colour on paper and raised, by day and while judging."""
    css = (Path(__file__).parents[2] / "frontend" / "src" / "app.css").read_text()

    def luminance(colour: str) -> float:
        channels = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
        linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
        return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

    blocks = [
        dict(re.findall(r"--(\w+): (#[0-9a-f]{6});", block))
        for block in re.findall(r"(?::root|\[data-judge=\"true\"\]) \{(.*?)\}", css, re.S)
    ]
    assert len(blocks) == 2
    for tokens in blocks:
        for ground in ("paper", "raised"):
            for text in ("ink", "quiet", "act", "warn", "wrong", "pick"):
                a, b = sorted((luminance(tokens[text]), luminance(tokens[ground])))
                assert (b + 0.05) / (a + 0.05) >= 4.5, f"{text} on {ground}"


def test_keyboard_command_box_key_sheet_and_settings(bench: Bench) -> None:
    page = bench.page
    page.keyboard.press("2")
    expect(page.locator("[data-testid=view3d]")).to_be_visible()
    bench.command("whole")
    page.keyboard.press("Escape")
    page.keyboard.press("1")
    expect(page.get_by_test_id("paper")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys in Sketch")).to_contain_text("Pencil")
    page.keyboard.press("Escape")
    bench.command("settings")
    dialog = page.get_by_role("dialog", name="Settings")
    dialog.get_by_label("Interface size").fill("130")
    dialog.get_by_label("Interface size").press("Enter")
    assert page.evaluate("getComputedStyle(document.documentElement).fontSize") == "16.9px"
    dialog.get_by_role("radio", name="left").click()
    dialog.get_by_role("button", name="Pencil D").click()
    page.keyboard.press("z")
    expect(dialog.get_by_role("button", name="Pencil Z")).to_be_visible()
    page.keyboard.press("Escape")
    inspector = page.get_by_role("complementary", name="Inspector").bounding_box()
    tools = page.get_by_role("navigation", name="Tools").bounding_box()
    assert inspector is not None
    assert tools is not None
    assert tools["x"] > inspector["x"], "tools are on the left hand’s far side"
    page.keyboard.press("e")
    page.keyboard.press("z")
    expect(page.get_by_role("button", name="Pencil")).to_have_attribute("aria-pressed", "true")
