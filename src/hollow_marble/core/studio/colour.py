"""Colour: sRGB at the edges, linear Rec. 709 inside, warmth of lamps, the display transform."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray


def to_linear(encoded: NDArray[np.floating]) -> NDArray[np.float64]:
    """sRGB values 0 to 1 to linear light (IEC 61966-2-1)."""
    x = np.asarray(encoded, np.float64)
    linear: NDArray[np.float64] = np.where(x <= 0.04045, x / 12.92, ((np.maximum(x, 0) + 0.055) / 1.055) ** 2.4)
    return linear


def to_srgb(linear: NDArray[np.floating]) -> NDArray[np.float64]:
    """Linear light 0 to 1 to sRGB values (IEC 61966-2-1)."""
    x = np.clip(np.asarray(linear, np.float64), 0, 1)
    encoded: NDArray[np.float64] = np.where(x <= 0.0031308, x * 12.92, 1.055 * x ** (1 / 2.4) - 0.055)
    return encoded


def hex_to_linear(colour: str) -> NDArray[np.float64]:
    """#rrggbb to linear red, green, blue (3,)."""
    return to_linear(np.array([int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]))


def warmth_to_xy(kelvin: float) -> tuple[float, float]:
    """Chromaticity of a black body, CIE 1931 x, y.

    Cubic approximation of the Planckian locus by Kim et al. (US patent 7024034 B2, 2002), 1667 K to 25000 K, within
    about 0.001 of the locus.
    """
    t = 1e3 / min(max(kelvin, 1667.0), 25_000.0)
    if kelvin <= 4000:
        x = -0.2661239 * t**3 - 0.2343589 * t**2 + 0.8776956 * t + 0.179910
    else:
        x = -3.0258469 * t**3 + 2.1070379 * t**2 + 0.2226347 * t + 0.240390
    if kelvin <= 2222:
        y = -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    elif kelvin <= 4000:
        y = -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
    else:
        y = 3.0817580 * x**3 - 5.87338670 * x**2 + 3.75112997 * x - 0.37001483
    return x, y


_XYZ_TO_REC709 = np.array([[3.2404542, -1.5371385, -0.4985314], [-0.9692660, 1.8760108, 0.0415560],
                           [0.0556434, -0.2040259, 1.0572252]])  # fmt: skip
"""IEC 61966-2-1, D65."""


def warmth_to_rgb(kelvin: float, white: float = 5600.0) -> NDArray[np.float64]:
    """Linear Rec. 709 colour (3,) of a lamp, as a camera balanced for `white` kelvin sees it, of luminance 1.

    Balance is by scaling the linear channels so that a lamp of `white` kelvin is neutral.
    """

    def linear(temperature: float) -> NDArray[np.float64]:
        x, y = warmth_to_xy(temperature)
        rgb: NDArray[np.float64] = _XYZ_TO_REC709 @ np.array([x / y, 1.0, (1 - x - y) / y])
        return np.maximum(rgb, 0)

    seen = linear(kelvin) / linear(white)
    balanced: NDArray[np.float64] = seen / (seen @ np.array([0.2126, 0.7152, 0.0722]))
    return balanced


def display(linear: NDArray[np.floating]) -> NDArray[np.float64]:
    """Linear Rec. 709 (..., 3) to linear display values 0 to 1: as it is up to 0.8, compressed and slowly whitened above.

    The Khronos PBR Neutral tone mapper (Khronos Group, 2024) without its first step. That one takes 0.04 off, since a colour of glTF is
    a base to which the coat's reflection is added; ours are the colours of the things, coat and all (`finishes`), and a chosen grey is
    to be that grey in the picture.
    """
    start, desaturation = 0.8, 0.15
    rgb = np.maximum(np.asarray(linear, np.float64), 0)
    peak = rgb.max(axis=-1, keepdims=True)
    d = 1 - start
    compressed = 1 - d * d / (peak + d - start)
    scaled = rgb * (compressed / np.maximum(peak, 1e-12))
    mix = 1 - 1 / (desaturation * (peak - compressed) + 1)
    bright = scaled * (1 - mix) + compressed * mix
    result: NDArray[np.float64] = np.where(peak < start, rgb, bright)
    return result


def to_picture(linear: NDArray[np.floating]) -> NDArray[np.uint8]:
    """Linear Rec. 709 (h, w, 3) to sRGB bytes through the display transform."""
    picture: NDArray[np.uint8] = np.rint(to_srgb(display(linear)) * 255).astype(np.uint8)
    return picture
