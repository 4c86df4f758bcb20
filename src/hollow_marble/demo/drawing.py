"""A steady hand for the demo's sheets: lines through a few places, with pressure and a little life."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from hollow_marble.core.paths import lengths

Place = tuple[float, float]


class Hand:
    """Draws strokes as arrays of x, y, pressure. The same seed draws the same lines."""

    def __init__(self, seed: int) -> None:
        self._random = np.random.default_rng(seed)

    def line(
        self, places: list[Place], pressure: float = 0.6, wobble: float = 1.2, closed: bool = False, over: float = 0.0
    ) -> NDArray[np.float32]:
        """A smooth line through places in page px.

        pressure : in the middle of the stroke; it fades towards the ends
        wobble : px the hand strays
        closed : come round to the first place; `over` px-shares go past it, as a loose hand does
        """
        points = np.array([*places, places[0]] if closed else places, float)
        steps = lengths(points)
        spline = CubicSpline(steps, points, bc_type="periodic" if closed else "natural")
        length = steps[-1]
        count = max(4, int(length / 7))
        along = np.linspace(0, length * (1 + over), count)
        xy = spline(along % length if closed else np.clip(along, 0, length))
        stray = self._drift(count, 2) * wobble
        t = np.linspace(0, 1, count)
        press = (
            pressure * (0.35 + 0.65 * np.sin(np.pi * np.clip(t, 0.02, 0.98)) ** 0.45)
            + self._drift(count, 1)[:, 0] * 0.06
        )
        return np.column_stack([xy + stray, np.clip(press, 0.05, 1.0), np.zeros(count)]).astype(np.float32)

    def ellipse(
        self, centre: Place, across: float, down: float, turn: float = 0.0, pressure: float = 0.5, wobble: float = 0.8
    ) -> NDArray[np.float32]:
        """A drawn-through ellipse; radii in px, turn in degrees."""
        angle = np.linspace(0, 2 * np.pi, 13)[:-1] + self._random.uniform(0, 6)
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        x, y = across * np.cos(angle), down * np.sin(angle)
        places = [(centre[0] + c * a - s * b, centre[1] + s * a + c * b) for a, b in zip(x, y)]
        return self.line(places, pressure, wobble, closed=True, over=0.12)

    def _drift(self, count: int, width: int) -> NDArray[np.float64]:
        """Smooth noise of about unit size, (count, width)."""
        knots = max(4, count // 9)
        noise = self._random.normal(0, 1, (knots, width))
        smooth: NDArray[np.float64] = CubicSpline(np.linspace(0, 1, knots), noise)(np.linspace(0, 1, count))
        return smooth
