"""Coverage of a stroke and what it does to a layer.

Within a stroke the darkest dab wins, so tone depends on pressure and not on how closely dabs lie; nibs with a flow
(sprays) build up instead while the hand stays. Strokes build up on one another. A layer is (H, W, 4) uint8, red, green, blue premultiplied by the last channel.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from hollow_marble.core.ink.path import LEAN_PALES, LEAN_WIDENS, Nib, broken, dabs

Rect = tuple[int, int, int, int]


def clipped(rect: Rect, bounds: Rect) -> Rect:
    """The part of a rectangle (left, top, right, bottom) inside another; empty ones have right <= left."""
    return max(rect[0], bounds[0]), max(rect[1], bounds[1]), min(rect[2], bounds[2]), min(rect[3], bounds[3])


def empty(rect: Rect) -> bool:
    return rect[2] <= rect[0] or rect[3] <= rect[1]


def union(a: Rect, b: Rect) -> Rect:
    if empty(a):
        return b
    if empty(b):
        return a
    return min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3])


def coverage(samples: NDArray[np.float32], nib: Nib, rect: Rect, line: str = "plain") -> NDArray[np.float32]:
    """Coverage (h, w) float32, 0 to 1, of a stroke within a rectangle of the page; `line` says how it is broken."""
    left, top, right, bottom = rect
    mask = np.zeros((bottom - top, right - left), np.float32)
    along = broken(dabs(samples, nib.size, nib.thin), line, nib.size)
    shape = (nib.size, nib.tone, nib.thin, nib.pale, nib.soft, nib.grain, nib.tooth, nib.flow, nib.lean)
    _stamp(mask, along, left, top, *(float(number) for number in shape))
    return mask


def lay_ink(layer: NDArray[np.uint8], mask: NDArray[np.float32], rect: Rect, colour: tuple[int, int, int]) -> None:
    """Lay ink of an sRGB colour over a layer, in place."""
    _lay(layer, mask, rect[0], rect[1], colour[0], colour[1], colour[2])


def lay_inside(layer: NDArray[np.uint8], mask: NDArray[np.float32], rect: Rect, colour: tuple[int, int, int]) -> None:
    """Lay ink of an sRGB colour over what a layer holds already and nowhere else, in place."""
    _lay_inside(layer, mask, rect[0], rect[1], colour[0], colour[1], colour[2])


def lift_ink(layer: NDArray[np.uint8], mask: NDArray[np.float32], rect: Rect) -> None:
    """Take ink away from a layer, in place."""
    _lift(layer, mask, rect[0], rect[1])


@njit(cache=True, nogil=True)
def bump(x, y):
    """Height of the paper at a place of a grid, 0 to 1: an integer hash, alike wherever there are 32-bit products."""
    h = np.uint32(np.uint32(x) * np.uint32(374761393) + np.uint32(y) * np.uint32(668265263))
    h = np.uint32((h ^ (h >> np.uint32(13))) * np.uint32(1274126177))
    return np.float64(np.uint32(h ^ (h >> np.uint32(16))) & np.uint32(0xFFFF)) / 65535.0


@njit(cache=True, nogil=True)
def tooth(x, y, every):
    """Height of the paper at a pixel, 0 to 1, with a bump every so many px and straight slopes between them."""
    if every <= 1:
        return bump(x, y)
    gx, gy = (x + 0.5) / every, (y + 0.5) / every
    cx, cy = np.floor(gx), np.floor(gy)
    u, v = gx - cx, gy - cy
    i, j = int(cx), int(cy)
    upper = bump(i, j) * (1 - u) + bump(i + 1, j) * u
    lower = bump(i, j + 1) * (1 - u) + bump(i + 1, j + 1) * u
    # halves of sums lie close to the middle: spread them out again
    return min(1.0, max(0.0, 0.5 + 1.7 * (upper * (1 - v) + lower * v - 0.5)))


@njit(cache=True, nogil=True)
def _stamp(mask, along, left, top, size, tone, thin, pale, soft, grain, every, flow, lean):  # noqa: C901 — one compiled loop
    height, width = mask.shape
    for i in range(len(along)):
        x, y = along[i, 0] - left, along[i, 1] - top
        p = min(max(along[i, 2], 0.0), 1.0)
        slant = lean * min(max(along[i, 3], 0.0), 1.0)
        radius = size / 2 * (thin + (1 - thin) * p) * (1 + LEAN_WIDENS * slant)
        strength = tone * (pale + (1 - pale) * p) / (1 + LEAN_PALES * slant)
        bite = grain * (1 - p * (1 - 0.6 * slant)) if every <= 1 else grain * (1 - 0.55 * p)
        half = soft / 2
        if radius < half:
            strength *= (radius + half) / soft
        reach = radius + half
        core = (reach - soft) * (reach - soft) if reach > soft else 0.0
        for row in range(max(0, int(np.floor(y - reach))), min(height, int(np.ceil(y + reach)) + 1)):
            for column in range(max(0, int(np.floor(x - reach))), min(width, int(np.ceil(x + reach)) + 1)):
                across, down = column + 0.5 - x, row + 0.5 - y
                squared = across * across + down * down
                if squared >= reach * reach:
                    continue
                now = mask[row, column]
                if now >= strength:
                    continue  # neither the darkest dab nor a spray goes beyond
                if soft <= 0:
                    inside = 1 - squared / (reach * reach)
                    share = inside * inside
                elif squared <= core:
                    share = 1.0
                else:
                    share = min(1.0, (reach - np.sqrt(squared)) / soft)
                if flow <= 0 and strength * share <= now:
                    continue
                if bite > 0:
                    share *= 1 - bite * tooth(column + left, row + top, every)
                if flow > 0:
                    mask[row, column] += (strength - now) * flow * share
                elif strength * share > now:
                    mask[row, column] = strength * share


@njit(cache=True, nogil=True)
def _lay(layer, mask, left, top, red, green, blue):
    for row in range(mask.shape[0]):
        for column in range(mask.shape[1]):
            a = mask[row, column]
            if a <= 0:
                continue
            keep = 1 - a
            pixel = layer[row + top, column + left]
            pixel[0] = np.uint8(pixel[0] * keep + red * a + 0.5)
            pixel[1] = np.uint8(pixel[1] * keep + green * a + 0.5)
            pixel[2] = np.uint8(pixel[2] * keep + blue * a + 0.5)
            pixel[3] = np.uint8(pixel[3] * keep + 255 * a + 0.5)


@njit(cache=True, nogil=True)
def _lay_inside(layer, mask, left, top, red, green, blue):
    for row in range(mask.shape[0]):
        for column in range(mask.shape[1]):
            a = mask[row, column]
            pixel = layer[row + top, column + left]
            if a <= 0 or pixel[3] == 0:
                continue
            keep, share = 1 - a, a * pixel[3] / 255
            pixel[0] = np.uint8(pixel[0] * keep + red * share + 0.5)
            pixel[1] = np.uint8(pixel[1] * keep + green * share + 0.5)
            pixel[2] = np.uint8(pixel[2] * keep + blue * share + 0.5)


@njit(cache=True, nogil=True)
def _lift(layer, mask, left, top):
    for row in range(mask.shape[0]):
        for column in range(mask.shape[1]):
            keep = 1 - mask[row, column]
            if keep >= 1:
                continue
            pixel = layer[row + top, column + left]
            for channel in range(4):
                pixel[channel] = np.uint8(pixel[channel] * keep + 0.5)
