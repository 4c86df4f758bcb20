"""Edits of a form."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.form.model import (
    Change,
    Form,
    Part,
    Plane,
    Reference,
    Start,
    Step,
)

Name = Annotated[str, Field(min_length=1, max_length=60)]
Line = tuple[tuple[float, float], tuple[float, float]]


class StartPart(Frozen):
    """Begin a part."""

    kind: Literal["start_part"] = "start_part"
    part: str
    name: Name
    start: Start
    symmetric: bool = False

    def sentence(self) -> str:
        return f"{self.start.sentence()}: {self.name}"

    def applied_to(self, form: Form) -> Form:
        if any(part.id == self.part for part in form.parts):
            raise HollowMarbleError("A part with this id is already there.")
        part = Part(id=self.part, name=self.name, symmetric=self.symmetric, steps=(self.start,))
        return form.model_copy(update={"parts": (*form.parts, part)})


class Shape(Frozen):
    """Add a step to a part's recipe."""

    kind: Literal["shape"] = "shape"
    part: str
    step: Change

    def sentence(self) -> str:
        return self.step.sentence()

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        changed = part.model_copy(update={"steps": (*part.steps, self.step)})
        return form.model_copy(update={"parts": replaced(form.parts, changed)})


class ChangeStep(Frozen):
    """Give an earlier step of a recipe other numbers; later steps follow."""

    kind: Literal["change_step"] = "change_step"
    part: str
    index: int = Field(ge=0)
    step: Step

    def sentence(self) -> str:
        return f"Changed step {self.index + 1}: {self.step.sentence()[0].lower()}{self.step.sentence()[1:]}"

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        if self.index >= len(part.steps) or part.steps[self.index].kind != self.step.kind:
            raise HollowMarbleError("That step is no longer in the recipe. Look at the recipe again.")
        steps = (*part.steps[: self.index], self.step, *part.steps[self.index + 1 :])
        return form.model_copy(update={"parts": replaced(form.parts, part.model_copy(update={"steps": steps}))})


class ChangePart(Frozen):
    """Rename a part, show or hide it, set its symmetry or its smoothness."""

    kind: Literal["change_part"] = "change_part"
    part: str
    name: Name | None = None
    visible: bool | None = None
    symmetric: bool | None = None
    level: int | None = Field(None, ge=1, le=5)

    def sentence(self) -> str:
        parts = []
        if self.name is not None:
            parts.append(f"renamed a part to {self.name}")
        if self.visible is not None:
            parts.append("showed a part" if self.visible else "hid a part")
        if self.symmetric is not None:
            parts.append("switched symmetry across width on" if self.symmetric else "switched symmetry off")
        if self.level is not None:
            parts.append(f"set smoothness to level {self.level}")
        text = ", ".join(parts) or "left a part as it was"
        return text[0].upper() + text[1:]

    def applied_to(self, form: Form) -> Form:
        part = find(form.parts, self.part, "part")
        fields = given(name=self.name, visible=self.visible, symmetric=self.symmetric, level=self.level)
        return form.model_copy(update={"parts": replaced(form.parts, part.model_copy(update=fields))})


class RemovePart(Frozen):
    """Remove a part."""

    kind: Literal["remove_part"] = "remove_part"
    part: str

    def sentence(self) -> str:
        return "Removed a part"

    def applied_to(self, form: Form) -> Form:
        return form.model_copy(update={"parts": without(form.parts, self.part, "part")})


class PinReference(Frozen):
    """Stand a sheet's view behind the form."""

    kind: Literal["pin_reference"] = "pin_reference"
    id: str
    sheet: str
    view: str
    plane: Plane
    line: Line
    length: float = Field(gt=0, le=100_000)
    opacity: float = Field(0.5, ge=0, le=1)

    def sentence(self) -> str:
        if self.plane == "sketch":
            return "Pinned a view in the sketch’s own perspective"
        return f"Pinned a view as {self.plane}, {self.length:g} mm along its line"

    def applied_to(self, form: Form) -> Form:
        _check_line(self.line)
        reference = Reference(**self.model_dump(exclude={"kind"}))
        others = tuple(r for r in form.references if r.id != self.id)
        return form.model_copy(update={"references": (*others, reference)})


class ChangeReference(Frozen):
    """Scale a reference anew, fade it, show or hide it."""

    kind: Literal["change_reference"] = "change_reference"
    id: str
    plane: Plane | None = None
    line: Line | None = None
    length: float | None = Field(None, gt=0, le=100_000)
    opacity: float | None = Field(None, ge=0, le=1)
    visible: bool | None = None

    def sentence(self) -> str:
        if self.length is not None or self.line is not None:
            return "Scaled a reference"
        if self.visible is not None:
            return "Showed a reference" if self.visible else "Hid a reference"
        return "Changed a reference"

    def applied_to(self, form: Form) -> Form:
        if self.line:
            _check_line(self.line)
        old = find(form.references, self.id, "reference")
        fields = given(plane=self.plane, line=self.line, length=self.length, opacity=self.opacity, visible=self.visible)
        return form.model_copy(update={"references": replaced(form.references, old.model_copy(update=fields))})


class UnpinReference(Frozen):
    """Take a reference away."""

    kind: Literal["unpin_reference"] = "unpin_reference"
    id: str

    def sentence(self) -> str:
        return "Took a reference away"

    def applied_to(self, form: Form) -> Form:
        return form.model_copy(update={"references": without(form.references, self.id, "reference")})


def _check_line(line: Line) -> None:
    (ax, ay), (bx, by) = line
    if (ax - bx) ** 2 + (ay - by) ** 2 < 4:
        raise HollowMarbleError("The known length needs a line. Drag it along something you know the size of.")


FormEdit = Annotated[
    StartPart | Shape | ChangeStep | ChangePart | RemovePart | PinReference | ChangeReference | UnpinReference,
    Field(discriminator="kind"),
]
