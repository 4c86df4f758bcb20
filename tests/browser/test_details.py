"""Details by hand: a line drawn on the skin, a groove along it, a grille and words where the skin is touched; shaped beneath; parted; stitched."""

from __future__ import annotations

import re
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.web.test_api import unpack

pytestmark = [pytest.mark.browser, pytest.mark.timeout(240)]

BOX = {"kind": "box", "size": [60, 34, 100], "divisions": [2, 2, 3]}


def _begun(bench: Bench, name: str, *planes: str) -> tuple[str, str]:
    """A project with a box, symmetric across planes, seen from the front in Form; its and the form's address."""
    project = bench.begin(name)
    form = bench.document(project, "form")
    edit = {"kind": "start_part", "part": "a", "name": "Body", "start": BOX, "symmetry": {"planes": planes}}
    bench.post(f"/api/projects/{project}/documents/{form}/edits", {"edit": edit})
    bench.stage("Form")
    bench.page.keyboard.press("a")
    expect(_next(bench)).to_be_visible()
    return project, f"/api/projects/{project}/forms/{form}"


def _next(bench: Bench) -> Any:
    """What is put on the skin next."""
    return bench.page.locator("select:has(option[value=section_line])")


def _number(bench: Bench, label: str, value: float) -> None:
    field = bench.page.get_by_label(label, exact=True).last
    field.fill(str(value))
    field.press("Enter")


def _mesh(bench: Bench, form: str, part: str = "a") -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    return unpack(bench.bytes(f"{form}/parts/{part}/mesh"))


def _kinds(bench: Bench, form: str, part: int = 0) -> list[str]:
    return [step["kind"] for step in bench.get(form)["body"]["parts"][part]["steps"]]


def test_a_drawn_line_carries_a_groove_and_the_cage_stays_to_be_shaped_beneath(bench: Bench) -> None:
    page = bench.page
    _, form = _begun(bench, "Grooved")
    x, y = bench.middle("view3d")
    page.keyboard.press("Shift+U")
    bench.pen([(x + dx, y + 0.1 * dx, 0.5) for dx in range(-60, 61, 6)])
    bench.sentence("Drew a line on the skin")
    _, lines = unpack(bench.bytes(f"{form}/parts/a/lines"))
    assert lines["places"].reshape(-1, 3)[:, 1].max() < 0, "on the front, which one drew over"
    _number(bench, "Width", 2)
    page.get_by_role("button", name="Run it along the line").click()
    bench.sentence("Ran a groove along a line, 2 mm wide")
    grooved, arrays = _mesh(bench, form)
    assert grooved["closed"]
    # beneath it the cage is picked and moved; the groove follows
    page.get_by_role("button", name="Shape beneath its details").click()
    expect(page.get_by_text("It has no cage: touch the part itself.")).to_have_count(0)
    page.keyboard.press("Control+a")
    expect(page.get_by_role("status", name="Picked")).to_contain_text("points of Body are picked")
    page.keyboard.press("ArrowUp")
    bench.until(
        lambda: _kinds(bench, form) == ["box", "placed", "drawn_line", "along_line"], "the move went in beneath"
    )
    page.get_by_role("button", name="Show its details again").click()
    moved, after = _mesh(bench, form)
    high = [found["positions"].reshape(-1, 3)[:, 2].max() for found in (arrays, after)]
    assert high[1] == pytest.approx(high[0] + 1, abs=0.01), "by a step of the arrow keys"
    for _ in range(2):
        page.keyboard.press("Control+z")
    bench.until(lambda: _kinds(bench, form) == ["box", "drawn_line"], "both were undone")
    assert moved["key"] != grooved["key"]


def test_on_a_symmetric_part_a_groove_is_on_both_sides_unless_one_wants_it_on_one(bench: Bench) -> None:
    page = bench.page
    _, form = _begun(bench, "Alike", "W")
    x, y = bench.middle("view3d")
    page.keyboard.press("Shift+U")
    bench.pen([(x + 50, y + dy, 0.5) for dy in range(-60, 61, 6)])
    bench.sentence("Drew a line on the skin")
    page.get_by_role("button", name="Run it along the line").click()
    bench.sentence("deep, alike across width")

    def finer_on_the_right() -> float:
        positions = _mesh(bench, form)[1]["positions"].reshape(-1, 3)
        front = positions[(positions[:, 1] < 0) & (np.abs(positions[:, 2]) < 10)]
        return float((front[:, 0] > 1).sum() / (front[:, 0] < -1).sum())

    assert 0.8 < finer_on_the_right() < 1.25
    page.keyboard.press("Control+z")
    bench.sentence("Drew a line on the skin")
    page.get_by_role("switch", name="On its other sides too").click()
    page.get_by_role("button", name="Run it along the line").click()
    bench.sentence("0.5 mm deep")
    assert finer_on_the_right() > 1.5


def test_a_grille_and_words_are_set_where_the_skin_is_touched_and_refused_where_they_do_not_fit(bench: Bench) -> None:
    page = bench.page
    _, form = _begun(bench, "Grilled")
    x, y = bench.middle("view3d")
    _next(bench).select_option("grille")
    expect(page.get_by_text("Say where: touch its place on the part")).to_be_visible()
    page.get_by_role("button", name="Touch its place on the part").click()
    page.mouse.click(x, y - 60)
    _number(bench, "Each opening", 40)
    page.get_by_role("button", name="Make the grille").click()
    expect(page.get_by_text("No opening 40 mm wide fits")).to_be_visible()
    assert _kinds(bench, form) == ["box"], "the form is as it was"
    _number(bench, "Each opening", 1.5)
    page.get_by_role("button", name="Make the grille").click()
    bench.sentence("Made a grille of slots in rows, 1.5 mm each, 1.6 mm deep")
    page.get_by_role("button", name="2 Made a grille").click()
    page.get_by_role("radiogroup", name="Step 2: it is").get_by_role("radio", name="through the wall").click()
    bench.sentence("through the wall")
    expect(page.get_by_label("Step 2: draft of its sides")).to_have_count(0)
    assert _mesh(bench, form)[0]["closed"]
    _next(bench).select_option("lettering")
    page.get_by_label("Words", exact=True).fill("Wren")
    page.get_by_label("Words", exact=True).press("Enter")
    page.get_by_role("button", name="Touch its place on the part").click()
    page.mouse.click(x, y + 60)
    page.get_by_role("button", name="Set the words").click()
    bench.sentence("Cut the words “Wren”")
    # its numbers are there at any later time
    page.get_by_role("button", name="3 Cut the words").click()
    page.get_by_label("Step 3: words", exact=True).fill("Linnet")
    page.get_by_label("Step 3: words", exact=True).press("Enter")
    bench.sentence("cut the words “Linnet”")


def test_a_part_is_parted_along_a_line_and_stitched(bench: Bench) -> None:
    page = bench.page
    _, form = _begun(bench, "Parted")
    _next(bench).select_option("section_line")
    page.get_by_role("button", name="Lay the line").click()
    bench.sentence("Laid a line round the skin at H 0 mm")
    _next(bench).select_option("stitched")
    page.get_by_role("button", name="Stitch it").click()
    bench.sentence("Stitched along a line")
    parts = bench.get(form)["body"]["parts"]
    assert len(unpack(bench.bytes(f"{form}/parts/{parts[1]['id']}/mesh"))[1]["copies"]) > 30
    page.get_by_role("button", name="Body", exact=True).first.click()
    _next(bench).select_option("parted_along")
    page.get_by_role("radio", name="lip and groove").click()
    page.get_by_role("button", name="Part it into two").click()
    bench.sentence("Parted it along a line")
    parts = bench.get(form)["body"]["parts"]
    assert [part["name"] for part in parts] == ["Body", "Stitches on Body", "Body, the rest"]
    halves = [_mesh(bench, form, parts[k]["id"])[0] for k in (0, 2)]
    assert all(half["closed"] for half in halves)
    page.get_by_role("button", name="Body, the rest", exact=True).first.click()
    page.keyboard.press("Shift+O")
    _number(bench, "Apart from the rest", 20)
    page.get_by_role("button", name="Stand it there").click()
    bench.sentence("20 mm apart from the rest")
    lowest = [_mesh(bench, form, parts[k]["id"])[1]["positions"].reshape(-1, 3)[:, 2].min() for k in (0, 2)]
    assert abs(lowest[0] - lowest[1]) == pytest.approx(70, abs=2), "half of 100 mm, and 20 more"
    page.get_by_role("button", name="Body", exact=True).first.click()
    assert not bench.errors


def test_studs_are_spread_where_a_sheet_is_painted_and_follow_the_paint(bench: Bench) -> None:
    page = bench.page
    project, form = _begun(bench, "Painted")
    sheet, document = (bench.document(project, kind) for kind in ("sheet", "form"))
    edits = f"/api/projects/{project}/documents"
    stud = {"kind": "sphere", "size": [1.6, 1.6, 1.2], "divisions": 1}
    bench.post(
        f"{edits}/{document}/edits", {"edit": {"kind": "start_part", "part": "s", "name": "Stud", "start": stud}}
    )
    bench.post(f"{edits}/{sheet}/edits", {"edit": {"kind": "add_layer", "id": "t", "name": "Shade", "holds": "tone"}})

    def paint(left: int, right: int) -> None:
        gradient = {
            "layer": "t",
            "shape": "linear",
            "start": [left, 0],
            "end": [right, 0],
            "first": "#000000",
            "last": "#000000",
        }
        assert page.request.post(f"{bench.server.url}/api/projects/{project}/sheets/{sheet}/gradient", data=gradient).ok

    paint(0, 800)
    x, y = bench.middle("view3d")
    _next(bench).select_option("spread")
    page.locator("label").filter(has_text=re.compile("^Of")).locator("select").select_option("s")
    page.get_by_role("button", name="Touch its place on the part").click()
    page.mouse.click(x, y)
    page.get_by_role("button", name="Spread it").click()
    bench.sentence("Spread Stud")
    many = bench.get(form)["body"]["parts"][2]["id"]

    def count() -> int:
        return len(unpack(bench.bytes(f"{form}/parts/{many}/mesh"))[1]["copies"])

    whole = count()
    page.locator(f"select:has(option[value='{sheet} t'])").select_option(label="Sheet 1: Shade")
    bench.sentence("driven by the paint of a sheet")
    first = count()
    assert 0 < first < whole
    page.get_by_role("button", name="1 Spread Stud").click()
    _number(bench, "Step 1: none where darker than", 50)
    bench.until(lambda: 0 < count() < first, "none where it is bare")
    first = count()
    paint(0, 1200)
    bench.until(lambda: count() > first, "it followed the paint")
    bench.sentence("driven by the paint of a sheet")
    for _ in range(4):
        page.keyboard.press("Control+z")
    bench.until(lambda: len(bench.get(form)["body"]["parts"]) == 2, "all of it is undone")
    assert not bench.errors
