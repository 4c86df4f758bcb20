"""Perspective, box, divisions, sweeps, the view of a drawn box and its use in Form, by hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.browser.test_sketch import _page

pytestmark = [pytest.mark.browser, pytest.mark.timeout(150)]


class Desk:
    """A sheet on the screen: page px to screen px, and what the server knows of it."""

    def __init__(self, bench: Bench, name: str) -> None:
        self.bench = bench
        self.project = bench.begin(name)
        self.sheet = bench.document(self.project, "sheet")
        box = bench.page.get_by_test_id("paper").bounding_box()
        assert box is not None
        self.scale = min((box["width"] - 48) / 2400, (box["height"] - 48) / 1600)
        self.left = box["x"] + (box["width"] - 2400 * self.scale) / 2
        self.top = box["y"] + (box["height"] - 1600 * self.scale) / 2

    def at(self, x: float, y: float) -> tuple[float, float]:
        return self.left + x * self.scale, self.top + y * self.scale

    @property
    def body(self) -> Any:
        return self.bench.get(f"/api/projects/{self.project}/sheets/{self.sheet}")["body"]

    def edits(self, count: int) -> None:
        url = f"/api/projects/{self.project}/sheets/{self.sheet}"
        self.bench.until(lambda: self.bench.get(url)["standing"]["edits"] == count, f"there are {count} edits")

    def grab(self, label: str, dx: float, dy: float) -> None:
        knob = self.bench.page.get_by_label(label, exact=True).bounding_box()
        assert knob is not None
        x, y = knob["x"] + knob["width"] / 2, knob["y"] + knob["height"] / 2
        self.bench.drag((x, y), (x + dx, y + dy))

    def line(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        t = np.linspace(0, 1, 24)
        run = [self.at(*(np.array(start) + k * (np.array(end) - start))) for k in t]
        self.bench.pen([(x, y, 0.8) for x, y in run])


def test_a_perspective_is_set_its_points_are_dragged_and_lines_hold_to_it(bench: Bench) -> None:
    desk = Desk(bench, "Perspective")
    page = bench.page
    page.keyboard.press("v")
    page.get_by_role("radio", name="2 points").click()
    bench.sentence("Set a two-point perspective")
    expect(page.get_by_test_id("perspective-grid")).to_be_visible()
    before = desk.body["drafted"]["vanishing"]
    desk.grab("Drag the far vanishing point of W", 24, 0)
    desk.edits(2)
    after = desk.body["drafted"]["vanishing"]
    assert after[0][0] > before[0][0] + 40
    assert after[1][:2] == pytest.approx(before[1][:2], abs=1e-6)
    page.get_by_role("button", name="Lines hold to directions: no").click()
    page.keyboard.press("y")
    bench.pen([(*desk.at(1000 + 14 * k, 1100 + (12 if k % 2 else -12) - 3 * k), 0.8) for k in range(40)])
    bench.sentence("Drew with the fineliner")
    ink = np.argwhere(_page(bench, desk.project)[..., 0] < 215)[:, ::-1] + 0.5
    start = np.array([1000.0, 1088.0])
    away = []
    for x, y, w in after:
        way = np.array([x, y]) - start if w else np.array([x, y])
        off = ink - start
        away.append(np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max() / np.hypot(*way))
    assert min(away) < 5, "as straight as its direction"
    # what no real view has is refused in words, and nothing changes
    page.keyboard.press("v")
    page.get_by_role("radio", name="3 points").click()
    bench.sentence("Set a three-point perspective")
    desk.grab("Drag the far vanishing point of H", 0, -240)
    expect(page.get_by_role("alert")).to_contain_text("acute")


def test_a_box_is_set_in_sized_moved_and_drawn_on(bench: Bench) -> None:
    desk = Desk(bench, "Box")
    page = bench.page
    page.keyboard.press("Shift+B")
    page.get_by_role("button", name="Set three points").click()
    page.get_by_role("button", name="Set a box in").click()
    bench.sentence("Set a construction box of 60 × 40 × 100 mm")
    page.get_by_role("textbox", name="Box W").fill("62")
    page.get_by_role("textbox", name="Box W").press("Enter")
    bench.sentence("62 × 40 × 100 mm")
    at = desk.body["box"]["at"]
    desk.grab("Move the construction box", 40, -20)
    desk.edits(4)
    moved = desk.body["box"]["at"]
    assert moved == pytest.approx([at[0] + 40 / desk.scale, at[1] - 20 / desk.scale], abs=4)
    desk.grab("Bring the construction box nearer or farther", 0, -60)
    desk.edits(5)
    # a circle on its front: a true projected circle, whatever the hand's drag looks like
    page.keyboard.press("Shift+O")
    page.get_by_role("radiogroup", name="Face", exact=True).get_by_role("radio", name="front").click()
    front = next(face for face in desk.body["drafted"]["box"]["faces"] if face["face"] == "front")
    middle = np.mean(front["quad"], axis=0)
    bench.drag(desk.at(*middle), desk.at(*(middle + (np.array(front["quad"][1]) - middle) * 0.3)))
    bench.sentence("Laid a circle on a face")
    circle = desk.body["guides"][0]
    assert (circle["face"], circle["kind"]) == ("front", "circle")
    page.get_by_role("textbox", name="Radius, guide 1").fill("12")
    page.get_by_role("textbox", name="Radius, guide 1").press("Enter")
    bench.until(lambda: desk.body["guides"][0]["radius"] == 12, "the radius is 12 mm")
    page.keyboard.press("Shift+D")
    bench.pen([(*desk.at(*middle), 0.5)])
    bench.sentence("Laid a division")
    page.get_by_role("textbox", name="Parts across, guide 2").fill("3")
    page.get_by_role("textbox", name="Parts across, guide 2").press("Enter")
    bench.until(lambda: len(desk.body["drafted"]["guides"][1]["lines"]) == 4 + 3, "the face is in three")
    page.keyboard.press("Shift+B")
    page.get_by_role("button", name="Take the box away").click()
    bench.sentence("Took the construction box away")
    assert desk.body["guides"] == []


def test_a_rectangle_is_divided_and_carried_on_by_its_knobs_and_a_sweep_is_fitted(bench: Bench) -> None:
    desk = Desk(bench, "Division")
    page = bench.page
    page.keyboard.press("Shift+D")
    bench.drag(desk.at(400, 400), desk.at(1000, 900))
    bench.sentence("Laid a division")
    desk.grab("Move the division’s second corner", 0, 30)
    desk.edits(2)
    assert desk.body["guides"][0]["quad"][1][1] == pytest.approx(400 + 30 / desk.scale, abs=4)
    page.get_by_role("textbox", name="Carried on across, guide 1").fill("1")
    page.get_by_role("textbox", name="Carried on across, guide 1").press("Enter")
    bench.until(lambda: len(desk.body["drafted"]["guides"][0]["lines"]) == 5 + 3, "a unit is carried on")
    page.keyboard.press("Shift+G")
    bench.drag(desk.at(1750, 300), desk.at(2050, 700))
    bench.sentence("Laid a sweep curve")
    desk.grab("Turn and size the sweep curve", 30, -10)
    page.get_by_role("button", name="Flip").click()
    bench.until(lambda: desk.body["guides"][1]["flipped"], "it is flipped")
    page.get_by_role("radio", name="hyperbola").last.click()
    expect(page.get_by_role("radio", name="hyperbola").last).to_be_checked()
    curve = np.array(desk.body["drafted"]["guides"][1]["lines"][0])
    page.keyboard.press("y")
    bench.pen([(*desk.at(x + 14 * np.sin(k), y + 14 * np.cos(k)), 0.8) for k, (x, y) in enumerate(curve[20:-20:8])])
    bench.sentence("Drew with the fineliner")
    ink = np.argwhere(_page(bench, desk.project)[..., 0] < 215)[:, ::-1] + 0.5
    away = np.hypot(*(ink[:, None, :] - curve[None]).transpose(2, 0, 1)).min(axis=1)
    assert len(ink) > 500
    assert away.max() < 6, "the ink holds to the curve"


def test_the_view_of_a_drawn_box_is_found_and_form_looks_from_there(bench: Bench) -> None:
    from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed
    from hollow_marble.core.drafting.camera import Camera

    desk = Desk(bench, "Drawn box")
    page = bench.page
    placed = Placed(Camera((1200, 800), 2900, 0.6, 0.3), (62, 34, 108), (1200, 1180), 7.0)
    page.keyboard.press("y")
    # five edges in one chain through all three directions are enough
    chain = {(0, 1), (1, 3), (1, 5), (4, 5), (5, 7)}
    lines = [
        (int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0]), placed.corners[[a, b]]) for a, b in EDGES if (a, b) in chain
    ]
    for number, (_, (start, end)) in enumerate(lines, 1):
        desk.line(tuple(start), tuple(end))
        desk.edits(number)
    page.keyboard.press("p")
    for axis, (start, end) in lines:
        bench.pen([(*desk.at(*((start + end) / 2)), 0.5)])
        expect(page.get_by_test_id("picked-line")).to_have_count(1)
        page.get_by_role("radiogroup", name="Edges of a box along").get_by_role("radio", name="WDH"[axis]).click()
        bench.sentence(f"running along {'WDH'[axis]}")
    page.get_by_role("textbox", name="Known length").fill("108")
    page.get_by_role("textbox", name="Known length").press("Enter")
    page.get_by_role("button", name="Find the view of the drawn box").click()
    bench.sentence("Found the view of the drawn box")
    expect(page.get_by_role("status", name="What was found")).to_contain_text("px beside it")
    assert desk.body["box"]["size"] == pytest.approx([62, 34, 108], rel=0.08)
    page.keyboard.press("f")
    page.get_by_role("radiogroup", name="View").get_by_role("radio", name="three-quarter").click()
    bench.drag(desk.at(700, 150), desk.at(1700, 1500))
    bench.sentence("Framed a three-quarter view")
    bench.stage("Form")
    page.get_by_role("button", name="Pin three-quarter").click()
    bench.sentence("Pinned a view in the sketch’s own perspective")
    page.get_by_role("button", name="Look from the sketch").click()
    expect(page.get_by_text("In its own perspective")).to_be_visible()

    def lines_shown() -> bool:
        import io

        from PIL import Image

        shot = np.asarray(Image.open(io.BytesIO(page.get_by_test_id("view3d").screenshot())).convert("L"))
        rows, columns = np.nonzero(shot < 200)
        return len(rows) > 500 and np.ptp(rows) > 0.5 * shot.shape[0] and np.ptp(columns) > 0.25 * shot.shape[1]

    bench.until(lines_shown, "the sketch stands behind the form")
