"""What every step of a recipe has in common, and the symmetry steps are made under."""

from __future__ import annotations

from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field, model_validator

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.cage_body import cage_body
from hollow_marble.core.cage.mesh import CREASE_SCALE, SHARP, Cage
from hollow_marble.core.cage.symmetry import Mates
from hollow_marble.core.cage.symmetry import Symmetry as CoreSymmetry
from hollow_marble.core.cage.topology import SheetError
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, LoadAsset
from hollow_marble.documents.form.recipe import Inputs, Making, Source

Vector = tuple[float, float, float]
Edge = tuple[int, int]
Length = Annotated[float, Field(ge=-100_000, le=100_000)]
"""mm, to either side."""
Letter = Literal["W", "D", "H"]
LETTERS = "WDH"
LEVEL = 3
"""Refinements a cage is worked on at unless its part says otherwise."""


class FormSymmetry(Frozen):
    """Across planes through the origin, or by turns about an axis through `centre` (mm); not both."""

    planes: tuple[Letter, ...] = ()
    axis: Letter = "H"
    turns: int = Field(1, ge=1, le=128)
    centre: tuple[Length, Length, Length] = (0.0, 0.0, 0.0)

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


class Node(Frozen):
    """A step of a recipe.

    inputs : what it works on beside what the step before it made
    tag : names the faces it makes, wherever in the recipe it comes to stand; its place and kind do where it has none
    said : what it did, in words; told by the server, never stored
    """

    gives_shape: ClassVar[bool] = True
    """Whether what it makes, or does, is shaping: a still body is not shaped, standing elsewhere is not shaping."""

    keeps_cage: ClassVar[bool] = True
    """Whether what it makes has a cage, where what it works on has one."""

    draws: ClassVar[bool] = False
    """Whether a part that begins with it is a curve, for others to be built of."""

    detail: ClassVar[bool] = False
    """Whether it lies on a skin: such steps stay on top of what shapes it."""

    lays_line: ClassVar[bool] = False
    """Whether it lays a line that later steps can be made along."""

    what: ClassVar[str] = "a cage"
    """What a part is that begins with it, in words."""

    told_whole: ClassVar[bool] = True
    """A changed step is told whole, for what it says of itself changes with its numbers."""

    inputs: dict[str, Source] = Field(default_factory=dict, exclude_if=lambda inputs: not inputs)
    tag: str = Field("", max_length=40, exclude_if=lambda tag: not tag)
    said: str = Field("", exclude=True)

    def sentence(self) -> str:
        """What it does, as it stands in the recipe and in the ledger."""
        raise NotImplementedError

    def made(self, inputs: Inputs, making: Making) -> Body:
        """The body this step makes of its inputs. Raises HollowMarbleError where they do not fit."""
        raise NotImplementedError

    def check_after(self, before: Node) -> None:
        """Refuse what is not to become of the step as it was before."""

    def told(self) -> dict[str, Any]:
        """The step as the interface gets it."""
        return self.derived("told", lambda: {**self.model_dump(mode="json"), "said": self.sentence()})


class StartStep(Node):
    """A step that a recipe begins with."""

    def first_cage(self, load: LoadAsset) -> Cage:
        """The first cage. `load` gives the bytes of an asset."""
        raise NotImplementedError

    def made(self, inputs: Inputs, making: Making) -> Body:
        return cage_body(making.key, self.first_cage(making.load), making.origin, LEVEL, making.shelf)


class CageStep(Node):
    """A step that changes a cage."""

    symmetry: FormSymmetry | None = None

    @model_validator(mode="before")
    @classmethod
    def _old(cls, value: Any) -> Any:
        return symmetry_of_old(value)

    def applied_to(self, cage: Cage, mates: Mates | None) -> Cage:
        """The cage after this step; `mates` where the step has a symmetry. Raises HollowMarbleError where it does not fit."""
        raise NotImplementedError

    def on_cage(self, making: Making, cage: Cage) -> Cage:
        """The cage after this step, under the step's symmetry."""
        mates = making.mates(cage, self.symmetry.core()) if self.symmetry is not None else None
        try:
            return self.applied_to(cage, mates)
        except SheetError as error:
            raise HollowMarbleError(
                f"That would not leave a single sheet: {error.because}. Pick other items, or change its numbers, and try again."
            ) from error

    def made(self, inputs: Inputs, making: Making) -> Body:
        return body_in(inputs).reshaped(making.key, making.origin, lambda cage: self.on_cage(making, cage))


def body_in(inputs: Inputs, name: str = "of") -> Body:
    """The body among a node's inputs."""
    found = inputs.get(name)
    if not isinstance(found, Body):
        raise HollowMarbleError("The recipe has no start. Begin it with a box or an imported cage.")
    return found


def sharpness_of(crease: float, sharp: bool) -> float:
    """Sharpness of a crease of 0 to 1, or of a fully sharp one."""
    return SHARP if sharp else crease * CREASE_SCALE


def counted(count: int, noun: str) -> str:
    """A number with its noun."""
    return f"{count} {noun}{'' if count == 1 else 's'}"
