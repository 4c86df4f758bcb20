"""A recipe is a fold over its steps."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates, find_mates
from hollow_marble.core.cage.symmetry import Symmetry as CoreSymmetry
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.form.steps import CageStep, StartStep

FindMates = Callable[[Cage, CoreSymmetry], Mates]


def after(cage: Cage | None, step: Any, load: LoadAsset, mates: FindMates = find_mates) -> Cage:
    """The cage after one more step."""
    if isinstance(step, StartStep):
        start: StartStep = step
        return start.made(load)
    if cage is None:
        raise HollowMarbleError("The recipe has no start. Begin it with a box or an imported cage.")
    if step.kind == "merged":
        taken_in: Cage = step.merged_into(cage, load)
        return taken_in
    change: CageStep = step
    found = mates(cage, change.symmetry.core()) if change.symmetry is not None else None
    return change.applied_to(cage, found)


def fold(steps: Iterable[Any], load: LoadAsset) -> Cage:
    """The cage after all steps."""
    cage: Cage | None = None
    for step in steps:
        cage = after(cage, step, load)
    if cage is None:
        raise HollowMarbleError("The part has no steps. Begin it with a box or an imported cage.")
    return cage
