"""Triangles of a ground, split where a detail needs it: every corner keeps its place on the ground, so that it can be exact. Lengths mm."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.detail.ground import Floats, Ground, Ints, Spots

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
        corners = self.corners[chosen]
        ends = np.stack([corners, np.roll(corners, -1, axis=1)], axis=2).reshape(-1, 2)
        ends.sort(axis=1)
        names = np.unique(ends @ np.array([len(self.spots), 1]))
        return np.stack(np.divmod(names, len(self.spots)), axis=1)

    def lengths(self, edges: Ints) -> Floats:
        """(E,) mm."""
        ends = self.spots.points[edges]
        return np.asarray(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1))

    def split(self, edges: Ints, share: Floats) -> tuple[Facets, Ints]:
        """With a new vertex on each of some edges (E, 2) (lower number first), (E,) of the way from the first; and the numbers of the new
        vertices. All triangles beside them are divided, so that none has a corner amid another's edge."""
        count = len(self.spots)
        if not len(edges):
            return self, np.empty(0, np.int64)
        keys = edges @ np.array([count, 1])
        order = np.argsort(keys)
        keys, share = keys[order], share[order]
        fresh = np.empty(len(order), np.int64)
        fresh[order] = count + np.arange(len(order))
        ends = np.stack([self.corners, np.roll(self.corners, -1, axis=1)], axis=2)
        low, high = ends.min(axis=2), ends.max(axis=2)
        named = low * count + high
        at = np.minimum(np.searchsorted(keys, named), len(keys) - 1)
        cut = keys[at] == named
        touched = np.flatnonzero(cut.any(axis=1))
        new = np.where(cut[touched], count + at[touched], -1)
        along = np.where(ends[touched, :, 0] == low[touched], share[at[touched]], 1 - share[at[touched]])
        shares = self.shares[touched]
        between = shares * (1 - along[:, :, None]) + np.roll(shares, -1, axis=1) * along[:, :, None]
        made = _divided(self.corners[touched], new, shares, between)
        kept = np.ones(len(self.corners), bool)
        kept[touched] = False
        if int(kept.sum()) + len(made[0]) > MOST_TRIANGLES:
            raise ValueError("too many triangles")
        corners = np.concatenate([self.corners[kept], made[0]])
        source = np.concatenate([self.source[kept], self.source[touched][made[1]]])
        every = np.concatenate([self.shares[kept], made[2]])
        # a place of the ground for each new vertex: that of the first triangle it was made in
        first = np.full(len(keys), -1, np.int64)
        flat, owner = new.ravel(), np.repeat(np.arange(len(touched)), 3)
        there = np.flatnonzero(flat >= 0)
        first[flat[there][::-1] - count] = there[::-1]
        spots = self.ground.spots(self.source[touched][owner[first]], between.reshape(-1, 3)[first])
        both = Spots(*(np.concatenate([getattr(self.spots, name), getattr(spots, name)]) for name in _SPOT))
        return Facets(self.ground, corners, source, every, both), fresh

    def refined(self, wanted: Callable[[Spots], Floats]) -> Facets:
        """Split until no edge is longer than what is wanted at the nearer of its ends: `wanted` tells mm at spots, inf where nothing is."""
        facets = self
        want = wanted(facets.spots)
        while True:
            least = want[facets.corners].min(axis=1)
            near = np.isfinite(least)
            if not near.any():
                return facets
            edges = facets.edges(near)
            long = facets.lengths(edges) > 1.01 * want[edges].min(axis=1)
            if not long.any():
                return facets
            edges = edges[long]
            before = len(facets.spots)
            facets, _ = facets.split(edges, np.full(len(edges), 0.5))
            want = np.concatenate([want, wanted(facets.spots[np.s_[before:]])])

    def sliced(self, value: Floats, levels: Floats, told: Told, eps: float) -> tuple[Facets, Floats]:
        """With edges along where a value (V,) is one of `levels` (growing); and the values of all vertices.

        `told` says the value at spots; vertices closer to a level than `eps` count as on it, and are told so. Where it is not finite there
        is nothing to slice. A triangle is sliced by all levels at once: cuts run from side to side and make no corners within.
        """
        value = _settled_on(value, levels, eps)
        finite = np.isfinite(value)
        low, high = (f(value[self.corners], axis=1) for f in (np.min, np.max))
        with np.errstate(invalid="ignore"):
            many = np.searchsorted(levels, high, "left") - np.searchsorted(levels, low, "right")
        touched = np.flatnonzero((many > 0) & finite[self.corners].all(axis=1))
        if not len(touched):
            return self, value
        edges = self.edges(touched)
        ends = value[edges]
        first = np.searchsorted(levels, ends.min(axis=1), "right")
        counts = np.maximum(np.searchsorted(levels, ends.max(axis=1), "left") - first, 0)
        begins = np.concatenate([[0], np.cumsum(counts)])
        owner = np.repeat(np.arange(len(edges)), counts)
        level = first[owner] + np.arange(begins[-1]) - begins[owner]
        spots = self._closed_in(edges[owner], levels[level], value, told)
        count = len(self.spots)
        made = _slices(
            self.corners[touched],
            self.shares[touched],
            value,
            levels,
            edges @ np.array([count, 1]),
            begins,
            first,
            count,
            *spots[1:],
        )
        kept = np.ones(len(self.corners), bool)
        # a neighbour that is not finite everywhere is divided where its side was
        kept[touched] = False
        if int(kept.sum()) + len(made[0]) > MOST_TRIANGLES:
            raise ValueError("too many triangles")
        both = Spots(*(np.concatenate([getattr(self.spots, name), getattr(spots[0], name)]) for name in _SPOT))
        corners = np.concatenate([self.corners[kept], made[0]])
        source = np.concatenate([self.source[kept], self.source[touched][made[1]]])
        shares = np.concatenate([self.shares[kept], made[2]])
        return Facets(self.ground, corners, source, shares, both), np.concatenate([value, levels[level]])

    def _closed_in(self, edges: Ints, level: Floats, value: Floats, told: Told) -> tuple[Spots, Floats]:
        """Spots on edges (K, 2) where the value is `level` (K,), and how far along each that is, from its lower number: where a straight
        line would have it, and from there by false position on the ground itself (Dowell & Jarratt 1971)."""
        keys = edges @ np.array([len(self.spots), 1])
        ends = np.stack([self.corners, np.roll(self.corners, -1, axis=1)], axis=2)
        named = (ends.min(axis=2) * len(self.spots) + ends.max(axis=2)).ravel()
        order = np.argsort(named, kind="stable")
        at = order[np.searchsorted(named[order], keys)]
        triangle, side = at // 3, at % 3
        first, second = self.shares[triangle, side], self.shares[triangle, (side + 1) % 3]
        turned = (ends[triangle, side, 0] != edges[:, 0])[:, None]
        first, second = np.where(turned, second, first), np.where(turned, first, second)
        source = self.source[triangle]
        low, high = np.zeros(len(keys)), np.ones(len(keys))
        at_low, at_high = value[edges[:, 0]] - level, value[edges[:, 1]] - level
        share = at_low / (at_low - at_high)
        for _ in range(_TURNS):
            spots = self.ground.spots(source, first * (1 - share)[:, None] + second * share[:, None])
            now = told(spots) - level
            now = np.where(np.isfinite(now), now, at_high)
            same = now * at_low > 0
            low, at_low = np.where(same, share, low), np.where(same, now, at_low)
            high, at_high = np.where(same, high, share), np.where(same, at_high, now)
            with np.errstate(divide="ignore", invalid="ignore"):
                next_one = (low * at_high - high * at_low) / (at_high - at_low)
            share = np.where((next_one > low) & (next_one < high), next_one, share)
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


_SPOT = ("triangle", "shares", "points", "normals")
_TURNS = 1


def facets_of(ground: Ground) -> Facets:
    """The triangles of a ground as they are; those without an extent left out."""
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


def _divided(corners: Ints, new: Ints, shares: Floats, between: Floats) -> tuple[Ints, Ints, Floats]:
    """Triangles with a new vertex on one, two or all three of their sides, divided: corners, the row each is from, shares."""
    cut = new >= 0
    parts: list[tuple[Ints, Ints, Floats]] = []
    six = np.concatenate([corners, new], axis=1)
    both = np.concatenate([shares, between], axis=1)

    def put(rows: Ints, turn: Ints, *triples: tuple[int, int, int]) -> None:
        """Triangles of the six corners and sides' vertices of rows, counted from each row's `turn`."""
        for triple in triples:
            at = np.stack([(k % 3 + turn) % 3 + 3 * (k // 3) for k in triple], axis=1)
            parts.append((np.take_along_axis(six[rows], at, axis=1), rows, both[rows[:, None], at]))

    many = cut.sum(axis=1)
    rows = np.flatnonzero(many == 3)
    put(rows, np.zeros(len(rows), np.int64), (0, 3, 5), (3, 1, 4), (5, 4, 2), (3, 4, 5))
    rows = np.flatnonzero(many == 1)
    put(rows, cut[rows].argmax(axis=1), (0, 3, 2), (3, 1, 2))
    # two sides: those that meet in the corner after `turn`, and the four-cornered rest by its diagonal from the side's vertex
    rows = np.flatnonzero(many == 2)
    put(rows, (np.argmin(cut[rows], axis=1) + 1) % 3, (3, 1, 4), (0, 3, 4), (0, 4, 2))
    return tuple(np.concatenate(arrays) for arrays in zip(*parts))  # type: ignore[return-value]


def _settled_on(value: Floats, levels: Floats, eps: float) -> Floats:
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
def _slices(corners, shares, value, levels, keys, begins, firsts, count, along):  # noqa: C901 — one compiled loop
    """Triangles sliced by levels: corners, the row each is from, shares. New vertices are numbered on from `count`, edge by edge (`keys`),
    level by level (`begins`, `firsts`); `along` is how far along its edge each is, from the lower number."""
    room = 0
    for t in range(len(corners)):
        room += 5
        for k in range(3):
            a, b = corners[t, k], corners[t, (k + 1) % 3]
            e = np.searchsorted(keys, min(a, b) * count + max(a, b))
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
                e = np.searchsorted(keys, min(a, b) * count + max(a, b))
                for j in range(begins[e], begins[e + 1]):
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
