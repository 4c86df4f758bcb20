"""Long work: one executor, real processes that count, hang, die and fail."""

from __future__ import annotations

import gc
import os
import signal
import socket
import sys
import threading
import weakref
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import psutil
import pytest

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.jobs.executor import Executor, Patience
from hollow_marble.jobs.local import LocalTransport, Trade
from hollow_marble.jobs.task import SOON, CancelledError, Task, Work, blob

pytestmark = pytest.mark.timeout(90)


@dataclass
class TestTrade(Trade):
    __test__ = False

    @property
    def command(self) -> list[str]:
        return [sys.executable, "-m", "tests.jobs.trade", self.name, self.ways[0]]


class HeardTransport(LocalTransport):
    """Counts what is given out, once giving it out is over."""

    def __init__(self, changed: threading.Condition, *trades: Trade) -> None:
        super().__init__(*trades)
        self.changed, self.given = changed, 0

    def give(self, trade: str, run: int, work: Work) -> None:
        super().give(trade, run, work)
        with self.changed:
            self.given += 1
            self.changed.notify_all()


class Hall:
    """An executor with workers for tests, and what it tells."""

    def __init__(self, *ways: str, patience: Patience = Patience()) -> None:  # noqa: B008
        self.changed = threading.Condition()
        self.news: list[tuple[str, Any]] = []
        self.transport = HeardTransport(
            self.changed, TestTrade("t", list(ways) or ["well"], cannot="There is no such worker here. Get one.")
        )
        self.executor = Executor(self.transport, lambda owner, told: self.hear(owner, told), patience)
        self.executor.open(lambda: self.hear("", "noted"))

    def hear(self, owner: str, told: Any) -> None:
        with self.changed:
            self.news.append((owner, told))
            self.changed.notify_all()

    def task(
        self, kind: str, arguments: Any = None, ident: str = "a", content: tuple[Any, ...] = (), **more: Any
    ) -> Task:
        def prepare() -> Work:
            return Work(kind, arguments, tuple(blob(piece) for piece in content))

        fields: dict[str, Any] = {"fails": "It broke twice. Try something smaller.", "prepare": prepare, **more}
        return self.executor.submit(Task(ident, "project", f"Work {ident}", "t", **fields))

    def wait(self, holds: Callable[[], bool]) -> None:
        with self.changed:
            assert self.changed.wait_for(holds, 60), self.news[-4:]

    def shares(self, ident: str = "a") -> list[float]:
        return [told["share"] for _, told in self.news if isinstance(told, dict) and told["id"] == ident]


@pytest.fixture
def hall() -> Iterator[Hall]:
    made = Hall()
    yield made
    made.executor.close()


def go_on(folder: Path, *numbers: int) -> None:
    for number in numbers:
        (folder / str(number)).touch()


def test_work_is_done_told_and_answered(hall: Hall) -> None:
    shown: list[Any] = []
    task = hall.task("count", (4, None), heard=lambda _task, news: shown.append(news))
    assert task.wait() == 4
    assert shown == [1, 2, 3, 4]
    assert hall.shares()[-1] == 1.0
    assert (task.state, task.left) == ("done", 0.0)


def test_content_travels_once_under_its_hash(hall: Hall, monkeypatch: pytest.MonkeyPatch) -> None:
    sent: list[int] = []
    from hollow_marble.jobs import local, messages

    said = local._Worker.say
    monkeypatch.setattr(
        local._Worker,
        "say",
        lambda worker, message: (sent.append(1) if isinstance(message, messages.Blob) else None, said(worker, message)),
    )
    scene = np.arange(200_000.0)
    first, second = (hall.task("sum", ident=name, content=(scene,)) for name in "ab")
    assert first.wait() == second.wait() == pytest.approx(scene.sum())
    assert len(sent) == 1
    assert hall.task("sum", ident="c", content=(scene + 1,)).wait() == pytest.approx((scene + 1).sum())
    assert len(sent) == 2


def test_what_somebody_waits_for_goes_first_and_else_the_oldest(hall: Hall, tmp_path: Path) -> None:
    done: list[str] = []
    running = hall.task("count", (1, tmp_path), ident="running")
    hall.wait(lambda: running.state == "running")
    tasks = [
        hall.task("count", (1, None), ident=name, priority=priority, ended=lambda task: done.append(task.id))
        for name, priority in (("old", 0), ("new", 0), ("asked for", SOON))
    ]
    assert [task.id for task in hall.executor.tasks("project")] == ["running", "asked for", "old", "new"]
    assert hall.executor.tasks("another project") == []
    go_on(tmp_path, 1)
    for task in tasks:
        task.wait()
    assert done == ["asked for", "old", "new"]


def test_waiting_and_running_work_is_given_up(hall: Hall, tmp_path: Path) -> None:
    running, waiting = hall.task("count", (9, tmp_path), ident="a"), hall.task("count", (1, None), ident="b")
    hall.executor.cancel("b")
    with pytest.raises(CancelledError, match="Work b was given up"):
        waiting.wait()
    go_on(tmp_path, 1)
    hall.wait(lambda: running.share > 0)
    assert hall.executor.cancel("a") is running
    with pytest.raises(CancelledError):
        running.wait()
    assert hall.executor.cancel("a") is None
    assert hall.task("count", (2, None), ident="c").wait() == 2, "the worker goes on"


def test_a_worker_killed_in_the_middle_is_replaced_and_its_work_done_again(hall: Hall, tmp_path: Path) -> None:
    task = hall.task("die", tmp_path / "mark")
    assert task.wait() == "done at last"
    assert hall.task("count", (1, None), ident="b").wait() == 1


def test_work_that_takes_its_worker_along_twice_has_failed_and_the_next_goes_on(hall: Hall) -> None:
    pids: list[int] = []
    task = hall.task("die", None, heard=lambda _task, news: pids.append(news))
    with pytest.raises(HollowMarbleError, match="It broke twice"):
        task.wait()
    assert len(set(pids)) == 2, "tried again once, in another process"
    assert hall.task("count", (1, None), ident="b").wait() == 1


def test_a_worker_that_dies_before_it_is_up_is_started_another_way() -> None:
    hall = Hall("never", "well")
    try:
        assert hall.task("count", (3, None)).wait() == 3
        assert hall.transport.way("t") == "well"
    finally:
        hall.executor.close()


def test_where_no_worker_can_be_had_work_fails_with_what_to_do_instead_of_waiting_for_ever() -> None:
    hall = Hall("never")
    try:
        tasks = [hall.task("count", (1, None), ident=name) for name in "abc"]
        for task in tasks:
            with pytest.raises(HollowMarbleError, match="no such worker here"):
                task.wait()
    finally:
        hall.executor.close()


def test_a_program_that_is_not_there_is_no_worker_either(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(TestTrade, "command", property(lambda _trade: ["/no/such/program"]))
    hall = Hall()
    try:
        with pytest.raises(HollowMarbleError, match="no such worker here"):
            hall.task("count", (1, None)).wait()
    finally:
        hall.executor.close()


def test_deaf_work_is_ended_with_its_worker_when_it_is_given_up() -> None:
    hall = Hall(patience=Patience(cancel=0.3))
    pids: list[int] = []
    try:
        task = hall.task("hang", heard=lambda _task, news: pids.append(news))
        hall.wait(lambda: bool(pids))
        hall.executor.cancel("a")
        with pytest.raises(CancelledError):
            task.wait()
        psutil.wait_procs([psutil.Process(pids[0])] if psutil.pid_exists(pids[0]) else [], timeout=20)
        assert not psutil.pid_exists(pids[0])
        assert hall.task("count", (1, None), ident="b").wait() == 1
    finally:
        hall.executor.close()


def test_a_worker_that_reads_nothing_any_more_can_be_given_up() -> None:
    """What is sent to it fills its line; whoever sent it waited, and with it everybody who wanted anything of the executor."""
    hall = Hall(patience=Patience(cancel=0.3))
    try:
        stopped = hall.task("count", (1, None), ident="first")
        stopped.wait()
        pid = hall.transport.pid("t")
        assert pid is not None
        os.kill(pid, signal.SIGSTOP)
        task = hall.task("count", (b"x" * 4_000_000, None))
        with hall.changed:  # until it has been given out
            assert hall.changed.wait_for(lambda: hall.transport.given > 1, 60)
        hall.executor.cancel("a")
        with pytest.raises(CancelledError):
            task.wait()
        assert hall.task("count", (1, None), ident="b").wait() == 1
    finally:
        hall.executor.close()


def test_work_past_its_limit_has_failed(hall: Hall) -> None:
    with pytest.raises(HollowMarbleError, match="It broke twice"):
        hall.task("hang", limit=0.5).wait()
    assert hall.task("count", (1, None), ident="b").wait() == 1


def test_a_silent_worker_is_ended_and_its_work_fails_after_a_second_try() -> None:
    hall = Hall(patience=Patience(silence=2.5))
    try:
        with pytest.raises(HollowMarbleError, match="It broke twice"):
            hall.task("silent").wait()
        assert hall.task("count", (1, None), ident="b").wait() == 1
    finally:
        hall.executor.close()


def test_what_goes_wrong_in_preparing_working_and_hearing_stops_nothing(hall: Hall) -> None:
    def prepare() -> Work:
        raise ZeroDivisionError

    def known() -> Work:
        raise HollowMarbleError("Begin a part first.")

    def deaf(_task: Task, _news: Any) -> None:
        raise RuntimeError

    with pytest.raises(HollowMarbleError, match="Something went wrong in Hollow Marble itself while Work a"):
        hall.task("count", prepare=prepare).wait()
    with pytest.raises(HollowMarbleError, match="Begin a part first"):
        hall.task("count", ident="b", prepare=known).wait()
    with pytest.raises(HollowMarbleError, match="The plank is too short"):
        hall.task("fail", "sentence", ident="c").wait()
    with pytest.raises(HollowMarbleError, match="ZeroDivisionError: in the works"):
        hall.task("fail", "bug", ident="d").wait()
    assert hall.task("count", (2, None), ident="e", heard=deaf, ended=lambda task: deaf(task, None)).wait() == 2
    assert hall.task("count", (2, None), ident="f").wait() == 2


def test_a_task_given_up_while_it_is_made_ready_has_ended_then_and_never_begins(hall: Hall) -> None:
    asked, released, heard = threading.Event(), threading.Event(), list[str]()

    def prepare() -> Work:
        asked.set()
        assert released.wait(60)
        return Work("count", (1, None))

    owners: dict[str, Any] = {
        "begun": lambda task: heard.append(f"{task.id} begun"),
        "ended": lambda task: heard.append(f"{task.id} {task.state}"),
    }
    slow = hall.task("count", prepare=prepare, **owners)
    assert asked.wait(60)
    try:
        assert hall.executor.cancel("a") is slow
        assert slow.state == "cancelled"
        assert hall.executor.cancel("a") is None
        assert hall.task("count", (2, None), ident="b", **owners).wait() == 2  # nobody waits for what was given up
    finally:
        released.set()
    assert hall.task("count", (1, None), ident="c", **owners).wait() == 1
    assert heard == ["a cancelled", "b begun", "b done", "c begun", "c done"]


def test_a_cancelled_task_frees_its_memory(hall: Hall, tmp_path: Path) -> None:
    class Scene:
        """What a task holds while it waits."""

        def __init__(self) -> None:
            self.array = np.zeros(1_000_000)

    scene = Scene()
    held = weakref.ref(scene)
    blocking = hall.task("count", (1, tmp_path), ident="blocking")
    task = hall.task("sum", ident="b", prepare=lambda scene=scene: Work("sum", None, (blob(scene.array),)))
    del scene
    hall.executor.cancel("b")
    with pytest.raises(CancelledError):
        task.wait()
    gc.collect()
    assert held() is None
    hall.executor.cancel("blocking")
    with pytest.raises(CancelledError):
        blocking.wait()


def test_closing_ends_workers_and_those_who_wait(tmp_path: Path) -> None:
    hall = Hall()
    task = hall.task("count", (1, tmp_path))
    waiting = hall.task("count", (1, tmp_path), ident="b")
    hall.wait(lambda: task.state == "running")
    hall.wait(lambda: hall.transport.pid("t") is not None)
    pid = hall.transport.pid("t")
    hall.executor.close()
    for one in (task, waiting):
        with pytest.raises(CancelledError):
            one.wait()
    assert pid is not None
    assert not psutil.pid_exists(pid) or psutil.Process(pid).status() == psutil.STATUS_ZOMBIE
    with pytest.raises(HollowMarbleError, match="closing"):
        hall.task("count", (1, None), ident="c")


def test_a_worker_ends_with_its_server() -> None:
    hall = Hall()
    assert hall.task("count", (1, None)).wait() == 1
    pid = hall.transport.pid("t")
    assert pid is not None
    worker = psutil.Process(pid)
    line = hall.transport._workers["t"].line
    with socket.socket(fileno=os.dup(line.fileno())) as end:
        end.shutdown(socket.SHUT_RDWR)  # as when the server is gone
    psutil.wait_procs([worker], timeout=20)
    assert not worker.is_running() or worker.status() == psutil.STATUS_ZOMBIE
    hall.executor.close()
