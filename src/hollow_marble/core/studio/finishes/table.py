"""The table of finishes: what each material has to be chosen, and what it is made of.

A chosen colour is the colour of the thing: a card of it, lit evenly and seen from the front, gives back just that share of the light,
coat and base together. So the base under a coat is a little darker than what is chosen, and no plastic can be darker than its coat.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.studio.colour import hex_to_linear
from hollow_marble.core.studio.finishes import metals
from hollow_marble.core.studio.finishes.coats import Coated, Colour, at_front, coated, over_all

Group = Literal["plastic and rubber", "paint", "metal", "glass and liquid", "natural", "woven and sheet", "light"]


@dataclass(frozen=True)
class Amount:
    """A number of a material: its words, limits and what it usually is. `choices` stand for 0, 1, 2 … where it is one of several."""

    name: str
    words: str
    least: float
    most: float
    usual: float
    unit: str = ""
    choices: tuple[str, ...] = ()


@dataclass(frozen=True)
class GrainOf:
    """The grain a material comes with: which, its size and depth in mm, and how strongly it colours."""

    kind: str
    size: float
    depth: float
    strength: float = 1.0
    second: str | None = None


@dataclass(frozen=True)
class Made:
    """What a surface is made of, in the terms the tracer and the live view share.

    base : what lies at the bottom
    colour : of the base, linear (3,): its reflectance; of glass what one pass lets through; of what glows its radiance
    alpha : widths of the base's GGX lobe along and across the grain (metal and glass)
    ior : refractive index of glass; eta, k : of a metal for red, green and blue, None where its colour says it all
    coat : clear coat that belongs to a scattering base
    lacquer : width of the lobe of a further clear coat over all of it, None for none
    flakes : share of the base that is metal flakes, and their size in mm
    absorbs : how much glass and liquid swallow, per mm (3,)
    grain : the grain it comes with
    """

    base: Literal["scatter", "metal", "glass", "glow"]
    colour: Colour
    alpha: tuple[float, float] = (0.0, 0.0)
    ior: float = 1.5
    eta: Colour | None = None
    k: Colour | None = None
    coat: Coated | None = None
    lacquer: float | None = None
    flakes: tuple[float, float] = (0.0, 0.5)
    absorbs: Colour = (0.0, 0.0, 0.0)
    grain: GrainOf | None = None
    liquid: bool = False
    """Whether it takes the shape of what it is poured into."""
    made_up: Colour = (0.0, 0.0, 0.0)
    """Light that is thrown to and fro between rough facets of a metal and comes out evenly, as an albedo (3,)."""

    @property
    def sharpest(self) -> float:
        """Width of the narrowest lobe that it mirrors its surroundings with; 1 where it mirrors nothing."""
        if self.lacquer is not None:
            return self.lacquer
        if self.base in ("metal", "glass"):
            return min(self.alpha)
        return self.coat.alpha if self.coat is not None else 1.0


Amounts = Mapping[str, float]


@dataclass(frozen=True)
class FinishClass:
    """A row of the table. `make` gives what it is made of from its colour (linear) and its amounts, all of them; `own` is the colour it
    begins with where that of a pigment would not do."""

    group: Group
    make: Callable[[Colour, Amounts], Made]
    amounts: tuple[Amount, ...] = ()
    own: str | None = None
    grain: GrainOf | None = None
    coloured: bool = True

    @property
    def ramps(self) -> bool:
        """Whether its colour may run into another: what is looked through or gives light has one all over."""
        return self.group not in ("glass and liquid", "light")

    def check(self, amounts: Amounts) -> None:
        """Raises HollowMarbleError where an amount is unknown or out of its limits."""
        known = {amount.name: amount for amount in self.amounts}
        for name, value in amounts.items():
            amount = known.get(name)
            if amount is None:
                raise HollowMarbleError(f"This material has no {name} to set.")
            if not amount.least <= value <= amount.most:
                raise HollowMarbleError(f"The {amount.words.lower()} goes from {amount.least:g} to {amount.most:g}.")

    def whole(self, amounts: Amounts) -> dict[str, float]:
        """All amounts: those chosen, the others as usual."""
        return {amount.name: float(amounts.get(amount.name, amount.usual)) for amount in self.amounts}


ROUGHNESS = Amount("roughness", "Roughness", 0.02, 0.7, 0.3)
LACQUER = Amount("lacquer", "Clear coat", 0, 1, 0, choices=("none", "gloss"))
METAL = Amount("metal", "Metal", 0, len(metals.METALS) - 1, 0, choices=metals.METALS)


def _over(made: Made, amounts: Amounts) -> Made:
    """With a clear coat where one was chosen."""
    return replace(made, lacquer=0.03) if amounts.get("lacquer", 0) >= 0.5 else made


def _plastic(ior: float, alpha: float | None = None) -> Callable[[Colour, Amounts], Made]:
    def make(colour: Colour, amounts: Amounts) -> Made:
        coat = coated(round(alpha or amounts["roughness"], 3), ior)
        return _over(Made("scatter", coat.base(colour), coat=coat), amounts)

    return make


def _bare(colour: Colour, amounts: Amounts) -> Made:
    return _over(Made("scatter", colour), amounts)


def _metal(
    along: float | None = None, across: float | None = None, usual: str | None = None
) -> Callable[[Colour, Amounts], Made]:
    def make(colour: Colour, amounts: Amounts) -> Made:
        rough = amounts["roughness"]
        alpha = (rough if along is None else along, rough if across is None else across)
        which = metals.METALS[round(amounts["metal"])]
        eta, k = metals.constants(which) if which in metals.CONSTANTS else (None, None)
        shade = metals.colour_of(which) if which != "as coloured" else colour
        return _over(Made("metal", shade, alpha, eta=eta, k=k, made_up=_made_up(alpha, shade)), amounts)

    return make


def _made_up(alpha: tuple[float, float], colour: Colour) -> Colour:
    """What one reflection at rough facets loses, given back evenly after more of them (Kulla & Conty 2017): each takes the colour once more."""
    wide = round((alpha[0] * alpha[1]) ** 0.5, 3)
    if wide < 0.02:
        return (0.0, 0.0, 0.0)
    kept, even = over_all(wide, None), 1 - at_front(wide, None)
    r, g, b = (even * c * c * kept / (1 - c * (1 - kept)) for c in colour)
    return r, g, b


def _anodised(colour: Colour, amounts: Amounts) -> Made:
    """Dyed pores over aluminium: the light passes the dye twice."""
    aluminium = metals.colour_of("aluminium")
    shade = (colour[0] * aluminium[0], colour[1] * aluminium[1], colour[2] * aluminium[2])
    rough = amounts["roughness"]
    return Made("metal", shade, (rough, rough), made_up=_made_up((rough, rough), shade), lacquer=0.12)


def _glass(rough: bool, *, liquid: bool = False) -> Callable[[Colour, Amounts], Made]:
    """Glass whose colour is what comes through so many mm of it, there and out again."""

    def make(colour: Colour, amounts: Amounts) -> Made:
        alpha = amounts["roughness"] if rough else 0.0
        return Made(
            "glass",
            (1.0, 1.0, 1.0),
            (alpha, alpha),
            amounts["index"],
            absorbs=absorption(colour, amounts["index"], amounts["at"]),
            liquid=liquid,
        )

    return make


def absorption(colour: Colour, ior: float, thickness: float) -> Colour:
    """Absorption per mm (3,) with which a plate of a thickness lets a colour through, its reflections apart: ln(1 / T) / d (Beer–Lambert)."""
    f = ((ior - 1) / (ior + 1)) ** 2
    through = (1 - f) ** 2
    r, g, b = (-math.log(min(max(c / through, 1e-4), 1.0)) / thickness for c in colour)
    return r, g, b


def _clear_glass(colour: Colour, amounts: Amounts) -> Made:
    """Clear glass, tinted at its surfaces: seen through both, with what they reflect, it is of the chosen colour whatever its thickness.
    With F reflected at each surface, F + (1 - F) t² of even light come back."""
    f = ((GLASS - 1) / (GLASS + 1)) ** 2
    r, g, b = (max((value - f) / (1 - f), 0.0) ** 0.5 for value in colour)
    return Made("glass", (r, g, b), ior=GLASS)


def _metallic(colour: Colour, amounts: Amounts) -> Made:
    coat = coated(0.25, 1.5)
    return Made("scatter", coat.base(colour), coat=None, flakes=(amounts["flakes"], amounts["size"]), lacquer=0.02)


def _glow(colour: Colour, amounts: Amounts) -> Made:
    r, g, b = (c * 2.0 ** amounts["power"] for c in colour)
    return Made("glow", (r, g, b))


GLASS = 1.5
"""Refractive index of clear glass (soda-lime, common practice)."""

_INDEX = Amount("index", "Refractive index", 1.0, 2.5, GLASS)
_AT = Amount("at", "Colour at a thickness of", 0.2, 200, 5, "mm")

FINISHES: dict[str, FinishClass] = {
    "matte plastic": FinishClass("plastic and rubber", _plastic(1.49), (replace(ROUGHNESS, usual=0.32), LACQUER)),
    "gloss plastic": FinishClass("plastic and rubber", _plastic(1.49), (replace(ROUGHNESS, usual=0.06, most=0.2), LACQUER)),
    "moulded plastic": FinishClass(
        "plastic and rubber", _plastic(1.49), (replace(ROUGHNESS, usual=0.38), LACQUER), grain=GrainOf("moulded", 0.5, 0.006, 0.0)
    ),
    "rubber": FinishClass("plastic and rubber", _plastic(1.3), (replace(ROUGHNESS, usual=0.5),)),
    "painted": FinishClass("paint", _plastic(1.5), (replace(ROUGHNESS, usual=0.12), LACQUER), grain=GrainOf("orange peel", 2.5, 0.004, 0.0)),
    "metallic paint": FinishClass(
        "paint", _metallic, (Amount("flakes", "Flakes", 0.05, 0.95, 0.55), Amount("size", "Size of a flake", 0.02, 2, 0.08, "mm"))
    ),
    "enamel": FinishClass("paint", _plastic(1.55), (replace(ROUGHNESS, usual=0.045, most=0.2),), grain=GrainOf("orange peel", 4.0, 0.006, 0.0)),
    "polished metal": FinishClass("metal", _metal(), (METAL, replace(ROUGHNESS, usual=0.07, most=0.2), LACQUER), own="#E4E0DA"),
    "brushed metal": FinishClass(
        "metal", _metal(along=0.08), (METAL, replace(ROUGHNESS, usual=0.34), LACQUER), own="#E4E0DA", grain=GrainOf("brushed", 6.0, 0.002, 0.0)
    ),
    "turned metal": FinishClass(
        "metal", _metal(along=0.1), (METAL, replace(ROUGHNESS, usual=0.25), LACQUER), own="#E4E0DA", grain=GrainOf("rings", 0.28, 0.006, 0.0)
    ),
    "blasted metal": FinishClass(
        "metal", _metal(), (METAL, replace(ROUGHNESS, usual=0.42), LACQUER), own="#D8D4CD", grain=GrainOf("moulded", 0.25, 0.008, 0.0)
    ),
    "anodised metal": FinishClass("metal", _anodised, (replace(ROUGHNESS, usual=0.26),), grain=GrainOf("moulded", 0.15, 0.002, 0.0)),
    "clear glass": FinishClass("glass and liquid", _clear_glass, own="#F6F8F7"),
    "tinted glass": FinishClass("glass and liquid", _glass(False), (_INDEX, _AT), own="#7FA894"),
    "frosted glass": FinishClass("glass and liquid", _glass(True), (_INDEX, _AT, replace(ROUGHNESS, usual=0.22)), own="#E6ECEA"),
    "liquid": FinishClass("glass and liquid", _glass(False, liquid=True), (replace(_INDEX, usual=1.333), replace(_AT, usual=40)), own="#C9DDE3"),
    "wood": FinishClass("natural", _plastic(1.4), (replace(ROUGHNESS, usual=0.42), LACQUER), own="#B58B5E", grain=GrainOf("wood", 18.0, 0.02, 1.0)),
    "stone": FinishClass("natural", _plastic(1.5), (replace(ROUGHNESS, usual=0.45),), own="#8C8983", grain=GrainOf("stone", 26.0, 0.06, 1.0)),
    "leather": FinishClass("natural", _plastic(1.4), (replace(ROUGHNESS, usual=0.36),), own="#5B3A29", grain=GrainOf("leather", 1.8, 0.12, 0.6)),
    "woven fabric": FinishClass("woven and sheet", _bare, grain=GrainOf("weave", 1.2, 0.16, 0.7)),
    "paper": FinishClass("woven and sheet", _bare),
    "carbon weave": FinishClass(
        "woven and sheet", _plastic(1.5), (replace(ROUGHNESS, usual=0.05, most=0.3),), own="#1B1C1E", grain=GrainOf("twill", 4.0, 0.0, 1.0)
    ),
    "glowing": FinishClass("light", _glow, (Amount("power", "Power", -6, 8, 1, "stops"),), own="#FFF4E2"),
}  # fmt: skip
"""Every material by its name."""


@dataclass(frozen=True)
class Material:
    """What was chosen of a material: its kind, a colour (#rrggbb) and amounts."""

    kind: str
    colour: str
    amounts: tuple[tuple[str, float], ...] = ()


def made(material: Material) -> Made:
    """What a material is made of."""
    r, g, b = (float(v) for v in hex_to_linear(material.colour))
    return made_in(material.kind, (r, g, b), dict(material.amounts))


def made_in(kind: str, colour: Colour, amounts: Amounts | None = None) -> Made:
    """What a material of a linear colour is made of."""
    row = FINISHES[kind]
    found = row.make(colour, row.whole(amounts or {}))
    return replace(found, grain=found.grain or row.grain)
