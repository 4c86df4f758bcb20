"""Edits of what stands behind a form: views of sheets, scaled by a known length."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.form.model import Form, Plane, Reference

Line = tuple[tuple[float, float], tuple[float, float]]


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
    outline: bool = False

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
    outline: bool | None = None

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
        fields = given(
            plane=self.plane,
            line=self.line,
            length=self.length,
            opacity=self.opacity,
            visible=self.visible,
            outline=self.outline,
        )
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
