"""The shelf: projects are named, copied, put away and brought back, and travel as files."""

from __future__ import annotations

import sqlite3
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from hollow_marble.store.database import migrations
from tests.web.test_api import Client


def shelf(client: Client) -> list[dict[str, Any]]:
    return client.http.get("/api/projects").json["projects"]


def names(client: Client) -> list[str]:
    return [card["name"] for card in shelf(client)]


def file_of(client: Client) -> bytes:
    answer = client.http.get(client.url("file"))
    assert "filename=Linnet.marble" in answer.headers["Content-Disposition"]
    return answer.data


def send(client: Client, data: bytes, name: str = "linnet.marble") -> Any:
    return client.http.post(f"/api/projects/file?name={name}", data=data, content_type="application/octet-stream")


def sheet(client: Client, project: str) -> Any:
    return client.http.get(f"/api/projects/{project}/sheets/{client.ids['sheet']}").json


def test_the_shelf_tells_the_last_change_the_size_and_what_it_looks_like(client: Client) -> None:
    client.http.post("/api/projects", json={"name": "Brindle"})
    assert names(client) == ["Brindle", "Linnet"], "the one changed last comes first"
    (first,) = [card for card in shelf(client) if card["name"] == "Linnet"]
    assert first["picture"] is None, "nothing was drawn"
    client.edit("add_layer", id="clean", name="clean")
    assert names(client) == ["Linnet", "Brindle"]
    card = shelf(client)[0]
    assert card["changed"] > first["changed"]
    assert card["bytes"] == sum(path.stat().st_size for path in client_files(client)) > 10_000
    assert client.http.get(card["picture"]).mimetype == "image/png"


def client_files(client: Client) -> list[Path]:
    folder = client.http.application.extensions["hollow_marble"].application.workspace.library.folder
    return list(folder.glob("linnet.marble*"))


def test_a_project_is_renamed_in_place(client: Client) -> None:
    named = client.http.post(client.url("name"), json={"name": "  Wren ", "maker": "Alder Row"})
    assert named.json["project"]["name"] == "Wren"
    assert names(client) == ["Wren"]
    assert client.http.post(client.url("name"), json={"name": "wren", "maker": ""}).status_code == 200, "its own name"
    client.http.post("/api/projects", json={"name": "Brindle"})
    refused = client.http.post(client.url("name"), json={"name": "BRINDLE"})
    assert (refused.status_code, names(client)) == (422, ["Brindle", "wren"])
    assert "already" in refused.json["detail"]


def test_a_copy_goes_on_by_itself(client: Client) -> None:
    client.edit("add_layer", id="clean", name="clean")
    copy = client.http.post(client.url("duplicate")).json["project"]
    assert (copy["name"], copy["id"] != client.project) == ("Linnet copy", True)
    assert sheet(client, copy["id"])["body"] == sheet(client, client.project)["body"]
    client.edit("remove_layer", layer="clean")
    assert [layer["name"] for layer in sheet(client, copy["id"])["body"]["layers"]][-1] == "clean"
    again = client.http.post(client.url("duplicate")).json["project"]["name"]
    assert again == "Linnet copy 2"


def test_a_project_put_away_comes_back_as_it_was(client: Client) -> None:
    client.edit("add_layer", id="clean", name="clean")
    before = sheet(client, client.project)
    away = client.http.post(client.url("away")).json["projects"]
    assert [entry["name"] for entry in away] == ["Linnet"]
    assert names(client) == []
    assert client.http.get(client.url("")[:-1]).status_code == 404
    client.http.post("/api/projects", json={"name": "Linnet"})
    back = client.http.post(client.url("back")).json["project"]
    assert (back["id"], back["name"]) == (client.project, "Linnet 2"), "its name was taken meanwhile"
    assert sheet(client, client.project) == before
    assert client.http.get("/api/projects/away").json["projects"] == []
    assert client.http.post(client.url("back")).status_code == 404


def test_a_hand_that_still_holds_a_project_put_away_writes_nowhere(client: Client) -> None:
    library = client.http.application.extensions["hollow_marble"].application.workspace.library
    held = library.get(client.project)
    client.http.post(client.url("away"))
    with pytest.raises(Exception, match="put away or moved"):
        held.ledger.rows()
    assert list(library.folder.iterdir()) == [], "no empty file was made in its place"


def test_a_take_in_the_darkroom_keeps_a_project_on_the_shelf(client: Client) -> None:
    client.box()
    studio, form = client.ids["studio"], client.ids["form"]
    head = client.http.get(client.url(f"forms/{form}")).json["standing"]["head"]
    shot = client.edit("keep_shot", id="s", name="Shot 1", width=64, height=40, form=form, form_edit=head)
    assert shot.status_code == 200
    take = client.http.post(client.url(f"studios/{studio}/takes"), json={"shot": "s", "quality": "draft"})
    assert take.status_code == 200
    refused = client.http.post(client.url("away"))
    assert refused.status_code == 422
    assert "darkroom" in refused.json["detail"]
    copy = client.http.post(client.url("duplicate")).json["project"]["id"]
    (copied,) = client.http.get(f"/api/projects/{copy}/takes").json["takes"]
    assert (copied["state"], "copied before" in copied["problem"]) == ("failed", True)


def test_a_project_leaves_as_one_file_and_comes_in_as_one(client: Client) -> None:
    client.edit("add_layer", id="clean", name="clean")
    data = file_of(client)
    arrived = send(client, data).json
    assert arrived["project"]["name"] == "Linnet 2"
    assert arrived["said"] == "Linnet is here already, so it came in as Linnet 2."
    assert arrived["project"]["id"] != client.project
    assert sheet(client, arrived["project"]["id"])["body"] == sheet(client, client.project)["body"]
    client.http.post(client.url("away"))
    assert send(client, data).json["project"]["id"] == client.project, "where the other is away it is itself"


def test_a_project_of_an_earlier_format_says_so_and_opens(client: Client) -> None:
    kept = sorted((Path(__file__).parents[1] / "data").glob("**/*.marble*"))
    assert kept, "projects of earlier formats are kept for this"
    for path in kept:
        data = path.read_bytes()
        if path.suffix != ".marble":
            continue
        arrived = send(client, data, path.name)
        assert arrived.status_code == 200, arrived.json
        assert f"brought up to format {len(migrations())}" in arrived.json["said"]
        project, documents = arrived.json["project"]["id"], arrived.json["documents"]
        for document in documents:
            place = f"/api/projects/{project}/{document['kind']}s/{document['id']}"
            assert client.http.get(place).status_code == 200


def tampered(data: bytes, tmp_path: Path, *statements: str) -> bytes:
    path = tmp_path / "tampered.sqlite"
    path.write_bytes(data)
    connection = sqlite3.connect(path, isolation_level=None)
    for statement in statements:
        connection.execute(statement)
    connection.close()
    return path.read_bytes()


@pytest.mark.parametrize(
    "statements",
    [
        ("create trigger t after insert on edit begin delete from edit; end",),
        ("create view v as select * from edit",),
        ("create table more (id integer)",),
        ("drop table take_layer",),
        ("create index by_size on edit (length(body))",),
        ("pragma application_id=7",),
        ("pragma user_version=0",),
        ("pragma user_version=1",),
        ("pragma foreign_keys=off", "update document set head = 99999"),
    ],
    ids=lambda statements: statements[-1].split(" ")[1],
)
def test_a_file_that_holds_more_or_less_than_a_project_is_refused(
    client: Client, tmp_path: Path, statements: tuple[str, ...]
) -> None:
    """SQLite, "Defense Against The Dark Arts": a file can carry what runs when it is read."""
    refused = send(client, tampered(file_of(client), tmp_path, *statements))
    assert refused.status_code == 422, refused.json
    assert "not a Hollow Marble project" in refused.json["detail"]
    nothing_stayed(client)


def nothing_stayed(client: Client) -> None:
    assert names(client) == ["Linnet"]
    workspace = client.http.application.extensions["hollow_marble"].application.workspace
    assert list((workspace.data / "cache" / "coming").iterdir()) == []


def test_a_file_of_a_newer_format_says_what_to_do(client: Client, tmp_path: Path) -> None:
    later = "update project set value = '99' where key = 'readable_from'"
    refused = send(client, tampered(file_of(client), tmp_path, "pragma user_version=99", later), "wren.marble")
    assert refused.status_code == 422
    assert "wren.marble was written by a newer Hollow Marble (format 99" in refused.json["detail"]


NEWER = ("create table cleverer (id integer, thought text)", "pragma user_version=99")


def test_a_newer_project_that_says_it_can_be_read_here_is_opened_to_look_at(client: Client, tmp_path: Path) -> None:
    client.stroke(np.array([[300, 300, 0.5, 0], [500, 320, 0.7, 0]], np.float32))
    data = tampered(file_of(client), tmp_path, *NEWER)
    there_already = send(client, data)
    assert (there_already.status_code, "Rename or put away" in there_already.json["detail"]) == (422, True)
    nothing_stayed(client)
    before = sheet(client, client.project)
    pixels = client.http.get(client.url(f"sheets/{client.ids['sheet']}/page.png")).data
    client.http.post(client.url("away"))
    arrived = send(client, data)
    assert arrived.status_code == 200, arrived.json
    assert arrived.json["project"]["newer"]
    assert "can be looked at here, not changed" in arrived.json["said"]
    assert sheet(client, client.project)["body"] == before["body"]
    assert client.http.get(client.url(f"sheets/{client.ids['sheet']}/page.png")).data == pixels
    for path, body in (
        (
            f"documents/{client.ids['sheet']}/edits",
            {"edit": {"kind": "add_layer", "id": "n", "name": "n", "holds": "ink"}},
        ),
        (f"documents/{client.ids['sheet']}/undo", {}),
        ("name", {"name": "Wren"}),
        ("documents", {"kind": "sheet", "name": "Another"}),
        ("duplicate", {}),
    ):
        refused = client.http.post(client.url(path), json=body)
        assert refused.status_code in (409, 422), (path, refused.json)
        assert "newer Hollow Marble" in refused.json["detail"], path
    assert file_of(client)[:16] == data[:16], "it leaves as it came"
    client.http.post(client.url("away"))
    assert client.http.post(client.url("back")).json["project"]["newer"]


@pytest.mark.parametrize(
    "more", ["create trigger t after insert on edit begin delete from edit; end", "drop table take_layer"]
)
def test_a_newer_project_may_hold_more_tables_and_nothing_else(client: Client, tmp_path: Path, more: str) -> None:
    refused = send(client, tampered(file_of(client), tmp_path, *NEWER, more))
    assert "not a Hollow Marble project" in refused.json["detail"]
    nothing_stayed(client)


@pytest.mark.parametrize("how", ["empty", "words", "cut", "damaged"])
def test_a_file_that_is_none_or_damaged_is_refused(client: Client, how: str) -> None:
    whole = file_of(client)
    middle = len(whole) // 2
    data = {
        "empty": b"",
        "words": b"not a project" * 1000,
        "cut": whole[:middle],
        "damaged": whole[:4096] + bytes(len(whole) - 4096),
    }[how]
    refused = send(client, data)
    assert refused.status_code == 422, refused.json
    nothing_stayed(client)


def test_a_body_longer_than_a_project_can_be_is_refused_unread(client: Client) -> None:
    answer = client.http.post("/api/projects/file", environ_overrides={"CONTENT_LENGTH": str(1 << 40)})
    assert answer.status_code == 422
    assert "data folder" in answer.json["detail"]


def test_the_demo_comes_whole_or_not_at_all(client: Client) -> None:
    client.http.post(client.url("name"), json={"name": "Wren"})
    begun = client.http.post("/api/demo").json
    assert begun["busy"]
    assert client.http.post("/api/demo").json["busy"], "asked twice it is built once"
    seen = set()
    while (told := client.http.get("/api/demo").json)["busy"]:
        seen.add(told["what"])
        time.sleep(0.05)  # the demo is asked after, as the page does
    assert told["problem"] == ""
    assert len(seen) > 2, seen
    assert set(told["projects"]) == {"Linnet", "Brindle", "Sorrel", "Tansy"}
    takes = client.http.get(f"/api/projects/{told['projects']['Linnet']}/takes").json["takes"]
    assert len(takes) == 2
    assert sorted(names(client)) == ["Brindle", "Linnet", "Sorrel", "Tansy", "Wren"]
    assert not client.http.post("/api/demo").json["busy"], "where it is here nothing is built"
