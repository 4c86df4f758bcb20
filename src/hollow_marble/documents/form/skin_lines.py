"""Lines laid on a skin, for later steps to be made along. Lengths mm."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.detailed_body import DetailedBody, detailed
from hollow_marble.core.detail import skin_lines
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.detail.ground import Ground
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.curves import curve_in
from hollow_marble.documents.form.recipe import Inputs, Making
from hollow_marble.documents.form.steps import LETTERS, Length, Letter, Node, Vector, body_in, counted
from hollow_marble.documents.form.steps import Edge as CageEdge


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


How = Literal["thrown", "nearest", "front", "back", "left", "right", "top", "bottom"]
"""How a sheet's line comes onto a skin: as its view sees it, to what is nearest, or from a side, all one way."""

_WAYS = {
    "front": (0, 1, 0), "back": (0, -1, 0), "left": (1, 0, 0), "right": (-1, 0, 0), "top": (0, 0, -1), "bottom": (0, 0, 1)
}  # fmt: skip


class SheetLine(LineStep):
    """A line of a sheet, thrown onto the skin from where its view was drawn or from a side, or laid on what is nearest; it follows when the
    sheet changes.

    reference, stroke : the pinned view and the line in it; starts, ways : where the rays of its places begin and which way they go, as the
    sheet had it when that was last asked
    """

    kind: Literal["sheet_line"] = "sheet_line"
    reference: str
    stroke: str
    how: How = "thrown"
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
        places = starts + ahead[:, None] * ways
        if self.how == "nearest":
            return skin_lines.nearest_line(ground, places, self.closed, self.smooth)
        way = np.array(_WAYS[self.how], float)
        before = ((places - low) * np.abs(way)).max() + ((high - places) * np.abs(way)).max() + 1.0
        return skin_lines.thrown_line(
            ground, places - before * way, np.broadcast_to(way, places.shape), self.closed, self.smooth
        )

    def sentence(self) -> str:
        how = {"thrown": "", "nearest": ", where it is nearest"}.get(self.how, f", from the {self.how}")
        return f"Laid a line of a sheet on the skin{how}"


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


def line_in(inputs: Inputs) -> SkinLine:
    """The line among a node's inputs."""
    found = inputs.get("line")
    if not isinstance(found, DetailedBody) or found.laid is None:
        raise HollowMarbleError(
            "This step is made along a line on the skin, and what it names lays none. Choose a line."
        )
    return found.laid


LineChange = SectionLine | DrawnLine | SheetLine | RowLine | MeetingLine | OffsetLine
