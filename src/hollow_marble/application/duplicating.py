"""Documents begun from others."""

from __future__ import annotations

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.store.ledger import DocumentRow
from hollow_marble.store.library import Project


def duplicate(project: Project, ident: str) -> DocumentRow:
    """Begin a sheet that looks like another one, beside it; both go on by themselves."""
    row = project.ledger.row(ident)
    if row.kind != "sheet":
        raise HollowMarbleError("Only sheets can be duplicated.")
    start = project.ledger.state(ident, row.head, at_head=False)
    return project.ledger.create(row.kind, f"{row.name[:55]} copy", start, at=row.place + 1)
