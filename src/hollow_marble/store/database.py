"""Open a project's SQLite file, bring its schema up to date, hand out connections."""

from __future__ import annotations

import re
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path

from hollow_marble.core.errors import HollowMarbleError

SUFFIX = ".marble"
_APPLICATION_ID = 0x484D4231  # "HMB1", so that a file is known for what it is


def now() -> str:
    """The time in UTC, ISO 8601 to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


class Database:
    """One project file. Each thread gets its own connection; writes are one at a time."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._local = threading.local()
        self._writing = threading.RLock()
        self._open: list[sqlite3.Connection] = []
        self._migrate()

    def read(self) -> sqlite3.Connection:
        """This thread's connection, for reading."""
        connection: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if connection is None:
            connection = sqlite3.connect(self.path, timeout=20, isolation_level=None, check_same_thread=False)
            connection.row_factory = sqlite3.Row
            for setting in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "temp_store=MEMORY"):
                connection.execute(f"pragma {setting}")
            self._local.connection = connection
            self._open.append(connection)
        return connection

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """One transaction: all of it is on disk when the block ends, or none of it."""
        with self._writing:
            connection = self.read()
            if connection.in_transaction:  # already inside a write of this thread
                yield connection
                return
            connection.execute("begin immediate")
            try:
                yield connection
            except BaseException:
                connection.execute("rollback")
                raise
            connection.execute("commit")

    def close(self) -> None:
        """Close every connection; the last one folds the write-ahead log into the file."""
        for connection in self._open:
            connection.close()
        self._open.clear()
        self._local = threading.local()

    def _migrate(self) -> None:
        fresh = not self.path.exists() or self.path.stat().st_size == 0
        try:
            connection = self.read()
            mark = connection.execute("pragma application_id").fetchone()[0]
        except sqlite3.DatabaseError as error:
            raise HollowMarbleError(
                f"{self.path.name} is not a Hollow Marble project, or it is damaged. Choose another file."
            ) from error
        if not fresh and mark != _APPLICATION_ID:
            raise HollowMarbleError(f"{self.path.name} is not a Hollow Marble project. Choose a {SUFFIX} file.")
        have = connection.execute("pragma user_version").fetchone()[0]
        steps = migrations()
        if have > len(steps):
            raise HollowMarbleError(
                f"{self.path.name} was written by a newer Hollow Marble. Update the application to open it."
            )
        for number, script in enumerate(steps[have:], have + 1):
            with self.write() as connection:
                for statement in _statements(script):
                    connection.execute(statement)
                connection.execute(f"pragma user_version={number}")
                connection.execute(f"pragma application_id={_APPLICATION_ID}")


def migrations() -> list[str]:
    """The schema's steps in order."""
    folder = resources.files("hollow_marble.store") / "migrations"
    return [f.read_text() for f in sorted(folder.iterdir(), key=lambda f: f.name) if f.name.endswith(".sql")]


def _statements(script: str) -> list[str]:
    bare = re.sub(r"--[^\n]*", "", script)
    return [statement.strip() for statement in bare.split(";") if statement.strip()]
