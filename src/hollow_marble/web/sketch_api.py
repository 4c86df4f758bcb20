"""Sheets: strokes in, tiles out, pictures and lines in open formats."""

from __future__ import annotations

import hashlib
import time
import uuid
from typing import Any

import numpy as np
from flask import Response, request
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from PIL import Image
from pydantic import BaseModel, ConfigDict, Field

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.path import samples_from
from hollow_marble.documents.sheet.drawing import MEDIA as SAMPLES_MEDIA
from hollow_marble.documents.sheet.drawing import made_stroke
from hollow_marble.documents.sheet.edits import BringIn, DrawStroke, PlacePicture
from hollow_marble.documents.sheet.edits.strokes import ink_layer
from hollow_marble.documents.sheet.model import INK, Colour, LineStyle, NibName, Rect, Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.differences import differences
from hollow_marble.documents.sheet.raster.enlarged import enlarged
from hollow_marble.documents.sheet.raster.tiles import MEDIA as TILE_MEDIA
from hollow_marble.exchange import openraster
from hollow_marble.exchange.layering import layers_from, rasters_of
from hollow_marble.exchange.pdf import sheet_pdf
from hollow_marble.exchange.pictures import png, read_picture
from hollow_marble.exchange.svg import sheet_svg
from hollow_marble.store.assets import keep_asset
from hollow_marble.store.library import Project
from hollow_marble.web import shapes
from hollow_marble.web.documents_api import commit, standing
from hollow_marble.web.packing import packed
from hollow_marble.web.services import services

api = APIBlueprint("sketch", __name__, url_prefix="/api/projects/<project>/sheets", abp_tags=[Tag(name="sketch")])


class StrokeQuery(BaseModel):
    """How a stroke is drawn; the body of the request holds its samples as float32 x, y, pressure, lean."""

    layer: str
    nib: NibName = "pencil"
    size: float = Field(6.0, gt=0, le=600)
    tone: float = Field(0.8, gt=0, le=1)
    colour: Colour = INK
    line: LineStyle = "plain"


class TilesQuery(BaseModel):
    """Tiles that differ from the page at an earlier line of the ledger (0 is its start); all where it is left out."""

    since: int | None = None


class PageQuery(BaseModel):
    """`wide` asks for a picture so many px wide; `scale` for so many px a px of the page; `head` only makes the address change with it."""

    wide: int | None = Field(None, ge=16, le=2400)
    scale: int = Field(1, ge=1, le=4)
    head: int | None = None


class PictureForm(BaseModel):
    model_config = ConfigDict(arbitrary_types_allowed=True)
    file: FileStorage


@api.post("/<document>/strokes")
def draw(path: shapes.InDocument, query: StrokeQuery) -> Response:
    """Draw a stroke; answers with the tiles it changed, packed."""
    began = time.perf_counter()
    project = services().project(path.project)
    data = request.get_data()
    samples = samples_from(data)
    sheet, raster = services().current_raster(project, path.document)
    layer = ink_layer(sheet, query.layer)
    with project.database.write():
        sha = keep_asset(project.database, data, SAMPLES_MEDIA)
        look = {"nib": query.nib, "size": query.size, "tone": query.tone, "colour": query.colour, "line": query.line}
        stroke = made_stroke(
            uuid.uuid4().hex[:12], samples, sha, **look, repeat=sheet.symmetry.repeat(), inside=layer.lock_paint
        )
        place = commit(project, path.document, DrawStroke(layer=query.layer, stroke=stroke))
    after = sheet_of(path)
    return answer_tiles(path, raster, after, differences(sheet, after), place, began)


@api.get("/<document>/tiles")
def tiles(path: shapes.InDocument, query: TilesQuery) -> Response:
    """Tiles of the page, packed: all of them, or those that differ from an earlier line."""
    began = time.perf_counter()
    project = services().project(path.project)
    raster = services().raster(project, path.document)
    # the head that is told and the pixels that are sent must be one state, whatever is drawn meanwhile
    place = standing(project, path.document)
    sheet = project.ledger.state(path.document, place["head"], at_head=False)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("That document is not a sheet.")
    changed: list[Rect] = [(0, 0, sheet.width, sheet.height)]
    if query.since is not None:
        earlier = project.ledger.state(path.document, query.since or None, at_head=False)
        assert isinstance(earlier, Sheet)
        changed = differences(earlier, sheet)
    return answer_tiles(path, raster, sheet, changed, place, began)


@api.get("/<document>/page.png")
def page_png(path: shapes.InDocument, query: PageQuery) -> Response:
    """The whole page as PNG."""
    if query.wide is not None:
        return _small_page(path, query.wide)
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    if query.scale > 1:
        load = services().loader(services().project(path.project))
        return _download(png(enlarged(sheet, raster, load, query.scale)), "image/png", path, "png")
    return _download(png(raster.pixels((0, 0, sheet.width, sheet.height))[..., :3]), "image/png", path, "png")


@api.get("/<document>/page.pdf")
def page_pdf(path: shapes.InDocument) -> Response:
    """The page as PDF, its notes as text."""
    project = services().project(path.project)
    sheet, raster = services().current_raster(project, path.document)
    return _download(sheet_pdf(sheet, raster, services().loader(project)), "application/pdf", path, "pdf")


@api.get("/<document>/page.svg")
def page_svg(path: shapes.InDocument) -> Response:
    """The page's lines as SVG."""
    text = sheet_svg(sheet_of(path), services().loader(services().project(path.project)))
    return _download(text.encode(), "image/svg+xml", path, "svg")


@api.get("/<document>/page.ora")
def page_ora(path: shapes.InDocument) -> Response:
    """The page with its layers as OpenRaster."""
    sheet, raster = services().current_raster(services().project(path.project), path.document)
    shown = raster.pixels((0, 0, sheet.width, sheet.height))
    return _download(openraster.write_openraster(rasters_of(sheet, raster), shown), openraster.MEDIA, path, "ora")


@api.post("/<document>/layers", responses={200: shapes.Standing})
def bring_in_layers(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Bring in the layers of an OpenRaster file, on top of the others."""
    name = (form.file.filename or "Layers")[:60]
    project = services().project(path.project)
    rasters, _, _ = openraster.read_openraster(form.file.stream.read(), name)
    sheet, raster = services().current_raster(project, path.document)
    layers, data = layers_from(rasters, sheet, raster)
    with project.database.write():
        keep_tiles(project, data)
        return commit(project, path.document, BringIn(name=name, layers=tuple(layers)))


@api.post("/<document>/pictures", responses={200: shapes.Standing})
def place_picture(path: shapes.InDocument, form: PictureForm) -> dict[str, Any]:
    """Place a picture in the middle of the page, scaled to fit."""
    name = (form.file.filename or "Picture")[:60]
    project = services().project(path.project)
    data, width, height = read_picture(form.file.stream.read(), name)
    sheet = sheet_of(path)
    scale = min(1.0, 0.8 * sheet.width / width, 0.8 * sheet.height / height)
    w, h = max(8, round(width * scale)), max(8, round(height * scale))
    left, top = (sheet.width - w) // 2, (sheet.height - h) // 2
    sha = keep_asset(project.database, data, "image/png")
    edit = PlacePicture(id=uuid.uuid4().hex[:12], name=name, picture=sha, rect=(left, top, left + w, top + h))
    return commit(project, path.document, edit)


def keep_tiles(project: Project, data: dict[str, bytes]) -> None:
    """Keep the bytes of painted tiles."""
    for tile in data.values():
        keep_asset(project.database, tile, TILE_MEDIA)


def sheet_of(path: shapes.InDocument) -> Sheet:
    sheet = services().project(path.project).ledger.state(path.document)
    if not isinstance(sheet, Sheet):
        raise HollowMarbleError("That document is not a sheet.")
    return sheet


def answer_tiles(
    path: shapes.InDocument,
    raster: SheetRaster,
    sheet: Sheet,
    changed: list[Rect],
    place: dict[str, Any],
    began: float,
    more: dict[str, Any] | None = None,
) -> Response:
    """The tiles of rectangles that changed, at a state of the sheet, packed, with where the document stands and `more` beside it."""
    found = raster.tiles(changed, sheet)
    rects = np.array([rect for rect, _ in found], np.int32).reshape(-1, 4)
    bare = np.array([pixels is None for _, pixels in found], np.uint8)
    inked = [pixels.reshape(-1) for _, pixels in found if pixels is not None]
    body = np.concatenate(inked) if inked else np.empty(0, np.uint8)
    meta = {"standing": place, "milliseconds": (time.perf_counter() - began) * 1000, **(more or {})}
    return packed(meta, {"rects": rects, "bare": bare, "pixels": body})


def _small_page(path: shapes.InDocument, wide: int) -> Response:
    """A picture of the page so many px wide; kept, for a page at a line of its ledger always looks the same."""
    project = services().project(path.project)
    row = project.ledger.row(path.document)
    name = hashlib.sha256(f"small page {row.id} {row.head} {wide}".encode()).hexdigest()
    data = services().drawn.get(name)
    if data is None:
        sheet = project.ledger.state(row.id, row.head, at_head=False)
        if not isinstance(sheet, Sheet):
            raise HollowMarbleError("That document is not a sheet.")
        raster = services().raster(project, row.id)
        page = raster.at(sheet)[..., :3]
        tall = max(1, round(sheet.height * wide / sheet.width))
        small = Image.fromarray(np.ascontiguousarray(page)).resize((wide, tall), Image.Resampling.BOX)
        made = data = png(np.asarray(small))
        services().drawn.put(name, lambda: made)
    return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})


def _download(data: bytes, media: str, path: shapes.InDocument, ending: str) -> Response:
    project = services().project(path.project)
    name = f"{project.entry.name} {project.ledger.row(path.document).name}.{ending}"
    return Response(data, mimetype=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
