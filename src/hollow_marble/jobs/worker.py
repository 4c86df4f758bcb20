"""A process that does one trade's work, one piece at a time.

Started by `local` with its trade, the way to do it, and the number of the line to its transport. It says that it is alive every
second; a thread listens for stops meanwhile. Anything a library prints goes to standard error.
"""

from __future__ import annotations

import gc
import importlib
import os
import pickle
import queue
import sys
import threading
from collections import OrderedDict
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any, Protocol, cast

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.jobs.messages import Beat, Blob, Done, Failed, Give, Need, Progress, Ready, Stop, Stopped

BEAT_EVERY = 1.0
_KEPT_CONTENT = 2
MODULES = {"render": "rendering", "geometry": "geometry", "solids": "solids"}
"""What does the work of a trade."""


class StoppedError(Exception):
    """The run was given up."""


class Run:
    """What a handler has of the run it works on."""

    def __init__(self, number: int, arguments: Any, content: list[Any], worker: Worker) -> None:
        self.number, self.arguments, self.content = number, arguments, content
        self._worker = worker

    def check(self) -> None:
        """Raise StoppedError where the run has been given up."""
        if self.number in self._worker.stopped:
            raise StoppedError

    def progress(self, share: float, left: float | None = None, news: Any = None) -> None:
        """Say how far it is."""
        self._worker.say(Progress(self.number, share, left, news))


Handler = Callable[[Run], Any]


class TradeModule(Protocol):
    """What the modules of all trades have."""

    HANDLERS: dict[str, Handler]

    def begin(self, way: str) -> str:
        """Be ready for work done in this way; returns a note for the screen. May end the process where it cannot be done."""
        ...


class Worker:
    """Does work until the transport is gone."""

    def __init__(self, line: Connection) -> None:
        self._line = line
        self._speaking = threading.Lock()
        self._work: queue.Queue[Give] = queue.Queue()
        self._content: OrderedDict[str, bytes] = OrderedDict()
        self._came = threading.Condition()
        self.stopped: set[int] = set()
        threading.Thread(target=self._listen, daemon=True).start()

    def run(self, trade: TradeModule, way: str) -> None:
        """Say that the worker is up, and work."""
        self.say(Ready(trade.begin(way)))
        threading.Thread(target=self._beat, daemon=True).start()
        while True:
            given = self._work.get()
            self.say(self._done(trade, given))
            # what a run built is let go at once: a scene built beside it gets other numbers in its kernels, which are then
            # compiled anew (measured: 0.75 s instead of 0.17 s to the first pass)
            gc.collect()

    def say(self, message: object) -> None:
        """Send a message."""
        with self._speaking:
            self._line.send(message)

    def _done(self, trade: TradeModule, given: Give) -> Done | Failed | Stopped:
        try:
            content = [pickle.loads(self._fetched(given.run, sha)) for sha in given.content]  # noqa: S301 — from our own server
            run = Run(given.run, given.arguments, content, self)
            run.check()
            return Done(given.run, trade.HANDLERS[given.kind](run))
        except StoppedError:
            with self._came:
                for sha in given.content:
                    self._content.pop(sha, None)
            return Stopped(given.run)
        except HollowMarbleError as error:
            return Failed(given.run, str(error))
        except Exception as error:  # noqa: BLE001 — whatever it is, the worker goes on and its owner is told
            return Failed(given.run, f"This could not be done: {type(error).__name__}: {error}")

    def _fetched(self, run: int, sha: str) -> bytes:
        """Content, asked for where it is not here."""
        with self._came:
            if sha not in self._content:
                self.say(Need(run, sha))
                self._came.wait_for(lambda: sha in self._content or run in self.stopped)
                if run in self.stopped:
                    raise StoppedError
            self._content.move_to_end(sha)
            while len(self._content) > _KEPT_CONTENT:
                self._content.popitem(last=False)
            return self._content[sha]

    def _listen(self) -> None:
        while True:
            try:
                message = self._line.recv()
            except (EOFError, OSError):
                os._exit(0)  # the server is gone; nobody waits for this work
            if isinstance(message, Stop):
                with self._came:
                    self.stopped.add(message.run)
                    self._came.notify_all()
            elif isinstance(message, Blob):
                with self._came:
                    self._content[message.sha] = message.data
                    self._came.notify_all()
            else:
                self._work.put(message)

    def _beat(self) -> None:
        pause = threading.Event()
        while not pause.wait(BEAT_EVERY):
            self.say(Beat(len(self._content)))


def main() -> None:
    """Work on the line whose number is the last argument."""
    trade, way, number = sys.argv[1:4]
    line = Connection(int(number))
    os.dup2(2, 1)  # whatever libraries print is for the log
    module = importlib.import_module(f"hollow_marble.jobs.{MODULES[trade]}")
    Worker(line).run(cast(TradeModule, module), way)


if __name__ == "__main__":
    main()
