"""From a blank page to a picture somebody answered, by hand."""

from __future__ import annotations

import io
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import trimesh
from PIL import Image
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.conftest import start_server

pytestmark = pytest.mark.browser


@pytest.mark.timeout(600)
def test_from_a_pen_stroke_to_a_verdict(browser: Any, tmp_path: Path) -> None:
    server = start_server(tmp_path)  # of its own: it is killed
    bench = Bench(browser, server)
    page = bench.page
    project = bench.begin("Wren")

    # Sketch: draw with the pen, frame a view
    expect(page.get_by_text("A blank sheet")).to_be_visible()
    x, y = bench.middle("paper")
    bench.ring((x, y), 70, 120)
    bench.sentence("Drew with the pencil")
    bench.ring((x, y - 40), 25, 25)
    bench.sentence("Drew with the pencil")
    bench.tool("Frame a view")
    page.get_by_role("radiogroup", name="View").get_by_role("radio", name="front").click()
    bench.drag((x - 110, y - 150), (x + 110, y + 150))
    bench.sentence("Framed a front view")
    sheet = bench.document(project, "sheet")
    drawn = Image.open(io.BytesIO(bench.bytes(f"/api/projects/{project}/sheets/{sheet}/page.png")))
    assert np.asarray(drawn.convert("L")).min() < 150, "ink is on the page"

    # Form: pin the view, begin with a box, extrude, drag
    bench.stage("Form")
    expect(page.get_by_text("No form yet")).to_be_visible()
    page.get_by_role("button", name="Pin front").click()
    bench.sentence("Pinned a view as front")
    page.get_by_label("The violet line is").fill("90")
    page.get_by_label("The violet line is").press("Enter")
    bench.sentence("Scaled a reference")
    bench.tool("Box")
    for label, value in (
        ("Box W", "50"),
        ("Box D", "30"),
        ("Box H", "90"),
        ("Divisions W", "2"),
        ("Divisions D", "2"),
        ("Divisions H", "3"),
    ):
        page.get_by_label(label, exact=True).fill(value)
        page.get_by_label(label, exact=True).press("Enter")
    page.get_by_role("button", name="Begin", exact=True).last.click()
    bench.sentence("Started from a box 50 × 30 × 90 mm")
    expect(page.get_by_test_id("size")).to_contain_text("mm")
    before = page.get_by_test_id("size").inner_text()

    bench.tool("Faces")
    x, y = bench.middle("view3d")
    page.mouse.click(x + 10, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("x")
    bench.sentence("Extruded 1 face out 8.0 mm")
    arm = page.get_by_role("button", name="Move along H")
    expect(arm).to_be_visible()
    tip = arm.locator("circle").bounding_box()
    assert tip is not None
    bench.drag((tip["x"] + 5, tip["y"] + 5), (tip["x"] + 5, tip["y"] - 40))
    bench.sentence("Moved")
    expect(page.get_by_test_id("sentence")).to_contain_text(re.compile(r"Moved \d points up"))
    expect(page.get_by_test_id("size")).not_to_have_text(before)
    form = bench.document(project, "form")
    size = bench.get(f"/api/projects/{project}/forms/{form}/size")

    # the files it exports
    mesh = trimesh.load(
        io.BytesIO(bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=stl")), file_type="stl"
    )
    assert np.allclose(np.sort(mesh.extents), np.sort([size["width"], size["depth"], size["height"]]), atol=1e-3)
    assert mesh.volume == pytest.approx(size["volume"], rel=1e-4)
    scene = trimesh.load(
        io.BytesIO(bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=glb")), file_type="glb"
    )
    assert np.allclose(scene.extents * 1000, [size["width"], size["height"], size["depth"]], atol=1e-2), "metres, y up"
    with page.expect_download() as download:
        bench.command("Cage as OBJ without creases")
    assert b"\nf " in download.value.path().read_bytes()

    # Surface: stripes
    bench.stage("Surface")
    dial = page.get_by_role("button", name="Direction of the light")
    expect(dial).to_be_visible()
    spot = dial.bounding_box()
    assert spot is not None
    bench.drag((spot["x"] + 7, spot["y"] + 7), (spot["x"] + 25, spot["y"] + 30))
    expect(page.get_by_label("Around", exact=True).last).not_to_have_value("20")

    # Studio: a shot and a take
    bench.stage("Studio")
    page.keyboard.press("k")
    bench.sentence("Kept the shot Shot 1")
    wide, tall = page.get_by_label("Wide"), page.get_by_label("Tall").last
    wide.fill("240")
    wide.press("Enter")
    tall.fill("160")
    tall.press("Enter")
    bench.sentence("Changed a shot")
    studio = f"/api/projects/{project}/studios/{bench.document(project, 'studio')}"
    bench.until(
        lambda: [(s["width"], s["height"]) for s in bench.get(studio)["body"]["shots"]] == [(240, 160)],
        "both sizes are kept",
    )
    page.keyboard.press("d")
    expect(page.get_by_test_id("caption")).to_contain_text("8 of 8 samples", timeout=120_000)
    expect(page.get_by_role("img", name="Take of Shot 1")).to_be_visible()
    picture = bench.taken(project)
    assert picture.size == (240, 160)
    assert np.asarray(picture).std() > 10, "a picture, not a flat field"
    page.keyboard.press("m")
    page.get_by_role("button", name="Take a contact sheet").click()
    takes = f"/api/projects/{project}/takes"
    bench.until(
        lambda: [take["state"] for take in bench.get(takes)["takes"]] == ["done"] * 2, "the small take is there"
    )
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the contact sheet").click()
    with Image.open(download.value.path()) as sheet:
        assert np.asarray(sheet.convert("L"))[60:-60, 60:-60].std() > 10, "the shot is on the sheet"

    # Review: hang it, pin a comment, decide
    bench.stage("Review")
    page.get_by_role("button", name="Hang Shot 1", exact=True).click()
    bench.sentence("Hung Shot 1, draft")
    bench.tool("Pin a comment")
    page.mouse.click(*bench.middle("wipe"))
    page.get_by_label("Comment", exact=True).fill("The shoulder could be softer.")
    page.get_by_role("button", name="Pin it").click()
    bench.sentence("pinned “The shoulder could be softer.”")
    page.get_by_role("radiogroup", name="Verdict").get_by_role("radio", name="change").click()
    page.get_by_label("Reason").fill("Soften the shoulder, then take it again.")
    page.get_by_role("button", name="Decide").click()
    bench.sentence("asks to change it")

    # the thread leads back
    page.get_by_role("button", name="Sheet Sheet 1").click()
    expect(page.get_by_test_id("paper")).to_be_visible()

    # everything can be undone and redone, and survives a restart
    bench.stage("Review")
    page.keyboard.press("Control+z")
    bench.sentence("pinned")
    page.keyboard.press("Control+Shift+z")
    bench.sentence("asks to change it")
    bench.close()
    server.kill()
    again = start_server(server.data)
    try:
        bench = Bench(browser, again)
        bench.open()
        bench.stage("Review")
        bench.sentence("asks to change it")
        assert bench.get(f"/api/projects/{project}/forms/{form}/size")["volume"] == size["volume"]
        bench.close()
    finally:
        again.process.terminate()
        again.process.wait()
