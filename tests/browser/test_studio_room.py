"""A photographer's room by hand: highlights touched and dragged, sets, focus, finishes and marks given by touch."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from hollow_marble.demo.designer import Designer
from hollow_marble.demo.studio import light_studio
from hollow_marble.documents.form.changes import StoodPart
from hollow_marble.documents.form.starts import CylinderStart, SphereStart
from hollow_marble.store.library import Library
from tests.browser.bench import Bench
from tests.conftest import Server, running

pytestmark = [pytest.mark.browser, pytest.mark.timeout(180)]


@pytest.fixture(scope="module")
def product_server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """A project with a pebble and a knob on it, and the demo's studio."""
    data = tmp_path_factory.mktemp("room")
    library = Library(data)
    designer = Designer(library.create("Linnet", "Alder Row"))
    form = designer.document("form")
    designer.start(form, "body", "Body", SphereStart(size=(62.0, 34.0, 108.0), divisions=3))
    dial = designer.start(form, "dial", "Level dial", CylinderStart(size=(22.0, 22.0, 8.0), sides=16, rows=2))
    dial.step(StoodPart, turn=(90.0, 0.0, 0.0), move=(0.0, -18.0, 20.0))
    light_studio(designer, form)
    library.close()
    with running(data) as server:
        yield server


@pytest.fixture
def studio(browser: Any, product_server: Server) -> Iterator[Bench]:
    bench = Bench(browser, product_server)
    bench.open()
    bench.stage("Studio")
    expect(bench.page.get_by_test_id("picture").locator("canvas")).to_be_visible()
    bench.settled()
    yield bench
    bench.close()


def spot(bench: Bench, across: float, down: float) -> tuple[float, float]:
    """A place of the picture, by its shares of it."""
    box = bench.page.get_by_test_id("picture").bounding_box()
    assert box is not None
    return box["x"] + across * box["width"], box["y"] + down * box["height"]


def setting(bench: Bench) -> Any:
    project = bench.page.url.split("/")[3]
    return bench.get(f"/api/projects/{project}/studios/{bench.document(project, 'studio')}")["body"]["setting"]


def test_a_highlight_is_touched_and_dragged_and_one_undo_brings_the_lamp_back(studio: Bench) -> None:
    page = studio.page
    before = setting(studio)["lamps"]
    page.keyboard.press("h")
    expect(page.get_by_test_id("touch")).to_be_visible()
    studio.drag(spot(studio, 0.48, 0.5), spot(studio, 0.52, 0.52))
    studio.sentence("Set the key lamp")
    after = setting(studio)["lamps"]
    assert after[0]["azimuth"] != before[0]["azimuth"]
    assert after[0]["distance"] == before[0]["distance"]
    length = page.get_by_label("Its highlight")
    length.fill("6")
    length.press("Enter")
    studio.until(lambda: setting(studio)["lamps"][0]["tall"] < before[0]["tall"], "the lamp is smaller")
    expect(length).to_have_value("6.0")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    studio.until(lambda: setting(studio)["lamps"] == before, "the lamp is back")


def test_a_touch_beside_the_product_is_told(studio: Bench) -> None:
    page = studio.page
    page.keyboard.press("h")
    page.mouse.click(*spot(studio, 0.03, 0.06))
    expect(page.get_by_text("There is no product there. Touch a place on the product.").first).to_be_visible()


def test_a_ready_set_comes_and_goes_with_the_same_picture(studio: Bench) -> None:
    page = studio.page
    whole = studio.shot("picture")
    page.keyboard.press("w")
    page.get_by_role("button", name="Apricot", exact=True).click()
    studio.sentence("Began with the set Apricot")
    studio.settled()
    assert np.abs(studio.shot("picture").astype(float) - whole).mean() > 8
    page.keyboard.press("Control+z")
    studio.until(
        lambda: setting(studio)["set"]["kind"] == "sweep" and setting(studio)["set"]["colour"] == "#C2BBB0",
        "it is gone",
    )
    studio.until(lambda: np.abs(studio.shot("picture").astype(float) - whole).mean() < 1.5, "the picture is as it was")


def test_focus_part_and_finish_are_given_by_touch(studio: Bench) -> None:
    page = studio.page
    page.keyboard.press("t")
    page.mouse.click(*spot(studio, 0.5, 0.5))
    studio.sentence("Placed the camera")
    assert setting(studio)["camera"]["focus"] is not None
    expect(page.get_by_text("before,")).to_be_visible()
    page.keyboard.press("m")
    page.mouse.click(*spot(studio, 0.505, 0.39))  # the dial
    expect(page.get_by_label("Part", exact=True)).to_have_value("dial")
    page.get_by_role("button", name="Give it to what I touch").click()
    page.mouse.click(*spot(studio, 0.42, 0.6))
    studio.sentence("Finished Body in turned metal")


def drawn(bench: Bench) -> Any:
    """The zone that was drawn."""
    return next(zone for zone in setting(bench)["zones"] if zone["name"] == "Zone 2")


def test_faces_that_are_drawn_over_get_a_finish_of_their_own(studio: Bench) -> None:
    page = studio.page
    before = setting(studio)
    page.keyboard.press("j")
    studio.drag(spot(studio, 0.44, 0.7), spot(studio, 0.56, 0.7))
    studio.sentence("Zone 2 is")  # the demo's word mark is a zone of the part too
    zone = drawn(studio)
    assert zone["part"] == "body"
    expect(page.get_by_label("Part", exact=True)).to_have_value(zone["id"])
    page.mouse.click(*spot(studio, 0.45, 0.3))
    studio.until(lambda: len(drawn(studio)["faces"]) > len(zone["faces"]), "one more is in it")
    page.mouse.click(*spot(studio, 0.45, 0.3))
    studio.until(lambda: drawn(studio)["faces"] == zone["faces"], "it is out again")
    page.get_by_role("button", name="Enough faces").click()
    page.get_by_role("button", name=re.compile("paint$")).click()
    page.get_by_role("radio", name="enamel").click()
    studio.sentence("Finished Body: Zone 2 in enamel")
    assert setting(studio)["finishes"]["body"] == before["finishes"]["body"]
    page.mouse.click(*spot(studio, 0.45, 0.3))
    expect(page.get_by_label("Part", exact=True)).to_have_value("body")
    page.mouse.click(*spot(studio, 0.5, 0.7))
    expect(page.get_by_label("Part", exact=True)).to_have_value(zone["id"])
    page.get_by_role("button", name="Back to the part’s finish").click()
    studio.sentence("Removed a zone")
    assert setting(studio)["zones"] == before["zones"]
    assert setting(studio)["finishes"] == before["finishes"]


def test_words_are_laid_on_and_moved_by_touch(studio: Bench) -> None:
    page = studio.page
    page.keyboard.press("l")
    page.get_by_role("button", name="Add words").click()
    studio.sentence("Laid Words on, 20 mm wide")
    first = setting(studio)["marks"][-1]
    page.mouse.click(*spot(studio, 0.46, 0.72))
    studio.until(lambda: setting(studio)["marks"][-1]["at"] != first["at"], "it lies where it was touched")
    assert setting(studio)["marks"][-1]["at"][2] < first["at"][2]
    page.get_by_role("radio", name="foil").click()
    studio.until(lambda: setting(studio)["marks"][-1]["way"] == "foil", "it is a foil")


def test_a_panel_of_the_surround_is_dragged_on_the_map(studio: Bench) -> None:
    page = studio.page
    page.keyboard.press("u")
    page.get_by_role("button", name="Add a panel").click()
    studio.sentence("Set the surround: 1 panels and flags")
    expect(page.get_by_alt_text("The surround unrolled")).to_be_visible()
    grip = page.get_by_alt_text("The surround unrolled").locator("..").get_by_role("button", name="panel")
    box = grip.bounding_box()
    assert box is not None
    studio.drag((box["x"] + 12, box["y"] + 12), (box["x"] + 12, box["y"] - 18))
    studio.until(lambda: setting(studio)["surround"]["areas"][0]["height"] > 40, "it sits higher")
    expect(page.get_by_text(re.compile("Enough for satin"))).to_be_visible()


def test_two_lights_stand_side_by_side(studio: Bench) -> None:
    page = studio.page
    page.keyboard.press("k")
    studio.sentence("Kept the shot")
    page.get_by_role("button", name="Its light beside this one").click()
    pictures = page.get_by_test_id("picture")
    expect(pictures).to_have_count(2)
    expect(pictures.last.locator("canvas")).to_be_visible()
    expect(page.get_by_text("This light", exact=True)).to_be_visible()
    page.keyboard.press("m")
    expect(page.get_by_role("heading", name="Finish Body")).to_be_in_viewport()  # the shots stand far below it
    page.keyboard.press("a")
    power = page.get_by_role("textbox", name="Power", exact=True).first
    power.fill("-4")
    power.press("Enter")
    studio.sentence("Set the")

    def brightness(index: int) -> float:
        return float(np.asarray(Image.open(io.BytesIO(pictures.nth(index).screenshot())).convert("L")).mean())

    studio.until(lambda: brightness(0) < brightness(1) - 4, "this light is darker than the one that was kept")
    page.keyboard.press("Control+z")
    page.get_by_role("button", name="Without its light beside").click()
    expect(pictures).to_have_count(1)


def test_a_picture_behind_is_set_by_two_touches(studio: Bench) -> None:
    page = studio.page
    rows = np.zeros((200, 300, 3), np.uint8)
    rows[:120], rows[120:] = (200, 220, 240), (120, 100, 80)
    file = io.BytesIO()
    Image.fromarray(rows).save(file, "PNG")
    page.keyboard.press("w")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Hang a picture behind").click()
    chooser.value.set_files({"name": "shore.png", "mimeType": "image/png", "buffer": file.getvalue()})
    studio.until(lambda: setting(studio)["set"]["kind"] == "picture", "it hangs there")
    before = setting(studio)["set"]
    for button, at in (("Touch its horizon", (0.5, 0.3)), ("Touch where its ground meets the floor", (0.5, 0.6))):
        page.get_by_role("button", name=button).click()
        page.mouse.click(*spot(studio, *at))
        studio.until(lambda was=before: setting(studio)["set"] != was, "it has moved")
        before = setting(studio)["set"]
    assert before["kind"] == "picture"


def test_the_live_view_is_lit_as_the_take_is(studio: Bench) -> None:
    """Set and product in the view and in the take, a place beside the other: lamps as areas, with their fall-off over the set."""
    page = studio.page
    page.set_viewport_size({"width": 960, "height": 620})
    page.get_by_role("button", name=re.compile("^Noon")).first.click()
    page.get_by_role("button", name="Back to its setting").click()
    studio.sentence("Went back to")
    page.keyboard.press("k")
    studio.sentence("Kept the shot")
    for label, px in (("Wide", "150"), ("Tall", "100")):
        page.get_by_label(label, exact=True).last.fill(px)
        page.get_by_label(label, exact=True).last.press("Enter")
    studio.settled()
    page.keyboard.press("d")
    traced = studio.taken(page.url.split("/")[3])
    want = np.asarray(traced.convert("RGB").resize((15, 10), Image.Resampling.BOX)).astype(float)

    page.keyboard.press("Escape")
    expect(page.get_by_role("img", name="Take of")).to_have_count(0)
    expect(page.get_by_test_id("picture").locator("canvas")).to_be_visible()

    def live() -> Any:
        seen = Image.fromarray(studio.shot("picture").astype(np.uint8))
        return np.asarray(seen.resize((15, 10), Image.Resampling.BOX)).astype(float)

    studio.until(lambda: float(np.median(np.abs(live() - want))) < 6, "the set is as bright in the view")
