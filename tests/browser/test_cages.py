"""Cages by hand: first shapes, rows and bands picked, rows added, faces set in, removed and filled."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.browser.test_form import _begin, _part

pytestmark = [pytest.mark.browser, pytest.mark.timeout(180)]


def test_a_part_begins_with_a_cylinder_and_its_numbers_stay_editable(bench: Bench) -> None:
    project = bench.begin("First shapes")
    bench.stage("Form")
    page = bench.page
    bench.tool("Cylinder")
    page.get_by_label("Cylinder H").fill("90")
    page.get_by_label("Cylinder H").press("Enter")
    page.get_by_label("Sides", exact=True).fill("12")
    page.get_by_label("Sides", exact=True).press("Enter")
    page.get_by_role("button", name="Begin", exact=True).click()
    bench.sentence("Started from a cylinder 50 × 50 × 90 mm with 12 sides")
    expect(page.get_by_test_id("size")).to_contain_text("mm")
    page.get_by_label("Start: rows").fill("4")
    page.get_by_label("Start: rows").press("Enter")
    bench.sentence("Changed step 1: started from a cylinder")
    assert _part(bench, project)["steps"][0]["rows"] == 4
    bench.tool("Ring")
    page.get_by_role("button", name="Begin", exact=True).click()
    bench.sentence("Started from a ring of 20 mm radius, 5 mm thick each way")
    page.get_by_label("Start: radius", exact=True).fill("26")
    page.get_by_label("Start: radius", exact=True).press("Enter")
    bench.sentence("ring of 26 mm radius")
    page.get_by_label("Start: radius of its section").fill("40")
    page.get_by_label("Start: radius of its section").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("thinner than the ring is wide")
    assert _part(bench, project)["steps"][0]["tube"] == 5


def test_bands_are_picked_rows_added_faces_set_in_removed_and_filled(bench: Bench) -> None:
    project = _begin(bench, "Rows", (4, 2, 3))
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("f")
    page.mouse.click(x + 15, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_text("9 faces", exact=True)).to_be_visible()
    page.keyboard.press("y")
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("o")
    expect(page.get_by_role("button", name="52 faces", exact=True)).to_be_visible()  # the foot counts all 52 too
    page.keyboard.press("Escape")
    page.mouse.dblclick(x + 15, y)
    expect(page.get_by_text("10 faces", exact=True)).to_be_visible()
    page.mouse.click(x - 15, y)
    page.mouse.click(x + 15, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("n")
    page.get_by_label("Inset by").fill("3")
    page.get_by_label("Inset by").press("Enter")
    page.get_by_role("button", name="Inset picked faces").click()
    bench.sentence("Inset 1 face by 3 mm")
    assert _part(bench, project)["steps"][-1]["symmetry"]["planes"] == ["W"]
    page.keyboard.press("Delete")
    bench.sentence("Removed 1 face")
    page.keyboard.press("Control+z")
    bench.sentence("Inset 1 face")
    page.keyboard.press("g")
    page.mouse.click(x, y)
    expect(page.get_by_text("1 edge", exact=True)).to_be_visible()
    page.keyboard.press("l")
    page.get_by_role("button", name="Add it across the picked edge").click()
    bench.sentence("Added a row")
    expect(page.get_by_text("1 edge", exact=True)).to_be_visible()
    page.keyboard.press("i")
    expect(page.get_by_role("alert")).to_contain_text("no opening at that edge")
