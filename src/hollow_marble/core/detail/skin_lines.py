"""Where lines on a skin come from. Every place they pass lies exactly on the surface. Lengths mm."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.detail.beside import Beside, SkinLine
from hollow_marble.core.detail.facets import facets_of
from hollow_marble.core.detail.ground import Floats, Ground, Ints, Spots
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import at_shares, lengths
from hollow_marble.core.surface.lines import level_lines
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.sections import chained

SPACING = 0.8
"""mm between places of a line, or finer where it bends."""
MOST_PLACES = 20_000
_ON_PLANE = 1e-10
_JUMP = 12
"""Spacings between two neighbours from which on the skin is not seen between them: it lies nearly along the ray, or behind."""


def nearest_line(ground: Ground, places: Floats, closed: bool, smooth: float = 0.0, reach: float = np.inf) -> SkinLine:
    """The line on the surface nearest to one in space (K, 3), smoothed over `smooth` mm before.

    Raises
    ------
    HollowMarbleError
        where a place is further from the surface than `reach`, with the place.
    """
    _check_places(places, closed)
    path = np.vstack([places, places[:1]]) if closed else places
    path = _smoothed(_spaced(path), closed, smooth)
    spots, there = ground.nearest(path[:-1] if closed else path, reach)
    if not there.all():
        raise HollowMarbleError(_off(path[int(np.flatnonzero(~there)[0])], reach))
    return SkinLine(_apart(spots), closed)


def thrown_line(ground: Ground, places: Floats, ways: Floats, closed: bool, smooth: float = 0.0) -> SkinLine:
    """The line a surface is met in by rays from places (K, 3) along (K, 3): from an eye through what was drawn, or all one way.

    Raises
    ------
    HollowMarbleError
        where a ray between its ends meets nothing, or what lies behind, with the place.
    """
    _check_places(places + ways, closed)
    path = np.hstack([places + ways, places])
    path = np.vstack([path, path[:1]]) if closed else path
    path = _smoothed(_spaced(path), closed, smooth)
    ways = path[:, :3] - path[:, 3:]
    ways = ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-12)
    spots, there = ground.met(path[:, 3:], ways)
    if not closed and there.any():  # what of its ends passes the part by is left out
        first, last = np.flatnonzero(there)[[0, -1]]
        spots, there, path = spots[first : last + 1], there[first : last + 1], path[first : last + 1]
    if not there.all() or len(there) < 3:
        raise HollowMarbleError(
            f"{int((~there).sum())} of the line’s {len(there)} places pass the part by, the first near {_said(path[int(np.argmin(there)), :3])}. "
            "Draw it within the part’s outline."
        )
    jumps = np.linalg.norm(np.diff(spots.points, axis=0), axis=1)
    if float(jumps.max()) > _JUMP * SPACING:
        raise HollowMarbleError(
            f"The line leaps by {float(jumps.max()):.1f} mm at {_said(spots.points[int(jumps.argmax())])}, from one side of the part to what lies behind. "
            "Draw it where the skin faces you, or as two lines."
        )
    found = _spaced(spots.points)
    return nearest_line(ground, found[:-1] if closed else found, closed)


def section_line(ground: Ground, normal: Floats, offset: float, near: Floats | None = None) -> SkinLine:
    """Where a plane, `offset` mm along a unit `normal` from the origin, cuts the surface: the longest line, or that nearest to a place.

    Raises
    ------
    HollowMarbleError
        where it does not cut it.
    """
    probed = ground.probed
    lines = level_lines(probed.triangles, probed.joined, probed.points @ normal, np.array([offset]))
    if not len(lines.level):
        low, high = (float(f(probed.points @ normal)) for f in (np.min, np.max))
        raise HollowMarbleError(
            f"The plane does not cut the part: it reaches from {low:.1f} to {high:.1f} mm along it, and the plane is at {offset:.1f} mm."
        )
    places = lines.at(probed.points)
    runs = lines.each()
    if near is None:
        best = int(np.argmax([lengths(places[run])[-1] for run in runs]))
    else:
        best = int(np.argmin([np.linalg.norm(places[run] - near, axis=1).min() for run in runs]))
    closed = bool(lines.closed[best])
    path = places[runs[best]]
    path = _spaced(np.vstack([path, path[:1]]) if closed else path)
    spots, _ = ground.nearest(path[:-1] if closed else path)
    return SkinLine(_apart(_led(ground, spots, normal, offset)), closed)


def _led(ground: Ground, spots: Spots, normal: Floats, offset: float) -> Spots:
    """Spots moved along the surface until they lie in a plane: Newton's method."""
    for _ in range(20):
        short = offset - spots.points @ normal
        if float(np.abs(short).max(initial=0)) < _ON_PLANE:
            break
        level = normal - (spots.normals @ normal)[:, None] * spots.normals
        steep = np.maximum((level * level).sum(axis=1), 0.01)
        spots, _ = ground.nearest(spots.points + (short / steep)[:, None] * level)
    return spots


def row_line(ground: Ground, pairs: Ints) -> SkinLine:
    """Along sides of the ground's triangles, (E, 2) of its points: the border of patches, as a row of a cage is.

    Raises
    ------
    HollowMarbleError
        where they do not hang together in one run.
    """
    probed = ground.probed
    named = probed.joined[pairs]
    points, starts, closed = chained(named, pairs)
    if len(closed) != 1:
        raise HollowMarbleError(f"The row is in {len(closed)} pieces. Pick edges that hang together end to end.")
    shut = bool(closed[0])
    numbers = probed.joined[points[starts[0] : starts[1]]]
    ring = np.append(numbers, numbers[0]) if shut else numbers
    # the triangle that holds each side, and which of its corners the side's ends are
    held: dict[tuple[int, int], tuple[int, int, int]] = {}
    wanted = {tuple(sorted(pair)) for pair in zip(ring[:-1].tolist(), ring[1:].tolist())}
    corners = probed.joined[probed.triangles]
    for side in range(3):
        one, other = corners[:, side], corners[:, (side + 1) % 3]
        for triangle in np.flatnonzero(np.isin(one, numbers) & np.isin(other, numbers)).tolist():
            a, b = int(one[triangle]), int(other[triangle])
            if tuple(sorted((a, b))) in wanted:
                held.setdefault((a, b), (triangle, side, (side + 1) % 3))
                held.setdefault((b, a), (triangle, (side + 1) % 3, side))
    triangles, shares = [], []
    for a, b in zip(ring[:-1].tolist(), ring[1:].tolist()):
        triangle, first, second = held[a, b]
        long = float(
            np.linalg.norm(
                probed.points[probed.triangles[triangle, first]] - probed.points[probed.triangles[triangle, second]]
            )
        )
        for t in np.arange(0, 1, 1 / max(1, round(long / SPACING))):
            row = np.zeros(3)
            row[first], row[second] = 1 - t, t
            triangles.append(triangle)
            shares.append(row)
    if not shut:
        row = np.zeros(3)
        row[second] = 1.0
        triangles.append(triangle)
        shares.append(row)
    return SkinLine(_apart(ground.spots(np.array(triangles), np.array(shares))), shut)


def meeting_line(ground: Ground, other: Nearest, near: Floats | None = None) -> SkinLine:
    """Where a surface meets another one, told by what finds places on that: the longest line, or the one nearest to a place (3,).

    Every place lies exactly on this surface, and on the other as nearly as its triangles do.

    Raises
    ------
    HollowMarbleError
        where they do not meet.
    """
    probed = ground.probed
    corners = probed.joined[probed.triangles]
    following, count = np.roll(corners, -1, axis=1), int(probed.joined.max()) + 1
    named = np.minimum(corners, following) * count + np.maximum(corners, following)
    names, first, number = np.unique(named, return_index=True, return_inverse=True)
    triangle, side = first // 3, first % 3
    a = probed.points[probed.triangles[triangle, side]]
    b = probed.points[probed.triangles[triangle, (side + 1) % 3]]
    long = np.maximum(np.linalg.norm(b - a, axis=1), 1e-12)
    found = other.met(a, (b - a) / long[:, None])
    met = (found.triangle >= 0) & (found.distance <= long)
    crossed = met[number.reshape(-1, 3)]
    pieces = np.flatnonzero(crossed.sum(axis=1) == 2)
    if not len(pieces):
        raise HollowMarbleError(
            "The two parts do not meet on this skin. Move one into the other, or choose another part."
        )
    pairs = number.reshape(-1, 3)[pieces][crossed[pieces]].reshape(-1, 2)
    points, starts, closed = chained(pairs, pairs)
    share = np.where(met, found.distance / long, 0.0)
    shares = np.zeros((len(names), 3))
    rows = np.arange(len(names))
    shares[rows, side], shares[rows, (side + 1) % 3] = 1 - share, share
    runs = [points[p:q] for p, q in zip(starts[:-1].tolist(), starts[1:].tolist())]
    places = [ground.spots(triangle[run], shares[run]) for run in runs]
    if near is None:
        best = int(np.argmax([lengths(spots.points)[-1] for spots in places]))
    else:
        best = int(np.argmin([np.linalg.norm(spots.points - near, axis=1).min() for spots in places]))
    shut = bool(closed[best])
    path = places[best].points
    path = _spaced(np.vstack([path, path[:1]]) if shut else path)
    spots, _ = ground.nearest(path[:-1] if shut else path)
    return SkinLine(_apart(spots), shut)


def offset_line(ground: Ground, line: SkinLine, by: float) -> SkinLine:
    """The line `by` mm to the left of another along the surface (to the right where negative): where the distance to it is that.

    Raises
    ------
    HollowMarbleError
        where nothing of the surface is that far to that side.
    """
    beside = Beside(line, abs(by) * 1.6 + 2)

    def told(spots: Spots) -> Floats:
        aside = beside.asked(spots)
        return np.where(aside.past == 0, aside.off, np.inf)

    def wanted(spots: Spots) -> Floats:
        off = beside.asked(spots).off
        return np.where(np.abs(off - by) < 3.0, 2 * SPACING + 0.5 * np.maximum(np.abs(off - by) - 1.0, 0), np.inf)

    facets = facets_of(ground).refined(wanted, line.spots.points, abs(by) + 2.0)
    value = told(facets.spots)
    cut, value = facets.sliced(value, np.array([by]), told, 1e-7)
    edges = cut.edges()
    edges = edges[(value[edges] == by).all(axis=1)]
    if not len(edges):
        raise HollowMarbleError(
            f"Nothing of the skin lies {abs(by):g} mm to that side of the line. Give a smaller distance."
        )
    points, starts, closed = chained(edges, edges)
    runs = [points[a:b] for a, b in zip(starts[:-1].tolist(), starts[1:].tolist())]
    best = int(np.argmax([lengths(cut.spots.points[run])[-1] for run in runs]))
    run = runs[best]
    # seen along it, what it was moved from lies on the other side: it runs the way that one does
    aside = beside.asked(cut.spots[run])
    if float(np.median(np.diff(aside.along))) < 0:
        run = run[::-1]
    found = SkinLine(_apart(cut.spots[run]), bool(closed[best]))
    return _evened(ground, found, told, by)


def _evened(ground: Ground, line: SkinLine, told: Callable[[Spots], Floats], level: float) -> SkinLine:
    """The same line with its places evenly apart, each where `told` is `level`."""
    points = line.spots.points[line.ring]
    path = _spaced(_even(points))
    spots, _ = ground.nearest(path[:-1] if line.closed else path)
    for _ in range(3):
        short = level - told(spots)
        short = np.where(np.abs(short) < 1.0, short, 0.0)  # not where there is no telling
        left = np.cross(spots.normals, SkinLine(spots, line.closed).tangents)
        spots, _ = ground.nearest(spots.points + short[:, None] * left)
    return SkinLine(spots, line.closed)


def _even(path: Floats) -> Floats:
    count = max(3, int(np.ceil(lengths(path)[-1] / SPACING)) + 1)
    return at_shares(path, np.linspace(0, 1, count))


def _spaced(path: Floats) -> Floats:
    """A path (n, k) with places (the first three of k) no further apart than `SPACING`."""
    far = np.linalg.norm(np.diff(path[:, :3], axis=0), axis=1)
    total = float(far.sum())
    spacing = max(SPACING, total / MOST_PLACES)
    parts = [
        path[k] + (path[k + 1] - path[k]) * np.arange(0, 1, 1 / max(1, int(np.ceil(far[k] / spacing))))[:, None]
        for k in range(len(far))
        if far[k] > 0
    ]
    return np.concatenate([*parts, path[-1:]])


def _smoothed(path: Floats, closed: bool, over: float) -> Floats:
    """A path (n, k) smoothed by a Gauss curve of a spread along it; the ends of an open one stay. Its length is that of its places."""
    if over <= 0 or len(path) < 3:
        return path
    along = lengths(path[:, :3])
    step = max(along[-1] / 4000, min(SPACING, over) / 4)
    count = max(8, int(np.ceil(along[-1] / step)) + 1)
    even = np.column_stack(
        [np.interp(np.linspace(0, along[-1], count), along, path[:, k]) for k in range(path.shape[1])]
    )
    half = min(int(np.ceil(3 * over / step)), count - 1)
    weights = np.exp(-0.5 * (np.arange(-half, half + 1) * step / over) ** 2)
    weights /= weights.sum()
    if closed:
        inner = even[:-1]
        longer = np.concatenate([inner[-half:], inner, inner[:half]]) if half <= len(inner) else np.tile(inner, (3, 1))
        found = np.column_stack([np.convolve(longer[:, k], weights, "same") for k in range(path.shape[1])])
        found = found[half : half + len(inner)] if half <= len(inner) else found[len(inner) : 2 * len(inner)]
        return np.vstack([found, found[:1]])
    # turned about its ends: they stay where they are
    longer = np.concatenate([2 * even[0] - even[half:0:-1], even, 2 * even[-1] - even[-2 : -half - 2 : -1]])
    found = np.column_stack([np.convolve(longer[:, k], weights, "valid") for k in range(path.shape[1])])
    return np.asarray(found)


def _apart(spots: Spots) -> Spots:
    """Without spots that lie on the one before."""
    far = np.linalg.norm(np.diff(spots.points, axis=0), axis=1) > 1e-6
    keep = np.concatenate([[True], far])
    return spots[keep]


def _check_places(places: Floats, closed: bool) -> None:
    if not np.isfinite(places).all():
        raise HollowMarbleError("A place of the line is not a number. Draw it again.")
    if len(places) < (3 if closed else 2) or float(np.ptp(places, axis=0).max()) < 1e-3:
        raise HollowMarbleError("The line has no length. Draw it longer.")
    if len(places) > MOST_PLACES:
        raise HollowMarbleError(
            f"The line has {len(places):,} places; up to {MOST_PLACES:,} can be followed. Draw it with fewer."
        )


def _off(place: Floats, reach: float) -> str:
    return f"The line leaves the part: at {_said(place)} the skin is more than {reach:g} mm away. Draw it nearer, or project it along a direction."


def _said(place: Floats) -> str:
    return "W {:.1f}, D {:.1f}, H {:.1f} mm".format(*place)


def crossing_places(line: SkinLine) -> NDArray[np.float64]:
    """(C, 3) places where a line crosses itself: pieces that are not neighbours and come nearer than a thousandth of a mm."""
    points = line.spots.points[line.ring]
    a, b = points[:-1], points[1:]
    middle, half = (a + b) / 2, np.linalg.norm(b - a, axis=1) / 2
    pairs = cKDTree(middle).query_pairs(2 * float(half.max()) + 1e-3, output_type="ndarray")
    apart = np.abs(pairs[:, 1] - pairs[:, 0])
    count = len(a)
    pairs = pairs[(apart > 1) & (~np.bool_(line.closed) | (apart < count - 1))]
    if not len(pairs):
        return np.empty((0, 3))
    p, q = pairs.T
    u, v, w = b[p] - a[p], b[q] - a[q], a[p] - a[q]
    uu, uv, vv, uw, vw = ((x * y).sum(axis=1) for x, y in ((u, u), (u, v), (v, v), (u, w), (v, w)))
    det = np.maximum(uu * vv - uv * uv, 1e-30)
    s, t = (uv * vw - vv * uw) / det, (uu * vw - uv * uw) / det
    met = (s > 0) & (s < 1) & (t > 0) & (t < 1)
    gap = np.linalg.norm(w + s[:, None] * u - t[:, None] * v, axis=1)
    met &= gap < 0.05 * (half[p] + half[q])
    return np.asarray((a[p] + s[:, None] * u)[met])
