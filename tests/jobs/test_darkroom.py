"""The darkroom with its real worker: pictures, cancel, resume, a killed worker, a restarted server."""

from __future__ import annotations

import io
import os
import signal
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import psutil
import pytest
from PIL import Image

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.edits import StartPart
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio.edits import KeepShot
from hollow_marble.documents.studio.model import Shot, Studio
from hollow_marble.jobs import tracer_process
from hollow_marble.jobs.darkroom import Darkroom
from hollow_marble.jobs.tracer_process import TracerProcess
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Library, Project
from hollow_marble.store.takes import get_take


class Watch:
    """Hears the darkroom's news and waits for what it says."""

    def __init__(self) -> None:
        self.changed = threading.Condition()
        self.news: list[tuple[str, dict[str, Any]]] = []

    def __call__(self, project: str, kind: str, content: dict[str, Any]) -> None:
        with self.changed:
            self.news.append((kind, content))
            self.changed.notify_all()

    def wait(self, holds: Callable[[], bool], seconds: float = 90) -> None:
        with self.changed:
            assert self.changed.wait_for(holds, seconds), self.news[-3:]


@pytest.fixture
def set_up(library: Library) -> tuple[Project, str, Shot]:
    project = library.create("Linnet")
    form = project.ledger.rows("form")[0].id
    head, _ = project.ledger.append(
        form, StartPart(part="b", name="Body", start=BoxStart(size=(40, 20, 70), divisions=(2, 2, 2)))
    )
    studio = project.ledger.rows("studio")[0].id
    project.ledger.append(studio, KeepShot(id="hero", name="Hero", width=160, height=100, form=form, form_edit=head))
    state = project.ledger.state(studio)
    assert isinstance(state, Studio)
    return project, studio, state.shots[0]


@pytest.fixture
def darkroom(library: Library, set_up: object, tmp_path: Path) -> Iterator[tuple[Darkroom, Watch]]:
    watch = Watch()
    room = Darkroom(library, tmp_path / "cache", watch)
    room.open()
    yield room, watch
    room.close()


def _state(project: Project, take: str) -> str:
    return get_take(project.database, take).state


@pytest.mark.timeout(300)
def test_takes_are_developed_cancelled_resumed_and_survive_a_killed_worker(
    darkroom: tuple[Darkroom, Watch], set_up: tuple[Project, str, Shot], library: Library
) -> None:
    room, watch = darkroom
    project, studio, shot = set_up

    draft = room.ask(project, studio, shot, "draft").id
    watch.wait(lambda: _state(project, draft) == "done")
    take = get_take(project.database, draft)
    assert (take.samples, take.wanted) == (8, 8)
    assert take.noise is not None
    assert take.engine in ("llvm_ad_rgb", "scalar_rgb")
    picture = np.asarray(Image.open(io.BytesIO(load_asset(project.database, take.picture or "")[0])))
    assert picture.shape == (100, 160, 3)
    assert picture[:, 60:100].std() > 8, "the product stands out from the sweep"

    # killed in the middle: the worker comes back and the take goes on from its checkpoint
    first = room.ask(project, studio, shot, "final", (960, 600)).id
    watch.wait(lambda: get_take(project.database, first).samples >= 4)
    checkpoint = room._checkpoint(first)
    old = room.tracer.pid
    assert old is not None
    os.kill(old, signal.SIGKILL)
    watch.wait(lambda: room.tracer.pid not in (None, old))
    seen = get_take(project.database, first).samples
    watch.wait(lambda: get_take(project.database, first).samples > seen)
    assert _state(project, first) == "developing"
    assert checkpoint.exists()

    # cancelled: the picture so far stays, and the next one in the queue is developed
    second = room.ask(project, studio, shot, "draft").id
    assert _state(project, second) == "queued"
    room.cancel(project, first)
    watch.wait(lambda: _state(project, first) == "cancelled")
    watch.wait(lambda: _state(project, second) == "done")
    kept = get_take(project.database, first)
    assert kept.picture is not None
    assert kept.samples < kept.wanted
    with pytest.raises(HollowMarbleError, match="not being developed"):
        room.cancel(project, first)

    # resumed in another darkroom, as after a restart of the server: it goes on where it was
    room.resume(project, first)
    watch.wait(
        lambda: _state(project, first) == "developing" and get_take(project.database, first).samples > kept.samples
    )
    room.close()
    again = Watch()
    other = Darkroom(library, checkpoint.parents[1], again)
    other.open()
    try:
        again.wait(lambda: get_take(project.database, first).samples > kept.samples + 8)
        assert get_take(project.database, first).seconds > kept.seconds
        other.cancel(project, first)
        again.wait(lambda: _state(project, first) == "cancelled")
    finally:
        other.close()


def test_what_the_darkroom_cannot_do_is_said(
    library: Library, set_up: tuple[Project, str, Shot], tmp_path: Path
) -> None:
    project, studio, shot = set_up
    room = Darkroom(library, tmp_path / "cache", Watch())
    with pytest.raises(HollowMarbleError, match="draft, review or final"):
        room.ask(project, studio, shot, "perfect")
    waiting = room.ask(project, studio, shot, "draft")
    assert room.cancel(project, waiting.id).state == "cancelled"
    with pytest.raises(HollowMarbleError, match="not waiting"):
        room.resume(project, room.ask(project, studio, shot, "draft").id)


@pytest.mark.timeout(180)
def test_a_variant_that_dies_falls_back_to_the_plain_one_and_says_so(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    broken = tmp_path / "libLLVM-19.so"
    broken.write_bytes(b"not a library")
    monkeypatch.setenv("DRJIT_LIBLLVM_PATH", str(broken))
    ready, heard = threading.Event(), []
    tracer: list[TracerProcess] = []

    def on_message(message: object) -> None:
        heard.append(message)
        ready.set()

    tracer.append(TracerProcess(on_message, lambda: tracer[0].start()))
    try:
        tracer[0].start()
        assert ready.wait(120)
        assert tracer[0].variant == "scalar_rgb"
        assert tracer[0].note == tracer_process.NOTE_PLAIN
    finally:
        tracer[0].close()


def test_the_worker_ends_with_its_server(tmp_path: Path) -> None:
    ready = threading.Event()
    tracer = TracerProcess(lambda _: ready.set(), lambda: None)
    tracer.start()
    assert ready.wait(120)
    worker = psutil.Process(tracer.pid)
    process = tracer._process
    assert process is not None
    assert process.stdin is not None
    process.stdin.close()
    psutil.wait_procs([worker], timeout=20)
    assert not worker.is_running() or worker.status() == psutil.STATUS_ZOMBIE
    tracer.close()
