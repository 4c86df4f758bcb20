"""Light that a set throws back onto the product: what cards and the ground shine with, and whose light it is."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from hollow_marble.documents.studio.model import Card, Light
from hollow_marble.documents.studio.staging.placing import StagedLamp, Staging
from hollow_marble.documents.studio.staging.scenes import CARDS
from hollow_marble.documents.studio.staging.surroundings import Image, surround_light

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Thrown:
    """By id the radiance (3,) of each card, and the share of the light on the ground that each lamp gives; radiance (3,) of a white
    ground at the product, without its shadow."""

    cards: dict[str, Floats]
    shares: dict[str, float]
    ground: Floats


def thrown_back(staging: Staging, around: Image) -> Thrown:
    """What is thrown back in the light of lamps and surroundings (h, w, 3), after one reflection."""
    lamps = [lamp for lamp in staging.lamps if isinstance(lamp.placed, Light) and lamp.radiance.max() > 0]

    def light(place: Floats, normal: Floats) -> tuple[dict[str, Floats], Floats]:
        given = {lamp.id: lamp.colour * float(lamp.reaching(place).onto(place, normal).sum()) for lamp in lamps}
        return given, sum(given.values(), start=surround_light(around, normal))

    cards = {}
    for card in staging.lamps:
        if isinstance(card.placed, Card):
            colour = np.array(CARDS[card.placed.surface].colour)
            cards[card.id] = colour * light(card.stood.middle, card.stood.forward)[1] / math.pi
    foot = np.array([*staging.centre[:2], 0.0])
    given, total = light(foot, np.array([0.0, 0.0, 1.0]))
    shares = {lamp: float(part.sum() / max(total.sum(), 1e-12)) for lamp, part in given.items()}
    return Thrown(cards, shares, total / math.pi)


def reaching_product(lamp: StagedLamp, staging: Staging) -> Floats:
    """(3,) mean radiance of a lamp as it is seen from the product's middle, past what stands before it."""
    whole = float(lamp.pieces().onto(staging.centre).sum())
    if whole <= 0:
        return lamp.radiance
    return lamp.radiance * float(lamp.reaching(staging.centre).onto(staging.centre).sum()) / whole
