"""The brief: words, the size to keep within, and the board of pictures."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest

from hollow_marble.documents.brief.model import BOARD, MOST_PICTURES
from hollow_marble.exchange.pictures import png
from tests.web.test_api import Client


def edit(client: Client, **fields: Any) -> Any:
    return client.http.post(client.url(f"documents/{client.ids['brief']}/edits"), json={"edit": fields})


def body(client: Client) -> dict[str, Any]:
    return client.http.get(client.url(f"briefs/{client.ids['brief']}")).json["body"]


def put(client: Client, name: str = "pebble.png", tall: int = 30, where: str = "") -> Any:
    picture = png(np.full((tall, 40, 3), 120, np.uint8))
    where = where or f"briefs/{client.ids['brief']}/pictures"
    return client.http.post(client.url(where), data={"file": (io.BytesIO(picture), name)})


def test_words_and_size_are_kept_and_undone(client: Client) -> None:
    assert body(client) == {"what": "", "notes": "", "envelope": None, "pictures": []}
    assert edit(client, kind="write_brief", what="A recorder for birdsong").status_code == 200
    edit(client, kind="write_brief", notes="One thumb.")
    made = edit(client, kind="set_envelope", envelope=[62, 34, 108]).json
    assert made["standing"]["sentence"] == "Set the size to keep within: 62 × 34 × 108 mm"
    assert body(client) | {"pictures": []} == {
        "what": "A recorder for birdsong", "notes": "One thumb.", "envelope": [62, 34, 108], "pictures": [],
    }  # fmt: skip
    client.http.post(client.url(f"documents/{client.ids['brief']}/undo"))
    assert body(client)["envelope"] is None


@pytest.mark.parametrize("envelope", [[0, 1, 1], [1, 1], [1, 1, 1e9], "wide"])
def test_a_size_that_is_none_is_refused(client: Client, envelope: Any) -> None:
    assert edit(client, kind="set_envelope", envelope=envelope).status_code == 422
    assert body(client)["envelope"] is None


def test_pictures_lie_beside_one_another_and_come_to_the_top_when_moved(client: Client) -> None:
    for name in ("one.png", "two.png", "three.png", "four.png"):
        assert put(client, name).status_code == 200
    laid = body(client)["pictures"]
    assert [one["name"] for one in laid] == ["one", "two", "three", "four"]
    boxes = [(one["x"], one["y"], one["x"] + one["wide"], one["y"] + one["wide"] * one["tall"]) for one in laid]
    assert all(left >= 0 and right <= BOARD for left, _, right, _ in boxes)
    apart = [
        a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1] for k, a in enumerate(boxes) for b in boxes[:k]
    ]
    assert all(apart)
    assert laid[0]["tall"] == pytest.approx(30 / 40)
    edit(client, kind="lay_picture", id=laid[0]["id"], x=5, y=7, wide=200)
    assert [one["name"] for one in body(client)["pictures"]] == ["two", "three", "four", "one"]
    assert (
        client.http.get(client.url(f"briefs/{client.ids['brief']}/pictures/{laid[0]['id']}.png")).mimetype
        == "image/png"
    )
    edit(client, kind="remove_brief_picture", id=laid[0]["id"])
    assert len(body(client)["pictures"]) == 3
    assert edit(client, kind="lay_picture", id=laid[0]["id"], x=5, y=7, wide=200).status_code == 404


def test_a_picture_goes_on_to_a_sheet_and_behind_the_form(client: Client) -> None:
    put(client, "river pebble.png")
    (picture,) = body(client)["pictures"]
    place = f"briefs/{client.ids['brief']}/pictures/{picture['id']}"
    assert client.http.post(client.url(f"{place}/sheet"), json={"document": client.ids["sheet"]}).status_code == 200
    sheet = client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json["body"]
    assert [layer["name"] for layer in sheet["layers"] if layer["kind"] == "picture"] == ["river pebble"]
    for _ in range(2):
        made = client.http.post(client.url(f"{place}/form"), json={"document": client.ids["form"]})
        assert made.status_code == 200, made.json
    form = client.http.get(client.url(f"forms/{client.ids['form']}")).json["body"]
    (reference,) = form["references"]
    assert (reference["plane"], reference["length"]) == ("front", 100)
    documents = client.http.get(client.url("")[:-1]).json["documents"]
    assert [one["name"] for one in documents if one["kind"] == "sheet"] == ["Sheet 1", "river pebble"]


def test_a_picture_file_stands_behind_the_form_at_once(client: Client) -> None:
    assert put(client, "side.png", where=f"forms/{client.ids['form']}/pictures").status_code == 200
    form = client.http.get(client.url(f"forms/{client.ids['form']}")).json["body"]
    assert len(form["references"]) == 1
    before = client.http.get(client.url("")[:-1]).json["documents"]
    bad = client.http.post(
        client.url(f"forms/{client.ids['form']}/pictures"), data={"file": (io.BytesIO(b"no"), "x.png")}
    )
    assert bad.status_code == 422
    assert client.http.get(client.url("")[:-1]).json["documents"] == before, "no empty sheet is left behind"


def test_the_board_is_full_at_some_time(client: Client) -> None:
    put(client)
    (picture,) = body(client)["pictures"]
    for k in range(MOST_PICTURES - 1):
        assert edit(client, kind="put_picture", laid={**picture, "id": f"p{k}"}).status_code == 200
    refused = edit(client, kind="put_picture", laid={**picture, "id": "more"})
    assert (refused.status_code, "Take one away" in refused.json["detail"]) == (422, True)
    strange = edit(client, kind="put_picture", laid={**picture, "id": "s", "picture": "0" * 64})
    assert strange.status_code == 422
