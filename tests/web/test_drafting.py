"""Drafting, views, sheets and pages through HTTP."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from hollow_marble.core.drafting.box import CORNERS, EDGES, Placed
from hollow_marble.core.drafting.camera import Camera
from hollow_marble.documents.sheet.drafting import camera_of
from hollow_marble.documents.sheet.model import Perspective
from hollow_marble.store.ledger import Ledger
from tests.web.test_api import Client, unpack

CAMERA = Camera((1200, 800), 2600, 0.6, 0.35)


def url(client: Client, rest: str = "") -> str:
    return client.url(f"sheets/{client.ids['sheet']}{rest}")


def post(client: Client, rest: str, **body: Any) -> Any:
    return client.http.post(url(client, f"/{rest}"), json=body)


def sheet(client: Client) -> Any:
    return client.http.get(url(client)).json["body"]


def line(start: tuple[float, float], end: tuple[float, float], count: int = 40) -> np.ndarray:
    t = np.linspace(0, 1, count)[:, None]
    places = np.array(start) * (1 - t) + np.array(end) * t
    return np.column_stack([places, np.full(count, 0.8), np.zeros(count)])


def begin(client: Client, points: int = 3) -> Any:
    found = post(client, "draft", change={"how": "begin", "points": points}).json
    client.edit("set_perspective", perspective=found["perspective"], box=None, what="perspective")
    return found


def box(client: Client) -> None:
    perspective = sheet(client)["perspective"] or begin(client)["perspective"]
    size = {"size": [62, 34, 108], "at": [1200, 1100], "scale": 6}
    client.edit("set_perspective", perspective=perspective, box=size, what="box")


def page(client: Client, query: str = "") -> np.ndarray:
    data = client.http.get(url(client, f"/page.png{query}")).data
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)


def test_a_draft_is_worked_out_without_being_stored(client: Client) -> None:
    found = post(client, "draft", change={"how": "begin", "points": 2}).json
    assert found["perspective"]["points"] == 2
    assert [point[2] for point in found["drafted"]["vanishing"]] == [1, 1, 0]
    assert sheet(client)["perspective"] is None


def test_a_vanishing_point_dragged_goes_there_and_nonsense_is_refused(client: Client) -> None:
    begin(client)
    x, y, _ = sheet(client)["drafted"]["vanishing"][0]
    found = post(client, "draft", change={"how": "drag", "which": 0, "to": [x * 1.1, y - 20]}).json
    assert found["drafted"]["vanishing"][0][:2] == pytest.approx([x * 1.1, y - 20], abs=1e-3)
    refused = post(client, "draft", change={"how": "drag", "which": 0, "to": [1200, 900]})
    assert refused.status_code == 422
    assert "acute" in refused.json["detail"]
    begin(client, 2)
    parallel = post(client, "draft", change={"how": "drag", "which": 2, "to": [10, 10]})
    assert "runs parallel" in parallel.json["detail"]


def test_a_circle_goes_on_the_face_it_is_dragged_on(client: Client) -> None:
    box(client)
    front = next(face for face in sheet(client)["drafted"]["box"]["faces"] if face["face"] == "front")
    middle = np.mean(front["quad"], axis=0)
    rim = (middle + np.array(front["quad"][1])) / 2
    answer = post(client, "guides/circle", face="front", middle=middle.tolist(), rim=rim.tolist())
    assert answer.json["standing"]["sentence"] == "Laid a circle on a face on the page"
    (guide,) = sheet(client)["guides"]
    assert 20 < guide["centre"][0] < 42
    shape = sheet(client)["drafted"]["guides"][0]["ellipse"]
    assert shape["across"] > shape["down"]
    small = post(client, "guides/circle", face="front", middle=middle.tolist(), rim=(middle + 0.1).tolist())
    assert "too small" in small.json["detail"]


def test_a_guide_being_moved_is_worked_out_without_being_stored(client: Client) -> None:
    quad = [[100, 100], [500, 140], [480, 400], [120, 380]]
    found = client.http.post(
        url(client, "/guides/shape"), json={"guide": {"kind": "division", "id": "d", "quad": quad}}
    )
    assert len(found.json["lines"]) == 6
    assert sheet(client)["guides"] == []


def draw_box(client: Client, noise: float) -> list[str]:
    placed = Placed(CAMERA, (62, 34, 108), (1150, 1080), 6.0)
    dice = np.random.default_rng(4)
    for (a, b), hidden in zip(EDGES, placed.hidden_edges()):
        if not hidden:
            start, end = placed.corners[[a, b]] + dice.normal(0, noise, (2, 2))
            client.stroke(line(tuple(start), tuple(end)), nib="fineliner", size=3, tone=1)
            along = "WDH"[int(np.flatnonzero(CORNERS[a] != CORNERS[b])[0])]
            middle = ((start + end) / 2).tolist()
            found = post(client, "lines/pick", layer="rough", points=[middle]).json["lines"]
            client.edit("mark_edges", strokes=[found[0]["id"]], along=along)
    return list(sheet(client)["edges"])


def test_the_view_of_a_drawn_box_is_found(client: Client) -> None:
    marked = draw_box(client, 0.5)
    assert len(marked) == 9
    found = post(client, "recover", along="H", length=108).json
    assert found["size"] == pytest.approx([62, 34, 108], rel=0.03)
    assert found["lens"] == pytest.approx(36 * 2600 / 2400, rel=0.06)
    assert found["error"] < 2
    assert found["corners"] == 7
    assert "Found the view of the drawn box" in found["made"]["standing"]["sentence"]
    shown = sheet(client)["drafted"]["box"]
    assert {face["face"] for face in shown["faces"]} == {"front", "right", "top"}


def test_marks_of_lines_that_were_taken_away_do_not_count(client: Client) -> None:
    marked = draw_box(client, 0.5)
    post(client, "lines/change", layer="rough", ids=marked[:6], change={"how": "remove"})
    assert list(sheet(client)["edges"]) == marked[6:]
    assert post(client, "recover", along="H", length=108).status_code == 422


def test_what_a_drawing_does_not_tell_is_said(client: Client) -> None:
    marked = draw_box(client, 0.5)
    sure = post(client, "recover", along="H", length=108).json
    assert sure["doubt"] is None
    assert 0 < sure["size_within"] < 0.1
    assert 0 < sure["lens_within"] < 0.2
    stray = client.stroke(line((60, 60), (64, 300)), nib="pencil", size=4, tone=1)
    assert stray.status_code == 200
    lone = [stroke for stroke in picked(client, (62, 180)) if stroke not in marked]
    client.edit("mark_edges", strokes=lone, along="H")
    doubted = post(client, "recover", along="H", length=108).json
    assert doubted["left_out"] == 1
    assert doubted["doubt"] == "Left out, since they do not meet the others: 1 of the marked lines."
    assert doubted["size"] == pytest.approx(sure["size"], rel=1e-6)


def picked(client: Client, at: tuple[float, float]) -> list[str]:
    lines = post(client, "lines/pick", layer="rough", points=[at]).json["lines"]
    return [found["id"] for found in lines]


def test_a_box_without_edges_is_refused_and_the_sheet_stays_as_it_was(client: Client) -> None:
    before = sheet(client)
    refused = post(client, "recover", along="W", length=60)
    assert refused.status_code == 422
    assert "at least four" in refused.json["detail"]
    assert sheet(client) == before


def two_views(client: Client) -> None:
    for number, (x, y) in enumerate(((300, 300), (1100, 420), (1900, 700)), 1):
        client.stroke(line((x - 60, y), (x + 60, y)), nib="fineliner", size=8, tone=1)
        rect = [x - 100, y - 100, x + 100, y + 100]
        client.edit("frame_view", id=f"v{number}", view="side", name=f"v{number}", rect=rect)


def test_a_view_is_moved_with_its_lines_its_paint_and_its_notes(client: Client) -> None:
    two_views(client)
    client.edit("add_layer", id="tone", name="Tone", holds="tone")
    chosen = post(client, "selection", shape={"by": "box", "rect": [280, 340, 320, 380]}).json
    post(client, "fill", layer="tone", colour="#FF0000", selection=chosen["selection"])
    client.edit("add_layer", id="n", name="Notes", holds="notes")
    client.edit(
        "put_note", layer="n", note={"kind": "lettering", "id": "t", "words": "I", "at": [250, 380], "size": 40}
    )
    before = page(client)
    answer = post(client, "views/move", moves={"v1": [200, 120]})
    assert answer.json["standing"]["sentence"] == "Moved a view"
    after = page(client)
    assert np.array_equal(after[320:520, 400:600], before[200:400, 200:400])
    assert (after[200:320, 200:400] == (255, 254, 250)).all()
    assert np.array_equal(after[:, 1000:], before[:, 1000:])
    assert sheet(client)["views"][0]["rect"] == [400, 320, 600, 520]
    client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
    assert np.array_equal(page(client), before)


def test_views_are_set_in_line_and_evenly_apart(client: Client) -> None:
    two_views(client)
    post(client, "views/arrange", way="top", views=[])
    assert [view["rect"][1] for view in sheet(client)["views"]] == [200, 200, 200]
    post(client, "views/move", moves={"v2": [250, 0]})
    post(client, "views/arrange", way="spread across", views=[])
    lefts = [view["rect"][0] for view in sheet(client)["views"]]
    assert lefts[1] - lefts[0] == lefts[2] - lefts[1]
    again = post(client, "views/arrange", way="top", views=[])
    assert "stand like that already" in again.json["detail"]
    assert "Frame more views" in post(client, "views/arrange", way="spread down", views=["v1", "v2"]).json["detail"]


def test_a_view_is_repeated_faintly_behind(client: Client) -> None:
    two_views(client)
    answer = post(client, "views/v1/faint", at=[1200, 1200], scale=3.0, opacity=0.2)
    assert answer.json["standing"]["sentence"] == "Repeated a sketch faintly behind the others"
    layer = sheet(client)["layers"][0]
    assert (layer["strokes"], layer["opacity"]) == (1, 0.2)
    shown = page(client)
    assert 150 < shown[1200, 1200, 0] < 250
    assert (shown[1200, 1020:1380, 0] < 250).mean() > 0.9


def test_sheets_are_duplicated_and_put_in_order(client: Client) -> None:
    two_views(client)
    made = client.http.post(client.url(f"documents/{client.ids['sheet']}/duplicate")).json
    assert made["name"].endswith("copy")
    copy = client.http.get(client.url(f"sheets/{made['id']}")).json
    assert copy["body"]["layers"] == sheet(client)["layers"]
    assert copy["standing"]["head"] is None
    third = client.http.post(client.url("documents"), json={"kind": "sheet", "name": "Third"}).json
    state = client.http.post(client.url(f"documents/{third['id']}/place"), json={"place": 0}).json
    order = [row["id"] for row in state["documents"] if row["kind"] == "sheet"]
    assert order == [third["id"], client.ids["sheet"], made["id"]]
    form = next(row["id"] for row in state["documents"] if row["kind"] == "form")
    refused = client.http.post(client.url(f"documents/{form}/duplicate"))
    assert "Only sheets" in refused.json["detail"]


def test_the_chosen_direction_is_told_with_the_project(client: Client) -> None:
    client.edit("choose", chosen=True)
    project = client.http.get(client.url("").rstrip("/")).json
    assert [row["id"] for row in project["documents"] if row["chosen"]] == [client.ids["sheet"]]


def test_the_light_gives_three_greys_and_shades_the_box(client: Client) -> None:
    client.edit("add_layer", id="tone", name="Tone", holds="tone")
    refused = post(client, "shade", layer="tone", light=[-0.3, 0.8])
    assert "no construction box" in refused.json["detail"]
    box(client)
    greys = client.http.get(url(client, "/tones?across=-0.3&up=0.8&base=210")).json
    assert greys["lit"] > greys["middle"] > greys["shaded"]
    before = page(client)
    for body in ("box", "cylinder"):
        answer = post(client, "shade", layer="tone", body=body, light=[-0.3, 0.8], base=210, shadow=0.5)
        meta, _ = unpack(answer.data)
        assert meta["standing"]["sentence"] == f"Shaded a {body} on Tone"
        client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
        assert np.array_equal(page(client), before)
    post(client, "shade", layer="tone", body="box", light=[-0.3, 0.8], base=210, shadow=0.5)
    shown = page(client)
    for face in sheet(client)["drafted"]["box"]["faces"]:
        x, y = np.mean(face["quad"], axis=0).round().astype(int)
        want = {"top": "lit", "front": "middle", "right": "shaded"}[face["face"]]
        assert shown[y, x] == pytest.approx([greys[want]] * 3, abs=1), face


def test_selected_paint_is_moved_with_its_selection(client: Client) -> None:
    client.edit("add_layer", id="tone", name="Tone", holds="tone")
    chosen = post(client, "selection", shape={"by": "box", "rect": [300, 300, 400, 360]}).json["selection"]
    post(client, "fill", layer="tone", colour="#204060", selection=chosen)
    before = page(client)
    meta, _ = unpack(post(client, "shift", layer="tone", selection=chosen, by=[130, 45]).data)
    after = page(client)
    assert np.array_equal(after[345:405, 430:530], before[300:360, 300:400])
    assert (after[300:340, 300:400] == (255, 254, 250)).all()
    assert meta["selection"]["rect"] == [430, 345, 530, 405]
    moved = meta["selection"]["selection"]
    meta, _ = unpack(post(client, "shift", layer="tone", selection=moved, turn=90, copies=True).data)
    left, top, right, bottom = meta["selection"]["rect"]
    assert (right - left, bottom - top) == pytest.approx((60, 100), abs=3)
    assert page(client)[375, 500].tolist() == [32, 64, 96]
    empty = post(client, "selection", shape={"by": "box", "rect": [1500, 300, 1600, 360]}).json["selection"]
    assert "no paint" in post(client, "shift", layer="tone", selection=empty, by=[5, 5]).json["detail"]
    assert "leave the page" in post(client, "shift", layer="tone", selection=moved, by=[9000, 0]).json["detail"]


def test_pages_go_out_larger_and_as_pdf_with_words(client: Client) -> None:
    two_views(client)
    client.edit("add_layer", id="n", name="Notes", holds="notes")
    note = {"kind": "callout", "id": "c", "words": "Level dial", "to": [600, 600], "at": [800, 500], "size": 40}
    client.edit("put_note", layer="n", note=note)
    assert page(client, "?scale=2").shape == (3200, 4800, 3)
    assert page(client, "?wide=300").shape == (200, 300, 3)
    assert client.http.get(url(client, "/page.png?scale=9")).status_code == 422
    data = client.http.get(url(client, "/page.pdf")).data
    (only,) = PdfReader(io.BytesIO(data)).pages
    assert "Level dial" in only.extract_text()
    assert (float(only.mediabox.width), float(only.mediabox.height)) == pytest.approx((2400 * 0.48, 1600 * 0.48))
    (picture,) = only.images
    assert picture.image is not None
    assert picture.image.size == (4800, 3200)
    svg = client.http.get(url(client, "/page.svg")).data.decode()
    assert ">Level dial</text>" in svg


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("idea.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"),
        ("torn.png", b"\x89PNG\r\n"),
    ],
)
def test_files_that_are_no_pictures_leave_the_page_as_it_was(client: Client, name: str, data: bytes) -> None:
    before = sheet(client)
    form = {"file": (io.BytesIO(data), name)}
    refused = client.http.post(url(client, "/pictures"), data=form, content_type="multipart/form-data")
    assert refused.status_code == 422
    assert name in refused.json["detail"]
    assert sheet(client) == before


def test_broken_lines_are_kept_and_can_be_mended(client: Client) -> None:
    client.stroke(line((300, 300), (900, 300)), nib="fineliner", size=6, tone=1, line="split")
    gaps = (page(client)[300, 310:890, 0] > 200).mean()
    assert 0.15 < gaps < 0.6
    (found,) = post(client, "lines/pick", layer="rough", points=[[400, 300]]).json["lines"]
    post(client, "lines/change", layer="rough", ids=[found["id"]], change={"how": "restyle", "line": "plain"})
    assert (page(client)[300, 310:890, 0] > 200).mean() == 0


def test_tiles_and_the_head_told_with_them_are_one_state(client: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    """A note put while the tiles before it were being sent used to be told as sent, and never showed."""
    told = Ledger.standing

    def and_then_someone_draws(ledger: Ledger, document: str, *rest: Any) -> Any:
        place = told(ledger, document, *rest)
        if rest:
            return place
        client.stroke(line((300, 300), (900, 300)), nib="marker", size=40, tone=1)
        return place

    first = client.stroke(line((300, 900), (900, 900)), nib="marker", size=40, tone=1)
    head = unpack(first.data)[0]["standing"]["head"]
    monkeypatch.setattr(Ledger, "standing", and_then_someone_draws)
    meta, _ = unpack(client.http.get(url(client, "/tiles")).data)
    monkeypatch.undo()
    assert meta["standing"]["head"] == head
    _, arrays = unpack(client.http.get(url(client, f"/tiles?since={head}")).data)
    assert len(arrays["rects"]) > 0


def test_lines_drawn_square_on_are_laid_on_a_face_in_true_size(client: Client) -> None:
    """A square of 20 mm, drawn at 5 px a mm, comes out as a square of 20 mm on the front."""
    box(client)
    client.edit("frame_view", id="flat", view="front", name="front", rect=[200, 200, 500, 500])
    client.edit("set_scale", view="flat", scale=5)
    corners = [(300, 300), (400, 300), (400, 400), (300, 400)]
    for start, end in zip(corners, corners[1:] + corners[:1]):
        client.stroke(line(start, end, 20), nib="fineliner", size=3, tone=1)
    found = post(client, "lines/pick", layer="rough", points=[[250, 250], [450, 250], [450, 450], [250, 450]]).json[
        "lines"
    ]
    ids = [one["id"] for one in found]
    answer = post(client, "lines/change", layer="rough", ids=ids, change={"how": "lay on", "face": "front"})
    assert unpack(answer.data)[0]["standing"]["sentence"] == "Laid 4 lines on the front of the box"
    state = sheet(client)
    assert next(layer for layer in state["layers"] if layer["id"] == "rough")["strokes"] == 8
    face = next(one for one in state["drafted"]["box"]["faces"] if one["face"] == "front")
    around = np.array(face["quad"])
    low, high = around.min(axis=0), around.max(axis=0)
    area = [[low[0], low[1]], [high[0], low[1]], [high[0], high[1]], [low[0], high[1]]]
    laid = post(client, "lines/pick", layer="rough", points=area).json["lines"]
    assert len(laid) == 4
    placed = Placed(
        camera_of(Perspective.model_validate(state["perspective"])), (62, 34, 108), tuple(state["box"]["at"]), 6.0
    )
    places = np.array([placed.on_face("front", tuple(place)) for one in laid for place in one["path"]])
    assert places.min(axis=0) == pytest.approx([31 - 10, 54 - 10], abs=0.05)
    assert places.max(axis=0) == pytest.approx([31 + 10, 54 + 10], abs=0.05)
