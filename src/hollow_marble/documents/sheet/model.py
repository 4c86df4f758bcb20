"""A sheet and what lies on it. Places and lengths are page pixels, angles degrees."""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.drafting.box import Face
from hollow_marble.core.drafting.sweeps import Family
from hollow_marble.core.ink.blend import Mode
from hollow_marble.documents.edit import Frozen

Rect = tuple[int, int, int, int]
"""Left, top, right, bottom in page px; right and bottom are not included."""

Place = tuple[float, float]

Quad = tuple[Place, Place, Place, Place]
"""Corners of a picture on the page: upper left, upper right, lower right, lower left of the picture itself."""

Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
"""An sRGB colour as #rrggbb."""

Name = Annotated[str, Field(min_length=1, max_length=60)]
ViewKind = Literal["front", "side", "top", "three-quarter"]
LineStyle = Literal["plain", "split", "hidden"]
"""How a line is broken: not at all; long and short in turn, where the product comes apart; short, for what lies behind."""

Font = Literal["sans", "sans strong", "serif"]
NibName = Literal["pencil", "fineliner", "marker", "mist", "grain", "lifter", "soft lifter"]

PAPER = "#FFFEFA"
INK = "#20282B"


def rgb(colour: str) -> tuple[int, int, int]:
    """Red, green, blue 0 to 255."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


class Axis(Frozen):
    """A line on the page through the centre of a symmetry."""

    x: float
    y: float
    angle: float = Field(90.0, description="degrees from the page's x direction; 90 is upright")


class Repeat(Frozen):
    """How a stroke is repeated: across an axis, around its centre, or both."""

    axis: Axis
    mirror: bool = True
    turns: int = Field(1, ge=1, le=24)


class Stroke(Frozen):
    """One stroke. `samples` is the SHA-256 of (N, 4) float32 x, y, pressure, lean.

    bounds : pixels the stroke itself can touch; copies : the same for each copy under `repeat`
    inside : drawn with the layer's transparency locked, so it shows only where there was ink before it
    line : how the line is broken
    """

    id: str
    nib: NibName
    size: float = Field(gt=0, le=600)
    tone: float = Field(gt=0, le=1)
    colour: Colour = INK
    samples: str
    bounds: Rect
    repeat: Repeat | None = None
    copies: tuple[Rect, ...] = ()
    inside: bool = False
    line: LineStyle = "plain"


class LayerBase(Frozen):
    """What every layer has.

    group : id of the group it lies in
    locked : nothing on it can be changed
    lock_paint : paint stays within what is painted already
    clipped : shows only where the layer below has paint
    """

    id: str
    name: str
    visible: bool = True
    opacity: float = Field(1.0, ge=0, le=1)
    mode: Mode = "normal"
    group: str | None = None
    locked: bool = False
    lock_paint: bool = False
    clipped: bool = False


class InkLayer(LayerBase):
    """Strokes that stay strokes, in the order they were drawn."""

    kind: Literal["ink"] = "ink"
    strokes: tuple[Stroke, ...] = ()

    @property
    def colours(self) -> Counter[str]:
        """How often each colour is drawn with; not to be written to."""
        return self.derived("colours", lambda: Counter(stroke.colour for stroke in self.strokes))

    def with_strokes(self, strokes: tuple[Stroke, ...]) -> InkLayer:
        """The layer with more strokes on top; what is known of the others is kept."""
        more = self.model_copy(update={"strokes": (*self.strokes, *strokes)})
        more.seed("colours", self.colours + Counter(stroke.colour for stroke in strokes))
        return more


class ToneLayer(LayerBase):
    """Painted pixels. `tiles` maps "column,row" of the page's tiles to the SHA-256 of their pixels; bare tiles are left
    out. The tint colours what is painted without touching its values."""

    kind: Literal["tone"] = "tone"
    tiles: dict[str, str] = {}
    tint: Colour | None = None


class PictureLayer(LayerBase):
    """A picture placed on the page. `picture` is the SHA-256 of a PNG."""

    kind: Literal["picture"] = "picture"
    picture: str
    quad: Quad


class GroupLayer(LayerBase):
    """Layers that are shown, blended and faded as one."""

    kind: Literal["group"] = "group"


class NoteBase(Frozen):
    """What every note has: an id, its colour, and the height of its letters in px."""

    id: str
    colour: Colour = INK
    size: float = Field(30.0, gt=2, le=800)


class Lettering(NoteBase):
    """Words on the page that stay words. `at` is the left end (or middle, or right end) of the first line's foot."""

    kind: Literal["lettering"] = "lettering"
    words: Annotated[str, Field(min_length=1, max_length=2000)]
    at: Place
    font: Font = "sans"
    turn: float = 0.0
    align: Literal["left", "middle", "right"] = "left"


class Callout(NoteBase):
    """Words with a leader line to the place they speak of."""

    kind: Literal["callout"] = "callout"
    words: Annotated[str, Field(min_length=1, max_length=500)]
    to: Place
    at: Place


class Dimension(NoteBase):
    """A length between two places, drawn `off` px beside them; in mm where the view around it has a scale."""

    kind: Literal["dimension"] = "dimension"
    start: Place
    end: Place
    off: float = 60.0


class Arrow(NoteBase):
    """An arrow; `bend` carries its middle aside, as a share of its length."""

    kind: Literal["arrow"] = "arrow"
    start: Place
    end: Place
    bend: float = Field(0.0, ge=-1, le=1)


Note = Annotated[Lettering | Callout | Dimension | Arrow, Field(discriminator="kind")]


class NotesLayer(LayerBase):
    """Words, callouts, dimensions and arrows, in the order they were put."""

    kind: Literal["notes"] = "notes"
    notes: tuple[Note, ...] = ()


Layer = Annotated[InkLayer | ToneLayer | PictureLayer | GroupLayer | NotesLayer, Field(discriminator="kind")]


class View(Frozen):
    """A framed region of the page that shows the product from one side. `scale` is px a mm, where one is known."""

    id: str
    name: str
    view: ViewKind
    rect: Rect
    struck: bool = False
    scale: float | None = Field(None, gt=0, le=10_000)


class Perspective(Frozen):
    """The perspective drawn in: how many vanishing points are finite, principal point and focal length px, angles."""

    points: Literal[1, 2, 3]
    principal: Place
    focal: float = Field(gt=20, le=2_000_000)
    turn: float = Field(0.0, ge=-180, le=180)
    tilt: float = Field(0.0, ge=-89, le=89)
    roll: float = Field(0.0, ge=-180, le=180)
    shown: bool = True


class ConstructionBox(Frozen):
    """A box of W × D × H mm in the perspective: its base's middle on the page, px a mm there."""

    size: tuple[float, float, float]
    at: Place
    scale: float = Field(gt=0.001, le=10_000)
    shown: bool = True


class Straightedge(Frozen):
    """A straight guide between two places."""

    kind: Literal["straightedge"] = "straightedge"
    id: str
    start: Place
    end: Place


class EllipseGuide(Frozen):
    """An elliptical guide: centre, half axes in px, turn of the first axis from the page's x direction."""

    kind: Literal["ellipse"] = "ellipse"
    id: str
    centre: Place
    across: float = Field(gt=1, le=12000)
    down: float = Field(gt=1, le=12000)
    turn: float = 0.0


class CircleGuide(Frozen):
    """A circle on a face of the construction box, mm along the face's two directions."""

    kind: Literal["circle"] = "circle"
    id: str
    face: Face
    centre: Place
    radius: float = Field(gt=0, le=10_000)


class DivisionGuide(Frozen):
    """A rectangle, square-on or in perspective, divided and carried on in equal units.

    quad : its corners: first, along, opposite, down; face : instead, a face of the construction box
    """

    kind: Literal["division"] = "division"
    id: str
    quad: Quad | None = None
    face: Face | None = None
    columns: int = Field(2, ge=1, le=40)
    rows: int = Field(2, ge=1, le=40)
    on_across: int = Field(0, ge=-12, le=12)
    on_down: int = Field(0, ge=-12, le=12)
    crossed: bool = True


class SweepGuide(Frozen):
    """A sweep curve: where it begins, how it is turned, how long it is, how much it bends, which way."""

    kind: Literal["sweep"] = "sweep"
    id: str
    family: Family = "easing"
    at: Place
    turn: float = 0.0
    length: float = Field(gt=4, le=20_000)
    bend: float = Field(1.0, ge=0.1, le=2.0)
    flipped: bool = False
    comb: bool = False


Guide = Annotated[
    Straightedge | EllipseGuide | CircleGuide | DivisionGuide | SweepGuide,
    Field(discriminator="kind"),
]


class Ground(Frozen):
    """A second colour the paper goes over to: from one side to the other, or from the middle outward."""

    way: Literal["linear", "radial"]
    colour: Colour
    angle: float = 90.0


class Border(Frozen):
    """A line around the page, so many px inside its edge."""

    width: float = Field(3.0, gt=0, le=200)
    inset: float = Field(40.0, ge=0, le=2000)
    colour: Colour = INK


class Symmetry(Frozen):
    """Symmetry while drawing."""

    on: bool = False
    axis: Axis
    mirror: bool = True
    turns: int = Field(1, ge=1, le=24)

    def repeat(self) -> Repeat | None:
        """How a stroke drawn now is repeated."""
        if not self.on or (not self.mirror and self.turns < 2):
            return None
        return Repeat(axis=self.axis, mirror=self.mirror, turns=self.turns)


class Sheet(Frozen):
    """One page; layers lowest first, those of a group among themselves."""

    width: int = Field(2400, ge=64, le=12000)
    height: int = Field(1600, ge=64, le=12000)
    paper: Colour = PAPER
    layers: tuple[Layer, ...] = (InkLayer(id="rough", name="Rough"),)
    views: tuple[View, ...] = ()
    guides: tuple[Guide, ...] = ()
    perspective: Perspective | None = None
    box: ConstructionBox | None = None
    edges: dict[str, Literal["W", "D", "H"]] = Field({}, description="strokes marked as edges of a box, by id")
    ground: Ground | None = None
    border: Border | None = None
    symmetry: Symmetry = Symmetry(axis=Axis(x=1200, y=800))
    chosen: bool = Field(False, description="whether this is the direction that is gone on with")

    def within(self, group: str | None) -> list[Layer]:
        """Layers of a group, or those in none, lowest first."""
        return [layer for layer in self.layers if layer.group == group]

    def under(self, group: str) -> set[str]:
        """Ids of everything inside a group, at any depth."""
        found: set[str] = set()
        for layer in self.within(group):
            found |= {layer.id, *self.under(layer.id)}
        return found
