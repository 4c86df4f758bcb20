"""What glows: its flat shape, how bright it is where, and the light it gives to a place. Lengths mm, angles degrees, power in stops.

A lamp is a flat shape in a plane of its own, x to its right and y up as one stands behind it, that is then stood somewhere and faces what
it looks at. All that is said of its light is summed up over small pieces of it, so that every shape and every brightness is reckoned alike.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.camera import around

Floats = NDArray[np.float64]

REFERENCE_FLUX = 3.8e6
"""Flux of a lamp at 0 stops (radiance x mm2 x sr): 0.6 m away it gives a white card a mid-bright exposure."""

FAR = 100_000.0
"""How far away a far source stands, mm: over a set of 1 m its light changes by 2 %."""

LUX = 2_560.0 / math.pi
"""Lux of an irradiance of one: at EV 10 (ISO 100) a white card under 2,560 lx is white in the picture. An incident light meter reckons
E = C 2^EV / S with C = 250 for a flat receptor (ISO 2720)."""

_REFERENCE_DISTANCE = 600.0
_SIDES = 64
_PIECES = 24


def far_diameter(angle: float) -> float:
    """Diameter of a far source that is seen so many degrees large."""
    return 2 * FAR * math.tan(math.radians(angle) / 2)


@dataclass(frozen=True)
class Profile:
    """How bright a diffuser is from its middle to its rim; `rim` is the share of the middle's brightness that is left there.

    Between them it falls as cos² of the way to each side, as behind a diffuser that is lit from its middle.
    """

    rim: float

    def brightness(self, x: Floats, y: Floats) -> Floats:
        """At places -1 to 1 across and up, not yet scaled."""
        fall: Floats = np.cos(np.pi * x / 2) ** 2 * np.cos(np.pi * y / 2) ** 2
        return self.rim + (1 - self.rim) * fall

    @property
    def even(self) -> bool:
        return self.rim >= 0.999


@dataclass(frozen=True, eq=False)
class Shape:
    """A flat lamp.

    points : (N, 2) mm; triangles : (T, 3), counter-clockwise as one sees its front; texture : (N, 2) 0 to 1 across and up
    pieces : (S, 2) middles of small pieces; areas : (S,) mm2; extent : width and height, mm
    """

    points: Floats
    triangles: NDArray[np.int64]
    texture: Floats
    pieces: Floats
    areas: Floats
    extent: tuple[float, float]
    profile: Profile
    round: bool
    hole: float = 0.0
    """Width of the hole in its middle as a share of its own."""

    @property
    def area(self) -> float:
        return float(self.areas.sum())

    @cached_property
    def glow(self) -> Floats:
        """(S,) brightness of the pieces against the mean."""
        x, y = (2 * self.pieces / self.extent).T
        glow = self._brightness(x, y)
        return glow / float((glow * self.areas).sum() / self.area)

    def picture(self, size: int = 64) -> NDArray[np.float32]:
        """(size, size) brightness against the mean, as a texture whose first row is its top."""
        at = (np.arange(size) + 0.5) / size * 2 - 1
        x, y = np.meshgrid(at, -at)
        scale = float((self._brightness(*(2 * self.pieces / self.extent).T) * self.areas).sum() / self.area)
        return (self._brightness(x, y) / scale).astype(np.float32)

    def _brightness(self, x: Floats, y: Floats) -> Floats:
        return (
            self.profile.brightness(np.minimum(np.hypot(x, y), 1.0), np.zeros_like(x))
            if self.round
            else self.profile.brightness(x, y)
        )


def rectangle(width: float, tall: float, profile: Profile) -> Shape:
    """A rectangle."""
    half = np.array([width, tall]) / 2
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    at = (np.arange(_PIECES) + 0.5) / _PIECES * 2 - 1
    pieces = np.stack(np.meshgrid(at, at), axis=-1).reshape(-1, 2) * half
    areas = np.full(len(pieces), width * tall / len(pieces))
    triangles = np.array([[0, 2, 1], [0, 3, 2]])
    return Shape(corners * half, triangles, (corners + 1) / 2.0, pieces, areas, (width, tall), profile, False)


def ring(diameter: float, hole: float, profile: Profile) -> Shape:
    """A disc, or a ring where the hole is more than nothing. Its rim is a polygon of the circle's area."""
    turn = 2 * np.pi * np.arange(_SIDES) / _SIDES
    grown = math.sqrt(2 * np.pi / _SIDES / math.sin(2 * np.pi / _SIDES))
    circle = np.stack([np.cos(turn), np.sin(turn)], axis=1) * grown
    outer, inner = diameter / 2, hole / 2
    k = np.arange(_SIDES)
    after = (k + 1) % _SIDES
    if hole <= 0:
        points = np.vstack([[0.0, 0.0], circle * outer])
        triangles = np.stack([np.zeros(_SIDES, int), after + 1, k + 1], axis=1)
    else:
        points = np.vstack([circle * inner, circle * outer])
        triangles = np.concatenate(
            [np.stack([k, after + _SIDES, k + _SIDES], 1), np.stack([k, after, after + _SIDES], 1)]
        )
    bands = 12
    edges = np.sqrt(np.linspace(inner**2, outer**2, bands + 1))
    middle = np.sqrt((edges[:-1] ** 2 + edges[1:] ** 2) / 2)
    spokes = 2 * np.pi * (np.arange(36)[None, :] + 0.5 * (np.arange(bands)[:, None] % 2)) / 36
    pieces = np.stack([middle[:, None] * np.cos(spokes), middle[:, None] * np.sin(spokes)], axis=-1).reshape(-1, 2)
    areas = np.full(len(pieces), np.pi * (outer**2 - inner**2) / len(pieces))
    return Shape(
        points,
        triangles,
        points / diameter + 0.5,
        pieces,
        areas,
        (diameter, diameter),
        profile,
        True,
        max(hole, 0.0) / diameter,
    )


@dataclass(frozen=True, eq=False)
class Stand:
    """Where a flat thing stands: its middle, and the directions to its right and up as one stands behind it, and forward (3,) each."""

    middle: Floats
    right: Floats
    up: Floats
    forward: Floats

    def placed(self, flat: Floats, ahead: float = 0.0) -> Floats:
        """Places (N, 2) or (N, 3: forward) of its plane, in the room."""
        there = self.middle + flat[:, :1] * self.right + flat[:, 1:2] * self.up + ahead * self.forward
        return there + flat[:, 2:3] * self.forward if flat.shape[1] > 2 else there


def stand(azimuth: float, height: float, distance: float, aim: Floats, turn: float = 0.0) -> Stand:
    """Something that looks at `aim` (3,) from around it."""
    rise = math.radians(height)
    x, y = around(azimuth, distance * math.cos(rise))
    middle = aim + np.array([x, y, distance * math.sin(rise)])
    forward = (aim - middle) / np.linalg.norm(aim - middle)
    up = np.array([0.0, 0.0, 1.0]) if abs(forward[2]) < 0.999 else np.array([0.0, 1.0, 0.0])
    right = np.cross(forward, up)
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    t = math.radians(turn)
    return Stand(middle, right * math.cos(t) + up * math.sin(t), up * math.cos(t) - right * math.sin(t), forward)


def radiance(shape: Shape, power: float, distance: float) -> float:
    """Mean radiance of a lamp of so many stops: REFERENCE_FLUX x 2^power / (pi x area). What is far away gives as much to the product as it
    would from where lamps usually stand."""
    flux = REFERENCE_FLUX * 2.0**power * ((distance / _REFERENCE_DISTANCE) ** 2 if distance >= FAR else 1.0)
    return float(flux / (math.pi * shape.area))


@dataclass(frozen=True, eq=False)
class Pieces:
    """A lamp in small pieces: places (S, 3), what each gives along its normal (radiance x area) (S,), and the way it faces (3,)."""

    places: Floats
    weights: Floats
    forward: Floats

    def onto(self, place: Floats, normal: Floats | None = None) -> Floats:
        """(S,) irradiance that each piece gives to a place (3,) on a surface that faces along the normal, or towards the lamp."""
        ways = place - self.places
        away = np.linalg.norm(ways, axis=1)
        ways /= away[:, None]
        leaving = np.maximum(ways @ self.forward, 0.0)
        if normal is None:
            total = (self.weights * leaving / away**2) @ -ways
            normal = total / max(float(np.linalg.norm(total)), 1e-30)
        arriving: Floats = np.maximum(-(ways @ normal), 0.0)
        light: Floats = self.weights * leaving * arriving / away**2
        return light

    def on_level(self, places: Floats) -> Floats:
        """(P, S) irradiance that each piece gives to level cards at places (P, 3)."""
        x, y, z = (places[:, k, None] - self.places[:, k] for k in range(3))
        square = x * x + y * y + z * z
        leaving = np.maximum(x * self.forward[0] + y * self.forward[1] + z * self.forward[2], 0.0)
        light: Floats = self.weights * leaving * np.maximum(-z, 0.0) / (square * square)
        return light

    def cut(self, clear: NDArray[np.bool_] | Floats) -> Pieces:
        """What is left of it where a share (S,) is let through."""
        return Pieces(self.places, self.weights * clear, self.forward)


def pieces_of(shape: Shape, stood: Stand, glow: float) -> Pieces:
    """A lamp of a mean radiance in its pieces."""
    return Pieces(stood.placed(shape.pieces), glow * shape.glow * shape.areas, stood.forward)
