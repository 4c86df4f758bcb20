"""The first minutes of somebody who has read nothing: with a pen alone, with a keyboard alone, with fingers alone."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Locator, expect

from tests.browser.bench import Bench
from tests.conftest import Server, running

pytestmark = pytest.mark.browser

MOST_MOVES = 60
"""Of the issue: five minutes of a hand that does not hurry."""

WORKING = "[role=status]:not(.sr-only), [aria-busy=true]"
"""What shows that something goes on."""


class Hand(Bench):
    """Counts what a pen does, and finds it out where it is kept waiting with nothing to be seen."""

    def __init__(self, browser: Any, server: Server, size: tuple[int, int] | None = (1280, 800)) -> None:
        super().__init__(browser, server, size)
        self.moves = 0
        self.waits: list[tuple[str, float]] = []

    def touch(self, thing: Locator) -> None:
        """Tap something with the pen, once it can be tapped."""
        idle = looked = time.perf_counter()
        worst = 0.0
        while not thing.is_visible():
            now = time.perf_counter()
            assert now - looked < 60, f"{thing} never comes"
            if self.working():
                idle = now
            worst = max(worst, now - idle)
            self.page.wait_for_timeout(100)
        if worst > 2:
            self.waits.append((str(thing), worst))
        thing.scroll_into_view_if_needed()
        handle = thing.element_handle()
        handle.wait_for_element_state("stable")
        box = thing.bounding_box()
        assert box is not None
        self.moves += 1
        self.pen([(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, 0.5)])

    def working(self) -> bool:
        """Whether something on the screen shows that work goes on."""
        said = self.page.locator(WORKING)
        return any(said.nth(k).is_visible() for k in range(said.count()))

    def word(self, name: str, role: Any = "button") -> Locator:
        return self.page.get_by_role(role, name=name, exact=True).first

    @property
    def only(self) -> str:
        """The id of the one project there is."""
        (project,) = self.get("/api/projects")["projects"]
        return str(project["id"])

    def line(self, points: list[tuple[float, float, float]]) -> None:
        self.moves += 1
        self.pen(points)


@pytest.fixture
def hand(browser: Any, tmp_path: Path) -> Iterator[Hand]:
    with running(tmp_path) as server:
        made = Hand(browser, server)
        yield made
        made.close()


@pytest.fixture
def hand_here(browser: Any, server: Server) -> Iterator[Hand]:
    """On the server all journeys share: for what needs no empty installation."""
    made = Hand(browser, server)
    yield made
    made.close()


def outline(middle: tuple[float, float], wide: float, high: float) -> list[tuple[float, float, float]]:
    turn = np.linspace(0, 2 * np.pi, 60)
    return [
        (middle[0] + wide * float(np.cos(a) * (1 - 0.15 * np.sin(a))), middle[1] - high * float(np.sin(a)), 0.6)
        for a in turn
    ]


@pytest.mark.timeout(300)
def test_a_pen_alone_leads_from_an_empty_window_to_a_photographed_form(hand: Hand) -> None:
    hand.open()
    hand.touch(hand.word("A blank sheet Draw first: the pencil is in your hand."))
    expect(hand.page.get_by_test_id("paper")).to_be_visible()
    expect(hand.word("Pencil")).to_have_attribute("aria-pressed", "true")

    hand.line(outline(hand.middle("paper"), 90, 150))
    hand.sentence("Drew with the pencil")

    hand.touch(hand.word("Form"))
    hand.touch(hand.word("Body by its outline"))
    hand.sentence("Started from the outline of the front")
    expect(hand.page.get_by_test_id("size")).to_contain_text("108.0 mm")

    hand.touch(hand.word("Faces"))
    x, y = hand.middle("view3d")
    hand.line([(x - 10, y, 0.5)])
    expect(hand.page.get_by_role("heading", name="1 face")).to_be_visible()
    hand.touch(hand.word("Extrude"))
    hand.sentence("Extruded")

    hand.touch(hand.word("Surface"))
    expect(hand.page.get_by_test_id("view3d")).to_have_attribute("aria-busy", "false")

    hand.touch(hand.word("Studio"))
    hand.touch(hand.word("Finishes"))
    hand.touch(hand.word("metal"))
    hand.touch(hand.word("polished metal", "radio"))
    hand.sentence("polished metal")
    hand.touch(hand.word("Draft take"))
    expect(hand.page.get_by_alt_text("Take of Shot 1")).to_be_visible()

    hand.touch(hand.word("Review"))
    hand.touch(hand.word("Hang Shot 1"))
    hand.sentence("Hung Shot 1")

    assert hand.moves <= MOST_MOVES, hand.moves
    assert hand.waits == []
    steps = hand.page.get_by_role("button", name=re.compile("^(Next|All six)"))
    expect(steps).to_contain_text("5/6")


@pytest.mark.timeout(300)
def test_a_keyboard_alone_draws_makes_a_body_a_picture_and_a_verdict(hand: Hand) -> None:
    """No pointer is touched: every step is a key, or a stop of the Tab key that is reached and pressed."""
    page, keys = hand.page, hand.page.keyboard

    def reach(thing: Locator) -> None:
        thing.wait_for()
        for _ in range(260):
            if thing.evaluate("one => one === document.activeElement"):
                return
            keys.press("Tab")
        raise AssertionError(f"{thing} is never reached")

    hand.open()
    reach(page.get_by_role("button", name=re.compile("^A blank sheet")))
    keys.press("Enter")
    expect(page.get_by_test_id("paper")).to_be_visible()
    keys.press("Control+k")
    expect(page.get_by_label("Find a command")).to_be_focused()
    keys.type("by numbers")
    keys.press("Enter")
    reach(page.get_by_label("Places of the line"))
    keys.type("900 300\n1500 320\n1560 1000\n1200 1350\n840 1000")
    reach(page.get_by_role("switch", name="Comes round"))
    keys.press("Space")
    reach(page.get_by_role("button", name="Draw it"))
    keys.press("Enter")
    hand.sentence("Drew with the pencil")

    page.locator("main").focus()
    keys.press("2")
    reach(page.get_by_role("button", name="Body by its outline"))
    keys.press("Enter")
    hand.sentence("Started from the outline")
    expect(page.get_by_test_id("view3d")).to_have_attribute("aria-busy", "false")
    keys.press("f")
    keys.press("Control+a")
    expect(page.get_by_role("heading", name=re.compile("faces"))).to_be_visible()
    keys.press("ArrowUp")
    hand.sentence("Moved")
    reach(page.get_by_role("button", name="Move along H"))
    before = hand.get(f"/api/projects/{hand.only}/forms/{hand.document(hand.only, 'form')}")["standing"]["edits"]
    keys.press("ArrowDown")
    hand.until(
        lambda: (
            hand.get(f"/api/projects/{hand.only}/forms/{hand.document(hand.only, 'form')}")["standing"]["edits"]
            == before + 1
        ),
        "the arrow key has dragged the handle",
    )

    keys.press("4")
    expect(page.get_by_role("navigation", name="Tools").get_by_role("button", name="Draft take")).to_be_visible()
    page.locator("main").focus()
    keys.press("d")
    expect(page.get_by_alt_text("Take of Shot 1")).to_be_visible()
    keys.press("5")
    reach(page.get_by_role("button", name="Hang Shot 1", exact=True))
    keys.press("Enter")
    hand.sentence("Hung")
    reach(page.get_by_role("radio", name="keep"))
    keys.press("ArrowRight")
    expect(page.get_by_role("radio", name="change")).to_be_checked()
    reach(page.get_by_label("Reason"))
    keys.type("The shoulder is too broad.")
    reach(page.get_by_role("button", name="Decide"))
    keys.press("Enter")
    hand.sentence("asks to change")


@pytest.fixture
def fingers(browser: Any, tmp_path: Path) -> Iterator[Hand]:
    context = browser.new_context(viewport={"width": 820, "height": 1180}, has_touch=True)
    with running(tmp_path) as server:
        made = Hand(context, server, None)
        yield made
        made.close()
    context.close()


def tap(thing: Locator) -> None:
    thing.wait_for(state="visible")
    thing.tap()


def pinch(hand: Hand, middle: tuple[float, float], before: float, after: float) -> None:
    """Two fingers on the screen, moved apart or together."""
    x, y = middle
    wire = hand.page.context.new_cdp_session(hand.page)

    def touches(apart: float) -> list[dict[str, float]]:
        return [{"x": x - apart / 2, "y": y, "id": 0}, {"x": x + apart / 2, "y": y, "id": 1}]

    wire.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": touches(before)})
    for share in np.linspace(0, 1, 6)[1:]:
        apart = before + float(share) * (after - before)
        wire.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": touches(apart)})
    wire.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


@pytest.mark.timeout(300)
def test_fingers_alone_on_a_small_tablet(fingers: Hand) -> None:
    page = fingers.page
    fingers.open()
    tap(page.get_by_role("button", name=re.compile("^A blank sheet")))
    expect(page.get_by_test_id("paper")).to_be_visible()
    wide = page.get_by_test_id("paper").bounding_box()
    assert wide is not None
    assert wide["width"] > 800, "panels lie over the page, not beside it"
    tap(page.get_by_role("button", name="Tools", exact=True))
    for tool in page.get_by_role("navigation", name="Tools").get_by_role("button").all():
        box = tool.bounding_box()
        assert box is not None
        assert box["height"] >= 24, "WCAG 2.2, 2.5.8"
    tap(page.get_by_role("navigation", name="Tools").get_by_role("button", name="Fineliner"))
    x, y = fingers.middle("paper")
    wire = page.context.new_cdp_session(page)
    course = outline((x, y), 150, 260)
    wire.send(
        "Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": course[0][0], "y": course[0][1]}]}
    )
    for px, py, _ in course:
        wire.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [{"x": px, "y": py}]})
    wire.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    fingers.sentence("Drew with the fineliner")
    scale = re.compile(r"\d+ %")
    before = page.get_by_text(scale).inner_text()
    pinch(fingers, (x, y), 100, 220)
    expect(page.get_by_text(scale)).not_to_have_text(before)

    tap(page.get_by_role("navigation", name="Stages").get_by_role("button", name="Form"))
    tap(page.get_by_role("button", name="Body by its outline"))
    fingers.sentence("Started from the outline")
    fingers.settled()
    tap(page.get_by_role("button", name="Tools", exact=True))
    tap(page.get_by_role("navigation", name="Tools").get_by_role("button", name="Faces", exact=True))
    # a finger that rests picks what is under it, and asks what is to be done
    x, y = fingers.middle("view3d")
    wire.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
    menu = page.get_by_role("menu")
    expect(menu).to_be_visible()
    wire.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(menu.get_by_role("menuitem", name=re.compile("^Undo"))).to_be_visible()
    page.keyboard.press("Escape")
    tap(page.get_by_role("button", name="Numbers", exact=True))
    expect(page.get_by_role("heading", name="1 face")).to_be_visible()
    page.set_viewport_size({"width": 390, "height": 844})
    expect(page.get_by_role("button", name="Settings")).to_be_in_viewport()


def test_a_pen_turned_around_lifts_and_turned_back_goes_on(hand_here: Hand) -> None:
    hand_here.begin("Turned pen")
    x, y = hand_here.middle("paper")
    hand_here.tool("Marker")
    hand_here.pen([(x - 60 + 4 * k, y, 0.8) for k in range(30)])
    hand_here.sentence("Drew with the marker")
    wire = hand_here.page.context.new_cdp_session(hand_here.page)
    # the protocol knows no eraser end, so the event is told to be one on its way (W3C Pointer Events, 4.1.3: button 5, buttons 32)
    hand_here.page.evaluate(
        """() => window.addEventListener("pointerdown", (event) => {
            if (!window.turned) return;
            Object.defineProperty(event, "button", { value: 5 });
            Object.defineProperty(event, "buttons", { value: 32 });
        }, { capture: true })"""
    )
    hand_here.page.evaluate("() => { window.turned = true }")
    hand_here.pen([(x - 20, y - 30 + 4 * k, 0.8) for k in range(16)])
    hand_here.sentence("Lifted ink")
    expect(hand_here.word("Lifter")).to_have_attribute("aria-pressed", "true")
    hand_here.page.evaluate("() => { window.turned = false }")
    hand_here.pen([(x - 60 + 4 * k, y + 60, 0.8) for k in range(30)])
    hand_here.sentence("Drew with the marker")
    wire.detach()


def test_a_project_leaves_as_a_file_and_comes_in_as_one(hand_here: Hand, tmp_path: Path) -> None:
    project = hand_here.begin("Siskin")
    x, y = hand_here.middle("paper")
    hand_here.pen([(x - 60 + 4 * k, y, 0.8) for k in range(30)])
    hand_here.sentence("Drew with the pencil")
    page = hand_here.page
    page.get_by_title("Projects").click()
    page.get_by_role("button", name="More for Siskin", exact=True).click()
    with page.expect_download() as coming:
        page.get_by_role("menuitem", name="Take along as a file").click()
    kept = tmp_path / coming.value.suggested_filename
    coming.value.save_as(kept)
    assert kept.name == "Siskin.marble"
    page.get_by_label("Open a file", exact=True).and_(page.locator("input")).set_input_files(kept)
    expect(page.get_by_role("alert")).to_contain_text("Siskin is here already, so it came in as Siskin 2.")
    expect(page.locator("h1")).to_have_text("Siskin 2")
    hand_here.sentence("Drew with the pencil")
    ids = {entry["name"]: entry["id"] for entry in hand_here.get("/api/projects")["projects"]}
    assert ids["Siskin"] == project
    assert np.array_equal(hand_here.sheet_page(project), hand_here.sheet_page(ids["Siskin 2"]))
    # and dropped anywhere
    wire = page.context.new_cdp_session(page)
    carried = {"items": [], "files": [str(kept)], "dragOperationsMask": 1}
    for kind in ("dragEnter", "dragOver", "drop"):
        wire.send("Input.dispatchDragEvent", {"type": kind, "x": x, "y": y, "data": carried})
    expect(page.locator("h1")).to_have_text("Siskin 3")
    wire.detach()


def test_the_demo_is_fetched_by_whoever_wants_to_look_around(hand: Hand) -> None:
    hand.open()
    page = hand.page
    page.get_by_role("button", name="Look around in Linnet").click()
    expect(page.get_by_role("status")).to_be_visible()
    expect(page.locator("h1")).to_have_text(re.compile("Linnet|Brindle|Sorrel|Tansy"))
    names = sorted(entry["name"] for entry in hand.get("/api/projects")["projects"])
    assert names == ["Brindle", "Linnet", "Sorrel", "Tansy"]


def test_the_first_window_and_an_empty_project_meet_wcag_by_axe(hand: Hand) -> None:
    hand.open()
    expect(hand.page.get_by_role("heading", name="Hollow Marble")).to_be_visible()
    assert hand.violations() == []
    hand.begin("Nothing yet")
    for stage in ("Sketch", "Form", "Surface", "Studio", "Review"):
        hand.stage(stage)
        assert hand.violations() == [], stage
