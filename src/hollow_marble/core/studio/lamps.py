"""Soft boxes: where they stand, what light they give, and what a choice means for the picture.

Lengths mm, angles degrees at this surface, power in stops.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

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
    total = 0.0
    for a, b in zip(rays, np.roll(rays, -1, axis=0)):
        cross = np.cross(a, b)
        length = float(np.linalg.norm(cross))
        if length > 1e-12:
            total += math.atan2(length, float(a @ b)) * float(cross @ normal) / length
    return abs(total) * glow / 2


def _above(polygon: NDArray[np.float64], normal: NDArray[np.float64]) -> NDArray[np.float64]:
    """The part of a polygon on the side of the plane through the origin that the normal points to."""
    kept: list[NDArray[np.float64]] = []
    heights = polygon @ normal
    for k in range(len(polygon)):
        here, there = heights[k], heights[(k + 1) % len(polygon)]
        if here >= 0:
            kept.append(polygon[k])
        if (here > 0) != (there > 0) and here != there:
            share = here / (here - there)
            kept.append(polygon[k] + share * (polygon[(k + 1) % len(polygon)] - polygon[k]))
    return np.array(kept).reshape(-1, 3)


def shadow_edge(width: float, distance: float, gap: float) -> float:
    """Width in mm of the soft edge of a shadow: lamp width x gap / distance from the edge to the lamp.

    `gap` is the height of the edge over the surface that receives the shadow; by similar triangles.
    """
    return width * gap / distance


def softness(edge: float) -> str:
    """A word for a shadow edge on a hand-sized product."""
    return "crisp" if edge < 4 else "firm" if edge < 12 else "soft" if edge < 40 else "very soft"


def key_to_fill(key: float, fill: float) -> float:
    """Ratio of lit to filled side in stops: log2 of (key + fill) / fill, from their irradiances."""
    return math.log2((key + fill) / fill)
