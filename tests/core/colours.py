"""Differences of colours as eyes see them: CIELAB (CIE 15) and CIEDE2000 (Sharma, Wu & Dalal 2005)."""

from __future__ import annotations

import numpy as np

_TO_XYZ = np.array(
    [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]]
)
_WHITE = np.array([0.95047, 1.0, 1.08883])


def lab(linear: np.ndarray) -> np.ndarray:
    """CIELAB (..., 3), D65, of linear Rec. 709."""
    ratio = np.asarray(linear) @ _TO_XYZ.T / _WHITE
    f = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio * (29 / 6) ** 2 / 3 + 4 / 29)
    return np.stack([116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], axis=-1)


def difference(one: np.ndarray, other: np.ndarray) -> np.ndarray:
    """CIEDE2000 between colours in CIELAB (..., 3)."""
    one, other = np.asarray(one, float), np.asarray(other, float)
    mean = (np.hypot(one[..., 1], one[..., 2]) + np.hypot(other[..., 1], other[..., 2])) / 2
    more = 1 + 0.5 * (1 - np.sqrt(mean**7 / (mean**7 + 25.0**7)))
    a1, a2 = one[..., 1] * more, other[..., 1] * more
    c1, c2 = np.hypot(a1, one[..., 2]), np.hypot(a2, other[..., 2])
    h1, h2 = np.degrees(np.arctan2(one[..., 2], a1)) % 360, np.degrees(np.arctan2(other[..., 2], a2)) % 360
    turn = (h2 - h1 + 180) % 360 - 180
    dl, dc = other[..., 0] - one[..., 0], c2 - c1
    dh = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn / 2))
    middle_l, middle_c, middle_h = (one[..., 0] + other[..., 0]) / 2, (c1 + c2) / 2, (h1 + turn / 2) % 360
    t = (
        1
        - 0.17 * np.cos(np.radians(middle_h - 30))
        + 0.24 * np.cos(np.radians(2 * middle_h))
        + 0.32 * np.cos(np.radians(3 * middle_h + 6))
        - 0.20 * np.cos(np.radians(4 * middle_h - 63))
    )
    sl = 1 + 0.015 * (middle_l - 50) ** 2 / np.sqrt(20 + (middle_l - 50) ** 2)
    sc, sh = 1 + 0.045 * middle_c, 1 + 0.015 * middle_c * t
    rc = 2 * np.sqrt(middle_c**7 / (middle_c**7 + 25.0**7))
    rt = -np.sin(np.radians(60 * np.exp(-(((middle_h - 275) / 25) ** 2)))) * rc
    return np.sqrt((dl / sl) ** 2 + (dc / sc) ** 2 + (dh / sh) ** 2 + rt * dc / sc * dh / sh)
