"""A folder of things that can be worked out anew at any time; the ones not asked for longest go first."""

from __future__ import annotations

import contextlib
import shutil
import sqlite3
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import diskcache

_NO_FAILURE = (OSError, sqlite3.Error, diskcache.Timeout)
"""What keeps something from being cached is no reason not to go on."""


class FolderCache:
    """Bytes by name. Writing is done by a thread of its own, and a failure to read or write is no failure."""

    def __init__(self, folder: Path, rules: str, most_bytes: int = 600_000_000) -> None:
        """`rules` names the rules the content was made by: what other rules made is not found."""
        self._folder = folder / rules[:16]
        self._cache: diskcache.Cache | None = None
        with contextlib.suppress(*_NO_FAILURE):
            self._cache = diskcache.Cache(
                str(self._folder), size_limit=most_bytes, eviction_policy="least-recently-used", cull_limit=2
            )
        self._hand = ThreadPoolExecutor(1, thread_name_prefix="cache")
        self._hand.submit(self._clear_others, folder)

    def get(self, name: str) -> bytes | None:
        """What was put under a name, None where it is not there any more."""
        if self._cache is not None:
            with contextlib.suppress(*_NO_FAILURE):
                found: bytes | None = self._cache.get(name)
                return found
        return None

    def put(self, name: str, make: Callable[[], bytes]) -> None:
        """Keep what `make` returns under a name, when there is time."""
        with contextlib.suppress(RuntimeError):  # closing
            self._hand.submit(self._write, name, make)

    def settle(self) -> None:
        """Wait until all that was put so far is written."""
        self._hand.submit(lambda: None).result()

    def close(self) -> None:
        """Finish what is being written, and write no more."""
        self._hand.shutdown(wait=True)
        if self._cache is not None:
            self._cache.close()

    def _clear_others(self, around: Path) -> None:
        """What other rules made is of no use any more."""
        with contextlib.suppress(OSError):
            for other in around.iterdir():
                if other.is_dir() and other != self._folder:
                    shutil.rmtree(other, ignore_errors=True)

    def _write(self, name: str, make: Callable[[], bytes]) -> None:
        if self._cache is not None:
            with contextlib.suppress(*_NO_FAILURE):
                self._cache.set(name, make())
