"""What a form is checked against, what was found and let pass, and lines kept from a check."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, field_validator

from hollow_marble.core.surface.finding import Which
from hollow_marble.core.surface.findings import Limits
from hollow_marble.core.surface.making import pull_of
from hollow_marble.documents.edit import Frozen, find, given, put, without
from hollow_marble.documents.form.steps import Vector

Name = Annotated[str, Field(min_length=1, max_length=60)]

MOST_LINE_PLACES = 20_000


class Checking(Frozen):
    """Tolerances and wishes; see `core.surface.findings.Limits`."""

    gap: float = Field(0.01, gt=0, le=100)
    angle: float = Field(0.1, gt=0, le=180)
    jump: float = Field(5.0, gt=0, le=1000)
    around: float = Field(100.0, gt=0, le=1000)
    pull: Vector = (0.0, -1.0, 0.0)
    draft: float = Field(1.0, ge=0, le=89)
    wall: float = Field(1.2, gt=0, le=1000)
    counted: tuple[Which, ...] = ("soundness", "continuity")

    @field_validator("pull")
    @classmethod
    def _has_length(cls, pull: Vector) -> Vector:
        pull_of(np.array(pull))
        return pull

    def limits(self) -> Limits:
        """The same for the computation."""
        return Limits(**self.model_dump())


class Accepted(Frozen):
    """A finding that is meant to be so, and why; it comes back where the number gets worse.

    id : the part and the finding's key; amount : as it was when it was accepted
    """

    id: str
    reason: Annotated[str, Field(min_length=1, max_length=400)]
    amount: float
    sentence: str


class KeptLine(Frozen):
    """A line over a part, kept from a probe: places in mm, closed or not."""

    id: str
    name: Name
    part: str
    places: tuple[Vector, ...] = Field(min_length=2, max_length=MOST_LINE_PLACES)
    closed: bool = False


class SetChecking(Frozen):
    """Set what the form is checked against; what is left out stays."""

    kind: Literal["set_checking"] = "set_checking"
    gap: float | None = Field(None, gt=0, le=100)
    angle: float | None = Field(None, gt=0, le=180)
    jump: float | None = Field(None, gt=0, le=1000)
    around: float | None = Field(None, gt=0, le=1000)
    pull: Vector | None = None
    draft: float | None = Field(None, ge=0, le=89)
    wall: float | None = Field(None, gt=0, le=1000)
    counted: tuple[Which, ...] | None = None

    def _given(self) -> dict[str, Any]:
        return given(**{name: getattr(self, name) for name in Checking.model_fields})

    def sentence(self) -> str:
        said = {
            "gap": f"a gap of {self.gap:g} mm" if self.gap is not None else "",
            "angle": f"a kink of {self.angle:g}°" if self.angle is not None else "",
            "jump": f"a jump of {self.jump:g} %" if self.jump is not None else "",
            "around": f"{self.around:g} % around odd points" if self.around is not None else "",
            "draft": f"a draft of {self.draft:g}°" if self.draft is not None else "",
            "wall": f"a wall of {self.wall:g} mm" if self.wall is not None else "",
            "pull": "another pull",
            "counted": "what counts",
        }
        return f"Check against {', '.join(said[name] for name in self._given())}"

    def applied_to(self, form: Any) -> Any:
        checking = Checking(**{**form.checking.model_dump(), **self._given()})
        return form.model_copy(update={"checking": checking})


class AcceptFinding(Frozen):
    """Let a finding pass, and say why."""

    kind: Literal["accept_finding"] = "accept_finding"
    accepted: Accepted

    def sentence(self) -> str:
        return f"Accepted: {self.accepted.sentence} Reason: {self.accepted.reason}"

    def applied_to(self, form: Any) -> Any:
        return form.model_copy(update={"accepted": put(form.accepted, self.accepted)})


class ReopenFinding(Frozen):
    """Take back that a finding was let pass."""

    kind: Literal["reopen_finding"] = "reopen_finding"
    finding: str

    def sentence(self) -> str:
        return "Opened a finding again"

    def applied_to(self, form: Any) -> Any:
        return form.model_copy(update={"accepted": without(form.accepted, self.finding, "finding")})


class KeepLine(Frozen):
    """Keep a line that a probe found."""

    kind: Literal["keep_line"] = "keep_line"
    line: KeptLine

    def sentence(self) -> str:
        return f"Kept the line {self.line.name}"

    def applied_to(self, form: Any) -> Any:
        find(form.parts, self.line.part, "part")
        return form.model_copy(update={"lines": put(form.lines, self.line)})


class ForgetLine(Frozen):
    """Let a kept line go."""

    kind: Literal["forget_line"] = "forget_line"
    line: str

    def sentence(self) -> str:
        return "Let a kept line go"

    def applied_to(self, form: Any) -> Any:
        return form.model_copy(update={"lines": without(form.lines, self.line, "line")})
