"""What a migration does that SQL alone cannot say."""

from __future__ import annotations

import json
import sqlite3


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


AFTER = {2: after_ground}
"""By number of the migration."""
