"""Flat outlines: how far places are from them, and patterns of openings. Lengths mm, x to the right and y up."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit

from hollow_marble.core.detail.ground import Floats, Ints
from hollow_marble.core.errors import HollowMarbleError

WITHIN = 0.004
"""mm an arc may be off the chords it is made of."""
MOST_LOOPS = 20_000
_CORNER = 0.5
"""Radians of turn from which on two pieces meet in a corner."""


@dataclass(frozen=True, eq=False)
class Outlines:
    """Closed loops (n, 2), the first place not told again; inside is what lies within an odd number of them."""

    loops: tuple[Floats, ...]

    @cached_property
    def _pieces(self) -> tuple[Floats, Floats, Ints, Floats]:
        """Begin and end of every piece (S, 2), where loops begin in them, and the box around each (L, 4)."""
        begins = np.concatenate(self.loops)
        ends = np.concatenate([np.roll(loop, -1, axis=0) for loop in self.loops])
        starts = np.cumsum([0, *map(len, self.loops)]).astype(np.int64)
        boxes = np.array([[*loop.min(axis=0), *loop.max(axis=0)] for loop in self.loops])
        return begins, ends, starts, boxes

    @property
    def extent(self) -> tuple[Floats, Floats]:
        """Lowest and highest corner of the box around them."""
        boxes = self._pieces[3]
        return boxes[:, :2].min(axis=0), boxes[:, 2:].max(axis=0)

    @cached_property
    def fine(self) -> Floats:
        """(S,) about the radius each piece bends with, mm; small beside a corner."""
        found = []
        for loop in self.loops:
            way = np.roll(loop, -1, axis=0) - loop
            long = np.linalg.norm(way, axis=1)
            heading = np.arctan2(way[:, 1], way[:, 0])
            turn = np.abs((np.diff(heading, append=heading[:1]) + np.pi) % (2 * np.pi) - np.pi)
            both = np.maximum(turn, np.roll(turn, 1))
            found.append(np.where(both > _CORNER, 0.0, long / np.maximum(both, 1e-6)))
        return np.concatenate(found)

    def asked(self, places: Floats, reach: float) -> tuple[Floats, Floats, Ints]:
        """(K,) distance of (K, 2) places from the outlines, negative inside; (K, 2) the way it grows; (K,) the piece that is nearest, -1
        where none is within reach: there the distance is the reach."""
        begins, ends, starts, boxes = self._pieces
        found: tuple[Floats, Floats, Ints] = _distances(
            np.ascontiguousarray(places), begins, ends, starts, boxes, reach
        )
        return found

    def moved(self, turn: float, size: float) -> Outlines:
        """Turned by degrees about the middle and sized."""
        c, s = math.cos(math.radians(turn)) * size, math.sin(math.radians(turn)) * size
        matrix = np.array([[c, s], [-s, c]])
        return Outlines(tuple(loop @ matrix for loop in self.loops))

    def mirrored(self) -> Outlines:
        """Left and right the other way round."""
        return Outlines(tuple(loop[::-1] * np.array([-1.0, 1.0]) for loop in self.loops))

    def centred(self) -> Outlines:
        """About the middle of the box around them."""
        low, high = self.extent
        return Outlines(tuple(loop - (low + high) / 2 for loop in self.loops))


@njit(cache=True, nogil=True)
def _distances(places, begins, ends, starts, boxes, reach):
    count = len(places)
    distance, way, piece = np.full(count, reach), np.zeros((count, 2)), np.full(count, -1)
    for k in range(count):
        x, y = places[k, 0], places[k, 1]
        best = reach * reach
        inside = False
        for loop in range(len(boxes)):
            dx = max(boxes[loop, 0] - x, 0.0, x - boxes[loop, 2])
            dy = max(boxes[loop, 1] - y, 0.0, y - boxes[loop, 3])
            if dx * dx + dy * dy >= best and (dx > 0 or dy > 0):
                continue
            for s in range(starts[loop], starts[loop + 1]):
                ax, ay, bx, by = begins[s, 0], begins[s, 1], ends[s, 0], ends[s, 1]
                if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
                    inside = not inside
                ux, uy = bx - ax, by - ay
                long = ux * ux + uy * uy
                t = min(max(((x - ax) * ux + (y - ay) * uy) / long, 0.0), 1.0) if long > 0 else 0.0
                px, py = x - ax - t * ux, y - ay - t * uy
                away = px * px + py * py
                if away < best:
                    best = away
                    piece[k] = s
                    way[k, 0], way[k, 1] = px, py
                    if away < 1e-18:
                        way[k, 0], way[k, 1] = uy, -ux
        far = np.sqrt(best)
        distance[k] = -far if inside else far
        size = np.sqrt(way[k, 0] ** 2 + way[k, 1] ** 2)
        if size > 0:
            sign = -1.0 if inside else 1.0
            way[k, 0] *= sign / size
            way[k, 1] *= sign / size
    return distance, way, piece


def slot(at: tuple[float, float], long: float, wide: float, turn: float = 0.0) -> Floats:
    """A slot with round ends, `long` over all, about a place, turned by radians."""
    radius, half = wide / 2, max(long - wide, 0.0) / 2
    steps = max(6, math.ceil(math.pi / (2 * math.acos(max(1 - WITHIN / radius, 0.3)))))
    angle = np.linspace(-np.pi / 2, np.pi / 2, steps + 1)
    middle = np.array([half, 0.0])
    arc = radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
    loop = np.concatenate([arc + middle, -arc - middle])
    if half < 1e-9:
        loop = np.concatenate([arc, -arc[1:-1]])
    c, s = math.cos(turn), math.sin(turn)
    return np.asarray(loop @ np.array([[c, s], [-s, c]]) + np.array(at))


@dataclass(frozen=True)
class Field:
    """What openings are spread over: `wide` x `tall` mm, round or with square corners, or within an outline about its middle."""

    wide: float
    tall: float
    round: bool
    within: Outlines | None = None

    def spans(self, y: float, half: float, land: float) -> list[tuple[float, float]]:
        """From where to where along x a band of `half` mm to either side of a height has land to the edge."""
        if self.within is not None:
            return self._within(y, half, land)
        room = self.tall / 2 - land
        if abs(y) + half > room + 1e-9:
            return []
        reach = self.wide / 2 - land
        if self.round:
            # an ellipse less the land; the further edge of the band tells
            reach *= math.sqrt(max(0.0, 1 - ((abs(y) + half) / room) ** 2)) if room > 0 else 0.0
        return [(-reach, reach)]

    def _within(self, y: float, half: float, land: float) -> list[tuple[float, float]]:
        assert self.within is not None
        low, high = self.within.extent
        x = np.arange(low[0], high[0], 0.05)
        deep = np.full(len(x), -np.inf)
        for line in (y - half, y, y + half):
            found, _, _ = self.within.asked(
                np.stack([x, np.full(len(x), line)], axis=1), float(np.ptp([low, high])) + 1
            )
            deep = np.maximum(deep, found)
        inside = np.concatenate([[False], deep <= -land, [False]])
        begins, ends = (
            np.flatnonzero(np.diff(inside.astype(int)) == 1),
            np.flatnonzero(np.diff(inside.astype(int)) == -1),
        )
        return [(float(x[a]), float(x[b - 1])) for a, b in zip(begins, ends)]

    @property
    def box(self) -> tuple[Floats, Floats]:
        """Its lowest and highest corner."""
        if self.within is not None:
            return self.within.extent
        half = np.array([self.wide, self.tall]) / 2
        return -half, half


def rows_of_slots(field: Field, width: float, gap: float, land: float) -> Outlines:
    """Slots across a field, one over another, each as long as the field is there less the land."""
    low, high = field.box
    pitch = width + gap
    room = high[1] - low[1] - 2 * land
    count = int((room + gap + 1e-9) // pitch)
    middle = float(low[1] + high[1]) / 2
    loops = []
    for k in range(count):
        y = middle + (k - (count - 1) / 2) * pitch
        loops += [slot(((a + b) / 2, y), b - a, width) for a, b in field.spans(y, width / 2, land) if b - a >= width]
    return _some(loops, width, land, field)


def rows_of_holes(field: Field, width: float, gap: float, land: float) -> Outlines:
    """Round holes in rows, each row between those beside it, as close as the gap lets them lie."""
    low, high = field.box
    pitch = width + gap
    step = pitch * math.sqrt(3) / 2
    room = high[1] - low[1] - 2 * land - width
    count = int(room // step) + 1 if room >= -1e-9 else 0
    middle_x, middle = float(low[0] + high[0]) / 2, float(low[1] + high[1]) / 2
    loops: list[Floats] = []
    for k in range(count):
        y = middle + (k - (count - 1) / 2) * step
        off = pitch / 2 if k % 2 else 0.0
        for a, b in field.spans(y, width / 2, land):
            first = math.ceil((a + width / 2 - middle_x - off - 1e-9) / pitch)
            last = math.floor((b - width / 2 - middle_x - off + 1e-9) / pitch)
            _not_too_many(len(loops) + last - first)
            loops += [slot((middle_x + off + j * pitch, y), width, width) for j in range(first, last + 1)]
    return _some(loops, width, land, field)


def rings_of_holes(field: Field, width: float, gap: float, land: float) -> Outlines:
    """Round holes on rings about the middle, one in it."""
    pitch = width + gap
    reach = min(field.box[1] - field.box[0]) / 2 - land - width / 2
    loops = [slot((0.0, 0.0), width, width)] if reach >= 0 else []
    for ring in range(1, int((reach + 1e-9) // pitch) + 1):
        radius = ring * pitch
        many = int(2 * math.pi / (2 * math.asin(min(1.0, pitch / (2 * radius)))))
        _not_too_many(len(loops) + many)
        angles = 2 * math.pi * np.arange(many) / many
        loops += [slot((radius * math.cos(t), radius * math.sin(t)), width, width) for t in angles.tolist()]
    return _some(loops, width, land, field)


def rays_of_slots(field: Field, width: float, gap: float, land: float, inner: float) -> Outlines:
    """Slots that run out from the middle, from `inner` mm to the field's edge less the land, with a gap between them at their inner ends."""
    reach = min(field.box[1] - field.box[0]) / 2 - land
    if inner + width > reach:
        raise HollowMarbleError(
            f"Between {inner:g} mm from the middle and the land at the edge there are {max(reach - inner, 0):.1f} mm for slots {width:g} mm wide. "
            "Begin them nearer to the middle, or make the field larger."
        )
    many = int(math.pi / math.asin(min(1.0, (width + gap) / (2 * (inner + width / 2)))))
    _not_too_many(many)
    middle = (inner + reach) / 2
    angles = (2 * math.pi * np.arange(many) / max(many, 1)).tolist()
    loops = [slot((middle * math.cos(t), middle * math.sin(t)), reach - inner, width, t) for t in angles]
    return _some(loops, width, land, field)


def _not_too_many(count: int) -> None:
    if count > MOST_LOOPS:
        raise HollowMarbleError(
            f"That would be more than {MOST_LOOPS:,} openings. Make them larger, or the gap between them, or the field smaller."
        )


def _some(loops: list[Floats], width: float, land: float, field: Field) -> Outlines:
    if not loops:
        low, high = field.box
        size = high - low
        raise HollowMarbleError(
            f"No opening {width:g} mm wide fits into {size[0]:.1f} × {size[1]:.1f} mm with {land:g} mm of land to the edge. "
            f"Up to {max(min(size) - 2 * land, 0):.1f} mm of width fit."
        )
    return Outlines(tuple(loops))
