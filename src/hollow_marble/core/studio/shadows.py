"""The soft edge that a lamp gives a shadow on the floor. Lengths mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.studio.emitters import Pieces

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShadowEdge:
    """How far the soft edge of a shadow on the floor reaches, mm: from where 5 % of the lamp's light come to where 95 % do.

    end : of an edge that runs across the light, so of the shadow's far end; sides : of one that runs along it. None where there is no such
        place, since the lamp stands too low for all of it to cast the shadow on the floor
    """

    end: float | None
    sides: float | None


_FARTHEST = 20_000.0
"""How far from the edge's own place its shadow is looked for, mm."""
_STEPS = 41


def shadow_edge(lamp: Pieces, place: Floats) -> ShadowEdge:
    """The soft edge that a lamp gives the shadow of a level edge at a place (3,) over the floor z = 0.

    The floor behind a sheet that begins at the edge sees a part of the lamp: every piece of it whose own shadow of the edge falls nearer.
    The light of those pieces is added up at places along the floor.
    """
    lit = lamp.weights > 0
    if not lit.any():
        return ShadowEdge(None, None)
    lamp = Pieces(lamp.places[lit], lamp.weights[lit], lamp.forward)
    middle = np.average(lamp.places, axis=0, weights=lamp.weights) - place
    level = float(np.hypot(middle[0], middle[1]))
    along = np.array([middle[0], middle[1], 0.0]) / level if level > 1e-6 else np.array([0.0, -1.0, 0.0])
    beside = np.array([-along[1], along[0], 0.0])
    return ShadowEdge(_width(lamp, place, along, beside), _width(lamp, place, beside, along))


def _width(lamp: Pieces, place: Floats, across: Floats, edge: Floats) -> float | None:
    """Width of the soft edge, measured level and `across` it."""
    rise = lamp.places[:, 2] - place[2]
    if rise.max() <= 0:
        return None
    reach = place[2] / np.maximum(rise, 1e-6)
    cast = (place - (lamp.places - place) * reach[:, None]) @ across
    low, high = (float(v) for v in np.clip((cast.min(), cast.max()), -_FARTHEST, _FARTHEST))
    if high - low < 1e-9:
        return 0.0
    # a piece is as wide as the lamp divided by their number across it; its own edge is as soft as that
    own = (high - low) / max(np.sqrt(len(cast)), 2.0)
    foot = place * (1, 1, 0) - place @ across * across
    side = float(np.average((place - (lamp.places - place) * reach[:, None]) @ edge, weights=lamp.weights)) - float(
        foot @ edge
    )
    at = np.linspace(low - own, high + own, _STEPS)
    floor = foot + edge * side + across * at[:, None]
    light = lamp.on_level(floor)
    with np.errstate(divide="ignore", invalid="ignore"):
        shares = (light * np.clip((at[:, None] - cast) / own + 0.5, 0, 1)).sum(axis=1) / light.sum(axis=1)
    if not np.isfinite(shares).all() or shares[0] > 0.05 or shares[-1] < 0.95:
        return None
    begins, ends = np.interp((0.05, 0.95), np.maximum.accumulate(shares), at)
    return float(ends - begins)


def softness(edge: float) -> str:
    """A word for a shadow edge so many mm wide, on a hand-sized product."""
    return "crisp" if edge < 4 else "firm" if edge < 12 else "soft" if edge < 40 else "very soft"
