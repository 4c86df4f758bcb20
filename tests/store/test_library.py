"""The data folder's files come and go while the application runs."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path
from types import SimpleNamespace

import pytest

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.sheet.edits import AddLayer
from hollow_marble.store.database import SUFFIX, Database, FullError, check_room
from hollow_marble.store.library import Library, Project
from hollow_marble.web.app import create_app
from tests.web.test_api import Client


@pytest.fixture
def library(tmp_path: Path) -> Iterator[Library]:
    library = Library(tmp_path)
    yield library
    library.close()


def sheet_of(project: Project) -> str:
    return project.ledger.rows("sheet")[0].id


def add_layer(project: Project, name: str) -> None:
    project.ledger.append(sheet_of(project), AddLayer(id=name, name=name))


def layers(project: Project) -> list[str]:
    return [layer.name for layer in project.ledger.state(sheet_of(project)).layers]  # type: ignore[attr-defined]


def test_where_there_is_no_room_a_new_project_is_refused_and_leaves_nothing(
    library: Library, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """SQLite is told that there are no more pages, and then, as where not even its first page fits, that it cannot write."""
    library.create("Before")
    there = sorted(path.name for path in tmp_path.rglob("*"))
    real = Database._connect

    def crowded(self: Database) -> sqlite3.Connection:
        connection = real(self)
        connection.execute("pragma max_page_count=4")
        return connection

    def unable(self: Database) -> sqlite3.Connection:
        error = sqlite3.OperationalError("disk I/O error")
        error.sqlite_errorcode = sqlite3.SQLITE_IOERR | 3 << 8
        raise error

    for connect in (crowded, unable):
        monkeypatch.setattr(Database, "_connect", connect)
        monkeypatch.setattr("shutil.disk_usage", lambda _: SimpleNamespace(free=0))
        with pytest.raises(FullError, match=r"no room left on the disk for after\.marble") as refused:
            library.create("After")
        assert refused.value.status == 507
        assert sorted(path.name for path in tmp_path.rglob("*")) == there
    monkeypatch.undo()
    add_layer(library.create("After"), "more")


def test_long_work_asks_for_room_first(tmp_path: Path) -> None:
    check_room(tmp_path / "a.marble", 1)
    with pytest.raises(FullError, match=r"a\.marble"):
        check_room(tmp_path / "a.marble", 2**60)


def test_a_project_whose_file_is_taken_away_is_gone_and_there_again_when_it_is_put_back(
    library: Library, tmp_path: Path
) -> None:
    project = library.create("Linnet")
    ident, path = project.entry.id, project.database.path
    add_layer(project, "before")
    path.rename(tmp_path / "aside")
    with pytest.raises(NotFoundError, match="no such project in the data folder"):
        library.get(ident)
    assert library.entries() == []
    (tmp_path / "aside").rename(path)
    again = library.get(ident)
    assert again is not project
    assert "before" in layers(again), "what was acknowledged is in the file that was taken away"
    add_layer(again, "after")
    library.close()
    assert {"before", "after"} <= set(layers(Library(tmp_path).get(ident)))


def test_a_file_that_is_exchanged_for_an_older_copy_of_itself_is_read_anew(library: Library, tmp_path: Path) -> None:
    project = library.create("Linnet")
    ident, path = project.entry.id, project.database.path
    library.close()
    shutil.copy(path, tmp_path / "copy")
    add_layer(library.get(ident), "later")
    for end in ("", "-wal", "-shm"):
        Path(f"{path}{end}").unlink(missing_ok=True)
    (tmp_path / "copy").rename(path)
    older = library.get(ident)
    assert "later" not in layers(older)
    add_layer(older, "kept")
    library.close()
    assert "kept" in layers(Library(tmp_path).get(ident)), "what is written now is written to the file that is there"


def test_of_two_files_of_one_project_the_other_serves_when_one_is_gone(library: Library) -> None:
    project = library.create("Linnet")
    ident, path = project.entry.id, project.database.path
    library.close()
    shutil.copy(path, path.with_name(f"copy-{path.name}"))
    assert len(library.entries()) == 2
    library.get(ident).database.path.unlink()
    assert library.get(ident).database.path.exists()
    assert len(library.entries()) == 1


@pytest.mark.parametrize(("name", "words"), [("  ", "1 to 60 letters"), ("x" * 61, "1 to 60"), ("LINNET ", "already")])
def test_names_that_will_not_do_make_no_file(library: Library, name: str, words: str) -> None:
    library.create("Linnet")
    with pytest.raises(HollowMarbleError, match=words):
        library.create(name)
    assert [entry.name for entry in library.entries()] == ["Linnet"]


def test_a_file_that_is_no_project_is_left_out_and_left_alone(library: Library) -> None:
    library.create("Linnet")
    stray = library.folder / f"notes{SUFFIX}"
    stray.write_bytes(b"not a project" * 100)
    assert [entry.name for entry in library.entries()] == ["Linnet"]
    assert stray.read_bytes() == b"not a project" * 100


def test_requests_for_a_project_that_is_gone_are_told_so_and_pixels_come_back_with_its_file(tmp_path: Path) -> None:
    app = create_app(tmp_path, work=False)
    client = Client(app.test_client())
    address = client.url(f"sheets/{client.ids['sheet']}/page.png")
    before = client.http.get(address).data
    path = next(path for path in (tmp_path / "projects").iterdir() if not path.name.endswith(("-wal", "-shm")))
    path.rename(tmp_path / "aside")
    gone = client.http.get(address)
    assert gone.status_code == 404
    assert "data folder" in gone.json["detail"]
    assert client.http.get("/api/projects").json["projects"] == []
    (tmp_path / "aside").rename(path)
    assert client.http.get(address).data == before
    app.extensions["hollow_marble"].close()
