"""Details made alike on all sides of a symmetric skin: where their images lie. Lengths mm."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from hollow_marble.core.cage.symmetry import Operation, Symmetry
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.ground import Floats, Ground, Spots
from hollow_marble.core.errors import HollowMarbleError

_SAME = 0.05
"""mm within which an image is what is there already, and ends of lines meet."""
_OFF = 0.5
"""mm the skin may be off where an image is to lie."""


def lines_alike(ground: Ground, line: SkinLine, symmetry: Symmetry) -> list[SkinLine]:
    """A line and its images; those that meet end to end are one, what lies on another is left out.

    Raises
    ------
    HollowMarbleError
        where the skin is not alike on the other sides.
    """
    found = [line]
    for operation in symmetry.operations[1:]:
        image = _image(ground, line, operation)
        if any(_lies_on(image, other) for other in found):
            continue
        kept: list[SkinLine] = []
        for other in found:
            both = _joined(other, image)
            if both is None:
                kept.append(other)
            else:
                image = both
        found = [*kept, image]
    return found


def places_alike(ground: Ground, at: Floats, symmetry: Symmetry) -> Iterator[tuple[Operation, Floats]]:
    """A place (3,) near a skin and its images, each with what brings it there; what lies on another is left out.

    Raises
    ------
    HollowMarbleError
        as `lines_alike` does.
    """
    own, _ = ground.nearest(at[None])
    found: list[Floats] = []
    for operation in symmetry.operations:
        image = operation.of(at)
        if all(float(np.linalg.norm(image - other)) > _SAME for other in found):
            if found:
                _spots(ground, operation.of(own.points))
            found.append(image)
            yield operation, image


def _image(ground: Ground, line: SkinLine, operation: Operation) -> SkinLine:
    """Seen in a mirror what lay to its left lies to its right, so that it runs the other way."""
    spots = _spots(ground, operation.of(line.spots.points))
    return SkinLine(ground.exactly(spots[::-1] if operation.turns_over else spots), line.closed)


def _spots(ground: Ground, places: Floats) -> Spots:
    spots, _ = ground.nearest(places)
    away = np.linalg.norm(spots.points - places, axis=1)
    worst = int(away.argmax())
    if away[worst] > _OFF:
        where = "W {:.1f}, D {:.1f}, H {:.1f} mm".format(*places[worst])
        raise HollowMarbleError(
            f"The sides are not alike there: the skin is {away[worst]:.1f} mm off at {where}. "
            "Make the sides alike, or make it on this side only."
        )
    return spots


def _lies_on(line: SkinLine, other: SkinLine) -> bool:
    return bool((other.beside(1.0).asked(line.spots).away < _SAME).all())


def _joined(one: SkinLine, other: SkinLine) -> SkinLine | None:
    """Two open lines with a common end as one, in the way the first runs; None where they have none."""
    if one.closed or other.closed:
        return None
    for spots in (other.spots, other.spots[::-1]):
        for first, then in ((one.spots, spots), (spots, one.spots)):
            if _meet(first.points[-1], then.points[0]):
                both = first + then[1:]
                closed = _meet(both.points[0], both.points[-1])
                return SkinLine(both[:-1] if closed else both, closed)
    return None


def _meet(one: Floats, other: Floats) -> bool:
    return float(np.linalg.norm(one - other)) < _SAME
