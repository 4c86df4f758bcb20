"""Measured optical constants of metals, and the colour they give. Wavelengths nm.

n and k at 400 to 700 nm in steps of 20, from the tables of the SOPRA database and of Palik (Handbook of Optical Constants of Solids, 1985) as
they are handed on with open renderers. Brass and steel are given by their reflectance (Palik's iron; brass after common practice).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Colour = tuple[float, float, float]

WAVELENGTHS = np.arange(400.0, 701.0, 20.0)

CONSTANTS: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = {
    "aluminium": (
        (0.490, 0.539, 0.591, 0.646, 0.705, 0.769, 0.839, 0.916, 1.004, 1.097, 1.197, 1.300, 1.415, 1.536, 1.674, 1.837),
        (4.861, 5.105, 5.348, 5.590, 5.839, 6.078, 6.323, 6.562, 6.807, 7.036, 7.257, 7.481, 7.693, 7.900, 8.115, 8.312),
    ),
    "gold": (
        (1.658, 1.628, 1.574, 1.419, 1.190, 0.851, 0.572, 0.398, 0.317, 0.260, 0.220, 0.194, 0.175, 0.164, 0.160, 0.160),
        (1.956, 1.952, 1.911, 1.843, 1.796, 1.887, 2.184, 2.555, 2.837, 2.948, 3.000, 3.060, 3.090, 3.275, 3.633, 3.964),
    ),
    "copper": (
        (1.175, 1.178, 1.171, 1.160, 1.148, 1.134, 1.111, 1.033, 0.861, 0.603, 0.390, 0.272, 0.227, 0.212, 0.211, 0.215),
        (2.130, 2.248, 2.349, 2.436, 2.515, 2.574, 2.602, 2.582, 2.593, 2.710, 2.943, 3.241, 3.511, 3.752, 3.962, 4.158),
    ),
    "silver": (
        (0.173, 0.167, 0.158, 0.143, 0.131, 0.130, 0.130, 0.129, 0.121, 0.120, 0.124, 0.131, 0.137, 0.140, 0.140, 0.142),
        (1.951, 2.183, 2.375, 2.567, 2.746, 2.918, 3.098, 3.258, 3.421, 3.580, 3.731, 3.881, 4.045, 4.210, 4.371, 4.523),
    ),
    "chromium": (
        (1.498, 1.617, 1.820, 2.052, 2.345, 2.606, 2.839, 3.040, 3.190, 3.326, 3.428, 3.517, 3.597, 3.678, 3.758, 3.838),
        (3.591, 3.836, 4.077, 4.258, 4.397, 4.449, 4.456, 4.438, 4.408, 4.383, 4.367, 4.361, 4.363, 4.365, 4.368, 4.370),
    ),
    "nickel": (
        (1.610, 1.615, 1.620, 1.641, 1.662, 1.678, 1.716, 1.752, 1.793, 1.831, 1.876, 1.930, 1.990, 2.045, 2.112, 2.180),
        (2.360, 2.478, 2.594, 2.715, 2.830, 2.956, 3.080, 3.195, 3.310, 3.422, 3.535, 3.651, 3.760, 3.858, 3.958, 4.051),
    ),
}  # fmt: skip

GIVEN: dict[str, Colour] = {
    "steel": (0.565, 0.550, 0.525),
    "brass": (0.887, 0.789, 0.434),
    "titanium": (0.542, 0.497, 0.449),
}
"""Reflectance at right angles (linear Rec. 709) where no constants are at hand (common practice)."""

SEEN_AT = np.array([611.0, 549.0, 464.0])
"""Wavelengths that stand for red, green and blue where a constant is asked for (the primaries' dominant wavelengths, IEC 61966-2-1)."""


def reflectance(n: Floats, k: Floats) -> Floats:
    """Share of the light a metal of the index n - ik reflects at right angles: ((n - 1)² + k²) / ((n + 1)² + k²)."""
    share: Floats = ((n - 1) ** 2 + k**2) / ((n + 1) ** 2 + k**2)
    return share


def _matching() -> Floats:
    """CIE 1931 colour-matching functions at the wavelengths, (16, 3), by the sums of Gaussians of Wyman, Sloan & Shirley (2013)."""
    w = WAVELENGTHS

    def bump(peak: float, left: float, right: float) -> Floats:
        t = (w - peak) * np.where(w < peak, left, right)
        return np.exp(-0.5 * t * t)

    x = 0.362 * bump(442.0, 0.0624, 0.0374) + 1.056 * bump(599.8, 0.0264, 0.0323) - 0.065 * bump(501.1, 0.0490, 0.0382)
    y = 0.821 * bump(568.8, 0.0213, 0.0247) + 0.286 * bump(530.9, 0.0613, 0.0322)
    z = 1.217 * bump(437.0, 0.0845, 0.0278) + 0.681 * bump(459.0, 0.0385, 0.0725)
    return np.stack([x, y, z], axis=1)


_REC709 = np.array(
    [[3.2404542, -1.5371385, -0.4985314], [-0.9692660, 1.8760108, 0.0415560], [0.0556434, -0.2040259, 1.0572252]]
)


def seen(spectrum: Floats) -> Colour:
    """Linear Rec. 709 colour of a reflectance at the wavelengths, under even light; what reflects all is (1, 1, 1)."""
    matching = _matching()
    white, there = _REC709 @ matching.sum(axis=0), _REC709 @ (spectrum[:, None] * matching).sum(axis=0)
    r, g, b = (float(v) for v in np.clip(there / white, 0, 1))
    return r, g, b


@lru_cache(maxsize=32)
def colour_of(metal: str) -> Colour:
    """Reflectance of a bare metal at right angles, linear Rec. 709."""
    if metal in GIVEN:
        return GIVEN[metal]
    n, k = (np.array(values) for values in CONSTANTS[metal])
    return seen(reflectance(n, k))


@lru_cache(maxsize=32)
def constants(metal: str) -> tuple[Colour, Colour]:
    """n and k for red, green and blue that give back just `colour_of` at right angles; what falls at grazing angles follows from them."""
    colour = np.array(colour_of(metal))
    if metal in CONSTANTS:
        n = np.interp(SEEN_AT, WAVELENGTHS, CONSTANTS[metal][0])
    else:
        n = np.full(3, 2.2)
    n = np.minimum(n, 0.98 * (1 + np.sqrt(colour)) / (1 - np.sqrt(np.minimum(colour, 0.9999))))
    k = np.sqrt(np.maximum((colour * (n + 1) ** 2 - (n - 1) ** 2) / (1 - colour), 1e-6))
    return tuple(float(v) for v in n), tuple(float(v) for v in k)  # type: ignore[return-value]


METALS = ("as coloured", *CONSTANTS, *GIVEN)
"""What a metal finish can be of."""
