"""A drawing changed by hand: a stretch trimmed away, an end drawn on till it meets something, two ends joined. What was said of it stays where
it still can."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from hollow_marble.core.curves.drawing import NEAR, Drawing, Piece, same_places
from hollow_marble.core.curves.holding import Hold
from hollow_marble.core.curves.meeting import meetings, nearest_on
from hollow_marble.core.curves.segments import Array, Conic, Line, Segment, Spline
from hollow_marble.core.errors import HollowMarbleError

Holds = tuple[Hold, ...]
Joining = Literal["corner", "straight", "smooth", "curvature"]
_HELD_ON = ("line", "arc", "circle")
"""Pieces a point can be held on."""
_SIZES = ("length", "middle")
"""What is said of a whole piece, and no more of a stretch of it."""
_FAR = 1e5
"""mm: an end is not drawn on further than that."""


def trimmed(drawing: Drawing, holds: Holds, name: str, place: Array) -> tuple[Drawing, Holds]:
    """The stretch of a piece that lies at a place (2,) taken away, as far as the next pieces that cross it on both sides.

    Raises
    ------
    HollowMarbleError
        where it is all there is, or a piece that comes round is crossed only once.
    """
    index = _numbered(drawing, name)
    piece, segment = drawing.pieces[index], _segment(drawing, index)
    others = [k for k in range(len(drawing.pieces)) if k != index]
    found = {k: meetings(segment, _segment(drawing, k)) for k in others}
    cuts = sorted((t, k) for k, there in found.items() for t, _ in there if piece.ends is None or NEAR < t < 1 - NEAR)
    touched = nearest_on(segment, place)[0]
    if not cuts:
        if not others:
            raise HollowMarbleError(
                f"Nothing crosses {name}, and it is all there is of the curve. Remove the part instead."
            )
        return _without(drawing, holds, index)
    before = [cut for cut in cuts if cut[0] < touched]
    after = [cut for cut in cuts if cut[0] > touched]
    work = _Change(drawing, holds)
    if piece.ends is None:
        if cuts[-1][0] - cuts[0][0] < 1e-9:
            raise HollowMarbleError(f"{name} comes round and is crossed only once. Draw another line across it first.")
        low, high = (before or cuts)[-1], (after or cuts)[0]
        begin, end = work.point(segment, high[0]), work.point(segment, low[0])
        kept = work.stretch(piece, segment, name, high[0], low[0], begin, end)
        work.put(index, [kept])
        work.hold_on([(begin, high[1]), (end, low[1])])
        return work.done()
    pieces, meets = [], []
    if before:
        t, other = before[-1]
        end = work.point(segment, t)
        pieces.append(work.stretch(piece, segment, name, 0.0, t, piece.ends[0], end))
        meets.append((end, other))
    if after:
        t, other = after[0]
        begin = work.point(segment, t)
        rest = name if not before else work.name(name)
        pieces.append(work.stretch(piece, segment, rest, t, 1.0, begin, piece.ends[1]))
        meets.append((begin, other))
    work.put(index, pieces)
    work.hold_on(meets)
    return work.done()


def extended(drawing: Drawing, holds: Holds, point: int, by: float | None = None) -> tuple[Drawing, Holds]:
    """A loose end drawn on, as its piece goes, till it meets another piece; or by so many mm. A spline goes on straight.

    Raises
    ------
    HollowMarbleError
        where the point is no loose end, or nothing lies ahead of it.
    """
    index, at_end = _loose(drawing, point)
    piece, segment = drawing.pieces[index], _segment(drawing, index)
    onward = segment if at_end else segment.back()
    ahead: Segment
    if isinstance(onward, Conic):
        room = 2 * np.pi - abs(onward.sweep)
        ahead = replace(onward, start=onward.start + onward.sweep, sweep=float(np.sign(onward.sweep)) * room)
    else:
        way = onward.along(np.ones(1))[0]
        end = onward.at(np.ones(1))[0]
        ahead = Line(piece.name, end, end + way / np.linalg.norm(way) * _FAR)
    work = _Change(drawing, holds)
    met: int | None = None
    if by is not None:
        reach = abs(ahead.sweep) * max(ahead.radii) if isinstance(ahead, Conic) else _FAR
        if not 0 < by < reach:
            raise HollowMarbleError(
                f"{piece.name} can be drawn on by up to {reach:.4g} mm, and by more than nothing. Choose another length."
            )
        stop = by / reach
    else:
        others = [k for k in range(len(drawing.pieces)) if k != index]
        hits = [(t, k) for k in others for t, _ in meetings(ahead, _segment(drawing, k)) if t > 1e-9]
        if not hits:
            raise HollowMarbleError(
                "Nothing lies ahead of this end. Draw what it is to meet first, or say by how many mm."
            )
        stop, met = min(hits)
    target = ahead.at(np.array([stop]))[0]
    if isinstance(segment, Spline):
        fresh = work.point_at(target)
        work.put(index, [piece, Piece(work.name(piece.name), "line", (point, fresh))])
        end_now = fresh
    else:
        work.let_go(piece.name, _SIZES)
        work.points[point] = target
        end_now = point
    if met is not None:
        work.hold_on([(end_now, met)])
    return work.done()


def joined(drawing: Drawing, holds: Holds, one: int, other: int, how: Joining) -> tuple[Drawing, Holds]:
    """Two loose ends joined: at the corner their pieces run to, by a straight line, smoothly, or with the same curvature too.

    Raises
    ------
    HollowMarbleError
        where one of them is no loose end, or both are ends of the same straight line.
    """
    (index, _), (second, _) = _loose(drawing, one), _loose(drawing, other)
    pieces = drawing.pieces[index], drawing.pieces[second]
    if one == other:
        raise HollowMarbleError("Two ends are joined. Pick another one with Shift.")
    if index == second and pieces[0].kind == "line":
        raise HollowMarbleError("Both are ends of one straight line, which cannot come round. Pick ends of two pieces.")
    work = _Change(drawing, holds)
    if how == "corner":
        place = drawing.points[other]
        if index != second and pieces[0].kind == pieces[1].kind == "line":
            place = _crossing(_segment(drawing, index), _segment(drawing, second), place)
        for name in (pieces[0].name, pieces[1].name):
            work.let_go(name, _SIZES)
        work.points[one] = place
        work.merge(other, one)
    elif how == "straight":
        work.pieces.append(Piece(work.name("line"), "line", (one, other)))
    else:
        work.pieces.append(Piece(work.name("blend"), "blend", (one, other), order=2 if how == "curvature" else 1))
    return work.done()


class _Change:
    """A drawing while it is changed; points that nothing uses any more go at the end, and what was said of them."""

    def __init__(self, drawing: Drawing, holds: Holds) -> None:
        self.points = [np.array(point) for point in drawing.points]
        self.pieces = list(drawing.pieces)
        self.holds = list(holds)
        self._was = drawing
        self._rounds = dict(drawing.rounds)

    def name(self, like: str) -> str:
        """A name no piece has yet."""
        taken = {piece.name for piece in self.pieces}
        stem = like.rsplit("-", 1)[0] if like.rsplit("-", 1)[-1].isdecimal() else like
        number = 1
        while f"{stem[:30]}-{number}" in taken:
            number += 1
        return f"{stem[:30]}-{number}"

    def point(self, segment: Segment, t: float) -> int:
        """The number of a point at a parameter of a piece; one that is there already where it lies there."""
        return self.point_at(segment.at(np.array([t]))[0])

    def point_at(self, place: Array) -> int:
        used = {point for piece in self.pieces if piece.ends for point in piece.ends}
        for index in used:
            if np.linalg.norm(self.points[index] - place) < NEAR:
                return index
        self.points.append(place)
        return len(self.points) - 1

    def stretch(
        self, piece: Piece, segment: Segment, name: str, low: float, high: float, begin: int, end: int
    ) -> Piece:
        """The piece between two of its parameters and points; past its beginning where `low` lies above `high`."""
        if piece.kind == "line":
            return replace(piece, name=name, points=(begin, end))
        if piece.kind == "arc":
            return replace(piece, name=name, points=(begin, end, piece.points[2]))
        if piece.kind == "circle":
            return Piece(name, "arc", (begin, end, piece.points[0]), left=True)
        if piece.kind in ("ellipse", "oval"):
            return replace(piece, name=name, kind="oval", points=(*piece.points[:2], begin, end))
        assert isinstance(segment, Spline)
        part = segment.part(low, high) if low < high else _round_the_end(segment, low, high)
        inner = list(range(len(self.points), len(self.points) + len(part.poles) - 2))
        self.points += list(part.poles[1:-1])
        return Piece(name, "by", (begin, *inner, end), knots=tuple(part.knots.tolist()))

    def put(self, index: int, pieces: list[Piece]) -> None:
        """Other pieces in place of one; what was said of a whole piece is let go, what was said of its way is said of each."""
        old = self.pieces[index]
        self.pieces[index : index + 1] = pieces
        if pieces and pieces[0] == old:
            return
        self.let_go(old.name, _SIZES)
        ways = ("level", "upright", "parallel", "square", "angle")
        for fresh in pieces[1:]:
            self.holds += [
                replace(hold, pieces=tuple(fresh.name if name == old.name else name for name in hold.pieces))
                for hold in self.holds
                if old.name in hold.pieces and hold.kind in ways
            ]
            if fresh.kind == "arc":
                self.holds.append(Hold("equal", pieces=(pieces[0].name, fresh.name)))

    def let_go(self, name: str, kinds: tuple[str, ...]) -> None:
        """Take back what was said of a piece in such ways."""
        self.holds = [hold for hold in self.holds if name not in hold.pieces or hold.kind not in kinds]

    def hold_on(self, meets: list[tuple[int, int]]) -> None:
        """Points stay on the pieces (by number, as they were) that they were cut or drawn to, where that can be said."""
        for point, number in meets:
            other = next((piece for piece in self.pieces if piece.name == self._was.pieces[number].name), None)
            if other is None or other.kind not in _HELD_ON or point in other.points:
                continue
            if any(point in hold.points and other.name in hold.pieces for hold in self.holds):
                continue
            near = next(
                (end for end in other.ends or () if np.linalg.norm(self.points[end] - self.points[point]) < NEAR), None
            )
            if near is not None:
                self.merge(near, point)
            else:
                self.holds.append(Hold("on", (point,), (other.name,)))

    def merge(self, gone: int, kept: int) -> None:
        """Two points become one."""

        def swap(points: tuple[int, ...]) -> tuple[int, ...]:
            return tuple(kept if point == gone else point for point in points)

        self.pieces = [replace(piece, points=swap(piece.points)) for piece in self.pieces]
        self.holds = [replace(hold, points=swap(hold.points)) for hold in self.holds]
        self.holds = [hold for hold in self.holds if hold.kind != "coincident" or len(set(hold.points)) == 2]

    def done(self) -> tuple[Drawing, Holds]:
        """The drawing without what nothing uses."""
        drawing, number = Drawing(np.array(self.points), tuple(self.pieces), self._rounds).pruned()
        names = {piece.name: piece for piece in self.pieces}
        holds = tuple(
            replace(hold, points=tuple(number[point] for point in hold.points))
            for hold in self.holds
            if all(point in number for point in hold.points)
            and all(name in names for name in hold.pieces)
            # an end lies on its own piece without being told
            and not (hold.kind == "on" and hold.points[0] in names[hold.pieces[0]].points)
        )
        return drawing, holds


def _without(drawing: Drawing, holds: Holds, index: int) -> tuple[Drawing, Holds]:
    work = _Change(drawing, holds)
    work.put(index, [])
    return work.done()


def _numbered(drawing: Drawing, name: str) -> int:
    found = next((k for k, piece in enumerate(drawing.pieces) if piece.name == name), None)
    if found is None:
        raise HollowMarbleError(f"The curve has no piece {name} any more. Touch another.")
    return found


def _segment(drawing: Drawing, index: int) -> Segment:
    if drawing.points.shape[1] != 2:
        raise HollowMarbleError("Only a flat curve is trimmed and drawn on. Drag the points of this one instead.")
    return drawing.segment(drawing.pieces[index])


def _loose(drawing: Drawing, point: int) -> tuple[int, bool]:
    """The only piece that ends at a point, and whether it is its end (not its beginning)."""
    if not 0 <= point < len(drawing.points):
        raise HollowMarbleError("That point is no longer there. Pick another.")
    number = same_places(drawing.points)
    there = [
        (index, which == 1)
        for index, piece in enumerate(drawing.pieces)
        for which, end in enumerate(piece.ends or ())
        if number[end] == number[point]
    ]
    if len(there) != 1:
        raise HollowMarbleError(f"Point {point + 1} is not a loose end. Pick a point at which the curve stops.")
    return there[0]


def _crossing(one: Segment, other: Segment, otherwise: Array) -> Array:
    """Where two straight lines meet when they go on, (2,)."""
    assert isinstance(one, Line)
    assert isinstance(other, Line)
    way, second = one.b - one.a, other.b - other.a
    flat = way[0] * second[1] - way[1] * second[0]
    if abs(flat) < 1e-9 * np.linalg.norm(way) * np.linalg.norm(second):
        return otherwise
    between = other.a - one.a
    return np.asarray(one.a + way * (between[0] * second[1] - between[1] * second[0]) / flat)


def _round_the_end(spline: Spline, low: float, high: float) -> Spline:
    """A spline that comes round, from one parameter past its end to another: its two stretches as one."""
    first, second = spline.part(low, 1.0), spline.part(0.0, high)
    share = (1 - low) / (1 - low + high)
    degree = spline.degree
    knots = np.concatenate([first.knots[:-1] * share, share + second.knots[degree + 1 :] * (1 - share)])
    return Spline(spline.name, degree, knots, np.vstack([first.poles, second.poles[1:]]))
