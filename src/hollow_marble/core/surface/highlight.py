"""Lines that light draws on a surface: highlight lines, reflection lines, isophotes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.directions import unit
from hollow_marble.core.surface.lines import Lines, level_lines
from hollow_marble.core.surface.probed import Probed

Values = NDArray[np.float64]


NO_LENGTH = "The direction of the light has no length. Give it another."

_BESIDE = 0.005
"""Square of the sine to a light's direction within which a line runs along the light."""


@dataclass(frozen=True)
class LineLights:
    """Parallel line lights without end.

    at (3,) : a place on the middle one, mm; along (3,) : their direction; across (3,) : the way from one to the next; both of length 1
    count : how many; spacing : mm from one to the next
    """

    at: Values
    along: Values
    across: Values
    count: int
    spacing: float

    @property
    def offsets(self) -> Values:
        """(count,) mm of each light from the middle."""
        return np.asarray((np.arange(self.count) - (self.count - 1) / 2) * self.spacing)


def line_lights(middle: Values, away: float, towards: Values, turn: float, count: int, spacing: float) -> LineLights:
    """Lights in a plane `away` mm from a middle, seen from there along `towards` (3,); turned about it by `turn` radians from lying as level
    as they can.

    Raises
    ------
    HollowMarbleError
        where `towards` has no length.
    """
    up = unit(towards, NO_LENGTH)
    level = np.cross([0.0, 0.0, 1.0], up)
    if np.linalg.norm(level) < 1e-6:
        level = np.array([1.0, 0.0, 0.0])
    level = level / np.linalg.norm(level)
    other = np.cross(up, level)
    along = np.cos(turn) * level + np.sin(turn) * other
    return LineLights(middle + away * up, along, np.cross(up, along), count, spacing)


def highlight_lines(probed: Probed, lights: LineLights) -> Lines:
    """Where the line along the surface's normal meets a line light (Beier & Chen 1994, Highlight-line algorithm for realtime surface-quality
    assessment): nothing depends on the eye."""
    return _lit(probed, probed.normals, lights, lambda _, normals: normals)


def reflection_lines(probed: Probed, lights: LineLights, eye: Values) -> Lines:
    """Where the mirror of a line light is seen from an eye (3,)."""
    mirrored = _mirrored(probed.points, probed.normals, eye)
    hidden = ((probed.points - eye) * probed.normals).sum(axis=1) >= 0
    return _lit(probed, mirrored, lights, lambda places, normals: _mirrored(places, normals, eye), hidden)


def _mirrored(places: Values, normals: Values, eye: Values) -> Values:
    """(…, 3) of length 1, where sight from an eye goes on to."""
    sight = places - eye
    sight /= np.maximum(np.linalg.norm(sight, axis=1, keepdims=True), 1e-12)
    return np.asarray(sight - 2 * (sight * normals).sum(axis=1)[:, None] * normals)


def _lit(
    probed: Probed,
    ways: Values,
    lights: LineLights,
    way_at: Callable[[Values, Values], Values],
    hidden: NDArray[np.bool_] | None = None,
) -> Lines:
    """Where lines along `ways` (N, 3) from the surface's points meet a light ahead of them, but where it is `hidden` (N,). `way_at` tells
    them at other places (K, 3) with normals (K, 3)."""
    turned = np.cross(lights.along, ways)
    from_light = lights.at - probed.points
    value = (turned * from_light).sum(axis=1)
    slope = turned @ lights.across
    # how far ahead: what of the way to the light lies across it, along the line
    square = ways - (ways @ lights.along)[:, None] * lights.along
    ahead = (square * from_light).sum(axis=1)[:, None] + (square @ lights.across)[:, None] * lights.offsets
    # beside a light's own direction the line runs along it and meets it nowhere: nothing is told there
    ahead -= _BESIDE * np.linalg.norm(from_light, axis=1)[:, None]
    if hidden is not None:
        ahead[hidden] = -np.inf
    lines = level_lines(probed.triangles, probed.smooth, value, lights.offsets, slope, ahead)
    offset = lights.offsets[lines.level][lines.owner][:, None]

    def off(places: Values, normals: Values) -> Values:
        aside = np.cross(lights.along, way_at(places, normals))
        return np.asarray((aside * (lights.at + offset * lights.across - places)).sum(axis=1))

    return lines.settled(probed.points, probed.normals, off)


def isophotes(probed: Probed, towards: Values, degrees: Values) -> Lines:
    """Where the surface is turned by the same angle away from a direction (3,), of each of (M,) degrees: lines of equal brightness of a dull
    surface in far light."""
    light, levels = unit(towards, NO_LENGTH), np.cos(np.radians(degrees))
    lines = level_lines(probed.triangles, probed.smooth, probed.normals @ light, levels)
    wanted = levels[lines.level][lines.owner]
    return lines.settled(probed.points, probed.normals, lambda _, normals: normals @ light - wanted)
