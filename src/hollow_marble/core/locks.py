"""Locks with a rank: whoever holds one may take only those of a higher rank, so that no two hands can wait for each other.

Ranks are checked every time, in every run: an order that could freeze the program fails at once and the same way each time,
with the names of both locks, instead of now and then and in silence.
"""

from __future__ import annotations

import threading
from types import TracebackType

_held = threading.local()

LIBRARY, DOCUMENT, RASTER, TASKS, WORKERS, WRITING, CACHE, FILES, NEWS = range(10, 100, 10)
"""The order of all locks, outermost first. A lock is named by what it guards."""


class LockOrderError(RuntimeError):
    """A lock was asked for by somebody who holds one that comes after it."""


class RankedLock:
    """A lock that may be taken again by the thread that holds it, and knows its place among the others."""

    def __init__(self, name: str, rank: int) -> None:
        self.name, self.rank = name, rank
        self._lock = threading.RLock()

    def acquire(self) -> None:
        """Take the lock, waiting for it; LockOrderError where that could freeze."""
        mine: list[RankedLock] = _held.__dict__.setdefault("locks", [])
        if self not in mine:
            outer = max(mine, key=lambda lock: lock.rank, default=None)
            if outer is not None and outer.rank >= self.rank:
                raise LockOrderError(f"“{self.name}” was asked for while “{outer.name}” was held.")
        self._lock.acquire()
        mine.append(self)

    def release(self) -> None:
        """Let it go."""
        mine: list[RankedLock] = _held.locks
        for place in range(len(mine) - 1, -1, -1):
            if mine[place] is self:
                del mine[place]
                break
        self._lock.release()

    def __enter__(self) -> RankedLock:
        self.acquire()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.release()


def held() -> list[str]:
    """Names of the locks this thread holds, in the order they were taken."""
    return [lock.name for lock in _held.__dict__.get("locks", [])]
