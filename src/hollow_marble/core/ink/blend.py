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

_NEAR = 1e-6
"""Colours this near to black or white are it: divided by its alpha, a colour is off by its rounding."""
_FIRST_WHOLE = MODES.index("hue")  # from here on a mode looks at all three channels together


def blend_onto(
    backdrop: NDArray[np.float32], source: NDArray[np.float32], mode: Mode, opacity: float = 1.0, atop: bool = False
) -> None:
    """Lay a source over a backdrop in place.

    atop : keep the backdrop's coverage, as a layer clipped to the one below does
    """
    if mode == "normal" and not atop:
        _lay_plain(backdrop, source, np.float32(opacity))
    else:
        _blend(backdrop, source, MODES.index(mode), np.float32(opacity), atop)


def tint(pixels: NDArray[np.float32], colour: tuple[float, float, float]) -> None:
    """Give every pixel the hue and saturation of a colour and leave it its luminosity (mode color), in place."""
    _tint(pixels, *(np.float32(c) for c in colour))


@njit(cache=True, nogil=True)
def _channel(mode, b, s):  # noqa: C901 — one compiled loop
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
        if b <= _NEAR:
            return 0.0
        return 1.0 if s >= 1 - _NEAR else min(1.0, b / (1 - s))
    if mode == 7:
        if b >= 1 - _NEAR:
            return 1.0
        return 0.0 if s <= _NEAR else 1 - min(1.0, (1 - b) / s)
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


@njit(cache=True, nogil=True, fastmath=True)
def _lay_plain(backdrop, source, opacity):
    for row in range(backdrop.shape[0]):
        for column in range(backdrop.shape[1]):
            keep = np.float32(1) - source[row, column, 3] * opacity
            for c in range(4):
                backdrop[row, column, c] = source[row, column, c] * opacity + keep * backdrop[row, column, c]


@njit(cache=True, nogil=True, error_model="numpy")
def _blend(backdrop, source, mode, opacity, atop):
    for row in range(backdrop.shape[0]):
        for column in range(backdrop.shape[1]):
            own = source[row, column, 3]
            a = own * opacity
            if a <= 0:
                continue
            ab = backdrop[row, column, 3]
            r0, g0, b0 = backdrop[row, column, 0], backdrop[row, column, 1], backdrop[row, column, 2]
            k = 1 / own
            rs, gs, bs = source[row, column, 0] * k, source[row, column, 1] * k, source[row, column, 2] * k
            if mode == 0 or ab <= 0:
                rm, gm, bm = rs, gs, bs
            else:
                kb = 1 / ab
                rb, gb, bb = r0 * kb, g0 * kb, b0 * kb
                if mode >= _FIRST_WHOLE:
                    rm, gm, bm = _whole(mode, rb, gb, bb, rs, gs, bs)
                else:
                    rm = _channel(mode, min(np.float32(1), rb), min(np.float32(1), rs))
                    gm = _channel(mode, min(np.float32(1), gb), min(np.float32(1), gs))
                    bm = _channel(mode, min(np.float32(1), bb), min(np.float32(1), bs))
            mixed, rest = a * ab, 1 - a
            alone = np.float32(0) if atop else a * (1 - ab)
            backdrop[row, column, 0] = alone * rs + mixed * rm + rest * r0
            backdrop[row, column, 1] = alone * gs + mixed * gm + rest * g0
            backdrop[row, column, 2] = alone * bs + mixed * bm + rest * b0
            if not atop:
                backdrop[row, column, 3] = a + ab * (1 - a)


@njit(cache=True, nogil=True)
def _tint(pixels, red, green, blue):
    for row in range(pixels.shape[0]):
        for column in range(pixels.shape[1]):
            a = pixels[row, column, 3]
            if a <= 0:
                continue
            level = _luminosity(pixels[row, column, 0], pixels[row, column, 1], pixels[row, column, 2]) / a
            r, g, b = _set_luminosity(red, green, blue, level)
            pixels[row, column, 0], pixels[row, column, 1], pixels[row, column, 2] = r * a, g * a, b * a
