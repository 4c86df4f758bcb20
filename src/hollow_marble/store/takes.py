"""Pictures rendered from shots."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass
from typing import Any

from hollow_marble.core.errors import NotFoundError
from hollow_marble.documents.studio.model import Shot
from hollow_marble.store.database import Database, now

_COLUMNS = """id, place, studio, shot, name, frozen, sheets, quality, width, height, state, samples, wanted, noise, seconds,
              engine, picture, problem, made"""


@dataclass(frozen=True)
class Take:
    """One picture: the shot it was made from, how far it is, and where it came from."""

    id: str
    place: int
    studio: str
    shot: str
    name: str
    frozen: Shot
    sheets: list[tuple[str, int | None]]
    quality: str
    width: int
    height: int
    state: str
    samples: int
    wanted: int
    noise: float | None
    seconds: float
    engine: str | None
    picture: str | None
    problem: str | None
    made: str


def _take(row: Any) -> Take:
    fields = dict(row)
    fields["frozen"] = Shot.model_validate_json(fields["frozen"])
    fields["sheets"] = [(sheet, edit) for sheet, edit in json.loads(fields["sheets"])]
    return Take(**fields)


def add_take(
    database: Database,
    studio: str,
    shot: Shot,
    sheets: list[tuple[str, int | None]],
    quality: str,
    size: tuple[int, int],
    wanted: int,
) -> Take:
    """Put a picture into the queue."""
    ident = uuid.uuid4().hex[:12]
    with database.write() as connection:
        place = connection.execute("select coalesce(max(place), 0) + 1 from take").fetchone()[0]
        connection.execute(
            """insert into take (id, place, studio, shot, name, frozen, sheets, quality, width, height, state, wanted, made)
               values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 'queued', ?, ?)""",
            (ident, place, studio, shot.id, shot.name, shot.model_dump_json(), json.dumps(sheets), quality, *size, wanted,
             now()),
        )  # fmt: skip
    return get_take(database, ident)


def get_take(database: Database, ident: str) -> Take:
    """One take."""
    row = database.row(f"select {_COLUMNS} from take where id = ?", (ident,))
    if row is None:
        raise NotFoundError("There is no such take in this project.")
    return _take(row)


def list_takes(database: Database) -> list[Take]:
    """All takes in the order they were asked for."""
    return [_take(row) for row in database.rows(f"select {_COLUMNS} from take order by place")]


def update_take(database: Database, ident: str, **fields: Any) -> None:
    """Set columns of a take."""
    names = ", ".join(f"{name} = ?" for name in fields)
    with database.write() as connection:
        connection.execute(f"update take set {names} where id = ?", (*fields.values(), ident))
