"""Long work in processes of this machine: one a trade, started when there is work, watched by their heartbeat."""

from __future__ import annotations

import contextlib
import ctypes.util
import os
import queue
import subprocess
import sys
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from hollow_marble.core.locks import WORKERS, RankedLock
from hollow_marble.jobs.messages import Beat, Blob, Done, Failed, Give, Need, Progress, Ready, Stop, Stopped
from hollow_marble.jobs.task import Work
from hollow_marble.jobs.transport import Ears

FAST, PLAIN = "llvm_ad_rgb", "scalar_rgb"
OLDEST_LLVM = 16
_FOLDERS = ("/usr/lib/x86_64-linux-gnu", "/usr/lib/aarch64-linux-gnu", "/usr/lib", "/usr/local/lib")

WARMING = "The renderer is warming up"
NOTES = {
    FAST: "Fast renderer",
    PLAIN: "Plain renderer: about three times slower. Install libllvm19 for the fast one.",
}


def find_llvm() -> str | None:
    """Path of a libLLVM that the fast variant can use, newest first; older ones abort the process."""
    chosen = os.environ.get("DRJIT_LIBLLVM_PATH")
    if chosen and Path(chosen).exists():
        return chosen
    for version in range(22, OLDEST_LLVM - 1, -1):
        for folder in (*_FOLDERS, f"/usr/lib/llvm-{version}/lib"):
            for name in (f"libLLVM-{version}.so", f"libLLVM.so.{version}.1", f"libLLVM-{version}.so.1"):
                path = Path(folder, name)
                if path.exists():
                    return str(path)
        found = ctypes.util.find_library(f"LLVM-{version}")
        if found:
            return found
    return None


@dataclass
class Trade:
    """A kind of worker: the ways to start it, best first, and the way in use."""

    name: str
    ways: list[str]
    environment: dict[str, str] = field(default_factory=dict)
    cannot: str = (
        "The helper program for this could not be started on this machine. Restart Hollow Marble and try again."
    )

    @property
    def command(self) -> list[str]:
        return [sys.executable, "-m", "hollow_marble.jobs.worker", self.name, self.ways[0]]


def render_trade() -> Trade:
    """The trade that traces pictures: with the fast variant where this machine can, else with the plain one."""
    llvm = find_llvm()
    ways, environment = ([FAST, PLAIN], {"DRJIT_LIBLLVM_PATH": llvm}) if llvm else ([PLAIN], {})
    cannot = "The renderer could not be started on this machine. Run `make setup` again, then resume the take."
    return Trade("render", ways, environment, cannot)


def geometry_trade() -> Trade:
    """The trade that checks and writes out meshes."""
    return Trade("geometry", ["meshes"])


def solids_trade() -> Trade:
    """The trade that works out solids."""
    return Trade("solids", ["kernel"])


class _Worker:
    """A process that is up or coming up, and what it is about.

    A thread of its own speaks to it, once it is up: one that reads nothing any more keeps only that thread waiting, and can be ended by
    everybody else.
    """

    def __init__(self, process: subprocess.Popen[bytes], line: Connection) -> None:
        self.process, self.line = process, line
        self.ready = False
        self.heard_at = time.monotonic()
        self.content: OrderedDict[str, Blob] = OrderedDict()
        self._words: queue.SimpleQueue[Any] = queue.SimpleQueue()
        self._speaker: threading.Thread | None = None

    def say(self, message: Any) -> None:
        """Send a message when it is up; returns at once."""
        self._words.put(message)

    def is_up(self) -> None:
        """It listens: send what has been said, and what will be."""
        self.ready = True
        self._speaker = threading.Thread(target=self._speak, name="to a worker", daemon=True)
        self._speaker.start()

    def is_gone(self) -> None:
        """Its process has ended: nothing is to be said any more, and what is being said breaks off."""
        self._words.put(None)
        if self._speaker is not None:
            self._speaker.join()
        self.line.close()

    def _speak(self) -> None:
        with contextlib.suppress(OSError):  # it died meanwhile; the listener reports that
            while (message := self._words.get()) is not None:
                self.line.send(message)


class LocalTransport:
    """Workers of this machine."""

    def __init__(self, *trades: Trade) -> None:
        self._trades = {trade.name: trade for trade in trades or (render_trade(), geometry_trade(), solids_trade())}
        self._lock = RankedLock("workers", WORKERS)
        self._workers: dict[str, _Worker] = {}
        self._notes = dict.fromkeys(self._trades, WARMING)
        self._closed = False
        self._ears: Ears | None = None

    def open(self, ears: Ears) -> None:
        self._ears = ears

    def warm(self, trade: str) -> None:
        """Bring a trade's worker up before there is work for it; returns at once."""
        self._worker(trade)

    def note(self, trade: str) -> str:
        return self._notes[trade]

    def way(self, trade: str) -> str | None:
        """The way a trade's worker was started, None until it has been up."""
        return self._trades[trade].ways[0] if self._notes[trade] != WARMING else None

    def pid(self, trade: str) -> int | None:
        """Process id of the worker that is up or coming up."""
        with self._lock:
            worker = self._workers.get(trade)
            return worker.process.pid if worker is not None and worker.process.poll() is None else None

    def give(self, trade: str, run: int, work: Work) -> None:
        worker = self._worker(trade)
        if worker is None:
            return
        for piece in work.content:
            worker.content[piece.sha] = piece
        worker.say(Give(run, work.kind, work.arguments, tuple(piece.sha for piece in work.content)))

    def stop(self, trade: str, run: int) -> None:
        with self._lock:
            worker = self._workers.get(trade)
        if worker is not None:
            worker.say(Stop(run))

    def kill(self, trade: str) -> None:
        with self._lock:
            worker = self._workers.get(trade)
        if worker is not None:
            worker.process.kill()

    def silence(self, trade: str) -> float:
        with self._lock:
            worker = self._workers.get(trade)
        return time.monotonic() - worker.heard_at if worker is not None and worker.ready else 0.0

    def close(self) -> None:
        with self._lock:
            self._closed = True
            workers = list(self._workers.values())
        for worker in workers:
            worker.process.terminate()
        for worker in workers:
            worker.process.wait()

    def _worker(self, name: str) -> _Worker | None:
        """The worker of a trade, started where there is none."""
        with self._lock:
            if self._closed:
                return None
            worker = self._workers.get(name)
            if worker is None:
                trade = self._trades[name]
                here, there = Pipe()
                try:
                    process = subprocess.Popen(  # noqa: S603 — our own program
                        [*trade.command, str(there.fileno())],
                        stdin=subprocess.DEVNULL,
                        pass_fds=(there.fileno(),),
                        env={**os.environ, **trade.environment},
                    )
                except OSError:
                    here.close()
                    threading.Thread(target=self._lost, args=(name, None), daemon=True).start()
                    return None
                finally:
                    there.close()
                worker = self._workers[name] = _Worker(process, here)
                threading.Thread(target=self._listen, args=(name, worker), daemon=True).start()
            return worker

    def _listen(self, name: str, worker: _Worker) -> None:
        ears = self._ears
        assert ears is not None
        while True:
            try:
                message = worker.line.recv()
            except (EOFError, OSError):
                break
            worker.heard_at = time.monotonic()
            if isinstance(message, Ready):
                self._notes[name] = NOTES.get(message.note, message.note)
                worker.is_up()
                ears.noted(name)
            elif isinstance(message, Need):
                piece = worker.content.get(message.sha)
                worker.say(piece if piece is not None else Stop(message.run))
            elif isinstance(message, Progress | Done | Failed | Stopped):
                if not isinstance(message, Progress):
                    worker.content.clear()
                ears.heard(name, message)
            else:
                assert isinstance(message, Beat)
        worker.process.wait()
        worker.is_gone()
        self._lost(name, worker)

    def _lost(self, name: str, worker: _Worker | None) -> None:
        """A worker is gone, or could not even be started."""
        with self._lock:
            if worker is not None and self._workers.get(name) is worker:
                del self._workers[name]
            if self._closed:
                return
            trade = self._trades[name]
            why = None
            if worker is None or not worker.ready:
                if len(trade.ways) > 1:
                    trade.ways.pop(0)  # this way will not do on this machine
                else:
                    why = trade.cannot
        assert self._ears is not None
        at_work = worker is not None and worker.ready
        self._ears.gone(name, why, at_work)
        if not at_work and why is None:
            self._worker(name)  # the next way is tried at once, so that the screen can say what there is
