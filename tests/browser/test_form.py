"""Shaping by hand: picks, handle, typed numbers, creases, symmetry, references, cages in."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.conftest import Server

pytestmark = [pytest.mark.browser, pytest.mark.timeout(180)]


def _begin(bench: Bench, name: str, divisions: tuple[int, int, int] = (2, 2, 2)) -> str:
    """A project with a box in Form, made through the API: by hand it is done where that is what is tested."""
    state = bench.post("/api/projects", {"name": name})
    project, form = state["project"]["id"], next(d["id"] for d in state["documents"] if d["kind"] == "form")
    start = {"kind": "box", "size": [62, 34, 108], "divisions": divisions}
    edit = {"kind": "start_part", "part": "b", "name": "Body", "start": start, "symmetry": {"planes": ["W"]}}
    bench.post(f"/api/projects/{project}/documents/{form}/edits", {"edit": edit})
    bench.page.goto(f"{bench.server.url}/?project={project}")
    bench.stage("Form")
    _shown(bench)
    return str(project)


def _begin_by_hand(bench: Bench, name: str, divisions: tuple[int, int, int]) -> str:
    project = bench.begin(name)
    bench.stage("Form")
    bench.page.get_by_role("button", name="Begin with a box").click()
    for label, value in zip("WDH", divisions):
        field = bench.page.get_by_label(f"Divisions {label}", exact=True)
        field.fill(str(value))
        field.press("Enter")
    bench.page.get_by_role("button", name="Begin", exact=True).click()
    _shown(bench)
    return project


def _shown(bench: Bench) -> None:
    bench.sentence("Started from a box 62 × 34 × 108 mm")
    expect(bench.page.get_by_test_id("size")).to_be_visible()
    expect(bench.page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    expect(bench.page.get_by_text("Click points on the cage")).to_be_visible()


def _part(bench: Bench, project: str) -> dict[str, Any]:
    form = bench.document(project, "form")
    parts = bench.get(f"/api/projects/{project}/forms/{form}")["body"]["parts"]
    return parts[-1]


def test_points_are_picked_by_click_add_and_box_and_through(bench: Bench) -> None:
    _begin(bench, "Picks")
    page = bench.page
    bench.tool("Front")
    x, y = bench.middle("view3d")
    box = page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    corners = [(box["x"] + 20, box["y"] + 20), (box["x"] + box["width"] - 20, box["y"] + box["height"] - 20)]
    bench.drag(*corners, keys="Shift")
    expect(page.get_by_text("9 points", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("h")
    bench.drag(*corners, keys="Shift")
    expect(page.get_by_text("26 points", exact=True)).to_be_visible()
    page.keyboard.press("h")
    page.keyboard.press("Escape")
    page.mouse.click(x, y)
    expect(page.get_by_text("1 point", exact=True)).to_be_visible()
    page.mouse.click(box["x"] + 30, box["y"] + box["height"] / 2)
    expect(page.get_by_text("Click points on the cage")).to_be_visible()
    page.keyboard.press("f")
    page.mouse.click(x + 40, y - 60)
    page.keyboard.down("Shift")
    page.mouse.click(x - 40, y - 60)
    page.keyboard.up("Shift")
    expect(page.get_by_text("2 faces", exact=True)).to_be_visible()
    page.keyboard.press("g")
    expect(page.get_by_text("7 edges", exact=True)).to_be_visible()
    page.keyboard.press("Control+a")
    expect(page.get_by_text("48 edges", exact=True)).to_be_visible()


@pytest.mark.parametrize("shown", ["cage", "skin"])
def test_dragging_on_cage_or_skin_moves_what_is_under_the_hand(bench: Bench, shown: str) -> None:
    project = _begin(bench, f"Drag {shown}")
    page = bench.page
    bench.tool("Front")
    page.get_by_role("radiogroup", name="Shown").get_by_role("radio", name=shown).click()
    x, y = bench.middle("view3d")
    bench.drag((x, y), (x, y - 50))
    bench.sentence("Moved 1 point")
    step = _part(bench, project)["steps"][-1]
    assert step["how"] == "move"
    assert step["values"][2] > 3
    assert abs(step["values"][1]) < 1, "a drag in the front view stays in its plane"


def test_the_handle_moves_turns_and_sizes_along_a_direction_in_a_plane_and_freely(bench: Bench) -> None:
    project = _begin(bench, "Handle pulled")
    page = bench.page
    page.keyboard.press("Control+a")

    def grab(name: str, dx: float, dy: float) -> dict[str, Any]:
        edits = int(re.findall(r"(\d+) edits?", page.locator("footer").inner_text())[0])
        knob = page.get_by_role("button", name=name, exact=True)
        target = knob.locator("circle, rect").first if knob.locator("circle, rect").count() else knob
        box = target.bounding_box()
        assert box is not None
        at = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        bench.drag(at, (at[0] + dx, at[1] + dy))
        expect(page.locator("footer")).to_contain_text(f"{edits + 1} edits")
        step: dict[str, Any] = _part(bench, project)["steps"][-1]
        return step

    move = grab("Move along H", 0, -40)["values"]
    assert move[2] > 1
    assert move[:2] == [0, 0]
    plane = grab("Move in the plane WH", 25, -20)["values"]
    assert abs(plane[1]) < 1e-9
    assert abs(plane[0]) > 0.5
    free = grab("Move freely", 30, 10)["values"]
    assert np.linalg.norm(free) > 1
    page.keyboard.press("t")
    turn = grab("Turn along H", 30, 30)
    assert turn["how"] == "turn"
    page.keyboard.press("z")
    size = grab("Size along W", 40, 10)
    assert size["how"] == "size"
    assert size["values"][1:] == [1, 1]
    assert size["values"][0] > 1.1


def test_typed_numbers_go_where_they_say(bench: Bench) -> None:
    project = _begin(bench, "Typed")
    page = bench.page
    page.keyboard.press("Control+a")
    for label, value, sentence in (("Middle H", "20", "Moved 26 points up 20.0 mm"),):
        field = page.get_by_label(label)
        field.fill(value)
        field.press("Enter")
        bench.sentence(sentence)
    page.keyboard.press("t")
    page.get_by_role("textbox", name="Turn about D").fill("90")
    page.get_by_role("textbox", name="Turn about D").press("Enter")
    bench.sentence("Turned 26 points by 90.0°")
    page.keyboard.press("z")
    page.get_by_role("textbox", name="Size along D").fill("50")
    page.get_by_role("textbox", name="Size along D").press("Enter")
    bench.sentence("Sized 26 points to 100% × 50% × 100%")
    form = bench.document(project, "form")
    size = bench.get(f"/api/projects/{project}/forms/{form}/size")
    assert size["width"] > size["height"], "turned on its side"
    assert size["depth"] < 18


def test_symmetry_moves_both_sides_and_can_be_switched_off(bench: Bench) -> None:
    project = _begin(bench, "Twins")
    page = bench.page
    page.keyboard.press("j")
    bench.sentence("Switched symmetry off")
    page.keyboard.press("j")
    bench.sentence("Switched symmetry across width on")
    bench.tool("Front")
    x, y = bench.middle("view3d")
    page.keyboard.press("g")
    page.keyboard.press("p")
    box = page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    bench.drag((x + 20, box["y"] + 10), (box["x"] + box["width"] - 10, y - 40), keys="Shift")
    expect(page.get_by_text("1 point", exact=True)).to_be_visible()
    page.get_by_label("Middle W").fill("20")
    page.get_by_label("Middle W").press("Enter")
    bench.sentence("Moved 1 point left")
    part, form = _part(bench, project)["id"], bench.document(project, "form")
    obj = bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=obj&part={part}").decode()
    points = np.array([line.split()[1:] for line in obj.splitlines() if line.startswith("v ")], float)
    mirrored = {tuple(p) for p in (points * (-1, 1, 1) + 0.0).tolist()}
    assert {tuple(p) for p in (points + 0.0).tolist()} == mirrored


def test_creases_from_soft_to_fully_sharp(bench: Bench) -> None:
    project = _begin(bench, "Creases", (1, 1, 1))
    page = bench.page
    page.keyboard.press("k")
    page.keyboard.press("Control+a")
    page.get_by_role("button", name="Fully sharp", exact=True).click()
    bench.sentence("Made 12 edges sharp")
    expect(page.get_by_test_id("size")).to_contain_text("62.0 × 34.0 × 108.0 mm")
    page.get_by_role("button", name="Make soft").click()
    bench.sentence("Took the crease from 12 edges")
    crease = page.get_by_label("Crease", exact=True).last
    crease.fill("0.4")
    crease.press("Enter")
    bench.sentence("Creased 12 edges to 0.40")
    assert _part(bench, project)["steps"][-1]["crease"] == 0.4


def test_the_first_box_stays_editable_and_refusals_leave_the_form_alone(bench: Bench) -> None:
    project = _begin_by_hand(bench, "Editable", (2, 2, 2))
    page = bench.page
    page.keyboard.press("Control+a")
    page.get_by_label("Middle H").fill("5")
    page.get_by_label("Middle H").press("Enter")
    bench.sentence("Moved 26 points up 5.0 mm")
    page.get_by_label("Start box W").fill("80")
    page.get_by_label("Start box W").press("Enter")
    bench.sentence("Changed step 1: started from a box 80 × 34 × 108 mm")
    page.get_by_label("Start divisions W").fill("1")
    page.get_by_label("Start divisions W").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Step 2 (Moved 26 points up 5.0 mm) could not follow")
    assert _part(bench, project)["steps"][0]["divisions"] == [2, 2, 2]


def test_a_cage_comes_in_and_a_bad_file_is_refused(bench: Bench, tmp_path: Path) -> None:
    bench.begin("Cages")
    bench.stage("Form")
    page = bench.page
    good = tmp_path / "leaf.obj"
    good.write_text("v 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nf 1 2 3 4\n")
    page.get_by_label("Cage file").set_input_files(good)
    bench.sentence("Brought in the cage leaf: leaf")
    bad = tmp_path / "torn.obj"
    bad.write_text("v 0 0 0\nv 40 0 0\nf 1 2 9\n")
    page.get_by_label("Cage file").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("torn.obj")
    bench.sentence("Brought in the cage leaf")


def test_a_changed_sheet_changes_the_reference_behind_the_form(bench: Bench) -> None:
    bench.begin("Live")
    page = bench.page
    x, y = bench.middle("paper")
    bench.ring((x, y), 60, 100)
    bench.sentence("Drew with the pencil")
    page.keyboard.press("f")
    bench.drag((x - 100, y - 150), (x + 100, y + 150))
    bench.sentence("Framed")
    bench.stage("Form")
    page.get_by_role("button", name="Pin side").click()
    bench.sentence("Pinned a view as side")
    picture = page.get_by_role("region", name="Reference side").locator("img")
    before = picture.get_attribute("src")
    bench.stage("Sketch")
    expect(page.get_by_test_id("paper")).to_be_visible()
    bench.pen([(x - 40 + 4 * k, y, 0.9) for k in range(20)])
    expect(page.get_by_text("3 edits")).to_be_visible()
    bench.stage("Form")
    expect(picture).not_to_have_attribute("src", str(before))
    page.get_by_role("button", name="Take side away").click()
    bench.sentence("Took a reference away")


def test_an_edit_in_another_tab_arrives(bench: Bench, browser: Any, server: Server) -> None:
    project = _begin(bench, "Tabs")
    other = Bench(browser, server)
    other.page.goto(f"{server.url}/?project={project}")
    other.stage("Form")
    other.sentence("Started from a box")
    bench.page.keyboard.press("j")
    other.sentence("Switched symmetry off")
    other.close()


def test_the_part_worked_on_is_the_documents_first_not_the_first_to_arrive(bench: Bench) -> None:
    """A large part's mesh arrives late; the pick, the numbers and the keys must wait for it."""
    project = _begin(bench, "Late")
    page = bench.page
    form = bench.document(project, "form")
    first = bench.get(f"/api/projects/{project}/forms/{form}")["body"]["parts"][0]
    bench.tool("Box")
    page.get_by_role("button", name="Begin").last.click()
    bench.sentence("Started from a box")
    expect(page.get_by_text("Part 2").first).to_be_visible()
    late: list[Any] = []
    page.route(f"**/parts/{first['id']}/mesh", lambda route: late.append(route))
    page.goto(f"{bench.server.url}/?project={project}")
    bench.stage("Form")
    bench.until(lambda: len(late) == 1, "the first part is asked for")
    expect(page.get_by_label("Name", exact=True)).to_have_value(first["name"])
    late[0].continue_()
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    expect(page.get_by_label("Name", exact=True)).to_have_value(first["name"])
