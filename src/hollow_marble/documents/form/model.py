"""A form, its parts and the steps of their recipes. Lengths mm, angles degrees; x width, y depth (front is -y), z up."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.cage.joins import merged
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.materials import Material
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.form import built as b
from hollow_marble.documents.form import changes as c
from hollow_marble.documents.form.checking import Accepted, Checking, KeptLine
from hollow_marble.documents.form.curves import DrawnCurve, JoinedCurves, MirroredCurve, OffsetCurve
from hollow_marble.documents.form.details import DetailChange, OtherSide
from hollow_marble.documents.form.recipe import Inputs, Making, keys_of, slipped_in
from hollow_marble.documents.form.spreads import MadeReal, Repeated, Spread, Stitched
from hollow_marble.documents.form.starts import ShapedStart
from hollow_marble.documents.form.steps import CageStep, FormSymmetry, Vector, body_in, symmetry_of_old


class MergedCage(CageStep):
    """Take in the cage of another part, whose recipe goes along."""

    kind: Literal["merged"] = "merged"
    name: str
    steps: tuple[Step, ...] = Field(min_length=1)

    def made(self, inputs: Inputs, making: Making) -> Body:
        other: Body | None = None
        for index, (step, key) in enumerate(zip(self.steps, keys_of(self.steps))):
            inner = replace(making, key=key, origin=f"{making.origin}/{index}:{step.kind}")
            other = step.made({} if other is None else {"of": other}, inner)
        taken_in = other.control if other is not None else None
        if taken_in is None:
            raise HollowMarbleError(f"{self.name} has no cage to merge.")
        return body_in(inputs).reshaped(making.key, making.origin, lambda cage: merged(cage, taken_in))

    def sentence(self) -> str:
        return f"Merged in {self.name}"


Built = (
    b.TurnedProfile
    | b.ExtrudedProfile
    | b.SweptProfile
    | b.RailedProfile
    | b.PipedPath
    | b.LoftedProfiles
    | b.BroughtSolid
)
"""What a part can begin with or go on with."""

CageChange = (
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
    | c.FairedPoints
    | c.MendedMesh
    | c.SplitFaces
    | c.WeldedPoints
    | c.DetachedFaces
    | c.MirroredFaces
    | c.MirroredSide
)
SolidChange = (
    b.Combined
    | b.RoundedEdges
    | b.ChamferedEdges
    | b.Hollowed
    | b.MovedOut
    | b.Capped
    | b.SplitSolid
    | b.RepeatedAlong
    | b.RepeatedRound
    | b.MirroredSolid
    | b.HealedSolid
    | b.MadeExact
    | OffsetCurve
    | MirroredCurve
    | JoinedCurves
    | MadeReal
)
Many = Spread | Repeated | Stitched
Start = Annotated[ShapedStart | DrawnCurve | Built | b.MadeExact | OtherSide | Many, Field(discriminator="kind")]
Change = Annotated[CageChange | SolidChange | Built | DetailChange, Field(discriminator="kind")]
Step = Annotated[
    ShapedStart | DrawnCurve | Built | CageChange | SolidChange | DetailChange | OtherSide | Many | MergedCage,
    Field(discriminator="kind"),
]
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
    def shaped(self) -> bool:
        """Whether it can be shaped, and not only placed as a whole."""
        return self.steps[0].gives_shape

    @property
    def draws(self) -> bool:
        """Whether it is a curve, for others to be built of."""
        return self.steps[0].draws

    @property
    def shown(self) -> bool:
        """Whether it is seen: in pictures, in weights, in what is sent out. Curves never are."""
        return self.visible and not self.draws

    @property
    def takes_in_others(self) -> bool:
        """Whether its recipe takes in other parts, so that it changes when they do."""
        return self.derived("takes_in", lambda: _takes_in(self.steps))

    def takes_in(self, ident: str) -> bool:
        """Whether its recipe takes in a certain part."""
        return any(s.kind == "part" and s.part == ident for step in self.steps for s in step.inputs.values())

    @property
    def keys(self) -> tuple[str, ...]:
        """The keys of its recipe's nodes, where it takes in no other part."""
        return self.derived("keys", lambda: keys_of(self.steps))

    @property
    def bare(self) -> Part:
        """The part as it is beneath the details on its skin."""
        first = next((k for k, step in enumerate(self.steps) if step.detail), len(self.steps))
        return self if first == len(self.steps) else self.model_copy(update={"steps": self.steps[:first]})

    def with_step(self, step: Step) -> Part:
        """The part with one more step; what is known of the others is kept. What shapes goes in beneath the details on the skin."""
        beneath = len(self.bare.steps)
        if beneath < len(self.steps) and not (step.detail or step.kind == "stood"):
            return self.model_copy(update={"steps": slipped_in(self.steps, beneath, step)})
        more = self.model_copy(update={"steps": (*self.steps, step)})
        if not self.takes_in_others:
            more.seed("keys", keys_of(more.steps, self.keys))
            more.seed("takes_in", _takes_in((step,)))
        return more

    def told(self) -> dict[str, Any]:
        """The part as the interface gets it."""
        return {**self.model_dump(mode="json", exclude={"steps"}), "steps": [step.told() for step in self.steps]}


def _takes_in(steps: tuple[Step, ...]) -> bool:
    return any(source.kind == "part" for step in steps for source in step.inputs.values())


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


class FeatureAnchor(Frozen):
    """A place of a built part by the faces that meet there: a corner, the middle of a straight edge, the centre of a round one. Where
    several are alike it is the one nearest to `place`, mm, where it was when it was set."""

    part: str
    on: Annotated[tuple[str, ...], Field(min_length=1, max_length=40)]
    at: Literal["corner", "middle", "centre"]
    place: Vector


class Measure(Frozen):
    """A dimension between two points: straight, or along one direction."""

    id: str
    first: Anchor | FeatureAnchor
    second: Anchor | FeatureAnchor
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
    # left out where nothing was said, so that states of earlier versions are the same to the byte
    checking: Checking = Field(Checking(), exclude_if=lambda checking: checking == Checking())
    accepted: tuple[Accepted, ...] = Field((), exclude_if=lambda accepted: not accepted)
    lines: tuple[KeptLine, ...] = Field((), exclude_if=lambda lines: not lines)

    def unlike(self, other: Form) -> list[Part]:
        """Parts that are not just what they are in another state of the form, and those whose recipes take in other parts."""
        known = {part.id: part for part in other.parts}
        return [part for part in self.parts if known.get(part.id) is not part or part.takes_in_others]
