"""A trade for tests, in a process of its own like the others: counts, hangs, dies, fails, as it is asked."""

from __future__ import annotations

import os
import signal
import sys
import threading
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.jobs.worker import Run, Worker


def begin(way: str) -> str:
    if way == "never":
        raise SystemExit("this way never comes up")
    if way.startswith("once:"):
        _die_once(Path(way[5:]))
    return way


def counted(run: Run) -> int:
    """Counts to the argument; each number waits until a file of its name is there, or does not wait where none is named."""
    total, folder = run.arguments
    for number in range(1, total + 1):
        while folder is not None and not (Path(folder) / str(number)).exists():
            run.check()
            threading.Event().wait(0.01)
        run.check()
        run.progress(number / total, float(total - number), number)
    return int(total)


def dies(run: Run) -> str:
    """Ends its process in the middle of the work, every time or (argument: a file) the first time only."""
    run.progress(0.5, None, os.getpid())
    _die_once(run.arguments)
    return "done at last"


def hangs(run: Run) -> None:
    """Works on and on, deaf to a stop."""
    run.progress(0.1, None, os.getpid())
    while True:
        threading.Event().wait(0.05)


def silent(run: Run) -> None:
    """Says nothing any more, as a process that is stopped."""
    run.progress(0.1, None, os.getpid())
    os.kill(os.getpid(), signal.SIGSTOP)


def fails(run: Run) -> None:
    if run.arguments == "sentence":
        raise HollowMarbleError("The plank is too short. Take a longer one.")
    raise ZeroDivisionError("in the works")


def summed(run: Run) -> Any:
    """The sum of its content."""
    return sum(float(piece.sum()) for piece in run.content)


HANDLERS = {
    "count": counted,
    "die": dies,
    "hang": hangs,
    "silent": silent,
    "fail": fails,
    "sum": summed,
}


def _die_once(mark: Path | None) -> None:
    if mark is None or not mark.exists():
        if mark is not None:
            mark.write_text("died")
        os.kill(os.getpid(), signal.SIGKILL)


if __name__ == "__main__":
    Worker(Connection(int(sys.argv[3]))).run(sys.modules[__name__], sys.argv[2])  # type: ignore[arg-type]
