"""Ways back through a ledger in a number of steps that grows with the logarithm of its length.

Every edit knows its parent and a jump further back (a skew-binary list: Myers 1983, "An applicative random-access
stack", Information Processing Letters 17). The start of a document is the ancestor of all, at depth 0, and has no number.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from hollow_marble.store.database import Row

Look = Callable[[str, tuple[object, ...]], "Row | None"]


@dataclass(frozen=True)
class Place:
    """An edit's place in its ledger: its depth, its parent, and how far its jump leads."""

    id: int | None
    depth: int
    parent: int | None
    jump: int | None
    jump_depth: int


START = Place(None, 0, None, None, 0)

_PLACE = """select edit.id, edit.depth, edit.parent, edit.jump, coalesce(far.depth, 0) as jump_depth
            from edit left join edit as far on far.id = edit.jump where edit.id = ?"""


def place(look: Look, edit: int | None) -> Place:
    """The place of an edit, or of the start."""
    if edit is None:
        return START
    row = look(_PLACE, (edit,))
    assert row is not None
    return Place(**row)


def jump_of_child(look: Look, parent: Place) -> int | None:
    """The jump of an edit that follows another one."""
    if parent.id is None:
        return None
    near = place(look, parent.jump)
    if parent.depth - near.depth == near.depth - near.jump_depth:
        return near.jump
    return parent.id


def ancestor(look: Look, edit: int | None, depth: int) -> int | None:
    """The ancestor of an edit (or itself) at a depth; None is the start."""
    here = place(look, edit)
    while here.depth > depth:
        here = place(look, here.jump if here.jump_depth >= depth else here.parent)
    return here.id


def is_ancestor(look: Look, older: int | None, newer: int | None) -> bool:
    """Whether one edit lies on the way from another to the start (or is it)."""
    if older is None:
        return True
    then, now = place(look, older), place(look, newer)
    return then.depth <= now.depth and ancestor(look, newer, then.depth) == older
