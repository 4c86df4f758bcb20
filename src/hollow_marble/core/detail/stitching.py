"""Stitches along a line: a thread that dives in and comes out again. Lengths mm, angles degrees."""

from __future__ import annotations

import math

import numpy as np

from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.ground import Floats, Ground, Ints
from hollow_marble.core.detail.spreading import along, standing
from hollow_marble.core.errors import HollowMarbleError

_ROUND, _LONG = 12, 16


def stitch(length: float, thickness: float) -> tuple[Floats, Ints]:
    """One stitch, points (N, 3) and triangles (T, 3): a round thread along x that lies on the surface (z = 0) and dives in at both ends."""
    radius = thickness / 2
    t = np.linspace(-1, 1, _LONG + 1)
    # it lies half out of the surface and dives by its thickness over the last third
    deep = np.clip((np.abs(t) - 0.55) / 0.45, 0, 1)
    x = t * length / 2
    z = radius * 0.55 - 1.6 * thickness * deep**2
    slope = np.gradient(z, x)
    size = np.hypot(1, slope)
    turn = 2 * math.pi * np.arange(_ROUND) / _ROUND
    up = np.stack([-slope / size, 0 * t, 1 / size], axis=1)
    rings = (
        np.stack([x, 0 * x, z], axis=1)[:, None]
        + radius * np.cos(turn)[None, :, None] * up[:, None]
        + radius * np.sin(turn)[None, :, None] * np.array([0.0, 1.0, 0.0])
    )
    points = np.concatenate([rings.reshape(-1, 3), [[x[0], 0, z[0]]], [[x[-1], 0, z[-1]]]])
    k = np.arange(_LONG * _ROUND)
    ring, place = k // _ROUND, k % _ROUND
    here, beside = k, ring * _ROUND + (place + 1) % _ROUND
    ahead, across = here + _ROUND, beside + _ROUND
    sides = np.concatenate([np.stack([here, ahead, beside], 1), np.stack([beside, ahead, across], 1)])
    first, last = len(points) - 2, len(points) - 1
    rim = np.arange(_ROUND)
    after = (rim + 1) % _ROUND
    end = _LONG * _ROUND
    lids = [
        np.stack([np.full(_ROUND, first), rim, after], 1),
        np.stack([np.full(_ROUND, last), end + after, end + rim], 1),
    ]
    return points, np.concatenate([sides, *lids])


def stitches(
    line: SkinLine, ground: Ground, length: float, spacing: float, slant: float, irregular: float, seed: int
) -> Floats:
    """(K, 3, 4) matrices that stand a stitch of `length` along a line, `spacing` mm from the middle of one to the middle of the next.

    slant : degrees each is turned from the line; irregular : 0 to 1, how much they differ in length, place and slant (seeded)

    Raises
    ------
    HollowMarbleError
        where the line is too short for one, or they would overlap.
    """
    if line.length < length:
        raise HollowMarbleError(
            f"The line is {line.length:.1f} mm long, too short for a stitch of {length:g} mm. Make them shorter."
        )
    if spacing < length * abs(math.cos(math.radians(slant))) and abs(slant) < 45:
        raise HollowMarbleError(
            f"Stitches of {length:g} mm every {spacing:g} mm run into one another. Give them {length:g} mm of spacing or more, or make them shorter."
        )
    spots, ways = along(line, ground, spacing, None)
    rng = np.random.default_rng(seed)
    count = len(spots)
    longer = 1 + irregular * 0.12 * np.clip(rng.normal(size=count), -2, 2)
    shifted = irregular * 0.06 * spacing * np.clip(rng.normal(size=count), -2, 2)
    turned = np.radians(slant) + irregular * 0.08 * np.clip(rng.normal(size=count), -2, 2)
    moved, _ = ground.nearest(spots.points + shifted[:, None] * ways)
    found = standing(moved, ways, np.ones(count), np.ones(count), turned)
    found[:, :, 0] *= longer[:, None]
    return found
