"""Triangles of a ground, split where a detail needs it: every corner keeps its place on the ground, so that it can be exact. Lengths mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from hollow_marble.core.detail.ground import Floats, Ground, Ints, Spots
from hollow_marble.core.errors import HollowMarbleError

Told = Callable[[Spots], Floats]
"""A value (K,) at spots."""

MOST_TRIANGLES = 3_000_000


@dataclass(frozen=True, eq=False)
class Facets:
    """T triangles over a ground, V vertices.

    corners : (T, 3) vertices, counter-clockwise from outside; source : (T,) triangle of the ground each lies in
    shares : (T, 3, 3) shares of that triangle's corners at each corner
    spots : (V,) a place of the ground for each vertex; of one on an edge of the ground, one of several
    """

    ground: Ground
    corners: Ints
    source: Ints
    shares: Floats
    spots: Spots

    def edges(self, chosen: NDArray[np.bool_] | Ints | slice = slice(None)) -> Ints:
        """(E, 2) vertices of the edges of some triangles, lower number first, each once."""
        names = np.sort(_side_names(self.corners[chosen], len(self.spots)), axis=None)
        # sorting is several times as fast as asking for what is there once
        names = names[np.diff(names, prepend=-1) > 0]
        return np.stack(np.divmod(names, len(self.spots)), axis=1)

    def lengths(self, edges: Ints) -> Floats:
        """(E,) mm."""
        ends = self.spots.points[edges]
        return np.asarray(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1))

    def refined(self, wanted: Told, seeds: Floats, seen: float) -> Facets:
        """Split until no edge is longer than what is wanted at the nearer of its ends: `wanted` tells mm at spots, inf where nothing is.

        It is finite within `seen` mm of seeds (S, 3); a triangle so large that it may hold one amid it, and none of its corners sees it, is
        split too. Always a triangle's longest side is split first, so that angles stay open and it comes to an end (Rivara 1984).
        """
        low, high = seeds.min(axis=0), seeds.max(axis=0)
        corners = self.spots.points[self.corners]
        long = np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(axis=1)
        room = (3 * seen + 2 * long)[:, None]
        inside = ((corners.max(axis=1) >= low - room) & (corners.min(axis=1) <= high + room)).all(axis=1)
        if inside.all():
            return self._refined(wanted, cKDTree(seeds), seen, np.empty(0, np.int64)) or self
        beside = self.edges(~inside) @ np.array([len(self.spots), 1])
        part = self.without(~inside)._refined(wanted, cKDTree(seeds), seen, beside)
        if part is None:  # it goes on into what lies further off
            return self._refined(wanted, cKDTree(seeds), seen, np.empty(0, np.int64)) or self
        return Facets(
            self.ground,
            np.concatenate([self.corners[~inside], part.corners]),
            np.concatenate([self.source[~inside], part.source]),
            np.concatenate([self.shares[~inside], part.shares]),
            part.spots,
        )

    def _refined(self, wanted: Told, tree: cKDTree, seen: float, beside: Ints) -> Facets | None:
        """These triangles refined; None where that would split a side that others share (`beside`, sorted names of such)."""
        facets, count = self, len(self.spots)
        want = wanted(facets.spots)
        while True:
            sides, number = facets._sides()
            long = facets.lengths(sides)
            chosen: NDArray[np.bool_] = np.asarray(long > 1.01 * want[sides].min(axis=1))
            most = long[number].max(axis=1)
            large = np.flatnonzero(most > _AMID * seen)
            if len(large):
                middle = facets.spots.points[facets.corners[large]].mean(axis=1)
                near = (middle >= tree.mins - most[large, None]) & (middle <= tree.maxes + most[large, None])
                large = large[near.all(axis=1)]
                holds = tree.query(middle[near.all(axis=1)])[0] < 0.67 * most[large]
                chosen[number[large[holds]]] |= long[number[large[holds]]] > 0.99 * most[large[holds], None]
            if not chosen.any():
                return facets
            longest = np.take_along_axis(number, long[number].argmax(axis=1)[:, None], axis=1)[:, 0]
            while True:
                more = longest[chosen[number].any(axis=1)]
                if chosen[more].all():
                    break
                chosen[more] = True
            if len(beside):
                old = chosen & (sides[:, 1] < count)
                if np.isin(sides[old] @ np.array([count, 1]), beside, assume_unique=True).any():
                    return None
            before = len(facets.spots)
            facets = facets._halved(number, chosen, long)
            want = np.concatenate([want, wanted(facets.spots[np.s_[before:]])])

    def _sides(self) -> tuple[Ints, Ints]:
        """(E, 2) all edges, lower number first, and (T, 3) the number of each side of each triangle."""
        count = len(self.spots)
        following = np.roll(self.corners, -1, axis=1)
        named = np.minimum(self.corners, following) * count + np.maximum(self.corners, following)
        names, number = np.unique(named, return_inverse=True)
        return np.stack(np.divmod(names, count), axis=1), number.reshape(-1, 3)

    def _halved(self, number: Ints, chosen: NDArray[np.bool_], long: Floats) -> Facets:
        """With a vertex amid each chosen edge, all triangles beside them divided: from the middle of the longest side to the corner across."""
        count = len(self.spots)
        fresh = np.where(chosen, count + np.cumsum(chosen) - 1, -1)
        new = fresh[number]
        touched = np.flatnonzero((new >= 0).any(axis=1))
        _not_too_many(len(self.corners) + 3 * len(touched))
        shares = self.shares[touched]
        between = (shares + np.roll(shares, -1, axis=1)) / 2
        turn = long[number[touched]].argmax(axis=1)
        corners, row, inner = _divided(self.corners[touched], new[touched], shares, between, turn)
        kept = np.ones(len(self.corners), bool)
        kept[touched] = False
        # a place of the ground for each new vertex: that of the first triangle it was made in
        flat = new[touched].ravel()
        there = np.flatnonzero(flat >= 0)
        first = np.empty(int(chosen.sum()), np.int64)
        first[flat[there][::-1] - count] = there[::-1]
        spots = self.ground.spots(self.source[touched][first // 3], between.reshape(-1, 3)[first])
        return Facets(
            self.ground,
            np.concatenate([self.corners[kept], corners]),
            np.concatenate([self.source[kept], self.source[touched][row]]),
            np.concatenate([self.shares[kept], inner]),
            self.spots + spots,
        )

    def sliced(self, value: Floats, levels: Floats, told: Told, eps: float) -> tuple[Facets, Floats]:
        """With edges along where a value (V,) is one of `levels` (growing); and the values of all vertices.

        `told` says the value at spots; vertices closer to a level than `eps` count as on it, and are told so. Where it is not finite there
        is nothing to slice. A triangle is sliced by all levels at once: cuts run from side to side and make no corners within.
        """
        value = settled_on(value, levels, eps)
        finite = np.isfinite(value)
        a, b, c = value[self.corners.T]
        low, high = np.minimum(np.minimum(a, b), c), np.maximum(np.maximum(a, b), c)
        with np.errstate(invalid="ignore"):
            many = np.searchsorted(levels, high, "left") - np.searchsorted(levels, low, "right")
        told_of = np.isfinite(high) & np.isfinite(low)
        touched = np.flatnonzero((many > 0) & told_of)
        if not len(touched):
            return self, value
        edges = self.edges(touched)
        one, other = value[edges.T]
        first = np.searchsorted(levels, np.minimum(one, other), "right")
        counts = np.maximum(np.searchsorted(levels, np.maximum(one, other), "left") - first, 0)
        begins = np.concatenate([[0], np.cumsum(counts)])
        owner = np.repeat(np.arange(len(edges)), counts)
        level = first[owner] + np.arange(begins[-1]) - begins[owner]
        spots = self._closed_in(touched, edges[owner], levels[level], value, told)
        count = len(self.spots)
        keys = edges @ np.array([count, 1])
        # a neighbour beyond what is finite is divided where its side was cut
        border = np.flatnonzero(~told_of & (finite[self.corners].sum(axis=1) == 2))
        beside = np.isin(_side_names(self.corners[border], count), keys[counts > 0]).any(axis=1)
        touched = np.concatenate([touched, border[beside]])
        made = _slices(
            self.corners[touched], self.shares[touched], value, levels, keys, begins, first, count, *spots[1:]
        )
        kept = np.ones(len(self.corners), bool)
        kept[touched] = False
        _not_too_many(int(kept.sum()) + len(made[0]))
        corners = np.concatenate([self.corners[kept], made[0]])
        source = np.concatenate([self.source[kept], self.source[touched][made[1]]])
        shares = np.concatenate([self.shares[kept], made[2]])
        return Facets(self.ground, corners, source, shares, self.spots + spots[0]), np.concatenate(
            [value, levels[level]]
        )

    def _closed_in(self, touched: Ints, edges: Ints, level: Floats, value: Floats, told: Told) -> tuple[Spots, Floats]:
        """Spots on edges (K, 2) of touched triangles where the value is `level` (K,), and how far along each that is, from its lower number:
        where a straight line would have it, and from there by false position on the ground itself (Dowell & Jarratt 1971)."""
        keys = edges @ np.array([len(self.spots), 1])
        named = _side_names(self.corners[touched], len(self.spots)).ravel()
        order = np.argsort(named, kind="stable")
        at = order[np.searchsorted(named[order], keys)]
        triangle, side = touched[at // 3], at % 3
        first, second = self.shares[triangle, side], self.shares[triangle, (side + 1) % 3]
        turned = (self.corners[triangle, side] != edges[:, 0])[:, None]
        first, second = np.where(turned, second, first), np.where(turned, first, second)
        source = self.source[triangle]
        low, high = np.zeros(len(keys)), np.ones(len(keys))
        at_low, at_high = value[edges[:, 0]] - level, value[edges[:, 1]] - level
        share, stayed = at_low / (at_low - at_high), np.zeros(len(keys), np.int64)
        left = np.arange(len(keys))
        for _ in range(_TURNS):
            on = share[left, None]
            now = told(self.ground.spots(source[left], first[left] * (1 - on) + second[left] * on)) - level[left]
            now = np.where(np.isfinite(now), now, at_high[left])
            same = now * at_low[left] > 0
            under, over = left[same], left[~same]
            # an end that stays twice running counts half, so that it comes nearer, too
            at_high[under] /= np.where(stayed[under] == 1, 2, 1)
            at_low[over] /= np.where(stayed[over] == -1, 2, 1)
            low[under], at_low[under], stayed[under] = share[under], now[same], 1
            high[over], at_high[over], stayed[over] = share[over], now[~same], -1
            with np.errstate(divide="ignore", invalid="ignore"):
                next_one = (low * at_high - high * at_low) / (at_high - at_low)
            share = np.where((next_one > low) & (next_one < high), next_one, share)
            left = left[np.abs(now) > _OFF]  # the others lie closer after this turn than anything asks for
            if not len(left):
                break
        share = np.clip(share, 1e-6, 1 - 1e-6)
        # one after the other along an edge, as the levels are
        rising = value[edges[:, 0]] < value[edges[:, 1]]
        for k in np.flatnonzero((keys[1:] == keys[:-1]) & ((share[1:] > share[:-1]) != rising[1:])):
            share[k + 1] = share[k] + (1e-7 if rising[k + 1] else -1e-7)
        shares = first * (1 - share)[:, None] + second * share[:, None]
        return self.ground.spots(source, shares), share

    def without(self, gone: NDArray[np.bool_]) -> Facets:
        """Without some triangles (T,)."""
        return replace(self, corners=self.corners[~gone], source=self.source[~gone], shares=self.shares[~gone])


def _side_names(corners: Ints, count: int) -> Ints:
    """(T, 3) names of the sides of triangles (T, 3) of so many vertices: the same whichever way they run."""
    following = np.roll(corners, -1, axis=1)
    return np.minimum(corners, following) * count + np.maximum(corners, following)


_TURNS, _OFF = 12, 0.002
"""Turns of false position at most, and mm off its level from which a place takes another one."""
_AMID = 1.7
"""Of a triangle no place is further from all its corners than its longest side by √3."""


def facets_of(ground: Ground) -> Facets:
    """The triangles of a ground as they are; those without an extent left out. Kept with the ground."""
    kept: Facets | None = ground.__dict__.get("_facets")
    if kept is None:
        kept = ground.__dict__["_facets"] = _facets_of(ground)
    return kept


def _facets_of(ground: Ground) -> Facets:
    probed = ground.probed
    corners = probed.joined[probed.triangles]
    real = (corners != np.roll(corners, 1, axis=1)).all(axis=1)
    count = int(probed.joined.max()) + 1
    source = np.flatnonzero(real)
    corners = corners[real]
    shares = np.broadcast_to(np.eye(3), (len(source), 3, 3)).copy()
    first = np.zeros(count, np.int64)
    first[corners.ravel()[::-1]] = np.arange(corners.size)[::-1]
    triangle, corner = source[first // 3], first % 3
    stands = probed.triangles[triangle, corner]
    spots = Spots(triangle, np.eye(3)[corner], probed.points[stands], probed.normals[stands])
    return Facets(ground, corners, source, shares, spots)


def _divided(corners: Ints, new: Ints, shares: Floats, between: Floats, turn: Ints) -> tuple[Ints, Ints, Floats]:
    """Triangles with a new vertex on their longest side (number `turn`), and maybe on others, divided: corners, the row each is from, shares."""
    parts: list[tuple[Ints, Ints, Floats]] = []
    six = np.concatenate([corners, new], axis=1)
    both = np.concatenate([shares, between], axis=1)
    cut = np.take_along_axis(new >= 0, (turn[:, None] + np.arange(3)) % 3, axis=1)

    def put(rows: Ints, *triples: tuple[int, int, int]) -> None:
        """Triangles of the corners (0 to 2) and sides' vertices (3 to 5) of rows, counted from each row's longest side."""
        for triple in triples:
            at = np.stack([(k % 3 + turn[rows]) % 3 + 3 * (k // 3) for k in triple], axis=1)
            parts.append((np.take_along_axis(six[rows], at, axis=1), rows, both[rows[:, None], at]))

    put(np.flatnonzero(~cut[:, 2]), (0, 3, 2))
    put(np.flatnonzero(cut[:, 2]), (0, 3, 5), (3, 2, 5))
    put(np.flatnonzero(~cut[:, 1]), (3, 1, 2))
    put(np.flatnonzero(cut[:, 1]), (3, 1, 4), (3, 4, 2))
    return tuple(np.concatenate(arrays) for arrays in zip(*parts))  # type: ignore[return-value]


def _not_too_many(count: int) -> None:
    if count > MOST_TRIANGLES:
        raise HollowMarbleError(
            f"So fine a detail would take more than {MOST_TRIANGLES:,} triangles. Make it larger, or put less of it on the part."
        )


def settled_on(value: Floats, levels: Floats, eps: float) -> Floats:
    """Values nearer to a level than `eps`, on it."""
    finite = np.isfinite(value)
    at = (
        np.clip(np.searchsorted(levels, np.where(finite, value, 0.0)), 1, len(levels) - 1)
        if len(levels) > 1
        else np.zeros(len(value), np.int64)
    )
    for level in (levels[np.maximum(at - 1, 0)], levels[at]):
        value = np.where(finite & (np.abs(value - level) <= eps), level, value)
    return value


@njit(cache=True, nogil=True)
def _numbered(keys, key):
    e = np.searchsorted(keys, key)
    return e if e < len(keys) and keys[e] == key else -1


@njit(cache=True, nogil=True)
def _slices(corners, shares, value, levels, keys, begins, firsts, count, along):  # noqa: C901 — one compiled loop
    """Triangles sliced by levels: corners, the row each is from, shares. New vertices are numbered on from `count`, edge by edge (`keys`),
    level by level (`begins`, `firsts`); `along` is how far along its edge each is, from the lower number."""
    room = 0
    for t in range(len(corners)):
        room += 5
        for k in range(3):
            a, b = corners[t, k], corners[t, (k + 1) % 3]
            e = _numbered(keys, min(a, b) * count + max(a, b))
            if e >= 0:
                room += 2 * (begins[e + 1] - begins[e])
    out = np.empty((room, 3), np.int64)
    row = np.empty(room, np.int64)
    share = np.empty((room, 3, 3))
    made = 0
    left, right = np.empty(2 * len(levels) + 4, np.int64), np.empty(2 * len(levels) + 4, np.int64)
    left_share, right_share = np.empty((2 * len(levels) + 4, 3)), np.empty((2 * len(levels) + 4, 3))
    left_value, right_value = np.empty(2 * len(levels) + 4), np.empty(2 * len(levels) + 4)
    for t in range(len(corners)):
        low, high = 0, 0
        for k in range(1, 3):
            if value[corners[t, k]] < value[corners[t, low]]:
                low = k
            if value[corners[t, k]] >= value[corners[t, high]]:
                high = k
        mid = 3 - low - high
        # the chain from the lowest corner straight to the highest, and the one by the third corner
        n = 0
        for step in range(2):
            ids, sh, val = (left, left_share, left_value) if step == 0 else (right, right_share, right_value)
            total = 0
            hops = 1 if step == 0 else 2
            for hop in range(hops):
                p = low if hop == 0 else mid
                q = high if step == 0 or hop == 1 else mid
                a, b = corners[t, p], corners[t, q]
                ids[total], val[total] = a, value[a]
                sh[total] = shares[t, p]
                total += 1
                e = _numbered(keys, min(a, b) * count + max(a, b))
                for j in range(begins[e] if e >= 0 else 0, begins[e + 1] if e >= 0 else 0):
                    ids[total] = count + j
                    val[total] = levels[firsts[e] + j - begins[e]]
                    s = along[j] if a < b else 1 - along[j]
                    sh[total] = shares[t, p] * (1 - s) + shares[t, q] * s
                    total += 1
            ids[total], val[total] = corners[t, high], value[corners[t, high]]
            sh[total] = shares[t, high]
            total += 1
            if step == 0:
                n = total
            else:
                m = total
        turned = (high - low) % 3 == 1  # seen from outside the straight chain then lies to the right
        i, j = 0, 0
        while i < n - 1 or j < m - 1:
            # on with the chain whose next one is lower; both ends are shared
            if j == m - 1 or (i < n - 1 and left_value[i + 1] < right_value[j + 1]):
                a, b, c = i, j, i + 1
                degenerate = left[a] == right[b] or left[c] == right[b]
                if not degenerate:
                    out[made, 0], out[made, 1], out[made, 2] = left[a], right[b], left[c]
                    share[made, 0], share[made, 1], share[made, 2] = left_share[a], right_share[b], left_share[c]
                    row[made] = t
                    made += 1
                i += 1
            else:
                a, b, c = i, j, j + 1
                degenerate = left[a] == right[b] or left[a] == right[c]
                if not degenerate:
                    out[made, 0], out[made, 1], out[made, 2] = left[a], right[b], right[c]
                    share[made, 0], share[made, 1], share[made, 2] = left_share[a], right_share[b], right_share[c]
                    row[made] = t
                    made += 1
                j += 1
            if turned and made and row[made - 1] == t and not degenerate:
                out[made - 1, 1], out[made - 1, 2] = out[made - 1, 2], out[made - 1, 1]
                for k in range(3):
                    share[made - 1, 1, k], share[made - 1, 2, k] = share[made - 1, 2, k], share[made - 1, 1, k]
    return out[:made].copy(), row[:made].copy(), share[:made].copy()
