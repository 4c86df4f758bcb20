"""What lamps mean for the picture: how much light, how soft, from which side. Lengths mm, light in lux and stops."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.emitters import LUX, Pieces
from hollow_marble.core.studio.shadows import ShadowEdge, shadow_edge

Floats = NDArray[np.float64]

STANDS_OFF = 0.5
"""Stops by which an edge has to be brighter than what is behind it to be seen as a rim (common practice: half a stop is just seen)."""


@dataclass(frozen=True)
class LampMeaning:
    """What one lamp does.

    lux : on a card at the product's middle that faces it
    facing : irradiance on a card there that faces the camera
    stops : that against the key's, None for the key itself and where one of them is nothing
    edge : the soft edge of the product's shadow
    """

    lux: float
    facing: float
    stops: float | None
    edge: ShadowEdge


def meaning_of(lamp: Pieces, middle: Floats, towards: Floats, key: float | None) -> LampMeaning:
    """What a lamp (its light as it is after all that stands before it) means at the product's middle; `towards` (3,) is the way to the camera,
    `key` what the key gives to a card that faces it."""
    facing = float(lamp.onto(middle, towards).sum())
    stops = math.log2(facing / key) if key and facing > 0 else None
    return LampMeaning(float(lamp.onto(middle).sum()) * LUX, facing, stops, shadow_edge(lamp, middle))


def key_to_fill(key: float, fill: float) -> float:
    """Ratio of lit to filled side in stops: log2 of (key + fill) / fill, from their irradiances."""
    return math.log2((key + fill) / fill)


def side_lit(azimuth: float, camera: float) -> str:
    """Which side of the product a key lights as the camera sees it; both by their azimuth in degrees.

    Near the camera's own side it is the broad side that faces it, further round the short one (common practice in portraits).
    """
    beside = abs((azimuth - camera + 180) % 360 - 180)
    return "frontal" if beside < 25 else "broad" if beside < 60 else "short" if beside < 120 else "from behind"


def rim_stands_off(rim: float, albedo: float, behind: float) -> float:
    """Stops by which an edge that gets an irradiance `rim` is brighter than the radiance behind it: its base by Lambert's law and its coat at
    grazing angles, where a dielectric mirrors a quarter of the light at 75° (Fresnel)."""
    edge = rim * (albedo + 0.25) / math.pi
    return math.log2(max(edge, 1e-9) / max(behind, 1e-9))
