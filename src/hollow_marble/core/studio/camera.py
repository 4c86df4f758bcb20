"""Camera geometry. Lengths mm, angles radians; x right of the product's front, -y front, z up."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

FRAME_WIDTH = 36.0
"""Width of the frame that focal lengths refer to, mm."""

CONFUSION = 0.03
"""Diameter of a blur disc on the 36 mm frame that still passes for a point, mm (common practice)."""

NORMAL_EXPOSURE = 10.0
"""EV at which a radiance of one is white in the picture."""


def field_of_view(focal: float) -> float:
    """Horizontal angle of view in radians of a focal length in mm on a 36 mm wide frame: 2 atan(18 / f)."""
    return 2 * math.atan(FRAME_WIDTH / 2 / focal)


def around(azimuth: float, distance: float) -> tuple[float, float]:
    """x, y of a place around the product: azimuth in degrees from the front, growing to the camera's right."""
    angle = math.radians(azimuth)
    return distance * math.sin(angle), -distance * math.cos(angle)


@dataclass(frozen=True, eq=False)
class Lens:
    """Where a camera stands and what it sees.

    place : (3,) of the lens; right, up, forward : (3,) directions of the frame
    focal : mm on a frame 36 mm wide; shift : of the frame's middle to the right and up, mm of that frame
    aperture : diameter of the opening, mm, 0 for a pinhole; focus : how far ahead the sharp plane lies, mm
    """

    place: Floats
    right: Floats
    up: Floats
    forward: Floats
    focal: float
    shift: tuple[float, float]
    aperture: float
    focus: float

    @property
    def view(self) -> float:
        """Horizontal angle of view of the frame without shift, radians."""
        return field_of_view(self.focal)

    def seen(self, places: Floats, width: int, height: int) -> Floats:
        """(N, 3) px from the left, px from the top, mm ahead of places (N, 3) in a picture of a size."""
        there = np.atleast_2d(places) - self.place
        ahead = there @ self.forward
        with np.errstate(divide="ignore", invalid="ignore"):
            x = self.focal * (there @ self.right) / ahead - self.shift[0]
            y = self.focal * (there @ self.up) / ahead - self.shift[1]
        scale = width / FRAME_WIDTH
        return np.stack([width / 2 + x * scale, height / 2 - y * scale, ahead], axis=1)

    def rays(self, pixels: Floats, width: int, height: int) -> Floats:
        """(N, 3) unit directions through px (N, 2) from the left and from the top of a picture of a size."""
        scale = FRAME_WIDTH / width
        x = (pixels[:, :1] - width / 2) * scale + self.shift[0]
        y = (height / 2 - pixels[:, 1:]) * scale + self.shift[1]
        ways: Floats = x * self.right + y * self.up + self.focal * self.forward
        ways /= np.linalg.norm(ways, axis=1, keepdims=True)
        return ways


def lens_at(
    place: Floats,
    target: Floats,
    focal: float,
    *,
    upright: bool,
    roll: float,
    shift: tuple[float, float],
    aperture: float | None,
    focus: Floats,
) -> Lens:
    """A lens that looks at a target.

    Held upright it stays level, and the frame is shifted so that the target stays in the middle of the picture: lines that stand upright
    then run parallel in it. `roll` in degrees turns the camera clockwise, `aperture` is the f-number, `focus` (3,) a place that is sharp.
    """
    forward = (target - place) / max(float(np.linalg.norm(target - place)), 1e-9)
    rise = 0.0
    if upright and float(np.hypot(forward[0], forward[1])) > 0.02:
        level = forward * (1, 1, 0)
        level /= np.linalg.norm(level)
        rise = focal * forward[2] / float(forward @ level)
        forward = level
    above = np.array([0.0, 0.0, 1.0]) if abs(forward[2]) < 0.9999 else np.array([0.0, 1.0, 0.0])
    right = np.cross(forward, above)
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    t = math.radians(roll)
    right, up = right * math.cos(t) - up * math.sin(t), up * math.cos(t) + right * math.sin(t)
    # the shift that keeps upright edges upright is upright whatever the roll
    moved = (shift[0] - rise * math.sin(t), shift[1] + rise * math.cos(t))
    ahead = max(float((focus - place) @ forward), focal + 1.0)
    return Lens(place, right, up, forward, focal, moved, focal / aperture if aperture else 0.0, ahead)


@dataclass(frozen=True)
class Sharpness:
    """Depth of field along the way the camera looks, mm from the lens: near and far end (None where it never ends), and the hyperfocal distance."""

    near: float
    far: float | None
    hyperfocal: float


def depth_of_field(focal: float, f_number: float, focus: float, confusion: float = CONFUSION) -> Sharpness:
    """What is sharp of a thin lens: H = f² / (N c) + f, near s (H - f) / (H + s - 2 f), far s (H - f) / (H - s) (Ray, Applied Photographic
    Optics, 3rd ed.)."""
    h = focal**2 / (f_number * confusion) + focal
    near = focus * (h - focal) / (h + focus - 2 * focal)
    far = focus * (h - focal) / (h - focus) if focus < h else None
    return Sharpness(near, far, h)


def shutter(f_number: float, exposure: float) -> float:
    """Seconds at ISO 100 that an exposure value takes at an f-number: t = N² / 2^EV (ISO 2720)."""
    return float(f_number**2 / 2.0**exposure)


def camera_place(distance: float, azimuth: float, height: float) -> Floats:
    """Where the lens is, (3,); `distance` is measured level, `height` above the floor."""
    x, y = around(azimuth, distance)
    return np.array([x, y, height])
