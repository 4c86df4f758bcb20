"""Cages shaped by hand: bevels that stay editable, drawn lines, the handle, kept picks, parts, dimensions, files."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from hollow_marble.core.cage import starts
from hollow_marble.exchange.meshes import NamedMesh, stl
from tests.browser.bench import Bench
from tests.browser.test_form import _begin, _part

pytestmark = [pytest.mark.browser, pytest.mark.timeout(240)]


def _fill(bench: Bench, label: str, value: str) -> None:
    field = bench.page.get_by_role("textbox", name=label, exact=True)
    field.fill(value)
    field.press("Enter")


def _points(bench: Bench, project: str) -> np.ndarray:
    """Points of the last part's cage, from its OBJ file."""
    part, form = _part(bench, project)["id"], bench.document(project, "form")
    obj = bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=obj&part={part}").decode()
    return np.array([line.split()[1:] for line in obj.splitlines() if line.startswith("v ")], float)


def test_a_bevel_is_made_changed_in_the_recipe_and_taken_out(bench: Bench) -> None:
    project = _begin(bench, "Bevels", (1, 1, 1))
    page = bench.page
    page.keyboard.press("g")
    page.keyboard.press("Control+a")
    page.keyboard.press("b")
    _fill(bench, "Width", "5")
    page.get_by_role("button", name="Bevel picked edges").click()
    bench.sentence("Bevelled 12 edges by 5 mm")
    page.get_by_role("button", name=re.compile("^2 Bevelled 12 edges")).click()
    _fill(bench, "Step 2: width", "7")
    bench.sentence("Changed step 2: bevelled 12 edges by 7 mm")
    page.get_by_role("radiogroup", name="Step 2: bevel").get_by_role("radio", name="sharp").click()
    bench.until(lambda: _part(bench, project)["steps"][1]["sharp"] is True, "the bevel is sharp")
    _fill(bench, "Step 2: segments", "3")
    expect(page.get_by_role("alert")).to_contain_text("even number of segments")
    expect(page.get_by_role("textbox", name="Step 2: segments")).to_have_value("2")
    page.get_by_role("button", name="Take step 2 out").click()
    bench.sentence("Took step 2 out")
    assert len(_part(bench, project)["steps"]) == 1


def test_lines_drawn_over_the_view_cut_fit_and_lead(bench: Bench) -> None:
    project = _begin(bench, "Lines", (2, 2, 2))
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("Shift+c")
    bench.pen([(x - 300 + 12 * k, y + 90, 0.5) for k in range(51)])
    bench.sentence("Cut faces along a line")
    before = _points(bench, project)
    assert len(before) == 26 + 3
    page.keyboard.press("Shift+c")  # the tool stays; Escape lays it down
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.mouse.dblclick(x + 60, y)
    expect(page.get_by_text(re.compile(r"^\d+ edges$"))).to_be_visible()
    page.keyboard.press("Shift+f")
    bench.pen([(x - 160 + 8 * k, y - 20 - 30 * float(np.sin(np.pi * k / 40)), 0.5) for k in range(41)])
    bench.sentence("Fitted a row of")
    moved = _points(bench, project)
    assert (np.abs(moved - before).max(axis=1) > 0.5).sum() >= 3
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    page.mouse.click(x + 60, y - 100)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    bench.tool("Side")
    page.get_by_role("navigation", name="Tools").get_by_role("button", name=re.compile("^Extrude")).click()
    bench.sentence("Extruded 1 face out 8.0 mm")


def test_a_face_is_led_along_a_path_and_a_profile_is_turned(bench: Bench) -> None:
    project = _begin(bench, "Paths", (1, 1, 1))
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("n")  # options of a tool show before it is used: the pick is a face now
    page.keyboard.press("f")
    page.mouse.click(x, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    bench.tool("Side")
    page.keyboard.press("n")
    page.get_by_role("button", name="Inset picked faces").click()
    bench.sentence("Inset 1 face by 4 mm")
    page.keyboard.press("Escape")
    page.keyboard.press("g")
    page.keyboard.press("x")
    _fill(bench, "Segments", "5")
    page.get_by_role("radiogroup", name="Along", exact=True).get_by_role("radio", name="path").click()
    page.keyboard.press("Escape")
    page.keyboard.press("f")
    bench.tool("Front")
    page.mouse.click(x, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    bench.tool("Side")
    page.keyboard.press("x")
    bench.pen([(x - 60 - 3 * k, y - 0.05 * k * k, 0.5) for k in range(30)])
    bench.sentence("Extruded 1 face along a path")
    step = _part(bench, project)["steps"][-1]
    assert step["segments"] == 5
    assert step["path"][-1][1] < step["path"][0][1] - 10, "forward, to the left as seen from the side"

    page.keyboard.press("Escape")
    bench.tool("Grid")
    page.get_by_role("button", name="Begin", exact=True).click()
    bench.sentence("Started from a grid")
    bench.tool("Side")
    page.keyboard.press("g")
    page.keyboard.press("Control+a")
    page.keyboard.press("Shift+x")
    page.get_by_role("radiogroup", name="Grow along").get_by_role("radio", name="a path").click()
    bench.pen([(x + 2 * k, y - 3 * k, 0.5) for k in range(30)])
    expect(page.get_by_role("alert")).to_contain_text("Only open edges grow")
    page.get_by_role("button", name="Understood").click()
    page.keyboard.press("Escape")
    page.keyboard.press("p")
    bench.tool("Top")
    page.keyboard.down("Shift")
    page.mouse.move(x - 290, y - 290)
    page.mouse.down()
    page.mouse.move(x + 290, y - 190, steps=6)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_text("5 points", exact=True)).to_be_visible()
    page.keyboard.press("g")
    expect(page.get_by_text("4 edges", exact=True)).to_be_visible()
    bench.tool("Side")
    page.keyboard.press("Shift+x")
    bench.pen([(x + 60 + 2 * k, y - 3 * k, 0.5) for k in range(30)])
    bench.sentence("Grew faces from 4 open edges")
    page.keyboard.press("Escape")
    bench.tool("Turned")
    bench.tool("Front")
    bench.pen([(x + 60 + 30 * float(np.sin(k / 9)), y - 150 + 8 * k, 0.5) for k in range(38)])
    bench.sentence("Started from a profile turned about H with 24 sides")
    _fill(bench, "Start: sides", "16")
    bench.sentence("Changed step 1: started from a profile turned about H with 16 sides")
    points = _points(bench, project)
    assert len(points) == 16 * 9


def test_the_handle_is_seated_anew_pushes_softly_and_holds_to_the_grid(bench: Bench) -> None:
    project = _begin(bench, "Handle", (4, 2, 4))
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("f")
    page.mouse.click(x + 30, y + 30)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("Shift+p")
    _fill(bench, "Soft over", "40")
    _fill(bench, "Push by", "3")
    bench.sentence("Pushed 4 points out 3.0 mm, softly over 40 mm")
    points = _points(bench, project)
    front = points[np.isclose(points[:, 0], 0) & (points[:, 1] < -10)]
    assert len(np.unique(front[:, 1].round(3))) > 2, "neighbours went along in part"
    _fill(bench, "Soft over", "0")
    page.keyboard.press("m")
    page.keyboard.press("ArrowRight")
    bench.sentence("Moved 4 points right 1.0 mm")
    page.get_by_text("Handle’s seat").click()
    page.get_by_role("button", name="square to it").click()
    expect(page.get_by_text("Handle’s seat: set")).to_be_visible()
    page.get_by_role("textbox", name="Name of the seat").fill("front")
    page.get_by_role("button", name="Keep the seat").click()
    bench.sentence("Kept the seat front")
    _fill(bench, "Move along H", "2")

    def forward() -> bool:
        step = _part(bench, project)["steps"][-1]
        return bool(step["how"] == "move" and step["values"][1] < -1.9)

    bench.until(forward, "outward is forward")
    page.get_by_role("button", name="follow the pick").click()
    page.keyboard.press("z")
    page.get_by_role("radiogroup", name="Size from").get_by_role("radio", name="from the far side").click()
    knob = page.get_by_role("button", name="Size along H", exact=True)
    box = knob.bounding_box()
    assert box is not None
    low = _points(bench, project)
    bench.drag((box["x"] + box["width"] / 2, box["y"] + 6), (box["x"] + box["width"] / 2, box["y"] - 30))
    bench.sentence("Sized 4 points")
    assert _points(bench, project)[:, 2].min() == pytest.approx(low[:, 2].min())
    page.keyboard.press("m")
    page.keyboard.press("Shift+h")
    _fill(bench, "Grid and arrow step", "5")
    knob = page.get_by_role("button", name="Move along H", exact=True)
    box = knob.bounding_box()
    assert box is not None
    bench.drag((box["x"] + box["width"] / 2, box["y"] + 6), (box["x"] + box["width"] / 2, box["y"] - 37))
    bench.sentence("Moved 4 points up")
    height = float(page.get_by_role("textbox", name="Middle H").input_value())
    assert height % 5 == pytest.approx(0, abs=0.051)


def test_picks_are_gathered_in_a_loop_kept_under_a_name_and_carried_on(bench: Bench) -> None:
    project = _begin(bench, "Kept", (4, 2, 4))
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("f")
    page.keyboard.press("q")
    page.keyboard.down("Shift")
    page.mouse.move(x - 210, y - 330)
    page.mouse.down()
    for place in ((x + 210, y - 330), (x + 210, y - 90), (x - 210, y - 90), (x - 210, y - 320)):
        page.mouse.move(*place, steps=6)
    page.mouse.up()
    page.keyboard.up("Shift")
    expect(page.get_by_role("button", name=re.compile(r"^\d+ faces$"))).to_be_visible()
    page.get_by_role("textbox", name="Name of the pick").fill("brow")
    page.get_by_role("button", name="Keep the pick").click()
    bench.sentence("Kept a pick as brow")
    count = len(_part(bench, project)["picks"][0]["items"])
    page.keyboard.press("Escape")
    page.mouse.click(x + 15, y + 200)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("Delete")
    bench.sentence("Removed 1 face")
    page.get_by_role("button", name="Pick brow", exact=True).click()
    expect(page.get_by_role("button", name=f"{count} faces", exact=True)).to_be_visible()
    page.keyboard.press("Shift+k")
    expect(page.get_by_role("button", name=f"{count} faces", exact=True)).not_to_be_visible()


def test_parts_are_linked_locked_grouped_merged_and_measured(bench: Bench) -> None:
    project = _begin(bench, "Parts", (2, 2, 2))
    page = bench.page
    page.get_by_role("button", name="Linked copy").click()
    bench.sentence("Made a linked copy: Body 2")
    page.get_by_role("button", name="Body 2 linked", exact=True).click()
    expect(page.get_by_text("follows Body")).to_be_visible()
    _fill(bench, "Step 2: stand at W", "90")
    bench.sentence("Changed step 2: stood the part")
    page.keyboard.press("f")
    page.keyboard.press("Control+a")
    expect(page.get_by_role("button", name="24 faces", exact=True)).to_be_visible()
    page.keyboard.press("n")
    page.get_by_role("button", name="Inset picked faces").click()
    expect(page.get_by_role("alert")).to_contain_text("Body 2 follows Body")
    page.get_by_role("button", name="Break the link").click()
    bench.sentence("Broke the link of a part")
    page.get_by_role("button", name="Lock Body 2").click()
    bench.sentence("Locked a part")
    page.get_by_role("button", name="Remove Body 2").click()
    expect(page.get_by_role("alert")).to_contain_text("Body 2 is locked")
    page.get_by_role("button", name="Unlock Body 2").click()
    bench.sentence("Unlocked a part")
    _fill(bench, "Group", "Shells")
    bench.sentence("Put a part in the group Shells")
    page.get_by_role("button", name="Hide the group Shells").click()
    bench.sentence("Hid a part")
    page.get_by_role("button", name="Show the group Shells").click()
    bench.sentence("Showed a part")
    page.get_by_role("button", name="Look only at Body 2").click()
    page.get_by_role("button", name="Show all again, not only Body 2").click()
    page.get_by_role("button", name="Body", exact=True).last.click()
    page.get_by_label("Made of").select_option("aluminium")
    bench.sentence("Made a part of aluminium")
    form = bench.document(project, "form")
    size = bench.get(f"/api/projects/{project}/forms/{form}/size")
    # two equal bodies, one of them of aluminium: 2.70 g/cm³ (handbook)
    assert list(size["grams"].values()) == [pytest.approx(size["volume"] / 2 / 1000 * 2.70, rel=1e-6)]
    expect(page.get_by_text("Weighs, solid")).to_be_visible()
    page.get_by_label("Merge in").select_option(label="Body 2")
    bench.sentence("Merged two parts")
    assert np.ptp(_points(bench, project)[:, 0]) == pytest.approx(152)

    page.keyboard.press("p")
    bench.tool("Front")
    page.keyboard.press("Shift+n")
    page.get_by_role("radiogroup", name="Shown").get_by_role("radio", name="cage").click()
    spots = _corner_spots(bench, project)
    page.mouse.click(*spots[0])
    page.mouse.click(*spots[1])
    bench.sentence("Measured between two points")
    expect(page.get_by_test_id("dimension")).to_contain_text("mm")
    page.get_by_role("radiogroup", name="Measured along").get_by_role("radio", name="H", exact=True).click()
    bench.until(lambda: _measures(bench, project)[0]["along"] == "H", "it is measured along the height")
    page.get_by_role("button", name="Take the dimension away").click()
    bench.sentence("Took a dimension away")


def _measures(bench: Bench, project: str) -> list[dict[str, Any]]:
    form = bench.document(project, "form")
    return bench.get(f"/api/projects/{project}/forms/{form}")["body"]["measures"]


def _corner_spots(bench: Bench, project: str) -> list[tuple[float, float]]:
    """Where two points of the front face stand on the screen, seen flat from the front and fitted to the view."""
    points = _points(bench, project)
    low, high = points.min(axis=0), points.max(axis=0)
    box = bench.page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    extent = float((high - low).max())
    scale = box["height"] / (2 * 0.78 * extent)  # the view holds 1.56 of the largest extent
    middle = (low + high) / 2
    spots = []
    for x, z in ((-31.0, 54.0), (-31.0, -54.0)):
        across, down = (x - middle[0]) * scale, -(z - middle[2]) * scale
        spots.append((box["x"] + box["width"] / 2 + across, box["y"] + box["height"] / 2 + down))
    return spots


def test_symmetry_by_turns_and_both_sides_made_alike(bench: Bench) -> None:
    project = _begin(bench, "Turns", (2, 2, 2))
    page = bench.page
    page.keyboard.press("j")
    bench.sentence("Switched symmetry off")
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.mouse.click(x, y)
    expect(page.get_by_text("1 point", exact=True)).to_be_visible()
    _fill(bench, "Middle W", "6")
    bench.sentence("Moved 1 point right 6.0 mm")
    bench.tool("Sides alike")
    page.get_by_role("button", name="Make them alike").click()
    bench.sentence("Made both sides like the right one")
    points = _points(bench, project)
    mirrored = {tuple(p) for p in (points * (-1, 1, 1) + 0.0).round(6).tolist()}
    assert {tuple(p) for p in (points + 0.0).round(6).tolist()} == mirrored
    bench.tool("Cylinder")
    page.get_by_role("button", name="Begin", exact=True).click()
    bench.sentence("Started from a cylinder")
    _fill(bench, "Symmetry by turns", "8")
    bench.sentence("Switched symmetry 8 turns about H on")
    page.keyboard.press("f")
    bench.tool("Front")
    page.mouse.click(x + 10, y)
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
    page.keyboard.press("x")
    bench.sentence("Extruded 1 face out 8.0 mm")
    faces = len(_points(bench, project))
    assert faces == 16 * 4 + 8 * 4, "lifted eight times round"


def test_cages_with_creases_and_still_bodies_come_in(bench: Bench, tmp_path: Path) -> None:
    project = _begin(bench, "Files", (1, 1, 1))
    page = bench.page
    page.keyboard.press("p")
    page.keyboard.press("Control+a")
    expect(page.get_by_text("8 points", exact=True)).to_be_visible()
    page.keyboard.press("k")
    page.get_by_role("button", name="Fully sharp", exact=True).click()
    bench.sentence("Made 8 corners sharp")
    part, form = _part(bench, project)["id"], bench.document(project, "form")
    kept = tmp_path / "held.ply"
    kept.write_bytes(bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=cage.ply&part={part}"))
    page.get_by_label("Cage file").set_input_files(kept)
    bench.sentence("Brought in the cage held: held")
    page.keyboard.press("p")
    page.keyboard.press("Control+a")
    expect(page.get_by_text("fully sharp", exact=True)).to_be_visible()
    cage = starts.box((30, 30, 30), (1, 1, 1))
    mesh = NamedMesh(
        "grip",
        cage.points,
        np.array([f for q in cage.face_points.reshape(-1, 4) for f in (q[[0, 1, 2]], q[[0, 2, 3]])]),
    )
    grip = tmp_path / "grip.stl"
    grip.write_bytes(stl([mesh]))
    with page.expect_file_chooser() as chooser:
        bench.tool("Still body from a file")
    chooser.value.set_files(grip)
    bench.sentence("Brought in the still body grip, 12 triangles: grip")
    expect(page.get_by_test_id("size")).to_contain_text("mm")
    page.get_by_role("button", name="grip", exact=True).click()
    expect(page.get_by_text("still body", exact=True)).to_be_visible()
    bench.tool("Stand part")
    _fill(bench, "Stand at D", "40")
    page.get_by_role("button", name="Stand it there").click()
    bench.sentence("Stood the part at W 0, D 40, H 0 mm")
    with page.expect_file_chooser() as chooser:
        bench.tool("Cage from a file")
    chooser.value.set_files(grip)
    expect(page.get_by_role("alert")).to_contain_text("neither OBJ nor PLY")


def test_a_sheets_line_is_turned_and_its_reference_shown_as_lines(bench: Bench) -> None:
    project = bench.begin("From the sheet")
    page = bench.page
    x, y = bench.middle("paper")
    for side in (1, -1):
        bench.pen([(x + side * (40 + 25 * float(np.sin(k / 8))), y - 120 + 6 * k, 0.6) for k in range(41)])
    bench.sentence("Drew with the pencil")
    page.keyboard.press("f")
    bench.drag((x - 100, y - 180), (x + 100, y + 180))
    bench.sentence("Framed")
    bench.stage("Form")
    page.get_by_role("button", name=re.compile("^Pin ")).first.click()
    bench.sentence("Pinned a view as")
    page.get_by_role("radiogroup", name="Seen from").get_by_role("radio", name="front").click()
    page.get_by_role("radiogroup", name="Reference shows").get_by_role("radio", name="its lines only").click()
    form = bench.document(project, "form")
    bench.until(
        lambda: bench.get(f"/api/projects/{project}/forms/{form}")["body"]["references"][0]["outline"] is True,
        "the reference is its lines",
    )
    bench.tool("Turned")
    bench.tool("Front")
    box = page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    # 240 px of the page are 100 mm; an empty form is seen 1.56 * 110 mm high
    aside = (40 + 25 * float(np.sin(20 / 8))) * 100 / 240 * box["height"] / (1.56 * 110)
    page.mouse.click(middle[0] + aside, middle[1])
    bench.sentence("Started from a profile turned about H with 24 sides")
    points = _points(bench, project)
    assert np.ptp(points[:, 2]) == pytest.approx(100, abs=3)
    radius = np.hypot(points[:, 0], points[:, 1])
    assert radius.max() == pytest.approx(65 * 100 / 240 * 3 / (2 + np.cos(np.pi / 12)), rel=0.08)
