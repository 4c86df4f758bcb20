"""Cross-sections of what is made along a line: a height over the way across it. Lengths mm, angles degrees."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.detail.ground import Floats, Ints
from hollow_marble.core.errors import HollowMarbleError

WITHIN = 0.01
"""mm an arc may be off the chords it is made of."""
STEEPEST = 1e-3
"""mm that an upright side takes across, so that it has a height at every place."""


@dataclass(frozen=True, eq=False)
class Profile:
    """Heights at B places across, straight between them.

    at : (B,) mm across, growing; height : (B,) mm, out of the skin where positive
    slope : (B - 1, 2) of the curve itself at both ends of each piece, for the normals there
    sided : whether across is told with its sign, to the left of the line; else it is how far from it, and both sides are alike
    inner : whether what lies before its first place is as high as that: the floor of an opening
    """

    at: Floats
    height: Floats
    slope: Floats
    sided: bool = False
    inner: bool = False

    @property
    def low(self) -> float:
        """Lowest height, mm, and `high` the highest."""
        return float(self.height.min())

    @property
    def high(self) -> float:
        """Highest height, mm."""
        return float(self.height.max())

    @property
    def reach(self) -> float:
        """mm across from the line beyond which it does nothing."""
        return float(max(abs(self.at[0]), abs(self.at[-1])))

    @property
    def finest(self) -> float:
        """The narrowest piece, mm."""
        return float(np.diff(self.at).min())

    def scaled(self, by: float) -> Profile:
        """The same shape in another size."""
        return Profile(self.at * by, self.height * by, self.slope, self.sided, self.inner)

    def turned(self) -> Profile:
        """The same from right to left."""
        return Profile(-self.at[::-1], self.height[::-1], -self.slope[::-1, ::-1], self.sided)

    def over(self, across: Floats) -> Floats:
        """(K,) heights at places across; beyond its ends nought."""
        within = (across <= self.at[-1]) & (self.inner | (across >= self.at[0]))
        return np.where(within, np.interp(across, self.at, self.height), 0.0)

    def piece(self, across: Floats) -> Ints:
        """(K,) the piece a place lies in, -1 before the first and B - 1 after the last."""
        return np.asarray(np.searchsorted(self.at, across) - 1, np.int64)

    def slopes(self, across: Floats, piece: Ints) -> Floats:
        """(K,) slope at places of pieces; nought beyond the ends."""
        inner = np.clip(piece, 0, len(self.slope) - 1)
        begin, end = self.at[inner], self.at[inner + 1]
        share = np.clip((across - begin) / (end - begin), 0, 1)
        found = self.slope[inner, 0] * (1 - share) + self.slope[inner, 1] * share
        return np.where((piece >= 0) & (piece < len(self.slope)), found, 0.0)


Shape = Literal["groove", "bead", "step", "gap", "pressed", "raised"]
OUT = ("bead", "raised")
"""Shapes that stand out of the skin; the others go in."""


def profile(
    shape: Shape,
    width: float,
    depth: float,
    lean: float = 10.0,
    rim: float = 0.0,
    floor: float = 0.0,
    reach: float = 6.0,
    right: bool = False,
) -> Profile:
    """The cross-section of one of the shapes.

    Parameters
    ----------
    width : across it at the skin, mm
    depth : mm into the skin, or out of it (see `OUT`)
    lean : degrees its sides lean from upright
    rim, floor : radii, mm, of the edges at the skin and at the other end of its sides; nought is a sharp edge
    reach : mm from the line over which the skin comes back beside a step; `right` : whether that is to the right of the line

    Raises
    ------
    HollowMarbleError
        where the numbers leave no such shape, with what would fit.
    """
    tall = depth
    depth = -depth if shape in OUT else depth
    across = max(tall * math.tan(math.radians(lean)), STEEPEST)
    if shape == "step":
        if across > width:
            raise _no_floor(width, tall, lean, 1)
        if reach <= width / 2:
            raise HollowMarbleError(
                f"The step comes back over {reach:g} mm, within its own width. Give it {width:g} mm or more."
            )
        middle = width / 2
        corners = np.array([(-middle, 0.0), (-middle + across, -depth), (middle, -depth)])
        rounded = _rounded(corners, (rim, floor, 0.0), True)
        back = np.linspace(middle, reach, 13)
        share = (back - middle) / (reach - middle)
        height = -depth * (1 - share * share * (3 - 2 * share))
        steep = -depth * -6 * share * (1 - share) / (reach - middle)
        at = np.concatenate([rounded.at, back[1:]])
        heights = np.concatenate([rounded.height, height[1:]])
        slope = np.concatenate([rounded.slope, np.stack([steep[:-1], steep[1:]], axis=1)])
        found = Profile(at, heights, slope, True)
        return found.turned() if right else found
    if across > width / 2:
        raise _no_floor(width, tall, lean, 2)
    flat = width / 2 - across
    if flat < 1e-6:
        return _rounded(np.array([(0.0, -depth), (width / 2, 0.0)]), (0.0, rim), False)
    return _rounded(np.array([(0.0, -depth), (flat, -depth), (width / 2, 0.0)]), (0.0, floor, rim), False)


def _no_floor(width: float, tall: float, lean: float, sides: int) -> HollowMarbleError:
    fits = math.degrees(math.atan(width / sides / tall))
    return HollowMarbleError(
        f"{width:g} mm is too narrow for {tall:g} mm with sides that lean by {lean:g}°: they meet before. "
        f"Up to {math.floor(fits * 10) / 10:g}° fit, or {math.ceil(100 * sides * tall * math.tan(math.radians(lean))) / 100:g} mm of width."
    )


def wall_profile(depth: float, lean: float, rim: float, floor: float) -> Profile:
    """The side of an opening `depth` mm deep (a thing that stands out where negative): across is measured outwards from its outline, on
    which the side begins at the skin.

    Raises
    ------
    HollowMarbleError
        where the radii need more than the side has.
    """
    across = max(abs(depth) * math.tan(math.radians(lean)), STEEPEST)
    found = _rounded(np.array([(-across, -depth), (0.0, 0.0)]), (floor, rim), True)
    return Profile(found.at, found.height, found.slope, True, True)


def drawn_profile(outline: Floats) -> Profile:
    """The cross-section a drawn curve gives, (n, 2): across from the line, and height over the skin.

    Raises
    ------
    HollowMarbleError
        where it stands over a place twice, or its ends are not at the skin.
    """
    path = outline if outline[0, 0] <= outline[-1, 0] else outline[::-1]
    if float(np.ptp(path[:, 0])) < 1e-3:
        raise HollowMarbleError("The drawn profile has no width. Draw it from side to side of the line.")
    back = np.diff(path[:, 0])
    if (back < -1e-9).any():
        place = path[int(np.argmin(back))]
        raise HollowMarbleError(
            f"The drawn profile turns back at {place[0]:.2f} mm across: a skin has one height at every place. Draw it from one side to the other."
        )
    for end in (path[0], path[-1]):
        if abs(end[1]) > 1e-3:
            raise HollowMarbleError(
                f"The drawn profile ends {end[1]:.2f} mm over the skin. Let it begin and end at height 0, so that it joins the skin."
            )
    at = np.maximum.accumulate(path[:, 0] + STEEPEST * np.arange(len(path)) * 1e-3)
    slope = np.diff(path[:, 1]) / np.maximum(np.diff(at), 1e-9)
    both = np.stack([slope, slope], axis=1)
    for k in range(len(slope) - 1):  # where it turns but little it is one curve
        if abs(math.atan(slope[k]) - math.atan(slope[k + 1])) < 0.35:
            both[k, 1] = both[k + 1, 0] = (slope[k] + slope[k + 1]) / 2
    return Profile(at, path[:, 1], both, True)


def _rounded(corners: NDArray[np.float64], radii: tuple[float, ...], level_before: bool) -> Profile:
    """Straight pieces through corners (n, 2) with round ones; level before the first where that is said, and level after the last."""
    count = len(corners)
    at: list[float] = []
    height: list[float] = []
    slope: list[tuple[float, float]] = []
    far = np.array([(1e9, 0.0)])
    before_first = corners[:1] - far if level_before else corners[:1]
    line = np.concatenate([before_first, corners, corners[-1:] + far])
    taken = np.zeros(count)
    half_turn = np.zeros(count)
    for k in range(count):
        if not radii[k]:
            continue
        one, other = line[k + 1] - line[k], line[k + 2] - line[k + 1]
        if not one.any():
            continue
        turn = math.atan2(one[0] * other[1] - one[1] * other[0], float(one @ other))
        half_turn[k] = turn / 2
        taken[k] = radii[k] * math.tan(abs(turn) / 2)
    for k in range(count - 1):
        room = float(np.linalg.norm(corners[k + 1] - corners[k]))
        if taken[k] + taken[k + 1] > room + 1e-9:
            share = room / (taken[k] + taken[k + 1])
            fits = math.floor(share * max(radii[k], radii[k + 1]) * 1000) / 1000
            raise HollowMarbleError(
                f"Edges rounded by {radii[k]:g} and {radii[k + 1]:g} mm need {taken[k] + taken[k + 1]:.2f} mm where there are {room:.2f} mm. "
                f"A radius of {fits:g} mm fits."
            )
    for k in range(count):
        place = corners[k]
        one = line[k + 1] - line[k]
        if not taken[k]:
            _on(at, height, slope, place, _slope(one))
            continue
        one = one / np.linalg.norm(one)
        start = place - one * taken[k]
        turn = 2 * half_turn[k]
        pieces = max(2, math.ceil(abs(turn) / (2 * math.acos(max(1 - WITHIN / radii[k], 0.5)))))
        centre = start + math.copysign(radii[k], turn) * np.array([-one[1], one[0]])
        _on(at, height, slope, start, _slope(one))
        for step in range(1, pieces + 1):
            angle = turn * step / pieces
            c, s = math.cos(angle), math.sin(angle)
            arm = start - centre
            spot = centre + np.array([c * arm[0] - s * arm[1], s * arm[0] + c * arm[1]])
            way = np.array([c * one[0] - s * one[1], s * one[0] + c * one[1]])
            back = turn * (step - 1) / pieces
            last = np.array(
                [math.cos(back) * one[0] - math.sin(back) * one[1], math.sin(back) * one[0] + math.cos(back) * one[1]]
            )
            _on(at, height, slope, spot, _slope(last), _slope(way))
    return Profile(np.array(at), np.array(height), np.array(slope).reshape(-1, 2))


def _slope(way: NDArray[np.float64]) -> float:
    return float(way[1] / max(way[0], 1e-9))


def _on(
    at: list[float],
    height: list[float],
    slope: list[tuple[float, float]],
    place: NDArray[np.float64],
    begin: float,
    end: float | None = None,
) -> None:
    """On to a place, by a piece with a slope at its beginning and one at its end; no piece where nothing lies between."""
    if at:
        if place[0] - at[-1] < 1e-7:
            return
        slope.append((begin, begin if end is None else end))
    at.append(float(place[0]))
    height.append(float(place[1]))
