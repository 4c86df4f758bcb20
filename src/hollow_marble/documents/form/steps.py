"""What every step of a recipe has in common, and the symmetry steps are made under."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field, model_validator

from hollow_marble.core.cage.mesh import CREASE_SCALE, SHARP, Cage
from hollow_marble.core.cage.symmetry import Mates
from hollow_marble.core.cage.symmetry import Symmetry as CoreSymmetry
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, LoadAsset

Vector = tuple[float, float, float]
Edge = tuple[int, int]
Letter = Literal["W", "D", "H"]
LETTERS = "WDH"


class FormSymmetry(Frozen):
    """Across planes through the origin, or by turns about an axis through `centre` (mm); not both."""

    planes: tuple[Letter, ...] = ()
    axis: Letter = "H"
    turns: int = Field(1, ge=1, le=128)
    centre: Vector = (0.0, 0.0, 0.0)

    def core(self) -> CoreSymmetry:
        """The same for the computation."""
        planes = tuple(sorted({LETTERS.index(letter) for letter in self.planes}))
        return CoreSymmetry(planes, LETTERS.index(self.axis), self.turns, self.centre)

    def words(self) -> str:
        """As it is said: across width and depth, 6 turns about H."""
        if self.planes:
            names = {"W": "width", "D": "depth", "H": "height"}
            return "across " + " and ".join(names[letter] for letter in sorted(set(self.planes), key=LETTERS.index))
        return f"{self.turns} turns about {self.axis}"


ACROSS_W = FormSymmetry(planes=("W",))


def symmetry_of_old(value: Any) -> Any:
    """Recipes of earlier versions said `symmetric: true` for symmetry across width."""
    if isinstance(value, dict) and "symmetric" in value:
        value = {name: field for name, field in value.items() if name != "symmetric"} | {
            "symmetry": {"planes": ["W"]} if value["symmetric"] else None
        }
    return value


class StartStep(Frozen):
    """A step that a recipe begins with."""

    def made(self, load: LoadAsset) -> Cage:
        """The first cage. `load` gives the bytes of an asset."""
        raise NotImplementedError


class CageStep(Frozen):
    """A step that changes a cage."""

    symmetry: FormSymmetry | None = None

    @model_validator(mode="before")
    @classmethod
    def _old(cls, value: Any) -> Any:
        return symmetry_of_old(value)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        """The cage after this step; `mates` where the step has a symmetry. Raises HollowMarbleError where it does not fit."""
        raise NotImplementedError


def sharpness_of(crease: float, sharp: bool) -> float:
    """Sharpness of a crease of 0 to 1, or of a fully sharp one."""
    return SHARP if sharp else crease * CREASE_SCALE


def counted(count: int, noun: str) -> str:
    """A number with its noun."""
    return f"{count} {noun}{'' if count == 1 else 's'}"


def need(found: Any, sentence: str) -> Any:
    """What was found, or a sentence that it is missing."""
    if not found:
        raise HollowMarbleError(sentence)
    return found
