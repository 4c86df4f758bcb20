"""Keeping what was said of a drawing: a small solver for dimensions and relations in a plane.

All that is held are equations in the drawing's unknowns x: coordinates of points, radii. From where the drawing is, Newton's steps of
least length, x ← x − J⁺ r (Gauss–Newton with the pseudo-inverse; Nocedal & Wright, Numerical Optimization, 2nd ed. 2006, section 10.3),
lead to the nearest drawing that keeps them all, as closely as may be to the one before. J comes by complex steps (Squire & Trapp 1998),
exact to rounding. Its rank tells how many ways to move are left, and what is said twice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from hollow_marble.core.curves.drawing import Drawing, Piece
from hollow_marble.core.curves.segments import Array
from hollow_marble.core.errors import HollowMarbleError

HoldKind = Literal[
    "coincident", "on", "level", "upright", "parallel", "square", "tangent", "equal", "fixed", "middle", "mirrored",
    "length", "apart", "radius", "angle",
]  # fmt: skip
MEASURED: tuple[HoldKind, ...] = ("length", "apart", "radius", "angle")
"""Those with a number: mm, and degrees for an angle."""

_EXACT = 1e-9
_STEPS = 60
Batch = NDArray[np.complex128]


@dataclass(frozen=True)
class Hold:
    """One thing said of a drawing: of points by number, of pieces by name; `value` mm or degrees where it has a number."""

    kind: HoldKind
    points: tuple[int, ...] = ()
    pieces: tuple[str, ...] = ()
    value: float = 0.0
    at: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class Held:
    """A drawing that keeps what is said, and how many ways to move are left."""

    drawing: Drawing
    free: int


def held(drawing: Drawing, holds: tuple[Hold, ...], grip: dict[int, Array] | None = None) -> Held:
    """The nearest drawing that keeps everything; `grip` is where points, by number, are wished to be while they are dragged.

    Raises
    ------
    HollowMarbleError
        where not everything can be kept, naming what contradicts.
    """
    system = _System(drawing, holds)
    x, weights = system.start.copy(), np.ones(len(system.start))
    for point, place in (grip or {}).items():
        x[2 * point : 2 * point + 2] = place
        weights[2 * point : 2 * point + 2] = 0.05  # what is in hand gives way last
    found, off, rank = _nearest(system, x, weights)
    if off > 1e-7:
        raise HollowMarbleError(_against(drawing, holds))
    values = found[2 * len(drawing.points) :]
    if (values <= 0).any():
        raise HollowMarbleError("A radius would have to be nought or less. Change a dimension, and try again.")
    return Held(drawing.moved_to(found[: 2 * len(drawing.points)].reshape(-1, 2), values), len(found) - rank)


def check_new(drawing: Drawing, holds: tuple[Hold, ...], new: Hold) -> None:
    """Refuse what is so already because of the rest: it would say a thing twice, and contradict as soon as one of them changes.

    Raises
    ------
    HollowMarbleError
        naming what it follows from.
    """
    after = held(drawing, (*holds, new)).drawing
    before = _rank(_System(after, holds))
    if _rank(_System(after, (*holds, new))) > before:
        return
    names = [hold for hold in holds if _says(after, [h for h in holds if h is not hold], new)]
    because = "; ".join(said(hold) for hold in names[:3]) or "the way it is drawn"
    raise HollowMarbleError(f"That is so already, because of: {because}. Take one of these away first, or leave it so.")


def _says(drawing: Drawing, holds: list[Hold], new: Hold) -> bool:
    """Whether something is new beside some others."""
    return _rank(_System(drawing, (*holds, new))) > _rank(_System(drawing, tuple(holds)))


def _against(drawing: Drawing, holds: tuple[Hold, ...]) -> str:
    """What contradicts: those without which the rest can be kept."""
    guilty = []
    for hold in holds:
        rest = tuple(other for other in holds if other is not hold)
        system = _System(drawing, rest)
        if _nearest(system, system.start, np.ones(len(system.start)))[1] <= 1e-7:
            guilty.append(hold)
    if not guilty:
        return "The dimensions and relations contradict one another. Take back the last ones, and try again."
    guilty.sort(key=lambda hold: hold.kind not in MEASURED)
    names = "; ".join(said(hold) for hold in guilty[:4])
    return f"These cannot all be kept at once: {names}. Change or take away one of them."


def said(hold: Hold) -> str:
    """A hold in words."""
    words = {
        "coincident": "two points are one", "on": "a point lies on a piece", "level": "level", "upright": "upright",
        "parallel": "parallel", "square": "square to one another", "tangent": "tangent", "equal": "equal",
        "fixed": "a point is fixed", "middle": "a point is in the middle", "mirrored": "mirrored",
        "length": f"{hold.value:g} mm long", "apart": f"{hold.value:g} mm apart", "radius": f"radius {hold.value:g} mm",
        "angle": f"angle {hold.value:g}°",
    }  # fmt: skip
    named = " and ".join(hold.pieces)
    return f"{named} {words[hold.kind]}" if named else words[hold.kind]


def _nearest(system: _System, x: Array, weights: Array) -> tuple[Array, float, int]:
    """The nearest x that keeps everything, what is left over, and the rank of what is kept; what does not hang together by itself."""
    x, worst, ranks = x.copy(), 0.0, 0
    for knot in system.knots:
        off, rank, loose = 0.0, 0, weights[knot.unknowns]
        for _ in range(_STEPS):
            r, jacobian = knot.residuals(x)
            scale = np.maximum(np.linalg.norm(jacobian, axis=1), 1e-12)
            off = float(np.abs(r).max())
            u, s, vt = np.linalg.svd(jacobian * loose / scale[:, None], full_matrices=False)
            big = s > 1e-9 * max(s[0], 1e-12)
            rank = int(big.sum())
            if off < _EXACT:
                break
            step = loose * (vt[big].T @ ((u[:, big].T @ (r / scale)) / s[big]))
            longest = float(np.abs(step).max())
            x[knot.unknowns] -= step * min(1.0, system.size / max(longest, 1e-30))
        worst, ranks = max(worst, off), ranks + rank
    return x, worst, ranks


def _rank(system: _System) -> int:
    found = 0
    for knot in system.knots:
        _r, jacobian = knot.residuals(system.start)
        scale = np.maximum(np.linalg.norm(jacobian, axis=1, keepdims=True), 1e-12)
        found += int(np.linalg.matrix_rank(jacobian / scale, tol=1e-7))
    return found


class _Some:
    """Points or values of several drawings at once, by their numbers in the whole drawing: only those an equation is about."""

    def __init__(self, batch: Batch, numbers: list[int]) -> None:
        self._batch = batch
        self._place = {number: place for place, number in enumerate(numbers)}

    def __getitem__(self, key: tuple[Any, ...]) -> Batch:
        every, number, *axis = key
        return np.asarray(self._batch[(every, self._place[number], *axis)])


@dataclass(frozen=True, eq=False)
class _Equation:
    """`off` takes points as (b, n, 2) and values as (b, k), complex, and gives (b,) or (b, m): b drawings at once. `unknowns` are numbers
    of what it hangs on, points (x and y) before values."""

    off: Callable[[Any, Any], Batch]
    points: list[int]
    values: list[int]
    unknowns: NDArray[np.int64]

    def residuals(self, x: Array) -> tuple[Array, Array]:
        """(m,) what is left over and (m, k) how it changes with its own unknowns, by complex steps."""
        count = len(self.unknowns)
        batch = np.repeat(x[self.unknowns][None].astype(complex), count + 1, axis=0)
        batch[1:] += 1e-30j * np.eye(count)
        flat = 2 * len(self.points)
        points = _Some(batch[:, :flat].reshape(count + 1, -1, 2), self.points)
        rows = self.off(points, _Some(batch[:, flat:], self.values)).reshape(count + 1, -1)
        return rows[0].real, rows[1:].imag.T / 1e-30


@dataclass(frozen=True, eq=False)
class _Knot:
    """Equations that hang together, and all they hang on."""

    equations: list[_Equation]
    unknowns: NDArray[np.int64]

    def residuals(self, x: Array) -> tuple[Array, Array]:
        """(m,) what is left over and (m, k) how it changes with the unknowns."""
        found = [equation.residuals(x) for equation in self.equations]
        jacobian = np.zeros((sum(len(r) for r, _ in found), len(self.unknowns)))
        row = 0
        for equation, (r, own) in zip(self.equations, found):
            jacobian[row : row + len(r), np.searchsorted(self.unknowns, equation.unknowns)] = own
            row += len(r)
        return np.concatenate([r for r, _ in found]), jacobian


def _knots(equations: list[_Equation], count: int) -> list[_Knot]:
    """Equations by what hangs together among `count` unknowns."""
    rows = np.repeat(np.arange(len(equations)), [len(one.unknowns) for one in equations])
    columns = np.concatenate([one.unknowns for one in equations]) if equations else rows
    size = len(equations) + count
    graph = coo_array((np.ones(len(rows)), (rows, len(equations) + columns)), shape=(size, size))
    _, label = connected_components(graph, directed=False)
    together: dict[int, list[_Equation]] = {}
    for number, equation in enumerate(equations):
        together.setdefault(int(label[number]), []).append(equation)
    return [_Knot(some, np.unique(np.concatenate([one.unknowns for one in some]))) for some in together.values()]


class _System:
    """The equations of a drawing."""

    def __init__(self, drawing: Drawing, holds: tuple[Hold, ...]) -> None:
        if drawing.points.shape[1] != 2:
            raise HollowMarbleError("Only a flat curve can be held by dimensions. Draw this one on a plane.")
        self._count = len(drawing.points)
        self._values = [piece for piece in drawing.pieces if piece.has_value]
        self._pieces = {piece.name: piece for piece in drawing.pieces}
        self.start = np.concatenate([drawing.points.ravel(), [piece.value for piece in self._values]])
        self.size = max(10.0, float(np.ptp(drawing.points, axis=0).max()))
        shapes = {"arc": self._round, "oval": self._oval}
        equations = [self._about(shapes[p.kind](p), (), (p,)) for p in drawing.pieces if p.kind in shapes]
        for hold in holds:
            off = self._equation(hold)
            pieces = tuple(self._pieces[name] for name in hold.pieces if name in self._pieces)
            equations.append(self._about(off, hold.points, pieces))
        self.knots = _knots(equations, len(self.start))

    def _about(
        self, off: Callable[[Batch, Batch], Batch], points: tuple[int, ...], pieces: tuple[Piece, ...]
    ) -> _Equation:
        numbers = sorted({*points, *(point for piece in pieces for point in piece.points)})
        values = sorted({self._values.index(piece) for piece in pieces if piece.has_value})
        flat = [2 * number + axis for number in numbers for axis in (0, 1)]
        unknowns = np.array([*flat, *(2 * self._count + value for value in values)], dtype=np.int64)
        return _Equation(off, numbers, values, unknowns)

    def _round(self, arc: Piece) -> Callable[[Batch, Batch], Batch]:
        a, b, c = arc.points
        return lambda p, _v: _long(p[:, a] - p[:, c]) - _long(p[:, b] - p[:, c])

    def _oval(self, oval: Piece) -> Callable[[Batch, Batch], Batch]:
        """Both ends lie on the ellipse, in mm beside it as far as that is small."""
        centre, axis, *ends = oval.points
        at = self._values.index(oval)

        def off(p: Batch, v: Batch) -> Batch:
            u, b = p[:, axis] - p[:, centre], v[:, at]
            a = _long(u)
            rows = []
            for end in ends:
                q = p[:, end] - p[:, centre]
                x, y = _dot(u, q) / a, _cross(u, q) / a
                rows.append((x * x / (a * a) + y * y / (b * b) - 1) * a)
            return np.stack(rows, axis=1)

        return off

    def _piece(self, hold: Hold, place: int, *kinds: str) -> Piece:
        piece = self._pieces.get(hold.pieces[place]) if place < len(hold.pieces) else None
        if piece is None:
            raise HollowMarbleError(f"To hold this ({hold.kind}), pick the pieces it is said of first.")
        if kinds and piece.kind not in kinds:
            raise HollowMarbleError(f"A {piece.kind} cannot be held so ({hold.kind}). Pick {' or '.join(kinds)}.")
        return piece

    def _reach(self, piece: Piece) -> Callable[[Batch, Batch], Batch]:
        if piece.kind == "arc":
            a, _b, c = piece.points
            return lambda p, _v: _long(p[:, a] - p[:, c])
        at = self._values.index(piece)
        return lambda _p, v: v[:, at]

    def _way(self, line: Piece) -> Callable[[Batch], Batch]:
        a, b = line.points
        return lambda p: p[:, b] - p[:, a]

    def _equation(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        """The equation of a hold."""
        needed = {"coincident": 2, "apart": 2, "on": 1, "fixed": 1, "middle": 1, "mirrored": 2}.get(hold.kind, 0)
        if len(hold.points) < needed or any(not 0 <= point < self._count for point in hold.points):
            raise HollowMarbleError(f"To hold this ({hold.kind}), pick {needed} points of the curve first.")
        made: Any = getattr(self, f"_{hold.kind}")
        equation: Callable[[Batch, Batch], Batch] = made(hold)
        return equation

    def _coincident(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        a, b = hold.points
        return lambda p, _v: p[:, a] - p[:, b]

    def _fixed(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        (a,), at = hold.points, np.array(hold.at)
        return lambda p, _v: p[:, a] - at

    def _apart(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        a, b = hold.points
        return lambda p, _v: _long(p[:, b] - p[:, a]) - hold.value

    def _length(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        way = self._way(self._piece(hold, 0, "line"))
        return lambda p, _v: _long(way(p)) - hold.value

    def _level(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        return self._even(hold, 1)

    def _upright(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        return self._even(hold, 0)

    def _even(self, hold: Hold, axis: int) -> Callable[[Batch, Batch], Batch]:
        a, b = hold.points if len(hold.points) == 2 else self._piece(hold, 0, "line").points
        return lambda p, _v: p[:, b, axis] - p[:, a, axis]

    def _middle(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        (m,), (a, b) = hold.points, self._piece(hold, 0, "line").points
        return lambda p, _v: 2 * p[:, m] - p[:, a] - p[:, b]

    def _mirrored(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        line = self._piece(hold, 0, "line")
        (a, b), (c, d) = hold.points, line.points

        def off(p: Batch, _v: Batch) -> Batch:
            way, between = p[:, d] - p[:, c], p[:, b] - p[:, a]
            middle = (p[:, a] + p[:, b]) / 2 - p[:, c]
            return np.stack([_dot(way, between), _cross(way, middle)], axis=1) / _long(way)[:, None]

        return off

    def _parallel(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        one, other = (self._way(self._piece(hold, place, "line")) for place in range(2))
        return lambda p, _v: _cross(one(p), other(p)) / np.sqrt(_long(one(p)) * _long(other(p)))

    def _square(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        one, other = (self._way(self._piece(hold, place, "line")) for place in range(2))
        return lambda p, _v: _dot(one(p), other(p)) / np.sqrt(_long(one(p)) * _long(other(p)))

    def _angle(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        """Between two lines, from the first to the second: the sine of what is left over, as long as the lines."""
        one, other = (self._way(self._piece(hold, place, "line")) for place in range(2))
        c, s = np.cos(np.radians(hold.value)), np.sin(np.radians(hold.value))

        def off(p: Batch, _v: Batch) -> Batch:
            a, b = one(p), other(p)
            side = np.where(_cross(a, b).real >= 0, 1.0, -1.0)
            turned = np.stack([c * a[:, 0] - side * s * a[:, 1], side * s * a[:, 0] + c * a[:, 1]], axis=1)
            return _cross(turned, b) / np.sqrt(_long(a) * _long(b))

        return off

    def _equal(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        one, other = (self._piece(hold, place) for place in range(2))
        if (one.kind == "line") != (other.kind == "line"):
            raise HollowMarbleError(
                "Two lines can be equal, or two radii; not a line and a radius. Pick two of a kind."
            )
        if one.kind == "line":
            first, second = self._way(one), self._way(other)
            return lambda p, _v: _long(first(p)) - _long(second(p))
        a, b = (self._reach(self._piece(hold, place, "arc", "circle")) for place in range(2))
        return lambda p, v: a(p, v) - b(p, v)

    def _radius(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        radius = self._reach(self._piece(hold, 0, "arc", "circle"))
        return lambda p, v: radius(p, v) - hold.value

    def _on(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        (q,), piece = hold.points[:1], self._piece(hold, 0, "line", "arc", "circle")
        if piece.kind == "line":
            a, way = piece.points[0], self._way(piece)
            return lambda p, _v: _cross(way(p), p[:, q] - p[:, a]) / _long(way(p))
        centre, radius = piece.points[-1], self._reach(piece)
        return lambda p, v: _long(p[:, q] - p[:, centre]) - radius(p, v)

    def _tangent(self, hold: Hold) -> Callable[[Batch, Batch], Batch]:
        one, other = (self._piece(hold, place, "line", "arc", "circle") for place in range(2))
        if one.kind == "line" and other.kind == "line":
            raise HollowMarbleError("Two straight lines are not tangent but parallel. Pick an arc or a circle.")
        if other.kind == "line":
            one, other = other, one
        shared = set(one.ends or ()) & set(other.ends or ())
        centre, radius = other.points[-1], self._reach(other)
        if one.kind == "line":
            way = self._way(one)
            if shared:  # at the end they share, the radius is square to the line
                (end,) = list(shared)[:1]
                return lambda p, _v: _dot(way(p), p[:, end] - p[:, centre]) / _long(way(p))
            a = one.points[0]

            def off(p: Batch, v: Batch) -> Batch:
                away = _cross(way(p), p[:, centre] - p[:, a]) / _long(way(p))
                return np.where(away.real >= 0, away, -away) - radius(p, v)

            return off
        own, size = one.points[-1], self._reach(one)
        if shared:
            (end,) = list(shared)[:1]
            return lambda p, _v: _cross(p[:, end] - p[:, own], p[:, end] - p[:, centre]) / _long(p[:, end] - p[:, own])

        def apart(p: Batch, v: Batch) -> Batch:
            between, a, b = _long(p[:, own] - p[:, centre]), size(p, v), radius(p, v)
            inside = between.real < np.maximum(a.real, b.real)
            difference = np.where((a - b).real >= 0, a - b, b - a)
            return between - np.where(inside, difference, a + b)

        return apart


def _long(v: Batch) -> Batch:
    """Length of (b, 2), as a complex step takes it."""
    return np.asarray(np.sqrt(v[:, 0] * v[:, 0] + v[:, 1] * v[:, 1] + 1e-300))


def _cross(a: Batch, b: Batch) -> Batch:
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])


def _dot(a: Batch, b: Batch) -> Batch:
    return np.asarray(a[:, 0] * b[:, 0] + a[:, 1] * b[:, 1])
