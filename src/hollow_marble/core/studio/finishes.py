"""What a finish is made of: one table for the tracer, the live view and glTF.

A chosen colour is the colour of the thing: a card of it, lit evenly and seen from the front, gives back just that share of the light,
coat and base together. So the base under a coat is a little darker than what is chosen, and no plastic can be darker than its coat.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Kind = Literal["matte plastic", "gloss plastic", "polished metal", "clear glass", "rubber", "backdrop"]
Colour = tuple[float, float, float]


@dataclass(frozen=True)
class Coated:
    """A rough dielectric coat over a base that scatters.

    ior : refractive index of the coat
    alpha : width of its GGX lobe (Walter et al. 2007); the roughness of glTF and of the live view is its root
    coat : share of even light that the coat alone gives back to the front (the same within 0.0002 in the tracer and the live view)
    even, falling : shares of the base that are Lambertian, and that fall towards the rim as under a smooth coat. With the coat they add
        up to what a lossless thing must give back at every angle (within 0.01 up to 75°; Kelemen & Szirmay-Kalos 2001 couple a base so)
    """

    ior: float
    alpha: float
    coat: float
    even: float
    falling: float

    def base(self, colour: Colour) -> Colour:
        """Colour of the base (3,) that, under the coat, shows the one that is chosen; never quite black, which the tracer's model is not made for."""
        r, g, b = (max((value - self.coat) / (1 - self.coat), 1e-6) for value in colour)
        return r, g, b


COATED: dict[Kind, Coated] = {
    "matte plastic": Coated(1.49, 0.32, 0.0338, 0.6436, 0.37),
    "gloss plastic": Coated(1.49, 0.06, 0.0386, 0.0, 1.1026),
    "rubber": Coated(1.3, 0.5, 0.0121, 0.8222, 0.19),
}
POLISHED = 0.07
"""Width of the GGX lobe of polished metal."""

GLASS = 1.5
"""Refractive index of clear glass."""

UNDER = Coated(1.49, 0.1, 0.0, 0.0, 1.0)
"""The coat that `falling` bases are under."""


def glass_tint(colour: Colour) -> Colour:
    """Share of light let through each surface of a glass body, so that what is seen through both, with what the body reflects, is of the
    chosen colour: with F reflected at each surface, F + (1 - F) t² of even light come back."""
    f = ((GLASS - 1) / (GLASS + 1)) ** 2
    r, g, b = (max((value - f) / (1 - f), 0.0) ** 0.5 for value in colour)
    return r, g, b


@dataclass(frozen=True)
class Look:
    """A finish for metal-and-roughness renderers (glTF 2.0, the live view): base colour linear (3,)."""

    colour: Colour
    metalness: float
    roughness: float
    ior: float
    transmission: float


def look_of(kind: Kind, colour: Colour) -> Look:
    """How a finish is told to a metal-and-roughness renderer."""
    coated = COATED.get(kind)
    if coated is not None:
        return Look(coated.base(colour), 0.0, coated.alpha**0.5, coated.ior, 0.0)
    if kind == "polished metal":
        return Look(colour, 1.0, POLISHED**0.5, 1.5, 0.0)
    if kind == "clear glass":
        r, g, b = (value**2 for value in glass_tint(colour))
        return Look((r, g, b), 0.0, 0.0, GLASS, 1.0)
    return Look(colour, 0.0, 1.0, 1.0, 0.0)
