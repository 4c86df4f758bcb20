"""Where a lamp has to stand for its mirror image to sit at a place of the product, and how long that image is. Lengths mm."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.camera import Lens
from hollow_marble.core.studio.emitters import Stand

Floats = NDArray[np.float64]
Look = Callable[[Floats, Floats], "tuple[Floats, Floats] | None"]
"""From a place along a direction (3,): the place (3,) and unit normal (3,) of the surface that is met first, None where there is none."""


@dataclass(frozen=True, eq=False)
class Touched:
    """A place on the product as the camera sees it: where, its normal, and the mirrored direction of sight (3,)."""

    place: Floats
    normal: Floats
    mirrored: Floats


def touched(lens: Lens, look: Look, pixel: tuple[float, float], size: tuple[int, int]) -> Touched | None:
    """What lies under a pixel (px from the left and the top) of a picture."""
    way = lens.rays(np.array([pixel], float), *size)[0]
    met = look(lens.place, way)
    if met is None:
        return None
    place, normal = met
    if normal @ way > 0:
        normal = -normal
    return Touched(place, normal, way - 2 * float(way @ normal) * normal)


def lamp_place(at: Touched, aim: Floats, distance: float, lowest: float) -> Floats:
    """Where a lamp stands on the mirrored line of sight, so far from what it looks at (`aim`, (3,)).

    Raises
    ------
    HollowMarbleError
        where the line leads under the floor, or away from all places at that distance.
    """
    start = at.place - aim
    along = float(start @ at.mirrored)
    root = along * along - float(start @ start) + distance * distance
    if root < 0:
        raise HollowMarbleError(
            "The lamp stands too near for its mirror image to sit there. Move it further away first."
        )
    place = at.place + (-along + math.sqrt(root)) * at.mirrored
    if place[2] < lowest:
        raise HollowMarbleError(
            "The lamp would have to stand under the floor for its mirror image to sit there. Touch a place that looks up more."
        )
    return place


def angles_of(place: Floats, aim: Floats) -> tuple[float, float, float]:
    """Azimuth and height in degrees, and distance, of a place (3,) as seen from what a lamp looks at."""
    away = place - aim
    distance = float(np.linalg.norm(away))
    return math.degrees(math.atan2(away[0], -away[1])), math.degrees(math.asin(away[2] / distance)), distance


@dataclass(frozen=True, eq=False)
class MirrorImage:
    """Follows the mirror image of a lamp's middle line over the surface: `stood` is where the lamp is, `pixel` where its middle is mirrored."""

    lens: Lens
    look: Look
    stood: Stand
    pixel: tuple[float, float]
    size: tuple[int, int]

    def spot(self, pixel: Floats) -> tuple[Floats, Floats] | None:
        """Where the mirrored line of sight through a pixel meets the lamp's plane (2,), and the place on the product (3,)."""
        at = touched(self.lens, self.look, (float(pixel[0]), float(pixel[1])), self.size)
        if at is None:
            return None
        falls = float(at.mirrored @ self.stood.forward)
        if falls > -1e-4:
            return None
        there = (
            at.place
            + at.mirrored * float((self.stood.middle - at.place) @ self.stood.forward) / falls
            - self.stood.middle
        )
        return np.array([there @ self.stood.right, there @ self.stood.up]), at.place

    def pixel_of(self, flat: Floats, start: Floats) -> Floats | None:
        """The pixel where a place (2,) of the lamp's plane is mirrored, by Newton's steps from a pixel near it."""
        pixel = start.copy()
        for _ in range(24):
            here = self.spot(pixel)
            if here is None:
                return None
            step = 0.25
            right, down = (self.spot(pixel + np.array(by) * step) for by in ((1, 0), (0, 1)))
            if right is None or down is None:
                return None
            slope = np.stack([(right[0] - here[0]) / step, (down[0] - here[0]) / step], axis=1)
            error = flat - here[0]
            if abs(np.linalg.det(slope)) < 1e-12:
                return None
            by = np.linalg.solve(slope, error)
            reach = float(np.linalg.norm(by))
            pixel = pixel + by * min(1.0, 12.0 / max(reach, 1e-12))
            if reach < 1e-3:
                return pixel
        return None

    def length(self, extent: float, upright: bool) -> float | None:
        """How long on the surface, mm, the image of a line through the lamp's middle is: so long a line (mm), up or across the lamp. None where
        an end of it is not mirrored by the product."""
        total = 0.0
        middle = np.array(self.pixel, float)
        for side in (-1, 1):
            before = self.spot(middle)
            pixel: Floats | None = middle
            for step in range(1, _STEPS + 1):
                reach = side * extent / 2 * step / _STEPS
                pixel = self.pixel_of(np.array([0.0, reach] if upright else [reach, 0.0]), pixel)  # type: ignore[arg-type]
                there = self.spot(pixel) if pixel is not None else None
                if there is None or before is None:
                    return None
                total += float(np.linalg.norm(there[1] - before[1]))
                before = there
        return total

    def extent_for(self, length: float, upright: bool, least: float, most: float) -> float:
        """How large the lamp has to be for its image to be so long.

        Raises
        ------
        HollowMarbleError
            where no size between the limits does it.
        """

        def off(extent: float) -> float:
            found = self.length(extent, upright)
            return math.inf if found is None else found - length

        low, high = least, least
        if off(low) > 0:
            raise HollowMarbleError("The lamp cannot be made small enough for a highlight as short as that.")
        while high < most and off(min(high * 1.6, most)) < 0:
            high = min(high * 1.6, most)
        top = min(high * 1.6, most)
        if off(top) < 0:
            raise HollowMarbleError(
                "A lamp as large as that cannot be had. Choose a shorter highlight, or move the lamp further away."
            )
        # beyond some size an end of it is not mirrored any more
        while not math.isfinite(off(top)):
            middle = (high + top) / 2
            if top - high < 0.01:
                raise HollowMarbleError(
                    "The product turns away before the highlight is as long as that. Choose a shorter one."
                )
            high, top = (middle, top) if off(middle) < 0 else (high, middle)
        return float(brentq(off, high, top, xtol=0.05))


_STEPS = 6
