"""Curves by hand: what draws the hand, trimming, drawing on, joining; planes set on what is there and tilted; curves in space."""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.bench import Bench
from tests.browser.test_built import _draw, _number, _parts, _volume

pytestmark = [pytest.mark.browser, pytest.mark.timeout(240)]


def _step(bench: Bench, project: str, part: int = -1) -> dict[str, Any]:
    step: dict[str, Any] = _parts(bench, project)[part]["steps"][0]
    return step


def _pick(bench: Bench, *points: int) -> None:
    for index, point in enumerate(points):
        if index:
            bench.page.keyboard.down("Shift")
        bench.page.get_by_role("button", name=f"Point {point} of the curve", exact=True).click()
        bench.page.keyboard.up("Shift")


def _middle(bench: Bench, name: str) -> tuple[float, float]:
    box = bench.page.get_by_role("button", name=name, exact=True).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_pieces_are_trimmed_drawn_on_and_joined_by_touch(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Bracket")
    bench.stage("Form")
    page.keyboard.press("a")
    _draw(bench, "lines", [(-150, 100), (-150, -100), (150, -100)])
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 2 pieces")
    # drawn upright and level, they are held so
    assert [hold["kind"] for hold in _step(bench, project)["holds"]] == ["upright", "level"]

    # a loose end is drawn on, then taken back to what crosses it
    _pick(bench, 3)
    before = _step(bench, project)["points"][2]
    _number(bench, "Draw it on by", 12)
    page.get_by_role("button", name="so far").click()
    bench.sentence("Drew point 3 on by 12 mm")
    assert _step(bench, project)["points"][2] == pytest.approx([before[0] + 12, before[1]])
    _pick(bench, 1)
    page.get_by_role("button", name="till it meets").click()
    expect(page.get_by_role("alert").filter(has_text="Nothing lies ahead of this end")).to_be_visible()

    # both ends joined with even curvature: what they arrive with goes on
    _pick(bench, 1, 3)
    page.get_by_role("button", name="with even curvature").click()
    bench.sentence("Joined two ends with even curvature")
    blend = _step(bench, project)["pieces"][2]
    assert (blend["kind"], blend["order"]) == ("blend", 2)
    expect(page.get_by_role("button", name="blend-1 of the curve")).to_be_attached()
    page.keyboard.press("Control+z")
    bench.until(lambda: len(_step(bench, project)["pieces"]) == 2, "it is undone")

    # a piece is trimmed away by touch
    page.get_by_role("switch", name="Trim by touch").click()
    page.mouse.click(*_middle(bench, "Trim line-1 here"))
    bench.sentence("Trimmed line-1")
    assert [piece["name"] for piece in _step(bench, project)["pieces"]] == ["line-2"]
    assert bench.violations() == []


def test_the_hand_is_drawn_to_points_of_other_curves_and_to_level_and_upright(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Catch")
    bench.stage("Form")
    page.keyboard.press("a")
    _draw(bench, "spline", [(-160, 30), (-60, -90), (40, 20), (130, -40)])
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 1 piece")
    end = _middle(bench, "Point 4 of the curve")
    page.keyboard.press("Shift+G")
    page.get_by_role("radio", name="lines", exact=True).click()
    page.mouse.move(end[0] + 5, end[1] + 4)
    expect(page.get_by_test_id("caught")).to_have_text("point 4 of Curve 1")
    page.mouse.click(end[0] + 5, end[1] + 4)
    page.mouse.move(end[0] + 70, end[1] + 3)
    expect(page.get_by_test_id("caught")).to_have_text("level")
    page.mouse.click(end[0] + 70, end[1] + 3)
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 1 piece: Curve 2")
    first, second = (_step(bench, project, part)["points"] for part in (0, 1))
    assert second[0] == pytest.approx(first[3], abs=1e-6)
    assert second[1][1] == pytest.approx(second[0][1], abs=1e-9)


def test_a_plane_is_set_on_a_face_through_points_and_tilted_by_hand(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Planes")
    bench.stage("Form")
    page.keyboard.press("a")
    _draw(bench, "rectangle", [(-100, 60), (100, -60)])
    page.get_by_role("combobox", name="It is").select_option("extruded_profile")
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Extruded a profile by 10 mm: Extruded 1")
    page.get_by_role("combobox", name="Next").select_option("hollowed")
    page.get_by_text("Faces to leave open").click()
    page.get_by_role("button", name="Face 6", exact=True).click()
    page.get_by_role("button", name="draw on it").click()
    expect(page.get_by_text("On a face of Extruded 1.")).to_be_visible()
    page.keyboard.press("v")
    # while one draws, somebody else changes the form: the plane goes along with its face, and the drawing is on it
    axes = page.get_by_test_id("drawing-plane").locator("line").first
    before = [float(str(axes.get_attribute(name))) for name in ("x1", "y1", "x2", "y2")]
    form = bench.document(project, "form")
    fields = {"distance": 25.0}
    wish = {"kind": "step", "part": _parts(bench, project)[1]["id"], "index": 0, "fields": fields}
    bench.post(f"/api/projects/{project}/documents/{form}/amendments", {"amend": wish})
    bench.until(
        lambda: [float(str(axes.get_attribute(name))) for name in ("x1", "y1", "x2", "y2")] != before,
        "the plane has gone along",
    )
    _draw(bench, "circle", [(0, 0), (30, 20)], take=False)
    bench.sentence("Drew a curve of 1 piece")
    step = _step(bench, project)
    assert step["plane"]["face"]
    assert step["inputs"]["on"]["part"] == _parts(bench, project)[1]["id"]

    # tilted by the end of an arm: a number of its step, to whole degrees, undone as one
    x, y = _middle(bench, "Turn the plane in itself")
    bench.drag((x, y), (x - 40, y - 10))
    bench.sentence("Changed step 1")
    turned = _step(bench, project)["plane"]["tilt"]
    assert turned[2] != 0
    assert turned[2] == round(turned[2])
    assert turned[:2] == pytest.approx([0, 0])
    page.keyboard.press("Control+z")
    bench.until(lambda: _step(bench, project)["plane"]["tilt"] == [0, 0, 0], "it is undone")
    _number(bench, "Tilted about across", 30)
    bench.until(lambda: _step(bench, project)["plane"]["tilt"] == [30, 0, 0], "it is tilted")

    # three points of a curve set a plane; what is drawn on it stays when another number is typed for one of them
    page.get_by_role("button", name="Curve 1", exact=True).click()
    _pick(bench, 1, 2, 3)
    page.get_by_role("button", name="Draw on the plane through them").click()
    page.keyboard.press("a")
    _draw(bench, "lines", [(-40, 30), (40, -35)], take=False)
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 1 piece: Curve 3")
    through = np.array(_step(bench, project)["plane"]["through"])
    assert np.allclose(through[:, 1], 0)
    assert len(np.unique(through, axis=0)) == 3
    _number(bench, "Its plane passes 3 D", 20)
    bench.until(lambda: _step(bench, project)["plane"]["through"][2][1] == 20, "its plane passes another point")


def test_a_curve_is_drawn_in_space_from_corner_to_corner_and_piped(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Handle")
    bench.stage("Form")
    page.keyboard.press("a")
    _draw(bench, "rectangle", [(-100, 60), (100, -60)])
    page.get_by_role("combobox", name="It is").select_option("extruded_profile")
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Extruded 1")
    page.keyboard.press("v")
    page.keyboard.press("Shift+G")
    page.get_by_role("radio", name="space", exact=True).click()
    page.get_by_role("radio", name="spline", exact=True).click()
    expect(page.get_by_role("radio", name="circle", exact=True)).to_have_count(0)
    x, y = bench.middle("view3d")
    # from a corner, over the face, off into the air
    corners: list[tuple[float, float]] = []
    for dx in range(-220, 221, 6):
        page.mouse.move(x + dx, y + dx * 0.12)
        if page.get_by_test_id("caught").filter(has_text="on the skin").count():
            corners.append((x + dx, y + dx * 0.12))
    assert len(corners) > 5, "the skin draws the hand"
    for place in (corners[1], corners[len(corners) // 2], (x + 250, y - 180)):
        page.mouse.click(*place)
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 1 piece")
    points = np.array(_step(bench, project)["points"])
    assert points.shape == (3, 3)
    assert np.allclose(points[:2, 1].round(6) % 10, 0), "two lie on the skin, whose faces stand at 0 and 10 mm"
    # a point is dragged, one is typed; then it is piped
    a, b = _middle(bench, "Point 3 of the curve")
    bench.drag((a, b), (a - 30, b + 15))
    bench.sentence("Changed step 1")
    assert not np.allclose(_step(bench, project)["points"][2], points[2])
    _pick(bench, 3)
    _number(bench, "H", 55)
    bench.until(lambda: _step(bench, project)["points"][2][2] == 55, "it is where it was typed")
    page.get_by_role("combobox", name="It is").select_option("piped_path")
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Piped")
    expect(page.locator("[data-testid=view3d][aria-busy=false]")).to_be_visible()


def test_a_profile_comes_from_a_file_is_changed_as_a_whole_and_goes_out_again(bench: Bench, tmp_path: Path) -> None:
    page = bench.page
    project = bench.begin("Gasket")
    bench.stage("Form")
    page.keyboard.press("a")
    drawing = tmp_path / "gasket.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">'
        '<rect x="10" y="10" width="60" height="40" rx="8"/><circle cx="40" cy="30" r="6"/></svg>'
    )
    with page.expect_file_chooser() as chooser:
        bench.tool("Profiles from DXF or SVG")
    chooser.value.set_files(drawing)
    bench.sentence("Brought in gasket.svg")
    kinds = [piece["kind"] for piece in _step(bench, project)["pieces"]]
    assert (kinds.count("arc"), kinds.count("line"), kinds.count("circle")) == (4, 4, 1)

    # beside itself by a number that can be changed later, then built
    page.get_by_role("combobox", name="Next").select_option("curve_offset")
    _number(bench, "To its left by", -1.5)
    page.get_by_role("button", name="Offset it").click()
    bench.sentence("Offset the curve by -1.5 mm")
    page.get_by_role("combobox", name="It is").select_option("extruded_profile")
    page.get_by_role("button", name="Build it").click()
    bench.sentence("Extruded a profile by 10 mm")
    # as SVG draws a rectangle it runs to the right: what is 1.5 mm to its right lies inside; a circle runs to the left
    grown = (57 * 37 - (4 - np.pi) * 6.5**2) - np.pi * 7.5**2
    bench.until(lambda: abs(_volume(bench, project) - 10 * grown) < 0.02 * grown, "it has the volume of what was drawn")

    # out again, as DXF by its own tool, in true size; and the solid as 3MF, as fine as was asked for
    page.get_by_role("button", name="gasket", exact=True).click()
    with page.expect_download() as saved:
        bench.tool("Curve as DXF or SVG")
    entities = [entity.dxftype() for entity in ezdxf.readfile(saved.value.path()).modelspace()]
    assert sorted(set(entities)) == ["ARC", "CIRCLE", "LINE"]
    bench.tool("How fine skins are")
    _number(bench, "Off by at most", 0.01)
    with page.expect_download() as fine:
        bench.tool("Skin as 3MF")
    assert fine.value.suggested_filename.endswith(".3mf")
    assert zipfile.is_zipfile(fine.value.path())


def test_a_solid_follows_a_sculpted_part_and_is_parted_along_a_curve(bench: Bench) -> None:
    page = bench.page
    project = bench.begin("Pebble")
    bench.stage("Form")
    page.keyboard.press("a")
    bench.tool("Box")
    page.get_by_role("button", name="Begin", exact=True).last.click()
    bench.sentence("Started from a box")
    page.get_by_role("combobox", name="Next").select_option("follower")
    page.get_by_role("button", name="Begin it as a part").click()
    bench.sentence("Made a solid that follows")
    whole = _volume(bench, project)
    _draw(bench, "lines", [(-330, 40), (330, -30)])
    page.keyboard.press("Enter")
    bench.sentence("Drew a curve of 1 piece")
    solid = _parts(bench, project)[1]["name"]
    page.get_by_role("button", name=solid, exact=True).click()
    page.get_by_role("combobox", name="Next").select_option("split_solid")
    page.get_by_role("combobox", name="Along").select_option("Curve 1")
    _number(bench, "Gap", 1.0)
    page.get_by_role("button", name="Split into two parts").click()
    bench.sentence("Parted off")
    parts = _parts(bench, project)
    assert len(parts) == 4
    assert parts[1]["steps"][-1]["inputs"]["by"]["part"] == parts[2]["id"]
    # the cage and both halves are shown: together they have less than twice the whole, by the gap
    bench.until(lambda: 0.9 * whole < _volume(bench, project) < whole, "two halves and a gap beside the cage")
    assert bench.violations() == []
