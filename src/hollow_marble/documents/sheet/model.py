"""A sheet and what lies on it. Places and lengths are page pixels, angles degrees."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.documents.edit import Frozen

Rect = tuple[int, int, int, int]
"""Left, top, right, bottom in page px; right and bottom are not included."""

Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
"""An sRGB colour as #rrggbb."""

ViewKind = Literal["front", "side", "top", "three-quarter"]
NibName = Literal["pencil", "lifter"]

PAPER = "#FFFEFA"
INK = "#20282B"


def rgb(colour: str) -> tuple[int, int, int]:
    """Red, green, blue 0 to 255."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


class Axis(Frozen):
    """A line on the page strokes are mirrored across."""

    x: float
    y: float
    angle: float = Field(90.0, description="degrees from the page's x direction; 90 is upright")


class Stroke(Frozen):
    """One stroke. `samples` is the SHA-256 of (N, 3) float32 x, y, pressure."""

    id: str
    nib: NibName
    size: float
    tone: float
    colour: Colour
    samples: str
    bounds: Rect
    mirror: Axis | None = None
    mirror_bounds: Rect | None = None


class InkLayer(Frozen):
    """Strokes that stay strokes, in the order they were drawn."""

    kind: Literal["ink"] = "ink"
    id: str
    name: str
    visible: bool = True
    opacity: float = Field(1.0, ge=0, le=1)
    strokes: tuple[Stroke, ...] = ()


class PictureLayer(Frozen):
    """A picture placed on the page. `picture` is the SHA-256 of a PNG."""

    kind: Literal["picture"] = "picture"
    id: str
    name: str
    visible: bool = True
    opacity: float = Field(1.0, ge=0, le=1)
    picture: str
    rect: Rect


Layer = Annotated[InkLayer | PictureLayer, Field(discriminator="kind")]


class View(Frozen):
    """A framed region of the page that shows the product from one side."""

    id: str
    name: str
    view: ViewKind
    rect: Rect
    struck: bool = False


class Symmetry(Frozen):
    """Mirror symmetry while drawing."""

    on: bool = False
    axis: Axis


class Sheet(Frozen):
    """One page; layers lowest first."""

    width: int = Field(2400, ge=64, le=12000)
    height: int = Field(1600, ge=64, le=12000)
    paper: Colour = PAPER
    layers: tuple[Layer, ...] = (InkLayer(id="rough", name="Rough"),)
    views: tuple[View, ...] = ()
    symmetry: Symmetry = Symmetry(axis=Axis(x=1200, y=800))
