"""Lines over a surface along which a value is the same: one mechanism for highlight lines, reflections, isophotes, sections, parting lines."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]

_TURNS = 9
"""Steps in which a place on a curved side closes in on where it belongs."""


@dataclass(frozen=True, eq=False)
class Lines:
    """L polylines of K places on the sides of a mesh's triangles. Where they run, the value is higher on their left, seen from outside.

    ends (K, 2) : the two mesh points a place lies between; share (K,) : how far it is on the way from the first to the second
    starts (L + 1,) : where lines begin in them; level (L,) : which of the asked levels; closed (L,) : whether the last place joins the first
    """

    ends: Numbers
    share: Values
    starts: Numbers
    level: Numbers
    closed: NDArray[np.bool_]

    def at(self, values: Values) -> Values:
        """(K, …) what a value given at the mesh's points is along the lines."""
        share = self.share.reshape(-1, *[1] * (values.ndim - 1))
        return np.asarray(values[self.ends[:, 0]] * (1 - share) + values[self.ends[:, 1]] * share)

    def bent(self, points: Values, normals: Values) -> Values:
        """(K, 3) places on curves that leave both ends of a side along the surface, so that they lie on it and not on the chord: the sides
        of a curved triangle (Vlachos and others 2001, Curved PN Triangles)."""
        return bent(points[self.ends], normals[self.ends], self.share)

    def settled(self, points: Values, normals: Values, value: Callable[[Values, Values], Values]) -> Lines:
        """The same lines with their places moved along the curved sides until `value` of places (K, 3) and normals (K, 3) is nought there."""
        if not len(self.share):
            return self
        ends, turns, share = points[self.ends], normals[self.ends], self.share.copy()
        low, high = np.zeros(len(share)), np.ones(len(share))
        at_low, at_high = (value(bent(ends, turns, side), turned(ends, turns, side)) for side in (low, high))
        between = at_low * at_high <= 0  # where an end lies on the line but for rounding, the place is there already
        before = np.full(len(share), 2)
        for _ in range(_TURNS):
            now = value(bent(ends, turns, share), turned(ends, turns, share))
            same = now * at_low > 0
            # a side that stays put twice counts half, so that both close in (Dowell & Jarratt 1971)
            again = same == before
            at_high = np.where(same, np.where(again, at_high / 2, at_high), now)
            at_low = np.where(same, now, np.where(again, at_low / 2, at_low))
            before = same
            low, high = np.where(same, share, low), np.where(same, high, share)
            with np.errstate(divide="ignore", invalid="ignore"):
                next_one = (low * at_high - high * at_low) / (at_high - at_low)
            share = np.where((next_one >= low) & (next_one <= high), next_one, (low + high) / 2)
        return Lines(self.ends, np.where(between, share, self.share), self.starts, self.level, self.closed)

    def chosen(self, keep: NDArray[np.bool_] | Numbers) -> Lines:
        """Only some of the lines ((L,) bool), or some in another order (their numbers)."""
        numbers = np.flatnonzero(keep) if keep.dtype == bool else keep
        counts = np.diff(self.starts)[numbers]
        starts = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
        places = np.arange(starts[-1]) + np.repeat(self.starts[:-1][numbers] - starts[:-1], counts)
        return Lines(self.ends[places], self.share[places], starts, self.level[numbers], self.closed[numbers])

    def each(self) -> list[slice]:
        """Where each line's places are."""
        return [slice(a, b) for a, b in zip(self.starts[:-1].tolist(), self.starts[1:].tolist())]

    @cached_property
    def owner(self) -> Numbers:
        """(K,) the line a place belongs to."""
        return np.repeat(np.arange(len(self.level)), np.diff(self.starts))

    def steps(self) -> tuple[Numbers, Numbers]:
        """(S,) and (S,) the places at both ends of every piece of every line."""
        count = len(self.share)
        following = np.arange(1, count + 1)
        last = self.starts[1:] - 1
        following[last[self.closed]] = self.starts[:-1][self.closed]
        real = np.ones(count, bool)
        real[last[~self.closed]] = False
        return np.flatnonzero(real), following[real]


def bent(points: Values, normals: Values, share: Values) -> Values:
    """(K, 3) at shares (K,) of cubic curves between points (K, 2, 3) that leave both along the planes across normals (K, 2, 3)."""
    found: Values = _bent(points, normals, share)
    return found


def turned(points: Values, normals: Values, share: Values) -> Values:
    """(K, 3) unit normals along such curves, with the bend of the side between them (Vlachos and others 2001, section 3.3)."""
    found: Values = _turned(points, normals, share)
    return found


@njit(cache=True, nogil=True)
def _bent(points, normals, share):
    out = np.empty((len(share), 3))
    for k in range(len(share)):
        p, q, n, m = points[k, 0], points[k, 1], normals[k, 0], normals[k, 1]
        at_p = (q[0] - p[0]) * n[0] + (q[1] - p[1]) * n[1] + (q[2] - p[2]) * n[2]
        at_q = (q[0] - p[0]) * m[0] + (q[1] - p[1]) * m[1] + (q[2] - p[2]) * m[2]
        t = share[k]
        u = 1 - t
        for axis in range(3):
            way = q[axis] - p[axis]
            one = p[axis] + (way - at_p * n[axis]) / 3
            other = q[axis] - (way - at_q * m[axis]) / 3
            out[k, axis] = u * u * u * p[axis] + 3 * t * u * u * one + 3 * t * t * u * other + t * t * t * q[axis]
    return out


@njit(cache=True, nogil=True)
def _turned(points, normals, share):
    out = np.empty((len(share), 3))
    for k in range(len(share)):
        p, q, n, m = points[k, 0], points[k, 1], normals[k, 0], normals[k, 1]
        square, lean = 1e-300, 0.0
        for axis in range(3):
            square += (q[axis] - p[axis]) ** 2
            lean += (q[axis] - p[axis]) * (n[axis] + m[axis])
        lean *= 2 / square
        middle = 1e-300
        for axis in range(3):
            middle += (n[axis] + m[axis] - lean * (q[axis] - p[axis])) ** 2
        middle = np.sqrt(middle)
        t = share[k]
        u = 1 - t
        size = 1e-300
        for axis in range(3):
            between = (n[axis] + m[axis] - lean * (q[axis] - p[axis])) / middle
            out[k, axis] = u * u * n[axis] + 2 * t * u * between + t * t * m[axis]
            size += out[k, axis] ** 2
        size = np.sqrt(size)
        for axis in range(3):
            out[k, axis] /= size
    return out


def level_lines(
    triangles: Numbers,
    number: Numbers,
    value: Values,
    levels: Values,
    slope: Values | None = None,
    ahead: Values | None = None,
) -> Lines:
    """Lines where `value` (N,) is one of `levels` (M,), over triangles (T, 3).

    number : (N,) points with the same one are the same place, where lines go on from patch to patch
    slope : (N,) where it is given, lines are those where value + level * slope is nought, for families whose value changes from one to another
    ahead : (N, M) where it is given, only where it is above nought
    """
    # the same place has the same value in every patch, to the last bit: else a line that runs along a border would fall apart
    stands_for = np.empty(int(number.max()) + 1, np.int64)
    stands_for[number] = np.arange(len(number))
    same = stands_for[number]
    base, slope = value[same], np.full(len(value), -1.0) if slope is None else slope[same]
    ends, share, level = _pieces(triangles, base, slope, np.ascontiguousarray(levels, dtype=np.float64))
    if ahead is not None and len(level):
        one, other = ahead[ends[:, ::2], level[:, None]], ahead[ends[:, 1::2], level[:, None]]
        seen = (one * (1 - share) + other * share > 0).all(axis=1)
        ends, share, level = ends[seen], share[seen], level[seen]
    return _joined(ends, share, level, number)


def _joined(ends: Numbers, share: Values, level: Numbers, number: Numbers) -> Lines:
    """Pieces (P, 4) from one side of a triangle to another, made lines."""
    named = number[ends].reshape(-1, 2, 2)
    count = int(number.max()) + 1 if len(number) else 1
    # a side and a level make one key; pieces are few, so that sorting them is nothing
    keys = (named.min(axis=2) * count + named.max(axis=2)).astype(np.int64)
    _, keys = np.unique(keys, return_inverse=True)
    keys = keys.reshape(-1, 2) * (int(level.max()) + 1 if len(level) else 1) + level[:, None]
    order = np.argsort(keys[:, 0], kind="stable")
    ordered = keys[order, 0]
    at = np.searchsorted(ordered, keys[:, 1])
    known = at < len(ordered)
    known[known] = ordered[at[known]] == keys[known, 1]
    following = np.full(len(keys), -1, np.int64)
    following[known] = order[at[known]]
    piece, last, starts, closed = _walked(following)
    place_ends, place_share = ends[piece, :2], share[piece, 0]
    # of an open line the far end of its last piece too
    place_ends[last], place_share[last] = ends[piece[last], 2:], share[piece[last], 1]
    found = Lines(place_ends, place_share, starts, level[piece[starts[:-1]]], closed)
    return found.chosen(np.argsort(found.level, kind="stable"))


@njit(cache=True, nogil=True)
def _pieces(triangles, base, slope, levels):
    ends, share, level = np.empty((1024, 4), np.int64), np.empty((1024, 2)), np.empty(1024, np.int64)
    count = 0
    values = np.empty(3)
    for t in range(len(triangles)):
        for m in range(len(levels)):
            below = 0
            for k in range(3):
                values[k] = base[triangles[t, k]] + slope[triangles[t, k]] * levels[m]
                if not values[k] >= 0:
                    below += 1
            if below == 0 or below == 3:
                continue
            if values[0] != values[0] or values[1] != values[1] or values[2] != values[2]:
                continue
            if count == len(level):
                more_ends, more_share = np.empty((2 * count, 4), np.int64), np.empty((2 * count, 2))
                more_level = np.empty(2 * count, np.int64)
                more_ends[:count], more_share[:count], more_level[:count] = ends, share, level
                ends, share, level = more_ends, more_share, more_level
            for k in range(3):
                p, q = triangles[t, k], triangles[t, (k + 1) % 3]
                fp, fq = values[k], values[(k + 1) % 3]
                if (fp >= 0) == (fq >= 0):
                    continue
                side = 0 if fp >= 0 else 1
                # told from the lower number, so that both triangles of a side tell the same place
                if p < q:
                    ends[count, 2 * side], ends[count, 2 * side + 1], share[count, side] = p, q, fp / (fp - fq)
                else:
                    ends[count, 2 * side], ends[count, 2 * side + 1], share[count, side] = q, p, fq / (fq - fp)
            level[count] = m
            count += 1
    return ends[:count].copy(), share[:count].copy(), level[:count].copy()


@njit(cache=True, nogil=True)
def _walked(following):
    """Pieces in the order of their lines; which places are the far end of an open line; where lines start; which are closed."""
    count = len(following)
    entered, used = np.zeros(count, np.bool_), np.zeros(count, np.bool_)
    for p in range(count):
        if following[p] >= 0:
            entered[following[p]] = True
    piece, last = np.empty(2 * count, np.int64), np.zeros(2 * count, np.bool_)
    starts, closed = np.empty(count + 1, np.int64), np.empty(count, np.bool_)
    at, lines = 0, 0
    for turn in range(2):  # first those with an end, then those without
        for p in range(count):
            if used[p] or (turn == 0 and entered[p]):
                continue
            starts[lines] = at
            here, came = p, -1
            while here >= 0 and not used[here]:
                used[here] = True
                piece[at] = here
                at += 1
                came, here = here, following[here]
            closed[lines] = here == p
            if here != p:
                piece[at], last[at] = came, True
                at += 1
            lines += 1
    starts[lines] = at
    return piece[:at].copy(), last[:at].copy(), starts[: lines + 1].copy(), closed[:lines].copy()
