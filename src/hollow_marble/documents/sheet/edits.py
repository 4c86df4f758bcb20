"""Edits of a sheet."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.edit import Frozen, find, given, replaced, without
from hollow_marble.documents.sheet.model import (
    INK,
    Axis,
    Colour,
    InkLayer,
    Layer,
    NibName,
    PictureLayer,
    Rect,
    Sheet,
    Stroke,
    Symmetry,
    View,
    ViewKind,
)

Name = Annotated[str, Field(min_length=1, max_length=60)]


def _with_layer(sheet: Sheet, layer: Layer) -> Sheet:
    return sheet.model_copy(update={"layers": replaced(sheet.layers, layer)})


class DrawStroke(Frozen):
    """Draw with a nib on an ink layer."""

    kind: Literal["draw_stroke"] = "draw_stroke"
    id: str
    layer: str
    nib: NibName
    size: float = Field(gt=0, le=400)
    tone: float = Field(gt=0, le=1)
    colour: Colour = INK
    samples: str
    bounds: Rect
    mirror: Axis | None = None
    mirror_bounds: Rect | None = None

    def sentence(self) -> str:
        verb = "Lifted ink" if self.nib == "lifter" else "Drew a line"
        return f"{verb} on both sides of the axis" if self.mirror else verb

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = find(sheet.layers, self.layer, "layer")
        if not isinstance(layer, InkLayer):
            raise HollowMarbleError(f"“{layer.name}” holds a picture. Choose an ink layer to draw on.")
        stroke = Stroke(**self.model_dump(exclude={"kind", "layer"}))
        return _with_layer(sheet, layer.model_copy(update={"strokes": (*layer.strokes, stroke)}))


class AddLayer(Frozen):
    """Put a new ink layer on top."""

    kind: Literal["add_layer"] = "add_layer"
    id: str
    name: Name

    def sentence(self) -> str:
        return f"Added the layer {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"layers": (*sheet.layers, InkLayer(id=self.id, name=self.name))})


class ChangeLayer(Frozen):
    """Rename a layer, show or hide it, set its opacity, or move it in the order (0 is lowest)."""

    kind: Literal["change_layer"] = "change_layer"
    layer: str
    name: Name | None = None
    visible: bool | None = None
    opacity: float | None = Field(None, ge=0, le=1)
    place: int | None = Field(None, ge=0)

    def sentence(self) -> str:
        parts = []
        if self.name is not None:
            parts.append(f"renamed a layer to {self.name}")
        if self.visible is not None:
            parts.append("showed a layer" if self.visible else "hid a layer")
        if self.opacity is not None:
            parts.append(f"set a layer to {self.opacity:.0%}")
        if self.place is not None:
            parts.append("moved a layer in the order")
        return (", ".join(parts) or "left a layer as it was").capitalize()

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = find(sheet.layers, self.layer, "layer")
        changed = layer.model_copy(update=given(name=self.name, visible=self.visible, opacity=self.opacity))
        layers = list(replaced(sheet.layers, changed))
        if self.place is not None:
            layers.remove(changed)
            layers.insert(self.place, changed)
        return sheet.model_copy(update={"layers": tuple(layers)})


class RemoveLayer(Frozen):
    """Remove a layer."""

    kind: Literal["remove_layer"] = "remove_layer"
    layer: str

    def sentence(self) -> str:
        return "Removed a layer"

    def applied_to(self, sheet: Sheet) -> Sheet:
        if len(sheet.layers) == 1:
            raise HollowMarbleError("A sheet needs at least one layer. Add another one first.")
        return sheet.model_copy(update={"layers": without(sheet.layers, self.layer, "layer")})


class PlacePicture(Frozen):
    """Put a picture on the page as a layer of its own."""

    kind: Literal["place_picture"] = "place_picture"
    id: str
    name: Name
    picture: str
    rect: Rect

    def sentence(self) -> str:
        return f"Placed the picture {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = PictureLayer(id=self.id, name=self.name, picture=self.picture, rect=_checked(self.rect))
        return sheet.model_copy(update={"layers": (layer, *sheet.layers)})


class FrameView(Frozen):
    """Frame a region of the page as a view of the product."""

    kind: Literal["frame_view"] = "frame_view"
    id: str
    view: ViewKind
    name: Name
    rect: Rect

    def sentence(self) -> str:
        return f"Framed a {self.view} view, {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        view = View(id=self.id, view=self.view, name=self.name, rect=_checked(self.rect))
        return sheet.model_copy(update={"views": (*sheet.views, view)})


class ChangeView(Frozen):
    """Rename a view, say from where it looks, or frame it anew."""

    kind: Literal["change_view"] = "change_view"
    id: str
    view: ViewKind | None = None
    name: Name | None = None
    rect: Rect | None = None

    def sentence(self) -> str:
        return "Changed a view"

    def applied_to(self, sheet: Sheet) -> Sheet:
        old = find(sheet.views, self.id, "view")
        rect = _checked(self.rect) if self.rect else None
        changed = old.model_copy(update=given(view=self.view, name=self.name, rect=rect))
        return sheet.model_copy(update={"views": replaced(sheet.views, changed)})


class StrikeOut(Frozen):
    """Mark the idea in a view as dropped, or take it up again."""

    kind: Literal["strike_out"] = "strike_out"
    id: str
    struck: bool

    def sentence(self) -> str:
        return "Struck out a view" if self.struck else "Took a struck-out view up again"

    def applied_to(self, sheet: Sheet) -> Sheet:
        changed = find(sheet.views, self.id, "view").model_copy(update={"struck": self.struck})
        return sheet.model_copy(update={"views": replaced(sheet.views, changed)})


class RemoveView(Frozen):
    """Take a frame away; what is drawn in it stays."""

    kind: Literal["remove_view"] = "remove_view"
    id: str

    def sentence(self) -> str:
        return "Removed a view’s frame"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"views": without(sheet.views, self.id, "view")})


class SetSymmetry(Frozen):
    """Switch mirror symmetry on or off, or move its axis."""

    kind: Literal["set_symmetry"] = "set_symmetry"
    on: bool
    axis: Axis

    def sentence(self) -> str:
        return "Drew with the axis of symmetry" if self.on else "Switched symmetry off"

    def applied_to(self, sheet: Sheet) -> Sheet:
        return sheet.model_copy(update={"symmetry": Symmetry(on=self.on, axis=self.axis)})


def _checked(rect: Rect) -> Rect:
    if rect[2] - rect[0] < 8 or rect[3] - rect[1] < 8:
        raise HollowMarbleError("The frame is too small. Drag out a larger one.")
    return rect


SheetEdit = Annotated[
    DrawStroke
    | AddLayer
    | ChangeLayer
    | RemoveLayer
    | PlacePicture
    | FrameView
    | ChangeView
    | StrikeOut
    | RemoveView
    | SetSymmetry,
    Field(discriminator="kind"),
]
