"""What the interface knows of a sheet: everything but its strokes and pixels, so that a page of thousands of lines stays small."""

from __future__ import annotations

from collections import Counter
from typing import Literal

from pydantic import Field

from hollow_marble.core.ink.blend import Mode
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.sheet.drafting import Drafted, drafted
from hollow_marble.documents.sheet.model import (
    Border,
    ConstructionBox,
    Ground,
    Guide,
    InkLayer,
    Layer,
    Note,
    Perspective,
    Quad,
    Sheet,
    Symmetry,
    ToneLayer,
    View,
)


class LayerOutline(Frozen):
    """A sheet's layer without its strokes and pixels."""

    kind: Literal["ink", "tone", "picture", "group", "notes"]
    id: str
    name: str
    visible: bool
    opacity: float
    mode: Mode
    group: str | None
    locked: bool
    lock_paint: bool
    clipped: bool
    strokes: int = 0
    tint: str | None = None
    quad: Quad | None = None
    notes: tuple[Note, ...] = ()


class SheetOutline(Frozen):
    """A sheet without its strokes."""

    width: int
    height: int
    paper: str
    layers: tuple[LayerOutline, ...]
    views: tuple[View, ...]
    guides: tuple[Guide, ...]
    perspective: Perspective | None
    box: ConstructionBox | None
    edges: dict[str, Literal["W", "D", "H"]]
    drafted: Drafted
    ground: Ground | None
    border: Border | None
    symmetry: Symmetry
    chosen: bool
    colours: tuple[str, ...] = Field(description="colours drawn with on this page, the most used first")


def outline(sheet: Sheet) -> SheetOutline:
    """What the interface needs to know of a sheet; worked out once for each state."""
    return sheet.derived("outline", lambda: _outline(sheet))


def _outline(sheet: Sheet) -> SheetOutline:
    used: Counter[str] = Counter()
    for layer in sheet.layers:
        if isinstance(layer, InkLayer):
            used.update(layer.colours)
        elif isinstance(layer, ToneLayer) and layer.tint:
            used[layer.tint] += 1
    there: set[str] = set()
    if sheet.edges:
        there = {stroke.id for layer in sheet.layers if isinstance(layer, InkLayer) for stroke in layer.strokes}
    return SheetOutline(
        width=sheet.width,
        height=sheet.height,
        paper=sheet.paper,
        layers=tuple(layer.derived("outline", lambda: _layer(layer)) for layer in sheet.layers),  # noqa: B023 — made at once
        views=sheet.views,
        guides=sheet.guides,
        perspective=sheet.perspective,
        box=sheet.box,
        edges={ident: along for ident, along in sheet.edges.items() if ident in there},
        drafted=drafted(sheet),
        ground=sheet.ground,
        border=sheet.border,
        symmetry=sheet.symmetry,
        chosen=sheet.chosen,
        colours=tuple(colour for colour, _ in used.most_common(12)),
    )


def _layer(layer: Layer) -> LayerOutline:
    fields = {name: getattr(layer, name, None) for name in LayerOutline.model_fields if name != "strokes"}
    fields["notes"] = layer.notes if layer.kind == "notes" else ()
    return LayerOutline(**fields, strokes=len(layer.strokes) if layer.kind == "ink" else 0)
