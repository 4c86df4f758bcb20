"""Soft boxes: where they stand, what light they give, and what a choice means for the picture.

Lengths mm, angles degrees at this surface, power in stops.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq

from hollow_marble.core.studio.camera import around

REFERENCE_FLUX = 3.8e6
"""Flux of a lamp at 0 stops (radiance x mm2 x sr): 0.6 m away it gives a white card a mid-bright exposure."""


def radiance(width: float, tall: float, power: float) -> float:
    """Radiance of a Lambertian panel with a flux of REFERENCE_FLUX x 2^power: flux / (pi x area)."""
    return float(REFERENCE_FLUX * 2.0**power / (math.pi * width * tall))


def lamp_corners(
    azimuth: float, height: float, distance: float, width: float, tall: float, aim: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Corners (4, 3) of a soft box aimed at `aim` (3,); counter-clockwise seen from the aim."""
    level = distance * math.cos(math.radians(height))
    x, y = around(azimuth, level)
    centre = aim + np.array([x, y, distance * math.sin(math.radians(height))])
    forward = (aim - centre) / np.linalg.norm(aim - centre)
    up = np.array([0.0, 0.0, 1.0]) if abs(forward[2]) < 0.999 else np.array([0.0, 1.0, 0.0])
    right = np.cross(forward, up)
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    r, u = right * width / 2, up * tall / 2
    corners: NDArray[np.float64] = np.array([centre + r - u, centre - r - u, centre - r + u, centre + r + u])
    return corners


def irradiance(
    corners: NDArray[np.float64], glow: float, place: NDArray[np.float64], normal: NDArray[np.float64]
) -> float:
    """Irradiance at a point from a Lambertian polygon of radiance `glow`.

    Lambert's contour integral for a differential receiver (Howell's catalogue of configuration factors, B-3):
    E = L / 2 x sum of edge angles times the normal's share of each edge's plane. The polygon is first cut to the
    receiver's hemisphere.
    """
    seen = _above(corners - place, normal)
    if len(seen) < 3:
        return 0.0
    rays = seen / np.linalg.norm(seen, axis=1)[:, None]
    (ax, ay, az), (bx, by, bz) = rays.T, np.concatenate([rays[1:], rays[:1]]).T
    cross = np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])
    length = np.sqrt((cross * cross).sum(axis=0))
    angle = np.arctan2(length, ax * bx + ay * by + az * bz)
    total = float((angle * (normal @ cross) / np.maximum(length, 1e-12)).sum())
    return abs(total) * glow / 2


def _above(polygon: NDArray[np.float64], normal: NDArray[np.float64]) -> NDArray[np.float64]:
    """The part of a polygon on the side of the plane through the origin that the normal points to."""
    kept: list[NDArray[np.float64]] = []
    heights = (polygon @ normal).tolist()
    for k in range(len(polygon)):
        here, there = heights[k], heights[(k + 1) % len(polygon)]
        if here >= 0:
            kept.append(polygon[k])
        if (here > 0) != (there > 0) and here != there:
            share = here / (here - there)
            kept.append(polygon[k] + share * (polygon[(k + 1) % len(polygon)] - polygon[k]))
    return np.array(kept).reshape(-1, 3)


@dataclass(frozen=True)
class ShadowEdge:
    """How far the soft edge of a shadow on the floor reaches, mm: from where 5 % of the lamp's light come to where 95 % do.

    end : of an edge that runs across the light, so of the shadow's far end; sides : of one that runs along it. None where there is no such
        place, since the lamp stands too low for all of it to cast the shadow on the floor
    """

    end: float | None
    sides: float | None


def shadow_edge(corners: NDArray[np.float64], place: NDArray[np.float64]) -> ShadowEdge:
    """The soft edge that a lamp gives the shadow of a level edge at a place (3,) over the floor z = 0.

    The floor behind a sheet that begins at the edge sees a part of the lamp, cut off by the plane through the edge: the light of that part
    is reckoned exactly (`irradiance`), and the two places are searched for on the floor.
    """
    middle = corners.mean(axis=0) - place
    level = float(np.hypot(middle[0], middle[1]))
    along = np.array([middle[0], middle[1], 0.0]) / level if level > 1e-6 else np.array([0.0, -1.0, 0.0])
    beside = np.array([-along[1], along[0], 0.0])
    return ShadowEdge(_width(corners, place, along, beside), _width(corners, place, beside, along))


_FINE = 5e-4
"""How finely the places are searched for, as a share of the whole edge."""

_FARTHEST = 20_000.0
"""How far from the edge's own place its shadow is looked for, mm."""


def _width(
    corners: NDArray[np.float64], place: NDArray[np.float64], across: NDArray[np.float64], edge: NDArray[np.float64]
) -> float | None:
    """Width of the soft edge, measured level and `across` it; the sheet begins at the `edge` (3,) and lies on the lamp's side of it."""
    if corners[:, 2].max() <= place[2]:
        return None
    rise = np.maximum(corners[:, 2] - place[2], 1e-6)
    reach = place[2] / rise
    cast = (place - (corners - place) * reach[:, None]) @ across
    low, high = float(cast.min()), float(cast.max())
    if high - low < 1e-9:
        return 0.0
    if max(-low, high) > _FARTHEST:
        low, high = max(low, -_FARTHEST), min(high, _FARTHEST)
    foot = place * (1, 1, 0) - place @ across * across
    side = float(((place - (corners.mean(axis=0) - place) * reach.mean()) - foot)[:2] @ edge[:2])

    def lit(at: float) -> float:
        floor = foot + edge * side + across * at
        cut = np.cross(edge, place - floor)
        cut *= np.sign(cut @ (place + across - floor)) / max(float(np.linalg.norm(cut)), 1e-12)
        seen = _above(corners - floor, -cut)
        up = np.array([0.0, 0.0, 1.0])
        whole = irradiance(corners, 1.0, floor, up)
        return irradiance(seen + floor, 1.0, floor, up) / whole if len(seen) > 2 and whole > 0 else 0.0

    ends = []
    for share in (0.05, 0.95):
        if (lit(low) - share) * (lit(high) - share) > 0:
            return None
        ends.append(float(brentq(lambda at: lit(at) - share, low, high, xtol=min(_FINE * (high - low), 0.5))))  # noqa: B023 — used at once
    return abs(ends[1] - ends[0])


def softness(edge: float) -> str:
    """A word for a shadow edge so many mm wide, on a hand-sized product."""
    return "crisp" if edge < 4 else "firm" if edge < 12 else "soft" if edge < 40 else "very soft"


def key_to_fill(key: float, fill: float) -> float:
    """Ratio of lit to filled side in stops: log2 of (key + fill) / fill, from their irradiances."""
    return math.log2((key + fill) / fill)
