"""A form, its parts and the steps of their recipes. Lengths mm, angles degrees; x width, y depth (front is -y), z up."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from hollow_marble.core.cage.joins import merged
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.materials import Material
from hollow_marble.documents.edit import Frozen, LoadAsset
from hollow_marble.documents.form import changes as c
from hollow_marble.documents.form.folding import fold
from hollow_marble.documents.form.starts import Start
from hollow_marble.documents.form.steps import CageStep, FormSymmetry, Vector, symmetry_of_old


class MergedCage(CageStep):
    """Take in the cage of another part, whose recipe goes along."""

    kind: Literal["merged"] = "merged"
    name: str
    steps: tuple[Step, ...] = Field(min_length=1)

    def merged_into(self, cage: Cage, load: LoadAsset) -> Cage:
        return merged(cage, fold(self.steps, load))

    def sentence(self) -> str:
        return f"Merged in {self.name}"


Change = Annotated[
    c.PlacedPoints
    | c.StoodPart
    | c.ExtrudedFaces
    | c.GrownEdges
    | c.CreasedEdges
    | c.CreasedPoints
    | c.AddedRow
    | c.InsetFaces
    | c.FilledOpening
    | c.RemovedFaces
    | c.BevelledEdges
    | c.Bridged
    | c.SlidRow
    | c.FittedRow
    | c.CutFaces
    | c.DissolvedEdges
    | c.DissolvedPoints
    | c.SplitFaces
    | c.WeldedPoints
    | c.DetachedFaces
    | c.MirroredFaces
    | c.MirroredSide,
    Field(discriminator="kind"),
]
Step = Annotated[Start | Change | MergedCage, Field(discriminator="kind")]
MergedCage.model_rebuild()


class NamedPick(Frozen):
    """A pick kept under a name, as it was when the recipe had `steps` steps."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: Literal["points", "edges", "faces"]
    items: tuple[int, ...] = Field(min_length=1)
    steps: int


class Part(Frozen):
    """One piece of the product: the steps that make its cage, in order.

    link : the part whose recipe this one repeats; its own last step says where it stands
    material : what it is made of, for its weight
    level, take_level : refinements on the screen and, where it is given, in takes
    """

    id: str
    name: str
    visible: bool = True
    locked: bool = False
    group: str | None = None
    symmetry: FormSymmetry | None = None
    level: int = Field(3, ge=1, le=5)
    take_level: int | None = Field(None, ge=1, le=6)
    material: Material | None = None
    link: str | None = None
    picks: tuple[NamedPick, ...] = ()
    steps: tuple[Step, ...]

    @model_validator(mode="before")
    @classmethod
    def _old(cls, value: Any) -> Any:
        return symmetry_of_old(value)

    @property
    def still(self) -> bool:
        """Whether it is a mesh that is not shaped."""
        return self.steps[0].kind == "still"


Plane = Literal["front", "side", "top", "sketch"]


class Reference(Frozen):
    """A sheet's view pinned behind the form.

    Two points of the page (`line`) are `length` mm apart; their middle stands at the origin of the plane. In the plane
    "sketch" the view stands as it was drawn in perspective: the middle of the sheet's construction box at the origin, size
    and eye from the box.
    """

    id: str
    sheet: str
    view: str
    plane: Plane
    line: tuple[tuple[float, float], tuple[float, float]]
    length: float = Field(gt=0, le=100_000)
    opacity: float = Field(0.5, ge=0, le=1)
    visible: bool = True
    outline: bool = False


class Anchor(Frozen):
    """A point of a part's cage, on the skin above it."""

    part: str
    point: int = Field(ge=0)


class Measure(Frozen):
    """A dimension between two points: straight, or along one direction."""

    id: str
    first: Anchor
    second: Anchor
    along: Literal["straight", "W", "D", "H"] = "straight"


class Seat(Frozen):
    """A seat of the handle kept under a name: a place in mm and three directions square to one another."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    place: Vector
    directions: tuple[Vector, Vector, Vector]


class Form(Frozen):
    """Parts in the order they were made, what stands behind them, and what is kept beside them."""

    parts: tuple[Part, ...] = ()
    references: tuple[Reference, ...] = ()
    measures: tuple[Measure, ...] = ()
    seats: tuple[Seat, ...] = ()
