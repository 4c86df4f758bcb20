"""The reflected surroundings as a map: panels and flags painted on the sphere, a picture under them, a sky. Angles degrees.

A map has a row for each height from straight up to straight down and a column for each azimuth; its middle column is the back of the set
(azimuth 180), its left edge the front (0), growing to the camera's right: it is the room as seen from the product.
Radiance of white paper in the usual light is one.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.colour import hex_to_linear, warmth_to_rgb

Image = NDArray[np.float32]
Floats = NDArray[np.float64]

ROUGHNESS_NEEDS = ((0.45, 256), (0.25, 512), (0.12, 1024), (0.05, 2048), (0.0, 4096))
"""Width of a map in px from which on the blur of a roughness of at least so much hides its pixels: a lobe of GGX width α is about
2 α radians wide, and a pixel is to be no wider than a quarter of it."""


@dataclass(frozen=True)
class Area:
    """Something that shines or is black, by the direction of its middle and by angles; `soft` is the share of it over which its edge fades."""

    azimuth: float
    height: float
    width: float
    tall: float
    turn: float
    soft: float
    round: bool
    radiance: tuple[float, float, float]


def glow(power: float, warmth: float, colour: str) -> tuple[float, float, float]:
    """Radiance (3,) of a panel of so many stops over white paper, of a warmth, behind a filter."""
    r, g, b = (float(v) for v in 2.0**power * warmth_to_rgb(warmth) * hex_to_linear(colour))
    return r, g, b


def directions(width: int, tall: int) -> Floats:
    """(tall, width, 3) unit direction of every pixel's middle."""
    azimuth = (np.arange(width) + 0.5) / width * 2 * np.pi
    height = np.pi / 2 - (np.arange(tall) + 0.5) / tall * np.pi
    level = np.cos(height)[:, None]
    return np.stack(
        [level * np.sin(azimuth), -level * np.cos(azimuth), np.repeat(np.sin(height)[:, None], width, axis=1)], axis=-1
    )


def solid_angles(width: int, tall: int) -> Floats:
    """(tall,) solid angle of a pixel in each row, steradian: exact for the row, 2 π (sin upper - sin lower) / width."""
    edges = np.pi / 2 - np.arange(tall + 1) / tall * np.pi
    return (np.sin(edges[:-1]) - np.sin(edges[1:])) * 2 * np.pi / width


def area_solid_angle(area: Area) -> float:
    """Solid angle of a hard-edged area, steradian: a rectangle on the plane that touches the sphere in its middle, or a cone."""
    a, b = (math.tan(math.radians(side) / 2) for side in (area.width, area.tall))
    if area.round:
        return 2 * math.pi * (1 - math.cos(math.radians(area.width) / 2))
    return 4 * math.asin(a * b / math.sqrt((1 + a * a) * (1 + b * b)))


def painted(base: Image, areas: Sequence[Area]) -> Image:
    """A map with panels and flags laid over it in order.

    Each lies on the plane that touches the sphere in its middle, so it keeps its shape however high it sits. Its energy is that of its
    solid angle: pixels are covered by the share of 4 × 4 places in them, and what is left of the error is scaled away.
    """
    image = base.copy()
    tall, width = image.shape[:2]
    exact = solid_angles(width, tall)
    for area in areas:
        rows, cover = _cover(area, width, tall)
        if not len(cover):
            continue
        lit = float((cover.sum(axis=1) * exact[rows]).sum())
        if area.soft == 0 and lit > 0 and not area.round:
            wanted = area_solid_angle(area)
            if abs(wanted / lit - 1) < 0.2:
                cover = (
                    np.minimum(cover * np.float32(wanted / lit), 1.0)
                    if wanted < lit
                    else cover * np.float32(wanted / lit)
                )
        share = np.minimum(cover, 1.0)[..., None]
        image[rows] = image[rows] * (1 - share) + cover[..., None] * np.array(area.radiance, np.float32)
    return image


_FINE = 4


def _cover(area: Area, width: int, tall: int) -> tuple[slice, Image]:
    """Rows of a map that an area touches, and what share of each of their pixels it covers (rows, width)."""
    reach = (
        math.degrees(
            math.atan(math.hypot(math.tan(math.radians(area.width) / 2), math.tan(math.radians(area.tall) / 2)))
        )
        + 1.0
    )
    first = max(0, math.floor((90 - area.height - reach) / 180 * tall))
    last = min(tall, math.ceil((90 - area.height + reach) / 180 * tall))
    rows = slice(first, last)
    count = last - first
    if count <= 0:
        return rows, np.zeros((0, width), np.float32)
    rise, turn, bent = math.radians(area.height), math.radians(area.azimuth), math.radians(area.turn)
    half = math.radians(reach)
    # columns the area can touch: all of them where it reaches a pole
    if abs(rise) + half >= math.pi / 2 - 0.02:
        columns = np.arange(width)
    else:
        spread = math.asin(min(1.0, math.sin(half) / math.cos(rise))) + 2 * math.pi / width
        middle = turn / (2 * math.pi) * width
        many = min(width, 2 * math.ceil(spread / (2 * math.pi) * width) + 2)
        columns = np.arange(math.floor(middle) - many // 2, math.floor(middle) - many // 2 + many) % width
    forward = np.array([math.cos(rise) * math.sin(turn), -math.cos(rise) * math.cos(turn), math.sin(rise)])
    right = np.array([math.cos(turn), math.sin(turn), 0.0])
    up = np.cross(right, forward)
    right, up = right * math.cos(bent) + up * math.sin(bent), up * math.cos(bent) - right * math.sin(bent)
    frame = np.stack([forward, right, up])
    scale = (math.tan(math.radians(area.width) / 2), math.tan(math.radians(area.tall) / 2))
    azimuth = (columns + 0.5) / width * 2 * np.pi
    height = np.pi / 2 - (first + np.arange(count) + 0.5) / tall * np.pi
    inside = _inside(area, frame, scale, azimuth[None, :], height[:, None])
    cover = _shaded(area, inside)
    # only pixels that an edge runs through are looked at more finely; there the way inside changes by no more than this from pixel to pixel
    step = 2.5 * math.pi / tall / min(scale) * (1 + max(scale) ** 2)
    row, column = np.nonzero((np.abs(inside) < step) if area.soft == 0 else (inside > -step) & (inside < step))
    if len(row):
        at = (np.arange(_FINE) + 0.5) / _FINE - 0.5
        across, down = (
            x.reshape(-1) / size
            for x, size in zip(np.meshgrid(at, at), (width / (2 * np.pi), tall / np.pi), strict=True)
        )
        fine = _inside(area, frame, scale, azimuth[column][:, None] + across, height[row][:, None] - down)
        cover[row, column] = _shaded(area, fine).mean(axis=1)
    found = np.zeros((count, width), np.float32)
    found[:, columns] = cover
    return rows, found


def _inside(area: Area, frame: Floats, scale: tuple[float, float], azimuth: Floats, height: Floats) -> Image:
    """How far inside an area directions lie: 1 in its middle, 0 at its edge, less than nothing beyond."""
    level = np.cos(height).astype(np.float32)
    x, y, z = (
        level * np.sin(azimuth).astype(np.float32),
        -level * np.cos(azimuth).astype(np.float32),
        np.sin(height).astype(np.float32),
    )
    ahead, right, up = (np.float32(a) * x + np.float32(b) * y + np.float32(c) * z for a, b, c in frame)
    with np.errstate(divide="ignore", invalid="ignore"):
        across, above = np.abs(right) / ahead / np.float32(scale[0]), np.abs(up) / ahead / np.float32(scale[1])
        inside = 1 - np.hypot(across, above) if area.round else np.minimum(1 - across, 1 - above)
    found: Image = np.where((ahead > 0) & np.isfinite(inside), inside, np.float32(-9))
    return found


def _shaded(area: Area, inside: Image) -> Image:
    """What share of an area's light there is, so far inside it."""
    if area.soft == 0:
        return (inside >= 0).astype(np.float32)
    cover = np.clip(inside / np.float32(area.soft), 0, 1)
    found: Image = cover * cover * (3 - 2 * cover)
    return found


def resized(image: Image, width: int, tall: int) -> Image:
    """A map at another size; smaller ones are averages, larger ones run smoothly between."""
    if image.shape[:2] == (tall, width):
        return image
    way = cv2.INTER_AREA if image.shape[1] > width else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(image, (width, tall), interpolation=way), np.float32)


def turned(image: Image, turn: float, lift: float) -> Image:
    """A map turned about the upright and tipped about the width, degrees."""
    tall, width = image.shape[:2]
    if lift == 0:
        return np.roll(image, round(turn / 360 * width), axis=1)
    t, up = math.radians(turn), -math.radians(lift)
    look = directions(width, tall)
    x, y, z = look[..., 0], look[..., 1], look[..., 2]
    x, y = x * math.cos(t) + y * math.sin(t), y * math.cos(t) - x * math.sin(t)
    y, z = y * math.cos(up) + z * math.sin(up), z * math.cos(up) - y * math.sin(up)
    column = (np.arctan2(x, -y) % (2 * np.pi)) / (2 * np.pi) * width - 0.5
    row = (np.pi / 2 - np.arcsin(np.clip(z, -1, 1))) / np.pi * tall - 0.5
    found = cv2.remap(
        image, column.astype(np.float32), row.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP
    )
    return np.asarray(found, np.float32)


def needed_width(roughness: float) -> int:
    """How wide a map has to be, px, for what reflects it with a roughness (width of its GGX lobe)."""
    return next(width for least, width in ROUGHNESS_NEEDS if roughness >= least)


def mirror_ball(image: Image, size: int) -> Image:
    """(size, size, 3) the map as a mirror ball shows it, seen from the front; nothing around the ball."""
    at = (np.arange(size) + 0.5) / size * 2 - 1
    x, z = np.meshgrid(at, -at)
    square = x * x + z * z
    on = square < 1
    y = -np.sqrt(np.maximum(1 - square, 0))
    # seen along +y: the mirrored direction is d - 2 (d . n) n
    mx, my, mz = -2 * y * x, 1 - 2 * y * y, -2 * y * z
    tall, width = image.shape[:2]
    column = (np.arctan2(mx, -my) % (2 * np.pi)) / (2 * np.pi) * width - 0.5
    row = (np.pi / 2 - np.arcsin(np.clip(mz, -1, 1))) / np.pi * tall - 0.5
    ball = cv2.remap(
        image, column.astype(np.float32), row.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP
    )
    ball[~on] = 0
    return np.asarray(ball, np.float32)
