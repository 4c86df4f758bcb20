"""Pictures of probes without a screen: what each px of a picture meets of some surfaces, and how a probe colours it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.making import draft_angles
from hollow_marble.core.surface.nearest import Nearest
from hollow_marble.core.surface.probed import Probed

Values = NDArray[np.float64]
Numbers = NDArray[np.int64]
Picture = NDArray[np.uint8]

GROUND = (119, 119, 119)
"""Neutral grey around what is judged (ISO 3664 asks for a neutral surround)."""

_LENS = np.radians(24.0)

# OKLab lightness, a, b from the lowest value to the highest; the interface's `scales.ts` holds the same
SCALES: dict[str, tuple[tuple[float, float, float], ...]] = {
    "both": (
        (0.34, 0.04, -0.15),
        (0.56, 0.03, -0.13),
        (0.78, 0.012, -0.06),
        (0.945, 0.0, 0.006),
        (0.8, 0.03, 0.09),
        (0.62, 0.055, 0.115),
        (0.44, 0.06, 0.085),
    ),
    "one": (
        (0.36, 0.12, 0.04),
        (0.5, 0.1, 0.09),
        (0.64, 0.03, 0.115),
        (0.76, -0.05, 0.08),
        (0.87, -0.055, 0.02),
        (0.97, 0.0, 0.006),
    ),
}


@dataclass(frozen=True, eq=False)
class Camera:
    """Looks at a middle (3,) from an eye (3,), up being height; px of the picture, wide × tall."""

    eye: Values
    middle: Values
    wide: int
    tall: int

    @cached_property
    def frame(self) -> tuple[Values, Values, Values]:
        """Right, up, away, of length 1."""
        away = self.middle - self.eye
        away = away / np.linalg.norm(away)
        right = np.cross(away, [0.0, 0.0, 1.0])
        if np.linalg.norm(right) < 1e-6:
            right = np.array([1.0, 0.0, 0.0])
        right = right / np.linalg.norm(right)
        return right, np.cross(right, away), away

    def ways(self) -> Values:
        """(tall × wide, 3) unit directions of sight, row by row from the top."""
        right, up, away = self.frame
        half = np.tan(_LENS / 2)
        y, x = np.mgrid[: self.tall, : self.wide]
        across = ((x + 0.5) / self.wide * 2 - 1) * half * self.wide / self.tall
        high = (1 - (y + 0.5) / self.tall * 2) * half
        ways = away + across.ravel()[:, None] * right + high.ravel()[:, None] * up
        return np.asarray(ways / np.linalg.norm(ways, axis=1, keepdims=True))

    def seen(self, places: Values) -> Values:
        """(K, 3) px across, px down and mm away of places (K, 3)."""
        right, up, away = self.frame
        to = places - self.eye
        deep = np.maximum(to @ away, 1e-9)
        half = np.tan(_LENS / 2)
        x = ((to @ right) / deep / half * self.tall / self.wide + 1) / 2 * self.wide
        y = (1 - (to @ up) / deep / half) / 2 * self.tall
        return np.column_stack([x, y, np.linalg.norm(to, axis=1)])


def camera_on(surfaces: Sequence[Skin], azimuth: float, rise: float, wide: int, tall: int) -> Camera:
    """A camera that has all of some surfaces in its picture, from an azimuth (0 in front) and a rise in radians."""
    low = np.min([probed.points.min(axis=0) for probed in surfaces], axis=0)
    high = np.max([probed.points.max(axis=0) for probed in surfaces], axis=0)
    middle = (low + high) / 2
    towards = np.array([np.sin(azimuth) * np.cos(rise), -np.cos(azimuth) * np.cos(rise), np.sin(rise)])
    camera = Camera(middle + towards, middle, wide, tall)
    right, up, away = camera.frame
    corners = (
        np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]) - middle
    )
    half = np.tan(_LENS / 2) * 0.92
    needed = np.maximum(np.abs(corners @ up), np.abs(corners @ right) * tall / wide) / half - corners @ away
    return Camera(middle + towards * float(needed.max()), middle, wide, tall)


class Skin(Protocol):
    """What can be seen: points and normals (N, 3), triangles (T, 3)."""

    @property
    def points(self) -> Values: ...
    @property
    def normals(self) -> Values: ...
    @property
    def triangles(self) -> Numbers: ...


@dataclass(frozen=True, eq=False)
class Met:
    """What P of K rays of sight meet: their numbers px (P,), surface (P,), corners (P, 3) point numbers of its triangle, shares (P, 3),
    place (P, 3), normal (P, 3) turned to the eye; far (K,) mm to what is met, inf where nothing is."""

    px: Numbers
    surface: Numbers
    corners: Numbers
    shares: Values
    place: Values
    normal: Values
    far: Values


@dataclass(frozen=True, eq=False)
class Sight(Met):
    """What the px of a camera's picture meet, row by row from the top; far is (tall, wide)."""

    camera: Camera

    def mixed(self, values: Sequence[Values]) -> Values:
        """(P, …) of values at the points of each surface."""
        first = values[0]
        out = np.zeros((len(self.px), *first.shape[1:]))
        for number, value in enumerate(values):
            rows = self.surface == number
            share = self.shares[rows].reshape(-1, 3, *[1] * (value.ndim - 1))
            out[rows] = (value[self.corners[rows]] * share).sum(axis=1)
        return out

    def picture(self, colours: Values) -> Picture:
        """(tall, wide, 3) of colours (P, 3), sRGB 0 to 1."""
        canvas = np.full((self.camera.tall * self.camera.wide, 3), GROUND, np.uint8)
        canvas[self.px] = np.rint(np.clip(colours, 0, 1) * 255)
        return canvas.reshape(self.camera.tall, self.camera.wide, 3)


def met(surfaces: Sequence[Skin], eye: Values, ways: Values) -> Met:
    """What rays from an eye (3,) along unit directions (K, 3) meet of surfaces."""
    bases = np.cumsum([0, *(len(skin.points) for skin in surfaces)])
    points = np.concatenate([skin.points for skin in surfaces])
    triangles = np.concatenate([skin.triangles + base for skin, base in zip(surfaces, bases)])
    normals = np.concatenate([skin.normals for skin in surfaces])
    found = Nearest(points, triangles).met(np.broadcast_to(eye, ways.shape), ways)
    px = np.flatnonzero(found.triangle >= 0)
    corners = triangles[found.triangle[px]]
    shares = found.shares[px]
    surface = np.searchsorted(bases, corners[:, 0], side="right") - 1
    normal = (normals[corners] * shares[..., None]).sum(axis=1)
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    normal *= np.where((normal * ways[px]).sum(axis=1) > 0, -1.0, 1.0)[:, None]
    return Met(px, surface, corners - bases[surface][:, None], shares, found.place[px], normal, found.distance)


def look(surfaces: Sequence[Skin], camera: Camera) -> Sight:
    """Send sight through every px."""
    found = vars(met(surfaces, camera.eye, camera.ways()))
    return Sight(**{**found, "far": found["far"].reshape(camera.tall, camera.wide)}, camera=camera)


def plaster(sight: Sight) -> Values:
    """(P, 3) colours of plaster in soft daylight from the upper left."""
    right, up, away = sight.camera.frame
    light = -0.45 * right + 0.55 * up - 0.7 * away
    light /= np.linalg.norm(light)
    shade = 0.45 + 0.4 * np.clip(sight.normal @ light, 0, 1) + 0.15 * (sight.normal @ up * 0.5 + 0.5)
    return np.asarray(shade[:, None] * np.array([0.85, 0.82, 0.77]))


def stripes(sight: Sight, across: Values, count: int) -> Values:
    """(P, 3) colours of stripes seen in the mirror of the surface, as the interface shows them."""
    way = sight.place - sight.camera.eye
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    facing = -(way * sight.normal).sum(axis=1)
    mirrored = way + 2 * facing[:, None] * sight.normal
    band = np.arcsin(np.clip(mirrored @ (across / np.linalg.norm(across)), -1, 1)) / np.pi * count
    wave = np.abs(band - np.floor(band) - 0.5) * 2
    light = np.clip((wave - 0.5) / 0.08 + 0.5, 0, 1)[:, None]
    dark, pale = np.array([0.09, 0.1, 0.105]), np.array([0.95, 0.94, 0.91])
    return np.asarray((dark * (1 - light) + pale * light) * (0.72 + 0.28 * facing)[:, None])


def mapped(sight: Sight, values: Sequence[Values], low: float, high: float, scale: Literal["both", "one"]) -> Values:
    """(P, 3) colours of values at the points of each surface."""
    way = sight.place - sight.camera.eye
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    form = 0.86 + 0.14 * np.abs((way * sight.normal).sum(axis=1))
    value = sight.mixed([np.where(np.isfinite(v), v, high) for v in values])
    return np.asarray(colour_at(scale, (value - low) / max(high - low, 1e-12)) * form[:, None])


def colour_at(scale: str, share: Values) -> Values:
    """(K, 3) sRGB, 0 to 1, at shares of a scale (Ottosson 2020, A perceptual color space for image processing)."""
    stops = np.array(SCALES[scale])
    at = np.clip(share, 0, 1) * (len(stops) - 1)
    lightness, a, b = (np.interp(at, np.arange(len(stops)), stops[:, k]) for k in range(3))
    l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3
    m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3
    s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3
    linear = np.stack(
        [
            4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
            -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
            -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
        ],
        axis=-1,
    ).clip(0, 1)
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def close_up(surfaces: Sequence[Probed], place: Values, wide: int, tall: int) -> tuple[Picture, Values]:
    """A place (3,) seen from where the surface there looks, in plaster with what is around it; and where it lies in the picture, px."""
    found = [probed.nearest.closest(place[None]) for probed in surfaces]
    here = min(range(len(surfaces)), key=lambda k: float(found[k].distance[0]))
    corners = surfaces[here].triangles[found[here].triangle[0]]
    out = surfaces[here].normals[corners].mean(axis=0)
    out = out / max(float(np.linalg.norm(out)), 1e-9) + np.array([0.25, -0.25, 0.35])
    away = _CLOSE * max(probed.size for probed in surfaces)
    camera = Camera(place + out / np.linalg.norm(out) * away, place, wide, tall)
    sight = look(surfaces, camera)
    return sight.picture(plaster(sight)), camera.seen(place[None])[0, :2]


_CLOSE = 1.2
"""How far a close-up is taken from, as a share of the whole."""


@dataclass(frozen=True, eq=False)
class ProbePictures:
    """What a report shows of a form: in plaster, under stripes from both sides, its largest curvature (full colour at `end` 1/mm) and its
    draft (full at 20 degrees); with the camera, and mm to what it meets (tall, wide), so that more can be drawn over it."""

    plaster: Picture
    stripes: Picture
    behind: Picture
    curvature: Picture
    end: float
    draft: Picture
    camera: Camera
    far: Values


_AZIMUTH, _RISE = 0.62, 0.32
_ACROSS = np.array([0.32, -0.12, 0.94])
_STRIPES = 14


def probe_pictures(
    surfaces: Sequence[Probed], pull: Values, wide: int, tall: int, told: Callable[[float], None] = lambda _: None
) -> ProbePictures:
    """Pictures of some surfaces from a corner, wide × tall px; `pull` (3,) of length 1. `told` hears the share that is done."""
    one = look(surfaces, camera_on(surfaces, _AZIMUTH, _RISE, wide, tall))
    told(0.45)
    other = look(surfaces, camera_on(surfaces, _AZIMUTH + np.pi, _RISE, wide, tall))
    told(0.9)
    bends = [probed.bends.largest for probed in surfaces]
    widest = max(range(len(surfaces)), key=lambda k: surfaces[k].size)
    end = max(float(np.quantile(np.abs(bends[widest]), 0.9)), 1e-6)
    return ProbePictures(
        one.picture(plaster(one)),
        one.picture(stripes(one, _ACROSS, _STRIPES)),
        other.picture(stripes(other, _ACROSS, _STRIPES)),
        one.picture(mapped(one, bends, -end, end, "both")),
        end,
        one.picture(mapped(one, [draft_angles(probed, pull) for probed in surfaces], -20.0, 20.0, "both")),
        one.camera,
        one.far,
    )
