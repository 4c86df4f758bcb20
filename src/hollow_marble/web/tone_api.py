"""Painting on tone layers: selections, strokes held in by them, fills, gradients, clearing, merging."""

from __future__ import annotations

import time
import uuid
from typing import Annotated, Any, Literal

import numpy as np
from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink import paint, select
from hollow_marble.core.ink.fill import region
from hollow_marble.core.ink.path import NIBS, samples_from
from hollow_marble.core.ink.select import Selection
from hollow_marble.documents.edit import find
from hollow_marble.documents.sheet import painting
from hollow_marble.documents.sheet.edits import DuplicateLayer, MergeLayers, PaintTone
from hollow_marble.documents.sheet.model import Colour, GroupLayer, InkLayer, Rect, Sheet, rgb
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.documents.sheet.raster.tiles import MEDIA
from hollow_marble.store.assets import keep_asset
from hollow_marble.store.library import Project
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit
from hollow_marble.web.services import services
from hollow_marble.web.sketch_api import StrokeQuery, answer_tiles, sheet_of

api = APIBlueprint("tone", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="tone")])

Places = Annotated[list[tuple[float, float]], Field(max_length=20_000)]
Opacity = Annotated[float, Field(ge=0, le=1)]


class ByOutline(BaseModel):
    """The inside of a line drawn around something."""

    by: Literal["outline"]
    points: Places


class ByBox(BaseModel):
    by: Literal["box"]
    rect: Rect


class ByPaint(BaseModel):
    """Where a layer has paint."""

    by: Literal["paint"]
    layer: str


class ByRegion(BaseModel):
    """The region closed in by shown ink around a place; openings up to `gap` px count as closed."""

    by: Literal["region"]
    at: tuple[float, float]
    gap: float = Field(12.0, ge=0, le=120)


class ByRest(BaseModel):
    """Everything that is not selected now."""

    by: Literal["rest"]


class BySoftening(BaseModel):
    """The selection with its edge softened."""

    by: Literal["softening"]
    radius: float = Field(gt=0, le=400)


class SelectRequest(BaseModel):
    """One more selection, and how it goes together with the one there is (`before`)."""

    shape: Annotated[
        ByOutline | ByBox | ByPaint | ByRegion | ByRest | BySoftening,
        Field(discriminator="by"),
    ]
    how: Literal["instead", "add", "take away", "keep common"] = "instead"
    before: str | None = None
    feather: float = Field(0.0, ge=0, le=400)


class SelectionShape(BaseModel):
    """A selection: its name for later requests, the rectangle around it, closed lines along its edge."""

    selection: str
    rect: tuple[int, int, int, int]
    edges: list[list[tuple[float, float]]]


class PaintQuery(StrokeQuery):
    """A stroke on a tone layer, held in by a selection where there is one."""

    selection: str | None = None


class FillRequest(BaseModel):
    """Fill the region around a place, or the selection where no place is given."""

    layer: str
    at: tuple[float, float] | None = None
    gap: float = Field(12.0, ge=0, le=120)
    colour: Colour
    opacity: Opacity = 1.0
    selection: str | None = None


class GradientRequest(BaseModel):
    """A gradient laid over the selection, or over the whole page."""

    layer: str
    shape: Literal["linear", "radial"] = "linear"
    start: tuple[float, float]
    end: tuple[float, float]
    first: Colour
    last: Colour
    first_opacity: Opacity = 1.0
    last_opacity: Opacity = 0.0
    selection: str | None = None


class ClearRequest(BaseModel):
    """Clear a layer inside the selection, or outside it."""

    layer: str
    selection: str
    outside: bool = False


class LayerRequest(BaseModel):
    layer: str


@api.post("/<document>/selection", responses={200: SelectionShape})
def make_selection(path: shapes.InDocument, body: SelectRequest) -> dict[str, Any]:
    """Select part of the page."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    page = painting.page_of(sheet)
    before = _selection(project, body.before)
    wish = body.shape
    if isinstance(wish, ByRest | BySoftening):
        if before is None:
            raise HollowMarbleError("Nothing is selected yet. Select something first.")
        rest = isinstance(wish, ByRest)
        found = select.inverted(before, page) if rest else select.feathered(before, wish.radius, page)  # type: ignore[union-attr]
    else:
        if isinstance(wish, ByOutline):
            new = select.outlined(np.array(wish.points, float).reshape(-1, 2), page)
        elif isinstance(wish, ByBox):
            new = select.boxed(wish.rect, page)
        elif isinstance(wish, ByPaint):
            find(sheet.layers, wish.layer, "layer")
            new = select.painted(raster.layer_pixels(wish.layer, page))
        else:
            new = region(raster.lines(), wish.at, wish.gap)
        found = select.combined(before, select.feathered(new, body.feather, page), body.how)
    sha = keep_asset(project.database, painting.selection_to_bytes(found), painting.SELECTION_MEDIA)
    return {
        "selection": sha,
        "rect": found.rect,
        "edges": [np.round(line, 1).tolist() for line in select.edges(found)],
    }


@api.post("/<document>/paint")
def paint_stroke(path: shapes.InDocument, query: PaintQuery) -> Response:
    """Paint a stroke on a tone layer; answers with the tiles it changed, packed. The body is as for a stroke of ink."""
    began = time.perf_counter()
    project = services().project(path.project)
    samples = samples_from(request.get_data())
    sheet, raster = services().current_raster(project, path.document)
    layer = painting.tone_layer(sheet, query.layer)
    chosen = _selection(project, query.selection)
    rect, cover = painting.stroke_cover(
        samples, query.nib, query.size, query.tone, sheet.symmetry.repeat(), chosen, painting.page_of(sheet)
    )
    lifts = NIBS[query.nib](query.size, query.tone).lifts
    tiles = painting.exchanged(
        raster, sheet, layer.id, rect, lambda old: paint.laid(old, cover, rgb(query.colour), lifts, layer.lock_paint)
    )
    said = f"Lifted paint on {layer.name}" if lifts else f"Painted with the {query.nib} on {layer.name}"
    return _painted(path, project, sheet, raster, layer.id, tiles, said, began)


@api.post("/<document>/fill")
def fill(path: shapes.InDocument, body: FillRequest) -> Response:
    """Fill a region bounded by ink, or the selection."""
    began = time.perf_counter()
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    layer = painting.tone_layer(sheet, body.layer)
    chosen = _selection(project, body.selection)
    where = chosen if body.at is None else region(raster.lines(), body.at, body.gap)
    if where is None:
        raise HollowMarbleError("Touch the region to fill, or select something first.")
    if body.at is not None and chosen is not None:
        where = select.combined(chosen, where, "keep common")
    cover = where.mask.astype(np.float32) / 255 * np.float32(body.opacity)
    tiles = painting.exchanged(
        raster,
        sheet,
        layer.id,
        where.rect,
        lambda old: paint.laid(old, cover, rgb(body.colour), False, layer.lock_paint),
    )
    return _painted(path, project, sheet, raster, layer.id, tiles, f"Filled a region on {layer.name}", began)


@api.post("/<document>/gradient")
def gradient(path: shapes.InDocument, body: GradientRequest) -> Response:
    """Lay a gradient on a tone layer."""
    began = time.perf_counter()
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    layer = painting.tone_layer(sheet, body.layer)
    chosen = _selection(project, body.selection) or select.boxed(painting.page_of(sheet), painting.page_of(sheet))
    left, top = chosen.rect[:2]
    start, end = ((x - left, y - top) for x, y in (body.start, body.end))
    share = paint.ramp(chosen.mask.shape, start, end, body.shape)
    cover = chosen.mask.astype(np.float32) / 255
    ends = (rgb(body.first), body.first_opacity), (rgb(body.last), body.last_opacity)
    tiles = painting.exchanged(
        raster, sheet, layer.id, chosen.rect, lambda old: paint.graded(old, share, cover, *ends, layer.lock_paint)
    )
    return _painted(path, project, sheet, raster, layer.id, tiles, f"Laid a gradient on {layer.name}", began)


@api.post("/<document>/clear")
def clear(path: shapes.InDocument, body: ClearRequest) -> Response:
    """Clear a tone layer inside or outside the selection."""
    began = time.perf_counter()
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    layer = painting.tone_layer(sheet, body.layer)
    chosen = _selection(project, body.selection)
    assert chosen is not None
    page = painting.page_of(sheet)
    rect = page if body.outside else chosen.rect
    cover = chosen.within(rect).astype(np.float32) / 255
    tiles = painting.exchanged(
        raster, sheet, layer.id, rect, lambda old: paint.cleared(old, 1 - cover if body.outside else cover)
    )
    where = "outside" if body.outside else "inside"
    return _painted(path, project, sheet, raster, layer.id, tiles, f"Cleared {layer.name} {where} the selection", began)


@api.post("/<document>/merge", responses={200: shapes.Standing})
def merge(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Merge a layer into the one below it in its group. Plain ink stays strokes; everything else becomes tone."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    upper = find(sheet.layers, body.layer, "layer")
    fellows = sheet.within(upper.group)
    place = fellows.index(upper)
    if place == 0:
        raise HollowMarbleError(f"There is no layer below “{upper.name}” to merge it into.")
    lower = fellows[place - 1]
    if isinstance(upper, GroupLayer) or isinstance(lower, GroupLayer):
        raise HollowMarbleError("A group cannot be merged. Take its layers out of it first.")
    plain = all(
        isinstance(x, InkLayer) and x.mode == "normal" and x.opacity == 1 and not x.clipped for x in (upper, lower)
    )
    edit = MergeLayers(upper=upper.id, lower=lower.id)
    with project.database.write():
        if not plain:
            page = painting.page_of(sheet)
            pixels = raster.pair(lower.id, upper.id, page)
            tiles = painting.packed_tiles(raster, sheet, np.zeros_like(pixels), page, pixels)
            for data in tiles.data.values():
                keep_asset(project.database, data, MEDIA)
            kept = {name: sha for name, sha in tiles.names.items() if sha is not None}
            edit = MergeLayers(upper=upper.id, lower=lower.id, tiles=kept)
        return commit(project, path.document, edit)


@api.post("/<document>/duplicate", responses={200: shapes.Standing})
def duplicate(path: shapes.InDocument, body: LayerRequest) -> dict[str, Any]:
    """Put a copy of a layer, with all that is in it, above it."""
    project = services().project(path.project)
    sheet = sheet_of(path)
    find(sheet.layers, body.layer, "layer")
    ids = {old: uuid.uuid4().hex[:8] for old in {body.layer, *sheet.under(body.layer)}}
    return commit(project, path.document, DuplicateLayer(layer=body.layer, ids=ids))


@api.get("/<document>/colour", responses={200: shapes.ColourAt})
def colour_at(path: shapes.InDocument, query: shapes.PlaceQuery) -> dict[str, Any]:
    """The colour of the page at a place, as it shows (a mean of 3 × 3 px)."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    x = min(max(int(query.x), 1), sheet.width - 2)
    y = min(max(int(query.y), 1), sheet.height - 2)
    red, green, blue = (
        raster.pixels((x - 1, y - 1, x + 2, y + 2))[..., :3].reshape(-1, 3).mean(axis=0).round().astype(int)
    )
    return {"colour": f"#{red:02X}{green:02X}{blue:02X}"}


def _selection(project: Project, sha: str | None) -> Selection | None:
    if sha is None:
        return None
    return painting.selection_from(services().loader(project)(sha))


def _painted(
    path: shapes.InDocument,
    project: Project,
    sheet: Sheet,
    raster: SheetRaster,
    layer: str,
    tiles: painting.Tiles,
    said: str,
    began: float,
) -> Response:
    if not tiles.names:
        raise HollowMarbleError(
            "Nothing changed: there is no paint of the layer there to change, or its transparency is locked."
        )
    with project.database.write():
        for data in tiles.data.values():
            keep_asset(project.database, data, MEDIA)
        place = commit(project, path.document, PaintTone(layer=layer, tiles=tiles.names, said=said[:120]))
    after = sheet_of(path)
    raster.update(after)
    return answer_tiles(path, raster, differences(sheet, after), place, began)
