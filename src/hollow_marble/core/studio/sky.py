"""The brightness and colour of a sky with its sun, after ISO 15469:2004 / CIE S 011 (standard general sky). Angles degrees."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.colour import warmth_to_rgb
from hollow_marble.core.studio.surround import directions

CLEAR = (-1.0, -0.32, 10.0, -3.0, 0.45)
"""a, b, c, d, e of type 12, the clear sky of CIE."""
OVERCAST = (4.0, -0.70, 0.0, -1.0, 0.0)
"""a, b, c, d, e of type 1, the overcast sky of CIE: the zenith is about three times as bright as the horizon."""


def relative(
    zenith: NDArray[np.float64],
    away: NDArray[np.float64],
    sun_zenith: float,
    kind: tuple[float, float, float, float, float],
) -> NDArray[np.float64]:
    """Luminance against that of the zenith, of sky at angles from the zenith and from the sun (radians)."""
    a, b, c, d, e = kind
    gradation = 1 + a * np.exp(b / np.maximum(np.cos(zenith), 1e-3))
    scattering = 1 + c * (np.exp(d * away) - math.exp(d * math.pi / 2)) + e * np.cos(away) ** 2
    top = 1 + a * math.exp(b)
    there = 1 + c * (math.exp(d * sun_zenith) - math.exp(d * math.pi / 2)) + e * math.cos(sun_zenith) ** 2
    found: NDArray[np.float64] = gradation * scattering / (top * there)
    return found


def sky_map(azimuth: float, height: float, haze: float, level: float, width: int = 512) -> NDArray[np.float32]:
    """(width / 2, width, 3) radiance of the sky without its sun; its light on a level card is pi x level, below the horizon is dim ground."""
    tall = width // 2
    look = directions(width, tall)
    rise, turn = math.radians(max(height, 0.0)), math.radians(azimuth)
    sun = np.array([math.cos(rise) * math.sin(turn), -math.cos(rise) * math.cos(turn), math.sin(rise)])
    zenith = np.arccos(np.clip(look[..., 2], 0, 1))
    away = np.arccos(np.clip(look @ sun, -1, 1))
    clear = relative(zenith, away, math.pi / 2 - rise, CLEAR)
    grey = relative(zenith, away, math.pi / 2 - rise, OVERCAST)

    def even(luminance: NDArray[np.float64]) -> NDArray[np.float64]:
        step = np.pi / tall
        above = look[..., 2] > 0
        light = float((luminance * look[..., 2] * np.cos(np.arcsin(look[..., 2])) * above).sum() * step * step)
        return luminance * (math.pi / light)

    # blue away from the sun and high up, warm towards the horizon and the sun; grey under cloud
    blue, warm, cloud = warmth_to_rgb(12_000), warmth_to_rgb(5_600), warmth_to_rgb(6_500)
    share = np.clip(0.15 + 0.85 * np.sin(np.maximum(look[..., 2], 0)) * (1 - np.exp(-2 * away)), 0, 1)[..., None]
    coloured = even(clear)[..., None] * (share * blue + (1 - share) * warm)
    mixed = (1 - haze) * coloured + haze * even(grey)[..., None] * cloud
    ground = 0.18 * level
    return np.where(look[..., 2:] > 0, level * mixed, ground).astype(np.float32)


def sun_share(height: float, haze: float) -> float:
    """Share of the daylight on a level card that comes straight from the sun: most of it under a clear high sky, none under cloud. The
    sunbeam is weakened by 0.21 a thickness of air (common practice, Kasten's air mass left at 1 / sin h)."""
    if height <= 0:
        return 0.0
    direct = math.exp(-0.21 / max(math.sin(math.radians(height)), 0.05))
    return float((1 - haze) ** 2 * direct)


def sun_warmth(height: float) -> float:
    """Colour temperature of the sun at a height, kelvin: 5,600 high up, about 2,200 at the horizon (common practice)."""
    return float(2_000 + 3_600 * math.sin(math.radians(min(max(height, 0.0), 90.0))) ** 0.45)
