"""Blend modes, exactly as W3C Compositing and Blending Level 1 gives them (sections 9 and 10).

Colours are 0 to 1 in the page's own sRGB values, as the standard blends them; arrays are (h, w, 4) float32 with the
colour premultiplied by the last channel.
"""

from __future__ import annotations

from math import sqrt
from typing import Literal, get_args

import numpy as np
from numba import njit
from numpy.typing import NDArray

Mode = Literal[
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "color",
    "luminosity",
]
MODES: tuple[Mode, ...] = get_args(Mode)
_FIRST_WHOLE = MODES.index("hue")  # from here on a mode looks at all three channels together


def blend_onto(
    backdrop: NDArray[np.float32], source: NDArray[np.float32], mode: Mode, opacity: float = 1.0, atop: bool = False
) -> None:
    """Lay a source over a backdrop in place.

    atop : keep the backdrop's coverage, as a layer clipped to the one below does
    """
    _blend(backdrop, source, MODES.index(mode), np.float32(opacity), atop)


def tint(pixels: NDArray[np.float32], colour: tuple[float, float, float]) -> None:
    """Give every pixel the hue and saturation of a colour and leave it its luminosity (mode color), in place."""
    _tint(pixels, *(np.float32(c) for c in colour))


@njit(cache=True, nogil=True)
def _channel(mode, b, s):
    if mode == 1:
        return b * s
    if mode == 2:
        return b + s - b * s
    if mode == 3:
        return _channel_hard_light(s, b)
    if mode == 4:
        return min(b, s)
    if mode == 5:
        return max(b, s)
    if mode == 6:
        if b <= 0:
            return 0.0
        return 1.0 if s >= 1 else min(1.0, b / (1 - s))
    if mode == 7:
        if b >= 1:
            return 1.0
        return 0.0 if s <= 0 else 1 - min(1.0, (1 - b) / s)
    if mode == 8:
        return _channel_hard_light(b, s)
    if mode == 9:
        if s <= 0.5:
            return b - (1 - 2 * s) * b * (1 - b)
        d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else sqrt(b)
        return b + (2 * s - 1) * (d - b)
    if mode == 10:
        return abs(b - s)
    if mode == 11:
        return b + s - 2 * b * s
    return s


@njit(cache=True, nogil=True)
def _channel_hard_light(b, s):
    if s <= 0.5:
        return b * 2 * s
    return b + (2 * s - 1) - b * (2 * s - 1)


@njit(cache=True, nogil=True)
def _luminosity(r, g, b):
    return 0.3 * r + 0.59 * g + 0.11 * b


@njit(cache=True, nogil=True)
def _set_luminosity(r, g, b, wanted):
    by = wanted - _luminosity(r, g, b)
    r, g, b = r + by, g + by, b + by
    level = _luminosity(r, g, b)
    low, high = min(r, g, b), max(r, g, b)
    if low < 0:
        k = level / (level - low)
        r, g, b = level + (r - level) * k, level + (g - level) * k, level + (b - level) * k
    if high > 1:
        k = (1 - level) / (high - level)
        r, g, b = level + (r - level) * k, level + (g - level) * k, level + (b - level) * k
    return r, g, b


@njit(cache=True, nogil=True)
def _set_saturation(r, g, b, wanted):
    low, high = min(r, g, b), max(r, g, b)
    if high <= low:
        return 0.0, 0.0, 0.0
    k = wanted / (high - low)
    return (r - low) * k, (g - low) * k, (b - low) * k


@njit(cache=True, nogil=True)
def _whole(mode, br, bg, bb, sr, sg, sb):
    if mode == 12:  # hue
        r, g, b = _set_saturation(sr, sg, sb, max(br, bg, bb) - min(br, bg, bb))
        return _set_luminosity(r, g, b, _luminosity(br, bg, bb))
    if mode == 13:  # saturation
        r, g, b = _set_saturation(br, bg, bb, max(sr, sg, sb) - min(sr, sg, sb))
        return _set_luminosity(r, g, b, _luminosity(br, bg, bb))
    if mode == 14:  # color
        return _set_luminosity(sr, sg, sb, _luminosity(br, bg, bb))
    return _set_luminosity(br, bg, bb, _luminosity(sr, sg, sb))


@njit(cache=True, nogil=True)
def _blend(backdrop, source, mode, opacity, atop):
    mixed = np.empty(3, np.float32)
    for row in range(backdrop.shape[0]):
        for column in range(backdrop.shape[1]):
            a = source[row, column, 3] * opacity
            if a <= 0:
                continue
            below = backdrop[row, column]
            ab = below[3]
            above = source[row, column]
            if mode > 0 and ab > 0:
                if mode >= _FIRST_WHOLE:
                    k = source[row, column, 3]
                    mixed[0], mixed[1], mixed[2] = _whole(
                        mode, below[0] / ab, below[1] / ab, below[2] / ab, above[0] / k, above[1] / k, above[2] / k
                    )
                else:
                    for c in range(3):
                        mixed[c] = _channel(mode, min(1.0, below[c] / ab), min(1.0, above[c] / source[row, column, 3]))
            else:
                for c in range(3):
                    mixed[c] = above[c] / source[row, column, 3]
            for c in range(3):
                own = above[c] * opacity
                if atop:
                    below[c] = a * ab * mixed[c] + (1 - a) * below[c]
                else:
                    below[c] = own * (1 - ab) + a * ab * mixed[c] + (1 - a) * below[c]
            if not atop:
                below[3] = a + ab * (1 - a)


@njit(cache=True, nogil=True)
def _tint(pixels, red, green, blue):
    for row in range(pixels.shape[0]):
        for column in range(pixels.shape[1]):
            pixel = pixels[row, column]
            a = pixel[3]
            if a <= 0:
                continue
            level = _luminosity(pixel[0] / a, pixel[1] / a, pixel[2] / a)
            r, g, b = _set_luminosity(red, green, blue, level)
            pixel[0], pixel[1], pixel[2] = r * a, g * a, b * a
