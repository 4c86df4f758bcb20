"""Built forms by hand: a profile drawn, dragged and held, turned, its edge rounded, hollowed; another cut into it; out as STEP."""

from __future__ import annotations

import io
import itertools
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from hollow_marble.core.solids.solid import Solid, here
from hollow_marble.exchange.step import Named3D, step_of
from tests.browser.bench import Bench
from tests.core import drawn
from tests.web.test_api import unpack

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
    bench.settled()  # the view may still be finding its place
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
    expect(page.get_by_text("1 face", exact=True)).to_be_visible()
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


def _bring(bench: Bench, path: Path, name: str, solid: Solid) -> None:
    path.write_bytes(step_of([Named3D(name, None, solid)], name))
    with bench.page.expect_file_chooser() as chooser:
        bench.tool("Solids from STEP or IGES")
    chooser.value.set_files(path)
    bench.sentence(f"Brought in {path.name}")


def _places(bench: Bench, project: str) -> dict[str, tuple[float, float]]:
    """Where the corners of the part worked on are on the screen, by W, D, H in whole mm."""
    lines = bench.page.get_by_test_id("solid-edges").locator("polyline[aria-label]")
    box = bench.page.get_by_test_id("view3d").bounding_box()
    assert box is not None
    form = bench.document(project, "form")
    names, arrays = unpack(
        bench.bytes(f"/api/projects/{project}/forms/{form}/parts/{_parts(bench, project)[-1]['id']}/names")
    )
    found = {}
    for k in range(len(names["edges"])):
        shown = [pair.split(",") for pair in str(lines.nth(k).get_attribute("points")).split()]
        a, b = arrays["lineStarts"][k : k + 2]
        for at, seen in ((a, shown[0]), (b - 1, shown[-1])):
            place = ",".join(f"{round(float(v))}" for v in arrays["lines"][at])
            found[place] = (box["x"] + float(seen[0]), box["y"] + float(seen[1]))
    return found


def test_a_solid_brought_in_is_measured_rounded_twice_and_finished_face_by_face(bench: Bench, tmp_path: Path) -> None:
    """A plate of 40 × 30 × 20 mm with a bore of 16 mm: every number by hand."""
    page = bench.page
    project = bench.begin("Bored plate")
    bench.stage("Form")
    plate = here("extruded", "p", drawn.drawn(drawn.rectangle(40, 30), "top"), 20.0)
    bore = here("extruded", "b", drawn.drawn(drawn.circle(8, (20, 15)), "top"), 20.0)
    _bring(bench, tmp_path / "plate.step", "Plate", here("combined", "c", plate, bore, "cut away", 0.0))
    expect(page.get_by_text("It is a closed solid; its faces meet without a gap.")).to_be_visible()
    page.keyboard.press("v")
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()
    expect(page.get_by_role("button", name="Edge 14", exact=True)).to_be_attached()
    at = _places(bench, project)

    # a face, then the one beside it too: area, distance, angle
    said = page.get_by_test_id("measured")
    front = np.mean([at["0,0,0"], at["40,0,20"]], axis=0)
    side = np.mean([at["40,0,0"], at["40,30,20"]], axis=0)
    page.mouse.click(*front)
    expect(said).to_contain_text("800.0 mm²")
    page.keyboard.down("Shift")
    page.mouse.click(*side)
    page.keyboard.up("Shift")
    expect(said).to_contain_text("1400.0 mm²")
    expect(said).to_contain_text("90.00°")
    page.get_by_role("button", name="none", exact=True).click()

    # a dimension between corners, and one to the middle of the bore, where no corner is
    page.keyboard.press("Shift+N")
    page.mouse.click(*at["40,0,20"])
    page.mouse.click(*at["0,0,20"])
    bench.sentence("Measured between two points")
    expect(page.get_by_test_id("dimension").first).to_contain_text("40.0 mm")
    rim = np.mean([at["0,0,20"], at["40,0,20"], at["0,30,20"], at["40,30,20"]], axis=0)
    page.mouse.move(*rim)
    page.mouse.click(*at["40,0,20"])
    bench.until(lambda: _near(page, "centre of an edge of Plate", rim), "the middle of the bore draws the hand")
    page.mouse.down()
    page.mouse.up()
    expect(page.get_by_test_id("dimension").nth(1)).to_contain_text("25.0 mm")
    page.keyboard.press("Shift+N")

    # an edge is rounded, and then one beside the rounding
    page.get_by_role("combobox", name="Next").select_option("rounded")
    names = _edges(bench, project)
    _edge(bench, 1 + next(k for k, (middle, _) in enumerate(names) if np.allclose(middle, [40, 0, 10])))
    expect(said).to_contain_text("20.00 mm")
    _number(bench, "Radius", 6)
    page.get_by_role("button", name="Round picked edges").click()
    bench.sentence("Rounded 1 edge by 6 mm")
    bench.until(lambda: len(_edges(bench, project)) == 17, "its new edges can be picked")
    beside = next(k for k, (_, length) in enumerate(_edges(bench, project)) if abs(length - 3 * np.pi) < 1e-3)
    expect(page.get_by_role("button", name="Edge 17", exact=True)).to_be_attached()
    _edge(bench, 1 + beside)
    expect(said).to_contain_text("6.000 mm")  # its radius
    _number(bench, "Radius", 1)
    page.get_by_role("button", name="Round picked edges").click()
    bench.sentence("Rounded 1 edge by 1 mm")
    expect(page.get_by_text("its place is gone").first).to_be_visible()  # the corner that was measured to is round now

    # in Studio two of its faces wear a finish of their own
    bench.stage("Studio")
    expect(page.get_by_test_id("picture")).to_be_visible()
    bench.command("Frame the product")
    bench.sentence("Placed the camera")
    page.keyboard.press("j")
    page.mouse.click(*bench.middle("picture"))
    bench.sentence("Zone 1 is")
    studio = bench.document(project, "studio")
    zones = bench.get(f"/api/projects/{project}/studios/{studio}")["body"]["setting"]["zones"]
    assert len(zones[0]["faces"]) == 1


def _edges(bench: Bench, project: str) -> list[tuple[list[float], float]]:
    """Middle and length of each edge of the part worked on."""
    form = bench.document(project, "form")
    part = _parts(bench, project)[-1]["id"]
    names, _ = unpack(bench.bytes(f"/api/projects/{project}/forms/{form}/parts/{part}/names"))
    found = []
    for name in names["edges"]:
        *middle, length = (float(v) for v in name.split("|")[2].split(","))
        found.append((middle, length))
    return found


def _near(page: Any, word: str, at: Any) -> bool:
    """Move about a place till the hand is drawn to what has this word."""
    for dx, dy in itertools.product(range(-24, 25, 4), repeat=2):
        page.mouse.move(at[0] + dx, at[1] + dy)
        if page.get_by_test_id("caught").count() and word in (page.get_by_test_id("caught").text_content() or ""):
            return True
    return False
