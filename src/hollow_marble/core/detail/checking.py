"""Whether what is to be made along a line has room there, and what would fit. Lengths mm."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from hollow_marble.core.detail.cuts import Cut, wall_of
from hollow_marble.core.detail.ground import Floats, Ground, Ints, Spots
from hollow_marble.core.detail.knurls import Knurl
from hollow_marble.core.detail.relief import Raised, Relief, Strip
from hollow_marble.core.detail.skin_lines import crossing_places
from hollow_marble.core.detail.stamps import Stamp
from hollow_marble.core.errors import HollowMarbleError

_ENTRIES = 4
_HALVINGS = 12
_ASKED = 400
_LEAST_PITCH = 0.1
"""mm between teeth: finer ones are a finish, which Studio has."""
_LEFT = 0.05
"""mm of a wall that is to stay below."""
_OVER = -0.5
"""Cosine between a triangle and itself, raised, from which on it has turned over; slivers turn by less."""
_FOLDED = 0.25
"""Of the square of a depth: what area may turn over before one sees it."""


def checked(ground: Ground, strip: Strip) -> None:
    """Raise where a line crosses itself, or a strip along it is deeper than what is below it, or wider than the skin is there."""
    line = strip.line
    crossings = crossing_places(line)
    if len(crossings):
        raise HollowMarbleError(
            f"The line crosses itself at {_said(crossings[0])}. Draw it so that it does not, or as two lines."
        )
    if strip.profile.low < 0 and ground.probed.closed:
        _not_through(ground, strip.line.spots, -strip.profile.low)
    size = line.length
    if line.closed and strip.profile.reach * 2 > size / 2:
        raise HollowMarbleError(
            f"A width of {2 * strip.profile.reach:.2f} mm does not fit round a line of {size:.1f} mm: up to {size / 2:.1f} mm fit."
        )


def check_knurl(ground: Ground, knurl: Knurl) -> None:
    """Raise where teeth would be finer than can be made or seen, or cut deeper than they are wide."""
    if knurl.pitch < _LEAST_PITCH:
        raise HollowMarbleError(
            f"{knurl.count} teeth along {knurl.line.length:.1f} mm would be {knurl.pitch:.3f} mm apart. "
            f"Up to {int(knurl.line.length / _LEAST_PITCH)} fit."
        )
    if knurl.depth > knurl.pitch:
        raise HollowMarbleError(
            f"Teeth {knurl.pitch:.2f} mm apart cannot be {knurl.depth:g} mm deep: their sides would be too steep to make. "
            f"Up to {math.floor(100 * knurl.pitch) / 100:g} mm fit."
        )
    _not_through(ground, knurl.line.spots, knurl.depth)


def check_stamp(ground: Ground, stamp: Stamp) -> None:
    """Raise where what is pressed in is deeper than what is below it."""
    if stamp.profile.low < 0 and ground.probed.closed:
        piece = stamp.chart.piece
        across, _, _ = stamp.outlines.asked(piece.flat, 1e3)
        inside = np.flatnonzero(across <= 0)
        chosen = inside if len(inside) else np.array([int(across.argmin())])
        chosen = chosen[:: max(1, len(chosen) // _ASKED)]
        spots = Spots(
            np.zeros(len(chosen), np.int64), np.zeros((len(chosen), 3)), piece.points[chosen], piece.normals[chosen]
        )
        _not_through(ground, spots, -stamp.profile.low)


def check_cut(ground: Ground, cut: Cut) -> None:
    """Raise where a wall has no room in the body, or the inside of it would fold."""
    if not cut.hollow:
        return
    probed = ground.probed
    chosen = np.arange(0, len(probed.points), max(1, len(probed.points) // _ASKED))
    spots = Spots(
        np.zeros(len(chosen), np.int64), np.zeros((len(chosen), 3)), probed.points[chosen], probed.normals[chosen]
    )
    if probed.closed:
        thick = thickness(ground, spots)
        thin = float(np.percentile(thick, 5))
        if thin < 2 * cut.wall:
            place = spots.points[int(np.argsort(thick)[len(thick) // 20])]
            raise HollowMarbleError(
                f"A wall of {cut.wall:g} mm has no room: the part is {thin:.1f} mm thick at {_said(place)}. "
                f"Up to {math.floor(5 * thin) / 10:g} mm fit."
            )


def check_wall(reliefs: tuple[Relief, ...], cuts: tuple[Cut, ...]) -> None:
    """Raise where something is pressed in deeper than the wall is thick."""
    wall = wall_of(cuts)
    deep = max((-relief.profile.low for relief in reliefs), default=0.0)
    if wall is not None and deep > wall - _LEFT:
        fits = math.floor(round(100 * (wall - _LEFT), 6)) / 100
        raise HollowMarbleError(
            f"A detail is {deep:g} mm deep, and the wall of the part is {wall:g} mm. "
            f"Up to {fits:g} mm deep fit, or a wall of {math.ceil(round(100 * (deep + _LEFT), 6)) / 100:g} mm and more."
        )


def check_folds(found: Raised, reliefs: tuple[Relief, ...]) -> None:
    """Raise where a relief is deeper, or higher, than the skin bends there, so that it comes out on its own other side."""
    facets = found.facets
    ground = facets.spots.points
    up = found.points - ground

    def over(rows: Ints, share: float) -> Floats:
        return np.asarray(_turned_over(ground, share * up, facets.corners[rows]))

    for number, relief in enumerate(reliefs):
        rows = np.flatnonzero(found.owner == number)
        areas = over(rows, 1.0)
        deep = float(np.abs(found.height[facets.corners[rows]]).max(initial=0))
        if areas.sum() <= _FOLDED * deep * deep:
            continue
        place = ground[facets.corners[rows[areas.argmax()]]].mean(axis=0)
        rows = rows[areas > 0]
        low, high = 0.0, 1.0
        for _ in range(_HALVINGS):
            share = (low + high) / 2
            low, high = (low, share) if over(rows, share).sum() > _FOLDED * (share * deep) ** 2 else (share, high)
        fits = math.floor(100 * low * deep) / 100
        way = "deep" if relief.profile.low < 0 else "high"
        raise HollowMarbleError(
            f"It is {deep:.2f} mm {way}, and the skin bends more tightly than that at {_said(place)}: it would fold over itself. "
            + (f"Up to {fits:g} mm fit." if fits > 0 else "Move it off there, or round the skin more.")
        )


@njit(cache=True, nogil=True)
def _turned_over(points, up, corners):  # type: ignore[no-untyped-def]
    """Area of each triangle of points, mm², where it has turned over when these have gone `up`; else 0."""
    found = np.zeros(len(corners))
    for t in range(len(corners)):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        flat = moved = both = 0.0
        for k in range(3):  # the parts of both triangles' vector areas
            i, j = (k + 1) % 3, (k + 2) % 3
            bi, bj, ci, cj = points[b, i] - points[a, i], points[b, j] - points[a, j], points[c, i] - points[a, i], points[c, j] - points[a, j]  # fmt: skip
            one = bi * cj - bj * ci
            bi, bj, ci, cj = bi + up[b, i] - up[a, i], bj + up[b, j] - up[a, j], ci + up[c, i] - up[a, i], cj + up[c, j] - up[a, j]  # fmt: skip
            other = bi * cj - bj * ci
            flat, moved, both = flat + one * one, moved + other * other, both + one * other
        if both < _OVER * np.sqrt(flat * moved):
            found[t] = np.sqrt(flat) / 2
    return found


def _not_through(ground: Ground, spots: Spots, deep: float) -> None:
    """What lies straight below spots is to be further off than something is deep."""
    thick = thickness(ground, spots)
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
    far = np.full(len(spots), np.inf)
    left, starts = np.arange(len(spots)), spots.points.copy()
    gone = np.zeros(len(spots))
    for _ in range(_ENTRIES):
        if not len(left):
            break
        found = probed.nearest.met(starts, -spots.normals[left])
        hit = found.triangle >= 0
        # the chords of its own curve may lie a little below a spot: what is looked for is the way out
        a, b, c = probed.points[probed.triangles[found.triangle]].transpose(1, 0, 2)
        out = hit & ((np.cross(b - a, c - a) * spots.normals[left]).sum(axis=1) < 0)
        far[left[out]] = gone[left[out]] + found.distance[out]
        on = hit & ~out
        left, starts = left[on], found.place[on] - 1e-6 * spots.normals[left[on]]
        gone[left] += found.distance[on] + 1e-6
    return far


def _said(place: np.ndarray) -> str:
    return "W {:.1f}, D {:.1f}, H {:.1f} mm".format(*place)
