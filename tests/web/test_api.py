"""The server through HTTP, without a browser."""

from __future__ import annotations

import io
import json
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient

from hollow_marble.exchange.pictures import png
from hollow_marble.web.events import Broker
from hollow_marble.web.packing import pack

TYPES = {"i1": "i1", "f4": "<f4", "f8": "<f8", "i2": "<i2", "i4": "<i4", "u1": "u1", "u4": "<u4"}


def unpack(data: bytes) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """Reads packed arrays as the browser does."""
    length = int.from_bytes(data[:4], "little")
    header = json.loads(data[4 : 4 + length])
    offset, arrays = 4 + length, {}
    for entry in header["arrays"]:
        count = int(np.prod(entry["shape"])) if entry["shape"] else 1
        kind = np.dtype(TYPES[entry["type"]])
        arrays[entry["name"]] = np.frombuffer(data, kind, count, offset).reshape(entry["shape"])
        offset += -(-count * kind.itemsize // 8) * 8
    assert offset == len(data)
    return header["meta"], arrays


class Client:
    def __init__(self, http: FlaskClient) -> None:
        self.http = http
        state = http.post("/api/projects", json={"name": "Linnet", "maker": "Alder Row"}).json
        self.project = state["project"]["id"]
        self.ids = {d["kind"]: d["id"] for d in state["documents"]}

    def url(self, rest: str) -> str:
        return f"/api/projects/{self.project}/{rest}"

    def edit(self, kind: str, **fields: Any) -> Any:
        document = self.ids[self.kind_of(kind)]
        return self.http.post(self.url(f"documents/{document}/edits"), json={"edit": {"kind": kind, **fields}})

    @staticmethod
    def kind_of(kind: str) -> str:
        if kind in ("start_part", "shape", "change_part", "pin_reference", "remove_part", "change_step"):
            return "form"
        if kind in ("keep_shot", "set_lamp", "set_camera", "set_finish", "build_set", "keep_colourway"):
            return "studio"
        if kind in ("write_brief", "set_envelope"):
            return "brief"
        return "board" if kind in ("hang_take", "pin_comment", "give_verdict") else "sheet"

    def box(self, part: str = "b") -> Any:
        return self.edit(
            "start_part",
            part=part,
            name="Body",
            start={"kind": "box", "size": [60, 30, 100], "divisions": [4, 3, 6]},
            symmetry={"planes": ["W"]},
        )

    def stroke(self, samples: np.ndarray, **query: Any) -> Any:
        query = {"layer": "rough", **query}
        return self.http.post(
            self.url(f"sheets/{self.ids['sheet']}/strokes"), data=samples.astype("<f4").tobytes(), query_string=query
        )


LINE = np.array([[300, 300, 0.5, 0], [340, 320, 0.7, 0], [420, 330, 0.8, 0]], np.float32)


def test_packed_arrays_come_back_whole() -> None:
    arrays = {
        "a": np.arange(5, dtype=np.float32),
        "b": np.arange(6, dtype=np.int16).reshape(2, 3),
        "empty": np.empty((0, 4), np.int32),
    }
    meta, read = unpack(pack({"x": 1}, arrays))
    assert meta == {"x": 1}
    for name, array in arrays.items():
        assert np.array_equal(read[name], array)
        assert read[name].shape == array.shape


def test_a_stroke_answers_with_the_tiles_it_changed(client: Client) -> None:
    answer = client.stroke(LINE)
    assert answer.status_code == 200
    meta, arrays = unpack(answer.data)
    assert meta["standing"]["sentence"] == "Drew with the pencil"
    assert len(arrays["rects"]) == 1
    left, top, right, bottom = arrays["rects"][0]
    pixels = arrays["pixels"].reshape(bottom - top, right - left, 4)
    assert pixels[..., 0].min() < 140


def test_tiles_since_an_earlier_line_are_the_difference(client: Client) -> None:
    first = unpack(client.stroke(LINE).data)[0]["standing"]["head"]
    client.stroke(LINE + np.array([900, 700, 0, 0], np.float32))
    url = client.url(f"sheets/{client.ids['sheet']}/tiles")
    _, arrays = unpack(client.http.get(url, query_string={"since": first}).data)
    assert (arrays["rects"][:, 0] >= 1100).all()
    _, whole = unpack(client.http.get(url).data)
    assert len(whole["rects"]) == 70
    assert whole["bare"].sum() > 60


def test_undo_gives_the_page_back(client: Client) -> None:
    page = client.url(f"sheets/{client.ids['sheet']}/page.png")
    before = client.http.get(page).data
    client.stroke(LINE)
    assert client.http.get(page).data != before
    client.http.post(client.url(f"documents/{client.ids['sheet']}/undo"))
    assert client.http.get(page).data == before


def test_a_refused_stroke_leaves_the_page_as_it_was(client: Client) -> None:
    page = client.url(f"sheets/{client.ids['sheet']}/page.png")
    before = client.http.get(page).data
    for answer in (
        client.stroke(LINE, layer="gone"),
        client.stroke(np.array([[np.nan, 0, 0, 0]])),
        client.stroke(LINE, size=-3),
    ):
        assert answer.status_code in (404, 422)
        assert answer.mimetype == "application/problem+json"
        assert answer.json["detail"].endswith(".")
    assert client.http.get(page).data == before


def test_pictures_that_will_not_do_leave_the_page_as_it_was(client: Client) -> None:
    url = client.url(f"sheets/{client.ids['sheet']}/pictures")
    bad = client.http.post(url, data={"file": (io.BytesIO(b"nothing"), "a.png")}, content_type="multipart/form-data")
    assert bad.status_code == 422
    assert "a.png is not a PNG" in bad.json["detail"]
    good = client.http.post(
        url,
        data={"file": (io.BytesIO(png(np.zeros((40, 60, 3), np.uint8))), "b.png")},
        content_type="multipart/form-data",
    )
    assert good.json["standing"]["sentence"] == "Placed the picture b.png"
    state = client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json
    assert [layer["kind"] for layer in state["body"]["layers"]] == ["picture", "ink"]
    assert state["standing"]["edits"] == 1


def test_a_part_is_sent_with_cage_and_skin(client: Client) -> None:
    assert client.box().json["standing"]["sentence"].startswith("Started from a box")
    meta, cage = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/cage")).data)
    assert meta["faces"] == len(cage["faceStarts"]) - 1 == 108
    _, arrays = unpack(client.http.get(client.url(f"forms/{client.ids['form']}/parts/b/mesh")).data)
    assert len(arrays["positions"]) == arrays["patchStarts"][-1] == 108 * 81
    assert arrays["triangles"].max() == len(arrays["positions"]) - 1
    assert np.allclose(np.linalg.norm(arrays["normals"][:, :3] / 32767, axis=1), 1, atol=1e-3)
    assert len(cage["cornerPoints"]) == 0
    over = arrays["positions"][cage["limitOf"]]
    assert len(over) == len(cage["points"])
    assert np.linalg.norm(over - cage["points"], axis=1).max() < 12, "each point of the cage has its place on the skin"


def test_a_preview_stores_nothing_and_shows_only_what_moves(client: Client) -> None:
    client.box()
    step = {"kind": "placed", "how": "move", "points": [0], "values": [0, 0, -4], "symmetry": {"planes": ["W"]}}
    url = client.url(f"forms/{client.ids['form']}/parts/b/preview")
    _, arrays = unpack(client.http.post(url, json={"step": step}).data)
    assert 0 < len(arrays["patches"]) < 40
    assert len(arrays["positions"]) == 81 * len(arrays["patches"])
    assert client.http.get(client.url(f"forms/{client.ids['form']}")).json["standing"]["edits"] == 1


def test_a_form_edit_that_cannot_be_worked_out_is_refused(client: Client) -> None:
    client.box()
    answer = client.edit("shape", part="b", step={"kind": "extruded", "faces": list(range(108)), "distance": 5})
    assert answer.status_code == 422
    assert "All faces are picked" in answer.json["detail"]
    assert client.http.get(client.url(f"forms/{client.ids['form']}")).json["standing"]["edits"] == 1


def test_requests_that_do_not_fit_are_told_where(client: Client) -> None:
    answer = client.edit(
        "start_part", part="b", name="Body", start={"kind": "box", "size": [60, 30], "divisions": [4, 3, 6]}
    )
    assert answer.status_code == 422
    assert answer.mimetype == "application/problem+json"
    assert "size" in answer.json["detail"]
    wrong = client.http.post(
        client.url(f"documents/{client.ids['board']}/edits"),
        json={"edit": {"kind": "add_layer", "id": "x", "name": "X"}},
    )
    assert wrong.status_code == 422, "a board takes no layers"


def test_an_obj_comes_in_as_a_part_and_goes_out_again(client: Client) -> None:
    text = b"v 0 0 0\nv 10 0 0\nv 10 10 0\nv 0 10 0\nf 1 2 3 4\n"
    url = client.url(f"forms/{client.ids['form']}/import")
    done = client.http.post(url, data={"file": (io.BytesIO(text), "leaf.obj")}, content_type="multipart/form-data")
    assert "Brought in the cage leaf" in done.json["standing"]["sentence"]
    out = client.http.get(client.url(f"forms/{client.ids['form']}/export?format=obj"))
    assert out.data.count(b"\nv ") == 4
    assert "Linnet.obj" in out.headers["Content-Disposition"]
    bad = client.http.post(url, data={"file": (io.BytesIO(b"v 1"), "bad.obj")}, content_type="multipart/form-data")
    assert "Line 1 of bad.obj" in bad.json["detail"]


def test_a_setting_is_worked_out_with_what_it_means(client: Client) -> None:
    client.box()
    studio = client.http.get(client.url(f"studios/{client.ids['studio']}")).json["body"]
    body = {"form": client.ids["form"], "setting": studio["setting"]}
    staged = client.http.post(client.url("staging"), json=body).json
    assert len(staged["lamps"]) == 3
    assert staged["units"][0]["matrix"][11] == pytest.approx(50, abs=1), "moved up on to the floor"
    key = staged["facts"]["lamps"]["key"]
    assert key["shadow_end"] > key["shadow_sides"] > 0
    assert key["softness"] in ("crisp", "firm", "soft", "very soft")


def test_a_take_is_queued_with_its_thread(client: Client) -> None:
    client.box()
    sheet = client.ids["sheet"]
    client.edit("frame_view", id="v", view="front", name="front", rect=[0, 0, 100, 100])
    client.edit("pin_reference", id="r", sheet=sheet, view="v", plane="front", line=[[0, 0], [0, 90]], length=100)
    head = client.http.get(client.url(f"forms/{client.ids['form']}")).json["standing"]["head"]
    client.edit("keep_shot", id="s", name="Hero", width=64, height=48, form=client.ids["form"], form_edit=head)
    take = client.http.post(
        client.url(f"studios/{client.ids['studio']}/takes"), json={"shot": "s", "quality": "draft"}
    ).json
    assert take["state"] == "queued"
    steps = client.http.get(client.url(f"takes/{take['id']}/thread")).json["steps"]
    assert [step["kind"] for step in steps] == ["sheet", "form", "shot"]
    assert all(step["current"] for step in steps)
    client.edit("change_part", part="b", name="Shell")
    steps = client.http.get(client.url(f"takes/{take['id']}/thread")).json["steps"]
    assert [step["current"] for step in steps] == [True, False, True], "the form has moved on since"
    assert client.http.post(client.url(f"takes/{take['id']}/cancel")).json["state"] == "cancelled"


def test_ledger_versions_and_jumps(client: Client) -> None:
    sheet = client.ids["sheet"]
    first = client.edit("add_layer", id="a", name="A").json["standing"]["head"]
    client.edit("add_layer", id="b", name="B")
    made = client.http.post(client.url(f"documents/{sheet}/versions"), json={"name": "two", "edit": first})
    assert made.json["versions"][0]["name"] == "two"
    moved = client.http.post(client.url(f"documents/{sheet}/go"), json={"edit": None}).json["standing"]
    assert (moved["can_undo"], moved["can_redo"], moved["sentence"]) == (False, True, "Nothing done yet")
    moved = client.http.post(client.url(f"documents/{sheet}/redo")).json["standing"]
    assert (moved["head"], moved["since"]) == (first, "two")


def test_other_sites_cannot_post_here(client: Client) -> None:
    url = client.url(f"documents/{client.ids['sheet']}/undo")
    assert client.http.post(url, headers={"Origin": "http://elsewhere.example"}).status_code == 403
    for site in ("cross-site", "same-site"):
        assert client.http.post(url, headers={"Sec-Fetch-Site": site}).status_code == 403, "also without an origin"
    assert client.http.get("/api/projects", headers={"Sec-Fetch-Site": "cross-site"}).status_code == 403
    for site in ("same-origin", "none"):
        assert client.http.get("/api/projects", headers={"Sec-Fetch-Site": site}).status_code == 200


def test_unknown_addresses_and_projects_are_problems(client: Client) -> None:
    for url in ("/api/nowhere", "/api/projects/none", client.url("takes/none/thread"), client.url("assets/00")):
        answer = client.http.get(url)
        assert answer.status_code == 404
        assert answer.mimetype == "application/problem+json"
        assert answer.json["detail"]


def test_news_reaches_the_tabs_of_its_project_only() -> None:
    broker = Broker()
    here, there = broker.listen("a"), broker.listen("b")
    assert "hello" in next(here)
    next(there)
    broker.publish("a", "take", {"id": 1})
    broker.publish("", "renderer", {"note": "x"})
    assert next(here) == 'event: take\ndata: {"id": 1, "project": "a"}\n\n'
    assert "renderer" in next(here)
    assert "renderer" in next(there), "news for all"
    broker.close()
    assert list(here) == []
    assert len(broker._streams) == 1, "a stream that ended is let go"


def test_a_new_sheet_and_its_name(client: Client) -> None:
    made = client.http.post(client.url("documents"), json={"kind": "sheet", "name": "Second"}).json
    renamed = client.http.post(client.url(f"documents/{made['id']}/name"), json={"name": "Evening"}).json
    assert renamed["name"] == "Evening"
    names = [
        d["name"] for d in client.http.get(f"/api/projects/{client.project}").json["documents"] if d["kind"] == "sheet"
    ]
    assert names == ["Sheet 1", "Evening"]
