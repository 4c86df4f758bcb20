"""Where a flat curve stands: an origin and two directions square to one another, (3,) each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from hollow_marble.core.curves.drawing import Chain
from hollow_marble.core.curves.segments import Array
from hollow_marble.core.errors import HollowMarbleError


@dataclass(frozen=True, eq=False)
class Plane:
    """p = origin + x·across + y·up; its normal looks at whoever sees across to the right and up upwards."""

    origin: Array
    across: Array
    up: Array

    @property
    def normal(self) -> Array:
        """(3,)."""
        return np.cross(self.across, self.up)

    @property
    def matrix(self) -> Array:
        """(3, 2)."""
        return np.column_stack([self.across, self.up])

    def placed(self, chain: Chain) -> Chain:
        """A flat chain in space."""
        return chain.moved(self.matrix, self.origin)

    def of(self, points: Array) -> Array:
        """(n, 2) coordinates in the plane of points (n, 3), seen along its normal."""
        return (np.asarray(points) - self.origin) @ self.matrix

    def at(self, flat: Array) -> Array:
        """(n, 3) points of coordinates (n, 2)."""
        return np.asarray(flat) @ self.matrix.T + self.origin

    def turned(self, about_across: float, about_up: float, about_normal: float) -> Plane:
        """Tilted about its own directions, degrees: across, then up, then its normal."""
        frame = np.column_stack([self.across, self.up, self.normal])
        for axis, degrees in enumerate((about_across, about_up, about_normal)):
            frame = frame @ _turning(axis, np.radians(degrees))
        return Plane(self.origin, frame[:, 0], frame[:, 1])

    def is_like(self, other: Plane) -> bool:
        """Whether a place has the same coordinates in both."""
        pairs = zip((self.origin, self.across, self.up), (other.origin, other.across, other.up))
        return all(float(np.abs(a - b).max()) < 1e-9 for a, b in pairs)

    def lifted(self, distance: float) -> Plane:
        """So many mm along its normal."""
        return Plane(self.origin + distance * self.normal, self.across, self.up)


def _turning(axis: int, angle: float) -> Array:
    c, s = np.cos(angle), np.sin(angle)
    a, b = (axis + 1) % 3, (axis + 2) % 3
    turn = np.eye(3)
    turn[a, a], turn[a, b], turn[b, a], turn[b, b] = c, -s, s, c
    return turn


UPRIGHT = {
    "front": Plane(np.zeros(3), np.array([1.0, 0, 0]), np.array([0.0, 0, 1])),
    "side": Plane(np.zeros(3), np.array([0.0, 1, 0]), np.array([0.0, 0, 1])),
    "top": Plane(np.zeros(3), np.array([1.0, 0, 0]), np.array([0.0, 1, 0])),
}
"""As one sees the product: from the front (across W, up H), from the right (across D, up H), from above (across W, up D)."""


def on_normal(origin: Array, normal: Array) -> Plane:
    """The plane through a place, square to a direction; across is as level as can be."""
    length = float(np.linalg.norm(normal))
    if length < 1e-12:
        raise HollowMarbleError("The plane has no direction. Give it a normal that is not nought.")
    n = normal / length
    level = np.array([-n[1], n[0], 0.0])
    if np.linalg.norm(level) < 1e-6:
        across = np.array([1.0 if n[2] > 0 else -1.0, 0, 0])
    else:
        across = level / np.linalg.norm(level)
    return Plane(np.asarray(origin, float), across, np.cross(n, across))


def through_points(a: Array, b: Array, c: Array) -> Plane:
    """The plane through three points: its origin at the first, across towards the second, up on the third's side.

    Raises
    ------
    HollowMarbleError
        where they lie on one line.
    """
    way, other = b - a, c - a
    normal = np.cross(way, other)
    if np.linalg.norm(normal) < 1e-9 * max(float(np.linalg.norm(way) * np.linalg.norm(other)), 1e-9):
        raise HollowMarbleError(
            "The three points lie on one line, so many planes pass through them. Choose another third point."
        )
    across = way / np.linalg.norm(way)
    n = normal / np.linalg.norm(normal)
    return Plane(np.asarray(a, float), across, np.cross(n, across))


@dataclass(frozen=True, eq=False)
class Drawn:
    """A curve where it stands: flat chains in a plane's coordinates, or chains in space (`plane` None)."""

    name: str
    chains: tuple[Chain, ...]
    plane: Plane | None

    def placed(self) -> list[Chain]:
        """Its chains in space."""
        return [self.plane.placed(chain) for chain in self.chains] if self.plane else list(self.chains)

    def one(self, what: str) -> Chain:
        """Its only chain, in space.

        Raises
        ------
        HollowMarbleError
            where it has several, or none.
        """
        if len(self.chains) != 1:
            raise HollowMarbleError(
                f"{self.name} is made of {len(self.chains)} curves, and {what} follows one. Join them, or draw it anew."
            )
        return self.placed()[0]

    def flat(self, what: str) -> Plane:
        """The plane it lies in.

        Raises
        ------
        HollowMarbleError
            where it is a curve in space.
        """
        if self.plane is None:
            raise HollowMarbleError(
                f"{self.name} is a curve in space, and {what} needs a flat profile. Draw one on a plane."
            )
        return self.plane
