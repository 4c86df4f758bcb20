"""Whether what is to be made along a line has room there, and what would fit. Lengths mm."""

from __future__ import annotations

import numpy as np

from hollow_marble.core.detail.ground import Floats, Ground, Spots
from hollow_marble.core.detail.relief import Strip
from hollow_marble.core.detail.skin_lines import crossing_places
from hollow_marble.core.errors import HollowMarbleError

_ENTRIES = 4
_LEFT = 0.05
"""mm of a wall that is to stay below."""


def checked(ground: Ground, strip: Strip) -> None:
    """Raise where a line crosses itself, or a strip along it is deeper than what is below it, or wider than the skin is there."""
    line = strip.line
    crossings = crossing_places(line)
    if len(crossings):
        raise HollowMarbleError(
            f"The line crosses itself at {_said(crossings[0])}. Draw it so that it does not, or as two lines."
        )
    if strip.profile.low < 0 and ground.probed.closed:
        _not_through(ground, strip)
    size = line.length
    if line.closed and strip.profile.reach * 2 > size / 2:
        raise HollowMarbleError(
            f"A width of {2 * strip.profile.reach:.2f} mm does not fit round a line of {size:.1f} mm: up to {size / 2:.1f} mm fit."
        )


def _not_through(ground: Ground, strip: Strip) -> None:
    """What lies straight below the line is to be further off than it is deep."""
    spots = strip.line.spots
    thick = thickness(ground, spots)
    deep = -strip.profile.low
    thin = float(thick.min(initial=np.inf))
    if thin < deep + _LEFT:
        place = spots.points[int(thick.argmin())]
        fits = max(np.floor((thin - _LEFT) * 100) / 100, 0.0)
        raise HollowMarbleError(
            f"It is {deep:g} mm deep, and the part is {thin:.2f} mm thick at {_said(place)}. "
            + (f"Up to {fits:g} mm fit." if fits > 0 else "Choose another line, or run it out of the skin.")
        )


def thickness(ground: Ground, spots: Spots) -> Floats:
    """(K,) mm from spots straight down to where the body ends; inf where it does not."""
    probed = ground.probed
    a, b, c = probed.points[probed.triangles].transpose(1, 0, 2)
    facing = np.cross(b - a, c - a)
    far = np.full(len(spots), np.inf)
    left, starts = np.arange(len(spots)), spots.points.copy()
    gone = np.zeros(len(spots))
    for _ in range(_ENTRIES):
        if not len(left):
            break
        found = probed.nearest.met(starts, -spots.normals[left])
        hit = found.triangle >= 0
        # the chords of its own curve may lie a little below a spot: what is looked for is the way out
        out = hit & ((facing[found.triangle] * spots.normals[left]).sum(axis=1) < 0)
        far[left[out]] = gone[left[out]] + found.distance[out]
        on = hit & ~out
        left, starts = left[on], found.place[on] - 1e-6 * spots.normals[left[on]]
        gone[left] += found.distance[on] + 1e-6
    return far


def _said(place: np.ndarray) -> str:
    return "W {:.1f}, D {:.1f}, H {:.1f} mm".format(*place)
