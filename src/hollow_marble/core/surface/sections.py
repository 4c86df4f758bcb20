"""Sections by planes, and combs of curvature along them and along the edges of patches."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.curvature import bent_along
from hollow_marble.core.surface.directions import unit
from hollow_marble.core.surface.lines import Lines, level_lines
from hollow_marble.core.surface.probed import Probed

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

_STRAIGHT = 0.02
"""What of a curve's largest curvature is nought, where it is asked on which side it bends."""


@dataclass(frozen=True, eq=False)
class Combed:
    """L curves of K places with their curvature.

    places (K, 3) mm; starts (L + 1,); closed (L,)
    bend (K,) 1/mm, positive where it bulges outward; out (K, 3) the way the comb stands, of length 1
    lengths (L,) mm; inflections (I, 3) places where a curve changes the side it bends to, and inflects (I,) which curve that is
    level (L,) which of the asked planes; 0 for rows
    """

    places: Values
    starts: Numbers
    closed: NDArray[np.bool_]
    bend: Values
    out: Values
    lengths: Values
    inflections: Values
    inflects: Numbers
    level: Numbers


def sections(probed: Probed, normal: Values, offsets: Values) -> Combed:
    """Cut by planes across `normal` (3,), `offsets` (M,) mm along it from the origin.

    The curvature is that of the curve in its plane, from the surface's second form (Meusnier; do Carmo 1976, section 3-2).

    Raises
    ------
    HollowMarbleError
        where `normal` has no length.
    """
    m = unit(normal, "The plane of the section has no direction. Give it one.")
    lines = level_lines(probed.triangles, probed.joined, probed.points @ m, offsets)
    wanted = offsets[lines.level][lines.owner]
    lines = lines.settled(probed.points, probed.normals, lambda at, _: at @ m - wanted)
    places = lines.bent(probed.points, probed.normals)
    normals = lines.at(probed.normals)
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-12)
    within = normals - (normals @ m)[:, None] * m
    leaning = np.linalg.norm(within, axis=1)
    out = within / np.maximum(leaning, 1e-9)[:, None]
    along = np.cross(out, m)
    bend = bent_along(lines.at(probed.bends.tensor), along) / np.maximum(leaning, 1e-3)
    return _combed(lines, places, bend, out)


def whole_rows(probed: Probed, wanted: NDArray[np.bool_] | None = None) -> Combed:
    """Combs along the borders of patches ((E,) bool of `probed.rims`; all where it is left out): how much the surface bends along them,
    standing along its normal."""
    rims = probed.rims if wanted is None else probed.rims[wanted]
    pairs = probed.smooth[rims]
    _, first = np.unique(np.sort(pairs, axis=1) @ [int(probed.smooth.max()) + 1, 1], return_index=True)
    rims = rims[first]
    ends, starts, closed = chained(probed.smooth[rims], rims)
    lines = Lines(np.stack([ends, ends], axis=1), np.zeros(len(ends)), starts, np.zeros(len(closed), np.int64), closed)
    places = probed.points[ends]
    normals = probed.normals[ends]
    return _combed(
        lines, places, bent_along(probed.bends.tensor[ends], _tangents(probed, lines, places, normals)), normals
    )


def row_at(probed: Probed, place: Values) -> Combed:
    """The comb along the row of patches' edges that passes nearest to a place (3,): it goes on straight from patch to patch."""
    named = np.sort(probed.joined[probed.rims], axis=1)
    count = int(probed.joined.max()) + 1
    _, first = np.unique(named @ [count, 1], return_index=True)
    pieces = probed.rims[first]
    names = probed.joined[pieces]
    ends = probed.points[pieces]
    middle = ends.mean(axis=1)
    begin = int(np.linalg.norm(middle - place, axis=1).argmin())
    meeting: dict[int, list[int]] = {}
    for piece, (a, b) in enumerate(names.tolist()):
        meeting.setdefault(a, []).append(piece)
        meeting.setdefault(b, []).append(piece)
    way = ends[:, 1] - ends[:, 0]
    way = way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-300)
    chosen = {begin}
    for side in (0, 1):
        here, piece = int(names[begin, side]), begin
        heading = way[begin] if side else -way[begin]
        while True:
            onward = [other for other in meeting[here] if other != piece]
            turned = [float(heading @ (way[o] if names[o, 0] == here else -way[o])) for o in onward]
            if not turned or max(turned) < _STRAIGHT_ON or onward[int(np.argmax(turned))] in chosen:
                break
            piece = onward[int(np.argmax(turned))]
            chosen.add(piece)
            heading = way[piece] if names[piece, 0] == here else -way[piece]
            here = int(names[piece, 1] if names[piece, 0] == here else names[piece, 0])
    wanted = np.zeros(len(probed.rims), bool)
    wanted[first[sorted(chosen)]] = True
    return whole_rows(probed, wanted)


_STRAIGHT_ON = 0.85
"""Cosine above which a row goes on into the next piece: at a regular point the others turn off by far more."""


def _tangents(probed: Probed, lines: Lines, places: Values, normals: Values) -> Values:
    """(K, 3) unit tangents: of a patch's own directions the one the line follows; without any, the chord's."""
    count = len(places)
    one, other = lines.steps()
    chord = np.zeros((count, 3))
    way = places[other] - places[one]
    np.add.at(chord, one, way)
    np.add.at(chord, other, way)
    chord /= np.maximum(np.linalg.norm(chord, axis=1, keepdims=True), 1e-12)
    if probed.derivatives is not None:
        ways = probed.derivatives[lines.ends[:, 0], 1:3]
        ways = ways / np.maximum(np.linalg.norm(ways, axis=2, keepdims=True), 1e-12)
        alike = np.einsum("kaj,kj->ka", ways, chord)
        best = np.abs(alike).argmax(axis=1)
        at = np.arange(count)
        exact = np.abs(alike[at, best]) > 0.9
        chord[exact] = ways[at, best][exact]
    flat = chord - (chord * normals).sum(axis=1)[:, None] * normals
    return np.asarray(flat / np.maximum(np.linalg.norm(flat, axis=1, keepdims=True), 1e-12))


def _combed(lines: Lines, places: Values, bend: Values, out: Values) -> Combed:
    one, other = lines.steps()
    chord = np.linalg.norm(places[other] - places[one], axis=1)
    # an arc is longer than its chord by a 24th of (curvature × chord)²
    arcs = chord * (1 + ((bend[one] + bend[other]) / 2 * chord) ** 2 / 24)
    lengths = np.bincount(lines.owner[one], arcs, len(lines.level))
    most = np.zeros(len(lines.level))
    np.maximum.at(most, lines.owner, np.abs(bend))
    places_of = [
        _inflections(places[line], bend[line], closed, _STRAIGHT * most[k])
        for k, (line, closed) in enumerate(zip(lines.each(), lines.closed.tolist()))
    ]
    inflections = np.concatenate([np.empty((0, 3)), *places_of])
    inflects = np.repeat(np.arange(len(places_of)), [len(found) for found in places_of])
    total = np.asarray(lengths, float)
    return Combed(places, lines.starts, lines.closed, bend, out, total, inflections, inflects, lines.level)


def _inflections(places: Values, bend: Values, closed: bool, nought: float) -> Values:
    """Places (I, 3) where a curve goes over from one side to the other, and does not only come near to straight."""
    sure = np.flatnonzero(np.abs(bend) > max(nought, 1e-6))
    if len(sure) < 2:
        return np.empty((0, 3))
    before, after = sure[:-1], sure[1:]
    if closed:
        before, after = sure, np.roll(sure, -1)
    turns = bend[before] * bend[after] < 0
    one, other = before[turns], after[turns]
    share = (np.abs(bend[one]) / (np.abs(bend[one]) + np.abs(bend[other])))[:, None]
    return np.asarray(places[one] * (1 - share) + places[other] * share)


def chained(pairs: Numbers, points: Numbers) -> tuple[Numbers, Numbers, NDArray[np.bool_]]:
    """Pieces (E, 2), named at both ends, made runs that end where not two meet: the (K,) `points` they pass, (L + 1,) starts, (L,) whether
    a run closes (its first point is not told again)."""
    meeting: dict[int, list[int]] = {}
    for piece, (a, b) in enumerate(pairs.tolist()):
        meeting.setdefault(a, []).append(piece)
        meeting.setdefault(b, []).append(piece)
    named = pairs.tolist()
    spots = points.tolist()
    used = [False] * len(named)
    found: list[int] = []
    starts, closed = [0], []
    ends = [name for name, pieces in meeting.items() if len(pieces) != 2]
    for begin in (*ends, *meeting):
        for piece in meeting[begin]:
            if used[piece]:
                continue
            here, at = begin, piece
            run: list[int] = []
            while not used[at]:
                used[at] = True
                side = 0 if named[at][0] == here else 1
                run.append(spots[at][side])
                last, here = spots[at][1 - side], named[at][1 - side]
                if len(meeting[here]) != 2:
                    break
                one, other = meeting[here]
                at = other if one == at else one
            shut = here == begin and len(meeting[begin]) == 2
            found += run if shut else [*run, last]
            starts.append(len(found))
            closed.append(shut)
    return np.array(found, np.int64), np.array(starts, np.int64), np.array(closed, bool)
