"""Painting on tone layers: selections, strokes held in by them, fills, gradients, clearing, merging."""

from __future__ import annotations

import time
from typing import Any

from flask import Response, request
from flask_openapi3 import Tag
from pydantic import BaseModel, Field

from hollow_marble.application.sheets import pages, selections, tone
from hollow_marble.web import shapes
from hollow_marble.web.blueprint import Blueprint
from hollow_marble.web.documents_api import project_of, told
from hollow_marble.web.running import application, hand
from hollow_marble.web.sketch_api import changed_tiles

api = Blueprint("tone", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="tone")])


class SelectionShape(BaseModel):
    """A selection: its name for later requests, the rectangle around it, closed lines along its edge."""

    selection: str
    rect: tuple[int, int, int, int]
    edges: list[list[tuple[float, float]]]


class PaintQuery(shapes.Asked, tone.PaintWish):
    """How a stroke is to be painted."""


class TonesQuery(shapes.Asked):
    across: float
    up: float
    base: float = Field(200.0, ge=0, le=255)


class Tones(BaseModel):
    """Greys of the lit, middle and shaded side, 0 to 255."""

    lit: float
    middle: float
    shaded: float


class LayerRequest(BaseModel):
    layer: str


@api.post("/<document>/selection", responses={200: SelectionShape})
def make_selection(path: shapes.InDocument, body: selections.SelectRequest) -> dict[str, Any]:
    """Select part of the page."""
    return selections.make_selection(application().workspace, project_of(path), path.document, body)


@api.post("/<document>/paint")
def paint_stroke(path: shapes.InDocument, query: PaintQuery) -> Response:
    """Paint a stroke on a tone layer; answers with the tiles it changed, packed. The body is as for a stroke of ink."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).paint(query, request.get_data()), began)


@api.post("/<document>/fill")
def fill(path: shapes.InDocument, body: tone.FillRequest) -> Response:
    """Fill a region bounded by ink, or the selection."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).fill(body), began)


@api.post("/<document>/gradient")
def gradient(path: shapes.InDocument, body: tone.GradientRequest) -> Response:
    """Lay a gradient on a tone layer."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).gradient(body), began)


@api.post("/<document>/clear")
def clear(path: shapes.InDocument, body: tone.ClearRequest) -> Response:
    """Clear a tone layer inside or outside the selection."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).clear(body), began)


@api.post("/<document>/shift")
def shift(path: shapes.InDocument, body: tone.ShiftRequest) -> Response:
    """Move, turn, scale or mirror the selected paint of a tone layer, or put a copy of it; the selection goes along."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).shift(body), began)


@api.post("/<document>/shade")
def shade(path: shapes.InDocument, body: tone.ShadeRequest) -> Response:
    """Paint the sides of the box, or of the cylinder in it, and the shadow it casts; paint like any other."""
    began = time.perf_counter()
    return changed_tiles(path, _toning(path).shade(body), began)


@api.get("/<document>/tones", responses={200: Tones})
def tones(path: shapes.InDocument, query: TonesQuery) -> dict[str, Any]:
    """The greys of a box's three sides in this light, in the sheet's perspective where there is one."""
    sheet = pages.sheet_of(project_of(path), path.document)
    found = tone.three_tones(sheet, query.across, query.up, query.base)
    return dict(zip(("lit", "middle", "shaded"), found))


@api.post("/<document>/merge", responses={200: shapes.Changed})
def merge(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Merge a layer into the one below it in its group. Plain ink stays strokes; everything else becomes tone."""
    return told(path, _toning(path).merge(body.layer))


@api.post("/<document>/duplicate", responses={200: shapes.Changed})
def duplicate(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Put a copy of a layer, with all that is in it, above it."""
    return told(path, _toning(path).duplicate(body.layer))


@api.get("/<document>/colour", responses={200: shapes.ColourAt})
def colour_at(path: shapes.InDocument, query: shapes.PlaceQuery) -> dict[str, Any]:
    """The colour of the page at a place, as it shows (a mean of 3 × 3 px)."""
    found = pages.colour_at(application().workspace, project_of(path), path.document, query.x, query.y)
    return {"colour": found}


def _toning(path: shapes.InDocument) -> tone.Toning:
    return tone.Toning(application().editing, project_of(path), path.document, hand())
