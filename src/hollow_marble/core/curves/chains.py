"""What can be said of flat chains, and done with them: area, crossings, halves, offsets."""

from __future__ import annotations

import itertools

import numpy as np
from scipy.optimize import brentq, fsolve

from hollow_marble.core.curves.drawing import NEAR, Chain, Piece, arc_of
from hollow_marble.core.curves.segments import (
    Array,
    Conic,
    Line,
    Segment,
    Spline,
    curvature,
    flattened,
    length,
    over_spans,
)
from hollow_marble.core.curves.splines import End, blend, end_of, fitted
from hollow_marble.core.errors import HollowMarbleError


def chain_length(chain: Chain) -> float:
    """Length, mm."""
    return sum(length(segment) for segment in chain.segments)


def area_and_centroid(chain: Chain) -> tuple[float, Array]:
    """Signed area in mm² (positive where it runs to the left) and centroid (2,) of a closed chain: Green's theorem, by quadrature
    on each polynomial piece."""
    total, moment = 0.0, np.zeros(2)
    for segment in chain.segments:
        breaks = np.unique(segment.knots) if isinstance(segment, Spline) else np.linspace(0, 1, 9)
        t, w = over_spans(breaks, 16)
        p, d = segment.at(t), segment.along(t)
        total += float((w * (p[:, 0] * d[:, 1] - p[:, 1] * d[:, 0])).sum()) / 2
        moment[0] += float((w * p[:, 0] ** 2 * d[:, 1]).sum()) / 2
        moment[1] -= float((w * p[:, 1] ** 2 * d[:, 0]).sum()) / 2
    return total, moment / total if total else moment


def outline(chain: Chain, tolerance: float = 0.01) -> Array:
    """(n, d) points of a polyline within `tolerance` mm of a chain; a closed one ends where it began."""
    pieces = [flattened(segment, tolerance) for segment in chain.segments]
    return np.vstack([piece[:-1] for piece in pieces] + [pieces[-1][-1:]])


def crossing(chain: Chain, tolerance: float = 0.01) -> Array | None:
    """A place (2,) where a flat chain crosses itself, None where it does not."""
    line = outline(chain, tolerance)
    a, b = line[:-1], line[1:]
    apart = np.linalg.norm(b - a, axis=1) > 1e-12
    a, b = a[apart], b[apart]
    low, high = np.minimum(a, b), np.maximum(a, b)
    count = len(a)
    for k in range(count - 2):
        last = count - 1 if chain.closed and k == 0 else count
        rest = slice(k + 2, last)
        near = ((low[rest] <= high[k]) & (high[rest] >= low[k])).all(axis=1)
        for j in np.flatnonzero(near) + k + 2:
            way, other, between = b[k] - a[k], b[j] - a[j], a[j] - a[k]
            flat = way[0] * other[1] - way[1] * other[0]
            if abs(flat) < 1e-12:
                continue
            s = (between[0] * other[1] - between[1] * other[0]) / flat
            t = (between[0] * way[1] - between[1] * way[0]) / flat
            if 1e-9 < s < 1 - 1e-9 and 1e-9 < t < 1 - 1e-9:
                return np.asarray(a[k] + s * way)
    return None


def check_simple(chain: Chain, what: str) -> None:
    """Raise HollowMarbleError where a flat chain crosses itself, saying where."""
    at = crossing(chain)
    if at is not None:
        raise HollowMarbleError(
            f"{what} crosses itself at ({at[0]:.2f}, {at[1]:.2f}) mm. Move its points apart, or trim what is too much."
        )


def contains(chain: Chain, point: Array) -> bool:
    """Whether a closed flat chain runs round a point."""
    line = outline(chain) - point
    angle = np.arctan2(line[:, 1], line[:, 0])
    turn = np.diff(angle)
    turn = (turn + np.pi) % (2 * np.pi) - np.pi
    return abs(float(turn.sum())) > np.pi


def regions(chains: list[Chain], what: str) -> list[tuple[Chain, list[Chain]]]:
    """Closed chains as regions: each with the holes in it.

    Raises
    ------
    HollowMarbleError
        where one is open, crosses itself or another.
    """
    for chain in chains:
        if not chain.closed:
            raise HollowMarbleError(f"{what} is open. Close it: draw on to where it began, or join its ends.")
        check_simple(chain, what)
    depth = [sum(contains(other, outline(chain)[0]) for other in chains if other is not chain) for chain in chains]
    found: list[tuple[Chain, list[Chain]]] = []
    for chain, deep in zip(chains, depth):
        if deep % 2 == 0:
            holes = [
                other for other, below in zip(chains, depth) if below == deep + 1 and contains(chain, outline(other)[0])
            ]
            found.append((chain, holes))
    return found


def cut_at_axis(chain: Chain) -> list[Chain]:
    """A flat chain cut wherever it passes x = 0: the pieces beside the axis, each on one side of it."""
    pieces: list[Segment] = []
    for segment in chain.segments:
        t = np.linspace(0, 1, 65)
        x = segment.at(t)[:, 0]
        x = np.where(np.abs(x) < NEAR, 0.0, x)
        crossed = np.flatnonzero(np.sign(x[:-1]) * np.sign(x[1:]) < 0)
        cuts = [0.0, *(_through_axis(segment, t[k], t[k + 1]) for k in crossed)]
        cuts += [float(s) for s, value in zip(t[1:-1], x[1:-1]) if value == 0 and not (np.abs(x) == 0).all()]
        cuts = [*sorted(set(cuts)), 1.0]
        pieces += [segment.part(a, b) if (a, b) != (0, 1) else segment for a, b in itertools.pairwise(cuts)]
    sides = []
    for piece in pieces:
        x = piece.at(np.linspace(0, 1, 9))[:, 0]
        sides.append(0 if np.abs(x).max() < NEAR else int(np.sign(x[np.abs(x).argmax()])))
    found: list[Chain] = []
    run: list[Segment] = []
    run_side = 0
    for piece, side in zip(pieces, sides):
        if run and (side != run_side or np.linalg.norm(run[-1].at(np.ones(1)) - piece.at(np.zeros(1))) > NEAR):
            found.append(Chain(tuple(run), False))
            run = []
        if side != 0:
            run.append(piece)
            run_side = side
        elif run:
            found.append(Chain(tuple(run), False))
            run = []
    if run:
        first = found[0] if found and chain.closed else None
        meets = first is not None and np.linalg.norm(run[-1].at(np.ones(1)) - first.segments[0].at(np.zeros(1))) < NEAR
        if first is not None and meets and np.sign(first.segments[0].at(np.full(1, 0.5))[0, 0]) == run_side:
            found[0] = Chain((*run, *first.segments), False)
        else:
            found.append(Chain(tuple(run), chain.closed and not found))
    return found


def _through_axis(segment: Segment, low: float, high: float) -> float:
    """The parameter between two others at which a piece passes x = 0."""
    return float(brentq(lambda s: segment.at(np.array([s]))[0, 0], low, high, xtol=1e-15))


def half_of(chains: list[Chain]) -> tuple[list[Chain], bool]:
    """Chains as they are turned about x = 0: all on the right of it, and whether a half was taken.

    Of what runs across the axis the right half is taken; what lies on the left alone is mirrored.
    """
    cut = [piece for chain in chains for piece in cut_at_axis(chain)]
    side = [float(np.sign(outline(piece)[:, 0].mean())) for piece in cut]
    right = [piece for piece, s in zip(cut, side) if s > 0]
    left = [piece for piece, s in zip(cut, side) if s < 0]
    if right:
        return right, bool(left)
    flip = np.diag([-1.0, 1.0])
    return [piece.moved(flip, np.zeros(2)) for piece in left], False


def offset(chain: Chain, distance: float, sharp: bool = False, tolerance: float = 0.002) -> Chain:
    """A flat chain `distance` mm to its left (right where negative). Lines and arcs stay exact, splines are within `tolerance` mm.

    Raises
    ------
    HollowMarbleError
        where it bends more tightly than that, or would cross itself.
    """
    kept = [segment for segment in chain.segments if not _vanishes(segment, distance)]
    if not kept:
        raise HollowMarbleError(f"An offset of {abs(distance):g} mm leaves nothing of the curve. Make it smaller.")
    moved = [_beside(segment, distance, tolerance) for segment in kept]
    result: list[Segment] = []
    count = len(moved)
    begins, stops = [0.0] * count, [1.0] * count
    joins: dict[int, list[Segment]] = {}
    for index in range(count if chain.closed else count - 1):
        after = (index + 1) % count
        corner, beyond = kept[index].at(np.ones(1))[0], kept[after].at(np.zeros(1))[0]
        a, b = moved[index].at(np.ones(1))[0], moved[after].at(np.zeros(1))[0]
        if np.linalg.norm(a - b) < NEAR or count == 1:
            continue
        before, onward = kept[index].along(np.ones(1))[0], kept[after].along(np.zeros(1))[0]
        met_there = float(np.linalg.norm(corner - beyond)) < NEAR
        outside = met_there and (before[0] * onward[1] - before[1] * onward[0]) * distance < 0
        if outside and not sharp:
            piece = Piece(f"turn-{kept[index].name}", "arc", (0, 1, 2), left=distance < 0)
            joins[index] = [arc_of(piece, a, b, corner)]
            continue
        met = _met(moved[index], moved[after], outside)
        if met is None:
            raise HollowMarbleError(
                f"An offset of {abs(distance):g} mm has no place at the corner ({corner[0]:.2f}, {corner[1]:.2f}). Make it smaller."
            )
        stops[index], begins[after] = met
    for index, segment in enumerate(moved):
        if begins[index] >= stops[index]:
            raise HollowMarbleError(
                f"An offset of {abs(distance):g} mm is more than {kept[index].name} has room for. Make it smaller."
            )
        whole = (begins[index], stops[index]) == (0, 1)
        straight = isinstance(segment, Line)
        result.append(
            segment
            if whole
            else segment.part(begins[index], stops[index])
            if straight or stops[index] <= 1
            else segment
        )
        result += joins.get(index, [])
    found = Chain(tuple(result), chain.closed)
    check_simple(found, f"The offset by {abs(distance):g} mm")
    return found


def _vanishes(segment: Segment, distance: float) -> bool:
    """Whether an arc of a circle is gone at an offset: its neighbours meet without it."""
    if not isinstance(segment, Conic) or not segment.is_round or segment.is_whole:
        return False
    turn = np.sign(segment.sweep) * np.sign(np.linalg.det(np.column_stack([segment.u, segment.v])))
    return bool(turn * distance >= segment.radii[0] * (1 - 1e-9))


def _beside(segment: Segment, distance: float, tolerance: float) -> Segment:
    """One piece beside itself."""
    if isinstance(segment, Line):
        way = segment.b - segment.a
        left = np.array([-way[1], way[0]]) / np.linalg.norm(way) * distance
        return Line(segment.name, segment.a + left, segment.b + left)
    t = np.linspace(0, 1, 257)
    first = segment.along(t)
    inside = curvature(segment, t).max() * abs(distance)
    turning = first[:, 0] * segment.bent(t)[:, 1] - first[:, 1] * segment.bent(t)[:, 0]
    if inside >= 1 and (turning * distance > 0)[curvature(segment, t) * abs(distance) >= 1].any():
        raise HollowMarbleError(
            f"{segment.name} bends more tightly than an offset of {abs(distance):g} mm: up to {1 / curvature(segment, t).max():.2g} mm fits there."
        )
    if isinstance(segment, Conic) and segment.is_round:
        radius = segment.radii[0]
        turn = np.sign(segment.sweep) * np.sign(np.linalg.det(np.column_stack([segment.u, segment.v])))
        share = (radius - turn * distance) / radius
        return Conic(segment.name, segment.centre, segment.u * share, segment.v * share, segment.start, segment.sweep)
    left = np.column_stack([-first[:, 1], first[:, 0]]) / np.linalg.norm(first, axis=1, keepdims=True)
    return fitted(segment.name, segment.at(t) + distance * left, tolerance)[0]


def _met(one: Segment, other: Segment, outside: bool) -> tuple[float, float] | None:
    """Parameters at which the end of a piece meets the beginning of the next; beyond them for straight ones that go on."""
    guesses = [(1.0, 0.0)] if outside else [(s, 1 - s) for s in (0.95, 0.8, 0.6, 0.4)]
    for guess in guesses:
        found, info, _good, _ = fsolve(
            lambda x: (one.at(np.array([x[0]])) - other.at(np.array([x[1]])))[0], guess, full_output=True, xtol=1e-14
        )
        s, t = (float(v) for v in found)
        fits = (s > 0 and t < 1) if isinstance(one, Line) and isinstance(other, Line) else (0 < s <= 1 and 0 <= t < 1)
        if np.abs(info["fvec"]).max() < 1e-7 and fits:
            return s, t
    return None


def connected(one: Chain, other: Chain, order: int) -> Chain:
    """Two open chains as one, from the end of either that is nearest to the other: by a straight piece (`order` 0), with the same
    direction (1), with the same curvature too (2). Where their ends meet already, nothing comes between; the far ends close it where
    they meet too.

    Raises
    ------
    HollowMarbleError
        where one of them comes round.
    """
    if one.closed or other.closed:
        raise HollowMarbleError("A curve that comes round has no end to be joined. Open it, or choose another.")
    ways = [(a, b) for a in (one, one.back()) for b in (other, other.back())]

    def between(pair: tuple[Chain, Chain]) -> float:
        return float(np.linalg.norm(_end(pair[0]).place - _end(pair[1].back()).place))

    first, second = min(ways, key=between)
    pieces: list[Segment] = []
    if between((first, second)) > NEAR:
        a, b = _end(first), _end(second.back())
        pieces = [Line("joint", a.place, b.place) if order == 0 else blend("joint", a, b, order)]
    closed = bool(np.linalg.norm(_end(second).place - _end(first.back()).place) < NEAR)
    return Chain((*first.segments, *pieces, *second.segments), closed)


def _end(chain: Chain) -> End:
    return end_of(chain.segments[-1])
