"""Details over HTTP: a sheet's line on the skin that follows the sheet, skins with and without their details, many of one part."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from tests.web.test_api import Client, unpack

LINE = {"kind": "section_line", "axis": "H", "at": 10, "tag": "line"}
GROOVE = {"kind": "along_line", "inputs": {"line": {"kind": "step", "index": 1}}, "tag": "groove"}


def form(client: Client) -> Any:
    return client.http.get(client.url(f"forms/{client.ids['form']}")).json


def part(client: Client, rest: str, ident: str = "b") -> Any:
    return client.http.get(client.url(f"forms/{client.ids['form']}/parts/{ident}/{rest}"))


def shape(client: Client, **step: Any) -> Any:
    return client.edit("shape", part="b", step=step)


def edit(client: Client, **fields: Any) -> Any:
    return client.http.post(client.url(f"documents/{client.ids['form']}/edits"), json={"edit": fields})


def drawn_view(client: Client) -> str:
    """A view with one level line, 20 mm below its middle, pinned as the front; the stroke's id."""
    x = np.linspace(600, 700, 40)
    client.stroke(np.stack([x, np.full(40, 600.0), np.full(40, 0.8), np.zeros(40)], axis=1), size=6)
    client.edit("frame_view", id="v", view="front", name="front", rect=[300, 100, 700, 800])
    pinned = {"id": "r", "sheet": client.ids["sheet"], "view": "v", "plane": "front", "length": 100}
    client.edit("pin_reference", **pinned, line=[[650, 300], [650, 700]])
    ids = client.http.post(
        client.url(f"sheets/{client.ids['sheet']}/lines/pick"), json={"layer": "rough", "points": [[650, 602]]}
    ).json["lines"]
    return str(ids[0]["id"])


def test_a_touched_line_of_a_sheet_lies_on_the_skin_and_follows_the_sheet(client: Client) -> None:
    """Drawn 100 px below the middle of a view with 4 px a mm it lies at H -25 on the front; moved by 40 px, at -35."""
    stroke = drawn_view(client)
    client.box()
    throw = client.url(f"forms/{client.ids['form']}/parts/b/throw")
    missed = client.http.post(throw, json={"eye": [0, -500, 40], "way": [0, 1, 0]})
    assert missed.status_code == 422
    assert "touch a line" in missed.json["detail"]
    assert client.http.post(throw, json={"eye": [2, -500, -25], "way": [0, 1, 0]}).status_code == 200
    meta, arrays = unpack(part(client, "lines").data)
    assert meta["steps"] == [1]
    assert arrays["places"].reshape(-1, 3)[:, 2] == pytest.approx(-25, abs=1e-4)
    assert meta["lengths"][0] == pytest.approx(25, rel=0.02)
    follow = client.url(f"forms/{client.ids['form']}/follow")
    assert client.http.post(follow).json == {"steps": 0, "told": []}
    moved = {"layer": "rough", "ids": [stroke], "change": {"how": "carry", "by": [0, 40]}}
    client.http.post(client.url(f"sheets/{client.ids['sheet']}/lines/change"), json=moved)
    assert client.http.post(follow).json == {"steps": 1, "told": []}
    _, arrays = unpack(part(client, "lines").data)
    assert arrays["places"].reshape(-1, 3)[:, 2] == pytest.approx(-35, abs=1e-4)
    client.http.post(client.url(f"sheets/{client.ids['sheet']}/lines/change"), json={**moved, "change": {"how": "carry", "by": [4000, 0]}})  # fmt: skip
    told = client.http.post(follow).json["told"]
    assert len(told) == 1
    assert "could not follow" in told[0] or "is gone" in told[0]
    _, arrays = unpack(part(client, "lines").data)
    assert arrays["places"].reshape(-1, 3)[:, 2] == pytest.approx(-35, abs=1e-4), "it stays as it was"


def test_a_skin_is_sent_with_its_details_or_bare_and_its_cage_beneath(client: Client) -> None:
    client.box()
    plain = unpack(part(client, "mesh").data)[1]["positions"]
    shape(client, **LINE)
    assert unpack(part(client, "cage").data)[0]["faces"] > 0, "a line alone changes nothing of the skin"
    assert shape(client, **GROOVE).status_code == 200
    meta, arrays = unpack(part(client, "mesh").data)
    assert len(arrays["positions"]) > len(plain)
    assert unpack(part(client, "cage").data)[0]["faces"] == 0
    _, bare = unpack(part(client, "mesh?bare=true").data)
    assert np.array_equal(bare["positions"], plain)
    cage, _ = unpack(part(client, "cage?bare=true").data)
    assert cage["faces"] == 96 + 12
    moved = shape(client, kind="placed", how="move", points=[0, 1], values=[0, -3, 0], reach=0)
    assert moved.status_code == 200
    kinds = [step["kind"] for step in form(client)["body"]["parts"][0]["steps"]]
    assert kinds == ["box", "placed", "section_line", "along_line"]
    assert meta["key"] != unpack(part(client, "mesh").data)[0]["key"]


def test_numbers_of_details_change_and_what_does_not_fit_leaves_the_form_as_it_was(client: Client) -> None:
    client.box()
    shape(client, **LINE)
    shape(client, **GROOVE)
    before = form(client)["keys"]
    url = client.url(f"documents/{client.ids['form']}/amendments")
    for fields, said in (
        ({"depth": 90, "width": 80, "lean": 0}, "mm"),
        ({"width": 0.05}, "too narrow"),
        ({"depth": 0}, "greater than 0"),
    ):
        answer = client.http.post(url, json={"amend": {"kind": "step", "part": "b", "index": 2, "fields": fields}})
        assert answer.status_code == 422, fields
        assert said in answer.json["detail"]
        assert form(client)["keys"] == before
    assert (
        client.http.post(
            url, json={"amend": {"kind": "step", "part": "b", "index": 2, "fields": {"depth": 0.8}}}
        ).status_code
        == 200
    )
    client.http.post(client.url(f"documents/{client.ids['form']}/undo"), json={})
    assert form(client)["keys"] == before


def test_parted_halves_are_two_parts_and_undo_makes_them_one(client: Client) -> None:
    client.box()
    shape(client, **LINE)
    before = unpack(part(client, "mesh").data)[1]["positions"]
    step = {"kind": "parted_along", "inputs": {"line": {"kind": "step", "index": 1}}, "edge": "lip", "tag": "cut"}
    assert edit(client, kind="part_along", part="b", other="c", name="Lower", step=step).status_code == 200
    for ident in ("b", "c"):
        meta, arrays = unpack(part(client, "mesh", ident).data)
        assert meta["closed"]
        assert len(arrays["triangles"]) > 1000
    assert edit(client, kind="remove_part", part="b").status_code == 422, "the other one is what is left of it"
    client.http.post(client.url(f"documents/{client.ids['form']}/undo"), json={})
    assert [one["id"] for one in form(client)["body"]["parts"]] == ["b"]
    assert np.array_equal(unpack(part(client, "mesh").data)[1]["positions"], before)


def test_many_of_one_are_sent_as_one_and_where_each_stands_and_a_picture_drives_them(client: Client) -> None:
    client.box()
    edit(client, kind="start_part", part="s", name="Stud", start={"kind": "sphere", "size": [2, 2, 1], "divisions": 2})
    inputs = {"element": {"kind": "part", "part": "s"}, "on": {"kind": "part", "part": "b"}}
    spread = {
        "kind": "spread",
        "arranged": "staggered",
        "apart": 3,
        "at": [0, -15, 0],
        "wide": 20,
        "tall": 20,
        "inputs": inputs,
    }
    assert edit(client, kind="start_part", part="m", name="Studs", start=spread).status_code == 200
    meta, arrays = unpack(part(client, "mesh", "m").data)
    assert meta["whole"]
    many = len(arrays["copies"]) // 12 if arrays["copies"].ndim == 1 else len(arrays["copies"])
    assert many > 30
    assert len(arrays["positions"]) == len(unpack(part(client, "mesh", "s").data)[1]["positions"])
    size = client.http.get(client.url(f"forms/{client.ids['form']}/size")).json
    assert size["parts"] == 3
    half = np.zeros((30, 60, 3), np.uint8)
    half[:, :30] = 200
    file = io.BytesIO()
    Image.fromarray(half).save(file, "PNG")
    picture = file.getvalue()
    url = client.url(f"forms/{client.ids['form']}/parts/m/grey")
    assert client.http.post(url, data={"file": (io.BytesIO(picture), "half.png")}).status_code == 200
    amend = {"kind": "step", "part": "m", "index": 0, "fields": {"least": 0.5}}
    client.http.post(client.url(f"documents/{client.ids['form']}/amendments"), json={"amend": amend})
    _, arrays = unpack(part(client, "mesh", "m").data)
    left = arrays["copies"].reshape(-1, 3, 4)
    assert 0 < len(left) < many
    assert (left[:, 0, 3] < 0.5).all()
    for data, said in ((b"no picture", "is not a PNG"), (_wide(40_000), "too large")):
        answer = client.http.post(url, data={"file": (io.BytesIO(data), "wrong.png")})
        assert answer.status_code == 422
        assert said in answer.json["detail"]
    answer = client.http.post(
        client.url(f"forms/{client.ids['form']}/parts/s/grey"), data={"file": (io.BytesIO(picture), "half.png")}
    )
    assert "not spread" in answer.json["detail"]


def test_paint_of_a_sheet_drives_what_is_spread_and_is_followed(client: Client) -> None:
    """The page is laid 20 mm wide on the front: what is painted of it has elements, as far right as the paint goes."""
    client.box()
    edit(client, kind="start_part", part="s", name="Stud", start={"kind": "sphere", "size": [1, 1, 1], "divisions": 1})
    inputs = {"element": {"kind": "part", "part": "s"}, "on": {"kind": "part", "part": "b"}}
    spread = {
        "kind": "spread", "arranged": "square", "apart": 1.0, "at": [0, -15, 0], "wide": 20, "tall": 12, "least": 0.5, "inputs": inputs,
    }  # fmt: skip
    assert edit(client, kind="start_part", part="m", name="Studs", start=spread).status_code == 200
    sheet, url = client.ids["sheet"], client.url(f"forms/{client.ids['form']}/parts/m/paint")
    client.edit("add_layer", id="shade", name="Shade", holds="tone")
    body = client.http.get(client.url(f"sheets/{sheet}")).json["body"]
    width, height = body["width"], body["height"]

    def right() -> float:
        _, arrays = unpack(part(client, "mesh", "m").data)
        return float(arrays["copies"].reshape(-1, 3, 4)[:, 0, 3].max())

    def fill(left: int, far: int) -> None:
        wish = {"shape": {"by": "box", "rect": [left, 0, far, height]}, "how": "instead", "before": None}
        chosen = client.http.post(client.url(f"sheets/{sheet}/selection"), json=wish).json["selection"]
        ink = {
            "layer": "shade",
            "at": [(left + far) / 2, height / 2],
            "colour": "#000000",
            "gap": 0,
            "selection": chosen,
        }
        assert client.http.post(client.url(f"sheets/{sheet}/fill"), json=ink).status_code == 200

    for layer, said in (("rough", "is not a tone layer"), ("shade", "Nothing is left to be spread"), ("gone", "layer")):
        answer = client.http.post(url, json={"sheet": sheet, "layer": layer})
        assert answer.status_code in (404, 422)
        assert said in answer.json["detail"]
    fill(0, width // 4)
    assert client.http.post(url, json={"sheet": sheet, "layer": "shade"}).status_code == 200
    assert right() == pytest.approx(-5.0, abs=0.6)
    follow = client.url(f"forms/{client.ids['form']}/follow")
    assert client.http.post(follow).json == {"steps": 0, "told": []}
    fill(width // 4, 3 * width // 4)
    assert client.http.post(follow).json == {"steps": 1, "told": []}
    assert right() == pytest.approx(5.0, abs=0.6)
    client.edit("remove_layer", layer="shade")
    told = client.http.post(follow).json["told"]
    assert told == ["The sheet’s paint that step 1 of Studs follows is gone; what is spread stays as it was."]
    assert right() == pytest.approx(5.0, abs=0.6)


def _wide(side: int) -> bytes:
    file = io.BytesIO()
    Image.new("L", (side, 2)).save(file, "PNG")
    return file.getvalue()


def test_what_cannot_be_shown_is_refused_when_it_is_asked_for(client: Client) -> None:
    """Found out by cutting and by counting triangles, later than the numbers are read; it was said only when one looked."""
    client.box()
    shape(client, **LINE)
    cut = {"kind": "parted_along", "inputs": {"line": {"kind": "step", "index": 1}}, "edge": "closed"}
    assert (
        edit(client, kind="part_along", part="b", other="c", name="Rest", step={**cut, "tag": "cut"}).status_code == 200
    )
    before = form(client)["keys"]
    again = edit(client, kind="part_along", part="b", other="d", name="None", step={**cut, "tag": "more"})
    assert again.status_code == 422
    assert "cut along this line already" in again.json["detail"]
    edit(client, kind="start_part", part="s", name="Stud", start={"kind": "sphere", "size": [2, 2, 1], "divisions": 8})
    spread = {
        "kind": "spread",
        "apart": 0.6,
        "inputs": {"element": {"kind": "part", "part": "s"}, "on": {"kind": "part", "part": "c"}},
    }
    many = edit(client, kind="start_part", part="m", name="Studs", start=spread)
    assert many.status_code == 422
    assert "Make the element simpler, or spread fewer" in many.json["detail"]
    assert {part: key for part, key in form(client)["keys"].items() if part != "s"} == before


def test_ten_million_elements_are_refused_and_the_form_stays(client: Client) -> None:
    client.box()
    edit(client, kind="start_part", part="s", name="Stud", start={"kind": "sphere", "size": [2, 2, 1], "divisions": 2})
    inputs = {"element": {"kind": "part", "part": "s"}, "on": {"kind": "part", "part": "b"}}
    spread = {"kind": "spread", "arranged": "random", "apart": 0.03, "inputs": inputs}
    answer = edit(client, kind="start_part", part="m", name="Studs", start=spread)
    assert answer.status_code == 422
    assert "up to 100,000" in answer.json["detail"]
    assert len(form(client)["body"]["parts"]) == 2
