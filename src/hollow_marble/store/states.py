"""Documents at any line of their ledgers: kept in memory by use, and on disk as packed snapshots.

A snapshot is written once the edits since the last one weigh as much as half of it, and there are at least some of them, or
once there are very many. So all snapshots together weigh about as much as the document, and opening replays little, however
long the past is. They are written by a thread of their own: an edit does not wait for them, and without them nothing is lost.
"""

from __future__ import annotations

import contextlib
import sqlite3
import zlib
from concurrent.futures import ThreadPoolExecutor

from cachetools import LRUCache

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.core.locks import CACHE, RankedLock
from hollow_marble.documents.kinds import KINDS, Document, apply
from hollow_marble.store.database import Database

FEWEST_EDITS = 48
MOST_EDITS = 2_000
KEPT_BYTES = 48_000_000
_PER_STATE = 2_500
"""About what one more state of a document holds that the one before does not share, in bytes, beside its edit."""

Key = tuple[str, int | None]

_CHAIN = """with recursive back (id, parent, body, size, whole, document, steps) as (
                select edit.id, edit.parent, edit.body, snapshot.size, snapshot.body, edit.document, 0
                from edit left join snapshot on snapshot.edit = edit.id where edit.id = ?
            union all
                select edit.id, edit.parent, edit.body, snapshot.size, snapshot.body, edit.document, steps + 1
                from back join edit on edit.id = back.parent left join snapshot on snapshot.edit = edit.id
                where back.whole is null and steps < ?
            ) select id, parent, body, whole, document from back order by steps"""
_AT_ONCE = 64


class States:
    """The documents of one project file."""

    def __init__(self, database: Database, kept_bytes: int = KEPT_BYTES) -> None:
        self._database = database
        self._lock = RankedLock("states of documents", CACHE)
        self._kept: LRUCache[Key, tuple[Document, int]] = LRUCache(kept_bytes, getsizeof=lambda entry: entry[1])
        self._hand = ThreadPoolExecutor(1, thread_name_prefix="snapshots")

    def known(self, document: str, edit: int | None) -> Document | None:
        """A state where it is at hand."""
        with self._lock:
            found = self._kept.get((document, edit))
        return found[0] if found else None

    def remember(self, document: str, edit: int | None, state: Document, weight: int) -> None:
        """Keep a state at hand; `weight` is about the bytes of the edit that led to it."""
        with self._lock, contextlib.suppress(ValueError):  # heavier than all that may be kept
            self._kept[document, edit] = (state, _PER_STATE + weight)

    def read(self, document: str, kind: str, edit: int | None) -> Document:
        """A document at a line of its ledger; None is the start."""
        waiting: list[str] = []
        step = edit
        weight = 0
        while True:
            state = self.known(document, step)
            if state is not None:
                break
            if step is None:
                row = self._database.row("select start from document where id = ?", (document,))
                assert row is not None
                state = KINDS[kind].read(row["start"])
                weight = len(row["start"])
                break
            state, weight, step = self._back(document, kind, step, waiting)
            if state is not None:
                break
        for body in reversed(waiting):
            state = apply(state, KINDS[kind].read_edit(body))
        self.remember(document, edit, state, 2 * weight + sum(map(len, waiting)))
        return state

    def _back(self, document: str, kind: str, step: int, waiting: list[str]) -> tuple[Document | None, int, int | None]:
        """Some edits further back, gathered into `waiting`, to a state that is at hand or a snapshot if there is one."""
        rows = self._database.rows(_CHAIN, (step, _AT_ONCE - 1))
        if not rows or rows[0]["document"] != document:
            raise NotFoundError("That line is not in this ledger.")
        for row in rows:
            known = self.known(document, row["id"])
            if known is not None:
                return known, 0, row["id"]
            if row["whole"] is not None:
                text = zlib.decompress(row["whole"])
                return KINDS[kind].read(text), len(text), row["id"]
            waiting.append(row["body"])
        return None, 0, rows[-1]["parent"]

    def snapshot(self, edit: int, state: Document) -> None:
        """Write a snapshot of a state when there is time."""
        with contextlib.suppress(RuntimeError):  # closing
            self._hand.submit(self._write, edit, state)

    def settle(self) -> None:
        """Wait until all snapshots asked for so far are written."""
        self._hand.submit(lambda: None).result()

    def close(self) -> None:
        """Finish what is being written."""
        self._hand.shutdown(wait=True)

    def _write(self, edit: int, state: Document) -> None:
        text = state.model_dump_json().encode()
        packed = zlib.compress(text, 3)
        with contextlib.suppress(HollowMarbleError, sqlite3.Error), self._database.write() as connection:
            connection.execute(
                "insert or ignore into snapshot (edit, size, body) values (?, ?, ?)", (edit, len(text), packed)
            )


def due(edits: int, weight: int, last: int) -> bool:
    """Whether a snapshot is due after so many edits of so many bytes, the last one being `last` bytes long."""
    return edits >= MOST_EDITS or (edits >= FEWEST_EDITS and weight >= last / 2)
