"""Built forms by hand: a profile drawn, dragged and held, turned, its edge rounded, hollowed; another cut into it; out as STEP."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench

pytestmark = [pytest.mark.browser, pytest.mark.timeout(240)]


def _parts(bench: Bench, project: str) -> list[dict[str, Any]]:
    form = bench.document(project, "form")
    parts: list[dict[str, Any]] = bench.get(f"/api/projects/{project}/forms/{form}")["body"]["parts"]
    return parts


def _volume(bench: Bench, project: str) -> float:
    return float(bench.get(f"/api/projects/{project}/forms/{bench.document(project, 'form')}/size")["volume"])


def _draw(bench: Bench, kind: str, places: list[tuple[float, float]], take: bool = True) -> None:
    """Touch places beside the middle of the view, px; the tool is taken up first."""
    if take:
        bench.page.keyboard.press("Shift+G")
    bench.page.get_by_role("radio", name=kind, exact=True).click()
    x, y = bench.middle("view3d")
    for dx, dy in places:
        bench.page.mouse.click(x + dx, y + dy)


def _number(bench: Bench, label: str, value: float) -> None:
    field = bench.page.get_by_label(label, exact=True)
    field.fill(str(value))
    field.press("Enter")


def _edge(bench: Bench, number: int) -> None:
    """Touch an edge in its middle, where no other one ends."""
    line = bench.page.get_by_role("button", name=f"Edge {number}", exact=True)
    box = bench.page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    places = np.array([[float(v) for v in pair.split(",")] for pair in str(line.get_attribute("points")).split()])
    x, y = (
        places[(len(places) - 1) // 2 : len(places) // 2 + 1].mean(axis=0) if len(places) > 2 else places.mean(axis=0)
    )
    bench.page.mouse.click(box["x"] + x, box["y"] + y)
    expect(line).to_have_attribute("aria-pressed", "true")


def test_a_vessel_is_built_of_a_drawn_profile_and_changed_through_it(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    project = bench.begin("Vial")
    bench.stage("Form")
    page.keyboard.press("a")  # from the front
    _draw(bench, "lines", [(2, 150), (80, 150), (88, 0), (40, -60), (30, -120)])
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 4 pieces: Curve 1")
    expect(page.get_by_text("9 ways to move left")).to_be_visible()

    # a point is dragged, a length is said and typed
    point = page.get_by_role("button", name="Point 3 of the curve")
    at = point.bounding_box()
    assert at is not None
    bench.drag((at["x"] + 5, at["y"] + 5), (at["x"] + 25, at["y"] - 15))
    bench.sentence("Changed step 1")
    page.get_by_role("button", name="Point 3 of the curve").click()
    _number(bench, "Corner rounded by", 3)
    bench.until(lambda: _parts(bench, project)[0]["steps"][0]["rounds"] == [{"point": 2, "radius": 3}], "it is rounded")
    page.get_by_role("button", name="Point 5 of the curve").click()
    # the second number is typed, and a hold is said, before the server has answered the first: none takes back another
    held: list[Any] = []
    bench.between("**/amendments", lambda route: held.append(route))
    for label, value in (("Across", 12.0), ("Up", 40.0)):
        _number(bench, label, value)
    page.get_by_role("button", name="Fixed", exact=True).click()
    page.unroute("**/amendments")
    held[0].continue_()
    bench.sentence("Changed step 1")
    bench.until(lambda: len(_parts(bench, project)[0]["steps"][0]["holds"]) == 2, "it is held")
    bench.until(
        lambda: np.allclose(_parts(bench, project)[0]["steps"][0]["points"][4], [12, 40]), "the point stands there"
    )
    page.get_by_role("button", name="Take away: Fixed: point 5").click()
    bench.until(lambda: len(_parts(bench, project)[0]["steps"][0]["holds"]) == 1, "it is free again")
    page.get_by_role("button", name="Point 4 of the curve").click()
    page.keyboard.down("Shift")
    page.get_by_role("button", name="Point 5 of the curve").click()
    page.keyboard.up("Shift")
    page.get_by_role("button", name="Upright", exact=True).click()
    expect(page.get_by_text("8 ways to move left")).to_be_visible()

    # turned: volume by Pappus from the points that are kept
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Turned a profile: Turned 1")
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    whole = _volume(bench, project)
    assert whole == pytest.approx(_pappus(bench, project), rel=0.02)

    # hollowed, the face on top left open: touched on the part
    page.get_by_role("combobox", name="Next").select_option("hollowed")
    page.keyboard.press("d")  # from above the top is what one sees
    bench.page.mouse.click(*bench.middle("view3d"))
    expect(page.get_by_text("0 edges, 1 faces")).to_be_visible()
    page.get_by_role("button", name="Hollow it").click()
    bench.sentence("Hollowed to a wall of 1.6 mm, 1 face open")
    hollow = _volume(bench, project)
    assert hollow < 0.4 * whole

    # the number of an earlier step is changed: what rests on it follows
    page.get_by_role("button", name="Curve 1", exact=True).click()
    page.get_by_role("button", name="Point 2 of the curve").click()
    _number(bench, "Across", 30.0)
    bench.until(lambda: _volume(bench, project) > hollow * 1.05, "the vessel follows its profile")
    page.keyboard.press("Control+z")
    bench.until(lambda: abs(_volume(bench, project) - hollow) < 1e-6 * hollow, "undone, it is what it was")

    # out as STEP, with what is to be known of it
    form = bench.document(project, "form")
    with zipfile.ZipFile(io.BytesIO(bench.bytes(f"/api/projects/{project}/forms/{form}/step"))) as archive:
        step = next(name for name in archive.namelist() if name.endswith(".step"))
        path = tmp_path / "vial.step"
        path.write_bytes(archive.read(step))
    with page.expect_file_chooser() as chooser:
        bench.tool("Solids from STEP or IGES")
    chooser.value.set_files(path)
    bench.sentence("Brought in vial.step")
    expect(page.get_by_text("It is a closed solid")).to_be_visible()
    assert _parts(bench, project)[-1]["steps"][0]["volume"] == pytest.approx(hollow, rel=0.02)
    assert bench.violations() == []


def _pappus(bench: Bench, project: str) -> float:
    """Volume of the profile turned about x = 0: frustums end to end, corners not rounded (common tables)."""
    points = np.array(_parts(bench, project)[0]["steps"][0]["points"])
    r, h = points[:, 0], points[:, 1]
    return float(abs((np.pi / 3 * np.diff(h) * (r[:-1] ** 2 + r[:-1] * r[1:] + r[1:] ** 2)).sum()))


def test_edges_are_picked_and_rounded_and_what_does_not_fit_says_what_would(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Plate")
    bench.stage("Form")
    page.keyboard.press("a")
    _draw(bench, "rectangle", [(-100, 60), (100, -60)])
    bench.sentence("Drew a curve of 4 pieces")
    page.get_by_role("combobox", name="It is").select_option("extruded_profile")
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Extruded a profile by 10 mm: Extruded 1")
    page.get_by_role("combobox", name="Next").select_option("rounded")
    page.keyboard.press("v")  # from a corner no edge lies on another
    expect(page.get_by_role("button", name="Edge 12", exact=True)).to_be_attached()
    _edge(bench, 1)
    whole = _volume(bench, project)
    _number(bench, "Radius", 400)
    page.get_by_role("button", name="Round picked edges").click()
    expect(page.get_by_role("alert").filter(has_text="mm fits. Give it a smaller one.")).to_be_visible()
    assert _volume(bench, project) == whole, "the form is as it was"
    _number(bench, "Radius", 3)
    page.get_by_role("button", name="Round picked edges").click()
    bench.sentence("Rounded 1 edge by 3 mm")
    edge = _parts(bench, project)[1]["steps"][1]["edges"][0]
    assert whole - _volume(bench, project) == pytest.approx((1 - np.pi / 4) * 9 * edge["length"], rel=0.05)
    page.get_by_role("button", name="2 Rounded 1 edge by 3 mm").click()
    _number(bench, "Step 2: radius", 4)
    bench.sentence("Changed step 2: rounded 1 edge by 4 mm")
    lost = (1 - np.pi / 4) * 16 * edge["length"]
    bench.until(lambda: abs(whole - _volume(bench, project) - lost) < 0.05 * lost, "the rounding is larger")
