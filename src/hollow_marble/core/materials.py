"""What parts are made of, for how much they weigh. Densities in g/cm³ at room temperature, common handbook values."""

from __future__ import annotations

from typing import Literal, get_args

Material = Literal[
    "ABS",
    "polypropylene",
    "polycarbonate",
    "polyamide",
    "silicone",
    "aluminium",
    "steel",
    "stainless steel",
    "brass",
    "zinc",
    "glass",
    "stoneware",
    "beech",
    "cork",
]
MATERIALS: tuple[Material, ...] = get_args(Material)

DENSITY: dict[Material, float] = {
    "ABS": 1.05,
    "polypropylene": 0.91,
    "polycarbonate": 1.20,
    "polyamide": 1.14,
    "silicone": 1.15,
    "aluminium": 2.70,
    "steel": 7.85,
    "stainless steel": 7.95,
    "brass": 8.50,
    "zinc": 6.70,
    "glass": 2.50,
    "stoneware": 2.30,
    "beech": 0.72,
    "cork": 0.20,
}


def grams(volume_mm3: float, material: Material) -> float:
    """Weight of a solid of a volume in mm³."""
    return volume_mm3 / 1000 * DENSITY[material]
