"""Edits of strokes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, replaced
from hollow_marble.documents.sheet.model import Axis, InkLayer, Layer, Sheet, Stroke, Symmetry


def open_layer(sheet: Sheet, ident: str) -> Layer:
    """A layer that can be worked on: it is there and neither it nor a group around it is locked."""
    layer = find(sheet.layers, ident, "layer")
    around: Layer | None = layer
    while around is not None:
        if around.locked:
            raise HollowMarbleError(f"“{around.name}” is locked. Unlock it first.")
        around = find(sheet.layers, around.group, "group") if around.group else None
    return layer


def ink_layer(sheet: Sheet, ident: str) -> InkLayer:
    """An ink layer that can be drawn on."""
    layer = open_layer(sheet, ident)
    if not isinstance(layer, InkLayer):
        raise HollowMarbleError(f"“{layer.name}” holds no ink. Choose an ink layer to draw on.")
    return layer


def drawn_on(layer: Layer, strokes: tuple[Stroke, ...]) -> InkLayer:
    """The layer with more strokes on top."""
    if not isinstance(layer, InkLayer):
        raise HollowMarbleError(f"“{layer.name}” holds no ink. Choose an ink layer to draw on.")
    return layer.with_strokes(strokes)


class DrawStroke(Frozen):
    """Draw with a nib on an ink layer."""

    kind: Literal["draw_stroke"] = "draw_stroke"
    layer: str
    stroke: Stroke

    def sentence(self) -> str:
        repeat = self.stroke.repeat
        verb = "Lifted ink" if "lifter" in self.stroke.nib else f"Drew with the {self.stroke.nib}"
        if repeat is None:
            return verb
        return f"{verb}, {repeat.turns} times around" if repeat.turns > 1 else f"{verb} on both sides of the axis"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = ink_layer(sheet, self.layer)
        return sheet.model_copy(update={"layers": replaced(sheet.layers, drawn_on(layer, (self.stroke,)))})


class ChangeStrokes(Frozen):
    """Exchange strokes for changed ones, take some away, put others on top.

    changed : strokes that take the place of those with the same id
    removed : ids of those taken away
    added : strokes put on top
    said : what was done, in words
    """

    kind: Literal["change_strokes"] = "change_strokes"
    layer: str
    changed: tuple[Stroke, ...] = ()
    removed: tuple[str, ...] = ()
    added: tuple[Stroke, ...] = ()
    said: Annotated[str, Field(min_length=1, max_length=120)]

    def sentence(self) -> str:
        return self.said

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = ink_layer(sheet, self.layer)
        there = {stroke.id for stroke in layer.strokes}
        if not there >= {*(stroke.id for stroke in self.changed), *self.removed}:
            raise HollowMarbleError("Some of those lines are no longer there. Select them again.")
        changed = {stroke.id: stroke for stroke in self.changed}
        kept = tuple(changed.get(stroke.id, stroke) for stroke in layer.strokes if stroke.id not in self.removed)
        done = layer.model_copy(update={"strokes": (*kept, *self.added)})
        return sheet.model_copy(update={"layers": replaced(sheet.layers, done)})


class SetSymmetry(Frozen):
    """Switch symmetry on or off, move its axis, say how often it turns."""

    kind: Literal["set_symmetry"] = "set_symmetry"
    on: bool
    axis: Axis
    mirror: bool = True
    turns: int = Field(1, ge=1, le=24)

    def sentence(self) -> str:
        if not self.on:
            return "Switched symmetry off"
        return f"Set symmetry to {self.turns} around" if self.turns > 1 else "Drew with the axis of symmetry"

    def applied_to(self, sheet: Sheet) -> Sheet:
        symmetry = Symmetry(on=self.on, axis=self.axis, mirror=self.mirror, turns=self.turns)
        return sheet.model_copy(update={"symmetry": symmetry})
