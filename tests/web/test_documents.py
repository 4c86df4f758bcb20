"""Documents through HTTP: what goes wrong is said plainly, and what happens at once does not get lost."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask import Flask

from hollow_marble.web.app import create_app
from tests.web.test_api import Client, unpack


@pytest.fixture
def app(tmp_path: Path) -> Iterator[Flask]:
    made = create_app(tmp_path, work=False)
    yield made
    made.extensions["hollow_marble"].close()


@pytest.fixture
def client(app: Flask) -> Client:
    return Client(app.test_client())


def line(y: float) -> np.ndarray:
    x = np.linspace(200, 700, 20)
    return np.stack([x, 0 * x + y, 0 * x + 0.8, 0 * x], axis=1).astype("<f4")


def covered(arrays: dict[str, np.ndarray], y: float) -> bool:
    """Whether the tiles that were sent hold the line at a height of the page."""
    return any(
        left <= 450 < right and top <= y < bottom and not bare
        for (left, top, right, bottom), bare in zip(arrays["rects"].tolist(), arrays["bare"].tolist())
    )


def test_strokes_drawn_at_once_are_each_answered_with_their_own_tiles(app: Flask, client: Client) -> None:
    """Other requests bring the page's pixels up to date meanwhile; the answer once lost tiles to them."""
    heights = [60.0 + 70 * k for k in range(16)]
    url = client.url(f"sheets/{client.ids['sheet']}")

    def draw(y: float) -> bool:
        http = app.test_client()
        http.get(f"{url}/page.png", query_string={"wide": 300})
        answer = http.post(f"{url}/strokes", data=line(y).tobytes(), query_string={"layer": "rough", "size": 8})
        assert answer.status_code == 200
        return covered(unpack(answer.data)[1], y)

    with ThreadPoolExecutor(4) as pool:
        assert all(pool.map(draw, heights))
    layers = client.http.get(url).json["body"]["layers"]
    assert layers[0]["strokes"] == 16


def test_a_document_is_made_named_and_stands_in_its_project(client: Client) -> None:
    made = client.http.post(client.url("documents"), json={"kind": "sheet", "name": "Second morning"}).json
    renamed = client.http.post(client.url(f"documents/{made['id']}/name"), json={"name": "Third morning"})
    assert renamed.json["name"] == "Third morning"
    documents = client.http.get(f"/api/projects/{client.project}").json["documents"]
    sheets = [d["name"] for d in documents if d["kind"] == "sheet"]
    assert sheets == ["Sheet 1", "Third morning"]


@pytest.mark.parametrize("name", ["", "   ", "x" * 61])
def test_names_that_will_not_do_are_refused(client: Client, name: str) -> None:
    answer = client.http.post("/api/projects", json={"name": name})
    assert answer.status_code == 422
    assert answer.mimetype == "application/problem+json"
    assert set(answer.json) >= {"type", "title", "status", "detail"}, "RFC 9457"


def test_a_second_project_of_the_same_name_is_refused(client: Client) -> None:
    answer = client.http.post("/api/projects", json={"name": "linnet"})
    assert answer.status_code == 422
    assert "There is a project named linnet already" in answer.json["detail"]


def test_an_edit_of_another_kind_of_document_does_not_belong_there(client: Client) -> None:
    studio = client.ids["studio"]
    answer = client.http.post(
        client.url(f"documents/{studio}/edits"), json={"edit": {"kind": "add_layer", "id": "a", "name": "A"}}
    )
    assert answer.status_code == 422
    assert client.http.get(client.url(f"studios/{studio}")).json["standing"]["edits"] == 0


def test_undo_at_the_start_and_redo_at_the_tip_change_nothing(client: Client) -> None:
    sheet = client.ids["sheet"]
    for what in ("undo", "redo"):
        answer: Any = client.http.post(client.url(f"documents/{sheet}/{what}"))
        assert answer.status_code in (200, 422)
        standing = client.http.get(client.url(f"sheets/{sheet}")).json["standing"]
        assert (standing["head"], standing["edits"], standing["can_undo"]) == (None, 0, False)


def test_a_branch_is_left_and_come_back_to(client: Client) -> None:
    sheet = client.ids["sheet"]
    url = client.url(f"documents/{sheet}")
    first = client.edit("add_layer", id="a", name="A").json["standing"]["head"]
    second = client.edit("add_layer", id="b", name="B").json["standing"]["head"]
    client.http.post(f"{url}/go", json={"edit": first})
    third = client.edit("add_layer", id="c", name="C").json["standing"]["head"]

    def names() -> list[str]:
        layers = client.http.get(client.url(f"sheets/{sheet}")).json["body"]["layers"]
        return [layer["name"] for layer in layers]

    assert names() == ["Rough", "A", "C"]
    client.http.post(f"{url}/go", json={"edit": second})
    assert names() == ["Rough", "A", "B"]
    lines = client.http.get(f"{url}/ledger").json["lines"]
    assert {line["id"] for line in lines} == {first, second, third}
    assert {line["parent"] for line in lines if line["id"] in (second, third)} == {first}


def test_colours_drawn_with_are_told_the_most_used_first(client: Client) -> None:
    for y, colour in ((100, "#AA2020"), (200, "#2020AA"), (300, "#2020AA")):
        client.stroke(line(y), colour=colour)
    body = client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json["body"]
    assert body["colours"] == ["#2020AA", "#AA2020"]


def test_a_sheet_is_marked_as_the_chosen_direction(client: Client) -> None:
    assert client.edit("choose", chosen=True).json["standing"]["sentence"] == "Chose this direction"
    assert client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json["body"]["chosen"] is True
    client.edit("choose", chosen=False)
    assert client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json["body"]["chosen"] is False


def test_the_page_takes_another_size_and_paper(client: Client) -> None:
    client.stroke(line(300))
    client.edit("set_page", width=1200, height=800, paper="#E8E4DA")
    body = client.http.get(client.url(f"sheets/{client.ids['sheet']}")).json["body"]
    assert (body["width"], body["height"], body["paper"]) == (1200, 800, "#E8E4DA")
    _, arrays = unpack(client.http.get(client.url(f"sheets/{client.ids['sheet']}/tiles")).data)
    assert arrays["rects"][:, 2].max() == 1200
    assert arrays["rects"][:, 3].max() == 800
    refused = client.edit("set_page", width=99_999, height=10)
    assert refused.status_code == 422


def test_a_request_that_comes_again_is_answered_and_not_carried_out_twice(client: Client) -> None:
    """An answer can be lost on its way; whoever asked for it asks again, and cannot know what became of the first."""
    sheet, form = client.ids["sheet"], client.ids["form"]
    url = client.url(f"sheets/{sheet}/strokes")
    edits = client.url(f"documents/{sheet}/edits")

    def draw(y: float, request: str, seen: int) -> Any:
        headers = {"X-Request": request, "X-Seen": str(seen)}
        query = {"layer": "rough", "size": 8}
        return client.http.post(url, data=line(y).tobytes(), query_string=query, headers=headers)

    first, again = (unpack(draw(200, "a", 0).data) for _ in range(2))
    assert [meta["standing"]["edits"] for meta, _ in (first, again)] == [1, 1]
    assert covered(again[1], 200), "the second answer brings what the first one brought"
    head = first[0]["standing"]["head"]
    unpack(draw(400, "b", head).data)
    late = unpack(draw(200, "a", 0).data)
    assert late[0]["standing"]["edits"] == 2
    assert covered(late[1], 200)
    assert covered(late[1], 400), "an answer tells all that is new since the head that was seen"

    def told(way: str, request: str, **more: Any) -> Any:
        return client.http.post(
            client.url(f"documents/{sheet}/{way}"), json=more or None, headers={"X-Request": request}
        )

    assert [told("undo", "c").json["standing"]["edits"] for _ in range(3)] == [1, 1, 1]
    assert [told("redo", "d").json["standing"]["edits"] for _ in range(2)] == [2, 2]
    assert told("go", "e", edit=None).json["standing"]["edits"] == 0
    told("redo", "f")
    assert told("go", "e", edit=None).json["standing"]["edits"] == 1, "carried out once, it does not pull back later"
    # the name belongs to the request: refused, it can be sent again; and another document's are its own
    page = {"edit": {"kind": "set_page", "width": 3, "height": 3}}
    assert client.http.post(edits, json=page, headers={"X-Request": "g"}).status_code == 422
    page["edit"] = {"kind": "set_page", "width": 900, "height": 700}
    assert client.http.post(edits, json=page, headers={"X-Request": "g"}).status_code == 200
    box = {
        "edit": {
            "kind": "start_part",
            "part": "p",
            "name": "P",
            "start": {"kind": "box", "size": [9, 9, 9], "divisions": [1, 1, 1]},
        }
    }
    other = client.http.post(client.url(f"documents/{form}/edits"), json=box, headers={"X-Request": "h"})
    assert other.json["standing"]["edits"] == 1
    assert client.http.post(edits, json=page, headers={"X-Request": "x" * 65}).status_code == 422


def test_a_request_nested_a_hundred_thousand_deep_is_refused_plainly(client: Client) -> None:
    deep = b'{"edit":' + b"[" * 100_000 + b"]" * 100_000 + b"}"
    url = client.url(f"documents/{client.ids['form']}/edits")
    answer = client.http.post(url, data=deep, content_type="application/json")
    assert (answer.status_code, answer.json["detail"]) == (422, "The request is nested too deeply to be read.")
