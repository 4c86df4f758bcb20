"""How far places of a surface are from a line on it: along the surface, and on which side. Lengths mm."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from scipy.spatial import cKDTree

from hollow_marble.core.detail.ground import Floats, Ints, Spots
from hollow_marble.core.paths import lengths


@dataclass(frozen=True, eq=False)
class SkinLine:
    """A line on a surface: K spots in order, of a closed one the first not told again."""

    spots: Spots
    closed: bool

    @cached_property
    def key(self) -> str:
        """Names it by where it runs."""
        return hashlib.sha256(self.spots.points.tobytes() + bytes([self.closed])).hexdigest()

    @cached_property
    def ring(self) -> Ints:
        """Numbers of its spots, of a closed one with the first at the end again."""
        count = np.arange(len(self.spots))
        return np.append(count, 0) if self.closed else count

    @cached_property
    def along(self) -> Floats:
        """(K,) or (K + 1,) length to each spot, of a closed line to the first one again too: that of arcs, not of chords."""
        ends = self.spots.points[self.ring]
        chords = np.diff(lengths(ends))
        turn = np.arccos(np.clip((self.tangents[self.ring[:-1]] * self.tangents[self.ring[1:]]).sum(axis=1), -1, 1))
        turn = np.where(turn < 0.8, turn, 0.0)  # a corner is no arc
        return np.concatenate([[0.0], np.cumsum(chords * (1 + turn**2 / 24))])

    @property
    def length(self) -> float:
        """mm."""
        return float(self.along[-1])

    @cached_property
    def tangents(self) -> Floats:
        """(K, 3) unit directions it runs in, along the surface."""
        points = self.spots.points
        if self.closed:
            before, after = np.roll(points, 1, axis=0), np.roll(points, -1, axis=0)
        else:
            before, after = np.concatenate([points[:1], points[:-1]]), np.concatenate([points[1:], points[-1:]])
        one, other = points - before, after - points
        a, b = np.linalg.norm(one, axis=1, keepdims=True), np.linalg.norm(other, axis=1, keepdims=True)
        # the parabola through three places (Catmull & Rom 1974, by chord lengths); at an end, that through the last three, mirrored
        a, b = np.maximum(a, 1e-12), np.maximum(b, 1e-12)
        found = (one / a) * b / (a + b) + (other / b) * a / (a + b)
        if not self.closed and len(points) > 2:
            for end, inner in ((0, 1), (-1, -2)):
                chord = (points[inner] - points[end]) * (1 if end == 0 else -1)
                chord /= max(float(np.linalg.norm(chord)), 1e-12)
                t = found[inner] / np.linalg.norm(found[inner])
                found[end] = 2 * (t @ chord) * chord - t
        normals = self.spots.normals
        found -= (found * normals).sum(axis=1, keepdims=True) * normals
        return np.asarray(found / np.maximum(np.linalg.norm(found, axis=1, keepdims=True), 1e-12))

    def beside(self, reach: float) -> Beside:
        """What tells how far places within a reach are from it; kept for the greatest reach asked for."""
        found: Beside | None = self.__dict__.get("_beside")
        if found is None or found.reach < reach:
            found = self.__dict__["_beside"] = Beside(self, reach)
        return found

    @cached_property
    def radii(self) -> Floats:
        """(K - 1,) or, of a closed line, (K,): the radius each of its pieces bends with in space, mm."""
        ring = self.ring
        turn = np.linalg.norm(self.tangents[ring[1:]] - self.tangents[ring[:-1]], axis=1)
        return np.asarray(np.diff(self.along) / np.maximum(turn, 1e-9))


@dataclass(frozen=True, eq=False)
class Aside:
    """Where K spots are as seen from a line.

    off : (K,) mm to its left (as seen from outside, looking along it), negative to its right; inf beyond the reach
    along : (K,) mm along the line to the foot; past : (K,) mm beyond its end, 0 where the foot is within it
    way : (K, 3) unit direction along the surface in which `off` grows fastest
    """

    off: Floats
    along: Floats
    past: Floats
    way: Floats

    @property
    def away(self) -> Floats:
        """(K,) mm from the line, round its ends too."""
        return np.hypot(self.off, self.past)


class Beside:
    """Asks how far spots are from a line, up to a reach in mm.

    The way to the foot is an arc that bends as the normals at both its ends tell: on a sphere, a cylinder or a plane that is the geodesic,
    elsewhere it is off by the change of curvature on the way only.
    """

    def __init__(self, line: SkinLine, reach: float) -> None:
        self.line = line
        points = line.spots.points
        ring = line.ring
        self._from, self._to = ring[:-1], ring[1:]
        self._span = np.linalg.norm(points[self._to] - points[self._from], axis=1)
        self._tree = cKDTree((points[self._from] + points[self._to]) / 2)
        self.reach = reach
        self._reach = reach + float(self._span.max(initial=0.0))

    def asked(self, spots: Spots) -> Aside:
        """Where spots are as seen from the line."""
        count = len(spots)
        _, piece = self._tree.query(spots.points, k=_CANDIDATES, distance_upper_bound=self._reach)
        line = self.line
        off, along, past, way = _feet(
            spots.points, spots.normals, piece.reshape(count, _CANDIDATES), self._from, self._to, line.spots.points,
            line.tangents, line.spots.normals, line.along, line.closed, _FACING,
        )  # fmt: skip
        return Aside(off, along, past, way)


_CANDIDATES = 3
_FACING = -0.3
"""Cosine of the normals at both ends of the way to a foot, below which it lies on another side of the body."""


@njit(cache=True, nogil=True)
def _feet(spots, ups, pieces, begins, ends, places, tangents, normals, lengths, closed, facing):  # noqa: C901 — one compiled loop
    """For each spot, of several pieces the one whose foot is nearest on the same side of the body; its distance along the skin, how far
    along the line the foot is, how far past the end, and the way the distance grows."""
    count, last = len(spots), len(begins) - 1
    off, along, past = np.full(count, np.inf), np.zeros(count), np.zeros(count)
    way = np.zeros((count, 3))
    at, slope, bend = np.empty(3), np.empty(3), np.empty(3)
    best_at, best_slope = np.empty(3), np.empty(3)
    normal, left, up = np.empty(3), np.empty(3), np.empty(3)
    for k in range(count):
        nearest, best, share = np.inf, -1, 0.0
        for c in range(pieces.shape[1]):
            piece = pieces[k, c]
            if piece > last:  # beyond the reach
                continue
            a, b = begins[piece], ends[piece]
            span = 0.0
            dot = 0.0
            for x in range(3):
                chord = places[b, x] - places[a, x]
                span += chord * chord
                dot += (spots[k, x] - places[a, x]) * chord
            t = min(max(dot / max(span, 1e-24), 0.0), 1.0)
            span = np.sqrt(span)
            for turn in range(4):
                s, r = t, 1 - t
                steep, rise, gap = 0.0, 0.0, 0.0
                for x in range(3):
                    p, q, u, v = places[a, x], places[b, x], tangents[a, x] * span, tangents[b, x] * span
                    at[x] = r * r * (1 + 2 * s) * p + s * s * (3 - 2 * s) * q + s * r * r * u - s * s * r * v
                    slope[x] = 6 * s * r * (q - p) + r * (1 - 3 * s) * u + s * (3 * s - 2) * v
                    bend[x] = 6 * (1 - 2 * s) * (q - p) + (6 * s - 4) * u + (6 * s - 2) * v
                    steep += slope[x] * slope[x]
                    rise += (at[x] - spots[k, x]) * bend[x]
                    gap += (at[x] - spots[k, x]) * slope[x]
                if turn < 3:
                    t = min(max(t - gap / max(steep + rise, 0.3 * steep, 1e-24), 0.0), 1.0)
            far, outward = 0.0, 0.0
            for x in range(3):
                far += (spots[k, x] - at[x]) ** 2
                outward += (normals[a, x] * (1 - t) + normals[b, x] * t) * ups[k, x]
            # a thin body's other side is near in space, and far along the skin
            if outward >= facing and far < nearest:
                nearest, best, share = far, piece, t
                best_at[:], best_slope[:] = at, slope
        if best < 0:
            continue
        a, b = begins[best], ends[best]
        size = 1e-300
        for x in range(3):
            size += best_slope[x] ** 2
            normal[x] = normals[a, x] * (1 - share) + normals[b, x] * share
        size = np.sqrt(size)
        for x in range(3):
            best_slope[x] /= size
        size = 1e-300
        for x in range(3):
            y, z = (x + 1) % 3, (x + 2) % 3
            left[x] = normal[y] * best_slope[z] - normal[z] * best_slope[y]
            size += left[x] ** 2
        size = np.sqrt(size)
        for x in range(3):
            left[x] /= size
        sine, cosine, across, ahead = 0.0, 0.0, 0.0, 0.0
        for x in range(3):
            y, z = (x + 1) % 3, (x + 2) % 3
            up[x] = best_slope[y] * left[z] - best_slope[z] * left[y]
            sine += ups[k, x] * left[x]
            across += (spots[k, x] - best_at[x]) * left[x]
            ahead += (spots[k, x] - best_at[x]) * best_slope[x]
        for x in range(3):
            cosine += ups[k, x] * up[x]
        turned = np.arctan2(sine, cosine)
        # the chord of an arc that turns by so much, laid along the tangent at its foot, made the arc
        longer = 1 + turned * turned / 6 if abs(turned) < 1e-4 else turned / np.sin(turned)
        off[k] = across * longer
        if not closed and ((best == 0 and share <= 0.0 and ahead < 0) or (best == last and share >= 1.0 and ahead > 0)):
            past[k] = ahead
        along[k] = lengths[best] + share * (lengths[best + 1] - lengths[best])
        level, size = 0.0, 1e-300
        for x in range(3):
            way[k, x] = left[x] * np.cos(turned) - up[x] * np.sin(turned)
            level += way[k, x] * ups[k, x]
        for x in range(3):
            way[k, x] -= level * ups[k, x]
            size += way[k, x] ** 2
        size = np.sqrt(size)
        for x in range(3):
            way[k, x] /= size
    return off, along, past, way
