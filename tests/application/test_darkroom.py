"""The darkroom with its real worker: pictures, cancel, resume, a killed worker, a restarted server, no renderer, a full disk."""

from __future__ import annotations

import io
import os
import shutil
import signal
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from hollow_marble.application.application import Application
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.edits import StartPart
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio.edits import KeepShot
from hollow_marble.documents.studio.model import Shot, Studio
from hollow_marble.jobs.local import NOTES, PLAIN, LocalTransport, Trade, render_trade
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project
from hollow_marble.store.takes import get_take, take_layer

pytestmark = pytest.mark.timeout(300)


class Room:
    """An application over a folder with one project and one shot, and what it tells."""

    def __init__(self, data: Path, transport: LocalTransport | None = None) -> None:
        self.changed = threading.Condition()
        self.news: list[tuple[str, dict[str, Any]]] = []
        self.application = Application(data, self.hear, transport)
        library = self.application.workspace.library
        self.project: Project = library.named("Linnet") if library.entries() else _begun(self.application)
        self.studio = self.project.ledger.rows("studio")[0].id
        state = self.project.ledger.state(self.studio)
        assert isinstance(state, Studio)
        self.shot: Shot = state.shots[0]
        self.darkroom = self.application.darkroom

    def hear(self, _project: str, kind: str, content: dict[str, Any]) -> None:
        with self.changed:
            self.news.append((kind, content))
            self.changed.notify_all()

    def wait(self, holds: Callable[[], bool], seconds: float = 120) -> None:
        with self.changed:
            assert self.changed.wait_for(holds, seconds), self.news[-3:]

    def ask(self, quality: str = "draft", size: tuple[int, int] | None = None) -> str:
        return self.darkroom.ask(self.project, self.studio, self.shot, quality, size).id

    def take(self, ident: str) -> Any:
        return get_take(self.project.database, ident)

    def ends(self, ident: str, state: str) -> Any:
        self.wait(lambda: self.take(ident).state == state)
        return self.take(ident)

    def told(self, ident: str) -> list[dict[str, Any]]:
        return [content for kind, content in self.news if kind == "take" and content["id"] == ident]


def _begun(application: Application) -> Project:
    project = application.workspace.library.create("Linnet")
    form = project.ledger.rows("form")[0].id
    head, _ = project.ledger.append(
        form, StartPart(part="b", name="Body", start=BoxStart(size=(40, 20, 70), divisions=(2, 2, 2)))
    )
    studio = project.ledger.rows("studio")[0].id
    project.ledger.append(studio, KeepShot(id="hero", name="Hero", width=160, height=100, form=form, form_edit=head))
    return project


@pytest.fixture
def room(tmp_path: Path) -> Iterator[Room]:
    made = Room(tmp_path)
    yield made
    made.application.close()


def picture_of(data: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(data)))


def test_takes_are_developed_cancelled_resumed_and_survive_a_killed_worker(room: Room, tmp_path: Path) -> None:
    room.application.open()
    transport = room.application.executor.transport
    assert isinstance(transport, LocalTransport)

    draft = room.ask()
    take = room.ends(draft, "done")
    assert (take.samples, take.wanted) == (8, 8)
    assert take.noise is not None
    assert take.raw_noise is not None
    assert 0 < take.noise < take.raw_noise / 2, "what is seen is what cleaning left"
    assert take.engine in ("llvm_ad_rgb", "scalar_rgb")
    picture = picture_of(load_asset(room.project.database, take.picture or "")[0])
    assert picture.shape == (100, 160, 3)
    assert picture[:, 60:100].std() > 8, "the product stands out from the sweep"
    assert take_layer(room.project.database, draft, 0, "picture") == take.picture
    assert not list((tmp_path / "cache" / "takes" / draft).glob("*")), "nothing on the way is left over"
    assert room.ends(room.ask(), "done").picture == take.picture, "the same settings give the same picture, to the byte"

    # killed in the middle: the worker comes back and the take goes on from its checkpoint
    first = room.ask("final", (480, 300))
    room.wait(lambda: room.take(first).samples >= 4)
    old = transport.pid("render")
    assert old is not None
    os.kill(old, signal.SIGKILL)
    room.wait(lambda: transport.pid("render") not in (None, old))
    seen = room.take(first).samples
    room.wait(lambda: room.take(first).samples > seen)
    assert room.take(first).state == "developing"
    assert room.darkroom.checkpoint(first).exists()
    shown = [told["picture"] for told in room.told(first) if told["state"] == "developing" and told["samples"]]
    assert all(shown), "there is a picture as soon as there is anything to see"
    assets = room.project.database.rows("select count(*) from asset where media = 'image/png'")[0][0]
    assert assets == 1, "pictures on the way are not in the project"

    # cancelled: the picture so far stays, and the next one in the queue is developed
    second = room.ask()
    assert room.take(second).state == "queued"
    room.darkroom.cancel(room.project, first)
    kept = room.ends(first, "cancelled")
    room.ends(second, "done")
    assert kept.picture is not None
    assert kept.samples < kept.wanted
    with pytest.raises(HollowMarbleError, match="not being developed"):
        room.darkroom.cancel(room.project, first)

    # resumed in another application, as after a restart of the server: it goes on where it was
    room.darkroom.resume(room.project, first)
    room.wait(lambda: room.take(first).state == "developing" and room.take(first).samples > kept.samples)
    room.application.close()
    again = Room(tmp_path)
    again.application.open()
    try:
        again.wait(lambda: again.take(first).samples > kept.samples + 8)
        assert again.take(first).seconds > kept.seconds
        again.darkroom.cancel(again.project, first)
        ended = again.ends(first, "cancelled")
        assert ended.picture != kept.picture
        found = again.project.database.row("select 1 from asset where sha = ?", (kept.picture,))
        assert found is None, "an earlier end's picture is let go"
    finally:
        again.application.close()


def test_what_the_darkroom_cannot_do_is_said(room: Room) -> None:
    with pytest.raises(HollowMarbleError, match="draft, review or final"):
        room.ask("perfect")
    waiting = room.ask()
    assert room.darkroom.cancel(room.project, waiting).state == "cancelled"
    with pytest.raises(HollowMarbleError, match="not waiting"):
        room.darkroom.resume(room.project, room.ask())


def test_a_variant_that_dies_falls_back_to_the_plain_one_and_says_so(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    broken = tmp_path / "libLLVM-19.so"
    broken.write_bytes(b"not a library")
    monkeypatch.setenv("DRJIT_LIBLLVM_PATH", str(broken))
    room = Room(tmp_path)
    try:
        room.application.open()
        room.wait(lambda: room.application.renderer == NOTES[PLAIN])
        assert room.ends(room.ask(), "done").engine == PLAIN
    finally:
        room.application.close()


def test_without_any_renderer_a_take_fails_plainly_and_can_go_on_once_there_is_one(tmp_path: Path) -> None:
    room = Room(tmp_path, LocalTransport(Trade("render", ["no such variant"], cannot=render_trade().cannot)))
    room.application.open()
    take = room.ends(room.ask(), "failed")
    assert "could not be started on this machine" in take.problem
    assert "resume the take" in take.problem
    assert room.ends(room.ask(), "failed").problem == take.problem, "asked again, tried again, said again"
    room.application.close()
    again = Room(tmp_path)
    again.application.open()
    try:
        again.darkroom.resume(again.project, take.id)
        assert again.ends(take.id, "done").problem is None
    finally:
        again.application.close()


def test_a_disk_without_room_for_pictures_on_the_way_fails_the_take_with_what_to_do(room: Room, tmp_path: Path) -> None:
    """What is in the way of a folder is in the way of all that would be written there, checkpoints too."""
    (tmp_path / "cache").mkdir(exist_ok=True)
    (tmp_path / "cache" / "takes").write_text("in the way")
    room.application.open()
    take = room.ends(room.ask(), "failed")
    assert "could not be kept" in take.problem
    assert take.samples == take.wanted, "it was developed all the same"
    (tmp_path / "cache" / "takes").unlink()
    room.darkroom.resume(room.project, take.id)
    assert room.ends(take.id, "done").picture is not None


def test_a_full_project_disk_fails_the_take_and_keeps_what_was_there(room: Room) -> None:
    """SQLite is told that there are no more pages: the same error as on a full disk."""
    room.application.open()
    ident = room.ask("draft", (640, 400))
    database = room.project.database
    with database.write() as connection:
        pages = connection.execute("pragma page_count").fetchone()[0]
        connection.execute(f"pragma max_page_count={pages + 2}")
    take = room.ends(ident, "failed")
    assert "no room left on the disk" in take.problem
    assert database.rows("pragma integrity_check")[0][0] == "ok"
    with database.write() as connection:
        connection.execute("pragma max_page_count=1073741823")
    room.darkroom.resume(room.project, ident)
    assert picture_of(load_asset(database, room.ends(ident, "done").picture)[0]).shape == (400, 640, 3)
    shutil.rmtree(room.darkroom.checkpoint(ident).parent, ignore_errors=True)


def test_something_that_goes_wrong_in_preparing_fails_that_take_and_no_other(
    room: Room, monkeypatch: pytest.MonkeyPatch
) -> None:
    from hollow_marble.application import darkroom

    real = darkroom.scene_of
    monkeypatch.setattr(darkroom, "scene_of", lambda *_: 1 / 0)
    room.application.open()
    assert "Something went wrong in Hollow Marble itself" in room.ends(room.ask(), "failed").problem
    monkeypatch.setattr(darkroom, "scene_of", real)
    room.ends(room.ask(), "done")
