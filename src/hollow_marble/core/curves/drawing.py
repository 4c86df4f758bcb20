"""What a designer draws: points, pieces between them, corners to be rounded; and the chains of exact pieces that come of it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import fsolve

from hollow_marble.core.curves import splines
from hollow_marble.core.curves.segments import Array, Conic, Line, Segment
from hollow_marble.core.errors import HollowMarbleError

PieceKind = Literal["line", "arc", "circle", "ellipse", "oval", "through", "by", "blend"]
NEAR = 1e-6
"""mm: ends closer than this are one."""


@dataclass(frozen=True)
class Piece:
    """One piece of a drawing, by numbers of points.

    line : from, to
    arc : from, to, centre; `left` where it runs to the left round its centre
    circle : centre; `value` its radius. ellipse : centre, end of one half axis; `value` the other half
    oval : a stretch of an ellipse to the left round its centre: centre, end of one half axis, from, to; `value` the other half
    through, by : points a spline runs through, or is drawn to; `closed` where it comes round; `knots` (over 0 to 1) where it was cut
    blend : from, to; it leaves both as the pieces that end there arrive, by direction (`order` 1), by curvature too (2)
    """

    name: str
    kind: PieceKind
    points: tuple[int, ...]
    value: float = 0.0
    left: bool = True
    closed: bool = False
    knots: tuple[float, ...] = ()
    order: int = 1

    @property
    def has_value(self) -> bool:
        """Whether its value is one of the drawing's unknowns."""
        return self.kind in ("circle", "ellipse", "oval")

    @property
    def ends(self) -> tuple[int, int] | None:
        """Numbers of the points it begins and ends at, None where it comes round."""
        if self.kind in ("circle", "ellipse") or self.closed:
            return None
        if self.kind == "oval":
            return self.points[2], self.points[3]
        return (self.points[0], self.points[1]) if self.kind == "arc" else (self.points[0], self.points[-1])


@dataclass(frozen=True, eq=False)
class Chain:
    """Pieces end to end; `closed` where the last one ends at the first one's beginning."""

    segments: tuple[Segment, ...]
    closed: bool

    def moved(self, matrix: Array, shift: Array) -> Chain:
        """Under p → matrix p + shift, where the matrix keeps angles."""
        return Chain(tuple(segment.moved(matrix, shift) for segment in self.segments), self.closed)

    def back(self) -> Chain:
        """The same chain the other way."""
        return Chain(tuple(segment.back() for segment in reversed(self.segments)), self.closed)


@dataclass(frozen=True, eq=False)
class Drawing:
    """points (n, 2), or (n, 3) for a curve in space; `rounds` is radius in mm by point."""

    points: Array
    pieces: tuple[Piece, ...]
    rounds: dict[int, float] = field(default_factory=dict)

    def segment(self, piece: Piece) -> Segment:
        """A piece as exact geometry, corners not yet rounded."""
        points = self.points[list(piece.points)]
        if piece.kind == "line":
            return Line(piece.name, points[0], points[1])
        if piece.kind == "through":
            return splines.through(piece.name, points, piece.closed)
        if piece.kind == "by":
            return splines.by_points(piece.name, points, piece.closed, piece.knots)
        if piece.kind == "blend":
            one, other = self._arriving(piece)
            return splines.blend(piece.name, one, other, piece.order)
        if points.shape[1] != 2:
            raise HollowMarbleError("Arcs, circles and ellipses lie in a plane. Draw this one on a plane.")
        if piece.kind == "arc":
            return arc_of(piece, *points)
        if piece.value <= 0:
            raise HollowMarbleError(f"A radius of {piece.value:g} mm leaves nothing. Give it a larger one.")
        if piece.kind == "circle":
            return Conic(piece.name, points[0], piece.value * np.eye(2)[0], piece.value * np.eye(2)[1], 0.0, 2 * np.pi)
        u = points[1] - points[0]
        reach = float(np.linalg.norm(u))
        if reach < NEAR:
            raise HollowMarbleError("The half axis of an ellipse has no length. Draw its end further out.")
        v = np.array([-u[1], u[0]]) * piece.value / reach
        if piece.kind == "ellipse":
            return Conic(piece.name, points[0], u, v, 0.0, 2 * np.pi)
        begin, end = (float(np.arctan2(p @ v / (v @ v), p @ u / (u @ u))) for p in points[2:] - points[0])
        return Conic(piece.name, points[0], u, v, begin, (end - begin) % (2 * np.pi) or 2 * np.pi)

    def _arriving(self, blend: Piece) -> list[splines.End]:
        """How the pieces at both ends of a blend arrive there; straight towards its other end where there is none."""
        number, found = same_places(self.points), []
        a, b = self.points[list(blend.points)]
        for point, straight in zip(blend.points, (b - a, a - b)):
            end = splines.End(self.points[point], straight, np.zeros_like(straight))
            for piece in self.pieces:
                if piece.kind == "blend" or piece.ends is None:
                    continue
                for at_end, other in enumerate(piece.ends):
                    if number[other] == number[point]:
                        segment = self.segment(piece)
                        end = splines.end_of(segment if at_end else segment.back())
            found.append(end)
        return found

    def chains(self) -> list[Chain]:
        """All pieces joined end to end as far as they go, corners rounded.

        Raises
        ------
        HollowMarbleError
            where more than two pieces meet, a piece has no length, or a corner has no room for its radius.
        """
        segments = [self.segment(piece) for piece in self.pieces]
        number = same_places(self.points)
        meeting: dict[int, list[int]] = {}
        for index, piece in enumerate(self.pieces):
            if piece.ends is not None:
                a, b = (int(number[end]) for end in piece.ends)
                round_ = piece.kind in ("through", "by") and len(piece.points) > 2  # a spline may end where it begins
                if not round_ and (
                    np.linalg.norm(segments[index].at(np.array([0.0, 1.0]))[1] - self.points[piece.ends[0]]) < NEAR
                    and a == b
                ):
                    raise HollowMarbleError(f"A {piece.kind} begins and ends at the same point. Move one of its ends.")
                for end in {a, b}:
                    meeting.setdefault(end, []).append(index)
        crowded = next((end for end, there in meeting.items() if len(there) > 2), None)
        if crowded is not None:
            place = ", ".join(f"{v:.1f}" for v in self.points[crowded])
            raise HollowMarbleError(
                f"{len(meeting[crowded])} pieces meet at ({place}); a curve can go on only one way. Trim what is too much."
            )
        rounds = {int(number[point]): radius for point, radius in self.rounds.items() if radius > 0}
        left, chains = set(range(len(self.pieces))), []
        starts = [index for index, piece in enumerate(self.pieces) if piece.ends is None]
        for index in starts:
            left.discard(index)
            chains.append(Chain((segments[index],), True))
        loose = [end for end, there in meeting.items() if len(there) == 1]
        for begin in [*loose, *meeting]:
            walked = self._walked(begin, meeting, number, segments, left)
            if walked is not None:
                corners, chain = walked
                chains.append(rounded(chain, [rounds.get(corner, 0.0) for corner in corners]))
        return chains

    def _walked(
        self,
        begin: int,
        meeting: dict[int, list[int]],
        number: NDArray[np.int64],
        segments: list[Segment],
        left: set[int],
    ) -> tuple[list[int], Chain] | None:
        """From a point on, as far as pieces are left: the corners passed (the last one last) and the chain."""
        at, found, corners = begin, [], []
        while True:
            onward = next((index for index in meeting[at] if index in left), None)
            if onward is None:
                break
            left.discard(onward)
            ends = self.pieces[onward].ends
            assert ends is not None
            a, b = (int(number[end]) for end in ends)
            found.append(segments[onward] if a == at else segments[onward].back())
            at = b if a == at else a
            corners.append(at)
        return (corners, Chain(tuple(found), at == begin)) if found else None

    def pruned(self) -> tuple[Drawing, dict[int, int]]:
        """The drawing without points that no piece uses, and the new numbers of the others by their old ones."""
        used = sorted({point for piece in self.pieces for point in piece.points})
        number = {old: new for new, old in enumerate(used)}
        pieces = tuple(replace(piece, points=tuple(number[point] for point in piece.points)) for piece in self.pieces)
        rounds = {number[point]: radius for point, radius in self.rounds.items() if point in number}
        return Drawing(self.points[used], pieces, rounds), number

    def moved_to(self, points: Array, values: Array) -> Drawing:
        """The same drawing with other points (n, d) and values of the pieces that have one."""
        given = iter(values.tolist())
        pieces = tuple(replace(piece, value=next(given)) if piece.has_value else piece for piece in self.pieces)
        return replace(self, points=points, pieces=pieces)


def same_places(points: Array) -> NDArray[np.int64]:
    """(n,) the first of points (n, d) that lies where each one lies."""
    number = np.arange(len(points))
    for k in range(1, len(points)):
        near = np.flatnonzero(np.linalg.norm(points[:k] - points[k], axis=1) < NEAR)
        if len(near):
            number[k] = number[near[0]]
    return number


def arc_of(piece: Piece, a: Array, b: Array, centre: Array) -> Conic:
    """The arc from `a` to `b` about a centre, (2,) each; its radius is the mean of both distances."""
    radius = float(np.linalg.norm(a - centre) + np.linalg.norm(b - centre)) / 2
    if radius < NEAR:
        raise HollowMarbleError("An arc's centre lies on its end. Move it away.")
    start = float(np.arctan2(*(a - centre)[::-1]))
    sweep = float(np.arctan2(*(b - centre)[::-1])) - start
    sweep = sweep % (2 * np.pi) if piece.left else -((-sweep) % (2 * np.pi))
    if abs(sweep) < 1e-12:
        sweep = 2 * np.pi if piece.left else -2 * np.pi
    return Conic(piece.name, centre, radius * np.eye(2)[0], radius * np.eye(2)[1], start, sweep)


def rounded(chain: Chain, radii: list[float]) -> Chain:
    """A flat chain with the corner after each piece rounded to its radius in mm (0: left as it is).

    Raises
    ------
    HollowMarbleError
        where a corner has no room, saying what would fit.
    """
    segments = list(chain.segments)
    count = len(segments)
    begins, stops = [0.0] * count, [1.0] * count
    arcs: dict[int, Segment] = {}
    for index, radius in enumerate(radii):
        after = (index + 1) % count
        if radius <= 0 or (after == 0 and not chain.closed) or count < 2:
            continue
        if segments[0].at(np.zeros(1)).shape[1] != 2:
            raise HollowMarbleError("Only corners of a flat curve can be rounded. Draw this one on a plane.")
        found = _corner(segments[index], segments[after], radius)
        if found is None or found[0] <= begins[index] or found[1] >= stops[after]:
            room = _room(segments[index], segments[after], radius, begins[index], stops[after])
            raise HollowMarbleError(
                f"A corner has no room for a radius of {radius:g} mm; up to {room:.2g} mm fits. Give it a smaller one."
            )
        stops[index], begins[after] = found[0], found[1]
        arcs[index] = found[2]
    result: list[Segment] = []
    for index, segment in enumerate(segments):
        result.append(segment if (begins[index], stops[index]) == (0, 1) else segment.part(begins[index], stops[index]))
        if index in arcs:
            result.append(arcs[index])
    return Chain(tuple(result), chain.closed)


def _corner(one: Segment, other: Segment, radius: float) -> tuple[float, float, Conic] | None:
    """Where an arc leaves one piece and meets the next, and the arc; None where there is no such place on both."""
    before, after = one.along(np.ones(1))[0], other.along(np.zeros(1))[0]
    turn = before[0] * after[1] - before[1] * after[0]
    if abs(turn) < 1e-9 * np.linalg.norm(before) * np.linalg.norm(after):
        return None
    side = 1.0 if turn > 0 else -1.0

    def beside(segment: Segment, t: float) -> Array:
        way = segment.along(np.array([t]))[0]
        return np.asarray(
            segment.at(np.array([t]))[0] + side * radius * np.array([-way[1], way[0]]) / np.linalg.norm(way)
        )

    half = np.arccos(np.clip(before @ after / (np.linalg.norm(before) * np.linalg.norm(after)), -1, 1)) / 2
    back = radius * np.tan(half)
    guess = (1 - back / np.linalg.norm(before), back / np.linalg.norm(after))
    found, info, good, _ = fsolve(
        lambda x: beside(one, _near(one, x[0])) - beside(other, _near(other, x[1])), guess, full_output=True, xtol=1e-14
    )
    s, t = (float(v) for v in found)
    if good not in (1, 4, 5) or np.abs(info["fvec"]).max() > 1e-7 or not (0 < s < 1 and 0 < t < 1):
        return None
    centre = beside(one, s)
    a, b = one.at(np.array([s]))[0], other.at(np.array([t]))[0]
    piece = Piece(f"round-{one.name}-{other.name}", "arc", (0, 1, 2), left=side > 0)
    return s, t, arc_of(piece, a, b, centre)


def _near(segment: Segment, t: float) -> float:
    """A parameter not so far outside of a piece that it means nothing; a straight one goes on as far as one likes."""
    return float(t) if isinstance(segment, Line) else float(np.clip(t, -0.2, 1.2))


def _room(one: Segment, other: Segment, radius: float, begin: float, stop: float) -> float:
    """About the largest radius that fits a corner, mm."""
    low, high = 0.0, radius
    for _ in range(24):
        middle = (low + high) / 2
        found = _corner(one, other, middle)
        fits = found is not None and found[0] > begin and found[1] < stop
        low, high = (middle, high) if fits else (low, middle)
    return low
