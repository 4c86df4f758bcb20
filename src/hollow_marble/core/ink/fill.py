"""Fill a region bounded by ink: gaps closed, the fill grown under the line so that no pale fringe is left.

The region is found where the distance to ink is more than half the gap (a flood cannot pass a narrower opening), won
back to the ink's edge step by step, and then climbs into the line for as long as the line does not get paler.
"""

from __future__ import annotations

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.select import Selection, trimmed
from hollow_marble.core.ink.stamp import Rect

WALL = 40
"""Coverage of ink, 0 to 255, that stops a fill."""

PINHOLE = 3
"""Radius in px of the largest speck that is taken in."""

DEEPEST = 24
"""Most px a fill climbs into a line."""


def region(ink: NDArray[np.uint8], seed: tuple[float, float], gap: float) -> Selection:
    """The closed region around a place.

    ink : (H, W) uint8 coverage of the lines
    seed : x, y in page px
    gap : openings up to this width in px count as closed

    Raises
    ------
    HollowMarbleError
        where the place is on a line, or the region runs out to the page's edge all around.
    """
    height, width = ink.shape
    x, y = int(seed[0]), int(seed[1])
    if not (0 <= x < width and 0 <= y < height):
        raise HollowMarbleError("That place is beside the page. Touch the region to fill.")
    if ink[y, x] >= WALL:
        raise HollowMarbleError("That place is on a line. Touch inside the region to fill.")
    open_ = np.ascontiguousarray(ink < WALL, np.uint8)
    # whatever the gap, nothing beyond what a flood without any can reach is ever filled
    left, top, right, bottom = _reach(open_, x, y)
    left, top = max(0, left - DEEPEST - 2), max(0, top - DEEPEST - 2)
    right, bottom = min(width, right + DEEPEST + 2), min(height, bottom + DEEPEST + 2)
    near = (slice(top, bottom), slice(left, right))
    open_, ink = np.ascontiguousarray(open_[near]), np.ascontiguousarray(ink[near])
    away = cv2.distanceTransform(open_, cv2.DIST_L2, 3)
    half = min(gap / 2, float(away[y - top, x - left]) * 0.9)
    inside = _flooded((away > half).astype(np.uint8), x - left, y - top)
    grown = _won_back(inside, open_, int(np.ceil(half)) + 1)
    grown = _without_pinholes(_climbed(grown, ink), ink)
    return trimmed(Selection((left, top, right, bottom), grown))


def _flooded(ground: NDArray[np.uint8], x: int, y: int) -> NDArray[np.uint8]:
    """255 where ground of the same value as at the place can be reached from it."""
    flooded = np.zeros((ground.shape[0] + 2, ground.shape[1] + 2), np.uint8)
    cv2.floodFill(ground, flooded, (x, y), 2, flags=4 | (255 << 8) | cv2.FLOODFILL_MASK_ONLY)
    return flooded[1:-1, 1:-1]


def _reach(open_: NDArray[np.uint8], x: int, y: int) -> Rect:
    flooded = np.zeros((open_.shape[0] + 2, open_.shape[1] + 2), np.uint8)
    _, _, _, box = cv2.floodFill(open_.copy(), flooded, (x, y), 2, flags=4)
    return box[0], box[1], box[0] + box[2], box[1] + box[3]


def _won_back(inside: NDArray[np.uint8], open_: NDArray[np.uint8], steps: int) -> NDArray[np.uint8]:
    """Grown by a number of px within open ground only (cross and square by turns: nearly round)."""
    grown = inside.copy()
    ground = open_ * np.uint8(255)
    cross = cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3))
    square = np.ones((3, 3), np.uint8)
    for step in range(steps):
        grown = np.asarray(cv2.min(cv2.dilate(grown, square if step % 2 else cross), ground), np.uint8)
    return grown


def _climbed(inside: NDArray[np.uint8], ink: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Grown into the line while its darkness does not fall."""
    grown = np.ascontiguousarray(inside)
    _climb(grown, np.ascontiguousarray(ink), DEEPEST)
    return grown


@njit(cache=True, nogil=True)
def _climb(inside, ink, deepest):  # noqa: C901 — one compiled loop
    """Ring by ring: a pixel joins when it holds ink that is no paler than the darkest pixel of the region beside it."""
    height, width = inside.shape
    front = np.empty((inside.size // 4 + 16, 2), np.int32)
    count = 0
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            inner = inside[y - 1, x] and inside[y + 1, x] and inside[y, x - 1] and inside[y, x + 1]
            if inside[y, x] and not inner and count < len(front):
                front[count, 0], front[count, 1] = y, x
                count += 1
    fresh = np.empty_like(front)
    for _ in range(deepest):
        made = 0
        for n in range(count):
            for dy in range(-1, 2):
                for dx in range(-1, 2):
                    y, x = front[n, 0] + dy, front[n, 1] + dx
                    if not (0 < y < height - 1 and 0 < x < width - 1) or inside[y, x] or ink[y, x] == 0:
                        continue
                    darkest = 0
                    for sy in range(-1, 2):
                        for sx in range(-1, 2):
                            if inside[y + sy, x + sx] == 255:
                                darkest = max(darkest, ink[y + sy, x + sx])
                    if ink[y, x] >= darkest and made < len(fresh):
                        inside[y, x] = 1  # joins with this ring, counts for the next
                        fresh[made, 0], fresh[made, 1] = y, x
                        made += 1
        for n in range(made):
            inside[fresh[n, 0], fresh[n, 1]] = 255
        front, fresh = fresh, front
        count = made
        if made == 0:
            break


def _without_pinholes(inside: NDArray[np.uint8], ink: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Specks left out inside the line (the tooth of the paper in it) taken in."""
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * PINHOLE + 1, 2 * PINHOLE + 1))
    closed = np.asarray(cv2.morphologyEx(inside, cv2.MORPH_CLOSE, disc), np.uint8)
    return np.where(ink > 0, closed, inside)
