"""Camera geometry. Lengths mm, angles radians; x right of the product's front, -y front, z up."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

FRAME_WIDTH = 36.0
"""Width of the frame that focal lengths refer to, mm."""


def field_of_view(focal: float) -> float:
    """Horizontal angle of view in radians of a focal length in mm on a 36 mm wide frame: 2 atan(18 / f)."""
    return 2 * math.atan(FRAME_WIDTH / 2 / focal)


def around(azimuth: float, distance: float) -> tuple[float, float]:
    """x, y of a place around the product: azimuth in degrees from the front, growing to the camera's right."""
    angle = math.radians(azimuth)
    return distance * math.sin(angle), -distance * math.cos(angle)


def camera_place(distance: float, azimuth: float, height: float) -> NDArray[np.float64]:
    """Where the lens is, (3,); `distance` is measured level, `height` above the floor."""
    x, y = around(azimuth, distance)
    return np.array([x, y, height])
