"""Project files that come from elsewhere: looked at closely before they are opened as anything."""

from __future__ import annotations

import sqlite3
import threading
from functools import cache
from pathlib import Path

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.store.database import APPLICATION_ID, SUFFIX, check_readable, migrations, statements_of

_LOOKING_SECONDS = 60.0


def check_arrived(path: Path, name: str) -> int:
    """The format (number of the last migration) of a project file whose maker nobody knows.

    It must be a sound SQLite file, marked as a project, and hold exactly the tables and indexes that its format has: a file can
    carry triggers, views and expressions that would run when it is read (SQLite, "Defense Against The Dark Arts"). One of a newer
    format that says that it can be shown here may hold further tables.

    Raises
    ------
    HollowMarbleError
        saying what is wrong with the file called `name`.
    """
    not_one = HollowMarbleError(f"{name} is not a Hollow Marble project, or it is damaged. Choose a {SUFFIX} file.")
    connection = sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro&immutable=1", uri=True, isolation_level=None)
    impatient = threading.Timer(_LOOKING_SECONDS, connection.interrupt)
    impatient.start()
    try:
        for setting in ("trusted_schema=off", "cell_size_check=on", "mmap_size=0"):
            connection.execute(f"pragma {setting}")
        if connection.execute("pragma application_id").fetchone()[0] != APPLICATION_ID:
            raise not_one
        version: int = connection.execute("pragma user_version").fetchone()[0]
        newest = len(migrations())
        if version > newest:
            check_readable(connection, version, name)
            added = _schema(connection) - _schema_of(newest)
            # what a newer format adds lies beside what is known here, and nothing of it runs where it is not read
            if _schema_of(newest) - _schema(connection) or any(kind != "table" for kind, _name, _sql in added):
                raise not_one
        elif version < 1 or _schema(connection) != _schema_of(version):
            raise not_one
        if connection.execute("pragma quick_check(1)").fetchone()[0] != "ok":
            raise not_one
        if connection.execute("pragma foreign_key_check").fetchone() is not None:
            raise not_one
    except sqlite3.DatabaseError as error:
        raise not_one from error
    finally:
        impatient.cancel()
        impatient.join()
        connection.close()
    return version


Schema = frozenset[tuple[str, str, str]]


def _schema(connection: sqlite3.Connection) -> Schema:
    rows = connection.execute("select type, name, sql from sqlite_schema where name not like 'sqlite\\_%' escape '\\'")
    return frozenset((kind, name, " ".join((sql or "").split())) for kind, name, sql in rows)


@cache
def _schema_of(version: int) -> Schema:
    """What the files of a format hold."""
    connection = sqlite3.connect(":memory:", isolation_level=None)
    try:
        for script in migrations()[:version]:
            for statement in statements_of(script):
                connection.execute(statement)
        return _schema(connection)
    finally:
        connection.close()
