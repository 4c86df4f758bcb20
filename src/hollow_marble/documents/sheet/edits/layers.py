"""Edits of a sheet's layers."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.blend import Mode
from hollow_marble.documents.edit import Frozen, find, given, replaced
from hollow_marble.documents.sheet.edits.strokes import open_layer
from hollow_marble.documents.sheet.model import (
    Colour,
    GroupLayer,
    InkLayer,
    Layer,
    Name,
    NotesLayer,
    PictureLayer,
    Quad,
    Rect,
    Sheet,
    ToneLayer,
)

KINDS = {"ink": InkLayer, "tone": ToneLayer, "group": GroupLayer, "notes": NotesLayer}


class AddLayer(Frozen):
    """Put a new layer above another one, or on top."""

    kind: Literal["add_layer"] = "add_layer"
    id: str
    name: Name
    holds: Literal["ink", "tone", "group", "notes"] = "ink"
    above: str | None = None

    def sentence(self) -> str:
        return f"Added the {'group' if self.holds == 'group' else f'{self.holds} layer'} {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        above = find(sheet.layers, self.above, "layer") if self.above else None
        layer: Layer = KINDS[self.holds](id=self.id, name=self.name, group=above.group if above else None)
        layers = list(sheet.layers)
        layers.insert(layers.index(above) + 1 if above else len(layers), layer)
        return sheet.model_copy(update={"layers": tuple(layers)})


class ChangeLayer(Frozen):
    """Rename a layer, show or hide it, set how it lies on what is below, lock it, tint it."""

    kind: Literal["change_layer"] = "change_layer"
    layer: str
    name: Name | None = None
    visible: bool | None = None
    opacity: float | None = Field(None, ge=0, le=1)
    mode: Mode | None = None
    locked: bool | None = None
    lock_paint: bool | None = None
    clipped: bool | None = None
    tint: Colour | Literal["none"] | None = Field(None, description="of a tone layer; none takes it away")

    def sentence(self) -> str:
        parts = []
        if self.name is not None:
            parts.append(f"renamed a layer to {self.name}")
        if self.visible is not None:
            parts.append("showed a layer" if self.visible else "hid a layer")
        if self.opacity is not None:
            parts.append(f"set a layer to {self.opacity:.0%}")
        if self.mode is not None:
            parts.append(f"laid a layer on in {self.mode}")
        if self.locked is not None:
            parts.append("locked a layer" if self.locked else "unlocked a layer")
        if self.lock_paint is not None:
            parts.append("locked a layer’s transparency" if self.lock_paint else "unlocked a layer’s transparency")
        if self.clipped is not None:
            parts.append("clipped a layer to the one below" if self.clipped else "unclipped a layer")
        if self.tint is not None:
            parts.append("took a tint away" if self.tint == "none" else f"tinted a layer {self.tint}")
        text = ", ".join(parts) or "left a layer as it was"
        return text[0].upper() + text[1:]

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = find(sheet.layers, self.layer, "layer")
        fields = given(
            name=self.name,
            visible=self.visible,
            opacity=self.opacity,
            mode=self.mode,
            locked=self.locked,
            lock_paint=self.lock_paint,
            clipped=self.clipped,
        )
        if self.tint is not None:
            if not isinstance(layer, ToneLayer):
                raise HollowMarbleError(f"“{layer.name}” is not a tone layer. A tint colours a tone layer.")
            fields["tint"] = None if self.tint == "none" else self.tint
        return sheet.model_copy(update={"layers": replaced(sheet.layers, layer.model_copy(update=fields))})


class MoveLayer(Frozen):
    """Put a layer at a place in a group, or among those in none; 0 is lowest."""

    kind: Literal["move_layer"] = "move_layer"
    layer: str
    group: str | None = None
    place: int = Field(ge=0)

    def sentence(self) -> str:
        return "Moved a layer in the order"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = find(sheet.layers, self.layer, "layer")
        if self.group is not None:
            if not isinstance(find(sheet.layers, self.group, "group"), GroupLayer):
                raise HollowMarbleError("That layer is not a group. Drop the layer on a group.")
            if self.group == layer.id or self.group in sheet.under(layer.id):
                raise HollowMarbleError("A group cannot lie inside itself. Drop it somewhere else.")
        rest = [other for other in sheet.layers if other is not layer]
        fellows = [other for other in rest if other.group == self.group]
        moved = layer.model_copy(update={"group": self.group})
        if self.place < len(fellows):
            rest.insert(rest.index(fellows[self.place]), moved)
        elif fellows:
            rest.insert(rest.index(fellows[-1]) + 1, moved)
        else:
            rest.append(moved)
        return sheet.model_copy(update={"layers": tuple(rest)})


class RemoveLayer(Frozen):
    """Remove a layer; a group goes with all that is in it."""

    kind: Literal["remove_layer"] = "remove_layer"
    layer: str

    def sentence(self) -> str:
        return "Removed a layer"

    def applied_to(self, sheet: Sheet) -> Sheet:
        gone = {open_layer(sheet, self.layer).id, *sheet.under(self.layer)}
        left = tuple(layer for layer in sheet.layers if layer.id not in gone)
        if all(isinstance(layer, GroupLayer) for layer in left):
            raise HollowMarbleError("A sheet needs at least one layer. Add another one first.")
        return sheet.model_copy(update={"layers": left})


class DuplicateLayer(Frozen):
    """Put a copy of a layer above it.

    ids : new ids, for the layer and for all that is in it
    """

    kind: Literal["duplicate_layer"] = "duplicate_layer"
    layer: str
    ids: dict[str, str]

    def sentence(self) -> str:
        return "Duplicated a layer"

    def applied_to(self, sheet: Sheet) -> Sheet:
        original = find(sheet.layers, self.layer, "layer")
        chosen = {original.id, *sheet.under(original.id)}
        if set(self.ids) != chosen:
            raise HollowMarbleError("The layer has changed in the meantime. Duplicate it again.")
        copies = []
        for layer in sheet.layers:
            if layer.id in chosen:
                fields = {"id": self.ids[layer.id], "group": self.ids.get(layer.group or "", layer.group)}
                if layer is original:
                    fields["name"] = f"{layer.name} copy"[:60]
                copies.append(layer.model_copy(update=fields))
        layers = list(sheet.layers)
        place = layers.index(original) + 1
        layers[place:place] = copies
        return sheet.model_copy(update={"layers": tuple(layers)})


class MergeLayers(Frozen):
    """Make one layer of two that lie on one another.

    tiles : pixels of the result; None where both hold plain ink, whose strokes then stay strokes
    """

    kind: Literal["merge_layers"] = "merge_layers"
    upper: str
    lower: str
    tiles: dict[str, str] | None = None

    def sentence(self) -> str:
        return "Merged two layers"

    def applied_to(self, sheet: Sheet) -> Sheet:
        upper, lower = open_layer(sheet, self.upper), open_layer(sheet, self.lower)
        if self.tiles is None:
            if not (isinstance(upper, InkLayer) and isinstance(lower, InkLayer)):
                raise HollowMarbleError("Only ink layers can be merged as strokes.")
            merged: Layer = lower.model_copy(update={"strokes": (*lower.strokes, *upper.strokes)})
        else:
            kept = {
                name: getattr(lower, name) for name in ("id", "name", "group", "visible", "mode", "opacity", "clipped")
            }
            merged = ToneLayer(**kept, tiles=self.tiles)
        layers = tuple(layer for layer in replaced(sheet.layers, merged) if layer.id != upper.id)
        return sheet.model_copy(update={"layers": layers})


class BringIn(Frozen):
    """Put the layers of a file on top."""

    kind: Literal["bring_in"] = "bring_in"
    name: Name
    layers: tuple[Layer, ...]

    def sentence(self) -> str:
        return f"Brought in {len(self.layers)} layers of {self.name}"

    def applied_to(self, sheet: Sheet) -> Sheet:
        there = {layer.id for layer in sheet.layers}
        if not self.layers or any(layer.id in there for layer in self.layers):
            raise HollowMarbleError("Those layers cannot be brought in twice.")
        return sheet.model_copy(update={"layers": (*sheet.layers, *self.layers)})


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
        left, top, right, bottom = self.rect
        if right - left < 8 or bottom - top < 8:
            raise HollowMarbleError("The picture is too small on the page. Make it larger.")
        quad = ((left, top), (right, top), (right, bottom), (left, bottom))
        layer = PictureLayer(id=self.id, name=self.name, picture=self.picture, quad=quad)
        return sheet.model_copy(update={"layers": (layer, *sheet.layers)})


class SetPicture(Frozen):
    """Place, turn, scale or warp a picture: its four corners on the page."""

    kind: Literal["set_picture"] = "set_picture"
    layer: str
    quad: Quad

    def sentence(self) -> str:
        return "Placed a picture anew"

    def applied_to(self, sheet: Sheet) -> Sheet:
        layer = open_layer(sheet, self.layer)
        if not isinstance(layer, PictureLayer):
            raise HollowMarbleError(f"“{layer.name}” holds no picture.")
        turns = [_turn(*(self.quad[(k + step) % 4] for step in range(3))) for k in range(4)]
        if min(turns) <= 0 < max(turns) or abs(min(turns, key=abs)) < 1:
            raise HollowMarbleError("The picture’s corners cross over. Keep its outline free of crossings and dents.")
        changed = layer.model_copy(update={"quad": self.quad})
        return sheet.model_copy(update={"layers": replaced(sheet.layers, changed)})


def _turn(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> float:
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])
