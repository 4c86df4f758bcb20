"""The one place where long work waits its turn, is given out, watched, tried again, and given up.

A worker that dies takes its task along once: it is tried again, and if that fails too, it has failed with its owner's sentence. A
worker that is silent for too long, that works past a task's limit, or that does not let go of a cancelled task, is ended.
"""

from __future__ import annotations

import contextlib
import heapq
import itertools
import logging
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.locks import TASKS, RankedLock
from hollow_marble.jobs.messages import Done, Failed, Progress
from hollow_marble.jobs.task import State, Task, Work
from hollow_marble.jobs.transport import News, Transport

_log = logging.getLogger(__name__)

_LOOK_EVERY = 0.25


@dataclass(frozen=True)
class Patience:
    """Seconds: of silence of a worker, and from a cancel to its end."""

    silence: float = 90.0
    cancel: float = 8.0


@dataclass(eq=False)
class _Run:
    """A task that has been given out."""

    task: Task
    number: int
    tries: int = 1
    work: Work | None = None
    began: float = 0.0
    cancelled_at: float | None = None


class Executor:
    """Runs tasks, one at a time a trade. Methods may be called from any thread.

    `tell` hears of every task that moves on: the owner and what the screen shows.
    """

    def __init__(
        self,
        transport: Transport,
        tell: Callable[[str, dict[str, Any]], None] | None = None,
        patience: Patience = Patience(),
    ) -> None:
        self.transport, self._patience = transport, patience
        self._tell = tell or (lambda _owner, _told: None)
        self._noted: Callable[[], None] = lambda: None
        self._lock = RankedLock("tasks", TASKS)
        self._order = itertools.count(1)
        self._numbers = itertools.count(1)
        self._waiting: dict[str, list[tuple[int, int, _Run]]] = {}
        self._running: dict[str, _Run] = {}
        self._hand = ThreadPoolExecutor(2, thread_name_prefix="preparing")
        self._speech = ThreadPoolExecutor(1, thread_name_prefix="task news")
        self._closing = threading.Event()
        self._opened = self._closed = False
        self._watch = threading.Thread(target=self._keep_watch, name="watch", daemon=True)

    def open(self, noted: Callable[[], None] | None = None) -> None:
        """Begin to give work out; till then tasks wait. `noted` is called when what is said of a trade changes."""
        with self._lock:
            self._noted = noted or self._noted
            if self._opened or self._closed:
                return
            self._opened = True
            self.transport.open(self)
            self._watch.start()
            trades = list(self._waiting)
        for trade in trades:
            self._next(trade)

    def submit(self, task: Task) -> Task:
        """Put a task into the queue."""
        with self._lock:
            if self._closed:
                raise HollowMarbleError("Hollow Marble is closing. Start it again first.")
            self._queue(_Run(task, next(self._numbers)))
        self._said(task)
        self._next(task.trade)
        return task

    def tasks(self, owner: str) -> list[Task]:
        """Tasks of a project that wait or run, running ones first."""
        with self._lock:
            runs = [
                *self._running.values(),
                *(run for queue in self._waiting.values() for _, _, run in sorted(queue, key=_turn)),
            ]
        return [run.task for run in runs if run.task.owner == owner]

    def cancel(self, ident: str) -> Task | None:
        """Give a task up: one no worker has yet has ended then, one that runs is about to. None where there is none of that id."""
        with self._lock:
            for queue in self._waiting.values():
                for entry in queue:
                    if entry[2].task.id == ident:
                        queue.remove(entry)
                        heapq.heapify(queue)
                        self._end(entry[2], "cancelled")
                        return entry[2].task
            for trade, run in self._running.items():
                if run.task.id != ident or run.cancelled_at is not None:
                    continue
                if run.began:
                    run.cancelled_at = time.monotonic()
                    self.transport.stop(trade, run.number)
                    return run.task
                self._end(run, "cancelled")  # still made ready: no worker has it
                break
            else:
                return None
        self._next(trade)
        return run.task

    def close(self) -> None:
        """Stop; tasks that have not ended are given up without a word."""
        with self._lock:
            self._closed = True
            left = [*self._running.values(), *(run for queue in self._waiting.values() for _, _, run in queue)]
            self._waiting.clear()
            self._running.clear()
        for run in left:
            run.task.state = "cancelled"
            run.task.over.set()
        self._closing.set()
        self.transport.close()
        self._hand.shutdown(wait=True)
        self._speech.shutdown(wait=True)
        if self._watch.is_alive():
            self._watch.join()

    # what the transport tells

    def heard(self, trade: str, news: News) -> None:
        """A run has made progress or ended."""
        with self._lock:
            run = self._running.get(trade)
            if run is None or run.number != news.run:
                return
            task = run.task
            if isinstance(news, Progress):
                task.share, task.left = news.share, news.left
            elif isinstance(news, Done):
                task.share, task.left, task.result = 1.0, 0.0, news.result
                self._end(run, "done")
            elif isinstance(news, Failed):
                self._end(run, "failed", news.problem)
            else:
                self._end(run, "cancelled")
        if isinstance(news, Progress):
            self._speak(self._show, task, news.news)
        else:
            self._next(trade)

    def noted(self, trade: str) -> None:
        """What is said of a trade has changed."""
        self._noted()

    def gone(self, trade: str, why: str | None, at_work: bool) -> None:
        """A trade's worker is gone: its task is tried again once, then it has failed."""
        with self._lock:
            run = self._running.pop(trade, None)
            if run is not None:
                if run.cancelled_at is not None:
                    self._end(run, "cancelled")
                elif why is not None or run.tries >= run.task.tries or time.monotonic() - run.began > run.task.limit:
                    self._end(run, "failed", why or run.task.fails)
                else:
                    run.tries += int(at_work)
                    run.number = next(self._numbers)
                    self._queue(run, first=True)
            if why is not None:
                for _, _, waiting in self._waiting.pop(trade, []):
                    self._end(waiting, "failed", why)
        self._noted()
        self._next(trade)

    # the queue

    def _queue(self, run: _Run, first: bool = False) -> None:
        run.task.state, run.began = "queued", 0.0
        place = -next(self._order) if first else next(self._order)
        heapq.heappush(self._waiting.setdefault(run.task.trade, []), (-run.task.priority, place, run))

    def _next(self, trade: str) -> None:
        """Give the next task of a trade out, where none runs."""
        with self._lock:
            queue = self._waiting.get(trade)
            if not self._opened or self._closed or trade in self._running or not queue:
                return
            run = heapq.heappop(queue)[2]
            run.task.state = "running"
            self._running[trade] = run
        self._said(run.task)
        if run.task.work is not None:
            self._prepare(trade, run)  # nothing to work out: whoever prepares other work may be waiting for this
            return
        with contextlib.suppress(RuntimeError):  # closing
            self._hand.submit(self._prepare, trade, run)

    def _prepare(self, trade: str, run: _Run) -> None:
        """Work out what a task's worker is to do, and give it out."""
        problem: str | None = None
        with self._lock:
            if self._running.get(trade) is not run:
                return  # given up meanwhile
            work, prepare = run.work or run.task.work, run.task.prepare
        try:
            if work is None:
                assert prepare is not None
                work = prepare()
        except HollowMarbleError as error:
            problem = str(error)
        except Exception:  # noqa: BLE001 — whatever it is, the queue goes on and the owner is told
            _log.exception("preparing %s failed", run.task.what)
            problem = f"Something went wrong in Hollow Marble itself while {run.task.what} was made ready. Nothing else is affected."
        with self._lock:
            if self._running.get(trade) is not run:
                return
            if problem is None:
                assert work is not None
                run.work, run.began = work, time.monotonic()
                if run.task.begun is not None:
                    self._speak(run.task.begun, run.task)
                self.transport.give(trade, run.number, work)
                return
            self._end(run, "failed", problem)
        self._next(trade)

    def _end(self, run: _Run, state: State, problem: str | None = None) -> None:
        """A task has ended; what it held is let go. The lock is held by whoever asks."""
        task = run.task
        if self._running.get(task.trade) is run:
            del self._running[task.trade]
        task.state, task.problem, task.prepare, task.work, run.work = state, problem, None, None, None
        self._speak(self._ended, task)

    def _ended(self, task: Task) -> None:
        try:
            if task.ended is not None:
                task.ended(task)
        finally:
            task.over.set()
            self._said(task)

    def _show(self, task: Task, news: Any) -> None:
        if task.heard is not None and news is not None:
            task.heard(task, news)
        self._said(task)

    def _said(self, task: Task) -> None:
        if task.quiet and not task.heard_of:
            return
        self._tell(task.owner, task.told())

    def _speak(self, speech: Callable[..., None], *words: Any) -> None:
        """Tell owners from a thread of its own, in order; an owner that fails to hear stops nobody."""

        def said() -> None:
            try:
                speech(*words)
            except Exception:  # noqa: BLE001 — as above
                _log.exception("a task's owner could not take its news")

        with contextlib.suppress(RuntimeError):  # closing
            self._speech.submit(said)

    def _keep_watch(self) -> None:
        while not self._closing.wait(_LOOK_EVERY):
            with self._lock:
                runs = list(self._running.items())
            for trade, run in runs:
                if run.began and not run.task.heard_of and time.monotonic() - run.began > run.task.quiet:
                    run.task.heard_of = True
                    self._speak(self._said, run.task)
                if self._must_go(trade, run):
                    self.transport.kill(trade)

    def _must_go(self, trade: str, run: _Run) -> bool:
        now = time.monotonic()
        if run.began and now - run.began > run.task.limit:
            return True
        if run.cancelled_at is not None and now - run.cancelled_at > self._patience.cancel:
            return True
        return bool(run.began) and self.transport.silence(trade) > self._patience.silence


def _turn(entry: tuple[int, int, _Run]) -> tuple[int, int]:
    return entry[:2]
