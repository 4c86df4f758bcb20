"""Surface by hand: light swept, planes dragged, findings gone to, accepted and cured; and a probe beside the model in Form."""

from __future__ import annotations

import io
import re
from typing import Any

import ezdxf
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench

pytestmark = [pytest.mark.browser, pytest.mark.timeout(180)]


@pytest.fixture
def form(bench: Bench, request: pytest.FixtureRequest) -> str:
    """A project with an upright ball and a crisp box beside it; the address of its form."""
    project = bench.begin(request.node.name[5:40].replace("_", " "))
    form = bench.document(project, "form")
    edit(bench, project, form, kind="start_part", part="ball", name="Ball", start=ball())
    box = {"kind": "box", "size": [20, 20, 20], "divisions": [2, 2, 2]}
    edit(bench, project, form, kind="start_part", part="box", name="Box", start=box)
    stood = {"kind": "stood", "move": [45, 0, 0], "turn": [0, 0, 0]}
    edit(bench, project, form, kind="shape", part="box", step=stood)
    bench.page.reload()
    bench.stage("Surface")
    expect(bench.page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    return f"/api/projects/{project}/forms/{form}"


def ball() -> dict[str, Any]:
    return {"kind": "sphere", "size": [40, 40, 40], "divisions": 4}


def edit(bench: Bench, project: str, form: str, **fields: Any) -> None:
    bench.post(f"/api/projects/{project}/documents/{form}/edits", {"edit": fields})


def number(bench: Bench, label: str) -> Any:
    return bench.page.get_by_role("complementary").get_by_role("textbox", name=label, exact=True).first


def test_highlight_lines_are_swept_by_hand_and_kept_as_a_file(bench: Bench, form: str) -> None:
    page = bench.page
    with page.expect_response(re.compile(r"/lines$")):
        page.keyboard.press("h")
    bench.settled()
    before = bench.shot("view3d")
    dial = page.get_by_role("button", name="Direction of the light").bounding_box()
    assert dial is not None
    spot = (dial["x"] + 7, dial["y"] + 7)
    with page.expect_response(re.compile(r"/lines$")):
        bench.drag(spot, (spot[0] + 12, spot[1] + 12))
    bench.until(lambda: np.abs(bench.shot("view3d")[:, 200:] - before[:, 200:]).max() > 60, "the lines have moved")
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the lines as svg").click()
    assert b"<path" in download.value.path().read_bytes()
    assert download.value.suggested_filename == "highlight lines.svg"


def test_a_section_is_dragged_typed_and_taken_out_in_true_size(bench: Bench, form: str) -> None:
    page = bench.page
    page.keyboard.press("x")
    page.get_by_role("radiogroup", name="Across").get_by_role("radio", name="H").click()
    card = page.get_by_role("complementary")
    # a ball's longest section is 2 π r; the number on the screen is held against the form's own size
    round_ = np.pi * bench.get(f"{form}/size")["height"]
    told = card.locator("div").filter(has_text=re.compile(r"^Ball")).last

    def length() -> float:
        found = re.search(r"([\d.]+) mm", told.text_content() or "")
        return float(found[1]) if found else 0.0

    bench.until(lambda: length() == pytest.approx(round_, rel=0.01), "the equator's length is told")
    grip = page.get_by_role("button", name="The section’s plane").bounding_box()
    assert grip is not None
    x, y = grip["x"] + 8, grip["y"] + 8
    bench.drag((x, y), (x, y - 40))
    expect(number(bench, "At")).not_to_have_value("0.00")
    bench.until(lambda: 0 < length() < 0.99 * round_, "further up it is shorter")
    number(bench, "At").fill("12")
    number(bench, "At").press("Enter")
    wanted = 2 * np.pi * np.sqrt((round_ / 2 / np.pi) ** 2 - 144)
    bench.until(lambda: length() == pytest.approx(wanted, rel=0.03), "it is √(r² − 12²) round there")
    with page.expect_download() as download:
        page.get_by_role("button", name="Save the sections as dxf").click()
    drawing = ezdxf.read(io.StringIO(download.value.path().read_text()))
    (line,) = [one for one in drawing.modelspace() if one.dxf.layer == "Ball 1"]
    at = np.array([point[:2] for point in line.get_points()])
    ring = np.linalg.norm(np.diff(np.concatenate([at, at[:1]]), axis=0), axis=1).sum()
    assert ring == pytest.approx(length(), rel=2e-3)


def test_a_kink_is_found_gone_to_accepted_and_cured(bench: Bench, form: str) -> None:
    page = bench.page
    page.keyboard.press("f")
    expect(page.get_by_text("Nothing is beyond its tolerance.")).to_be_visible()
    rim = [[a, b] for a, b in _upper_rim(bench, form)]
    project, ident = form.split("/")[3], form.split("/")[5]
    edit(
        bench,
        project,
        ident,
        kind="shape",
        part="box",
        step={"kind": "creased", "edges": rim, "crease": 1, "sharp": True},
    )
    page.reload()
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    page.keyboard.press("f")
    line = page.get_by_role("button", name=re.compile("Box.*A kink of"))
    expect(line).to_be_visible()
    expect(page.get_by_test_id("findings open")).to_have_text("1")
    expect(page.get_by_test_id("mark")).to_have_count(1)
    before = page.url
    line.click()
    bench.until(lambda: page.url != before, "the eye has gone there")
    page.get_by_role("button", name=re.compile("^Accept: A kink")).click()
    reason = page.get_by_role("textbox", name="Why it is meant so")
    reason.fill("The rim is meant to be crisp.")
    reason.press("Enter")
    bench.sentence("Accepted: A kink of")
    expect(page.get_by_test_id("findings open")).to_have_count(0)
    expect(page.get_by_text("Nothing is beyond its tolerance.")).to_be_visible()
    data = bench.get(f"{form}/report?format=json")
    assert (data["open"], data["findings"][0]["reason"]) == (0, "The rim is meant to be crisp.")
    page.keyboard.press("t")
    expect(page.get_by_text("beyond, ")).to_be_visible()
    assert bench.violations() == []
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("findings open")).to_have_text("1")
    page.keyboard.press("f")
    page.get_by_role("button", name="Undo").click()  # the crease itself
    expect(page.get_by_text("Cured since one came here")).to_be_visible()
    expect(page.get_by_test_id("findings open")).to_have_count(0)


def _upper_rim(bench: Bench, form: str) -> list[tuple[int, int]]:
    from tests.web.test_api import unpack

    _, cage = unpack(bench.bytes(f"{form}/parts/box/cage"))
    edges = cage["edges"].reshape(-1, 2)
    points = cage["points"].reshape(-1, 3)
    high = points[:, 2].max()
    outer = np.abs(points - points.mean(axis=0))[:, :2].max(axis=1)
    top = (points[:, 2] > high - 0.01) & (outer > outer.max() - 0.01)
    return [(int(a), int(b)) for a, b in edges if top[a] and top[b]]


def test_two_probes_stand_side_by_side_under_one_eye(bench: Bench, form: str) -> None:
    page = bench.page
    page.keyboard.press("y")
    views = page.get_by_test_id("view3d")
    expect(views).to_have_count(2)
    expect(page.get_by_role("heading", name="Largest curvature").first).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Legend from"))).to_be_visible()
    right = views.nth(1)
    before = right.screenshot()
    box = views.nth(0).bounding_box()
    assert box is not None
    bench.drag((box["x"] + 30, box["y"] + 60), (box["x"] + 130, box["y"] + 80))
    bench.until(lambda: right.screenshot() != before, "what is turned in the left half turns in the right one")
    bench.command("Exchange sides")
    expect(page.get_by_role("heading", name="Stripes").first).to_be_visible()
    page.keyboard.press("y")
    expect(views).to_have_count(1)


def test_a_check_that_is_refused_says_why_and_is_asked_again(bench: Bench, form: str) -> None:
    page = bench.page
    said = '{"title": "No", "status": 409, "detail": "Checking the form was given up."}'
    bench.between(
        re.compile(r"/checks$"), lambda route: route.fulfill(status=409, content_type="application/json", body=said)
    )
    page.keyboard.press("f")
    expect(page.get_by_role("alert").filter(has_text="was given up")).to_be_visible()
    page.unroute_all()
    page.keyboard.press("z")
    expect(page.get_by_role("alert").filter(has_text="was given up")).to_have_count(0)
    page.keyboard.press("f")
    expect(page.get_by_text("Nothing is beyond its tolerance.")).to_be_visible()


def test_draft_tells_the_parting_line_and_keeps_it(bench: Bench, form: str) -> None:
    page = bench.page
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="Keep the parting line").first).to_be_visible()
    pull = page.get_by_role("textbox", name="Pull H")
    pull.fill("1")
    pull.press("Enter")
    bench.sentence("Check against another pull")
    page.get_by_role("textbox", name="Pull D").fill("0")
    page.get_by_role("textbox", name="Pull D").press("Enter")
    bench.until(lambda: bench.get(form)["body"]["checking"]["pull"] == [0, 0, 1], "the mould opens upward")
    with page.expect_response(re.compile(r"/edits$")):
        page.get_by_role("button", name="Keep the parting line").first.click()
    bench.sentence("Kept the line Parting line 1")
    (line,) = bench.get(form)["body"]["lines"]
    assert np.abs(np.array(line["places"])[:, 2]).max() < 0.01, "the equator"
    page.get_by_role("button", name="Let Parting line 1 go").click()
    bench.sentence("Let a kept line go")


def test_a_probe_beside_the_model_follows_a_handle_while_it_is_dragged(bench: Bench, form: str) -> None:
    page = bench.page
    bench.stage("Form")
    expect(page.locator("[data-testid=view3d][aria-busy=false]").first).to_be_visible()
    for _ in range(3):
        page.keyboard.press("Shift+Z")
    views = page.get_by_test_id("view3d")
    expect(views).to_have_count(2)
    expect(page.get_by_role("heading", name=re.compile("Largest curvature ±"))).to_be_visible()
    page.keyboard.press("Control+a")
    arm = page.get_by_role("button", name="Move along H").first
    expect(arm).to_be_visible()
    probe = views.nth(1)
    bench.settled()
    before = probe.screenshot()
    edits = bench.get(form)["standing"]["edits"]
    box = arm.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    with page.expect_response(re.compile(r"/preview$")) as answer:
        page.mouse.move(x, y - 40, steps=4)
    assert b'"high"' in answer.value.body()[:2000], "curvature comes with the skin"
    bench.until(lambda: probe.screenshot() != before, "the probe has followed")
    assert bench.get(form)["standing"]["edits"] == edits, "and nothing is stored yet"
    page.mouse.up()
    bench.until(lambda: bench.get(form)["standing"]["edits"] == edits + 1, "let go, it is one edit")
