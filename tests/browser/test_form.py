"""Shaping in the browser: the hand on the skin and the handle, files in, references, other windows."""

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
    bench.tool("Box")
    for label, value in zip("WDH", divisions):
        field = bench.page.get_by_label(f"Divisions {label}", exact=True)
        field.fill(str(value))
        field.press("Enter")
    bench.page.get_by_role("button", name="Begin", exact=True).last.click()
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


def test_dragging_on_the_skin_moves_what_is_under_the_hand(bench: Bench) -> None:
    project = _begin(bench, "Drag skin")
    page = bench.page
    bench.tool("Front")
    page.get_by_role("radiogroup", name="Shown").get_by_role("radio", name="skin").click()
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
    bench.between(f"**/parts/{first['id']}/mesh", lambda route: late.append(route))
    page.goto(f"{bench.server.url}/?project={project}")
    bench.stage("Form")
    bench.until(lambda: len(late) == 1, "the first part is asked for")
    expect(page.get_by_label("Name", exact=True)).to_have_value(first["name"])
    late[0].continue_()
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    expect(page.get_by_label("Name", exact=True)).to_have_value(first["name"])


def _fill(bench: Bench, label: str, value: str) -> None:
    field = bench.page.get_by_role("textbox", name=label, exact=True)
    field.fill(value)
    field.press("Enter")


def _points(bench: Bench, project: str) -> np.ndarray:
    """Points of the last part's cage, from its OBJ file."""
    part, form = _part(bench, project)["id"], bench.document(project, "form")
    obj = bench.bytes(f"/api/projects/{project}/forms/{form}/export?format=obj&part={part}").decode()
    return np.array([line.split()[1:] for line in obj.splitlines() if line.startswith("v ")], float)


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
