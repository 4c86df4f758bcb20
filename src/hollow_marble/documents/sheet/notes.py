"""Notes as plain marks: lines, filled shapes and words, which every output draws in its own way."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np
import skia

from hollow_marble.documents.sheet.model import (
    Arrow,
    Callout,
    Dimension,
    Font,
    Lettering,
    Note,
    Place,
    Rect,
    Sheet,
    View,
)

FONTS: dict[Font, str] = {
    "sans": "InstrumentSans-Regular.ttf",
    "sans strong": "InstrumentSans-SemiBold.ttf",
    "serif": "Fraunces-Regular.ttf",
}
LEADING = 1.25
"""Height of a line in units of the letters'."""


@dataclass(frozen=True)
class Stretch:
    """A line through places, width px."""

    places: tuple[Place, ...]
    width: float


@dataclass(frozen=True)
class Solid:
    """A filled outline."""

    places: tuple[Place, ...]


@dataclass(frozen=True)
class Words:
    """One line of words from its left foot, turned by degrees about it."""

    text: str
    at: Place
    size: float
    font: Font
    turn: float


Mark = Stretch | Solid | Words


def font_file(font: Font) -> bytes:
    """The bytes of a bundled typeface (TrueType; SIL Open Font License)."""
    return (files("hollow_marble.documents.sheet") / "fonts" / FONTS[font]).read_bytes()


@cache
def _typeface(font: Font) -> skia.Typeface:
    return skia.Typeface.MakeFromData(skia.Data.MakeWithCopy(font_file(font)))


def skia_font(font: Font, size: float) -> skia.Font:
    """A typeface at a size, set without hinting so that words keep their length at every scale."""
    made = skia.Font(_typeface(font), size)
    made.setSubpixel(True)
    made.setHinting(skia.FontHinting.kNone)
    made.setEdging(skia.Font.Edging.kAntiAlias)
    return made


def width_of(text: str, font: Font, size: float) -> float:
    """Px a line of words is long."""
    return float(skia_font(font, size).measureText(text))


def scale_at(views: tuple[View, ...], place: Place) -> float | None:
    """Px a mm in the smallest view around a place that has a scale."""
    around = [
        view
        for view in views
        if view.scale and view.rect[0] <= place[0] < view.rect[2] and view.rect[1] <= place[1] < view.rect[3]
    ]
    return min(around, key=lambda v: (v.rect[2] - v.rect[0]) * (v.rect[3] - v.rect[1])).scale if around else None


def length_words(note: Dimension, views: tuple[View, ...]) -> str:
    """What a dimension says: mm where the view has a scale, px where it has none."""
    length = math.dist(note.start, note.end)
    middle = ((note.start[0] + note.end[0]) / 2, (note.start[1] + note.end[1]) / 2)
    scale = scale_at(views, middle)
    if scale is None:
        return f"{length:.0f} px"
    return f"{length / scale:.1f}".removesuffix(".0") + " mm"


def marks(note: Note, views: tuple[View, ...]) -> list[Mark]:
    """A note as marks, px of the page."""
    if isinstance(note, Lettering):
        return _lettering(note)
    if isinstance(note, Callout):
        return _callout(note)
    if isinstance(note, Dimension):
        return _dimension(note, views)
    return _arrow(note)


def notes_extent(notes: tuple[Note, ...], sheet: Sheet) -> Rect:
    """Smallest rectangle around notes."""
    corners: list[Place] = []
    for note in notes:
        for mark in marks(note, sheet.views):
            if isinstance(mark, Words):
                long = width_of(mark.text, mark.font, mark.size)
                c, s = math.cos(math.radians(mark.turn)), math.sin(math.radians(mark.turn))
                box = [(x, y) for x in (0.0, long) for y in (-mark.size * 1.1, mark.size * 0.4)]
                corners += [(mark.at[0] + c * x - s * y, mark.at[1] + s * x + c * y) for x, y in box]
            else:
                corners += mark.places
    if not corners:
        return 0, 0, 0, 0
    low, high = np.floor(np.min(corners, axis=0)) - 8, np.ceil(np.max(corners, axis=0)) + 8
    return int(low[0]), int(low[1]), int(high[0]), int(high[1])


def _lettering(note: Lettering) -> list[Mark]:
    found: list[Mark] = []
    turn = math.radians(note.turn)
    for number, text in enumerate(note.words.split("\n")):
        share = {"left": 0.0, "middle": 0.5, "right": 1.0}[note.align]
        across = -share * width_of(text, note.font, note.size)
        down = number * LEADING * note.size
        x = note.at[0] + math.cos(turn) * across - math.sin(turn) * down
        y = note.at[1] + math.sin(turn) * across + math.cos(turn) * down
        found.append(Words(text, (x, y), note.size, note.font, note.turn))
    return found


def _callout(note: Callout) -> list[Mark]:
    lines = note.words.split("\n")
    long = max(width_of(text, "sans", note.size) for text in lines)
    left, shelf = note.at[0], note.at[1] + 0.35 * note.size + (len(lines) - 1) * LEADING * note.size
    near = left if note.to[0] <= left + long / 2 else left + long
    far = left + long if near == left else left
    dot = max(2.5, 0.14 * note.size)
    ring = tuple(
        (note.to[0] + dot * math.cos(k * math.pi / 8), note.to[1] + dot * math.sin(k * math.pi / 8)) for k in range(16)
    )
    words = [
        Words(text, (left, note.at[1] + k * LEADING * note.size), note.size, "sans", 0.0)
        for k, text in enumerate(lines)
    ]
    return [Stretch((note.to, (near, shelf), (far, shelf)), _weight(note.size)), Solid(ring), *words]


def _dimension(note: Dimension, views: tuple[View, ...]) -> list[Mark]:
    (ax, ay), (bx, by) = note.start, note.end
    length = math.hypot(bx - ax, by - ay)
    if length < 1:
        return []
    along = ((bx - ax) / length, (by - ay) / length)
    across = (-along[1], along[0])
    weight = _weight(note.size)

    def aside(place: Place, off: float) -> Place:
        return place[0] + across[0] * off, place[1] + across[1] * off

    sign = 1 if note.off >= 0 else -1
    gap, beyond = 0.25 * note.size * sign, 0.3 * note.size * sign
    a, b = aside(note.start, note.off), aside(note.end, note.off)
    text = length_words(note, views)
    turn = math.degrees(math.atan2(along[1], along[0]))
    upright = turn if -90 <= turn < 90 else turn - math.copysign(180, turn)  # read from below or from the right
    c, s = math.cos(math.radians(upright)), math.sin(math.radians(upright))
    long = width_of(text, "sans", note.size)
    middle = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    up = 0.35 * note.size
    foot = middle[0] - c * long / 2 + s * up, middle[1] - s * long / 2 - c * up
    return [
        Stretch((aside(note.start, gap), aside(note.start, note.off + beyond)), weight * 0.7),
        Stretch((aside(note.end, gap), aside(note.end, note.off + beyond)), weight * 0.7),
        Stretch((a, b), weight),
        Solid(_head(a, (-along[0], -along[1]), note.size)),
        Solid(_head(b, along, note.size)),
        Words(text, foot, note.size, "sans", upright),
    ]


def _arrow(note: Arrow) -> list[Mark]:
    (ax, ay), (bx, by) = note.start, note.end
    length = math.hypot(bx - ax, by - ay)
    if length < 1:
        return []
    aside = note.bend * length
    mx, my = (ax + bx) / 2 - (by - ay) / length * aside, (ay + by) / 2 + (bx - ax) / length * aside
    # the middle of the curve lies half way to its control point
    cx, cy = 2 * mx - (ax + bx) / 2, 2 * my - (ay + by) / 2
    t = np.linspace(0, 1, 33)
    places = [
        (
            float((1 - k) ** 2 * ax + 2 * k * (1 - k) * cx + k * k * bx),
            float((1 - k) ** 2 * ay + 2 * k * (1 - k) * cy + k * k * by),
        )
        for k in t
    ]
    way = math.atan2(by - cy, bx - cx)
    head = _head(note.end, (math.cos(way), math.sin(way)), note.size * 1.3)
    neck = ((head[1][0] + head[2][0]) / 2, (head[1][1] + head[2][1]) / 2)
    reach = math.dist(neck, note.end)
    shaft = [p for p in places if math.dist(p, note.end) > reach] or [note.start]
    return [Stretch((*shaft, neck), _weight(note.size) * 1.4), Solid(head)]


def _head(tip: Place, way: Place, size: float) -> tuple[Place, ...]:
    long, half = 0.62 * size, 0.17 * size
    base = tip[0] - way[0] * long, tip[1] - way[1] * long
    side = -way[1] * half, way[0] * half
    return tip, (base[0] + side[0], base[1] + side[1]), (base[0] - side[0], base[1] - side[1])


def _weight(size: float) -> float:
    return max(1.2, 0.06 * size)
