"""When an earlier step changes, later steps follow: their picks are carried over to the new cage where that can be told.

Points are the same where they bear the same number and lie in the same place before the change, or where a later step makes
them from such points in the same order. Where a pick cannot be carried over, a sentence says at which step and why.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.mesh import Cage, faces_by_corners
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.model import Part, Step

After = Callable[[Cage | None, Step], Cage]
Numbers = NDArray[np.int64]
ROUNDED = 6


def followed(part: Part, index: int, step: Step | None, after: After) -> tuple[Step, ...]:
    """The steps after one that is exchanged (or taken out: None), with their picks carried over.

    Raises
    ------
    HollowMarbleError
        naming the step that no longer fits, and why.
    """
    before: Cage | None = None
    for earlier in part.steps[:index]:
        before = after(before, earlier)
    new = before if step is None else after(before, step)
    old = after(before, part.steps[index])
    if new is None:
        raise HollowMarbleError("The first step of a recipe cannot be taken out. Remove the part instead.")
    same = _same(old, new)
    steps: list[Step] = []
    for number, later in enumerate(part.steps[index + 1 :], index + 2):
        if not later.keeps_cage:  # from here on names of faces, not numbers, say what is worked on
            return (*steps, *(_followed_row(one, old, new, same) for one in part.steps[number - 1 :]))
        try:
            carried = _carried(later, old, new, same)
            old_next, new_next = after(old, later), after(new, carried)
        except HollowMarbleError as error:
            raise HollowMarbleError(
                f"Step {number} ({later.sentence()}) could not follow: {error} The form is as it was."
            ) from error
        same = _onward(old, new, same, old_next, new_next)
        steps.append(carried)
        old, new = old_next, new_next
    return tuple(steps)


def tracked(cages: list[Cage], kind: str, items: list[int]) -> list[int]:
    """Where picked items of the first cage are in the last one; what is gone is left out.

    So is what the first cage does not have, where an earlier step has been changed since the pick was kept.
    """
    there = {"points": len(cages[0].points), "edges": len(cages[0].topology.edges), "faces": cages[0].face_count}[kind]
    items = [item for item in items if 0 <= item < there]
    points: Numbers = np.arange(len(cages[0].points))
    for before, then in itertools.pairwise(cages):
        onward = _survivors(before, then)
        points = np.where(points >= 0, onward[points], -1)
    first, last = cages[0], cages[-1]
    if kind == "points":
        found = points[items]
        return sorted(int(p) for p in found if p >= 0)
    if kind == "edges":
        numbers = []
        for a, b in first.topology.edges[items].tolist():
            if points[a] >= 0 and points[b] >= 0:
                numbers.append(last.topology.edge_number(int(points[a]), int(points[b])))
        return sorted(n for n in numbers if n >= 0)
    by_corners = faces_by_corners(last)
    faces = [by_corners.get(frozenset(points[first.face(f)].tolist())) for f in items]
    return sorted(f for f in faces if f is not None)


def _same(old: Cage, new: Cage) -> Numbers:
    """(P,) number in the new cage of every point of the old one, -1 where it has none."""
    count = len(old.points)
    if old.connectivity() == new.connectivity():
        return np.arange(count)
    result = np.full(count, -1, np.int64)
    both = min(count, len(new.points))
    alike = np.isclose(old.points[:both], new.points[:both], rtol=0, atol=10.0**-ROUNDED).all(axis=1)
    result[:both][alike] = np.flatnonzero(alike)
    return result


def _survivors(before: Cage, then: Cage) -> Numbers:
    """(P,) number after a step of every point before it, -1 where it is gone."""
    count = len(before.points)
    if len(then.points) == count and np.array_equal(then.face_points, before.face_points):
        return np.arange(count)
    places: dict[bytes, list[int]] = {}
    for number, place in enumerate(_rounded(then.points)):
        places.setdefault(place.tobytes(), []).append(number)
    result = np.full(count, -1, np.int64)
    for number, place in enumerate(_rounded(before.points)):
        waiting = places.get(place.tobytes())
        if waiting:
            result[number] = waiting.pop(0)
    return result


def _onward(old: Cage, new: Cage, same: Numbers, old_next: Cage, new_next: Cage) -> Numbers:
    """The pairing after a step: what lived on stays paired, what the step made pairs in order where the counts agree."""
    lived_old, lived_new = _survivors(old, old_next), _survivors(new, new_next)
    result = np.full(len(old_next.points), -1, np.int64)
    paired = np.flatnonzero((same >= 0) & (lived_old >= 0))
    paired = paired[lived_new[same[paired]] >= 0]
    result[lived_old[paired]] = lived_new[same[paired]]
    fresh_old = np.setdiff1d(np.arange(len(old_next.points)), lived_old[lived_old >= 0])
    fresh_new = np.setdiff1d(np.arange(len(new_next.points)), lived_new[lived_new >= 0])
    if len(fresh_old) == len(fresh_new):
        result[fresh_old] = fresh_new
    return result


def _carried(step: Any, old: Cage, new: Cage, same: Numbers) -> Any:
    """A step with its picks in the new cage's numbers."""
    fields: dict[str, Any] = {}
    given = type(step).model_fields
    if "points" in given:
        fields["points"] = tuple(_point(same, p) for p in step.points)
    if "edges" in given:
        fields["edges"] = tuple(_edge(new, same, edge) for edge in step.edges)
    if "edge" in given:
        fields["edge"] = _edge(new, same, step.edge)
    if "faces" in given:
        by_corners = faces_by_corners(new)
        fields["faces"] = tuple(_face(old, same, by_corners, face) for face in step.faces)
    return step.model_copy(update=fields) if fields else step


def _followed_row(step: Any, old: Cage, new: Cage, same: Numbers) -> Any:
    """A line along a row, in the new cage's numbers; any other step as it is."""
    return _carried(step, old, new, same) if step.kind == "row_line" else step


def _gone(what: str) -> HollowMarbleError:
    return HollowMarbleError(
        f"It works on {what} that are no longer made. Take that step out first, or leave this one as it is."
    )


def _point(same: Numbers, point: int) -> int:
    found = int(same[point]) if point < len(same) else -1
    if found < 0:
        raise _gone("points")
    return found


def _edge(new: Cage, same: Numbers, edge: tuple[int, int]) -> tuple[int, int]:
    a, b = (int(same[p]) if p < len(same) else -1 for p in edge)
    if a < 0 or b < 0 or new.topology.edge_number(a, b) < 0:
        raise _gone("edges")
    return a, b


def _face(old: Cage, same: Numbers, by_corners: dict[frozenset[int], int], face: int) -> int:
    found = by_corners.get(frozenset(same[old.face(face)].tolist())) if face < old.face_count else None
    if found is None:
        raise _gone("faces")
    return found


def _rounded(points: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(np.round(points, ROUNDED) + 0.0)
