"""Steps that put details on a skin: lines laid on it, and what is made along them. Lengths mm, angles degrees.

They take any body and stay on top of whatever shapes it (`Node.detail`): a step that shapes goes in beneath them, and they follow.
"""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.detailed_body import DetailedBody, detailed
from hollow_marble.core.curves.chains import outline
from hollow_marble.core.detail import outlines as patterns
from hollow_marble.core.detail import skin_lines
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.chart import Chart, chart_around
from hollow_marble.core.detail.checking import check_cut, check_knurl, check_stamp, checked
from hollow_marble.core.detail.cuts import Cut, Divider, Edge, LineDivider, OutlineDivider, wall_of
from hollow_marble.core.detail.ground import Ground
from hollow_marble.core.detail.knurls import Knurl
from hollow_marble.core.detail.lettering import words_as_outlines
from hollow_marble.core.detail.outlines import Outlines
from hollow_marble.core.detail.profiles import OUT, Profile, Shape, drawn_profile, profile, wall_profile
from hollow_marble.core.detail.relief import Strip
from hollow_marble.core.detail.stamps import Stamp
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.curves import curve_in
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.steps import LETTERS, Letter, Node, StartStep, Vector, body_in, counted
from hollow_marble.documents.form.steps import Edge as CageEdge
from hollow_marble.documents.sheet.model import Font
from hollow_marble.documents.sheet.notes import font_file

Length = Annotated[float, Field(ge=-100_000, le=100_000)]
Size = Annotated[float, Field(gt=0, le=10_000)]
Radius = Annotated[float, Field(ge=0, le=10_000)]


class DetailStep(Node):
    """A step that puts something on a skin."""

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False
    detail: ClassVar[bool] = True


class LineStep(DetailStep):
    """A line laid on the skin, for later steps to be made along."""

    lays_line: ClassVar[bool] = True

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        line = self.line_on(body.bare, body.ground(), inputs)
        return body.with_line(making.key, SkinLine(body.ground().exactly(line.spots), line.closed))

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        """The line, on the ground of a body. Raises HollowMarbleError where it does not lie on it."""
        raise NotImplementedError


class SectionLine(LineStep):
    """Where a plane cuts the skin: square to a direction at a place, or that of a flat curve ("plane"); of several lines the one nearest
    to `near`, else the longest."""

    kind: Literal["section_line"] = "section_line"
    axis: Letter = "H"
    at: Length = 0.0
    near: Vector | None = None

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        normal, offset = np.eye(3)[LETTERS.index(self.axis)], self.at
        if "plane" in inputs:
            plane = curve_in(inputs, "plane").drawn.flat("a section")
            normal, offset = plane.normal, float(plane.normal @ plane.origin)
        near = np.array(self.near) if self.near is not None else None
        return skin_lines.section_line(ground, normal, offset, near)

    def sentence(self) -> str:
        where = "by a curve’s plane" if "plane" in self.inputs else f"at {self.axis} {self.at:g} mm"
        return f"Laid a line round the skin {where}"


class DrawnLine(LineStep):
    """A line drawn over the view from `eye`, through `line`: it lies where the skin is met first. `smooth` mm evens out a shaking hand;
    what of its ends passes the part by is left out."""

    kind: Literal["drawn_line"] = "drawn_line"
    eye: Vector
    line: tuple[Vector, ...] = Field(min_length=2, max_length=4000)
    closed: bool = False
    smooth: float = Field(0.0, ge=0, le=1000)

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        places = np.array(self.line)
        ways = places - np.array(self.eye)
        starts = np.broadcast_to(np.array(self.eye), places.shape)
        return skin_lines.thrown_line(ground, starts, ways, self.closed, self.smooth)

    def sentence(self) -> str:
        return "Drew a closed line on the skin" if self.closed else "Drew a line on the skin"


class SheetLine(LineStep):
    """A line of a sheet, thrown onto the skin from where its view was drawn, or laid on what is nearest; it follows when the sheet changes.

    reference, stroke : the pinned view and the line in it; starts, ways : where the rays of its places begin and which way they go, as the
    sheet had it when that was last asked
    """

    kind: Literal["sheet_line"] = "sheet_line"
    reference: str
    stroke: str
    how: Literal["thrown", "nearest"] = "thrown"
    smooth: float = Field(0.0, ge=0, le=1000)
    starts: tuple[Vector, ...] = Field(min_length=2, max_length=4000)
    ways: tuple[Vector, ...] = Field(min_length=2, max_length=4000)
    closed: bool = False

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        if len(self.starts) != len(self.ways):
            raise HollowMarbleError("A line needs a way for every place. Touch it on the sheet again.")
        starts, ways = np.array(self.starts), np.array(self.ways)
        if self.how == "thrown":
            return skin_lines.thrown_line(ground, starts, ways, self.closed, self.smooth)
        # of each ray the place that lies nearest to the middle of the part, and from there to the skin
        low, high = ground.probed.points.min(axis=0), ground.probed.points.max(axis=0)
        ahead = (((low + high) / 2 - starts) * ways).sum(axis=1) / np.maximum((ways * ways).sum(axis=1), 1e-12)
        return skin_lines.nearest_line(ground, starts + ahead[:, None] * ways, self.closed, self.smooth)

    def sentence(self) -> str:
        return f"Laid a line of a sheet on the skin{'' if self.how == 'thrown' else ', where it is nearest'}"


class RowLine(LineStep):
    """Along a row of the cage's edges."""

    kind: Literal["row_line"] = "row_line"
    edges: tuple[CageEdge, ...] = Field(min_length=1, max_length=20_000)

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        return skin_lines.row_line(ground, body.row(np.array(self.edges)))

    def sentence(self) -> str:
        return f"Laid a line along {counted(len(self.edges), 'edge')}"


class MeetingLine(LineStep):
    """Where the skin meets another part ("other"); of several lines the one nearest to `near`, else the longest."""

    kind: Literal["meeting_line"] = "meeting_line"
    near: Vector | None = None
    name: str = Field("", max_length=60)

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        near = np.array(self.near) if self.near is not None else None
        return skin_lines.meeting_line(ground, body_in(inputs, "other").bare.ground().probed.nearest, near)

    def sentence(self) -> str:
        return f"Laid a line where it meets {self.name or 'another part'}"


class OffsetLine(LineStep):
    """Beside another line ("line"), so many mm to its left along the skin; to its right where negative."""

    kind: Literal["offset_line"] = "offset_line"
    by: Length = 2.0

    def line_on(self, body: Body, ground: Ground, inputs: Inputs) -> SkinLine:
        if abs(self.by) < 0.01:
            raise HollowMarbleError(
                "A line beside itself is itself. Give a distance of 0.01 mm or more, to either side."
            )
        return skin_lines.offset_line(ground, line_in(inputs), self.by)

    def sentence(self) -> str:
        return f"Laid a line {abs(self.by):g} mm {'left' if self.by > 0 else 'right'} of another"


class AlongLine(DetailStep):
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
        line = line_in(inputs)
        strip = Strip(making.key, making.origin, line, self.profile(inputs), self.ends, self.run_out)
        checked(body.ground(), strip)
        return body.with_relief(making.key, strip)

    def profile(self, inputs: Inputs) -> Profile:
        """The cross-section."""
        if "profile" in inputs:
            drawn = curve_in(inputs, "profile").drawn
            return drawn_profile(outline(drawn.one("a cross-section"), 0.01))
        radii = self.rim, self.floor
        return profile(self.section, self.width, self.depth, self.lean, *radii, self.reach, self.side == "right")

    def sentence(self) -> str:
        if "profile" in self.inputs:
            return "Ran a drawn cross-section along a line"
        names = {"gap": "split gap", "pressed": "pressed-in band", "raised": "raised band"}
        way = "high" if self.section in OUT else "deep"
        return f"Ran a {names.get(self.section, self.section)} along a line, {self.width:g} mm wide, {self.depth:g} mm {way}"


class Knurled(DetailStep):
    """A knurl along a line ("line"): straight teeth or diamonds, fading out towards both sides over `fade`."""

    kind: Literal["knurled"] = "knurled"
    count: int = Field(56, ge=3, le=2000)
    width: Size = 4.0
    depth: Annotated[float, Field(gt=0, le=100)] = 0.3
    pattern: Literal["straight", "diamond"] = "straight"
    fade: Radius = 0.4

    def made(self, inputs: Inputs, making: Making) -> Body:
        body = detailed(body_in(inputs), making.key, making.shelf)
        numbers = self.count, self.width, self.depth, self.pattern, min(self.fade, self.width / 2)
        knurl = Knurl(making.key, making.origin, line_in(inputs), *numbers)
        check_knurl(body.ground(), knurl)
        return body.with_relief(making.key, knurl)

    def sentence(self) -> str:
        teeth = "teeth" if self.pattern == "straight" else "rows of diamonds"
        return f"Knurled along a line: {self.count} {teeth}, {self.depth:g} mm deep"


class StampStep(DetailStep):
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
        return self.put_on(body, outlines, making)

    def put_on(self, body: DetailedBody, outlines: Outlines, making: Making) -> Body:
        """The body with the outlines on it."""
        depth = self.depth if self.way == "pressed" else -self.depth
        profile = wall_profile(depth, self.lean, self.rim, self.floor)
        room = math.ceil(2 * profile.reach) / 2  # a little more depth asks for no other chart
        stamp = stamp_on(body, self.at, outlines, profile, room, making)
        check_stamp(body.ground(), stamp)
        return body.with_relief(making.key, stamp)

    def side(self) -> str:
        """How it stands, in words."""
        return f"{self.depth:g} mm {'deep' if self.way == 'pressed' else 'high'}"


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

    def put_on(self, body: DetailedBody, outlines: Outlines, making: Making) -> Body:
        if self.way != "through":
            return super().put_on(body, outlines, making)
        wall = wall_of(body.cuts) or self.depth
        divider = OutlineDivider(stamp_on(body, self.at, outlines, _UPRIGHT, 1.0, making))
        cut = Cut(making.key, making.origin, divider, 0.0, "wall", wall)
        check_cut(body.ground(), cut)
        return body.with_cut(making.key, cut)

    def side(self) -> str:
        return "through the wall" if self.way == "through" else super().side()

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
        stamp = stamp_on(body, self.at, outlines, _UPRIGHT, self.gap + self.lip + self.wall + 1, making)
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


_UPRIGHT = wall_profile(0.001, 0.0, 0.0, 0.0)
"""Of outlines that are cut along: they press nothing in."""


def stamp_on(
    body: DetailedBody, at: Vector, outlines: Outlines, profile: Profile, room: float, making: Making
) -> Stamp:
    """Outlines laid on a body's skin around a place, with so much room around them."""
    low, high = outlines.extent
    half = tuple(float(x) + room for x in np.maximum(np.abs(low), np.abs(high)))
    name = (body.bare.key, at, tuple(round(x, 6) for x in half))

    def laid() -> Chart:
        return chart_around(body.ground(), np.array(at), np.array([0.0, 0.0, 1.0]), (half[0], half[1]))

    return Stamp(making.key, making.origin, making.shelf.get("chart", name, laid), outlines, profile)


def loops_in(inputs: Inputs, name: str) -> Outlines:
    """A flat curve's closed lines as outlines."""
    drawn = curve_in(inputs, name).drawn
    drawn.flat("an outline")
    closed = [chain for chain in drawn.chains if chain.closed]
    if not closed or len(closed) < len(drawn.chains):
        raise HollowMarbleError("An outline has to close: join the ends of the curve, or choose one that comes round.")
    return Outlines(tuple(outline(chain, 0.005)[:-1] for chain in closed))


def line_in(inputs: Inputs) -> SkinLine:
    """The line among a node's inputs."""
    found = inputs.get("line")
    if not isinstance(found, DetailedBody) or found.laid is None:
        raise HollowMarbleError(
            "This step is made along a line on the skin, and what it names lays none. Choose a line."
        )
    return found.laid


DetailChange = (
    SectionLine
    | DrawnLine
    | SheetLine
    | RowLine
    | MeetingLine
    | OffsetLine
    | AlongLine
    | Knurled
    | GrilleStep
    | LetteringStep
    | StampedCurve
    | PartedAlong
    | CutWithin
)
