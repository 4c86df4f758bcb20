"""Documents and their edits: append, undo, redo, branch, name.

An edit is never changed or removed. A document's `head` says where it stands; undo moves the head to the parent, and
an edit made after that begins a branch beside the old one.

What is to be written is made ready before: `append` takes an edit and the payloads it names, says which head they were made for,
and writes them in one transaction that only looks whether the head is still that one. No lock is held while a document is read
or an edit applied.
"""

from __future__ import annotations

import sqlite3
import uuid
from collections.abc import Iterable
from contextlib import nullcontext
from dataclasses import dataclass, replace
from typing import Any, Literal

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.edit import Asset, Edit
from hollow_marble.documents.kinds import KINDS, Document, DocumentKind, apply
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.store.ancestry import START, Place, ancestor, is_ancestor, jump_of_child, place
from hollow_marble.store.assets import keep_assets
from hollow_marble.store.database import Database, now
from hollow_marble.store.states import States, due

Now = Literal["now"]
NOW: Now = "now"
"""In place of a head: whichever it is."""

_KEPT_REQUESTS = 5000


class HeadMovedError(HollowMarbleError):
    """The document stands somewhere else than the edit was made for."""

    status = 409


@dataclass(frozen=True)
class DocumentRow:
    """A document's entry: where it stands (head), and where redo leads (tip)."""

    id: str
    kind: DocumentKind
    name: str
    place: int
    head: int | None
    tip: int | None
    chosen: bool = False


@dataclass(frozen=True)
class Line:
    """One line of a ledger."""

    id: int
    parent: int | None
    depth: int
    kind: str
    sentence: str
    made: str


@dataclass(frozen=True)
class Standing:
    """Where a document stands in its ledger; `since` is the version last passed."""

    id: str
    name: str
    head: int | None
    sentence: str
    edits: int
    can_undo: bool
    can_redo: bool
    since: str | None


_ROWS = """select document.id, document.kind, document.name, document.place, document.head, document.tip,
                  coalesce(edit.chosen, document.chosen) as chosen
           from document left join edit on edit.id = document.head"""
_INSERT = """insert into edit (document, parent, depth, kind, body, sentence, made, jump, unsaved, unsaved_bytes, chosen)
             values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"""


class Ledger:
    """All documents of one project."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.states = States(database)

    def create(
        self,
        kind: DocumentKind,
        name: str,
        start: Document | None = None,
        ident: str | None = None,
        at: int | None = None,
        within: sqlite3.Connection | None = None,
    ) -> DocumentRow:
        """Add a document that stands before its first edit, last of its kind or at a place among them; `within` a write."""
        ident = ident or uuid.uuid4().hex[:12]
        start = start or KINDS[kind].blank()
        chosen = int(isinstance(start, Sheet) and start.chosen)
        with nullcontext(within) if within else self.database.write() as connection:
            last = connection.execute("select count(*) from document where kind = ?", (kind,)).fetchone()[0]
            connection.execute(
                "insert into document (id, kind, name, place, start, created, chosen) values (?, ?, ?, ?, ?, ?, ?)",
                (ident, kind, name, last, start.model_dump_json(), now(), chosen),
            )
            if at is not None:
                self._arranged(connection, self.row(ident), at)
            return self.row(ident)

    def rename(self, ident: str, name: str) -> None:
        """Give a document another name."""
        self.row(ident)
        with self.database.write() as connection:
            connection.execute("update document set name = ? where id = ?", (name, ident))

    def arrange(self, ident: str, at: int) -> None:
        """Put a document at a place among those of its kind; 0 is first."""
        with self.database.write() as connection:
            self._arranged(connection, self.row(ident), at)

    def rows(self, kind: DocumentKind | None = None) -> list[DocumentRow]:
        """All documents in order, or those of one kind."""
        query = f"{_ROWS} where ? is null or document.kind = ? order by document.kind, document.place"
        return [_row(found) for found in self.database.rows(query, (kind, kind))]

    def row(self, ident: str) -> DocumentRow:
        """One document's entry."""
        found = self.database.row(f"{_ROWS} where document.id = ?", (ident,))
        if found is None:
            raise NotFoundError("There is no such document in this project.")
        return _row(found)

    def state(self, ident: str, edit: int | None = None, at_head: bool = True) -> Document:
        """The document at its head, or (`at_head=False`) at any line of its ledger; None is the start."""
        row = self.row(ident)
        return self._state(row, row.head if at_head else edit)

    def append(
        self,
        ident: str,
        edit: Edit,
        assets: Iterable[Asset] = (),
        expected_head: int | Now | None = NOW,
        leads_to: Document | None = None,
        request: str = "",
    ) -> tuple[int, Document]:
        """Apply an edit at the head and store it with the payloads it names. When this returns, both are on disk.

        Parameters
        ----------
        expected_head
            the head the edit was made for; with `NOW` it is applied at whatever head there is.
        leads_to
            the state the edit leads to from the expected head, where that has been worked out already.
        request
            a name by which the request for it is known again (`answered`).

        Raises
        ------
        HeadMovedError
            where the document stands elsewhere by now; nothing is stored.
        """
        assets = tuple(assets)
        while True:
            row = self.row(ident)
            if expected_head not in (NOW, row.head):
                raise HeadMovedError("Somebody else changed this meanwhile. Look at it again and repeat what you did.")
            document = leads_to if leads_to is not None else apply(self._state(row, row.head), edit)
            try:
                return self._write(row, edit, document, assets, request), document
            except HeadMovedError:
                if expected_head != NOW:
                    raise

    def _write(self, row: DocumentRow, edit: Edit, document: Document, assets: tuple[Asset, ...], request: str) -> int:
        body: str = edit.model_dump_json()  # type: ignore[attr-defined]
        sentence, made = edit.sentence(), now()
        chosen = int(isinstance(document, Sheet) and document.chosen)
        with self.database.write() as connection:
            found = connection.execute("select head from document where id = ?", (row.id,)).fetchone()
            if found["head"] != row.head:
                raise HeadMovedError("Somebody else changed this meanwhile. Look at it again and repeat what you did.")
            before = self._place(row.head)
            unsaved, weight, last = self._unsaved(row.head)
            unsaved, weight = unsaved + 1, weight + len(body)
            wanted = due(unsaved, weight, last)
            keep_assets(connection, assets)
            jump = jump_of_child(self.database.row, before)
            values = (row.id, row.head, before.depth + 1, edit.kind, body, sentence, made, jump)
            kept = (0, 0) if wanted else (unsaved, weight)
            number = connection.execute(_INSERT, (*values, *kept, chosen)).lastrowid
            assert number is not None
            connection.execute("update document set head = ?, tip = ? where id = ?", (number, number, row.id))
            _note(connection, request, row.id)
        self.states.remember(row.id, number, document, len(body))
        if wanted:
            self.states.snapshot(number, document)
        return number

    def answered(self, ident: str, request: str) -> bool:
        """Whether a request for this document has been carried out before."""
        return (
            bool(request)
            and self.database.row("select 1 from request where id = ? and document = ?", (request, ident)) is not None
        )

    def undo(self, ident: str, request: str = "") -> int | None:
        """Step back; returns the new head."""
        with self.database.write() as connection:
            row = self.row(ident)
            if row.head is None:
                raise HollowMarbleError("This is the start of the ledger; there is nothing to undo.")
            head = self._place(row.head).parent
            connection.execute("update document set head = ? where id = ?", (head, ident))
            _note(connection, request, ident)
            return head

    def redo(self, ident: str, request: str = "") -> int:
        """Step forward along the branch last stood on; returns the new head."""
        with self.database.write() as connection:
            row = self.row(ident)
            here = self._place(row.head).depth
            step = ancestor(self.database.row, row.tip, here + 1) if row.tip != row.head else None
            if step is None or self._place(step).parent != row.head:
                raise HollowMarbleError("This is the newest line here; there is nothing to redo.")
            connection.execute("update document set head = ? where id = ?", (step, ident))
            _note(connection, request, ident)
            return step

    def go_to(self, ident: str, edit: int | None, request: str = "") -> int | None:
        """Stand at any line of the ledger; redo then leads to the newest line that follows it."""
        with self.database.write() as connection:
            row = self.row(ident)
            self._check(row, edit)
            tip = edit
            ends = connection.execute(
                """select id from edit where document = ?1 and id >= coalesce(?2, 0)
                   and not exists (select 1 from edit as later where later.parent = edit.id) order by id desc""",
                (ident, edit),
            )
            for (end,) in ends:
                if is_ancestor(self.database.row, edit, end):
                    tip = end
                    break
            connection.execute("update document set head = ?, tip = ? where id = ?", (edit, tip, ident))
            _note(connection, request, ident)
            return edit

    def standing(self, ident: str, head: int | Now | None = NOW) -> Standing:
        """Where a document stands, or where it stood when this was its head."""
        row = self.row(ident)
        if head != NOW:
            row = replace(row, head=head)
        line = self.line(row.head) if row.head is not None else None
        return Standing(
            row.id,
            row.name,
            row.head,
            line.sentence if line else "Nothing done yet",
            line.depth if line else 0,
            row.head is not None,
            row.tip != row.head and row.tip is not None,
            self.version_passed(row),
        )

    def lines(self, ident: str) -> list[Line]:
        """Every line of a document's ledger, all branches, oldest first."""
        self.row(ident)
        query = "select id, parent, depth, kind, sentence, made from edit where document = ? order by id"
        return [Line(**dict(row)) for row in self.database.rows(query, (ident,))]

    def line(self, edit: int) -> Line:
        """One line of a ledger."""
        query = "select id, parent, depth, kind, sentence, made from edit where id = ?"
        row = self.database.row(query, (edit,))
        if row is None:
            raise NotFoundError("That line is not in this ledger.")
        return Line(**dict(row))

    def name_version(self, ident: str, edit: int | None, name: str) -> None:
        """Put a name on a line."""
        with self.database.write() as connection:
            self._check(self.row(ident), edit)
            if connection.execute("select 1 from version where document = ? and name = ?", (ident, name)).fetchone():
                raise HollowMarbleError(f"There is a version named {name} already. Choose another name.")
            connection.execute(
                "insert into version (document, edit, name, made) values (?, ?, ?, ?)", (ident, edit, name, now())
            )

    def versions(self, ident: str) -> list[dict[str, Any]]:
        """Names and the lines they stand on, oldest first."""
        query = "select name, edit, made from version where document = ? order by id"
        return [dict(row) for row in self.database.rows(query, (ident,))]

    def version_passed(self, row: DocumentRow) -> str | None:
        """Name of the newest version at or before the head, None where there is none."""
        named = self.database.rows(
            """select version.name, version.edit from version join edit on edit.id = version.edit
               where version.document = ? order by edit.depth desc, version.id desc""",
            (row.id,),
        )
        return next((v["name"] for v in named if is_ancestor(self.database.row, v["edit"], row.head)), None)

    def close(self) -> None:
        """Finish what is being written beside the edits."""
        self.states.close()

    def _arranged(self, connection: sqlite3.Connection, row: DocumentRow, at: int) -> None:
        others = [other.id for other in self.rows(row.kind) if other.id != row.id]
        others.insert(min(max(at, 0), len(others)), row.id)
        connection.executemany(
            "update document set place = ? where id = ?", [(number, key) for number, key in enumerate(others)]
        )

    def _place(self, edit: int | None) -> Place:
        return START if edit is None else place(self.database.row, edit)

    def _unsaved(self, edit: int | None) -> tuple[int, int, int]:
        """Edits and bytes since the newest snapshot before an edit's next one, and that snapshot's length."""
        if edit is None:
            return 0, 0, 0
        row = self.database.row("select unsaved, unsaved_bytes, depth from edit where id = ?", (edit,))
        assert row is not None
        if row["depth"] == row["unsaved"]:
            return row["unsaved"], row["unsaved_bytes"], 0
        saved = ancestor(self.database.row, edit, row["depth"] - row["unsaved"])
        size = self.database.row("select size from snapshot where edit = ?", (saved,))
        return row["unsaved"], row["unsaved_bytes"], size["size"] if size else 0

    def _check(self, row: DocumentRow, edit: int | None) -> None:
        found = self.database.row("select document from edit where id = ?", (edit,))
        if edit is not None and (found is None or found["document"] != row.id):
            raise NotFoundError("That line is not in this ledger.")

    def _state(self, row: DocumentRow, edit: int | None) -> Document:
        known = self.states.known(row.id, edit)
        return known if known is not None else self.states.read(row.id, row.kind, edit)


def _note(connection: sqlite3.Connection, request: str, ident: str) -> None:
    if not request:
        return
    number = connection.execute("insert into request (id, document) values (?, ?)", (request, ident)).lastrowid
    connection.execute("delete from request where number <= ?", ((number or 0) - _KEPT_REQUESTS,))


def _row(found: sqlite3.Row) -> DocumentRow:
    return DocumentRow(**{**dict(found), "chosen": bool(found["chosen"])})
