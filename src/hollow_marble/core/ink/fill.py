"""Fill a region bounded by ink: gaps closed, the fill grown under the line so that no pale fringe is left.

The region is found where the distance to ink is more than half the gap (a flood cannot pass a narrower opening), won
back to the ink's edge step by step, and then climbs into the line for as long as the line does not get paler.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.select import Selection, trimmed

WALL = 40
"""Coverage of ink, 0 to 255, that stops a fill."""

PINHOLE = 60
"""Largest speck in px that is taken in."""

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
    away = cv2.distanceTransform(open_, cv2.DIST_L2, 3)
    half = min(gap / 2, float(away[y, x]) * 0.9)
    core = (away > half).astype(np.uint8)
    flooded = np.zeros((height + 2, width + 2), np.uint8)
    cv2.floodFill(core, flooded, (x, y), 2, flags=4 | (255 << 8) | cv2.FLOODFILL_MASK_ONLY)
    inside = flooded[1:-1, 1:-1]
    if not inside.any():
        raise HollowMarbleError("That place is on a line. Touch inside the region to fill.")
    left, top, right, bottom = trimmed(Selection((0, 0, width, height), inside)).rect
    reach = int(np.ceil(half)) + DEEPEST + 2
    left, top = max(0, left - reach), max(0, top - reach)
    right, bottom = min(width, right + reach), min(height, bottom + reach)
    near = (slice(top, bottom), slice(left, right))
    grown = _won_back(inside[near], open_[near], int(np.ceil(half)) + 1)
    grown = _without_pinholes(_climbed(grown, ink[near]))
    return trimmed(Selection((left, top, right, bottom), grown))


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
    grown = inside
    square = np.ones((3, 3), np.uint8)
    for _ in range(DEEPEST):
        rim = cv2.dilate(grown, square)
        # darkest ink that the region has reached beside each pixel; +1 tells reached bare ground from none
        reached = cv2.dilate(np.where(grown > 0, ink.astype(np.uint16) + 1, 0).astype(np.uint16), square)
        fresh = (rim > 0) & (grown == 0) & (ink > 0) & (ink.astype(np.uint16) + 1 >= reached)
        if not fresh.any():
            break
        grown = np.where(fresh, np.uint8(255), grown)
    return grown


def _without_pinholes(inside: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Specks left out inside the region (the tooth of the paper in a drawn line) taken in."""
    count, number, facts, _ = cv2.connectedComponentsWithStats((inside == 0).astype(np.uint8), connectivity=4)
    small = np.zeros(count, bool)
    small[1:] = facts[1:, cv2.CC_STAT_AREA] <= PINHOLE
    return np.where(small[number], np.uint8(255), inside)
