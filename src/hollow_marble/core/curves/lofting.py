"""Surfaces through sections: each lies on them, with end tangents exact all along the first and the last one.

Piegl & Tiller, The NURBS Book (2nd ed. 1997), section 10.3. Knots and degrees are made alike by interpolation at Greville's abscissae,
which is exact as each curve lies in the space it is brought to (de Boor 1978). Conics are followed by quintic splines, whose inside is
smooth as the kernel wants it where it offsets; rational ones have double knots.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from scipy.interpolate import BSpline, make_interp_spline

from hollow_marble.core.curves.chains import outline
from hollow_marble.core.curves.drawing import NEAR, Chain
from hollow_marble.core.curves.segments import Array, Conic, Line, Segment, length, over_spans
from hollow_marble.core.curves.splines import clamped
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.paths import at_shares, lengths

_TRIES = 64
_ALIKE = 1e-3
"""Shares of a section's length that are taken for one."""
_STEP = np.pi / 24
"""Radians between places of a conic that a spline runs through."""
_ONCE = np.array([0.0, 0.0, 1.0, 1.0])
"""Knots of a straight line."""


@dataclass(frozen=True, eq=False)
class Strip:
    """A B-spline surface over 0 to 1 both ways, along a section (u) and from section to section (v); `name` is its piece's.

    degree : of u and v. knots : of u and v. poles : (m, n, 3).
    """

    name: str
    degree: tuple[int, int]
    knots: tuple[Array, Array]
    poles: Array

    def at(self, u: Array, v: Array) -> tuple[Array, Array, Array]:
        """(n, m, 3) places at parameters u (n,) and v (m,), and their derivatives along u and along v."""
        across = BSpline(self.knots[1], self.poles, self.degree[1], axis=1)
        at, on = (BSpline(self.knots[0], across(v, nu), self.degree[0]) for nu in (0, 1))
        return at(u), at(u, 1), on(u)


@dataclass(frozen=True, eq=False)
class _Curve:
    """A B-spline over 0 to 1, poles (m, 3)."""

    degree: int
    knots: Array
    poles: Array


def strips_through(
    sections: list[Chain],
    straight: bool = False,
    ends: tuple[Array | None, Array | None] = (None, None),
    alike: bool = False,
    comes_round: bool = False,
) -> list[Strip]:
    """Surfaces through sections in space, one for each of their pieces (with `straight`, for each and each step between sections).

    Parameters
    ----------
    ends : direction (3,) and strength in which it leaves the first section and arrives at the last; 1 long, it goes as fast as it has
        way to go. None where it may end as it likes (no curvature there).
    alike : sections are the same curve in several places, piece by piece
    comes_round : the last section is the first one again, and it comes round smoothly

    Raises
    ------
    HollowMarbleError
        where two sections beside one another lie in one place.
    """
    rows = [list(chain.segments) for chain in (sections if alike else _facing(sections))]
    if not alike:
        rows = _same_breaks(rows)
    middles = np.array([_even_places(chain).mean(axis=0) for chain in sections])
    apart = np.linalg.norm(np.diff(middles, axis=0), axis=1)
    if apart.min() < NEAR:
        raise HollowMarbleError("Two of the profiles lie in the same place. Move one of them along.")
    total = float(apart.sum())
    at = np.concatenate([[0], np.cumsum(apart)]) / total
    at[-1] = 1.0
    found = []
    for pieces in zip(*rows):
        curves = _in_one_space([_spline(piece) for piece in pieces])
        poles = np.array([curve.poles for curve in curves])
        name, degree, knots = pieces[0].name, curves[0].degree, curves[0].knots
        if straight:
            found += [
                Strip(name, (degree, 1), (knots, _ONCE), np.stack(band, axis=1)) for band in itertools.pairwise(poles)
            ]
            continue
        leaving, arriving = (None if way is None else total * way for way in ends)
        degree_v, knots_v, across = _across(at, poles, leaving, arriving, comes_round)
        found.append(Strip(name, (degree, degree_v), (knots, knots_v), across.transpose(1, 0, 2)))
    return found


def _across(
    at: Array, poles: Array, leaving: Array | None, arriving: Array | None, comes_round: bool
) -> tuple[int, Array, Array]:
    """Degree, knots and poles (n, m, 3) of the spline through poles (k, m, 3) at parameters (k,); derivatives at its ends (3,)."""
    if comes_round:
        poles[-1] = poles[0]  # it is to the bit what it is to a millionth of a millimetre
        found = make_interp_spline(at, poles, 3, bc_type="periodic")
        return 3, *clamped(found.t, found.c)
    if len(at) == 2 and leaving is None and arriving is None:
        return 1, _ONCE, poles
    first, last = (
        [(2, np.zeros_like(row))] if way is None else [(1, np.broadcast_to(way, row.shape))]
        for way, row in ((leaving, poles[0]), (arriving, poles[-1]))
    )
    found = make_interp_spline(at, poles, 3, bc_type=(first, last))
    return 3, found.t, found.c


def _spline(piece: Segment) -> _Curve:
    """A piece as a spline: a conic to better than 1e-9 of its size, with its own tangents and curvature at its ends."""
    if isinstance(piece, Line):
        return _Curve(1, _ONCE, np.vstack([piece.a, piece.b]))
    if not isinstance(piece, Conic):
        return _Curve(piece.degree, piece.knots, piece.poles)
    t = np.linspace(0, 1, max(2, int(np.ceil(abs(piece.sweep) / _STEP - 1e-9))) + 1)
    ends = [[(1, piece.along(end)[0]), (2, piece.bent(end)[0])] for end in (np.zeros(1), np.ones(1))]
    found = make_interp_spline(t, piece.at(t), 5, bc_type=(ends[0], ends[1]))
    return _Curve(5, found.t, found.c)


def _in_one_space(curves: list[_Curve]) -> list[_Curve]:
    """Curves with the same degree and the same knots."""
    degree = max(curve.degree for curve in curves)
    inner: dict[float, int] = {}
    for curve in curves:
        values, counts = np.unique(np.round(curve.knots, 9), return_counts=True)
        for value, count in zip(values[1:-1].tolist(), counts[1:-1].tolist()):
            inner[value] = max(inner.get(value, 0), count + degree - curve.degree)
    middle = [value for value in sorted(inner) for _ in range(inner[value])]
    knots = np.concatenate([np.zeros(degree + 1), middle, np.ones(degree + 1)])
    return [_brought(curve, degree, knots) for curve in curves]


def _brought(curve: _Curve, degree: int, knots: Array) -> _Curve:
    """A curve in a space that holds it."""
    if degree == curve.degree and np.array_equal(knots, curve.knots):
        return curve
    at = _greville(knots, degree)
    own = BSpline(curve.knots, curve.poles, curve.degree)
    return _Curve(degree, knots, make_interp_spline(at, own(at), degree, t=knots).c)


def _greville(knots: Array, degree: int) -> Array:
    """(m,) means of knots, at which a spline is told by its values (Schoenberg & Whitney 1953)."""
    return np.array([knots[k + 1 : k + degree + 1].mean() for k in range(len(knots) - degree - 1)])


def _facing(sections: list[Chain]) -> list[Chain]:
    """Sections that run the same way round and begin beside one another, so that nothing is twisted from one to the next: from the one
    with most corners on, both ways."""
    found = list(sections)
    ruling = max(range(len(found)), key=lambda k: len(found[k].segments))
    onward = [(k - 1, k) for k in range(ruling + 1, len(found))]
    for before, k in [*onward, *((k + 1, k) for k in reversed(range(ruling)))]:
        ways = [found[k], found[k].back()]
        if found[k].closed:
            same = len(found[k].segments) == len(found[before].segments)
            ways = [begun for way in ways for begun in _begun_anew(way, same)]
        found[k] = min(ways, key=_unlike(_even_places(found[before])))
    return found


def _unlike(there: Array) -> Callable[[Chain], float]:
    def told(way: Chain) -> float:
        places = _even_places(way)
        return round(float(((places - places.mean(axis=0) - there + there.mean(axis=0)) ** 2).sum()), 6)

    return told


def _even_places(chain: Chain) -> Array:
    """(_TRIES, 3) places at even shares of a section's length."""
    return at_shares(outline(chain, 0.01), np.linspace(0, 1, _TRIES, endpoint=not chain.closed))


def _begun_anew(chain: Chain, at_corners: bool) -> list[Chain]:
    """A closed section begun at each of its corners; elsewhere too where it has none, or others than its neighbour."""
    found = [Chain(chain.segments[k:] + chain.segments[:k], True) for k in range(len(chain.segments))]
    if at_corners and len(chain.segments) > 1:
        return found
    (only, *more) = chain.segments
    for share in np.arange(1, _TRIES) / _TRIES:
        if not more and isinstance(only, Conic) and only.is_round:
            found.append(Chain((replace(only, start=only.start + share * only.sweep),), True))
            continue
        pieces = _cut(list(chain.segments), [float(share)])
        first = int(np.searchsorted(_stops(pieces), share + 1e-9))
        found.append(Chain((*pieces[first:], *pieces[:first]), True))
    return found


def _stops(pieces: list[Segment]) -> list[float]:
    """Shares of the whole length at which pieces end."""
    run = np.cumsum([length(piece) for piece in pieces])
    return [float(v) for v in run / run[-1]]


def _same_breaks(rows: list[list[Segment]]) -> list[list[Segment]]:
    """Sections cut so that all have as many pieces: corner goes to corner where they are as many, else all are cut where one is."""
    if len({len(row) for row in rows}) == 1:
        return rows
    shares: list[float] = []
    for share in sorted(share for row in rows for share in _stops(row)[:-1]):
        if not shares or share - shares[-1] > _ALIKE:
            shares.append(share)
    return [_cut(row, shares) for row in rows]


def _cut(pieces: list[Segment], shares: list[float]) -> list[Segment]:
    """Pieces cut at shares of their whole length, as near as they are not cut there already."""
    found: list[Segment] = []
    begin = 0.0
    for piece, stop in zip(pieces, _stops(pieces)):
        inside = [(share - begin) / (stop - begin) for share in shares if begin + _ALIKE < share < stop - _ALIKE]
        cuts = [0.0, *(_at_length(piece, share) for share in inside), 1.0]
        found += [piece.part(a, b) for a, b in itertools.pairwise(cuts)] if inside else [piece]
        begin = stop
    return found


def _at_length(piece: Segment, share: float) -> float:
    """The parameter at which a piece has run a share of its length."""
    if not isinstance(piece, Line):
        t = np.linspace(0, 1, 257)
        run = lengths(piece.at(t))
        return float(np.interp(share * run[-1], run, t))
    return share


def enclosed_by(strips: list[Strip], bands: int) -> float:
    """Volume in mm³ between surfaces round closed flat sections, and their ends: the divergence theorem, by quadrature on each patch.

    bands : steps between sections that have surfaces of their own (see `strips_through`); those of a piece follow one another
    """
    total = 0.0
    origin = strips[0].poles[0, 0]
    for band in range(bands):
        around = strips[band::bands]
        for strip in around:
            (u, du), (v, dv) = (over_spans(np.unique(knots), 12) for knots in strip.knots)
            x, along, across = strip.at(u, v)
            total += float(du @ np.einsum("ijk,ijk->ij", x - origin, np.cross(along, across)) @ dv) / 3
            for end in (0, 1):  # a flat lid is a cone of lines to any place of its plane
                x, along, _ = strip.at(u, np.array([float(end)]))
                level = around[0].poles[0, -end] - origin
                total += (2 * end - 1) * float(du @ (np.cross(x[:, 0] - origin, along[:, 0]) @ level)) / 6
    return abs(total)
