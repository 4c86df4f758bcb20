"""Binary payloads by SHA-256."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable

from hollow_marble.core.errors import NotFoundError
from hollow_marble.documents.edit import Asset, asset_of
from hollow_marble.store.database import Database


def keep_assets(connection: sqlite3.Connection, assets: Iterable[Asset]) -> None:
    """Keep payloads within a write; the same bytes are kept once."""
    connection.executemany(
        "insert or ignore into asset (sha, media, bytes) values (?, ?, ?)",
        ((asset.sha, asset.media, asset.data) for asset in assets),
    )


def keep_asset(database: Database, data: bytes, media: str) -> str:
    """Keep one payload that belongs to no edit yet; returns its SHA-256."""
    asset = asset_of(data, media)
    with database.write() as connection:
        keep_assets(connection, (asset,))
    return asset.sha


def load_asset(database: Database, sha: str) -> tuple[bytes, str]:
    """Bytes and media type of an asset."""
    row = database.row("select bytes, media from asset where sha = ?", (sha,))
    if row is None:
        raise _missing()
    return bytes(row["bytes"]), row["media"]


def asset_kinds(database: Database, names: Iterable[str]) -> dict[str, str]:
    """Media type by SHA-256 of those of some assets that are there."""
    listed = json.dumps(sorted(names))
    query = "select sha, media from asset where sha in (select value from json_each(?))"
    return {row["sha"]: row["media"] for row in database.rows(query, (listed,))}


def asset_facts(database: Database, sha: str) -> tuple[int, str]:
    """Length in bytes and media type of an asset."""
    row = database.row("select length(bytes) as length, media from asset where sha = ?", (sha,))
    if row is None:
        raise _missing()
    return int(row["length"]), str(row["media"])


def _missing() -> NotFoundError:
    return NotFoundError("A picture or stroke this page needs is missing from the project file.")
