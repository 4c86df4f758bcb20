"""Where two states of a sheet look different, told from the documents alone."""

from __future__ import annotations

from hollow_marble.core.ink.stamp import clipped, empty, union
from hollow_marble.documents.sheet.model import (
    GroupLayer,
    InkLayer,
    Layer,
    NotesLayer,
    PictureLayer,
    Rect,
    Sheet,
    ToneLayer,
)
from hollow_marble.documents.sheet.notes import notes_extent
from hollow_marble.documents.sheet.raster.ink import in_common, touched
from hollow_marble.documents.sheet.raster.picture import picture_extent
from hollow_marble.documents.sheet.raster.tiles import tile_rect

NOTHING: Rect = (0, 0, 0, 0)
_LOOKS = ("visible", "opacity", "mode", "clipped", "group", "tint", "quad", "picture")


def differences(old: Sheet, new: Sheet) -> list[Rect]:
    """Rectangles of the new page outside of which both look alike."""
    page: Rect = (0, 0, new.width, new.height)
    if any(getattr(old, name) != getattr(new, name) for name in ("width", "height", "paper", "ground", "border")):
        return [page]
    before = {layer.id: layer for layer in old.layers}
    after = {layer.id: layer for layer in new.layers}
    if [x for x in before if x in after] != [x for x in after if x in before]:
        return [page]
    found = [_extent(old, layer) for layer in old.layers if layer.id not in after]
    for layer in new.layers:
        found += _between(old, before.get(layer.id), new, layer)
    found += _struck(old, new)
    if scales(old) != scales(new):
        found += [_extent(sheet, layer) for sheet in (old, new) for layer in sheet.layers if layer.kind == "notes"]
    return [rect for rect in (clipped(r, page) for r in found) if not empty(rect)]


def _between(old: Sheet, before: Layer | None, new: Sheet, layer: Layer) -> list[Rect]:
    if before is layer:
        return []
    if before is None:
        return [_extent(new, layer)]
    if before.kind != layer.kind or any(getattr(before, x, None) != getattr(layer, x, None) for x in _LOOKS):
        return [union(_extent(old, before), _extent(new, layer))]
    if isinstance(layer, ToneLayer) and isinstance(before, ToneLayer):
        names = {*before.tiles, *layer.tiles}
        return [tile_rect(name) for name in names if before.tiles.get(name) != layer.tiles.get(name)]
    if isinstance(layer, InkLayer) and isinstance(before, InkLayer) and before.strokes is not layer.strokes:
        common = in_common(before.strokes, layer.strokes)
        gone, come = before.strokes[common:], layer.strokes[common:]
        there, kept = {id(stroke) for stroke in gone}, {id(stroke) for stroke in come}
        others = [s for s in gone if id(s) not in kept], [s for s in come if id(s) not in there]
        alike = set(others[0]) & set(others[1]) if len(others[0]) < 500 else set()
        return [rect for side in others for stroke in side if stroke not in alike for rect in touched(stroke)]
    if isinstance(layer, NotesLayer) and isinstance(before, NotesLayer):
        gone_notes = tuple(note for note in before.notes if note not in layer.notes)
        new_notes = tuple(note for note in layer.notes if note not in before.notes)
        return [notes_extent(gone_notes, old), notes_extent(new_notes, new)]
    return []


def scales(sheet: Sheet) -> list[tuple[Rect, float]]:
    """What dimensions on a sheet depend on beside themselves."""
    return [(view.rect, view.scale) for view in sheet.views if view.scale]


def _extent(sheet: Sheet, layer: Layer) -> Rect:
    """Rectangle of the page outside of which a layer has no paint."""
    whole: Rect = NOTHING
    if isinstance(layer, PictureLayer):
        return picture_extent(layer)
    if isinstance(layer, NotesLayer):
        return notes_extent(layer.notes, sheet)
    if isinstance(layer, ToneLayer):
        for name in layer.tiles:
            whole = union(whole, tile_rect(name))
    elif isinstance(layer, GroupLayer):
        for inner in sheet.within(layer.id):
            whole = union(whole, _extent(sheet, inner))
    else:
        for stroke in layer.strokes:
            for rect in touched(stroke):
                whole = union(whole, rect)
    return whole


def _struck(old: Sheet, new: Sheet) -> list[Rect]:
    before = {view.id: view.rect for view in old.views if view.struck}
    after = {view.id: view.rect for view in new.views if view.struck}
    return [rect for key in {*before, *after} if before.get(key) != after.get(key)
            for rect in (before.get(key), after.get(key)) if rect]  # fmt: skip
