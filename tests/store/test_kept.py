"""Projects written by earlier versions open, and are what they were.

`tests/data/kept/kept.marble` and `brindle.marble` were written on 2026-11-26 by the version before the ledger's second migration
(schema 1); `kept.json` says what that version answered.
"""

from __future__ import annotations

import hashlib
import io
import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from hollow_marble.documents.kinds import KINDS
from hollow_marble.documents.studio.model import Studio
from hollow_marble.web.app import create_app

KEPT = Path(__file__).parents[1] / "data" / "kept"
TOLD: dict[str, Any] = json.loads((KEPT / "kept.json").read_text())


@pytest.fixture(scope="module")
def opened(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Any, Any, str]]:
    folder = tmp_path_factory.mktemp("kept")
    (folder / "projects").mkdir()
    for name in ("kept", "brindle"):
        shutil.copy(KEPT / f"{name}.marble", folder / "projects")
    app = create_app(folder, work=False)
    workspace = app.extensions["hollow_marble"].application.workspace
    project = workspace.library.named("Kept")
    yield app.test_client(), project, f"/api/projects/{project.entry.id}"
    app.extensions["hollow_marble"].close()


def _pick(thing: dict[str, Any], *names: str) -> dict[str, Any]:
    return {name: thing[name] for name in names}


def _setting_as_it_was(of: dict[str, Any]) -> dict[str, Any]:
    """A setting in the fields that there were before lamps and sets had kinds."""
    assert of["set"]["kind"] == "sweep"
    assert {lamp["kind"] for lamp in of["lamps"]} <= {"soft box"}
    placed = ("id", "role", "on", "azimuth", "height", "distance", "width", "tall", "power", "warmth")
    return {
        "sweep": _pick(of["set"], "colour", "width", "depth", "cove"),
        "lamps": [_pick(lamp, *placed) for lamp in of["lamps"]],
        "camera": _pick(of["camera"], "focal", "distance", "azimuth", "height", "aim"),
        "finishes": {part: _pick(finish, "material", "colour") for part, finish in of["finishes"].items()},
    }


def _shot_as_it_was(shot: dict[str, Any]) -> dict[str, Any]:
    setting = _setting_as_it_was(shot["setting"])
    return {**_pick(shot, "id", "name", "width", "height"), "setting": setting, **_pick(shot, "form", "form_edit")}


def _studio_as_it_was(studio: Studio) -> dict[str, Any]:
    body = studio.model_dump(mode="json")
    return {"setting": _setting_as_it_was(body["setting"]), "shots": [_shot_as_it_was(shot) for shot in body["shots"]]}


def test_every_line_of_every_ledger_is_the_same_to_the_byte(opened: tuple[Any, Any, str]) -> None:
    _, project, _ = opened
    for name, sha in TOLD["states"].items():
        document, line = name.split(" ")
        edit = None if line == "None" else int(line)
        state = project.ledger.state(document, edit, at_head=False)
        # starts say since the fourth migration that their size is that of their cage; studios have been told anew by the seventh
        then = state.model_dump_json().replace('"sized":"cage",', "")
        if isinstance(state, Studio):
            then = json.dumps(_studio_as_it_was(state), separators=(",", ":"), ensure_ascii=False)
        assert hashlib.sha256(then.encode()).hexdigest() == sha, name
        kind = KINDS[project.ledger.row(document).kind]
        assert kind.read(state.model_dump_json()) == state


def test_heads_branches_marks_and_pages_are_what_they_were(opened: tuple[Any, Any, str]) -> None:
    http, project, base = opened
    for ident, was in TOLD["ledgers"].items():
        row = project.ledger.row(ident)
        assert (row.kind, row.head, row.tip, row.chosen) == (was["kind"], was["head"], was["tip"], was["chosen"])
        assert len(project.ledger.lines(ident)) == was["lines"]
        if was["kind"] == "sheet":
            page = np.asarray(Image.open(io.BytesIO(http.get(f"{base}/sheets/{ident}/page.png").data)))
            assert hashlib.sha256(page.tobytes()).hexdigest() == was["page"]
    since = TOLD["since"]
    found = http.get(f"{base}/sheets/{since['id']}").json["standing"]
    assert found == since, "where it stands, and which version it passed"


def test_undo_and_redo_walk_the_old_branches(opened: tuple[Any, Any, str]) -> None:
    _, project, _ = opened
    studio = next(ident for ident, was in TOLD["ledgers"].items() if was["kind"] == "studio")
    ledger = project.ledger
    head = ledger.row(studio).head
    while ledger.row(studio).head is not None:
        ledger.undo(studio)
    steps = 0
    while ledger.row(studio).head != head:
        ledger.redo(studio)
        steps += 1
    assert steps == TOLD["ledgers"][studio]["lines"]


def test_forms_measure_and_leave_the_same_and_takes_show_their_picture(opened: tuple[Any, Any, str]) -> None:
    http, project, base = opened
    form = project.ledger.rows("form")[0].id
    size = http.get(f"{base}/forms/{form}/size").json
    size.pop("milliseconds")
    was = TOLD["size"]
    assert size.keys() == was.keys()
    # four triangles of each patch lie the other way round since, between the same points
    assert {**size, "area": 0, "volume": 0} == {**was, "area": 0, "volume": 0}
    assert (size["area"], size["volume"]) == pytest.approx((was["area"], was["volume"]), rel=1e-5)
    stl = http.get(f"{base}/forms/{form}/export?format=stl").data
    records = np.frombuffer(stl[84:], [("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("attribute", "<u2")])
    points = np.unique(records["corners"].reshape(-1, 3), axis=0)
    assert hashlib.sha256(points.tobytes()).hexdigest() == TOLD["stl_points"]
    (take,) = http.get(f"{base}/takes").json["takes"]
    was = TOLD["take"]  # its noise was that before cleaning
    take["frozen"] = _shot_as_it_was(take["frozen"])
    assert {key: take[key] for key in was} == {**was, "noise": None}
    assert take["raw_noise"] == was["noise"]
    picture = http.get(f"{base}/takes/{take['id']}/picture?at={take['picture']}")
    assert hashlib.sha256(picture.data).hexdigest() == take["picture"]
    assert "immutable" in picture.headers["Cache-Control"]
    assert http.get(f"{base}/takes/{take['id']}/thread").json == TOLD["thread"]
    part = http.get(f"{base}/takes/{take['id']}/frames/0/picture", headers={"Range": "bytes=10-29"})
    assert (part.status_code, part.data) == (206, picture.data[10:30])
    assert part.headers["Content-Range"] == f"bytes 10-29/{len(picture.data)}"
    beyond = http.get(f"{base}/takes/{take['id']}/frames/0/picture", headers={"Range": "bytes=999999-"})
    assert beyond.status_code == 416
    assert http.get(f"{base}/takes/{take['id']}/frames/0/depth").status_code == 404


def test_the_kettle_of_before_is_worked_out_whole(opened: tuple[Any, Any, str]) -> None:
    http, _, _ = opened
    kettle = next(p["id"] for p in http.get("/api/projects").json["projects"] if p["name"] == "Brindle")
    documents = http.get(f"/api/projects/{kettle}").json["documents"]
    form = next(d["id"] for d in documents if d["kind"] == "form")
    state = http.get(f"/api/projects/{kettle}/forms/{form}").json
    assert state["problems"] == {}
    assert [part["name"] for part in state["body"]["parts"]] == ["Body", "Lid", "Base"]
    assert all(state["keys"].values())
