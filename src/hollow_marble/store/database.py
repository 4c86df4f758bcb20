"""Open a project's SQLite file, bring its schema up to date, hand out connections."""

from __future__ import annotations

import re
import shutil
import sqlite3
import threading
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path
from typing import Any

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.locks import CACHE, WRITING, RankedLock
from hollow_marble.store.migrating import AFTER

SUFFIX = ".marble"
_KEPT_READERS = 2
_MOST_READERS = 6
APPLICATION_ID = 0x484D4231  # "HMB1", so that a file is known for what it is
READABLE_FROM = 9
"""The lowest format whose application can show what this one writes. Files say it, so that an application that is older than they
are knows whether it may open them to look at."""

Row = sqlite3.Row


class FullError(HollowMarbleError):
    """There is no room left where the project lies."""

    status = 507

    def __init__(self, path: Path) -> None:
        super().__init__(
            f"There is no room left on the disk for {path.name}. What was kept before is safe; make room and do this again."
        )


class NewerError(HollowMarbleError):
    """The project was written by a newer application and can only be looked at with this one."""

    status = 409

    def __init__(self, name: str) -> None:
        super().__init__(
            f"{name} was written by a newer Hollow Marble. It can be looked at here, not changed. Update the application to work on it."
        )


def check_room(path: Path, wanted: int) -> None:
    """Before long work: refuse it where the disk a file lies on has no room for so many bytes more.

    Raises
    ------
    FullError
    """
    if shutil.disk_usage(path.parent).free < wanted:
        raise FullError(path)


_CROWDED = 65_536
_UNABLE = frozenset((sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN))


def _means_full(error: sqlite3.Error, path: Path) -> bool:
    """Whether what SQLite says comes of a full disk: it says so, or cannot write where there is no room."""
    code = error.sqlite_errorcode & 0xFF
    return code == sqlite3.SQLITE_FULL or (code in _UNABLE and shutil.disk_usage(path.parent).free < _CROWDED)


def now() -> str:
    """The time in UTC, ISO 8601 to the millisecond."""
    return datetime.now(UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")


class Database:
    """One project file. Reading connections are lent and come back; writes are one at a time.

    A server's threads share the few connections there are, so that open files stay few however many threads and
    projects there are. Only this package writes: everybody else hands what is to be written to the ledger, the takes or
    the library, each of which opens one transaction and none within another.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._writing = RankedLock(f"writing {path.name}", WRITING)
        self._inside = threading.local()
        self._idle: list[sqlite3.Connection] = []
        self._lent = RankedLock(f"connections of {path.name}", CACHE)
        self._readers = threading.BoundedSemaphore(_MOST_READERS)
        self._writer: sqlite3.Connection | None = None
        self._closed = False
        self.newer = False
        """Whether a newer application wrote it, so that it is only looked at."""
        try:
            self._migrate()
        except BaseException:
            self.close()
            raise

    def row(self, query: str, values: Sequence[Any] = ()) -> Row | None:
        """The first row a query finds."""
        found = self.rows(query, values)
        return found[0] if found else None

    def rows(self, query: str, values: Sequence[Any] = ()) -> list[Row]:
        """All rows a query finds; inside a write it sees what the write has done so far."""
        writer: sqlite3.Connection | None = getattr(self._inside, "writer", None)
        if writer is not None:
            return writer.execute(query, values).fetchall()
        with self._reader() as connection:
            return connection.execute(query, values).fetchall()

    def piece(self, sha: str, start: int, length: int) -> bytes:
        """Bytes of an asset from a place on, without reading the others."""
        with self._reader() as connection:
            row = connection.execute("select rowid from asset where sha = ?", (sha,)).fetchone()
            with connection.blobopen("asset", "bytes", row[0], readonly=True) as blob:
                blob.seek(start)
                return bytes(blob.read(length))

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """One transaction: all of it is on disk when the block ends, or none of it.

        Raises
        ------
        FullError
            where there is no room for it; then nothing is written.
        NewerError
            where a newer application wrote the file.
        """
        if self.newer:
            raise NewerError(self.path.name)
        with self._writing:
            if getattr(self._inside, "writer", None) is not None:
                raise RuntimeError("a write was begun within another one")
            connection = self._writer = self._writer or self._connect()
            try:
                connection.execute("begin immediate")
                self._inside.writer = connection
                yield connection
                connection.execute("commit")
            except BaseException as error:
                if connection.in_transaction:
                    connection.execute("rollback")
                if isinstance(error, sqlite3.Error) and _means_full(error, self.path):
                    raise FullError(self.path) from error
                raise
            finally:
                self._inside.writer = None

    def close(self) -> None:
        """Close every connection; the last one folds the write-ahead log into the file. Nobody can open another after it."""
        with self._writing, self._lent:
            self._closed = True
            for connection in (*self._idle, *([self._writer] if self._writer else [])):
                connection.close()
            self._idle.clear()
            self._writer = None

    @contextmanager
    def _reader(self) -> Iterator[sqlite3.Connection]:
        with self._readers:  # held for one query only, so nobody waits for anybody who waits
            with self._lent:
                connection = self._idle.pop() if self._idle else None
            connection = connection or self._connect()
            try:
                yield connection
            finally:
                with self._lent:
                    keep = len(self._idle) < _KEPT_READERS
                    if keep:
                        self._idle.append(connection)
                if not keep:
                    connection.close()

    def copy_to(self, path: Path) -> None:
        """A copy of the whole file as it stands, at a path where there is none yet."""
        with self._reader() as connection:
            connection.execute("pragma query_only=OFF")  # it would keep another file from being written, too
            try:
                connection.execute("vacuum into ?", (str(path),))
            finally:
                connection.execute(f"pragma query_only={'ON' if self.newer else 'OFF'}")

    def _connect(self) -> sqlite3.Connection:
        if self._closed:  # a connection would make an empty file where this one was
            raise NotFoundError("This project was put away or moved. Open it again from the list of projects.")
        connection = sqlite3.connect(self.path, timeout=20, isolation_level=None, check_same_thread=False)
        connection.row_factory = sqlite3.Row
        for setting in ("journal_mode=WAL", "synchronous=FULL", "foreign_keys=ON", "temp_store=MEMORY"):
            connection.execute(f"pragma {setting}")
        if self.newer:
            connection.execute("pragma query_only=ON")
        return connection

    def _migrate(self) -> None:
        fresh = not self.path.exists() or self.path.stat().st_size == 0
        try:
            (mark,) = self.rows("pragma application_id")[0]
        except sqlite3.DatabaseError as error:
            if _means_full(error, self.path):
                raise FullError(self.path) from error
            raise HollowMarbleError(
                f"{self.path.name} is not a Hollow Marble project, or it is damaged. Choose another file."
            ) from error
        if not fresh and mark != APPLICATION_ID:
            raise HollowMarbleError(f"{self.path.name} is not a Hollow Marble project. Choose a {SUFFIX} file.")
        (have,) = self.rows("pragma user_version")[0]
        steps = migrations()
        if have > len(steps):
            with self._reader() as connection:
                check_readable(connection, have, self.path.name)
                connection.execute("pragma query_only=ON")  # it goes back to those that are lent
            self.newer = True
            return
        for number, script in enumerate(steps[have:], have + 1):
            with self.write() as connection:
                for statement in statements_of(script):
                    connection.execute(statement)
                if number in AFTER:
                    AFTER[number](connection)
                connection.execute(f"pragma user_version={number}")
                connection.execute(f"pragma application_id={APPLICATION_ID}")


def check_readable(connection: sqlite3.Connection, version: int, name: str) -> None:
    """Whether a file of a newer format says that this application can show it.

    Raises
    ------
    HollowMarbleError
    """
    newest = len(migrations())
    try:
        said = connection.execute("select value from project where key = 'readable_from'").fetchone()
    except sqlite3.OperationalError:
        said = None
    if said is None or not str(said[0]).isdecimal() or int(said[0]) > newest:
        raise HollowMarbleError(
            f"{name} was written by a newer Hollow Marble (format {version}; this one reads up to {newest}). "
            "Update the application to open it."
        )


def migrations() -> list[str]:
    """The schema's steps in order."""
    folder = resources.files("hollow_marble.store") / "migrations"
    return [f.read_text() for f in sorted(folder.iterdir(), key=lambda f: f.name) if f.name.endswith(".sql")]


def statements_of(script: str) -> list[str]:
    """The statements of a migration."""
    bare = re.sub(r"--[^\n]*", "", script)
    return [statement.strip() for statement in bare.split(";") if statement.strip()]
