"""A folder of things that can be worked out anew at any time; the ones not asked for longest go first."""

from __future__ import annotations

import contextlib
import os
import shutil
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path


class FolderCache:
    """Files by name. Writing is done by a thread of its own, and a failure to write is no failure."""

    def __init__(self, folder: Path, rules: str, most_bytes: int = 600_000_000) -> None:
        """`rules` names the rules the content was made by: what other rules made is not found."""
        self._folder = folder / rules[:16]
        self._most = most_bytes
        self._hand = ThreadPoolExecutor(1, thread_name_prefix="cache")
        self._hand.submit(self._clear_others, folder)

    def get(self, name: str) -> bytes | None:
        """What was put under a name, None where it is not there any more."""
        path = self._folder / name
        try:
            data = path.read_bytes()
        except OSError:
            return None
        with contextlib.suppress(OSError):
            os.utime(path)
        return data

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

    def _clear_others(self, around: Path) -> None:
        """What other rules made is of no use any more."""
        with contextlib.suppress(OSError):
            for other in around.iterdir():
                if other.is_dir() and other != self._folder:
                    shutil.rmtree(other, ignore_errors=True)

    def _write(self, name: str, make: Callable[[], bytes]) -> None:
        with contextlib.suppress(OSError):
            self._folder.mkdir(parents=True, exist_ok=True)
            fresh = self._folder / f"{name}.new"
            fresh.write_bytes(make())
            fresh.replace(self._folder / name)
            self._prune()

    def _prune(self) -> None:
        files = sorted(((f.stat().st_mtime, f.stat().st_size, f) for f in self._folder.iterdir()), reverse=True)
        total = 0
        for _, size, file in files:
            total += size
            if total > self._most:
                file.unlink(missing_ok=True)
