"""Binary payloads by SHA-256."""

from __future__ import annotations

import hashlib

from hollow_marble.core.errors import NotFoundError
from hollow_marble.store.database import Database


def keep_asset(database: Database, data: bytes, media: str) -> str:
    """Keep bytes and return their SHA-256 as lower-case hex; the same bytes are kept once."""
    sha = hashlib.sha256(data).hexdigest()
    with database.write() as connection:
        connection.execute("insert or ignore into asset (sha, media, bytes) values (?, ?, ?)", (sha, media, data))
    return sha


def load_asset(database: Database, sha: str) -> tuple[bytes, str]:
    """Bytes and media type of an asset."""
    row = database.row("select bytes, media from asset where sha = ?", (sha,))
    if row is None:
        raise NotFoundError("A picture or stroke this page needs is missing from the project file.")
    return bytes(row["bytes"]), row["media"]


def drop_asset_if_unused(database: Database, sha: str | None) -> None:
    """Let go of an interim picture that no take shows any more."""
    with database.write() as connection:
        used = connection.execute("select 1 from take where picture = ?", (sha,)).fetchone()
        if sha and not used:
            connection.execute("delete from asset where sha = ?", (sha,))
