"""Documents on a real database file: edits, undo, branches, versions, snapshots, migrations."""

from __future__ import annotations

import os
import shutil
import sqlite3
import threading
import uuid
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.edit import asset_of
from hollow_marble.documents.kinds import apply
from hollow_marble.documents.sheet.edits import AddLayer, ChangeLayer, FrameView
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.store import states
from hollow_marble.store.assets import keep_asset, keep_assets, load_asset
from hollow_marble.store.database import Database, migrations
from hollow_marble.store.ledger import HeadMovedError, Ledger
from hollow_marble.store.library import Library, Project
from hollow_marble.store.states import FEWEST_EDITS, due


def _sheet(project: Project) -> str:
    return project.ledger.rows("sheet")[0].id


def _names(project: Project) -> list[str]:
    state = project.ledger.state(_sheet(project))
    assert isinstance(state, Sheet)
    return [layer.name for layer in state.layers]


def _add(project: Project, name: str) -> int:
    return project.ledger.append(_sheet(project), AddLayer(id=name.lower(), name=name))[0]


def test_a_new_project_has_one_of_each_document(project: Project) -> None:
    assert [row.kind for row in project.ledger.rows()] == ["board", "brief", "form", "sheet", "studio"]


def test_undo_and_redo_walk_the_ledger(project: Project) -> None:
    sheet = _sheet(project)
    _add(project, "A")
    _add(project, "B")
    project.ledger.undo(sheet)
    assert _names(project) == ["Rough", "A"]
    project.ledger.undo(sheet)
    assert _names(project) == ["Rough"]
    with pytest.raises(HollowMarbleError, match="nothing to undo"):
        project.ledger.undo(sheet)
    project.ledger.redo(sheet)
    project.ledger.redo(sheet)
    assert _names(project) == ["Rough", "A", "B"]
    with pytest.raises(HollowMarbleError, match="nothing to redo"):
        project.ledger.redo(sheet)


def test_an_edit_after_undo_grows_a_branch_and_overwrites_nothing(project: Project) -> None:
    sheet = _sheet(project)
    _add(project, "A")
    left = _add(project, "B")
    project.ledger.undo(sheet)
    right = _add(project, "C")
    assert _names(project) == ["Rough", "A", "C"]
    assert [line.sentence for line in project.ledger.lines(sheet)] == [
        "Added the ink layer A",
        "Added the ink layer B",
        "Added the ink layer C",
    ]
    project.ledger.go_to(sheet, left)
    assert _names(project) == ["Rough", "A", "B"]
    project.ledger.go_to(sheet, right)
    assert _names(project) == ["Rough", "A", "C"]


def test_redo_follows_the_branch_last_stood_on(project: Project) -> None:
    sheet = _sheet(project)
    first = _add(project, "A")
    left = _add(project, "B")
    project.ledger.undo(sheet)
    _add(project, "C")
    project.ledger.go_to(sheet, left)
    project.ledger.undo(sheet)
    assert project.ledger.row(sheet).head == first
    assert project.ledger.redo(sheet) == left


def test_the_start_can_be_returned_to(project: Project) -> None:
    sheet = _sheet(project)
    _add(project, "A")
    newest = _add(project, "B")
    project.ledger.go_to(sheet, None)
    assert _names(project) == ["Rough"]
    project.ledger.redo(sheet)
    project.ledger.redo(sheet)
    assert project.ledger.row(sheet).head == newest


def test_an_edit_that_does_not_fit_is_not_stored(project: Project) -> None:
    sheet = _sheet(project)
    with pytest.raises(NotFoundError, match="no longer there"):
        project.ledger.append(sheet, ChangeLayer(layer="gone", name="X"))
    assert project.ledger.lines(sheet) == []
    assert project.ledger.row(sheet).head is None


def test_an_edit_made_for_another_head_is_refused_and_nothing_is_stored(project: Project) -> None:
    sheet = _sheet(project)
    first = _add(project, "A")
    _add(project, "B")
    with pytest.raises(HeadMovedError, match="Somebody else"):
        project.ledger.append(sheet, AddLayer(id="c", name="C"), [asset_of(b"ink", "x")], expected_head=first)
    assert _names(project) == ["Rough", "A", "B"]
    assert project.database.rows("select count(*) from asset")[0][0] == 0
    project.ledger.append(sheet, AddLayer(id="c", name="C"), [asset_of(b"ink", "x")], project.ledger.row(sheet).head)
    assert _names(project) == ["Rough", "A", "B", "C"]


def test_versions_name_lines(project: Project) -> None:
    sheet = _sheet(project)
    first = _add(project, "A")
    project.ledger.name_version(sheet, first, "waist in")
    _add(project, "B")
    assert project.ledger.version_passed(project.ledger.row(sheet)) == "waist in"
    with pytest.raises(HollowMarbleError, match="already"):
        project.ledger.name_version(sheet, first, "waist in")
    with pytest.raises(NotFoundError, match="not in this ledger"):
        project.ledger.name_version(sheet, 999, "nowhere")


def test_opening_replays_only_what_follows_the_last_snapshot(project: Project, monkeypatch: pytest.MonkeyPatch) -> None:
    sheet = _sheet(project)
    for number in range(2 * FEWEST_EDITS + 5):
        _add(project, f"L{number}")
    project.ledger.states.settle()
    assert 1 <= project.database.rows("select count(*) from snapshot")[0][0] <= 2
    applied: list[object] = []
    monkeypatch.setattr(states, "apply", lambda document, edit: applied.append(edit) or apply(document, edit))
    state = Ledger(project.database).state(sheet)
    assert isinstance(state, Sheet)
    assert len(state.layers) == 2 * FEWEST_EDITS + 6
    assert len(applied) < 2 * FEWEST_EDITS


def test_snapshots_weigh_no_more_than_a_few_documents_however_many_edits(project: Project) -> None:
    """10,000 strokes once made 252 MB of snapshots; due only when half as much has come again, they add up to a few documents."""
    size = edits = weight = written = 0
    document = 3_000
    for _ in range(10_000):
        document, edits, weight = document + 270, edits + 1, weight + 280
        if due(edits, weight, size):
            size, edits, weight, written = document, 0, 0, written + document
    assert written < 4 * document
    assert due(2_000, 10, 10**9), "and opening never replays more than so many"


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=30))
def test_undo_returns_the_same_bytes(tmp_path_factory: pytest.TempPathFactory, steps: list[str]) -> None:
    library = Library(tmp_path_factory.mktemp("undo"))
    project = library.create("P")
    sheet = _sheet(project)
    seen = {None: project.ledger.state(sheet).model_dump_json()}
    count = 0
    for step in steps:
        try:
            if step == "edit":
                count += 1
                head, state = project.ledger.append(
                    sheet, FrameView(id=f"v{count}", view="side", name="s", rect=(0, 0, 20 + count, 30))
                )
                seen[head] = state.model_dump_json()
            elif step == "undo":
                project.ledger.undo(sheet)
            else:
                project.ledger.redo(sheet)
        except HollowMarbleError:
            continue
        head_now = project.ledger.row(sheet).head
        assert Ledger(project.database).state(sheet).model_dump_json() == seen[head_now]
    library.close()


def test_assets_are_kept_once_by_their_hash(project: Project) -> None:
    one = keep_asset(project.database, b"ink", "text/plain")
    assert keep_asset(project.database, b"ink", "text/plain") == one
    assert load_asset(project.database, one) == (b"ink", "text/plain")
    assert project.database.rows("select count(*) from asset")[0][0] == 1
    with pytest.raises(NotFoundError, match="missing"):
        load_asset(project.database, "0" * 64)


def test_a_write_that_fails_leaves_nothing(project: Project) -> None:
    def half_a_write() -> None:
        with project.database.write() as connection:
            keep_assets(connection, [asset_of(b"half", "text/plain")])
            raise RuntimeError

    with pytest.raises(RuntimeError):
        half_a_write()
    assert project.database.rows("select count(*) from asset")[0][0] == 0


def test_every_edit_is_synchronous_in_a_write_ahead_log(project: Project) -> None:
    with project.database.write():  # within a write, what is asked goes to the connection that writes
        (mode,), (synchronous,), (keys,) = (
            project.database.rows(f"pragma {name}")[0] for name in ("journal_mode", "synchronous", "foreign_keys")
        )
    assert (mode, synchronous, keys) == ("wal", 2, 1), "2 is FULL"


def test_the_schema_is_brought_up_to_date_once(tmp_path: Path) -> None:
    path = tmp_path / "a.marble"
    Database(path).close()
    again = Database(path)
    assert again.rows("pragma user_version")[0][0] == len(migrations())
    again.close()


def test_files_that_are_no_projects_are_refused_in_a_sentence(tmp_path: Path) -> None:
    text = tmp_path / "notes.marble"
    text.write_text("not a database at all, " * 50)
    with pytest.raises(HollowMarbleError, match="not a Hollow Marble project"):
        Database(text)
    other = tmp_path / "other.marble"
    foreign = sqlite3.connect(other)
    foreign.execute("create table x (y)")
    foreign.commit()
    foreign.close()
    with pytest.raises(HollowMarbleError, match="not a Hollow Marble project"):
        Database(other)
    newer = tmp_path / "newer.marble"
    database = Database(newer)
    database.rows("pragma user_version=99")
    database.close()  # nothing in it says who can read it
    with pytest.raises(HollowMarbleError, match="newer Hollow Marble"):
        Database(newer)


def test_projects_are_found_by_name_and_names_are_unique(library: Library) -> None:
    library.create("Linnet", "Alder Row")
    library.create("Línnet two")
    assert library.named("linnet").entry.maker == "Alder Row"
    assert {path.name for path in library.folder.glob("*.marble")} == {"linnet.marble", "linnet-two.marble"}
    with pytest.raises(HollowMarbleError, match="already"):
        library.create("LINNET")
    with pytest.raises(HollowMarbleError, match="needs a name"):
        library.create("   ")
    with pytest.raises(NotFoundError, match="Projects here: Línnet two, Linnet"):
        library.named("Brindle")


def test_one_copied_file_is_the_whole_project(library: Library, tmp_path: Path) -> None:
    project = library.create("Linnet")
    _add(project, "A")
    sha = keep_asset(project.database, b"picture", "image/png")
    path = project.database.path
    library.close()
    other = Library(tmp_path / "elsewhere")
    (other.folder / "copied.marble").write_bytes(path.read_bytes())
    copied = other.named("Linnet")
    assert _names(copied) == ["Rough", "A"]
    assert load_asset(copied.database, sha)[0] == b"picture"
    other.close()


def open_files() -> int:
    return len(os.listdir("/proc/self/fd"))


def test_open_files_stay_few_with_many_threads_and_projects(library: Library) -> None:
    """A server has 56 threads; files open per thread once ran a machine of 1,024 open files dry."""
    before = open_files()
    project = library.create("Busy")
    sheet = project.ledger.rows("sheet")[0].id
    barrier = threading.Barrier(40)

    def look() -> str:
        barrier.wait()
        project.ledger.append(sheet, AddLayer(id=uuid.uuid4().hex, name="x"))
        return project.ledger.row(sheet).name

    with ThreadPoolExecutor(40) as pool:
        assert list(pool.map(lambda _: look(), range(40))) == ["Sheet 1"] * 40
    assert open_files() - before < 16
    library.close()
    for number in range(30):
        shutil.copy(project.database.path, library.folder / f"copy{number}.marble")
    assert len(library.entries()) == 31
    assert open_files() - before < 8


def test_what_is_read_inside_a_write_is_what_was_written(project: Project) -> None:
    """And nobody else sees it before the write is done."""
    seen: list[int] = []

    def count() -> int:
        return int(project.database.rows("select count(*) from asset")[0][0])

    with project.database.write() as connection:
        connection.execute("insert into asset (sha, bytes, media) values ('a', x'00', 'x')")
        assert count() == 1
        other = threading.Thread(target=lambda: seen.append(count()))
        other.start()
        other.join()
    assert seen == [0]
    assert count() == 1
