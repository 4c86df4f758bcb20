"""Finishes of parts. What a material is made of stands in `core.studio.finishes`; here is what is chosen of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field, model_validator

from hollow_marble.core.studio.finishes import FINISHES, Made, Material, Ramp, made
from hollow_marble.core.studio.grains import GRAINS
from hollow_marble.core.studio.mapping import AXES
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.model import Colour

if TYPE_CHECKING:
    FinishKind = str
    GrainKind = str
else:  # the tables say what there is
    FinishKind = Literal[tuple(FINISHES)]
    GrainKind = Literal[tuple(GRAINS)]


class Lay(Frozen):
    """How what has a direction lies on the surface: along which lines it is unrolled, turned and moved."""

    by: Literal["as it lies best", "box", "plane", "cylinder", "turned", "block", "faces"] = "as it lies best"
    axis: Literal["width", "depth", "height"] = "height"
    turn: float = Field(0.0, ge=-180, le=180, description="degrees")
    move: tuple[float, float] = (0.0, 0.0)


class Grain(Frozen):
    """A grain worked out by rule, its size in mm. `depth` is how far it goes in, mm; `strength` how much it colours, 0 to 1."""

    kind: GrainKind
    size: float = Field(1.0, ge=0.02, le=1_000)
    depth: float = Field(0.01, ge=0, le=5)
    strength: float = Field(1.0, ge=0, le=1)
    second: Colour | None = None


class Laid(Frozen):
    """A picture laid on the surface as colour, bump or roughness; `width` is how wide it lies, mm; `depth` of white over black, mm."""

    picture: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field("Picture", max_length=60)
    use: Literal["colour", "bump", "roughness"] = "colour"
    width: float = Field(40.0, ge=0.5, le=5_000)
    depth: float = Field(0.1, ge=0, le=5)


class Fade(Frozen):
    """A finish's colour that runs into another along an axis of the form, mm from the low end of the part: its own up to `begin`, the other
    from `end` on."""

    to: Colour = "#F2EEE6"
    axis: Literal["width", "depth", "height"] = "height"
    begin: float = Field(20.0, ge=-5_000, le=5_000)
    end: float = Field(80.0, ge=-5_000, le=5_000)

    @model_validator(mode="after")
    def _long(self) -> Fade:
        if abs(self.end - self.begin) < 0.01:
            raise ValueError("A colour ramp begins and ends at two places. Set them apart.")
        return self

    def ramp(self) -> Ramp:
        """Where it runs into the other."""
        return Ramp(AXES[self.axis], self.begin, self.end)


class Finish(Frozen):
    """Colour and material of a part.

    amounts : what was chosen of the material's own numbers, by name; the others are as the table says
    """

    material: FinishKind = "matte plastic"
    colour: Colour = "#C9C4BA"
    amounts: dict[str, float] = {}
    grain: Grain | None = None
    pictures: Annotated[tuple[Laid, ...], Field(max_length=3)] = ()
    ramp: Fade | None = None
    lay: Lay = Lay()

    @model_validator(mode="after")
    def _fits(self) -> Finish:
        FINISHES[self.material].check(self.amounts)
        if len({laid.use for laid in self.pictures}) != len(self.pictures):
            raise ValueError("two pictures have one use")
        if self.ramp is not None:
            if not FINISHES[self.material].ramps:
                raise ValueError(f"{self.material} takes no colour ramp.")
            if any(laid.use == "colour" for laid in self.pictures):
                raise ValueError("A picture gives the colour here already. Take it off, then add a colour ramp.")
        return self

    def other(self) -> Finish:
        """What it runs into: the same in the other colour."""
        return self.model_copy(update={"colour": self.ramp.to if self.ramp else self.colour, "ramp": None})

    def made(self) -> Made:
        """What it is made of."""
        return self.derived(
            "made", lambda: made(Material(self.material, self.colour, tuple(sorted(self.amounts.items()))))
        )
