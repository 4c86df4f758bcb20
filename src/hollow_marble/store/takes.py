"""Pictures rendered from shots."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from hollow_marble.core.errors import NotFoundError
from hollow_marble.documents.edit import Asset
from hollow_marble.documents.studio.model import Shot
from hollow_marble.store.assets import keep_assets
from hollow_marble.store.database import Database, now

_COLUMNS = """id, place, studio, shot, name, frozen, sheets, quality, width, height, state, samples, wanted, noise, raw_noise, seconds,
              engine, picture, problem, made"""
_CHANGING = frozenset(("state", "samples", "noise", "raw_noise", "seconds", "engine", "problem"))


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
    raw_noise: float | None
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
    row = database.row(f"select {_COLUMNS} from take where id = ?", (ident,))  # noqa: S608 — a constant
    if row is None:
        raise NotFoundError("There is no such take in this project.")
    return _take(row)


def list_takes(database: Database) -> list[Take]:
    """All takes in the order they were asked for."""
    query = f"select {_COLUMNS} from take order by place"  # noqa: S608 — a constant
    return [_take(row) for row in database.rows(query)]


def update_take(database: Database, ident: str, **fields: Any) -> None:
    """Set columns of a take."""
    if not fields.keys() <= _CHANGING:
        raise ValueError(f"a take's {', '.join(fields.keys() - _CHANGING)} never changes")
    names = ", ".join(f"{name} = ?" for name in fields)
    with database.write() as connection:
        connection.execute(f"update take set {names} where id = ?", (*fields.values(), ident))  # noqa: S608 — names from above


def end_take(database: Database, ident: str, state: str, problem: str | None, layers: Mapping[str, Asset]) -> None:
    """A take has come to an end: keep its layers (of frame 0), with its state, in one transaction.

    Layers it had from an earlier end are let go, with their payloads where nothing else names them.
    """
    with database.write() as connection:
        old = [row["sha"] for row in connection.execute("select sha from take_layer where take = ?", (ident,))]
        keep_assets(connection, layers.values())
        if layers:
            connection.execute("delete from take_layer where take = ?", (ident,))
            connection.executemany(
                "insert into take_layer (take, frame, layer, sha) values (?, 0, ?, ?)",
                [(ident, name, asset.sha) for name, asset in layers.items()],
            )
            picture = layers["picture"].sha if "picture" in layers else None
            connection.execute("update take set picture = ? where id = ?", (picture, ident))
            for sha in set(old):
                connection.execute(
                    "delete from asset where sha = ?1 and not exists (select 1 from take_layer where sha = ?1)", (sha,)
                )
        connection.execute("update take set state = ?, problem = ? where id = ?", (state, problem, ident))


def take_layer(database: Database, ident: str, frame: int, layer: str) -> str | None:
    """SHA-256 of a layer of a take, None where it has none of that name."""
    query = "select sha from take_layer where take = ? and frame = ? and layer = ?"
    row = database.row(query, (ident, frame, layer))
    return row["sha"] if row else None


def unfinished_takes(database: Database) -> list[Take]:
    """Takes that wait or are being developed, in the order they were asked for."""
    query = f"select {_COLUMNS} from take where state in ('queued', 'developing') order by place"  # noqa: S608 — a constant
    return [_take(row) for row in database.rows(query)]
