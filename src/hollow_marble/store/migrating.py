"""What a migration does that SQL alone cannot say."""

from __future__ import annotations

import json
import sqlite3
from typing import Any


def after_ground(connection: sqlite3.Connection) -> None:
    """Fill jumps and marks of ledgers that were written before there were any (002_ground.sql)."""
    depth: dict[int | None, int] = {None: 0}
    jump: dict[int | None, int | None] = {None: None}
    chosen: dict[int, int] = {}
    starts = {row[0]: int(json.loads(row[1]).get("chosen", False)) for row in connection.execute(
        "select id, start from document where kind = 'sheet'"
    )}  # fmt: skip
    connection.executemany(
        "update document set chosen = ? where id = ?", [(mark, ident) for ident, mark in starts.items()]
    )
    filled = []
    rows = connection.execute("select id, document, parent, kind, body, depth from edit order by id").fetchall()
    for ident, document, parent, kind, body, deep in rows:
        depth[ident] = deep
        near = jump[parent]
        far = jump[near]
        even = depth[parent] - depth[near] == depth[near] - depth[far]
        jump[ident] = far if even else parent
        before = starts.get(document, 0) if parent is None else chosen[parent]
        chosen[ident] = int(json.loads(body)["chosen"]) if kind == "choose" else before
        filled.append((jump[ident], chosen[ident], ident))
    connection.executemany("update edit set jump = ?, chosen = ? where id = ?", filled)


def after_true_sizes(connection: sqlite3.Connection) -> None:
    """Say of the starts of earlier parts that their sizes are those of the cage (004_true_sizes.sql)."""
    for query, change in (
        ("select id, start from document where kind = 'form'", "update document set start = ? where id = ?"),
        (_EDITS_OF_FORMS, "update edit set body = ? where id = ?"),
    ):
        rows = connection.execute(query).fetchall()
        connection.executemany(change, [(json.dumps(_by_cage(json.loads(body))), ident) for ident, body in rows])
    # snapshots are made anew
    connection.execute(
        "delete from snapshot where edit in (select edit.id from edit join document on document = document.id where document.kind = 'form')"
    )


_EDITS_OF_FORMS = "select edit.id, body from edit join document on document = document.id where document.kind = 'form'"


def _by_cage(value: Any) -> Any:
    """A form or an edit of one, with every start in it that has a size marked as sized by its cage."""
    if isinstance(value, list):
        return [_by_cage(one) for one in value]
    if not isinstance(value, dict):
        return value
    held = {name: _by_cage(one) for name, one in value.items()}
    return {**held, "sized": "cage"} if _SIZED.get(held.get("kind", ""), frozenset()) & held.keys() else held


_SIZED: dict[str, frozenset[str]] = {
    **{kind: frozenset(("size",)) for kind in ("box", "sphere", "cylinder", "tube", "disc")},
    "ring": frozenset(("tube",)),
    "turned": frozenset(("profile",)),
}
"""Kinds of starts that take a size, and the number that tells one from other things of that kind."""


def after_studios(connection: sqlite3.Connection) -> None:
    """Say of every lamp which kind it is, and call a sweep one kind of set (007_studios.sql)."""
    for query, change in (
        ("select id, start from document where kind = 'studio'", "update document set start = ? where id = ?"),
        (_EDITS_OF_STUDIOS, "update edit set body = ?, kind = ? where id = ?"),
        ("select id, frozen from take", "update take set frozen = ? where id = ?"),
    ):
        for ident, body in connection.execute(query).fetchall():
            told = _of_kinds(json.loads(body))
            values = (json.dumps(told), told["kind"]) if query == _EDITS_OF_STUDIOS else (json.dumps(told),)
            connection.execute(change, (*values, ident))
    connection.execute(
        "delete from snapshot where edit in (select edit.id from edit join document on document = document.id where document.kind = 'studio')"
    )


_EDITS_OF_STUDIOS = (
    "select edit.id, body from edit join document on document = document.id where document.kind = 'studio'"
)
_RENAMED = {"set_sweep": "build_set", "start_three_point": "start_light"}


def _of_kinds(value: Any) -> Any:
    """A studio, a shot or an edit of a studio in the terms of today: lamps and sets by their kinds."""
    if isinstance(value, list):
        return [_of_kinds(one) for one in value]
    if not isinstance(value, dict):
        return value
    held = {name: _of_kinds(one) for name, one in value.items()}
    if {"role", "azimuth", "tall"} <= held.keys():
        held = {"kind": "soft box", **held}
    if isinstance(held.get("sweep"), dict) and "material" not in held["sweep"]:  # a part may be called so
        held["set"] = {"kind": "sweep", **held.pop("sweep")}
    if held.get("kind") in _RENAMED:
        held["kind"] = _RENAMED[held["kind"]]
    return held


AFTER = {2: after_ground, 4: after_true_sizes, 7: after_studios}
"""By number of the migration."""
