"""Finishes: one table of materials, and what each is made of for the tracer, the live view and glTF.

* `table`: the materials, what can be chosen of them, what they are made of
* `coats`: clear coats over bases that scatter
* `metals`: measured optical constants
* `looks`: the same for metal-and-roughness renderers
"""

from hollow_marble.core.studio.finishes.coats import UNDER, Coated, Colour, coated
from hollow_marble.core.studio.finishes.looks import Look, Ramp, look_of
from hollow_marble.core.studio.finishes.table import (
    FINISHES,
    Amount,
    FinishClass,
    GrainOf,
    Made,
    Material,
    made,
    made_in,
)

__all__ = [
    "FINISHES",
    "UNDER",
    "Amount",
    "Coated",
    "Colour",
    "FinishClass",
    "GrainOf",
    "Look",
    "Made",
    "Material",
    "Ramp",
    "coated",
    "look_of",
    "made",
    "made_in",
]
