"""Steps that put details on a skin: along lines that were laid on it (`skin_lines`), and around places. Lengths mm, angles degrees.

They take any body and stay on top of whatever shapes it (`Node.detail`): a step that shapes goes in beneath them, and they follow.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.detailed_body import DetailedBody, detailed
from hollow_marble.core.curves.chains import outline
from hollow_marble.core.detail import outlines as patterns
from hollow_marble.core.detail.alike import lines_alike, places_alike
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.chart import chart_around
from hollow_marble.core.detail.checking import check_cut, check_knurl, check_stamp, checked
from hollow_marble.core.detail.cuts import Cut, Divider, Edge, LineDivider, OutlineDivider, wall_of
from hollow_marble.core.detail.ground import Floats
from hollow_marble.core.detail.knurls import Knurl
from hollow_marble.core.detail.lettering import words_as_outlines
from hollow_marble.core.detail.outlines import Outlines
from hollow_marble.core.detail.profiles import OUT, Profile, Shape, drawn_profile, profile, wall_profile
from hollow_marble.core.detail.relief import Strip
from hollow_marble.core.detail.stamps import Stamp
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.curves import curve_in
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.skin_lines import DetailStep, LineChange, line_in
from hollow_marble.documents.form.steps import FormSymmetry, StartStep, Vector, body_in
from hollow_marble.documents.sheet.model import Font
from hollow_marble.documents.sheet.notes import font_file

Size = Annotated[float, Field(gt=0, le=10_000)]
Radius = Annotated[float, Field(ge=0, le=10_000)]


class AlikeStep(DetailStep):
    """A step that makes something on a skin, and the same on its other sides where it has a symmetry."""

    symmetry: FormSymmetry | None = Field(None, exclude_if=lambda symmetry: symmetry is None)

    def lines(self, body: DetailedBody, inputs: Inputs) -> list[SkinLine]:
        """The line it is made along, and its images."""
        line = line_in(inputs)
        return lines_alike(body.ground(), line, self.symmetry.core()) if self.symmetry else [line]

    def alike(self) -> str:
        """Where else it is, in words."""
        return f", alike {self.symmetry.words()}" if self.symmetry else ""


class AlongLine(AlikeStep):
    """Something along a line ("line"): a groove, a bead, a step, a split gap or a band, with a cross-section by numbers or by a drawn
    curve ("profile").

    depth : into the skin, or out of it as beads and raised bands are
    rim, floor : radii of the edges at the skin and at the other end of the sides; lean : of the sides, from upright
    reach : from the line, over which the skin comes back beside a step; side : of the line, on which that is
    ends : of an open line, round or run out over `run_out`
    """

    kind: Literal["along_line"] = "along_line"
    section: Shape = "groove"
    width: Size = 0.8
    depth: Annotated[float, Field(gt=0, le=1000)] = 0.5
    lean: float = Field(10.0, ge=0, le=80)
    rim: Radius = 0.08
    floor: Radius = 0.12
    reach: Size = 6.0
    side: Literal["left", "right"] = "left"
    ends: Literal["round", "out"] = "out"
    run_out: Radius = 3.0

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        for number, line in enumerate(self.lines(body, inputs)):
            strip = Strip(*numbered(making, number), line, self.profile(inputs), self.ends, self.run_out)
            checked(body.ground(), strip)
            body = body.with_relief(making.key, strip)
        return body

    def profile(self, inputs: Inputs) -> Profile:
        """The cross-section."""
        if "profile" in inputs:
            drawn = curve_in(inputs, "profile").drawn
            return drawn_profile(outline(drawn.one("a cross-section"), 0.01))
        radii = self.rim, self.floor
        return profile(self.section, self.width, self.depth, self.lean, *radii, self.reach, self.side == "right")

    def sentence(self) -> str:
        if "profile" in self.inputs:
            return f"Ran a drawn cross-section along a line{self.alike()}"
        names = {"gap": "split gap", "pressed": "pressed-in band", "raised": "raised band"}
        way = "high" if self.section in OUT else "deep"
        return f"Ran a {names.get(self.section, self.section)} along a line, {self.width:g} mm wide, {self.depth:g} mm {way}{self.alike()}"


class Knurled(AlikeStep):
    """A knurl along a line ("line"): straight teeth or diamonds, fading out towards both sides over `fade`."""

    kind: Literal["knurled"] = "knurled"
    count: int = Field(56, ge=3, le=2000)
    width: Size = 4.0
    depth: Annotated[float, Field(gt=0, le=100)] = 0.3
    pattern: Literal["straight", "diamond"] = "straight"
    fade: Radius = 0.4

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        fade = min(self.fade, self.width / 2)
        for number, line in enumerate(self.lines(body, inputs)):
            knurl = Knurl(*numbered(making, number), line, self.count, self.width, self.depth, self.pattern, fade)
            check_knurl(body.ground(), knurl)
            body = body.with_relief(making.key, knurl)
        return body

    def sentence(self) -> str:
        teeth = "teeth" if self.pattern == "straight" else "rows of diamonds"
        return f"Knurled along a line: {self.count} {teeth}, {self.depth:g} mm deep{self.alike()}"


class StampStep(AlikeStep):
    """Flat outlines laid on the skin around a place without shear, pressed into it or raised on it.

    at : a place near the skin, their middle; turn : of their upright, from that of the form. lean : of their sides, from upright: a draft
    """

    at: Vector = (0.0, 0.0, 0.0)
    turn: float = Field(0.0, ge=-360, le=360)
    way: Literal["pressed", "raised"] = "pressed"
    depth: Annotated[float, Field(gt=0, le=1000)] = 0.3
    lean: float = Field(5.0, ge=0, le=80)
    rim: Radius = 0.0
    floor: Radius = 0.0

    def outlines(self, inputs: Inputs, making: Making) -> Outlines:
        """The flat outlines about their middle."""
        raise NotImplementedError

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        outlines = self.outlines(inputs, making).moved(self.turn, 1.0)
        symmetry = (self.symmetry or FormSymmetry()).core()
        for number, (operation, at) in enumerate(places_alike(body.ground(), np.array(self.at), symmetry)):
            own = outlines.mirrored() if operation.turns_over else outlines
            body = self.put_on(body, Laid(own, at, operation.of_vector(_UP)), making, number)
        return body

    def put_on(self, body: DetailedBody, laid: Laid, making: Making, number: int) -> DetailedBody:
        """The body with outlines on it, the first ones or their images."""
        depth = self.depth if self.way == "pressed" else -self.depth
        profile = wall_profile(depth, self.lean, self.rim, self.floor)
        room = math.ceil(2 * profile.reach) / 2  # a little more depth asks for no other chart
        stamp = stamp_on(body, laid, profile, room, making, number)
        check_stamp(body.ground(), stamp)
        return body.with_relief(making.key, stamp)

    def side(self) -> str:
        """How it stands, in words."""
        return f"{self.depth:g} mm {'deep' if self.way == 'pressed' else 'high'}{self.alike()}"


class GrilleStep(StampStep):
    """A grille: slots or holes over a field, with so much between them and so much land to its edge; the field may be a flat curve ("within").

    wide, tall : of the field; round : whether it is an ellipse. inner : where rays begin, from the middle
    way : its openings may go through the wall, too; `depth` is then how thick that is, where the part has none yet
    """

    kind: Literal["grille"] = "grille"
    way: Literal["pressed", "raised", "through"] = "pressed"  # type: ignore[assignment]  # only a grille has holes one may fall through
    openings: Literal["slots", "holes"] = "slots"
    arranged: Literal["rows", "rings", "rays"] = "rows"
    wide: Size = 24.0
    tall: Size = 14.0
    round: bool = True
    opening: Annotated[float, Field(ge=0.1, le=10_000)] = 1.2
    gap: Annotated[float, Field(ge=0.05, le=10_000)] = 1.2
    land: Radius = 0.8
    inner: Radius = 3.0

    def outlines(self, inputs: Inputs, making: Making) -> Outlines:
        within = loops_in(inputs, "within").centred() if "within" in inputs else None
        field = patterns.Field(self.wide, self.tall, self.round, within)
        numbers = self.opening, self.gap, self.land
        if self.arranged == "rays":
            return patterns.rays_of_slots(field, *numbers, self.inner)
        if self.arranged == "rings":
            return patterns.rings_of_holes(field, *numbers)
        return (patterns.rows_of_slots if self.openings == "slots" else patterns.rows_of_holes)(field, *numbers)

    def put_on(self, body: DetailedBody, laid: Laid, making: Making, number: int) -> DetailedBody:
        if self.way != "through":
            return super().put_on(body, laid, making, number)
        wall = wall_of(body.cuts) or self.depth
        divider = OutlineDivider(stamp_on(body, laid, _UPRIGHT, 1.0, making, number))
        cut = Cut(*numbered(making, number), divider, 0.0, "wall", wall)
        check_cut(body.ground(), cut)
        return body.with_cut(making.key, cut)

    def side(self) -> str:
        return f"through the wall{self.alike()}" if self.way == "through" else super().side()

    def sentence(self) -> str:
        what = {"rays": "slots in rays", "rings": "holes in rings"}.get(self.arranged, f"{self.openings} in rows")
        return f"Made a grille of {what}, {self.opening:g} mm each, {self.side()}"


class LetteringStep(StampStep):
    """Words in relief or cut in; `tall` mm are its capitals."""

    kind: Literal["lettering"] = "lettering"
    text: Annotated[str, Field(min_length=1, max_length=80)] = "Linnet"
    font: Font = "sans strong"
    tall: Size = 5.0
    spacing: float = Field(0.0, ge=-100, le=100)

    def outlines(self, inputs: Inputs, making: Making) -> Outlines:
        return words_as_outlines(self.text, font_file(self.font), self.tall, self.spacing)

    def sentence(self) -> str:
        return f"{'Cut' if self.way == 'pressed' else 'Raised'} the words “{self.text}”, {self.side()}"


class StampedCurve(StampStep):
    """A flat curve ("curve"), drawn or brought from DXF or SVG, pressed in or raised; `size` times as large."""

    kind: Literal["stamped"] = "stamped"
    size: float = Field(1.0, gt=0, le=1000)

    def outlines(self, inputs: Inputs, making: Making) -> Outlines:
        return loops_in(inputs, "curve").centred().moved(0.0, self.size)

    def sentence(self) -> str:
        return f"{'Pressed a drawing in' if self.way == 'pressed' else 'Raised a drawing'}, {self.side()}"


class CutStep(DetailStep):
    """A step that takes some of a skin away, half a gap from where it is cut, and finishes the edge.

    edge : closed across; with a wall, which makes the part a shell; the wall with a lip, or its edge rolled; or left open
    """

    gap: Radius = 0.2
    edge: Edge = "wall"
    wall: Size = 1.6
    lip: Size = 1.0

    def divider(self, body: DetailedBody, inputs: Inputs, making: Making) -> Divider:
        """What tells the two sides apart."""
        raise NotImplementedError

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        divider = self.divider(body, inputs, making)
        cut = Cut(making.key, making.origin, divider, self.gap, self.edge, self.wall, self.lip)
        check_cut(body.ground(), cut)
        return body.with_cut(making.key, cut)

    def edged(self) -> str:
        """How its edge is finished, in words."""
        gap = f", a gap of {self.gap:g} mm" if self.gap else ""
        ways = {"open": "left open", "closed": "closed across", "wall": f"a wall of {self.wall:g} mm"}
        ways |= {
            "lip": f"a lip of {self.lip:g} mm on a wall of {self.wall:g} mm",
            "rolled": f"a rolled edge of {self.wall:g} mm",
        }
        return f"{gap}, {ways[self.edge]}"


class PartedAlong(CutStep):
    """Part off along a line on the skin ("line") that comes round: what lies to one side of it stays."""

    kind: Literal["parted_along"] = "parted_along"
    keep: Literal["left", "right"] = "left"

    def divider(self, body: DetailedBody, inputs: Inputs, making: Making) -> Divider:
        line = line_in(inputs)
        if not line.closed and body.base.closed:
            raise HollowMarbleError("The line does not come round, so that it parts nothing off. Choose one that does.")
        return LineDivider(line, self.gap / 2 + self.lip + self.wall, self.keep == "left")

    def sentence(self) -> str:
        return f"Parted it along a line, kept what is {self.keep} of it{self.edged()}"


class CutWithin(CutStep):
    """Cut a flat drawing ("curve"), laid on the skin around a place, out of it; or keep only what lies within it."""

    kind: Literal["cut_within"] = "cut_within"
    at: Vector = (0.0, 0.0, 0.0)
    turn: float = Field(0.0, ge=-360, le=360)
    size: float = Field(1.0, gt=0, le=1000)
    keep: Literal["outside", "inside"] = "outside"

    def divider(self, body: DetailedBody, inputs: Inputs, making: Making) -> Divider:
        outlines = loops_in(inputs, "curve").centred().moved(self.turn, self.size)
        laid = Laid(outlines, np.array(self.at), _UP)
        stamp = stamp_on(body, laid, _UPRIGHT, self.gap + self.lip + self.wall + 1, making)
        return OutlineDivider(stamp, self.keep == "inside")

    def sentence(self) -> str:
        what = "Cut a drawing out of it" if self.keep == "outside" else "Kept only what lies within a drawing"
        return f"{what}{self.edged()}"


class OtherSide(StartStep):
    """Begin with what was parted off another part: it follows that one, and what is said there of gap and edge."""

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False
    what: ClassVar[str] = "what was parted off another part"

    kind: Literal["other_side"] = "other_side"
    name: str = Field("", max_length=60)

    def made(self, inputs: Inputs, making: Making) -> Body:
        return body_in(inputs)

    def sentence(self) -> str:
        return f"Started from what was parted off {self.name or 'another part'}"


_UP = np.array([0.0, 0.0, 1.0])
_UPRIGHT = wall_profile(0.001, 0.0, 0.0, 0.0)
"""Of outlines that are cut along: they press nothing in."""


@dataclass(frozen=True, eq=False)
class Laid:
    """Flat outlines to lie around a place (3,), their upright along a direction (3,)."""

    outlines: Outlines
    at: Floats
    up: Floats


def stamp_on(body: DetailedBody, laid: Laid, profile: Profile, room: float, making: Making, number: int = 0) -> Stamp:
    """Outlines laid on a body's skin, with so much room around them."""
    low, high = laid.outlines.extent
    wide, tall = (float(x) + room for x in np.maximum(np.abs(low), np.abs(high)))
    at, up = tuple(laid.at.tolist()), tuple(laid.up.tolist())
    name = (body.bare.key, at, (round(wide, 6), round(tall, 6)), up)
    chart = making.shelf.get("chart", name, lambda: chart_around(body.ground(), laid.at, laid.up, (wide, tall)))
    return Stamp(*numbered(making, number), chart, laid.outlines, profile)


def numbered(making: Making, number: int) -> tuple[str, str]:
    """The key, and the name of the faces, of what a step makes first (0), or of an image of it."""
    return (f"{making.key}/{number}", f"{making.origin}/{number}") if number else (making.key, making.origin)


def loops_in(inputs: Inputs, name: str) -> Outlines:
    """A flat curve's closed lines as outlines."""
    drawn = curve_in(inputs, name).drawn
    drawn.flat("an outline")
    closed = [chain for chain in drawn.chains if chain.closed]
    if not closed or len(closed) < len(drawn.chains):
        raise HollowMarbleError("An outline has to close: join the ends of the curve, or choose one that comes round.")
    return Outlines(tuple(outline(chain, 0.005)[:-1] for chain in closed))


DetailChange = LineChange | AlongLine | Knurled | GrilleStep | LetteringStep | StampedCurve | PartedAlong | CutWithin
