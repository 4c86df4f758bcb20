"""Fill a region bounded by ink: gaps closed, the fill grown under the line so that no pale fringe is left.

The region is found where the distance to ink is more than half the gap (a flood cannot pass a narrower opening) and won back to the ink's
edge step by step. How far it reaches under the line is a watershed of the line's darkness: the region and the ground beyond climb the line
from both sides and meet on its ridge, so that the fill ends in the middle of the line, however thin or pale.
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

SPECK = 40
"""Most px of a spot of open ground within a line (the tooth of the paper) that is a part of the line."""

MARGIN = 26
"""How much of a line around what a flood can reach is looked at, px."""


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
    left, top = max(0, left - MARGIN), max(0, top - MARGIN)
    right, bottom = min(width, right + MARGIN), min(height, bottom + MARGIN)
    near = (slice(top, bottom), slice(left, right))
    open_, ink = np.ascontiguousarray(open_[near]), np.ascontiguousarray(ink[near])
    away = cv2.distanceTransform(open_, cv2.DIST_L2, 3)
    half = min(gap / 2, float(away[y - top, x - left]) * 0.9)
    inside = _flooded((away > half).astype(np.uint8), x - left, y - top)
    grown = _won_back(inside, open_, int(np.ceil(half)) + 1)
    return trimmed(Selection((left, top, right, bottom), _under_the_line(grown, open_, ink)))


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


def _under_the_line(inside: NDArray[np.uint8], open_: NDArray[np.uint8], ink: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The region grown to the ridge of the line around it; its edge is smooth where the line is thick enough to cover that."""
    count, spots, facts, _ = cv2.connectedComponentsWithStats(open_, connectivity=4)
    ground = np.zeros(count, np.uint8)
    ground[1:][facts[1:, cv2.CC_STAT_AREA] > SPECK] = _BEYOND
    side = ground[spots]
    np.copyto(side, np.uint8(_WITHIN), where=inside > 0)
    dark = np.ascontiguousarray(cv2.GaussianBlur(ink, (0, 0), 0.8), np.uint8)
    _watershed(side, dark)
    filled = cv2.compare(side, np.array([float(_WITHIN)]), cv2.CMP_EQ)
    thick = cv2.erode(cv2.compare(open_, np.zeros(1), cv2.CMP_EQ), np.ones((3, 3), np.uint8))
    return np.asarray(cv2.copyTo(cv2.GaussianBlur(filled, (0, 0), 0.7), thick, filled.copy()), np.uint8)


_WITHIN, _BEYOND = 1, 2


@njit(cache=True, nogil=True)
def _watershed(side, dark):
    """Each px of no side takes that of the neighbour from which the climb is lowest, and then shortest (Meyer 1994): px wait in a queue
    for each darkness, and none comes before all paler ones."""
    height, width = side.shape
    following = np.full(side.size, -1, np.int32)
    first, last = np.full(256, -1, np.int32), np.full(256, -1, np.int32)
    level = 0
    for y in range(1, height - 1):
        for x in range(1, width - 1):
            if side[y, x] and not (side[y - 1, x] and side[y + 1, x] and side[y, x - 1] and side[y, x + 1]):
                _wait(following, first, last, 0, y * width + x)
    while level < 256:
        place = first[level]
        if place < 0:
            level += 1
            continue
        first[level] = following[place]
        y, x = place // width, place % width
        for dy, dx in ((-1, 0), (0, -1), (0, 1), (1, 0)):
            ny, nx = y + dy, x + dx
            if 0 <= ny < height and 0 <= nx < width and side[ny, nx] == 0:
                side[ny, nx] = side[y, x]
                _wait(following, first, last, max(level, dark[ny, nx]), ny * width + nx)


@njit(cache=True, nogil=True)
def _wait(following, first, last, level, place):
    """Put a px at the end of the queue of a level."""
    following[place] = -1
    if first[level] < 0:
        first[level] = place
    else:
        following[last[level]] = place
    last[level] = place
