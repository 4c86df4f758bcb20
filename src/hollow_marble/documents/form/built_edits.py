"""Edits of curves and solids that concern more than one step: parts combined and parted off, pieces of a drawing trimmed, drawn on, joined."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.curves import changing
from hollow_marble.core.curves.drawing import Drawing
from hollow_marble.core.curves.holding import Hold
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, replaced
from hollow_marble.documents.form.altering import added, check_free, with_part
from hollow_marble.documents.form.built import Combined, SplitSolid
from hollow_marble.documents.form.curves import DrawnCurve
from hollow_marble.documents.form.details import CutWithin, OtherSide, PartedAlong
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.recipe import FromPart

Name = Annotated[str, Field(min_length=1, max_length=60)]


class CombineParts(Frozen):
    """Join another part to a part, cut it away, or keep what both have; the other is hidden, for it is in it by now."""

    kind: Literal["combine_parts"] = "combine_parts"
    part: str
    other: str
    step: Combined

    def sentence(self) -> str:
        return self.step.sentence()

    def applied_to(self, form: Form) -> Form:
        part, other = find(form.parts, self.part, "part"), find(form.parts, self.other, "part")
        if part.id == other.id:
            raise HollowMarbleError("A part cannot be combined with itself. Choose another.")
        check_free(form, part)
        step = self.step.model_copy(update={"inputs": {"other": FromPart(part=other.id)}, "name": other.name})
        hidden = replaced(form.parts, other.model_copy(update={"visible": False}))
        return with_part(form.model_copy(update={"parts": hidden}), part.with_step(step))


class PartOff(Frozen):
    """Split a part in two: it keeps what lies above the plane, a new part what lies below."""

    kind: Literal["part_off"] = "part_off"
    part: str
    other: str
    name: Name
    step: SplitSolid

    def sentence(self) -> str:
        gap = f", {self.step.gap:g} mm apart" if self.step.gap else ""
        return f"Parted off {self.name} at {self.step.where()}{gap}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        check_free(form, part)
        above, below = (self.step.model_copy(update={"above": side}) for side in (True, False))
        lower = part.with_step(below).model_copy(update={"id": self.other, "name": self.name, "picks": ()})
        return added(with_part(form, part.with_step(above)), lower)


class PartAlong(Frozen):
    """Part a part along a line on its skin, or cut a drawing out of it: what is taken away becomes a part of its own, which follows."""

    kind: Literal["part_along"] = "part_along"
    part: str
    other: str
    name: Name
    step: Annotated[PartedAlong | CutWithin, Field(discriminator="kind")]

    def sentence(self) -> str:
        return f"{self.step.sentence()}; the rest is {self.name}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        check_free(form, part)
        if not self.step.tag or any(step.tag == self.step.tag for step in part.steps):
            raise HollowMarbleError(
                "A step that parts something off needs a tag of its own, by which the other part knows it."
            )
        start = OtherSide(name=part.name, inputs={"of": FromPart(part=part.id, off=self.step.tag)})
        other = Part(
            id=self.other, name=self.name, group=part.group, level=part.level, take_level=part.take_level,
            material=part.material, steps=(start,),
        )  # fmt: skip
        return added(with_part(form, part.with_step(self.step)), other)


class CurveEdit(Frozen):
    """An edit of the drawing a curve begins with, as its dimensions leave it."""

    part: str

    def redrawn(self, drawing: Drawing, holds: tuple[Hold, ...]) -> tuple[Drawing, tuple[Hold, ...]]:
        """The drawing after it, and what is said of it."""
        raise NotImplementedError

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        check_free(form, part)
        curve = part.steps[0]
        if not isinstance(curve, DrawnCurve):
            raise HollowMarbleError(f"{part.name} is {curve.what}, not a curve.")
        drawing, holds = self.redrawn(curve.kept()[0], tuple(hold.core() for hold in curve.holds))
        after = DrawnCurve.of(drawing, holds, curve.plane, inputs=curve.inputs, tag=curve.tag)
        return with_part(form, part.model_copy(update={"steps": (after, *part.steps[1:])}))


class TrimCurve(CurveEdit):
    """Take away the stretch of a piece that lies at a place of the curve's plane."""

    kind: Literal["trim_curve"] = "trim_curve"
    piece: Annotated[str, Field(min_length=1, max_length=40)]
    at: tuple[float, float]

    def sentence(self) -> str:
        return f"Trimmed {self.piece}"

    def redrawn(self, drawing: Drawing, holds: tuple[Hold, ...]) -> tuple[Drawing, tuple[Hold, ...]]:
        return changing.trimmed(drawing, holds, self.piece, np.array(self.at))


class ExtendCurve(CurveEdit):
    """Draw a loose end on till it meets something, or by so many mm."""

    kind: Literal["extend_curve"] = "extend_curve"
    point: int = Field(ge=0)
    by: float | None = Field(None, gt=0, le=100_000)

    def sentence(self) -> str:
        return f"Drew point {self.point + 1} on by {self.by:g} mm" if self.by else f"Drew point {self.point + 1} on"

    def redrawn(self, drawing: Drawing, holds: tuple[Hold, ...]) -> tuple[Drawing, tuple[Hold, ...]]:
        return changing.extended(drawing, holds, self.point, self.by)


class JoinEnds(CurveEdit):
    """Join two loose ends of a curve."""

    kind: Literal["join_ends"] = "join_ends"
    points: tuple[Annotated[int, Field(ge=0)], Annotated[int, Field(ge=0)]]
    how: changing.Joining = "corner"

    def sentence(self) -> str:
        ways = {
            "corner": "at a corner",
            "straight": "by a line",
            "smooth": "smoothly",
            "curvature": "with even curvature",
        }
        return f"Joined two ends {ways[self.how]}"

    def redrawn(self, drawing: Drawing, holds: tuple[Hold, ...]) -> tuple[Drawing, tuple[Hold, ...]]:
        return changing.joined(drawing, holds, *self.points, self.how)
