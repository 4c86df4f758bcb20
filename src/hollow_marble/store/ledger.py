"""Documents and their edits: append, undo, redo, branch, name.

An edit is never changed or removed. A document's `head` says where it stands; undo moves the head to the parent, and
an edit made after that begins a branch beside the old one.
"""

from __future__ import annotations

import uuid
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from threading import RLock
from typing import Any

from hollow_marble.core.errors import HollowMarbleError, NotFoundError
from hollow_marble.documents.edit import Edit
from hollow_marble.documents.kinds import KINDS, Document, DocumentKind, apply
from hollow_marble.store.database import Database, now

SNAPSHOT_EVERY = 48
_KEPT_STATES = 200


@dataclass(frozen=True)
class DocumentRow:
    """A document's entry: where it stands (head), and where redo leads (tip)."""

    id: str
    kind: DocumentKind
    name: str
    place: int
    head: int | None
    tip: int | None


@dataclass(frozen=True)
class Line:
    """One line of a ledger."""

    id: int
    parent: int | None
    depth: int
    kind: str
    sentence: str
    made: str


class Ledger:
    """All documents of one project."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self._lock = RLock()
        self._states: OrderedDict[tuple[str, int | None], Document] = OrderedDict()

    def create(
        self, kind: DocumentKind, name: str, start: Document | None = None, ident: str | None = None
    ) -> DocumentRow:
        """Add a document that stands before its first edit."""
        ident = ident or uuid.uuid4().hex[:12]
        body = (start or KINDS[kind].model()).model_dump_json()
        with self.database.write() as connection:
            place = connection.execute("select count(*) from document where kind = ?", (kind,)).fetchone()[0]
            connection.execute(
                "insert into document (id, kind, name, place, start, created) values (?, ?, ?, ?, ?, ?)",
                (ident, kind, name, place, body, now()),
            )
        return self.row(ident)

    def rename(self, ident: str, name: str) -> None:
        """Give a document another name."""
        self.row(ident)
        with self.database.write() as connection:
            connection.execute("update document set name = ? where id = ?", (name, ident))

    def arrange(self, ident: str, place: int) -> None:
        """Put a document at a place among those of its kind; 0 is first."""
        row = self.row(ident)
        with self.database.write() as connection:
            others = [other.id for other in self.rows(row.kind) if other.id != ident]
            others.insert(min(max(place, 0), len(others)), ident)
            connection.executemany(
                "update document set place = ? where id = ?", [(number, key) for number, key in enumerate(others)]
            )

    def rows(self, kind: DocumentKind | None = None) -> list[DocumentRow]:
        """All documents in order, or those of one kind."""
        query = "select id, kind, name, place, head, tip from document where ? is null or kind = ? order by kind, place"
        return [DocumentRow(**row) for row in self.database.rows(query, (kind, kind))]

    def row(self, ident: str) -> DocumentRow:
        """One document's entry."""
        query = "select id, kind, name, place, head, tip from document where id = ?"
        row = self.database.row(query, (ident,))
        if row is None:
            raise NotFoundError("There is no such document in this project.")
        return DocumentRow(**row)

    def state(self, ident: str, edit: int | None = None, at_head: bool = True) -> Document:
        """The document at its head, or (`at_head=False`) at any line of its ledger; None is the start."""
        row = self.row(ident)
        return self._state(row, row.head if at_head else edit)

    def append(self, ident: str, edit: Edit, check: Callable[[Document], None] | None = None) -> tuple[int, Document]:
        """Apply an edit at the head and store it. When this returns, the edit is on disk.

        `check` may refuse the state the edit leads to by raising; then nothing is stored.
        """
        with self._lock, self.database.write() as connection:
            row = self.row(ident)
            document = apply(self._state(row, row.head), edit)
            if check is not None:
                check(document)
            depth = 1 if row.head is None else self.line(row.head).depth + 1
            body = edit.model_dump_json()  # type: ignore[attr-defined]
            number = connection.execute(
                "insert into edit (document, parent, depth, kind, body, sentence, made) values (?, ?, ?, ?, ?, ?, ?)",
                (ident, row.head, depth, edit.kind, body, edit.sentence(), now()),
            ).lastrowid
            assert number is not None
            if depth % SNAPSHOT_EVERY == 0:
                connection.execute(
                    "insert into snapshot (edit, body) values (?, ?)", (number, document.model_dump_json())
                )
            connection.execute("update document set head = ?, tip = ? where id = ?", (number, number, ident))
        self._remember((ident, number), document)
        return number, document

    def undo(self, ident: str) -> int | None:
        """Step back; returns the new head."""
        with self._lock, self.database.write() as connection:
            row = self.row(ident)
            if row.head is None:
                raise HollowMarbleError("This is the start of the ledger; there is nothing to undo.")
            head = self.line(row.head).parent
            connection.execute("update document set head = ? where id = ?", (head, ident))
            return head

    def redo(self, ident: str) -> int:
        """Step forward along the branch last stood on; returns the new head."""
        with self._lock, self.database.write() as connection:
            row = self.row(ident)
            step = row.tip
            while step is not None and step != row.head:
                parent = self.line(step).parent
                if parent == row.head:
                    connection.execute("update document set head = ? where id = ?", (step, ident))
                    return step
                step = parent
            raise HollowMarbleError("This is the newest line here; there is nothing to redo.")

    def go_to(self, ident: str, edit: int | None) -> int | None:
        """Stand at any line of the ledger; redo then leads to the newest line that follows it."""
        with self._lock, self.database.write() as connection:
            row = self.row(ident)
            self._check(row, edit)
            tip = connection.execute(
                """with recursive following (id) as (
                       select ?1 where ?1 is not null
                       union all select edit.id from edit where ?1 is null and parent is null and document = ?2
                       union all select edit.id from edit join following on edit.parent = following.id
                   ) select max(id) from following""",
                (edit, ident),
            ).fetchone()[0]
            connection.execute("update document set head = ?, tip = ? where id = ?", (edit, tip, ident))
            return edit

    def lines(self, ident: str) -> list[Line]:
        """Every line of a document's ledger, all branches, oldest first."""
        self.row(ident)
        query = "select id, parent, depth, kind, sentence, made from edit where document = ? order by id"
        return [Line(**row) for row in self.database.rows(query, (ident,))]

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

    def _check(self, row: DocumentRow, edit: int | None) -> None:
        found = self.database.row("select document from edit where id = ?", (edit,))
        if edit is not None and (found is None or found["document"] != row.id):
            raise NotFoundError("That line is not in this ledger.")

    def version_passed(self, row: DocumentRow) -> str | None:
        """Name of the newest version at or before the head, None where there is none."""
        found = (
            self.database.row(
                """with recursive path (id, parent, steps) as (
                   select id, parent, 0 from edit where id = ?1
                   union all select edit.id, edit.parent, steps + 1 from edit join path on edit.id = path.parent
               ) select name from version join path on version.edit = path.id
                 where version.document = ?2 order by steps limit 1""",
                (row.head, row.id),
            )
            if self._has_versions(row.id)
            else None
        )
        return found["name"] if found else None

    def _has_versions(self, ident: str) -> bool:
        query = "select 1 from version where document = ? and edit is not null limit 1"
        return self.database.row(query, (ident,)) is not None

    def line(self, edit: int) -> Line:
        """One line of a ledger."""
        query = "select id, parent, depth, kind, sentence, made from edit where id = ?"
        return Line(**self.database.row(query, (edit,)))

    def _state(self, row: DocumentRow, edit: int | None) -> Document:
        with self._lock:
            kind = KINDS[row.kind]
            waiting: list[str] = []
            step = edit
            while True:
                document = self._states.get((row.id, step))
                if document is not None:
                    self._states.move_to_end((row.id, step))
                    break
                if step is None:
                    (start,) = self.database.rows("select start from document where id = ?", (row.id,))[0]
                    document = kind.read(start)
                    break
                found = self.database.row(
                    """select edit.parent, edit.body, edit.document, snapshot.body as whole
                       from edit left join snapshot on snapshot.edit = edit.id where edit.id = ?""",
                    (step,),
                )
                if found is None or found["document"] != row.id:
                    raise NotFoundError("That line is not in this ledger.")
                if found["whole"] is not None:
                    document = kind.read(found["whole"])
                    break
                waiting.append(found["body"])
                step = found["parent"]
            for body in reversed(waiting):
                document = apply(document, kind.read_edit(body))
            self._remember((row.id, edit), document)
            return document

    def _remember(self, key: tuple[str, int | None], document: Document) -> None:
        with self._lock:
            self._states[key] = document
            while len(self._states) > _KEPT_STATES:
                self._states.popitem(last=False)
